"""Copies that were ordered, and what became of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Became",
    "CopyMade",
    "break_off",
    "insert_order",
    "list_made",
    "next_order",
    "set_state",
]


@dataclass(frozen=True)
class CopyMade:
    """A copy that was ordered; `by` is "" where it is made by itself."""

    id: int
    by: str
    ordered_at: datetime
    state: str  # ordered, making, trying, good, failed
    ended_at: datetime | None
    file_name: str
    size: int  # bytes
    rows: int
    said: str  # why it failed


_COLUMNS = (
    "c.id, COALESCE(a.name, ''), c.ordered_at, c.state, c.ended_at, c.file_name, c.size,"
    " c.row_count, c.said"
)


def insert_order(connection: Connection, account_id: int | None, at: datetime) -> int:
    """Order a copy and return its number."""
    return connection.insert(
        "INSERT INTO copy_made (ordered_by, ordered_at) VALUES (%s, %s)", (account_id, at)
    )


def list_made(connection: Connection, limit: int) -> list[CopyMade]:
    """List what was ordered, the last first."""
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM copy_made c"  # noqa: S608
        " LEFT JOIN account a ON a.id = c.ordered_by"
        " ORDER BY c.id DESC"
        " LIMIT %s",
        (limit,),
    )
    return [CopyMade(*row) for row in rows]


def next_order(connection: Connection) -> int | None:
    """Find the oldest order that nobody has begun."""
    row = connection.row("SELECT MIN(id) FROM copy_made WHERE state = 'ordered'")
    return row[0] if row else None


@dataclass(frozen=True)
class Became:
    """What became of an order."""

    state: str
    at: datetime | None = None  # when it ended
    file_name: str = ""
    size: int = 0  # bytes
    rows: int = 0
    said: str = ""  # why it failed


def set_state(connection: Connection, number: int, became: Became) -> None:
    """Write what became of an order."""
    connection.run(
        "UPDATE copy_made"
        " SET state = %s, ended_at = %s, file_name = %s, size = %s, row_count = %s, said = %s"
        " WHERE id = %s",
        (
            became.state,
            became.at,
            became.file_name,
            became.size,
            became.rows,
            became.said[:500],
            number,
        ),
    )


def break_off(connection: Connection, at: datetime, said: str) -> None:
    """Write that what is under way failed: whoever did it is no more."""
    connection.run(
        "UPDATE copy_made SET state = 'failed', ended_at = %s, said = %s"
        " WHERE state IN ('making', 'trying')",
        (at, said),
    )
