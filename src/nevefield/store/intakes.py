"""Intakes with their files, steps and rows."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Intake",
    "StepRow",
    "get_file",
    "get_intake",
    "get_outcome",
    "get_pulse",
    "insert_file",
    "insert_intake",
    "insert_step",
    "list_intakes",
    "list_intakes_of",
    "list_outcomes",
    "list_steps",
    "lock_intake",
    "replace_file",
    "set_tally",
]

_COLUMNS = "id, roster_id, title, file_name, file_hash, source, coverage, steps, tally, account_id, at, kind"


@dataclass(frozen=True)
class Intake:
    """One file on its way into one roster."""

    id: int
    roster_id: int
    title: str
    file_name: str
    file_hash: bytes
    source: str
    coverage: str
    steps: int
    tally: dict[str, int] | None
    account_id: int | None
    at: datetime
    kind: str = "file"  # file: came from outside; hand: one record, edited here


@dataclass(frozen=True)
class StepRow:
    """One step as it was stored."""

    number: int
    step: dict[str, Any]
    account: str
    at: datetime
    account_id: int | None = None


def insert_file(connection: Connection, file_hash: bytes, content: bytes, at: datetime, *, held_secrets: bool = False) -> None:
    """Keep a file's bytes, once for all intakes of the same bytes.

    Args:
        connection: Inside a transaction.
        file_hash: SHA-256 of the file as it came.
        content: The file, or what is kept of it when it held secrets.
        at: When.
        held_secrets: Which of both.
    """
    if connection.row("SELECT 1 FROM intake_file WHERE hash = %s", (file_hash,)) is not None:
        if held_secrets:  # the same bytes were kept whole when nothing in them was taken for a secret
            replace_file(connection, file_hash, content)
    else:
        connection.run(
            "INSERT INTO intake_file (hash, content, size, held_secrets, at) VALUES (%s, %s, %s, %s, %s)",
            (file_hash, content, len(content), held_secrets, at),
        )


def replace_file(connection: Connection, file_hash: bytes, content: bytes) -> None:
    """Put the rows without their secrets in the place of a file that turned out to hold some."""
    connection.run(
        "UPDATE intake_file SET content = %s, size = %s, held_secrets = TRUE WHERE hash = %s", (content, len(content), file_hash)
    )


def get_file(connection: Connection, file_hash: bytes) -> tuple[bytes, bool]:
    """Return a file's bytes, and whether they are the rows without secrets; no bytes when they are gone."""
    row = connection.row("SELECT content, held_secrets FROM intake_file WHERE hash = %s", (file_hash,))
    return (bytes(row[0]), bool(row[1])) if row else (b"", False)


def insert_intake(
    connection: Connection,
    roster_id: int,
    title: str,
    file_name: str,
    file_hash: bytes,
    source: str,
    coverage: str,
    account_id: int | None,
    at: datetime,
    kind: str = "file",
) -> int:
    """Add an intake and return its number."""
    return connection.insert(
        "INSERT INTO intake (roster_id, title, file_name, file_hash, source, coverage, account_id, at, kind)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (roster_id, title, file_name, file_hash, source, coverage, account_id, at, kind),
    )


def get_intake(connection: Connection, intake_id: int) -> Intake | None:
    """Find an intake."""
    row = connection.row(f"SELECT {_COLUMNS} FROM intake WHERE id = %s", (intake_id,))  # noqa: S608
    return _intake(row) if row else None


def lock_intake(connection: Connection, intake_id: int) -> int:
    """Keep everybody else from adding steps until the transaction ends, and return the number of steps now."""
    row = connection.row("SELECT steps FROM intake WHERE id = %s FOR UPDATE", (intake_id,))
    return int(row[0]) if row else 0


def list_intakes(connection: Connection) -> list[Intake]:
    """List the intakes of files, the last first; what was edited by hand stands in the roster's history."""
    rows = connection.rows(f"SELECT {_COLUMNS} FROM intake WHERE kind <> 'hand' ORDER BY id DESC LIMIT 500")  # noqa: S608
    return [_intake(row) for row in rows]


def list_intakes_of(connection: Connection, mark: str) -> list[Intake]:
    """List the intakes of a file by the beginning of its hash in hexadecimal: those not applied first, the last first."""
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM intake WHERE LEFT(HEX(file_hash), %s) = %s"  # noqa: S608
        " ORDER BY EXISTS (SELECT 1 FROM change_set c WHERE c.intake_id = intake.id), id DESC",
        (len(mark), mark.upper()),
    )
    return [_intake(row) for row in rows]


def get_pulse(connection: Connection, intake_id: int) -> tuple[int, int]:
    """Return how many steps an intake has, and its roster's version: what tells that something is new."""
    row = connection.row(
        "SELECT i.steps, r.version FROM intake i JOIN roster r ON r.id = i.roster_id WHERE i.id = %s", (intake_id,)
    )
    return (int(row[0]), int(row[1])) if row else (0, 0)


def insert_step(
    connection: Connection, intake_id: int, number: int, step: dict[str, Any], account_id: int | None, at: datetime
) -> None:
    """Add a step."""
    connection.run(
        "INSERT INTO intake_step (intake_id, number, step, account_id, at) VALUES (%s, %s, %s, %s, %s)",
        (intake_id, number, json.dumps(step, ensure_ascii=False), account_id, at),
    )
    connection.run("UPDATE intake SET steps = %s WHERE id = %s", (number, intake_id))


def list_steps(connection: Connection, intake_id: int) -> list[StepRow]:
    """List an intake's steps in their order."""
    rows = connection.rows(
        "SELECT s.number, s.step, COALESCE(a.name, ''), s.at, s.account_id"
        " FROM intake_step s LEFT JOIN account a ON a.id = s.account_id"
        " WHERE s.intake_id = %s ORDER BY s.number",
        (intake_id,),
    )
    return [StepRow(number, json.loads(step), name, at, account) for number, step, name, at, account in rows]


def set_tally(connection: Connection, intake_id: int, tally: dict[str, int]) -> None:
    """Keep the tally as last worked out, for lists."""
    connection.run("UPDATE intake SET tally = %s WHERE id = %s", (json.dumps(tally), intake_id))


def get_outcome(connection: Connection, intake_id: int, line: int) -> tuple[int, str, int | None, str] | None:
    """Find where a line ended up when its intake was applied: change set, outcome, record, message.

    Of several applies the one in which it went in counts, else the last; what was taken back does not count.
    """
    return connection.row(
        "SELECT r.change_set_id, r.outcome, r.record_id, r.message FROM intake_row r"
        " JOIN change_set c ON c.id = r.change_set_id"
        " WHERE c.intake_id = %s AND r.line = %s AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)"
        " ORDER BY r.outcome IN ('new', 'changed') DESC, c.id DESC LIMIT 1",
        (intake_id, line),
    )


def list_outcomes(connection: Connection, change_set_id: int, outcome: str) -> list[tuple[int, int | None, str]]:
    """List the lines with an outcome when a change set was applied: line, record, message."""
    return connection.rows(
        "SELECT line, record_id, message FROM intake_row WHERE change_set_id = %s AND outcome = %s ORDER BY line",
        (change_set_id, outcome),
    )


def _intake(row: tuple[Any, ...]) -> Intake:
    values = list(row)
    values[4] = bytes(values[4])
    values[8] = json.loads(values[8]) if values[8] else None
    return Intake(*values)
