"""What was sent to a destination, one after the other."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.store.passing import ActRow

if TYPE_CHECKING:
    from nevefield.store.connection import Connection

__all__ = ["list_delivered", "next_call"]


def list_delivered(
    connection: Connection, destination_id: int, before: int, limit: int
) -> list[tuple[int, ActRow]]:
    """List what was sent to a destination, the newest first: its number, and what.

    Args:
        connection: The connection.
        destination_id: To whom.
        before: Only what has a lower number; 0 for all.
        limit: How many at most.
    """
    rows = connection.rows(
        "SELECT p.id, p.destination_id, p.record_id, p.act, p.moved, p.answer, p.ms, p.version,"
        " p.at, COALESCE(a.name, '')"
        " FROM passed_act p"
        " LEFT JOIN account a ON a.id = p.account_id"
        " WHERE p.destination_id = %s AND (%s = 0 OR p.id < %s)"
        " ORDER BY p.id DESC"
        " LIMIT %s",
        (destination_id, before, before, limit),
    )
    return [(int(row[0]), ActRow(*row[1:])) for row in rows]


def next_call(connection: Connection, destination_id: int) -> int:
    """Give the number of the next call of a program: each is higher than all before."""
    connection.run(
        "UPDATE destination SET calls = LAST_INSERT_ID(calls + 1) WHERE id = %s", (destination_id,)
    )
    row = connection.row("SELECT LAST_INSERT_ID()")
    return int(row[0]) if row else 0
