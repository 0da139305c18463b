"""Waivers that last: what was let in of a person, until the value is another, a day passes, or
somebody withdraws it.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.store.records import get_record_roster

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence
    from datetime import date, datetime

    from nevefield.core.checking.waiving import Waiver
    from nevefield.store.connection import Connection
    from nevefield.store.records import AsOf

__all__ = [
    "WaiverRow",
    "get_waiver_roster",
    "insert_waivers",
    "list_standing",
    "list_waivers",
    "withdraw_waiver",
]

# Of a change set that was taken back none counts: the yes went in with it.
_HOLDS = "NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = w.change_set_id)"


@dataclass(frozen=True)
class WaiverRow:
    """A waiver as it is kept."""

    id: int
    record_id: int
    check: str
    field: str
    digest: bytes
    title: str
    values: dict[str, str | None]
    reason: str
    until: date | None
    change_set: int
    intake: int | None
    line: int
    by: str
    at: datetime
    taken_back: bool
    withdrawn_at: datetime | None
    withdrawn_by: str


_COLUMNS = (
    "w.id, w.record_id, w.check_name, w.field, w.digest, w.title, w.content, w.reason, w.until,"
    f" w.change_set_id, c.intake_id, w.line, COALESCE(a.name, ''), w.at, NOT {_HOLDS},"
    " w.withdrawn_at, COALESCE(b.name, '')"
)
_FROM = (
    " FROM waiver w JOIN change_set c ON c.id = w.change_set_id"
    " LEFT JOIN account a ON a.id = w.account_id LEFT JOIN account b ON b.id = w.withdrawn_by"
)


def insert_waivers(
    connection: Connection,
    roster_id: int,
    change_set_id: int,
    waivers: Sequence[tuple[Waiver, int, int | None, datetime]],
) -> None:
    """Keep waivers, each with its record, who said yes, and when."""
    connection.run_many(
        "INSERT INTO waiver (roster_id, record_id, check_name, field, digest, title, content,"
        " reason, until, change_set_id, line, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [
            (
                roster_id,
                record,
                waiver.check,
                waiver.field,
                waiver.digest,
                waiver.title[:500],
                json.dumps(waiver.values, ensure_ascii=False),
                waiver.reason,
                waiver.until,
                change_set_id,
                waiver.line,
                account,
                at,
            )
            for waiver, record, account, at in waivers
        ],
    )


def list_standing(
    connection: Connection, roster_id: int, today: date, as_of: AsOf | None = None
) -> list[WaiverRow]:
    """List the waivers of a roster that count on a day, now or as it was at an earlier version."""
    if as_of is None or as_of.until is None:
        then, values = f"w.withdrawn_at IS NULL AND {_HOLDS}", []
    else:
        then = (
            "(w.withdrawn_at IS NULL OR w.withdrawn_at >= %s) AND c.version <= %s"
            f" AND {_HOLDS[:-1]} AND u.version <= %s)"
        )
        values = [as_of.until, as_of.version, as_of.version]
    rows = connection.rows(
        f"SELECT {_COLUMNS}{_FROM}"
        f" WHERE w.roster_id = %s AND (w.until IS NULL OR w.until >= %s) AND {then}"
        " ORDER BY w.id",
        (roster_id, today, *values),
    )
    return [_waiver(row) for row in rows]


def list_waivers(
    connection: Connection,
    roster_id: int,
    *,
    records: Collection[int] | None = None,
    start: int = 0,
    limit: int = 500,
) -> tuple[int, list[WaiverRow]]:
    """Count the waivers of a roster, or of some of its records, and list a page of them, the last
    first.
    """
    where, of = "w.roster_id = %s", [roster_id]
    if records is not None:
        where += f" AND w.record_id IN ({', '.join(['%s'] * len(records)) or 'NULL'})"
        of += records
    row = connection.row(f"SELECT COUNT(*) FROM waiver w WHERE {where}", of)  # noqa: S608
    rows = connection.rows(
        f"SELECT {_COLUMNS}{_FROM} WHERE {where} ORDER BY w.id DESC LIMIT %s OFFSET %s",
        (*of, limit, start),
    )
    return int(row[0]) if row else 0, [_waiver(row) for row in rows]


def get_waiver_roster(connection: Connection, waiver_id: int) -> int | None:
    """Find the roster that a waiver is of."""
    row = connection.row("SELECT record_id FROM waiver WHERE id = %s", (waiver_id,))
    return get_record_roster(connection, int(row[0])) if row else None


def withdraw_waiver(
    connection: Connection, waiver_id: int, account_id: int | None, at: datetime
) -> bool:
    """Withdraw a waiver; tell whether it stood until now."""
    done = connection.run(
        "UPDATE waiver"
        " SET withdrawn_at = %s, withdrawn_by = %s"
        " WHERE id = %s AND withdrawn_at IS NULL",
        (at, account_id, waiver_id),
    )
    return bool(done)


def _waiver(row: Sequence[Any]) -> WaiverRow:
    values = list(row)
    values[4], values[6] = bytes(values[4]), json.loads(values[6])
    values[14] = bool(values[14])
    return WaiverRow(*values)
