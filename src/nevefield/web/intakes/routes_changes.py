"""What an intake would change, and applying it."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.intakes.applying import request_apply
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.moving import what_moved
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.intakes import shapes_changes
from nevefield.web.intakes.answers_changes import changes_answer, family_answer
from nevefield.web.intakes.answers_rows import (
    name_of_row,
)
from nevefield.web.proposals import shapes as proposal_shapes

__all__ = ["change_api"]

change_api = Api("changes", __name__)
MOVED_SHOWN = 50


@change_api.get("/intakes/<int:intake_id>/changes", responses={200: shapes_changes.ChangesOut})
@needs(Level.LOOK, of="intake")
def get_changes(path: common.IntakePath) -> Any:
    """Give what would change, by family."""
    return answer(changes_answer(open_intake(context(), path.intake_id).evaluation))


@change_api.get("/intakes/<int:intake_id>/family", responses={200: shapes_changes.FamilyDetail})
@needs(Level.LOOK, of="intake")
def get_family(path: common.IntakePath, query: shapes_changes.FamilyQuery) -> Any:
    """Give one family of change with its people."""
    return answer(family_answer(open_intake(context(), path.intake_id).evaluation, query))


@change_api.get("/intakes/<int:intake_id>/moved", responses={200: shapes_changes.MovedOut})
@needs(Level.LOOK, of="intake")
def get_moved(path: common.IntakePath, query: shapes_changes.MovedQuery) -> Any:
    """Say for which rows the plan is another than at an earlier version of the roster."""
    opened, moveds = what_moved(context(), path.intake_id, query.version)
    evaluation = opened.evaluation
    rows = []
    for moved in moveds[:MOVED_SHOWN]:
        row = evaluation.row_of(moved.line)
        name = name_of_row(evaluation, row) if row is not None else ""
        titles = [evaluation.definition.title_of(field) for field in moved.fields]
        rows.append(
            shapes_changes.MovedRow(
                line=moved.line, name=name, before=moved.before, now=moved.now, fields=titles
            )
        )
    return answer(shapes_changes.MovedOut(total=len(moveds), rows=rows))


@change_api.post("/intakes/<int:intake_id>/apply", responses={202: shapes_changes.ApplyOut})
@needs(Level.APPROVE, of="intake")
def post_apply(path: common.IntakePath, body: proposal_shapes.ApplyIn) -> Any:
    """Apply the plan that was looked at."""
    job, change_set = request_apply(
        context(), path.intake_id, body.steps, body.roster_version, account().id, body.typed
    )
    return answer(shapes_changes.ApplyOut(job=job or None, change_set=change_set or None), 202)
