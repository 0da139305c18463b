"""The audit trail, and the seals of its lines."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.trailing import BEGIN, Line, Seal, digest_of

if TYPE_CHECKING:
    from collections.abc import Collection
    from datetime import datetime

    from nevefield.store.connection import Connection

BY_HAND = "By hand: "  # how titles of what is done to one record begin

__all__ = [
    "Entry",
    "Wanted",
    "count_entries",
    "get_head",
    "insert_audit",
    "list_entries",
    "list_lines",
    "list_seals",
    "nameless",
    "seal_new",
]

AT_ONCE = 2_000  # lines that are sealed in one transaction
_LINE = "a.id, a.at, a.account_id, a.act, a.subject, a.detail, a.address"


def nameless(title: str, intake_id: int | None) -> str:
    """Say in the trail what was done to one record without the person's name: its lines stay as
    they are, also when the person is erased.
    """
    return f"{BY_HAND}intake {intake_id}" if title.startswith(BY_HAND) else title


def insert_audit(
    connection: Connection,
    act: str,
    subject: str,
    account_id: int | None,
    at: datetime,
    **detail: Any,
) -> None:
    """Note who did what to what, and from where; never a value of a record, and never a secret."""
    address = str(detail.pop("address", "") or connection.sight.address)
    connection.run(
        "INSERT INTO audit (at, account_id, act, subject, detail, address)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        (
            at,
            account_id,
            act,
            subject[:120],
            json.dumps(detail, ensure_ascii=False),
            address[:45],
        ),
    )


def seal_new(connection: Connection, at: datetime) -> int:
    """Seal lines that have no seal yet, the oldest first, and return how many. Who may only add to
    the seals cannot lock them: of two that seal at once, the second one's numbers are taken.

    Args:
        connection: Inside a transaction.
        at: Now, in UTC and without a zone; the same for all that are sealed together.

    Raises:
        KeyTaken: Another one sealed meanwhile.
    """
    number, before = get_head(connection)
    rows = connection.rows(
        f"SELECT {_LINE} FROM audit a"  # noqa: S608
        " LEFT JOIN audit_seal s ON s.audit_id = a.id"
        " WHERE s.audit_id IS NULL"
        " ORDER BY a.id"
        " LIMIT %s",
        (AT_ONCE,),
    )
    seals = []
    for one in rows:
        number, before = number + 1, digest_of(before, Line(*one), at)
        seals.append((number, one[0], at, before))
    if seals:
        connection.run_many(
            "INSERT INTO audit_seal (number, audit_id, at, digest) VALUES (%s, %s, %s, %s)", seals
        )
    return len(seals)


def list_seals(connection: Connection) -> list[Seal]:
    """List all seals in their order."""
    rows = connection.rows("SELECT number, audit_id, at, digest FROM audit_seal ORDER BY number")
    return [Seal(number, audit_id, at, bytes(digest)) for number, audit_id, at, digest in rows]


def list_lines(connection: Connection) -> list[Line]:
    """List all lines, by number."""
    return [
        Line(*row)
        for row in connection.rows(f"SELECT {_LINE} FROM audit a ORDER BY a.id")  # noqa: S608
    ]


def get_head(connection: Connection) -> tuple[int, bytes]:
    """Give the number and digest of the last seal; 0 and `BEGIN` where there is none."""
    row = connection.row("SELECT number, digest FROM audit_seal ORDER BY number DESC LIMIT 1")
    return (row[0], bytes(row[1])) if row else (0, BEGIN)


@dataclass(frozen=True)
class Wanted:
    """Which lines are looked for.

    Args:
        acts: Of these kinds; with `begins` none for all.
        begins: Or of kinds that begin so.
        account_id: Of this account.
        text: That stands in what it is about, or in its detail.
        first: From this moment on.
        last: Before this moment.
    """

    acts: Collection[str] = ()
    begins: Collection[str] = ()
    account_id: int | None = None
    text: str = ""
    first: datetime | None = None
    last: datetime | None = None

    def where(self) -> tuple[str, list[Any]]:
        """Give the same as a condition, with its values."""
        conditions, values = ["TRUE"], list[Any]()
        if self.acts or self.begins:
            kinds = ["a.act = %s"] * len(self.acts) + ["a.act LIKE %s"] * len(self.begins)
            conditions.append(f"({' OR '.join(kinds)})")
            values += [*self.acts, *(f"{begin}%" for begin in self.begins)]
        if self.account_id is not None:
            conditions.append("a.account_id = %s")
            values.append(self.account_id)
        if self.text:
            like = "%" + self.text.replace("!", "!!").replace("%", "!%").replace("_", "!_") + "%"
            conditions.append(
                "(a.subject LIKE %s ESCAPE '!' OR a.detail LIKE %s ESCAPE '!'"
                " OR a.address LIKE %s ESCAPE '!')"
            )
            values += [like, like, like]
        for moment, sign in ((self.first, ">="), (self.last, "<")):
            if moment is not None:
                conditions.append(f"a.at {sign} %s")
                values.append(moment)
        return " AND ".join(conditions), values


@dataclass(frozen=True)
class Entry:
    """A line of the trail, with who did it."""

    line: Line
    who: str  # name of the account; "" for the product itself
    is_sealed: bool


def list_entries(connection: Connection, wanted: Wanted, start: int, limit: int) -> list[Entry]:
    """List lines, the last first."""
    where, values = wanted.where()
    rows = connection.rows(
        f"SELECT {_LINE}, COALESCE(p.name, ''), s.number IS NOT NULL"  # noqa: S608
        " FROM audit a"
        " LEFT JOIN account p ON p.id = a.account_id"
        " LEFT JOIN audit_seal s ON s.audit_id = a.id"
        f" WHERE {where}"
        " ORDER BY a.id DESC"
        " LIMIT %s OFFSET %s",
        (*values, limit, start),
    )
    return [Entry(Line(*row[:7]), row[7], bool(row[8])) for row in rows]


def count_entries(connection: Connection, wanted: Wanted) -> int:
    """Count lines."""
    where, values = wanted.where()
    row = connection.row(f"SELECT COUNT(*) FROM audit a WHERE {where}", values)  # noqa: S608
    return int(row[0]) if row else 0
