"""Intakes with their files, steps and rows."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from collections.abc import Collection
    from datetime import date, datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Intake",
    "NewIntake",
    "StepRow",
    "count_intakes",
    "get_file",
    "get_intake",
    "get_outcome",
    "get_pulse",
    "gone_at",
    "insert_file",
    "insert_intake",
    "insert_step",
    "list_applied",
    "list_intakes",
    "list_intakes_of",
    "list_outcomes",
    "list_steps",
    "lock_intake",
    "replace_file",
    "set_source",
    "set_tally",
    "set_thrown",
]

_COLUMNS = (
    "id, roster_id, title, file_name, file_hash, source, coverage, steps, tally, account_id, at,"
    " kind, thrown_at, due, part_id"
)
_UNSETTLED = ("stopped", "waiting", "held", "absent_held", "ready")
_IS_OPEN = "(" + " OR ".join(f"JSON_VALUE(tally, '$.{name}') > 0" for name in _UNSETTLED) + ")"


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
    thrown_at: datetime | None = None  # when it was thrown away
    due: date | None = None  # the day by which it has to be in the roster
    part_id: int | None = None  # of the roster, within which it is; None for all of it


@dataclass(frozen=True)
class StepRow:
    """One step as it was stored."""

    number: int
    step: dict[str, Any]
    account: str
    at: datetime
    account_id: int | None = None


def insert_file(
    connection: Connection,
    file_hash: bytes,
    content: bytes,
    at: datetime,
    *,
    held_secrets: bool = False,
) -> None:
    """Keep a file's bytes, once for all intakes of the same bytes.

    Args:
        connection: Inside a transaction.
        file_hash: SHA-256 of the file as it came.
        content: The file, or what is kept of it when it held secrets.
        at: When.
        held_secrets: Which of both.
    """
    row = connection.row("SELECT gone_at FROM intake_file WHERE hash = %s", (file_hash,))
    if row is not None and row[0] is not None:  # deleted by its time, and here again
        connection.run(
            "UPDATE intake_file SET content = %s, size = %s, held_secrets = %s, at = %s,"
            " gone_at = NULL WHERE hash = %s",
            (content, len(content), held_secrets, at, file_hash),
        )
    elif row is not None:
        # the same bytes were kept whole when nothing in them was taken for a secret
        if held_secrets:
            replace_file(connection, file_hash, content)
    else:
        connection.run(
            "INSERT INTO intake_file (hash, content, size, held_secrets, at)"
            " VALUES (%s, %s, %s, %s, %s)",
            (file_hash, content, len(content), held_secrets, at),
        )


def gone_at(connection: Connection, file_hash: bytes) -> datetime | None:
    """Tell when a file's content was deleted by its time; None while it is there."""
    row = connection.row("SELECT gone_at FROM intake_file WHERE hash = %s", (file_hash,))
    return row[0] if row else None


def replace_file(connection: Connection, file_hash: bytes, content: bytes) -> None:
    """Put the rows without their secrets in the place of a file that turned out to hold some; not
    of one that was written anew without somebody who was erased, and without secrets then.
    """
    connection.run(
        "UPDATE intake_file SET content = %s, size = %s, held_secrets = TRUE"
        " WHERE hash = %s AND rewritten = 0",
        (content, len(content), file_hash),
    )


def get_file(connection: Connection, file_hash: bytes) -> tuple[bytes, bool]:
    """Return a file's bytes, and whether they are the rows without secrets; no bytes when they
    are gone.
    """
    row = connection.row(
        "SELECT content, held_secrets FROM intake_file WHERE hash = %s", (file_hash,)
    )
    return (bytes(row[0]), bool(row[1])) if row else (b"", False)


@dataclass(frozen=True)
class NewIntake:
    """What is to be kept of a new intake."""

    roster_id: int
    title: str
    file_name: str
    file_hash: bytes  # SHA-256
    source: str
    coverage: str
    account_id: int | None
    at: datetime
    kind: str = "file"  # or hand, many, rules: made here


def insert_intake(connection: Connection, new: NewIntake) -> int:
    """Add an intake, within the part of its roster that whoever makes it has, and return its
    number.
    """
    return connection.insert(
        "INSERT INTO intake (roster_id, title, file_name, file_hash, source, coverage,"
        " account_id, at, kind, part_id)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            new.roster_id,
            new.title,
            new.file_name,
            new.file_hash,
            new.source,
            new.coverage,
            new.account_id,
            new.at,
            new.kind,
            connection.sight.part_id(new.roster_id),
        ),
    )


def set_source(connection: Connection, intake_id: int, source: str) -> None:
    """Keep where an intake's file comes from in the end."""
    connection.run("UPDATE intake SET source = %s WHERE id = %s", (source, intake_id))


def get_intake(connection: Connection, intake_id: int) -> Intake | None:
    """Find an intake."""
    row = connection.row(f"SELECT {_COLUMNS} FROM intake WHERE id = %s", (intake_id,))  # noqa: S608
    return only_seen(connection.sight, _intake(row) if row else None)


def lock_intake(connection: Connection, intake_id: int) -> int:
    """Keep everybody else from adding steps until the transaction ends, and return the number of
    steps now.
    """
    row = connection.row("SELECT steps FROM intake WHERE id = %s FOR UPDATE", (intake_id,))
    return int(row[0]) if row else 0


def list_intakes(
    connection: Connection,
    rosters: Collection[int],
    *,
    start: int = 0,
    limit: int = 100_000,
    text: str = "",
    is_open: bool = False,
    thrown: bool = False,
) -> list[Intake]:
    """List the intakes of files, the last first; what was edited by hand stands in the roster's
    history.

    Args:
        connection: Inside a transaction.
        rosters: Of which rosters, by number.
        start: How many to pass over.
        limit: How many at most.
        text: Only those whose title, file name or source has all of these words.
        is_open: Only those with something that is not settled.
        thrown: Those that were thrown away, in place of the others.
    """
    where, values = _conditions(connection, rosters, text, thrown)
    rows = connection.rows(
        f"SELECT {_COLUMNS}"  # noqa: S608
        " FROM intake"
        f" WHERE {where}{f' AND {_IS_OPEN}' if is_open else ''}"
        " ORDER BY id DESC"
        " LIMIT %s OFFSET %s",
        (*values, limit, start),
    )
    return [_intake(row) for row in rows]


def count_intakes(connection: Connection, rosters: Collection[int], *, thrown: bool = False) -> int:
    """Count the intakes that `list_intakes` lists."""
    where, values = _conditions(connection, rosters, "", thrown)
    row = connection.row(f"SELECT COUNT(*) FROM intake WHERE {where}", values)  # noqa: S608
    return int(row[0]) if row else 0


def _conditions(
    connection: Connection, rosters: Collection[int], text: str, thrown: bool
) -> tuple[str, tuple[Any, ...]]:
    words = text.split()
    seen, parts = connection.sight.where("roster_id", "part_id")
    some = ", ".join(["%s"] * len(rosters)) or "NULL"
    where = (
        f"kind <> 'hand' AND thrown_at IS {'NOT ' if thrown else ''}NULL AND roster_id IN ({some})"
        f" AND {seen}"
    )
    where += " AND LOCATE(%s, CONCAT_WS(' ', title, file_name, source)) > 0" * len(words)
    return where, (*rosters, *parts, *words)


def set_thrown(
    connection: Connection, intake_id: int, at: datetime | None, account_id: int | None
) -> None:
    """Throw an intake away, or (with no time) take it back."""
    connection.run(
        "UPDATE intake SET thrown_at = %s, thrown_by = %s WHERE id = %s",
        (at, account_id, intake_id),
    )


def set_due(connection: Connection, intake_id: int, day: date | None) -> None:
    """Keep by which day an intake is due; None for none."""
    connection.run("UPDATE intake SET due = %s WHERE id = %s", (day, intake_id))


def list_last_hands(connection: Connection, intakes: Collection[int]) -> dict[int, tuple[int, str]]:
    """Find who made the last step of intakes, account and name, by intake; those without a step
    are left away.
    """
    if not intakes:
        return {}
    some = ", ".join(["%s"] * len(intakes))
    rows = connection.rows(
        "SELECT s.intake_id, a.id, a.name"  # noqa: S608
        " FROM intake_step s"
        " JOIN intake i ON i.id = s.intake_id AND i.steps = s.number"
        " JOIN account a ON a.id = s.account_id"
        f" WHERE s.intake_id IN ({some})",
        tuple(intakes),
    )
    return {int(intake): (int(account), str(name)) for intake, account, name in rows}


def list_applied(
    connection: Connection, intakes: Collection[int]
) -> dict[int, tuple[int | None, bool]]:
    """Find what intakes were applied as: the last change set that stands, and whether any was
    taken back; others left away.
    """
    if not intakes:
        return {}
    some = ", ".join(["%s"] * len(intakes))
    rows = connection.rows(
        "SELECT c.intake_id, MAX(IF(u.id IS NULL, c.id, NULL)), MAX(u.id IS NOT NULL)"  # noqa: S608
        " FROM change_set c"
        " LEFT JOIN change_set u ON u.undoes = c.id"
        f" WHERE c.intake_id IN ({some})"
        " GROUP BY c.intake_id",
        tuple(intakes),
    )
    return {
        number: (int(standing) if standing else None, bool(back)) for number, standing, back in rows
    }


def list_intakes_of(connection: Connection, mark: str) -> list[Intake]:
    """List the intakes of a file by the beginning of its hash in hexadecimal: those not applied
    first, the last first.
    """
    rows = connection.rows(
        f"SELECT {_COLUMNS}"  # noqa: S608
        " FROM intake"
        " WHERE LEFT(HEX(file_hash), %s) = %s"
        " ORDER BY EXISTS (SELECT 1 FROM change_set c WHERE c.intake_id = intake.id), id DESC",
        (len(mark), mark.upper()),
    )
    seen = connection.sight.shows
    return [intake for intake in map(_intake, rows) if seen(intake.roster_id, intake.part_id)]


def get_pulse(connection: Connection, intake_id: int) -> tuple[int, int]:
    """Return how many steps an intake has, and its roster's version: what tells that something
    is new.
    """
    row = connection.row(
        "SELECT i.steps, r.version"
        " FROM intake i"
        " JOIN roster r ON r.id = i.roster_id"
        " WHERE i.id = %s",
        (intake_id,),
    )
    return (int(row[0]), int(row[1])) if row else (0, 0)


def insert_step(
    connection: Connection,
    intake_id: int,
    number: int,
    step: dict[str, Any],
    account_id: int | None,
    at: datetime,
) -> None:
    """Add a step."""
    connection.run(
        "INSERT INTO intake_step (intake_id, number, step, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s)",
        (intake_id, number, json.dumps(step, ensure_ascii=False), account_id, at),
    )
    connection.run("UPDATE intake SET steps = %s WHERE id = %s", (number, intake_id))


def list_steps(connection: Connection, intake_id: int) -> list[StepRow]:
    """List an intake's steps in their order."""
    rows = connection.rows(
        "SELECT s.number, s.step, COALESCE(a.name, ''), s.at, s.account_id"
        " FROM intake_step s"
        " LEFT JOIN account a ON a.id = s.account_id"
        " WHERE s.intake_id = %s"
        " ORDER BY s.number",
        (intake_id,),
    )
    return [
        StepRow(number, json.loads(step), name, at, account)
        for number, step, name, at, account in rows
    ]


def set_tally(connection: Connection, intake_id: int, tally: dict[str, int]) -> None:
    """Keep the tally as last worked out, for lists."""
    connection.run("UPDATE intake SET tally = %s WHERE id = %s", (json.dumps(tally), intake_id))


def get_outcome(
    connection: Connection, intake_id: int, line: int
) -> tuple[int, str, int | None, str] | None:
    """Find where a line ended up when its intake was applied: change set, outcome, record, message.

    Of several applies the one in which it went in counts, else the last; what was taken back does
    not count.
    """
    return connection.row(
        "SELECT r.change_set_id, r.outcome, r.record_id, r.message"
        " FROM intake_row r"
        " JOIN change_set c ON c.id = r.change_set_id"
        " WHERE c.intake_id = %s AND r.line = %s"
        " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)"
        " ORDER BY r.outcome IN ('new', 'changed') DESC, c.id DESC"
        " LIMIT 1",
        (intake_id, line),
    )


def list_outcomes(
    connection: Connection, change_set_id: int, outcome: str
) -> list[tuple[int, int | None, str]]:
    """List the lines with an outcome when a change set was applied: line, record, message."""
    return connection.rows(
        "SELECT line, record_id, message"
        " FROM intake_row"
        " WHERE change_set_id = %s AND outcome = %s"
        " ORDER BY line",
        (change_set_id, outcome),
    )


def _intake(row: tuple[Any, ...]) -> Intake:
    values = list(row)
    values[4] = bytes(values[4])
    values[8] = json.loads(values[8]) if values[8] else None
    return Intake(*values)
