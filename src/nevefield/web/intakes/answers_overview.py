"""An intake's overview as the API gives it."""

from __future__ import annotations

from collections import Counter
from datetime import date
from typing import TYPE_CHECKING, Any, Literal

import numpy as np

from nevefield.core.changes.explaining import explain_absent
from nevefield.core.changes.guards import guards_of
from nevefield.core.conditions import say_condition
from nevefield.core.masking import sensitive_fields
from nevefield.core.people.recognising import ASKED, DECISIONS
from nevefield.core.placing.memberships import membership_of
from nevefield.core.steps import (
    active_steps,
    last_receipt,
    read_step,
)
from nevefield.core.steps.kinds import AppliedStep, RecipeStep, TakenBackStep, UndoStep
from nevefield.intakes.fitting import raised_by, waits_of
from nevefield.intakes.sources import source_of
from nevefield.web import common
from nevefield.web.intakes import shapes_files
from nevefield.web.intakes.step_words import word_step
from nevefield.web.proposals import shapes as proposal_shapes

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Evaluation
    from nevefield.intakes import StepRow
    from nevefield.intakes.evaluating import Opened
    from nevefield.intakes.looking import Around

__all__ = ["intake_answer"]

NOT_DATA_SHOWN = 500


def intake_answer(
    opened: Opened,
    around: Around,
    level: int,
    unlike: list[str],
    *,
    asks: int,
    proposal: proposal_shapes.ProposalOut | None = None,
    scheduled: proposal_shapes.ScheduledOut | None = None,
) -> shapes_files.IntakeOut:
    """Give the overview that every page of an intake shows.

    Args:
        opened: The intake.
        around: What stands around it.
        level: Of who asks, in its roster.
        unlike: In what the file differs from its source's last one.
        asks: The account that asks.
        proposal: What is proposed of it.
        scheduled: What of it waits for its day.
    """
    intake, evaluation = opened.intake, opened.evaluation
    log, undo, redo = _log(opened.steps, evaluation.definition, asks, covers=bool(opened.covered))
    return shapes_files.IntakeOut(
        id=intake.id,
        title=intake.title,
        file_name=intake.file_name,
        roster=opened.roster.name,
        roster_title=opened.roster.title,
        roster_version=opened.roster.version,
        level=level,
        unusual=_unusual(evaluation, around.absent_before),
        proposal=proposal,
        scheduled=scheduled,
        unlike=unlike,
        by=around.by,
        at=intake.at,
        due=intake.due,
        is_applied=evaluation.is_applied,
        thrown=intake.thrown_at is not None,
        reading=_reading(evaluation),
        steps=len(opened.steps),
        log=log,
        undo=undo,
        redo=redo,
        applied=around.applied,
        job=around.job,
        later=around.later,
        **_source(opened, around),
        **_claimed(evaluation),
        **_counted(evaluation),
        **_in_the_way(evaluation),
    )


def _source(opened: Opened, around: Around) -> dict[str, Any]:
    """Say where the file is from, how that is known, and what was learnt there."""
    decisions = opened.evaluation.decisions
    said, recipe = decisions.source, decisions.recipe
    recipes = (row for row in reversed(opened.steps) if row.step["kind"] == "recipe")
    return {
        "source": source_of(decisions, opened.intake),
        "source_by": said.by if said else "given",
        "source_why": said.why if said else "",
        "learnt": date.fromisoformat(recipe.learnt) if recipe else None,
        "recipe_step": next(
            (row.number for row in recipes if recipe and row.step["source"] == recipe.source), None
        ),
        "sources": [source.name for source in around.sources],
        "within": around.within,
    }


def _claimed(evaluation: Evaluation) -> dict[str, Any]:
    """Say what the file claims to be, and what becomes of those who are not in it."""
    decisions, definition = evaluation.decisions, evaluation.definition
    part = next((kind.part[0] for kind in definition.groups if kind.part), "")
    return {
        "coverage": decisions.coverage,
        "part": decisions.part,
        "part_said": (
            say_condition(decisions.part, evaluation.facts.title) if decisions.part else ""
        ),
        "claims": _claims(evaluation),
        "takes": decisions.takes,
        "membership": _membership(evaluation),
        "absences": evaluation.absences.counts(),
        "part_title": definition.title_of(part) if part else "",
        "parts": _parts(evaluation, part) if part else {},
    }


def _counted(evaluation: Evaluation) -> dict[str, Any]:
    """Count rows, people, columns, causes and changes."""
    weights = Counter(
        cause.hit.weight for cause in evaluation.causes if cause.is_open and not cause.follows
    )
    matched = int((evaluation.known.record >= 0).sum())
    return {
        "tally": common.TallyOut(**evaluation.tally.to_json()),
        "ready": common.TallyOut(**evaluation.ready.to_json()),
        "adds_up": evaluation.tally.adds_up,
        "not_data": len(evaluation.reading.not_data),
        "records": len(evaluation.snapshot),
        "people": int(evaluation.facts.joined.is_lead.sum()),
        "columns_paired": sum(1 for pair in evaluation.pairs if pair.field),
        "columns_total": len(evaluation.pairs),
        "stops": weights["stop"],
        "asks": weights["ask"],
        "notes": weights["note"],
        "by_key": matched,
        "nobody": len(evaluation.table) - matched,
        "people_decisions": _decisions(evaluation),
        "changes": evaluation.altering,
    }


def _in_the_way(evaluation: Evaluation) -> dict[str, Any]:
    """Say what has to be settled, typed or approved before anything is applied."""
    return {
        "waits": [
            shapes_files.WaitOut(cause=cause.id, title=cause.hit.title)
            for cause in waits_of(evaluation)
        ],
        "guards": guards_of(evaluation),
        "why": evaluation.definition.approval.why(evaluation.altering, raised_by(evaluation)),
    }


def _reading(evaluation: Evaluation) -> shapes_files.ReadingOut:
    reading = evaluation.reading
    return shapes_files.ReadingOut(
        type=reading.type,
        encoding=reading.encoding,
        separator=reading.separator,
        sheet=reading.sheet,
        sheets=list(reading.sheets),
        why=reading.why,
        header_line=reading.header_line,
        sentence=reading.sentence,
        remarks=list(reading.remarks),
        not_data=[
            shapes_files.NotDataOut(line=line.line, kind=line.kind, text=line.text)
            for line in reading.not_data[:NOT_DATA_SHOWN]
        ],
    )


def _membership(evaluation: Evaluation) -> shapes_files.MembershipOut | None:
    kind = membership_of(evaluation.definition)
    if kind is None:
        return None
    going = np.flatnonzero(evaluation.going)
    people = {text for text in evaluation.facts.stored(kind.person).rows(going) if text}
    return shapes_files.MembershipOut(
        last=kind.last, people=len(people), ends=len(evaluation.absences.beside)
    )


def _claims(evaluation: Evaluation) -> Literal["", "this", "source"]:
    remembered = evaluation.decisions.claim_remembered
    return "" if remembered is None else "source" if remembered else "this"


def _parts(evaluation: Evaluation, name: str) -> dict[str, int]:
    """Count by part of the institution the people whom applying would alter or add."""
    going = np.flatnonzero(evaluation.going & evaluation.facts.joined.is_lead)
    listed = evaluation.facts.codes.get(evaluation.definition.by_name[name].code_list)
    counts = Counter(evaluation.facts.stored(name).rows(going))
    parts = {}
    for text, count in counts.most_common():
        code = listed.by_code.get(text) if listed and text else None
        parts[code.label or text if code and text else text or "not said"] = count
    return parts


def _unusual(evaluation: Evaluation, past: Sequence[int]) -> shapes_files.UnusualOut | None:
    unusual = explain_absent(evaluation, past)
    return shapes_files.UnusualOut(**vars(unusual)) if unusual else None


def _label(step: Any, definition: Definition, *, covers: bool) -> str:
    """Word a step; of one about a sensitive field only that, where its values are kept from who
    looks.
    """
    names = (
        sensitive_fields(definition) & {name for _, name in step.named()} if covers else frozenset()
    )
    if names:
        return (
            f"Something about {' and '.join(sorted(definition.title_of(name) for name in names))},"
            " which is kept from you"
        )
    return word_step(step, definition)


def _log(
    rows: list[StepRow], definition: Definition, asks: int, *, covers: bool
) -> tuple[list[shapes_files.StepOut], int | None, int | None]:
    """Word the steps, and say which one `Z` undoes and which one is done again."""
    steps = [read_step(row.step) for row in rows]
    holding = {number for number, _ in active_steps(steps)}
    log = []
    for row, step in zip(rows, steps, strict=True):
        if isinstance(step, UndoStep):
            continue
        log.append(
            shapes_files.StepOut(
                number=row.number,
                kind=step.kind,
                label=_label(step, definition, covers=covers),
                by=row.account,
                mine=row.account_id == asks,
                at=row.at,
                undone=row.number not in holding,
            )
        )
    receipt = last_receipt(steps)
    mine = (
        number
        for number, step in active_steps(steps)
        if not isinstance(step, AppliedStep | TakenBackStep | RecipeStep)
    )
    last = max((number for number in mine if number > receipt), default=None)
    latest = steps[-1] if steps else None
    redo = len(steps) if isinstance(latest, UndoStep) and latest.step > receipt else None
    return log, last, redo


def _decisions(evaluation: Evaluation) -> dict[str, int]:
    """Count rows by how it is known who they are; those held or left out are not asked about."""
    people = evaluation.facts.people
    if people is None:
        return dict.fromkeys(DECISIONS, 0)
    counted = people.decision[~(evaluation.facts.aside & (people.decision == ASKED))]
    return dict(
        zip(DECISIONS, np.bincount(counted, minlength=len(DECISIONS)).tolist(), strict=True)
    )
