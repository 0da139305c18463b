"""Open an intake: its file and steps, and the evaluation that follows from them, kept in memory."""

from __future__ import annotations

import json
import threading
from contextlib import nullcontext
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

from nevefield.core.columns.days import say_day
from nevefield.core.columns.pairing import known_headings
from nevefield.core.evaluate import Evaluation, Inputs, evaluate, quiet
from nevefield.core.inputs import Remembered
from nevefield.core.masking import cover_evaluation, keep_apart, sensitive_fields
from nevefield.core.stages import TOTAL
from nevefield.core.steps import decide, read_step, refuse_unknown
from nevefield.intakes.errors import FileGone, NoSuchIntake
from nevefield.intakes.sources import source_of
from nevefield.rosters.snapshots import (
    Cache,
    load_codes,
    load_definition,
    load_others,
    load_snapshot,
    name_of,
    unnamed_of,
)
from nevefield.store import intakes as store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.parts import get_part
from nevefield.store.said import list_said
from nevefield.store.waivers import list_standing
from nevefield.timing import EVALUATIONS

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence
    from datetime import date, datetime

    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.edits.memo import Memo
    from nevefield.core.evaluate import Progress
    from nevefield.core.inputs import Standing
    from nevefield.core.reading import Reading, ReadingChoice
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.steps import Step
    from nevefield.core.table import Table
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.waivers import WaiverRow

__all__ = [
    "Opened",
    "evaluate_at",
    "open_intake",
    "placed_by_hand",
    "read_stored",
    "what_if",
    "within",
]

_EVALUATIONS = Cache(12)
_READINGS = Cache(6)
_MEMOS = Cache(6)  # of each intake, the memo of its last evaluation
_BUSY: dict[Any, threading.Lock] = {}
_BUSY_GUARD = threading.Lock()

# An intake, its roster, its steps.
_Found = tuple["store.Intake", "Roster", list["store.StepRow"]]


class ReadAgain(Exception):
    """The reading of a file was known when its inputs were gathered, and is not any more."""


@dataclass(frozen=True)
class Opened:
    """An intake with everything that follows from it."""

    intake: store.Intake
    roster: Roster
    steps: list[store.StepRow]
    evaluation: Evaluation
    said: Remembered = field(default_factory=dict)  # what was said in other intakes of who is who
    # fields of which the values are kept from whoever it was opened for
    covered: frozenset[str] = frozenset()


def open_intake(context: Context, intake_id: int, progress: Progress = quiet) -> Opened:
    """Open an intake as it stands, as whoever the context is for may see it.

    Args:
        context: Database and clock.
        intake_id: The intake.
        progress: Hears how far it is, see `evaluate`.

    Raises:
        NoSuchIntake: There is none.
        UnreadableFile: A choice about the reading cannot be followed.
    """
    try:
        return _open(context, intake_id, progress)
    except ReadAgain:
        return _open(context, intake_id, progress, anew=True)


def evaluate_at(context: Context, intake_id: int, version: int) -> Evaluation:
    """Evaluate an intake as it stands on its roster as that was at an earlier version, with what
    was known then.

    What is by hand, what was said of who is who and which waivers count is all as of that version;
    codes, the definition and other rosters are those of now.

    Raises:
        NoSuchIntake: There is none.
    """
    try:
        return _at(context, intake_id, version)
    except ReadAgain:
        return _at(context, intake_id, version, anew=True)


def _at(context: Context, intake_id: int, version: int, *, anew: bool = False) -> Evaluation:
    with context.whole().database.transaction() as connection:
        found = _find(connection, intake_id)
        roster = found[1]
        as_of = record_store.get_as_of(connection, roster.id, version)
        told = tuple(list_said(connection, roster.id, as_of.until))
        inputs = _gather(context, within(connection, found[0]), found, told, as_of, anew=anew)
    return _work_out(context, inputs, quiet)


def within(connection: Connection, intake: store.Intake) -> Connection:
    """Give the connection by which an intake is worked out: for the product's own eyes, within the
    part of the roster that its file is for.
    """
    part = get_part(connection, intake.part_id)
    return connection.seeing({} if part is None else {intake.roster_id: part})


def _find(connection: Connection, intake_id: int) -> _Found:
    intake = store.get_intake(connection, intake_id)
    roster = roster_store.get_roster_by_id(connection, intake.roster_id) if intake else None
    if intake is None or roster is None:
        raise NoSuchIntake(intake_id)
    return intake, roster, store.list_steps(connection, intake_id)


def _open(context: Context, intake_id: int, progress: Progress, *, anew: bool = False) -> Opened:
    with context.database.transaction() as connection:
        found = _find(connection, intake_id)
        intake, roster, steps = found
        told = tuple(list_said(connection, roster.id))
        # It is worked out of everything within the part that the file is for, whoever asks, and
        # then covered: who is who, and what is wrong, is the same for all.
        as_of = record_store.AsOf(roster.version)
        inputs = _gather(context, within(connection, intake), found, told, as_of, anew=anew)
        unnamed = unnamed_of(connection, inputs.definition)
        covered = (
            sensitive_fields(inputs.definition)
            if connection.sight.covers(roster.id)
            else frozenset()
        )
    # What takes long is worked out of what was read, with no transaction open.
    evaluation = _work_out(context, inputs, progress)
    held = evaluation.absences.counts()["hold"]
    tally = evaluation.tally.to_json() | {"absent_held": held, "ready": evaluation.altering}
    tally |= _work_of(evaluation)
    if intake.tally != tally:
        with context.database.transaction() as connection:
            store.set_tally(connection, intake_id, tally)
    if unnamed:
        evaluation = keep_apart(evaluation, unnamed)
    if covered:
        evaluation = cover_evaluation(evaluation)
    return Opened(intake, roster, steps, evaluation, _by_likeness(told), covered)


def _work_of(evaluation: Evaluation) -> dict[str, int]:
    """Count what stops rows: how many causes, and how many rows the largest one has."""
    stops = [
        len(cause.open_rows)
        for cause in evaluation.causes
        if cause.is_open and not cause.follows and cause.hit.weight == "stop"
    ]
    return {"causes": len(stops), "largest": max(stops, default=0)}


def what_if(context: Context, intake_id: int, document: Any) -> Evaluation:
    """Work out what an intake would come to after one more step, which is not kept.

    Raises:
        NoSuchIntake: There is none.
        WrongStep: The step is none, or names a field that is not there.
    """
    step = read_step(document)
    opened = open_intake(context, intake_id)
    before = opened.evaluation
    refuse_unknown(step, before.definition)
    with context.database.transaction() as connection:
        codes = load_codes(connection)
    evaluation = evaluate(
        Inputs(
            b"",
            [*(read_step(step.step) for step in opened.steps), step],
            before.definition,
            codes,
            before.snapshot,
            context.today(),
            coverage=opened.intake.coverage,
            read=(before.table, before.reading),
            others=before.facts.others,
            said=opened.said,
            by_hand=before.facts.by_hand,
            placed_by_hand=before.facts.placed_by_hand,
            standing=before.facts.standing,
        ),
        before=before.memo,
    )
    return replace(evaluation, facts=replace(evaluation.facts, unnamed=before.facts.unnamed))


def _by_hand(
    connection: Connection,
    intake: store.Intake,
    roster: Roster,
    steps: list[store.StepRow],
    version: int,
) -> dict[str, dict[int, str]]:
    """List what somebody set by hand since the source's last file was applied, and what still
    stands of it.
    """
    if intake.kind != "file":
        return {}
    name = source_of(decide([read_step(row.step) for row in steps]), intake)
    since = record_store.get_last_of(connection, roster.id, name, intake.id, version)
    return _set_by_hand(connection, roster, since, version)


def placed_by_hand(
    connection: Connection, roster: Roster, definition: Definition, version: int | None = None
) -> dict[str, frozenset[int]]:
    """List by field of the placement rules the records, by number, whose value somebody set by
    hand at any time to a version.
    """
    fields = {rule.field for rule in definition.placement}
    found = (
        _set_by_hand(connection, roster, 0, roster.version if version is None else version)
        if fields
        else {}
    )
    return {name: frozenset(of) for name, of in found.items() if name in fields}


def _set_by_hand(
    connection: Connection, roster: Roster, since: int, version: int
) -> dict[str, dict[int, str]]:
    found: dict[str, dict[int, str]] = {}
    for number, after, before, today, by, at in record_store.list_by_hand(
        connection, roster.id, since, version
    ):
        new, old, now = json.loads(after), json.loads(before or "{}"), json.loads(today)
        for name in new.keys() | old.keys():
            if new.get(name) != old.get(name) and now.get(name) == new.get(name):
                found.setdefault(name, {})[number] = f"by {by or 'somebody'} on {at:%Y-%m-%d}"
    return found


def _by_likeness(told: Sequence[tuple[bytes, int, bool]]) -> dict[bytes, dict[int, bool]]:
    """Order what was said in a roster's intakes of who is who by what the rows said of their
    person.
    """
    by_likeness: dict[bytes, dict[int, bool]] = {}
    for likeness, record, same in told:
        by_likeness.setdefault(likeness, {})[record] = same
    return by_likeness


def read_stored(
    context: Context,
    content: bytes,
    held_secrets: bool,
    choice: ReadingChoice,
    known: frozenset[str],
) -> tuple[Table, Reading]:
    """Read what is kept of a file: the file itself, or its rows without the secrets.

    Raises:
        UnreadableFile: The choice cannot be followed.
    """
    return context.readers.read(content, choice, known, is_kept=held_secrets)


@dataclass(frozen=True)
class _Inputs:
    """All that an evaluation is made of, read in one transaction."""

    key: tuple[Any, ...]  # of the evaluation, in the cache
    reading_key: tuple[Any, ...]
    intake: store.Intake
    steps: list[Step]
    choice: ReadingChoice
    content: tuple[bytes, bool] | None  # of the file; None where its reading is known
    definition: Definition
    codes: Mapping[str, CodeList]
    snapshot: Snapshot
    others: Mapping[str, Snapshot]
    today: date
    said: Remembered
    by_hand: Mapping[str, Mapping[int, str]]
    placed: Mapping[str, frozenset[int]]
    standing: Standing

    @property
    def place(self) -> tuple[Any, int]:
        """The intake, among all databases."""
        return self.key[0], self.intake.id


def _gather(
    context: Context,
    connection: Connection,
    found: _Found,
    told: tuple[tuple[bytes, int, bool], ...],
    as_of: record_store.AsOf,
    *,
    anew: bool = False,  # bring the file itself, though its reading is known
) -> _Inputs:
    intake, roster, steps = found
    if (gone := store.gone_at(connection, intake.file_hash)) is not None:
        raise FileGone(context.day_of(gone))
    versions = roster_store.get_code_versions(connection)
    today = context.today()
    database = name_of(connection)
    definition = load_definition(connection, roster)
    others = load_others(connection, definition)
    others_at = tuple((name, snapshot.version) for name, snapshot in others.items())
    by_hand = _by_hand(connection, intake, roster, steps, as_of.version)
    hands = tuple((name, *one) for name, of in by_hand.items() for one in of.items())
    placed = placed_by_hand(connection, roster, definition, as_of.version)
    set_by_hand = (hands, tuple(placed.items()))
    parsed = [read_step(step.step) for step in steps]
    choice = decide(parsed).reading
    reading_key = (
        database,
        intake.file_hash,
        choice,
        roster.definition,
        roster.id,
        roster.erased,
    )
    waivers = list_standing(connection, roster.id, today, as_of)
    at = (
        as_of.version,
        roster.definition,
        roster.erased,
        versions,
        today,
        others_at,
        tuple(waiver.id for waiver in waivers),
    )
    key = (database, intake.id, len(steps), *at, told, set_by_hand)
    is_known = not anew and (_READINGS.has(reading_key) or _EVALUATIONS.has(key))
    return _Inputs(
        key,
        reading_key,
        intake,
        parsed,
        choice,
        None if is_known else store.get_file(connection, intake.file_hash),
        definition,
        load_codes(connection, versions),
        load_snapshot(connection, roster, as_of.version),
        others,
        today,
        _by_likeness(told),
        by_hand,
        placed,
        _standing_of(waivers, context.day_of),
    )


def _standing_of(waivers: Sequence[WaiverRow], day_of: Callable[[datetime], date]) -> Standing:
    """Order the waivers that stand by what they count for; the later over the earlier."""
    found: Standing = {}
    for waiver in waivers:
        day, by = say_day(day_of(waiver.at)), waiver.by or "somebody"
        message = f"Approved on {day} by {by}: {waiver.reason}"
        found.setdefault((waiver.check, waiver.field), {}).setdefault(waiver.record_id, {})[
            waiver.digest
        ] = message
    return found


def _work_out(context: Context, inputs: _Inputs, progress: Progress) -> Evaluation:
    with _BUSY_GUARD:
        lock = _BUSY.setdefault(inputs.place, threading.Lock())
    with lock:  # two requests at once work it out once

        def make() -> Evaluation:
            progress("Reading the file", 0, TOTAL)
            read: tuple[Table, Reading] = _READINGS.get(
                inputs.reading_key, lambda: _read(context, inputs)
            )
            last: list[Memo] = _MEMOS.get(inputs.place, list)
            evaluation = evaluate(
                Inputs(
                    b"",
                    inputs.steps,
                    inputs.definition,
                    inputs.codes,
                    inputs.snapshot,
                    inputs.today,
                    coverage=inputs.intake.coverage,
                    read=read,
                    others=inputs.others,
                    said=inputs.said,
                    by_hand=inputs.by_hand,
                    placed_by_hand=inputs.placed,
                    standing=inputs.standing,
                ),
                before=last[0] if last else None,
                progress=progress,
            )
            last[:] = [evaluation.memo]
            return evaluation

        with EVALUATIONS.time() if not _EVALUATIONS.has(inputs.key) else nullcontext():
            found: Evaluation = _EVALUATIONS.get(inputs.key, make)
        return found


def _read(context: Context, inputs: _Inputs) -> tuple[Table, Reading]:
    if inputs.content is None:  # it went from the cache since
        raise ReadAgain
    return read_stored(context, *inputs.content, inputs.choice, known_headings(inputs.definition))
