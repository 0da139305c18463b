"""Who is who in an intake: lists, comparisons, and what other limits would decide. Decisions
themselves are steps.
"""

from __future__ import annotations

from typing import Any

from flask import jsonify

from nevefield.accounts import Level
from nevefield.core.errors import WrongStep
from nevefield.intakes.evaluating import open_intake
from nevefield.rosters.looking import came_from
from nevefield.web import common
from nevefield.web.access import context, needs
from nevefield.web.api import Api
from nevefield.web.intakes import shapes_people
from nevefield.web.intakes.answers_people import SHOWN, limits_answer, people_answer, person_answer

__all__ = ["people_api"]

people_api = Api("people", __name__)


@people_api.get("/intakes/<int:intake_id>/people", responses={200: shapes_people.PeopleOut})
@needs(Level.LOOK, of="intake")
def get_people(path: common.IntakePath, query: shapes_people.PeopleQuery) -> Any:
    """Say how it is known who the rows are, and list those to be decided, or decided in one way."""
    return jsonify(
        people_answer(open_intake(context(), path.intake_id).evaluation, query).model_dump(
            mode="json"
        )
    )


@people_api.get("/intakes/<int:intake_id>/people/limits", responses={200: shapes_people.LimitsOut})
@needs(Level.LOOK, of="intake")
def get_limits(path: common.IntakePath, query: shapes_people.LimitsQuery) -> Any:
    """Say what other limits would decide; nothing is kept."""
    return jsonify(
        limits_answer(open_intake(context(), path.intake_id).evaluation, query).model_dump(
            mode="json"
        )
    )


@people_api.get(
    "/intakes/<int:intake_id>/people/<int:line>", responses={200: shapes_people.PersonOut}
)
@needs(Level.LOOK, of="intake")
def get_person(path: common.LinePath) -> Any:
    """Give one row beside the records that it may be."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    row = evaluation.row_of(path.line)
    if row is None:
        raise WrongStep(f"No row of the file begins at line {path.line}.")
    people = evaluation.facts.people
    numbers = (
        [int(evaluation.snapshot.ids[record]) for record, _, _ in people.candidates(row)[:SHOWN]]
        if people
        else []
    )
    since = came_from(context(), numbers)
    return jsonify(person_answer(evaluation, row, since).model_dump(mode="json"))
