"""Shortlists: named, kept sets of records, by hand or live by a condition."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from collections.abc import Iterable
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Shortlist",
    "add_records",
    "delete_records",
    "delete_shortlist",
    "get_shortlist",
    "has_title",
    "insert_shortlist",
    "list_records",
    "list_shortlists",
]

_COLUMNS = (
    "s.id, s.roster_id, s.title, s.live, s.is_shared, s.account_id, s.at, s.part_id,"
    " COALESCE(a.name, '')"
)
_FROM = " FROM shortlist s LEFT JOIN account a ON a.id = s.account_id"


@dataclass(frozen=True)
class Shortlist:
    """A named, kept set of records."""

    id: int
    roster_id: int
    title: str
    live: Any | None  # the condition of a live one; None for one that is kept by hand
    is_shared: bool
    account_id: int | None
    at: datetime
    part_id: int | None  # of the roster, within which it is kept
    by: str


def insert_shortlist(
    connection: Connection,
    roster_id: int,
    title: str,
    live: Any | None,
    *,
    is_shared: bool,
    account_id: int | None,
    at: datetime,
) -> int:
    """Add a shortlist, within the part of its roster that whoever keeps it has, and return its
    number.
    """
    return connection.insert(
        "INSERT INTO shortlist (roster_id, title, live, is_shared, account_id, at, part_id)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s)",
        (
            roster_id,
            title,
            None if live is None else json.dumps(live),
            is_shared,
            account_id,
            at,
            connection.sight.part_id(roster_id),
        ),
    )


def get_shortlist(connection: Connection, shortlist_id: int) -> Shortlist | None:
    """Find a shortlist."""
    row = connection.row(f"SELECT {_COLUMNS}{_FROM} WHERE s.id = %s", (shortlist_id,))
    return only_seen(connection.sight, _shortlist(row) if row else None)


def has_title(connection: Connection, roster_id: int, title: str) -> bool:
    """Tell whether a roster has a shortlist of this title, whoever sees it; case does not tell
    two apart.
    """
    return (
        connection.row(
            "SELECT 1 FROM shortlist WHERE roster_id = %s AND title = %s", (roster_id, title)
        )
        is not None
    )


def list_shortlists(connection: Connection, roster_id: int, account_id: int) -> list[Shortlist]:
    """List a roster's shortlists that an account sees, by title."""
    seen, parts = connection.sight.where("s.roster_id", "s.part_id")
    rows = connection.rows(
        f"SELECT {_COLUMNS}{_FROM}"
        f" WHERE s.roster_id = %s AND (s.is_shared OR s.account_id = %s) AND {seen}"
        " ORDER BY s.title",
        (roster_id, account_id, *parts),
    )
    return [_shortlist(row) for row in rows]


def list_records(connection: Connection, shortlist_id: int) -> list[int]:
    """List the records of a shortlist that is kept by hand, those that left the roster among
    them.
    """
    rows = connection.rows(
        "SELECT record_id FROM shortlist_record WHERE shortlist_id = %s ORDER BY record_id",
        (shortlist_id,),
    )
    return [int(number) for (number,) in rows]


def add_records(connection: Connection, shortlist_id: int, records: Iterable[int]) -> None:
    """Put records on a shortlist; those that are on it already stay."""
    connection.run_many(
        "INSERT IGNORE INTO shortlist_record (shortlist_id, record_id) VALUES (%s, %s)",
        [(shortlist_id, number) for number in records],
    )


def delete_records(connection: Connection, shortlist_id: int, records: Iterable[int]) -> None:
    """Take records off a shortlist."""
    connection.run_many(
        "DELETE FROM shortlist_record WHERE shortlist_id = %s AND record_id = %s",
        [(shortlist_id, number) for number in records],
    )


def delete_shortlist(connection: Connection, shortlist_id: int) -> None:
    """Forget a shortlist; its records stay what they are."""
    connection.run("DELETE FROM shortlist WHERE id = %s", (shortlist_id,))


def _shortlist(row: tuple[Any, ...]) -> Shortlist:
    values = list(row)
    values[3] = None if values[3] is None else json.loads(values[3])
    values[4] = bool(values[4])
    return Shortlist(*values)
