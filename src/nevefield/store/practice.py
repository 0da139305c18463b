"""The practice copy: what was ordered, and the database that it is in."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.store.parts import ensure_part, list_parts

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "PracticeCopy",
    "clear_all",
    "copy_accounts",
    "copy_designs",
    "fail_practice",
    "get_practice",
    "has_tables",
    "order_practice",
    "set_progress",
    "set_ready",
    "set_thrown_away",
    "start_practice",
]

# What of an account goes into the practice copy; sessions, second steps and tokens do not.
_ACCOUNT = (
    "id, sign_in, name, password_hash, level, created_at, single_keys, changed_keys, closed_at,"
    " last_day, kind, may_uncover"
)


@dataclass(frozen=True)
class PracticeCopy:
    """What was ordered last, and the practice copy that is there."""

    state: str  # ordered, making, ready, failed, none
    by: str
    ordered_at: datetime
    made_at: datetime | None  # None where there is none
    doing: str
    done: int
    total: int
    contents: dict[str, Any]
    said: str


def get_practice(connection: Connection) -> PracticeCopy | None:
    """Say how the practice copy stands; None where nobody ever ordered one."""
    row = connection.row(
        "SELECT p.state, COALESCE(a.name, ''), p.ordered_at, p.made_at, p.doing, p.done, p.total,"
        " p.contents, p.said"
        " FROM practice_copy p"
        " LEFT JOIN account a ON a.id = p.ordered_by"
        " WHERE p.id = 1"
    )
    if row is None:
        return None
    state, by, ordered_at, made_at, doing, done, total, contents, said = row
    return PracticeCopy(
        state,
        by,
        ordered_at,
        made_at,
        doing,
        done,
        total,
        json.loads(contents) if contents else {},
        said,
    )


def order_practice(connection: Connection, account_id: int | None, at: datetime) -> None:
    """Order one; that which is there stays until it is made."""
    connection.run(
        "INSERT INTO practice_copy (id, state, ordered_by, ordered_at)"
        " VALUES (1, 'ordered', %s, %s)"
        " ON DUPLICATE KEY UPDATE state = 'ordered', ordered_by = VALUES(ordered_by),"
        " ordered_at = VALUES(ordered_at), doing = '', done = 0, total = 0, said = ''",
        (account_id, at),
    )


def start_practice(connection: Connection) -> bool:
    """Take what is ordered; tell whether something was."""
    return (
        connection.run(
            "UPDATE practice_copy SET state = 'making' WHERE id = 1 AND state = 'ordered'"
        )
        == 1
    )


def set_progress(connection: Connection, doing: str, done: int, total: int) -> None:
    """Say how far it is."""
    connection.run(
        "UPDATE practice_copy SET doing = %s, done = %s, total = %s"
        " WHERE id = 1 AND state = 'making'",
        (doing[:120], done, total),
    )


def set_ready(connection: Connection, contents: dict[str, Any], at: datetime) -> None:
    """Say that it is there."""
    connection.run(
        "UPDATE practice_copy SET state = 'ready', made_at = %s, contents = %s, doing = ''"
        " WHERE id = 1",
        (at, json.dumps(contents, ensure_ascii=False)),
    )


def fail_practice(connection: Connection, said: str) -> None:
    """Say that what was ordered or begun came to nothing, and why."""
    connection.run(
        "UPDATE practice_copy SET state = 'failed', said = %s, doing = ''"
        " WHERE id = 1 AND state IN ('ordered', 'making')",
        (said[:500],),
    )


def set_thrown_away(connection: Connection) -> None:
    """Say that there is none any more."""
    connection.run(
        "UPDATE practice_copy SET state = 'none', made_at = NULL, contents = NULL, said = ''"
        " WHERE id = 1"
    )


def has_tables(connection: Connection) -> bool:
    """Tell whether a database has what a practice copy has."""
    row = connection.row(
        "SELECT COUNT(*) FROM information_schema.tables"
        " WHERE table_schema = DATABASE() AND table_name = 'roster'"
    )
    return bool(row and row[0])


def clear_all(connection: Connection) -> None:
    """Delete all that a practice copy has, inside the caller's transaction."""
    tables = connection.rows(
        "SELECT table_name FROM information_schema.tables"
        " WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'"
        " AND table_name <> 'migration'"
    )
    connection.run("SET foreign_key_checks = 0")
    for (table,) in tables:
        connection.run(f"DELETE FROM `{table}`")  # noqa: S608 a name that the server gave
    connection.run("SET foreign_key_checks = 1")


def copy_designs(real: Connection, copy: Connection, rosters: Mapping[int, int]) -> None:
    """Copy the card designs as they are in force, with the pictures that stand on all cards; no
    photograph and no card that was made goes along.

    Args:
        real: The real database.
        copy: That of the practice copy.
        rosters: Numbers of rosters there, by those here.
    """
    designs = real.rows(
        "SELECT d.id, d.name, d.register_id, d.at, v.document"
        " FROM card_design d"
        " JOIN card_design_version v ON v.design_id = d.id AND v.number = d.version"
    )
    for number, name, register_id, at, document in designs:
        if register_id not in rosters:
            continue
        copy.run(
            "INSERT INTO card_design (id, name, register_id, version, at)"
            " VALUES (%s, %s, %s, 1, %s)",
            (number, name, rosters[register_id], at),
        )
        copy.run(
            "INSERT INTO card_design_version (design_id, number, document, at)"
            " VALUES (%s, 1, %s, %s)",
            (number, document, at),
        )
    columns = "digest, content, kind, width, height, at"
    copy.run_many(
        f"INSERT INTO card_image ({columns}) VALUES (%s, %s, %s, %s, %s, %s)",  # noqa: S608
        real.rows(f"SELECT {columns} FROM card_image WHERE kind = 'png'"),  # noqa: S608
    )


def copy_accounts(real: Connection, copy: Connection, rosters: Mapping[int, int]) -> None:
    """Give the people who work here the same rights in the practice copy, with the same password;
    programs have none there.

    Args:
        real: The real database.
        copy: That of the practice copy.
        rosters: Numbers of rosters there, by those here.
    """
    accounts = real.rows(f"SELECT {_ACCOUNT} FROM account WHERE kind = 'person' ORDER BY id")  # noqa: S608
    marks = ", ".join(["%s"] * len(_ACCOUNT.split(",")))
    copy.run_many(f"INSERT INTO account ({_ACCOUNT}) VALUES ({marks})", accounts)  # noqa: S608
    numbers = [account[0] for account in accounts]
    if not numbers:
        return
    parts = list_parts(real, numbers)
    rows = real.rows(
        "SELECT account_id, roster_id, level FROM access WHERE account_id IN %s", (tuple(numbers),)
    )
    for account_id, roster_id, level in rows:
        if roster_id not in rosters:  # opened meanwhile
            continue
        part, there = parts[account_id].get(roster_id), rosters[roster_id]
        copy.run(
            "INSERT INTO access (account_id, roster_id, level, part_id) VALUES (%s, %s, %s, %s)",
            (account_id, there, level, ensure_part(copy, there, part.when) if part else None),
        )
