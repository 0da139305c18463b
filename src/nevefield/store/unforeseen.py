"""Errors that nobody foresaw: counted by what was asked for, what went wrong, and where; never
with what they were about.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["Unforeseen", "count_unforeseen", "list_unforeseen", "settle_unforeseen"]


@dataclass(frozen=True)
class Unforeseen:
    """One error that nobody foresaw, and how often it happened since it was settled last."""

    id: int
    doing: str  # method and route, or the kind of a job
    kind: str
    source: str  # module and line
    times: int
    mark: str  # of the last, in the log
    first_at: datetime
    last_at: datetime


def count_unforeseen(
    connection: Connection, doing: str, kind: str, source: str, mark: str, at: datetime
) -> None:
    """Count one more."""
    connection.run(
        "INSERT INTO unforeseen (doing, kind, source, times, mark, first_at, last_at)"
        " VALUES (%s, %s, %s, 1, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE times = IF(settled_at IS NULL, times + 1, 1),"
        " first_at = IF(settled_at IS NULL, first_at, VALUES(first_at)),"
        " last_at = VALUES(last_at), mark = VALUES(mark), settled_at = NULL",
        (doing[:160], kind[:100], source[:160], mark, at, at),
    )


def list_unforeseen(connection: Connection) -> list[Unforeseen]:
    """List those that are not settled, the last first."""
    rows = connection.rows(
        "SELECT id, doing, kind, source, times, mark, first_at, last_at"
        " FROM unforeseen"
        " WHERE settled_at IS NULL"
        " ORDER BY last_at DESC, id DESC"
        " LIMIT 500"
    )
    return [Unforeseen(*row) for row in rows]


def settle_unforeseen(connection: Connection, number: int, at: datetime) -> bool:
    """Put one aside until it happens again; False when there is none."""
    return (
        connection.run(
            "UPDATE unforeseen SET settled_at = %s WHERE id = %s AND settled_at IS NULL",
            (at, number),
        )
        == 1
    )
