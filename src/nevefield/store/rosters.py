"""Rosters, their definitions and code lists."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.codes import Code, CodeList

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Roster",
    "get_code_versions",
    "get_definition",
    "get_roster",
    "get_roster_by_id",
    "insert_definition",
    "insert_roster",
    "list_code_lists",
    "list_definitions",
    "list_rosters",
    "list_seen",
    "lock_code_list",
    "lock_roster",
    "replace_code_list",
    "set_version",
]

_COLUMNS = "id, name, title, version, definition, erased"


@dataclass(frozen=True)
class Roster:
    """A roster; `version` counts its change sets, `definition` is the number of the one in
    force.
    """

    id: int
    name: str
    title: str
    version: int
    definition: int
    erased: int = 0  # how many people were erased: what was worked out before counts no more


def insert_roster(
    connection: Connection, name: str, title: str, document: Any, at: datetime
) -> int:
    """Add a roster with its first definition and return its number."""
    roster_id = connection.insert("INSERT INTO roster (name, title) VALUES (%s, %s)", (name, title))
    connection.run(
        "INSERT INTO definition (roster_id, number, document, at) VALUES (%s, 1, %s, %s)",
        (roster_id, json.dumps(document, ensure_ascii=False), at),
    )
    return roster_id


def get_roster(connection: Connection, name: str) -> Roster | None:
    """Find a roster by its name."""
    row = connection.row(f"SELECT {_COLUMNS} FROM roster WHERE name = %s", (name,))  # noqa: S608
    return _seen(connection, row)


def get_roster_by_id(connection: Connection, roster_id: int) -> Roster | None:
    """Find a roster by its number."""
    row = connection.row(f"SELECT {_COLUMNS} FROM roster WHERE id = %s", (roster_id,))  # noqa: S608
    return _seen(connection, row)


def _seen(connection: Connection, row: tuple[Any, ...] | None) -> Roster | None:
    return Roster(*row) if row and connection.sight.sees(row[0]) else None


def list_seen(connection: Connection) -> list[Roster]:
    """List rosters, without counting their records."""
    rows = connection.rows(f"SELECT {_COLUMNS} FROM roster ORDER BY id")  # noqa: S608
    return [Roster(*row) for row in rows if connection.sight.sees(row[0])]


def lock_roster(connection: Connection, roster_id: int) -> int:
    """Keep everybody else from altering a roster until the transaction ends, and return its
    version now.
    """
    row = connection.row("SELECT version FROM roster WHERE id = %s FOR UPDATE", (roster_id,))
    return int(row[0]) if row else 0


def set_version(connection: Connection, roster_id: int, version: int) -> None:
    """Write a roster's new version."""
    connection.run("UPDATE roster SET version = %s WHERE id = %s", (version, roster_id))


def list_rosters(connection: Connection) -> list[tuple[Roster, int]]:
    """List rosters with the number of their records."""
    rows = connection.rows(
        f"SELECT {_COLUMNS}, (SELECT COUNT(*) FROM record_version v WHERE v.roster_id = roster.id"  # noqa: S608
        " AND v.valid_to IS NULL)"
        " FROM roster"
        " ORDER BY id"
    )
    return [(Roster(*row[:6]), row[6]) for row in rows if connection.sight.sees(row[0])]


def get_definition(connection: Connection, roster_id: int, number: int) -> Any:
    """Return a definition's document."""
    row = connection.row(
        "SELECT document FROM definition WHERE roster_id = %s AND number = %s", (roster_id, number)
    )
    return json.loads(row[0]) if row else None


def insert_definition(
    connection: Connection,
    roster_id: int,
    title: str,
    document: Any,
    account_id: int | None,
    at: datetime,
) -> int:
    """Add a definition, put it in force, and return its number."""
    row = connection.row("SELECT MAX(number) FROM definition WHERE roster_id = %s", (roster_id,))
    number = int(row[0] or 0) + 1 if row else 1
    connection.run(
        "INSERT INTO definition (roster_id, number, document, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s)",
        (roster_id, number, json.dumps(document, ensure_ascii=False), account_id, at),
    )
    connection.run(
        "UPDATE roster SET definition = %s, title = %s WHERE id = %s", (number, title, roster_id)
    )
    return number


def list_definitions(connection: Connection, roster_id: int) -> list[tuple[int, str, datetime]]:
    """List a roster's definitions, the last first: number, who, when."""
    return connection.rows(
        "SELECT d.number, COALESCE(a.name, ''), d.at"
        " FROM definition d"
        " LEFT JOIN account a ON a.id = d.account_id"
        " WHERE d.roster_id = %s"
        " ORDER BY d.number DESC",
        (roster_id,),
    )


def get_code_versions(connection: Connection) -> tuple[tuple[str, int], ...]:
    """List code lists with their versions, to know when one has changed."""
    return tuple(
        (row[0], row[1])
        for row in connection.rows("SELECT name, version FROM code_list ORDER BY name")
    )


def list_code_lists(connection: Connection) -> dict[str, CodeList]:
    """Return all code lists."""
    found: dict[str, list[Code]] = {
        row[0]: [] for row in connection.rows("SELECT name FROM code_list ORDER BY name")
    }
    rows = connection.rows(
        "SELECT l.name, c.code, c.label, c.parent, c.aliases, c.first_day, c.last_day"
        " FROM code c"
        " JOIN code_list l ON l.id = c.list_id"
        " ORDER BY l.name, c.position"
    )
    for name, code, label, parent, aliases, first_day, last_day in rows:
        found[name].append(
            Code(code, label, parent, tuple(json.loads(aliases)), first_day, last_day)
        )
    return {name: CodeList(name, tuple(codes)) for name, codes in found.items()}


def lock_code_list(connection: Connection, name: str) -> int | None:
    """Keep others from writing a code list until the transaction ends; return its version, None
    when there is none.
    """
    row = connection.row("SELECT version FROM code_list WHERE name = %s FOR UPDATE", (name,))
    return row[0] if row else None


def replace_code_list(connection: Connection, name: str, codes: Sequence[Code]) -> None:
    """Write a code list whole; its version goes up by one."""
    connection.run(
        "INSERT INTO code_list (name) VALUES (%s) ON DUPLICATE KEY UPDATE version = version + 1",
        (name,),
    )
    row = connection.row("SELECT id FROM code_list WHERE name = %s", (name,))
    list_id = row[0] if row else 0
    connection.run("DELETE FROM code WHERE list_id = %s", (list_id,))
    connection.run_many(
        "INSERT INTO code (list_id, code, position, label, parent, aliases, first_day, last_day)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
        [
            (
                list_id,
                code.code,
                place,
                code.label,
                code.parent,
                json.dumps(list(code.aliases), ensure_ascii=False),
                code.first_day,
                code.last_day,
            )
            for place, code in enumerate(codes)
        ],
    )
