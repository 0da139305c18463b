"""Tries to sign in, counted before they are made; and the devices on which somebody signed in
before.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["DEVICE_DAYS", "Gate", "forgive", "get_device", "keep_device", "take_try"]

FORGOTTEN = timedelta(hours=1)  # after which tries that did not fit count no more
DEVICE_DAYS = 365


@dataclass(frozen=True)
class Gate:
    """Something by which tries are counted.

    Attributes:
        subject: A device, a name or an address, in ASCII.
        free: How many tries are made without a wait.
        longest: The longest wait, in seconds; waits double from one second.
    """

    subject: str
    free: int
    longest: int

    def wait(self, failures: int) -> int:
        """Tell how many seconds nobody tries after so many."""
        return 0 if failures < self.free else min(2 ** min(failures - self.free, 20), self.longest)


def take_try(connection: Connection, gates: Sequence[Gate], now: datetime) -> datetime | None:
    """Count a try at all gates, as one that will not fit; nothing is counted when one of them is
    closed.

    Each gate's row is locked until the transaction ends, always in the same order: of tries at
    once, as many are let through as of tries one after another.

    Returns:
        None when it may be made, else the moment from which one may.
    """
    found: list[tuple[Gate, int, datetime]] = []
    for gate in sorted(gates, key=lambda one: one.subject):
        connection.run(
            "INSERT INTO door (subject, failures, at, next_at)"
            " VALUES (%s, 0, %s, %s)"
            " ON DUPLICATE KEY UPDATE subject = subject",
            (gate.subject, now, now),
        )
        row = connection.row(
            "SELECT failures, at, next_at FROM door WHERE subject = %s FOR UPDATE", (gate.subject,)
        )
        failures, at, next_at = row or (0, now, now)
        found.append((gate, 0 if at < now - FORGOTTEN else failures, next_at))
    # Of tries at once, each has the time at which it came, not that at which it is counted: only a
    # gate with a wait is closed.
    closed = max(
        (next_at for gate, failures, next_at in found if failures >= gate.free), default=now
    )
    if closed > now:
        return closed
    for gate, failures, _ in found:
        wait = timedelta(seconds=gate.wait(failures + 1))
        connection.run(
            "UPDATE door SET failures = %s, at = %s, next_at = %s WHERE subject = %s",
            (failures + 1, now, now + wait, gate.subject),
        )
    return None


def forgive(connection: Connection, gates: Sequence[Gate], now: datetime) -> None:
    """Take back what `take_try` counted, of a try that fitted; a gate that one account goes
    through is as new.
    """
    connection.run("DELETE FROM door WHERE at < %s", (now - FORGOTTEN,))
    for gate in sorted(gates, key=lambda one: one.subject):
        if gate.subject.startswith("address "):  # others' tries from there stay counted
            connection.run(
                "UPDATE door"
                " SET failures = failures - 1, next_at = %s"
                " WHERE subject = %s AND failures > 0",
                (now, gate.subject),
            )
        else:
            connection.run("DELETE FROM door WHERE subject = %s", (gate.subject,))


def get_device(connection: Connection, token_hash: bytes, account_id: int, now: datetime) -> bool:
    """Tell whether an account signed in on a device before."""
    found = connection.row(
        "SELECT 1 FROM device WHERE token_hash = %s AND account_id = %s AND at > %s",
        (token_hash, account_id, now - timedelta(days=DEVICE_DAYS)),
    )
    return found is not None


def keep_device(connection: Connection, token_hash: bytes, account_id: int, now: datetime) -> None:
    """Remember that an account signed in on a device; those long unused go."""
    connection.run("DELETE FROM device WHERE at < %s", (now - timedelta(days=DEVICE_DAYS),))
    connection.run(
        "INSERT INTO device (token_hash, account_id, at)"
        " VALUES (%s, %s, %s)"
        " ON DUPLICATE KEY UPDATE at = VALUES(at)",
        (token_hash, account_id, now),
    )
