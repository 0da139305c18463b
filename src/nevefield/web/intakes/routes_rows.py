"""Causes and rows of an intake, and the steps that settle them."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.core.errors import WrongStep
from nevefield.intakes.evaluating import Opened, open_intake, what_if
from nevefield.intakes.looking import (
    find_outcome,
    list_receipt_lines,
)
from nevefield.intakes.receiving import add_step
from nevefield.intakes.remedies import replace_step, step_for
from nevefield.rosters.looked import note_looked
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.intakes import shapes_rows
from nevefield.web.intakes.answers_causes import causes_answer
from nevefield.web.intakes.answers_rows import (
    name_of_row,
    page_of_rows,
    row_detail,
    row_key,
    where_is,
)
from nevefield.web.rosters import shapes_receipts as roster_shapes_receipts

__all__ = ["row_api"]

row_api = Api("rows", __name__)
# in place of words that hold values, written when they were there to see
KEPT = "It may name what is kept from you."
OWN_STEPS = ("applied", "taken_back", "recipe")  # written by the product only


@row_api.get("/intakes/<int:intake_id>/causes", responses={200: shapes_rows.CausesOut})
@needs(Level.LOOK, of="intake")
def get_causes(path: common.IntakePath) -> Any:
    """Give all problems by cause."""
    return answer(causes_answer(open_intake(context(), path.intake_id).evaluation))


@row_api.get("/intakes/<int:intake_id>/rows", responses={200: shapes_rows.RowsOut})
@needs(Level.LOOK, of="intake")
def get_rows(path: common.IntakePath, query: shapes_rows.RowsQuery) -> Any:
    """Give a page of rows."""
    opened = open_intake(context(), path.intake_id)
    note_looked(context(), opened.roster, opened.evaluation.definition, account().id)
    return answer(page_of_rows(opened.evaluation, query))


@row_api.get("/intakes/<int:intake_id>/rows/<int:line>", responses={200: shapes_rows.RowDetail})
@needs(Level.LOOK, of="intake")
def get_row(path: common.LinePath) -> Any:
    """Give the row that begins at a line, in full."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    row = evaluation.row_of(path.line)
    if row is None:
        raise WrongStep(f"No row of the file begins at line {path.line}.")
    return answer(row_detail(evaluation, row))


def _is_kept(opened: Opened) -> bool:
    """Tell whether words that were written for somebody who sees more may name what is kept from
    who is signed in.
    """
    return bool(opened.covered or opened.evaluation.facts.unnamed)


@row_api.get("/intakes/<int:intake_id>/where/<int:line>", responses={200: shapes_rows.WhereOut})
@needs(Level.LOOK, of="intake")
def get_where(path: common.LinePath) -> Any:
    """Say where a line ended up: as applied, else as it would."""
    opened = open_intake(context(), path.intake_id)
    found = where_is(opened.evaluation, path.line)
    kept = find_outcome(context(), path.intake_id, path.line)
    if kept is None:
        return answer(found)
    change_set, outcome, record, message = kept
    message = KEPT if message and _is_kept(opened) else message
    said = {
        "new": "It joined the roster.",
        "changed": "It changed its record.",
        "same": "Its record was the same already.",
    }
    when = f"Receipt {change_set}: "
    text = when + " ".join(filter(None, [said.get(outcome, ""), message]))
    return answer(
        found.model_copy(
            update={"outcome": outcome, "said": text, "record": record, "applied": True}
        )
    )


@row_api.get(
    "/change-sets/<int:change_set_id>/lines", responses={200: roster_shapes_receipts.ReceiptLines}
)
@needs(Level.LOOK, of="change_set")
def get_receipt_lines(
    path: common.ChangeSetPath, query: roster_shapes_receipts.ReceiptQuery
) -> Any:
    """Give the lines of the file that had an outcome when a change set was applied."""
    intake_id, kept = list_receipt_lines(context(), path.change_set_id, query.outcome)
    if intake_id is None:
        return answer(roster_shapes_receipts.ReceiptLines(total=0, lines=[]))
    opened = open_intake(context(), intake_id)
    evaluation, covers = opened.evaluation, _is_kept(opened)
    lines = []
    for line, record, told in kept[query.start : query.start + query.limit]:
        row = evaluation.row_of(line)
        message = KEPT if told and covers else told
        name, key = (
            ("", "") if row is None else (name_of_row(evaluation, row), row_key(evaluation, row))
        )
        lines.append(
            roster_shapes_receipts.ReceiptLine(
                line=line, record=record, name=name, key=key, message=message
            )
        )
    return answer(roster_shapes_receipts.ReceiptLines(total=len(kept), lines=lines))


@row_api.post("/intakes/<int:intake_id>/steps", responses={201: shapes_rows.StepDone})
@needs(Level.PREPARE, of="intake")
def post_step(path: common.IntakePath, body: shapes_rows.StepIn) -> Any:
    """Add a step."""
    if body.step.get("kind") in OWN_STEPS:
        raise WrongStep("Only the product itself writes such a step.")
    number = add_step(context(), path.intake_id, body.step, account().id, body.seen)
    open_intake(context(), path.intake_id)
    return answer(shapes_rows.StepDone(number=number), 201)


@row_api.post("/intakes/<int:intake_id>/remedies", responses={201: shapes_rows.StepDone})
@needs(Level.PREPARE, of="intake")
def post_remedy(path: common.IntakePath, body: shapes_rows.RemedyIn) -> Any:
    """Settle a cause by one of its remedies, in all its rows or in some."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    step = step_for(
        evaluation,
        body.cause,
        body.kind,
        value=body.value,
        reason=body.reason,
        lines=body.lines,
        until=body.until,
    )
    number = add_step(context(), path.intake_id, step, account().id, body.seen)
    open_intake(context(), path.intake_id)
    return answer(shapes_rows.StepDone(number=number), 201)


@row_api.post("/intakes/<int:intake_id>/remedies/preview", responses={200: shapes_rows.EffectOut})
@needs(Level.PREPARE, of="intake")
def preview_remedy(path: common.IntakePath, body: shapes_rows.RemedyIn) -> Any:
    """Say what the tally would be after a remedy, with nothing kept."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    reason = body.reason or "to see what it does"
    step = step_for(
        evaluation, body.cause, body.kind, value=body.value, reason=reason, lines=body.lines
    )
    after = what_if(context(), path.intake_id, step)
    return answer(shapes_rows.EffectOut(tally=common.TallyOut(**after.tally.to_json())))


@row_api.post("/intakes/<int:intake_id>/replace", responses={200: shapes_rows.ReplaceOut})
@needs(Level.PREPARE, of="intake")
def post_replace(path: common.IntakePath, body: shapes_rows.ReplaceIn) -> Any:
    """Find and replace inside a column, as one step."""
    opened = open_intake(context(), path.intake_id)
    step = replace_step(
        opened.evaluation, body.field, body.find, body.put, whole=body.whole, cause_id=body.cause
    )
    if step is None:
        return answer(shapes_rows.ReplaceOut(cells=0, number=None))
    number = add_step(context(), path.intake_id, step, account().id, len(opened.steps))
    open_intake(context(), path.intake_id)
    return answer(shapes_rows.ReplaceOut(cells=len(step["cells"]), number=number))
