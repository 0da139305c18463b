"""Settings: one frozen dataclass, filled from NEVEFIELD_ variables at one place."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = ["Settings"]


@dataclass(frozen=True)
class Settings:
    """What an installation chooses; every one is described in `docs/settings.md`."""

    # NEVEFIELD_DATABASE_URL; "": the private server under the data directory
    database_url: str = ""
    # NEVEFIELD_OWNER_URL: of the account that may change the schema; "": the same account does
    owner_url: str = ""
    # NEVEFIELD_RUN_AS: the account to go on as, when started as root; "": nevefield, if there is
    # one
    run_as: str = ""
    max_upload_mb: int = 250  # NEVEFIELD_MAX_UPLOAD_MB
    session_hours: int = 12  # NEVEFIELD_SESSION_HOURS
    # NEVEFIELD_IDLE_MINUTES: after which a session that nobody uses ends; 0: with its hours only
    idle_minutes: int = 120
    one_session: bool = False  # NEVEFIELD_ONE_SESSION: signing in ends the account's other sessions
    # NEVEFIELD_TRUSTED_PROXIES: addresses and networks whose word on who asks is taken
    trusted_proxies: str = ""
    # NEVEFIELD_SECURE_COOKIES: also where the request seems to have come by http
    secure_cookies: bool = False
    practice: bool = False  # NEVEFIELD_PRACTICE: mark this copy as one for practice
    # NEVEFIELD_ATTEMPTS: failed sign-ins for a name, on a device, before each has to wait
    attempts: int = 5
    # NEVEFIELD_LEASE_SECONDS: after which a job of a silent worker is taken for broken off
    lease_seconds: int = 20
    # NEVEFIELD_REGISTRY_URL: where the authority answers that returns go to; "": nowhere
    registry_url: str = ""
    # NEVEFIELD_REGISTRY_TOKEN: of the account there; never shown or logged
    registry_token: str = ""
    front_end: str = ""  # NEVEFIELD_FRONT_END: directory of the built front end

    @classmethod
    def from_environment(cls, environment: Mapping[str, str] | None = None) -> Settings:
        """Read the settings from NEVEFIELD_ variables; unknown ones are passed over."""
        given = environment if environment is not None else os.environ
        default = cls()

        def number(name: str, otherwise: int) -> int:
            return int(given.get(name, "") or otherwise)

        def flag(name: str) -> bool:
            return given.get(name, "").casefold() in ("1", "yes", "true", "on")

        return cls(
            database_url=given.get("NEVEFIELD_DATABASE_URL", ""),
            owner_url=given.get("NEVEFIELD_OWNER_URL", ""),
            run_as=given.get("NEVEFIELD_RUN_AS", ""),
            max_upload_mb=number("NEVEFIELD_MAX_UPLOAD_MB", default.max_upload_mb),
            session_hours=number("NEVEFIELD_SESSION_HOURS", default.session_hours),
            idle_minutes=number("NEVEFIELD_IDLE_MINUTES", default.idle_minutes),
            one_session=flag("NEVEFIELD_ONE_SESSION"),
            trusted_proxies=given.get("NEVEFIELD_TRUSTED_PROXIES", ""),
            secure_cookies=flag("NEVEFIELD_SECURE_COOKIES"),
            practice=flag("NEVEFIELD_PRACTICE"),
            attempts=number("NEVEFIELD_ATTEMPTS", default.attempts),
            lease_seconds=number("NEVEFIELD_LEASE_SECONDS", default.lease_seconds),
            registry_url=given.get("NEVEFIELD_REGISTRY_URL", ""),
            registry_token=given.get("NEVEFIELD_REGISTRY_TOKEN", ""),
            front_end=given.get("NEVEFIELD_FRONT_END", "")
            or str(Path(__file__).parents[2] / "frontend" / "dist"),
        )
