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
from nevefield.proposals.agreeing import propose_intake
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

__all__ = ["Edited", "edit_record"]

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


def edit_record(
    context: Context,
    record_id: int,
    values: Mapping[str, str],
    account_id: int | None,
    *,
    reason: str = "",
    until: date | None = None,
    may_apply: bool = True,
    day: date | None = None,
) -> Edited:
    """Set fields of one record.

    Args:
        context: Database and clock.
        record_id: The record.
        values: By field the text as somebody typed it; "" empties it, several values stand with
            their separator between.
        account_id: Who.
        reason: For what a check asks about.
        until: The last day of a privilege that is gained by it; None for good.
        may_apply: Whether who edits may also apply; otherwise it is proposed.
        day: From which it is to hold; None for at once.

    Returns:
        What became of it. Nothing is kept of an edit that stops or waits.

    Raises:
        NoSuchRecord: There is none, or it has left the roster.
        WrongStep: There is no such field.
        WrongEdit: A check stops it, or asks and no reason was given.
        NothingToApply: The record says so already.
        NotAhead: The day is today or over.
    """
    if day is not None:
        require_ahead(context, day)
    with context.database.transaction() as connection:
        roster_id = record_store.get_record_roster(connection, record_id)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        if roster is None:
            raise NoSuchRecord(record_id)
        definition, codes = load_definition(connection, roster), load_codes(connection)
        snapshot, others = load_snapshot(connection, roster), load_others(connection, definition)
    places = (snapshot.ids == record_id).nonzero()[0]
    if not len(places):
        raise NoSuchRecord(record_id)
    for name in values:
        if name not in definition.by_name:
            raise WrongStep(
                f"There is no field {name!r} in {definition.title};"
                f" {near(name, definition.by_name)}"
            )
    had = snapshot.values(int(places[0]))
    row = {name: str(had.get(name, "")) for name in definition.primary_key} | dict(values)
    data = (json.dumps(row, ensure_ascii=False) + "\n").encode()
    read = read_file(data, known=known_headings(definition))
    documents = first_steps(snapshot, [int(places[0])], list(values))

    def work_out() -> Evaluation:
        steps = [read_step(one) for one in documents]
        return evaluate(
            Inputs(
                data, steps, definition, codes, snapshot, context.today(), read=read, others=others
            )
        )

    evaluation = work_out()
    documents += _waivers(evaluation, reason.strip(), until)
    for one in documents:
        refuse_reason(read_step(one), definition, codes, context.today())
    evaluation = work_out()
    _refuse(evaluation)
    for one in documents:
        refuse_unknown(read_step(one), definition)
    digest = hashlib.sha256(data).digest()
    title = f"By hand: {name_openly(definition, had.get)}"[:200]
    with context.database.transaction() as connection:
        store.insert_file(connection, digest, data, context.now())
        number = store.insert_intake(
            connection,
            roster.id,
            title,
            "by hand",
            digest,
            "",
            "listed",
            account_id,
            context.now(),
            kind="hand",
        )
        for place, one in enumerate(documents, 1):
            store.insert_step(connection, number, place, one, account_id, context.now())
    why = definition.approval.why(1, raised_by(evaluation))
    if why or not may_apply:
        opened = open_intake(context, number)
        steps, version = len(opened.steps), opened.roster.version
        return Edited(
            number, None, propose_intake(context, number, steps, version, account_id, day=day)
        )
    if day is not None:
        return Edited(
            number,
            None,
            None,
            schedule_intake(context, number, len(documents), roster.version, day, account_id),
        )
    # It is kept, so the request as a whole is not done again: what applies it is.
    change_set = do_again(
        lambda: apply_intake(context, number, len(documents), roster.version, account_id)
    )
    return Edited(number, change_set, None)


def _waivers(evaluation: Evaluation, reason: str, until: date | None) -> list[dict[str, Any]]:
    """Make the steps that say yes to what is asked about; without a reason only to what says
    nothing of one record.
    """
    steps: list[dict[str, Any]] = []
    for hit in (one.hit for one in evaluation.causes if one.hit.weight == "ask" and one.is_open):
        # How much of a file changes says nothing about one record that somebody sets by hand.
        declared = DECLARED.get(hit.check)
        said = ALONE if declared is not None and isinstance(declared.run, OfFile) else reason
        if not said:
            continue
        step: dict[str, Any] = {
            "kind": "waive",
            "check": hit.check,
            "field": hit.field,
            "lines": [LINE],
            "reason": said,
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
