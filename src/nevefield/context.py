"""What every service needs: the database, the clock, the settings."""

from __future__ import annotations

import base64
import hashlib
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime
from typing import TYPE_CHECKING
from zoneinfo import ZoneInfo

import httpx
from cryptography.fernet import Fernet

from nevefield.readers import Readers
from nevefield.settings import Settings
from nevefield.store.again import do_again
from nevefield.store.connection import Database
from nevefield.store.errors import (
    Contended,
    DatabaseGone,
    KeyTaken,
    LoadRefused,
    NoPrograms,
    OtherVersion,
    ProgramFailed,
)
from nevefield.store.sight import ALL

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from nevefield.store.sight import Part, Sight

# What whoever is handed a context must know of the database: how it fails, and what is done again.
__all__ = [
    "Contended",
    "Context",
    "DatabaseGone",
    "KeyTaken",
    "LoadRefused",
    "NoPrograms",
    "OtherVersion",
    "ProgramFailed",
    "do_again",
    "utc_now",
]

READERS = Readers()  # of this process


def utc_now() -> datetime:
    """Tell the time, in UTC and without a zone, as the database keeps it."""
    return datetime.now(UTC).replace(tzinfo=None)


@dataclass(frozen=True)
class Context:
    """Handed to every service."""

    database: Database
    settings: Settings
    now: Callable[[], datetime] = utc_now
    # how requests to an authority travel; None for the network
    transport: httpx.BaseTransport | None = None
    readers: Readers = READERS

    def today(self) -> date:
        """Tell the day where the institution is."""
        return self.day_of(self.now())

    def day_of(self, moment: datetime) -> date:
        """Tell on which day of the institution's a moment was, given in UTC and without a zone."""
        return self.local(moment).date()

    def local(self, moment: datetime) -> datetime:
        """Give a moment, in UTC and without a zone, by the clock of the institution."""
        zone = ZoneInfo(self.settings.zone) if self.settings.zone else None
        return moment.replace(tzinfo=UTC).astimezone(zone)

    def cipher(self) -> Fernet | None:
        """Give what encrypts secrets that are kept; None where the installation has no key."""
        if not self.settings.step_key:
            return None
        digest = hashlib.sha256(self.settings.step_key.encode()).digest()
        return Fernet(base64.urlsafe_b64encode(digest))

    def seen_by(self, sight: Sight) -> Context:
        """Give the same for somebody: services load no more than they may see."""
        return replace(self, database=self.database.seen_by(sight))

    def whole(self) -> Context:
        """Give the same for the product's own eyes: what is loaded through it is not shown as it
        is. Of what somebody has a part of, it leads to that part.
        """
        return self.within(self.database.sight.parts)

    def within(self, parts: Mapping[int, Part]) -> Context:
        """Give the same for the product's own eyes, within parts of some rosters; none for
        everything.
        """
        return self.seen_by(replace(ALL, address=self.database.sight.address, parts=parts))

    @classmethod
    def of(cls, settings: Settings) -> Context:
        """Make one for the database that the settings name."""
        return cls(Database(settings.database_url), settings)
