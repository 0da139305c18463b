"""The second step of signing in: begun, confirmed, taken away."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.accounts.second import begin_second, confirm, how_it_stands, new_codes, turn_off
from nevefield.setup.institution import the_institution
from nevefield.web.access import account, context, needs, session_token
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.desk import shapes

__all__ = ["second_api"]

second_api = Api("second", __name__)


@second_api.get("/session/second-step", responses={200: shapes.SecondOut})
@needs(Level.NONE)
def get_second() -> Any:
    """Tell how it stands with one's second step."""
    found = how_it_stands(context(), account())
    return answer(
        shapes.SecondOut(
            is_on=found.is_on, since=found.since, codes_left=found.codes_left, can_be=found.can_be
        )
    )


@second_api.post("/session/second-step", responses={201: shapes.SecondBegun})
@needs(Level.NONE)
def post_second() -> Any:
    """Begin a second step: what is to be brought into an app."""
    begun = begin_second(context(), account(), the_institution(context()).name)
    shape = shapes.SecondBegun(secret=begun.secret, address=begun.address, picture=begun.picture)
    return answer(shape, 201)


@second_api.put("/session/second-step", responses={200: shapes.CodesMade})
@needs(Level.NONE)
def put_second(body: shapes.CodeIn) -> Any:
    """Confirm a second step by a first code; everywhere else one is signed out."""
    codes = confirm(context(), account(), body.code, session_token())
    return answer(shapes.CodesMade(codes=codes))


@second_api.post("/session/second-step/codes", responses={200: shapes.CodesMade})
@needs(Level.NONE)
def post_codes(body: shapes.PasswordAgain) -> Any:
    """Make new recovery codes; the old ones count no more."""
    return answer(shapes.CodesMade(codes=new_codes(context(), account(), body.password)))


@second_api.post("/session/second-step/off", responses={204: None})
@needs(Level.NONE)
def post_off(body: shapes.PasswordAgain) -> Any:
    """Take one's second step away."""
    turn_off(context(), account(), body.password)
    return "", 204
