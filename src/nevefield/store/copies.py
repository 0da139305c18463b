"""Copies that were ordered, and what became of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Became",
    "CopyBack",
    "CopyMade",
    "break_off",
    "delete_return",
    "fail_return",
    "get_return",
    "insert_order",
    "keep_known",
    "list_made",
    "next_order",
    "put_return",
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


def keep_known(connection: Connection, known: Sequence[CopyMade]) -> None:
    """Note copies that lie there in a database that was brought back from one of them: it knows
    none that was made since, and that one as not done yet.
    """
    connection.run("DELETE FROM copy_made WHERE state IN ('ordered', 'making', 'trying')")
    there = {row[0] for row in connection.rows("SELECT file_name FROM copy_made")}
    connection.run_many(
        "INSERT INTO copy_made (ordered_at, state, ended_at, file_name, size, row_count)"
        " VALUES (%s, 'good', %s, %s, %s, %s)",
        [
            (one.ordered_at, one.ended_at, one.file_name, one.size, one.rows)
            for one in sorted(known, key=lambda one: one.ordered_at)
            if one.file_name not in there
        ],
    )


@dataclass(frozen=True)
class CopyBack:
    """A copy that is to be brought back; `said` is why it could not be."""

    file_name: str
    by: str
    ordered_at: datetime
    said: str


def get_return(connection: Connection) -> CopyBack | None:
    """Give the copy that is to be brought back; None for none."""
    row = connection.row(
        "SELECT b.file_name, COALESCE(a.name, ''), b.ordered_at, b.said"
        " FROM copy_back b"
        " LEFT JOIN account a ON a.id = b.ordered_by"
        " WHERE b.id = 1"
    )
    return CopyBack(*row) if row else None


def put_return(connection: Connection, file_name: str, account_id: int, at: datetime) -> None:
    """Order that a copy is brought back."""
    connection.run(
        "REPLACE INTO copy_back (id, file_name, ordered_by, ordered_at) VALUES (1, %s, %s, %s)",
        (file_name, account_id, at),
    )


def fail_return(connection: Connection, said: str) -> None:
    """Say why a copy could not be brought back."""
    connection.run("UPDATE copy_back SET said = %s WHERE id = 1", (said[:500],))


def delete_return(connection: Connection) -> None:
    """Forget what was ordered: it is done, or nobody asks any more."""
    connection.run("DELETE FROM copy_back WHERE id = 1")
