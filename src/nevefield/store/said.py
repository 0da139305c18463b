"""What people said of who is who, so that nobody is asked twice."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["list_said", "replace_said"]


def list_said(
    connection: Connection, roster_id: int, until: datetime | None = None
) -> list[tuple[bytes, int, bool]]:
    """List what was said in a roster, to a moment: what a row said of its person, a record, and
    whether the two are one.
    """
    rows = connection.rows(
        "SELECT likeness, record_id, is_same"
        " FROM person_said"
        " WHERE roster_id = %s AND (%s IS NULL OR at < %s)"
        " ORDER BY likeness, record_id",
        (roster_id, until, until),
    )
    return [(bytes(likeness), int(record), bool(same)) for likeness, record, same in rows]


def replace_said(
    connection: Connection,
    roster_id: int,
    said: list[tuple[bytes, int, bool]],
    intake_id: int | None,
    at: datetime,
) -> None:
    """Keep what was said; the same pair said otherwise before is said anew."""
    connection.run_many(
        "INSERT INTO person_said (roster_id, likeness, record_id, is_same, intake_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE is_same = VALUES(is_same), intake_id = VALUES(intake_id),"
        " at = VALUES(at)",
        [(roster_id, likeness, record, same, intake_id, at) for likeness, record, same in said],
    )
