"""Erase one person: their values go from records, versions, files, rows and search; that there was
somebody stays, so that what was counted stays true, with who asked for it and why.

What the database keeps of it in free pages and logs goes when its files are written anew, at the
next start (`run.renewing`). Copies made before hold it until they are deleted by their time, and
the trail, which is sealed, for as long as it is kept: both are said.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.cards.reading import read_design
from nevefield.core.columns.pairing import known_headings
from nevefield.core.erasing import telling_of
from nevefield.core.errors import CoreError
from nevefield.core.states import JobKind
from nevefield.core.steps import decide, read_step
from nevefield.intakes.evaluating import open_intake
from nevefield.keeping.errors import Erased, HeldBack, WrongErasure
from nevefield.rosters.errors import NoSuchRecord
from nevefield.rosters.snapshots import load_definition
from nevefield.rosters.writing import alter_roster
from nevefield.store import erasing as store
from nevefield.store import erasures as erasure_store
from nevefield.store import intakes as intake_store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.cards import keep_gone, list_designs
from nevefield.store.copies import list_made
from nevefield.store.erasures import Erasure
from nevefield.store.records import NewChangeSet
from nevefield.store.writing import Write

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.core.erasing import Telling
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "Erasure",
    "Rewritten",
    "erase",
    "erase_queued",
    "hold_back",
    "how_erased",
    "list_erased",
    "queue_erasure",
    "release",
]

SHORTEST = 4  # characters of a reason
TRIES = 5  # while others write what it read
MOST_COPIES = 10_000


@dataclass(frozen=True)
class Rewritten:
    """A file without somebody's rows."""

    file: store.FileOf
    content: bytes
    rows: int


def queue_erasure(
    context: Context, record_id: int, asked_by: str, reason: str, account_id: int
) -> int:
    """Queue that a person is erased: all files of the roster are looked through, which takes its
    time. One job is enough.

    Returns:
        The job's number.

    Raises:
        NoSuchRecord, Erased, HeldBack, WrongErasure: As `erase`.
    """
    asked_by, reason = _words(asked_by, reason)
    with context.database.transaction() as connection:
        roster_id = record_store.get_record_roster(connection, record_id)
        if roster_id is None or roster_store.get_roster_by_id(connection, roster_id) is None:
            raise NoSuchRecord(record_id)
        roster_store.lock_roster(connection, roster_id)  # of two that ask, the second finds it
        _refuse(connection, record_id)
        for job in job_store.list_running(connection, JobKind.ERASE):
            if job.arguments["record"] == record_id:
                return job.id
        arguments = {"record": record_id, "asked_by": asked_by, "reason": reason}
        return job_store.insert_job(
            connection, JobKind.ERASE, roster_id, arguments, account_id, context.now()
        )


def erase_queued(
    context: Context,
    arguments: dict[str, Any],
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> dict[str, Any]:
    """Erase whom a job says; one that was done before its worker went away is found to be done.

    Raises:
        NoSuchRecord, HeldBack, WrongErasure: As `erase`.
    """
    record_id = arguments["record"]
    try:
        said = (arguments["asked_by"], arguments["reason"])
        return {"counts": erase(context, record_id, *said, account_id, progress)}
    except Erased:
        erasure, _ = how_erased(context, record_id)
        return {"counts": erasure.counts if erasure else {}}


def _words(asked_by: str, reason: str) -> tuple[str, str]:
    """Read who asked and why.

    Raises:
        WrongErasure: Nobody did, or nothing says why.
    """
    asked_by, reason = " ".join(asked_by.split())[:120], " ".join(reason.split())[:500]
    if len(asked_by) < 2 or len(reason) < SHORTEST:
        raise WrongErasure("Say who asked for it, and why: that is all that stays of it.")
    return asked_by, reason


def erase(
    context: Context,
    record_id: int,
    asked_by: str,
    reason: str,
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> dict[str, int]:
    """Erase a person.

    Args:
        context: As seen by who does it, who administers the roster.
        record_id: Their record.
        asked_by: Who asked for it, in words.
        reason: Why.
        account_id: Who does it.
        progress: Hears what is done, how much of it, and of how much.

    Returns:
        What was taken out of where.

    Raises:
        NoSuchRecord: There is none.
        Erased: They were erased before.
        HeldBack: Their data must stay.
        WrongErasure: Nobody asked, nothing says why, or others wrote all the while.
    """
    said = _words(asked_by, reason)
    for _ in range(TRIES):
        progress("finding where they stand", 0, 1)
        traces = _trace(context, record_id)
        # files are read with no transaction open: that takes long
        rewritten, failed = _rewrite(context, traces, progress)
        progress("taking them out", 1, 1)
        try:
            return _write(context, traces, rewritten, failed, said, account_id)
        except _Moved:
            continue
    raise WrongErasure(
        "Files came in, or others were erased, all the while, so nothing was erased. Do it again"
        " when less goes on."
    )


class _Moved(Exception):
    """What was read is not what stands there now; nothing was written."""


def _write(
    context: Context,
    traces: _Traces,
    rewritten: list[Rewritten],
    failed: int,
    said: tuple[str, str],
    account_id: int | None,
) -> dict[str, int]:
    """Write it all at once.

    Raises:
        _Moved: A file came, or was written anew, since the traces were found.
    """
    record_id, roster, (asked_by, reason) = traces.record_id, traces.roster, said
    with context.database.transaction() as connection:
        # first of all: whoever brings a file in waits for it too
        now = roster_store.lock_roster(connection, roster.id)
        if store.list_files(connection, roster.id) != traces.files:
            raise _Moved
        _refuse(connection, record_id)
        if record_store.list_contents(connection, roster.id, [record_id]):
            alter_roster(
                connection,
                roster,
                [Write(record_id, None)],
                NewChangeSet("erase", f"Erased: record {record_id}", account_id, context.now()),
                seen=now,
                approved=True,
            )
        counts = _take_out(connection, traces)
        if not all(store.put_file(connection, one.file, one.content) for one in rewritten):
            raise _Moved
        counts |= {
            "files": len(rewritten),
            "rows": sum(one.rows for one in rewritten),
            "files not read": failed,
        }
        counts = {name: count for name, count in counts.items() if count}
        new = erasure_store.NewErasure(
            roster.id, record_id, asked_by, reason, counts, account_id, context.now()
        )
        erasure_store.insert_erasure(connection, new)
        insert_audit(
            connection,
            "erased",
            f"{roster.name} record {record_id}",
            account_id,
            context.now(),
            asked_by=asked_by,
            reason=reason,
        )
    return counts


@dataclass(frozen=True)
class _Traces:
    """Where somebody stands."""

    record_id: int
    roster: Roster
    definition: Definition
    telling: Telling
    lines: dict[int, set[int]]  # of files, by intake
    files: list[store.FileOf]


def _trace(context: Context, record_id: int) -> _Traces:
    """Find where somebody stands.

    Raises:
        NoSuchRecord, Erased, HeldBack: There is nothing to erase, or it must stay.
    """
    with context.database.transaction() as connection:
        roster_id = record_store.get_record_roster(connection, record_id)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        if roster is None:
            raise NoSuchRecord(record_id)
        _refuse(connection, record_id)
        definition = load_definition(connection, roster)
        telling = _telling(connection, definition, record_id)
        lines = store.list_lines(connection, record_id)
        files = store.list_files(connection, roster.id)
        unapplied = store.list_unapplied(connection, roster.id)
    for intake in unapplied:
        lines.setdefault(intake, set()).update(_lines_known(context, intake, record_id))
    return _Traces(record_id, roster, definition, telling, lines, files)


def _take_out(connection: Connection, traces: _Traces) -> dict[str, int]:
    """Take somebody's values out of every table; return from where how much."""
    record_id = traces.record_id
    # what others wrote meanwhile is found again
    telling = _telling(connection, traces.definition, record_id)
    for row in list_designs(connection):
        if row.register_id == traces.roster.id:
            register = read_design(row.document).register_
            keep_gone(connection, row.register_id, record_id, register.number, register.facility)
    counts = store.erase_record(connection, traces.roster.id, record_id, telling)
    counts["steps"] = sum(
        store.scrub_steps(connection, intake, traces.lines.get(intake, set()), telling)
        for file in traces.files
        for intake in file.intakes
    )
    counts |= store.scrub_words(connection, record_id, telling)
    made = list_made(connection, MOST_COPIES)
    return counts | {"copies before": sum(one.state == "good" for one in made)}


def _refuse(connection: Connection, record_id: int) -> None:
    if erasure_store.get_erasure(connection, record_id) is not None:
        raise Erased
    if (held := erasure_store.find_held(connection, record_id)) is not None:
        raise HeldBack(held[0], held[1])


def _telling(connection: Connection, definition: Definition, record_id: int) -> Telling:
    life = record_store.list_life(connection, record_id)
    return telling_of(definition, [json.loads(version.content) for version, _, _, _ in life])


def _lines_known(context: Context, intake_id: int, record_id: int) -> set[int]:
    """Find the lines of an intake that nobody applied which are known to be somebody's: by a
    number that lost its zeros, or by likeness.
    """
    try:
        evaluation = open_intake(context.whole(), intake_id).evaluation
    except CoreError:
        return set()
    place = evaluation.snapshot.places().get(record_id)
    if place is None:
        return set()
    rows = np.flatnonzero(evaluation.known.record == place)
    return {int(line) for line in evaluation.table.lines[rows]}


def _rewrite(
    context: Context, traces: _Traces, progress: Callable[[str, int, int], None]
) -> tuple[list[Rewritten], int]:
    """Write the files anew in which somebody has rows; count those that cannot be read."""
    known, telling = known_headings(traces.definition), traces.telling
    rewritten, failed = [], 0
    for place, file in enumerate(traces.files):
        progress("looking through files", place, len(traces.files))
        with context.database.transaction() as connection:
            content, is_kept = intake_store.get_file(connection, file.file_hash)
            steps = intake_store.list_steps(connection, file.intakes[0])
        choice = decide([read_step(step.step) for step in steps]).reading
        theirs = frozenset(line for intake in file.intakes for line in traces.lines.get(intake, ()))
        if not theirs and not telling.may_be_in(content):
            continue
        try:
            found = context.readers.keep_without_people(
                content, choice, known, theirs, telling, is_kept=is_kept
            )
        except CoreError:
            failed += 1
            continue
        if found is not None:
            rewritten.append(Rewritten(file, *found))
    return rewritten, failed


def hold_back(context: Context, record_id: int, reason: str, account_id: int) -> None:
    """Keep somebody's data from being erased.

    Raises:
        NoSuchRecord: There is none.
        Erased: They were erased already.
        WrongErasure: Nothing says why.
    """
    reason = " ".join(reason.split())[:500]
    if len(reason) < SHORTEST:
        raise WrongErasure("Say why it must stay: who wants to erase it will read it.")
    _keep(context, record_id, reason, "held-back", account_id)


def release(context: Context, record_id: int, account_id: int) -> None:
    """Let somebody's data be erased again.

    Raises:
        NoSuchRecord: There is none.
    """
    _keep(context, record_id, None, "released", account_id)


def _keep(context: Context, record_id: int, reason: str | None, act: str, account_id: int) -> None:
    with context.database.transaction() as connection:
        roster_id = record_store.get_record_roster(connection, record_id)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        if roster is None:
            raise NoSuchRecord(record_id)
        if erasure_store.get_erasure(connection, record_id) is not None:
            raise Erased
        erasure_store.keep_record(connection, record_id, reason, account_id, context.now())
        insert_audit(
            connection,
            act,
            f"{roster.name} record {record_id}",
            account_id,
            context.now(),
            **({"reason": reason} if reason else {}),
        )


def how_erased(context: Context, record_id: int) -> tuple[Erasure | None, tuple[str, str] | None]:
    """Tell whether somebody was erased, and why their data must stay and who says so."""
    with context.database.transaction() as connection:
        held = erasure_store.find_held(connection, record_id)
        erasure = erasure_store.get_erasure(connection, record_id)
        return erasure, (held[0], held[1]) if held else None


def list_erased(context: Context) -> tuple[list[Erasure], int]:
    """List who was erased, the last first, and give the number of the last one before the
    database's files were written anew.
    """
    with context.database.transaction() as connection:
        return erasure_store.list_erasures(connection), erasure_store.last_renewed(connection)
