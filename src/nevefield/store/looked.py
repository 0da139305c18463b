"""Who looked at sensitive fields, and for whom they are uncovered."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Look",
    "end_uncovered",
    "insert_looks",
    "insert_uncovered",
    "list_looks",
    "list_uncovered",
]


@dataclass(frozen=True)
class Look:
    """Somebody saw sensitive fields of a record in an hour; of record 0, of a list."""

    who: str
    roster_id: int
    record_id: int
    hour: datetime
    reason: str  # why they were uncovered; "" of who sees them anyway


def insert_looks(
    connection: Connection, account_id: int, roster_id: int, records: Iterable[int], hour: datetime
) -> None:
    """Note that somebody sees sensitive fields of records; once in an hour."""
    connection.run_many(
        "INSERT IGNORE INTO looked (account_id, roster_id, record_id, hour)"
        " VALUES (%s, %s, %s, %s)",
        [(account_id, roster_id, record, hour) for record in records],
    )


def list_looks(
    connection: Connection,
    *,
    account_id: int | None,
    roster_id: int | None,
    record_id: int | None,
    start: int,
    limit: int,
) -> tuple[int, list[Look]]:
    """Count who looked at sensitive fields of whom, and list a page of them, the last first."""
    where = (
        "(%s IS NULL OR l.account_id = %s) AND (%s IS NULL OR l.roster_id = %s)"
        " AND (%s IS NULL OR l.record_id = %s)"
    )
    of = (account_id, account_id, roster_id, roster_id, record_id, record_id)
    row = connection.row(f"SELECT COUNT(*) FROM looked l WHERE {where}", of)  # noqa: S608
    rows = connection.rows(
        "SELECT COALESCE(a.name, ''), l.roster_id, l.record_id, l.hour,"  # noqa: S608
        " COALESCE((SELECT u.reason FROM uncovered u"
        "  WHERE u.account_id = l.account_id AND u.roster_id = l.roster_id"
        "  AND u.since < l.hour + INTERVAL 1 HOUR AND u.until > l.hour"
        "  ORDER BY u.id DESC LIMIT 1), '')"
        " FROM looked l"
        " LEFT JOIN account a ON a.id = l.account_id"
        f" WHERE {where}"
        " ORDER BY l.hour DESC, l.account_id, l.roster_id, l.record_id"
        " LIMIT %s OFFSET %s",
        (*of, limit, start),
    )
    return int(row[0]) if row else 0, [Look(*one) for one in rows]


def insert_uncovered(
    connection: Connection,
    account_id: int,
    roster_id: int,
    reason: str,
    since: datetime,
    until: datetime,
) -> None:
    """Uncover the sensitive fields of a roster for somebody."""
    connection.run(
        "INSERT INTO uncovered (account_id, roster_id, reason, since, until)"
        " VALUES (%s, %s, %s, %s, %s)",
        (account_id, roster_id, reason[:500], since, until),
    )


def list_uncovered(connection: Connection, account_id: int, at: datetime) -> dict[int, datetime]:
    """List the rosters of which sensitive fields are uncovered for somebody, and until when."""
    rows = connection.rows(
        "SELECT roster_id, MAX(until) FROM uncovered"
        " WHERE account_id = %s AND until > %s"
        " GROUP BY roster_id",
        (account_id, at),
    )
    return dict(rows)


def end_uncovered(connection: Connection, account_id: int, roster_id: int, at: datetime) -> bool:
    """Cover them again; tell whether they were uncovered."""
    ended = connection.run(
        "UPDATE uncovered SET until = %s WHERE account_id = %s AND roster_id = %s AND until > %s",
        (at, account_id, roster_id, at),
    )
    return ended > 0
