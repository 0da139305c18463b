"""Who was erased, who asked for it and why; and whose data must stay."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Erasure",
    "NewErasure",
    "find_held",
    "get_erasure",
    "insert_erasure",
    "keep_record",
    "last_erasure",
    "last_renewed",
    "list_erasures",
    "set_renewed",
]


@dataclass(frozen=True)
class Erasure:
    """Somebody who was erased."""

    id: int
    roster_id: int
    record_id: int
    asked_by: str
    reason: str
    counts: dict[str, int]
    by: str
    at: datetime


def find_held(connection: Connection, record_id: int) -> tuple[str, str, datetime] | None:
    """Find why a record is kept from being erased, by whom and since when."""
    return connection.row(
        "SELECT r.kept_for, COALESCE(a.name, ''), r.kept_at"
        " FROM record r"
        " LEFT JOIN account a ON a.id = r.kept_by"
        " WHERE r.id = %s AND r.kept_for IS NOT NULL",
        (record_id,),
    )


def keep_record(
    connection: Connection, record_id: int, reason: str | None, account_id: int, at: datetime
) -> None:
    """Keep a record from being erased, or (with no reason) let it go."""
    connection.run(
        "UPDATE record SET kept_for = %s, kept_by = %s, kept_at = %s WHERE id = %s",
        (reason, account_id if reason else None, at if reason else None, record_id),
    )


@dataclass(frozen=True)
class NewErasure:
    """What is to be kept of somebody who is erased."""

    roster_id: int
    record_id: int
    asked_by: str
    reason: str
    counts: dict[str, int]
    account_id: int | None
    at: datetime


def insert_erasure(connection: Connection, new: NewErasure) -> int:
    """Keep that somebody was erased, who asked for it, and why."""
    return connection.insert(
        "INSERT INTO erasure (roster_id, record_id, asked_by, reason, counts, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s)",
        (
            new.roster_id,
            new.record_id,
            new.asked_by,
            new.reason,
            json.dumps(new.counts),
            new.account_id,
            new.at,
        ),
    )


_ERASURE = (
    "SELECT e.id, e.roster_id, e.record_id, e.asked_by, e.reason, e.counts, COALESCE(a.name, ''),"
    " e.at FROM erasure e LEFT JOIN account a ON a.id = e.account_id"
)


def get_erasure(connection: Connection, record_id: int) -> Erasure | None:
    """Find the erasure of a record."""
    row = connection.row(f"{_ERASURE} WHERE e.record_id = %s", (record_id,))
    return _erasure(row) if row and connection.sight.sees(int(row[1])) else None


def last_erasure(connection: Connection) -> int:
    """Tell the number of the last erasure; 0 for none."""
    row = connection.row("SELECT MAX(id) FROM erasure")
    return int(row[0]) if row and row[0] else 0


def last_renewed(connection: Connection) -> int:
    """Tell the number of the last erasure before the database's files were written anew."""
    row = connection.row("SELECT next FROM counter WHERE name = 'renewed'")
    return int(row[0]) if row else 0


def set_renewed(connection: Connection, last: int) -> None:
    """Keep up to which erasure the database's files were written anew."""
    connection.run(
        "INSERT INTO counter (name, next) VALUES ('renewed', %s)"
        " ON DUPLICATE KEY UPDATE next = VALUES(next)",
        (last,),
    )


def list_erasures(connection: Connection, most: int = 1_000) -> list[Erasure]:
    """List who was erased, the last first."""
    rows = connection.rows(f"{_ERASURE} ORDER BY e.id DESC LIMIT %s", (most,))
    return [_erasure(row) for row in rows if connection.sight.sees(int(row[1]))]


def _erasure(row: tuple[Any, ...]) -> Erasure:
    values = list(row)
    values[5] = json.loads(values[5])
    return Erasure(*values)
