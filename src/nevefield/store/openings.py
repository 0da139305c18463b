"""Rosters that are about to be opened from a file: the file, and what was said of the proposal."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "NewOpening",
    "Opening",
    "delete_old",
    "delete_opening",
    "delete_roster",
    "get_content",
    "get_opening",
    "get_opening_of",
    "has_history",
    "insert_opening",
    "list_openings",
    "set_choices",
    "set_opened",
]

# What belongs to a roster in which nothing was ever applied, those that others refer to last.
_OF_ROSTER = (
    *("scheduled", "proposal", "waiver", "confirmed", "person_said", "shortlist", "intake"),
    *("source", "job", "access", "looked", "uncovered", "roster_part", "definition"),
)


@dataclass(frozen=True)
class NewOpening:
    """What is to be kept of a file that may become a roster."""

    account_id: int
    file_name: str
    file_hash: bytes
    content: bytes
    held_secrets: bool
    at: datetime


@dataclass(frozen=True)
class Opening:
    """A roster that is about to be opened."""

    id: int
    account_id: int
    file_name: str
    file_hash: bytes
    held_secrets: bool
    choices: dict[str, Any]
    version: int
    roster_id: int | None
    lists: tuple[str, ...]
    at: datetime


_COLUMNS = (
    "id, account_id, file_name, file_hash, held_secrets, choices, version, roster_id, lists, at"
)


def insert_opening(connection: Connection, new: NewOpening) -> int:
    """Keep a file that may become a roster, and return its number."""
    return connection.insert(
        "INSERT INTO opening (account_id, file_name, file_hash, content, held_secrets, choices, at)"
        " VALUES (%s, %s, %s, %s, %s, '{}', %s)",
        (
            new.account_id,
            new.file_name,
            new.file_hash,
            new.content,
            new.held_secrets,
            new.at,
        ),
    )


def get_opening(connection: Connection, number: int, *, lock: bool = False) -> Opening | None:
    """Find one by its number."""
    ending = " FOR UPDATE" if lock else ""
    row = connection.row(f"SELECT {_COLUMNS} FROM opening WHERE id = %s{ending}", (number,))  # noqa: S608
    return _opening(row) if row else None


def get_opening_of(connection: Connection, roster_id: int) -> Opening | None:
    """Find the one by which a roster was opened."""
    row = connection.row(f"SELECT {_COLUMNS} FROM opening WHERE roster_id = %s", (roster_id,))  # noqa: S608
    return _opening(row) if row else None


def list_openings(connection: Connection, account_id: int) -> list[Opening]:
    """List what an account has begun and neither opened nor thrown away, the last first."""
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM opening"  # noqa: S608
        " WHERE account_id = %s AND roster_id IS NULL"
        " ORDER BY id DESC"
        " LIMIT 20",
        (account_id,),
    )
    return [_opening(row) for row in rows]


def _opening(row: tuple[Any, ...]) -> Opening:
    number, account_id, name, file_hash, secrets, choices, version, roster_id, lists, at = row
    return Opening(
        number,
        account_id,
        name,
        bytes(file_hash),
        bool(secrets),
        json.loads(choices),
        version,
        roster_id,
        tuple(json.loads(lists)),
        at,
    )


def get_content(connection: Connection, number: int) -> bytes:
    """Give what is kept of the file; no bytes when it is gone."""
    row = connection.row("SELECT content FROM opening WHERE id = %s", (number,))
    return bytes(row[0]) if row and row[0] is not None else b""


def set_choices(connection: Connection, number: int, choices: dict[str, Any]) -> None:
    """Keep what was said of the proposal."""
    connection.run(
        "UPDATE opening SET choices = %s, version = version + 1 WHERE id = %s",
        (json.dumps(choices, ensure_ascii=False), number),
    )


def set_opened(connection: Connection, number: int, roster_id: int, lists: Sequence[str]) -> None:
    """Note the roster that was opened, and the code lists made with it; the file is the intake's
    from now on.
    """
    connection.run(
        "UPDATE opening SET roster_id = %s, lists = %s, content = NULL WHERE id = %s",
        (roster_id, json.dumps(list(lists), ensure_ascii=False), number),
    )


def delete_opening(connection: Connection, number: int) -> None:
    """Throw one away, with its file."""
    connection.run("DELETE FROM opening WHERE id = %s", (number,))


def delete_old(connection: Connection, before: datetime) -> None:
    """Throw those away that were begun before a time and never opened."""
    connection.run("DELETE FROM opening WHERE roster_id IS NULL AND at < %s", (before,))


def has_history(connection: Connection, roster_id: int) -> bool:
    """Tell whether something was ever applied to a roster, or submitted from it."""
    row = connection.row(
        "SELECT EXISTS (SELECT 1 FROM change_set WHERE roster_id = %s)"
        " OR EXISTS (SELECT 1 FROM submission WHERE roster_id = %s)",
        (roster_id, roster_id),
    )
    return bool(row and row[0])


def delete_roster(connection: Connection, roster_id: int, lists: Sequence[str]) -> None:
    """Take out a roster in which nothing was ever applied, with its intakes, their files, and code
    lists.
    """
    connection.run("DELETE FROM opening WHERE roster_id = %s", (roster_id,))
    connection.run(
        "DELETE FROM recipe WHERE source_id IN (SELECT id FROM source WHERE roster_id = %s)",
        (roster_id,),
    )
    connection.run(
        "DELETE FROM intake_step WHERE intake_id IN (SELECT id FROM intake WHERE roster_id = %s)",
        (roster_id,),
    )
    files = connection.rows(
        "SELECT DISTINCT file_hash FROM intake WHERE roster_id = %s", (roster_id,)
    )
    for table in _OF_ROSTER:
        connection.run(f"DELETE FROM {table} WHERE roster_id = %s", (roster_id,))  # noqa: S608
    for (file_hash,) in files:
        connection.run(
            "DELETE FROM intake_file WHERE hash = %s"
            " AND NOT EXISTS (SELECT 1 FROM intake WHERE file_hash = %s)",
            (file_hash, file_hash),
        )
    connection.run("DELETE FROM roster WHERE id = %s", (roster_id,))
    for name in lists:
        connection.run(
            "DELETE FROM code WHERE list_id = (SELECT id FROM code_list WHERE name = %s)", (name,)
        )
        connection.run("DELETE FROM code_list WHERE name = %s", (name,))
