"""Settings: one frozen dataclass, filled from NEVEFIELD_ variables at one place."""

from __future__ import annotations

import os
import re
from dataclasses import Field, dataclass, field, fields
from difflib import get_close_matches
from pathlib import Path
from typing import TYPE_CHECKING, Any
from zoneinfo import available_timezones

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = ["Settings", "WrongSetting", "with_file"]

PREFIX = "NEVEFIELD_"
FILE = "NEVEFIELD_SETTINGS"  # names a file with settings; the environment counts before it
YES = ("1", "yes", "true", "on")
NO = ("0", "no", "false", "off")


class WrongSetting(Exception):
    """A variable says something that cannot be.

    Args:
        name: Of the variable.
        given: What it says.
        wanted: What it may be.
    """

    def __init__(self, name: str, given: str, wanted: str) -> None:
        super().__init__(f"{name} is “{given[:60]}”; it has to be {wanted}.")


def _number(default: int, least: int, most: int) -> Any:
    return field(default=default, metadata={"least": least, "most": most})


def _secret(default: str = "") -> Any:
    return field(default=default, repr=False)


@dataclass(frozen=True)
class Settings:
    """What an installation chooses; every one is described in `docs/settings.md`.

    Each is read from the variable of its name in capitals, with `NEVEFIELD_` before it.
    """

    database_url: str = _secret()  # "": the private server under the data directory
    # of the account that may change the schema; "": the same account does
    owner_url: str = _secret()
    # the account to go on as, when started as root; "": nevefield, if there is one
    run_as: str = ""
    max_upload_mb: int = _number(250, 1, 4_000)
    session_hours: int = _number(12, 1, 24 * 30)
    # after which a session that nobody uses ends; 0: with its hours only
    idle_minutes: int = _number(120, 0, 60 * 24 * 30)
    one_session: bool = False  # signing in ends the account's other sessions
    trusted_proxies: str = ""  # addresses and networks whose word on who asks is taken
    secure_cookies: bool = False  # also where the request seems to have come by http
    practice: bool = False  # mark this copy as one for practice
    # failed sign-ins for a name, on a device, before each has to wait
    attempts: int = _number(5, 1, 1_000)
    # after which a job of a silent worker is taken for broken off
    lease_seconds: int = _number(20, 2, 3_600)
    registry_url: str = ""  # where the authority answers that returns go to; "": nowhere
    registry_token: str = _secret()  # of the account there; never shown or logged
    # IANA name of the institution's time zone, by which it is today; "": the machine's
    zone: str = ""
    # ISO 3166-1: where phone numbers without a country are
    region: str = ""
    # by which copies are encrypted; "": they are not
    copy_key: str = _secret()
    copy_hour: int = _number(3, 0, 23)  # of the institution's day at which a copy is made
    copy_first: bool = True  # make one before a newer version alters the database
    copy_days: int = _number(14, 1, 3_650)  # that daily copies are kept
    copy_weeks: int = _number(12, 0, 520)  # that one copy of each week is kept
    # by which the secrets of second steps are kept; "": nobody can have one
    step_key: str = _secret()
    log: str = ""  # how it logs: "json" a line for each request; "": as text, without them
    # an empty database for the practice copy; "": the private server's own, else there is none
    practice_url: str = _secret()
    practice_port: int = _number(0, 0, 65_535)  # on which it answers; 0: two above the own
    # where people reach it, such as https://practice.school.example; "": on its port
    practice_address: str = ""
    # directory in which files for destinations are laid, each in a folder of its own; "": in none
    outbox: str = ""
    front_end: str = ""  # directory of the built front end

    @classmethod
    def from_environment(cls, environment: Mapping[str, str] | None = None) -> Settings:
        """Read the settings from NEVEFIELD_ variables; unknown ones are passed over, and an empty
        one is as if it were not there.

        Raises:
            WrongSetting: One says something that cannot be.
        """
        given = environment if environment is not None else os.environ
        given = with_file(given)
        values: dict[str, Any] = {}
        for setting in fields(cls):
            name = PREFIX + setting.name.upper()
            if text := given.get(name, "").strip():
                values[setting.name] = _read(name, text, setting)
        values.setdefault("front_end", str(Path(__file__).parents[2] / "frontend" / "dist"))
        return cls(**values)


def with_file(environment: Mapping[str, str]) -> dict[str, str]:
    """Put the settings of the file that an environment names beside its own, which count first.

    Raises:
        WrongSetting: The file, or a line of it, cannot be.
    """
    place = environment.get(FILE, "").strip()
    own = {name: value for name, value in environment.items() if name != FILE}
    return {**_read_file(Path(place)), **own} if place else own


def _read_file(place: Path) -> dict[str, str]:
    """Read settings from a file: a line `NAME=value` for each, `#` before what is none.

    Raises:
        WrongSetting: It cannot be read, or a line is none, or of a setting that there is not.
    """
    try:
        lines = place.read_text("utf-8").splitlines()
    except (OSError, UnicodeDecodeError) as error:
        raise WrongSetting(FILE, str(place), "a file that can be read") from error
    known = {PREFIX + setting.name.upper() for setting in fields(Settings)}
    found = {}
    for number, line in enumerate(lines, 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        name, sign, value = line.partition("=")
        if not sign or name.strip() not in known:
            near = get_close_matches(name.strip(), known, 1)
            wanted = f"NEVEFIELD_…=value; did you mean {near[0]}?" if near else "NEVEFIELD_…=value"
            raise WrongSetting(f"Line {number} of {place}", line.strip(), wanted)
        found[name.strip()] = value.strip().strip("\"'")
    return found


def _read(name: str, text: str, setting: Field[Any]) -> str | int | bool:
    if isinstance(setting.default, bool):
        if text.casefold() not in (*YES, *NO):
            raise WrongSetting(name, text, f"one of {', '.join((*YES, *NO))}")
        return text.casefold() in YES
    if setting.name == "log" and text != "json":
        raise WrongSetting(name, text, "json, or not there")
    if setting.name == "outbox" and not Path(text).is_absolute():
        raise WrongSetting(name, text, "a directory by its whole path, such as /srv/nevefield/out")
    if setting.name == "region" and not re.fullmatch("([A-Z]{2})?", text):
        raise WrongSetting(name, text, "a country by its two letters of ISO 3166-1, such as GB")
    if setting.name == "zone" and text not in available_timezones():
        raise WrongSetting(name, text, "a time zone by its name, such as Europe/Prague")
    if isinstance(setting.default, int):
        least, most = setting.metadata["least"], setting.metadata["most"]
        if not (text.isascii() and text.isdigit() and least <= int(text) <= most):
            raise WrongSetting(name, text, f"a whole number from {least:,} to {most:,}")
        return int(text)
    return text
