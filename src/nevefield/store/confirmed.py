"""Who was looked at and found to be rightly in a group or role: ticked off, by whom and when."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Collection
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["insert_confirmed", "list_confirmed"]


def insert_confirmed(
    connection: Connection,
    roster_id: int,
    kind: str,
    group_key: str,
    records: Collection[int],
    account_id: int | None,
    at: datetime,
) -> None:
    """Say of records that they are rightly in a group."""
    connection.run_many(
        "INSERT INTO confirmed (roster_id, kind, group_key, record_id, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        [(roster_id, kind, group_key, number, account_id, at) for number in records],
    )


def list_confirmed(
    connection: Connection, roster_id: int, kind: str, group_key: str
) -> dict[int, tuple[datetime, str]]:
    """List by record when it was confirmed last, and by whom."""
    rows = connection.rows(
        "SELECT c.record_id, c.at, COALESCE(a.name, '')"
        " FROM confirmed c"
        " LEFT JOIN account a ON a.id = c.account_id"
        " WHERE c.roster_id = %s AND c.kind = %s AND c.group_key = %s"
        " ORDER BY c.id",
        (roster_id, kind, group_key),
    )
    return {int(number): (at, by) for number, at, by in rows}
