"""Alter one record by hand: the same reading, checks, approval, receipt and undo as for a file
of one row.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.causes import WHOLE, iter_findings
from nevefield.core.checking.whole import OfFile
from nevefield.core.columns.pairing import known_headings
from nevefield.core.columns.titles import name_openly
from nevefield.core.errors import WrongStep
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.reading import read_file
from nevefield.core.steps import read_step, refuse_reason, refuse_unknown
from nevefield.core.tally import CHANGED, SAME, WAITING
from nevefield.core.texts import near
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.errors import NothingToApply, WrongEdit
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.fitting import raised_by
from nevefield.proposals.approving import propose_intake
from nevefield.proposals.changing import first_steps
from nevefield.proposals.scheduling import require_ahead, schedule_intake
from nevefield.rosters.errors import NoSuchRecord
from nevefield.rosters.snapshots import load_codes, load_definition, load_others, load_snapshot
from nevefield.store import intakes as store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.again import do_again

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.evaluate import Evaluation
    from nevefield.store.rosters import Roster

__all__ = ["Edit", "Edited", "edit_record"]

LINE = 1  # of the only row
ALONE = "one record, changed by hand"  # why guards of whole files are let be


@dataclass(frozen=True)
class Edited:
    """What became of an edit: done as a change set, proposed for a second person, or put off to
    its day.
    """

    intake: int
    change_set: int | None
    proposal: int | None
    scheduled: int | None = None


@dataclass(frozen=True)
class Edit:
    """Values that somebody typed into a record."""

    record: int  # by number
    # by field the text as somebody typed it; "" empties it, several values stand with their
    # separator between
    values: Mapping[str, str]
    reason: str = ""  # for what a check asks about
    until: date | None = None  # the last day of a privilege that is gained by it; None for good
    day: date | None = None  # from which it is to hold; None for at once


@dataclass(frozen=True)
class _Worked:
    """An edit as it was worked out, before anything is kept."""

    roster: Roster
    title: str
    data: bytes  # the row
    steps: list[dict[str, Any]]
    evaluation: Evaluation


def edit_record(
    context: Context, edit: Edit, account_id: int | None, *, may_apply: bool = True
) -> Edited:
    """Set fields of one record.

    Args:
        context: Database and clock.
        edit: Of which record, and to what.
        account_id: Who.
        may_apply: Whether who edits may also apply; otherwise it is proposed.

    Returns:
        What became of it. Nothing is kept of an edit that stops or waits.

    Raises:
        NoSuchRecord: There is none, or it has left the roster.
        WrongStep: There is no such field.
        WrongEdit: A check stops it, or asks and no reason was given.
        NothingToApply: The record says so already.
        NotAhead: The day is today or over.
    """
    if edit.day is not None:
        require_ahead(context, edit.day)
    worked = _work_out(context, edit)
    number = _keep(context, worked, account_id)
    steps, roster = len(worked.steps), worked.roster
    why = worked.evaluation.definition.approval.why(1, raised_by(worked.evaluation))
    if why or not may_apply:
        opened = open_intake(context, number)
        version = opened.roster.version
        proposal = propose_intake(
            context, number, len(opened.steps), version, account_id, day=edit.day
        )
        return Edited(number, None, proposal)
    if edit.day is not None:
        scheduled = schedule_intake(context, number, steps, roster.version, edit.day, account_id)
        return Edited(number, None, None, scheduled)
    # It is kept, so the request as a whole is not done again: what applies it is.
    change_set = do_again(lambda: apply_intake(context, number, steps, roster.version, account_id))
    return Edited(number, change_set, None)


def _work_out(context: Context, edit: Edit) -> _Worked:
    """Evaluate the record's row with what was typed, and refuse what cannot go in."""
    with context.database.transaction() as connection:
        roster_id = record_store.get_record_roster(connection, edit.record)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        if roster is None:
            raise NoSuchRecord(edit.record)
        definition, codes = load_definition(connection, roster), load_codes(connection)
        snapshot, others = load_snapshot(connection, roster), load_others(connection, definition)
    places = (snapshot.ids == edit.record).nonzero()[0]
    if not len(places):
        raise NoSuchRecord(edit.record)
    for name in edit.values:
        if name not in definition.by_name:
            raise WrongStep(
                f"There is no field “{name}” in {definition.title};"
                f" {near(name, definition.by_name)}"
            )
    had = snapshot.values(int(places[0]))
    row = {name: str(had.get(name, "")) for name in definition.primary_key} | dict(edit.values)
    data = (json.dumps(row, ensure_ascii=False) + "\n").encode()
    read = read_file(data, known=known_headings(definition))
    documents = first_steps(snapshot, [int(places[0])], list(edit.values))

    def evaluate_steps() -> Evaluation:
        steps = [read_step(document) for document in documents]
        return evaluate(
            Inputs(
                data, steps, definition, codes, snapshot, context.today(), read=read, others=others
            )
        )

    documents += _waivers(evaluate_steps(), edit.reason.strip(), edit.until)
    for document in documents:
        refuse_reason(read_step(document), definition, codes, context.today())
    evaluation = evaluate_steps()
    _refuse(evaluation)
    for document in documents:
        refuse_unknown(read_step(document), definition)
    title = f"By hand: {name_openly(definition, had.get)}"[:200]
    return _Worked(roster, title, data, documents, evaluation)


def _keep(context: Context, worked: _Worked, account_id: int | None) -> int:
    """Keep an edit as an intake, and return its number."""
    digest = hashlib.sha256(worked.data).digest()
    new = store.NewIntake(
        roster_id=worked.roster.id,
        title=worked.title,
        file_name="by hand",
        file_hash=digest,
        source="",
        coverage="listed",
        account_id=account_id,
        at=context.now(),
        kind="hand",
    )
    with context.database.transaction() as connection:
        store.insert_file(connection, digest, worked.data, context.now())
        number = store.insert_intake(connection, new)
        for place, document in enumerate(worked.steps, 1):
            store.insert_step(connection, number, place, document, account_id, context.now())
    return number


def _waivers(evaluation: Evaluation, reason: str, until: date | None) -> list[dict[str, Any]]:
    """Make the steps that say yes to what is asked about; without a reason only to what says
    nothing of one record.
    """
    steps: list[dict[str, Any]] = []
    for hit in (
        cause.hit for cause in evaluation.causes if cause.hit.weight == "ask" and cause.is_open
    ):
        # How much of a file changes says nothing about one record that somebody sets by hand.
        declared = DECLARED.get(hit.check)
        message = ALONE if declared is not None and isinstance(declared.run, OfFile) else reason
        if not message:
            continue
        step: dict[str, Any] = {
            "kind": "waive",
            "check": hit.check,
            "field": hit.field,
            "lines": [LINE],
            "reason": message,
        }
        if hit.whole:
            step |= {"field": hit.group, "lines": [WHOLE]}
        if until is not None and hit.check == "raised":
            step["until"] = until.isoformat()
        steps.append(step)
    return steps


def _refuse(evaluation: Evaluation) -> None:
    """See that the only row goes in.

    Raises:
        WrongEdit: With what stops it, or asks, by field.
        NothingToApply: It is the same.
    """
    if evaluation.outcomes[0] == SAME:
        raise NothingToApply
    waits = any(
        cause.hit.whole and cause.is_open and cause.hit.weight != "note"
        for cause in evaluation.causes
    )
    if evaluation.outcomes[0] == CHANGED and not waits:
        return
    found = [
        (finding.field or "", finding.message)
        for cause in evaluation.causes
        if cause.is_open and cause.hit.weight != "note"
        for finding in iter_findings(cause, evaluation.facts)
    ]
    raised = any(cause.hit.check == "raised" for cause in evaluation.causes)
    raise WrongEdit(found, waits=waits or bool(evaluation.outcomes[0] == WAITING), ends=raised)
