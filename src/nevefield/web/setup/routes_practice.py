"""The practice copy: ordered, looked at, thrown away."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.practising.errors import NoPlace
from nevefield.practising.ordering import (
    answers,
    look_at_practice,
    order_practice,
    place_of,
    throw_practice_away,
)
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.setup import shapes_practice as shapes

__all__ = ["practice_api"]

practice_api = Api("practice", __name__)


@practice_api.get("/practice", responses={200: shapes.PracticeOut})
@needs(Level.ADMINISTER, everywhere=True, polled=True)
def get_practice() -> Any:
    """Say how the practice copy stands."""
    return answer(_out())


@practice_api.post("/practice", responses={202: shapes.PracticeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_practice() -> Any:
    """Order the practice copy, made or renewed; what was done in the one before goes."""
    order_practice(context(), account().id)
    return answer(_out(), 202)


@practice_api.delete("/practice", responses={200: shapes.PracticeOut})
@needs(Level.ADMINISTER, everywhere=True)
def delete_practice() -> Any:
    """Throw the practice copy away."""
    throw_practice_away(context(), account().id)
    return answer(_out())


def _out() -> shapes.PracticeOut:
    settings = context().settings
    try:
        place_of(context())
        lacks = ""
    except NoPlace as error:
        lacks = str(error)
    now = look_at_practice(context())
    contents = now.contents if now else {}
    return shapes.PracticeOut(
        is_practice=settings.practice,
        lacks=lacks,
        state=now.state if now else "none",
        by=now.by if now else "",
        ordered_at=now.ordered_at if now else None,
        made_at=now.made_at if now else None,
        doing=now.doing if now else "",
        done=now.done if now else 0,
        total=now.total if now else 0,
        said=now.said if now else "",
        address=settings.practice_address,
        answers=now is not None and now.made_at is not None and answers(context()),
        rosters=[shapes.PracticeCount(**one) for one in contents.get("rosters", [])],
        differs=[shapes.PracticeDiffers(**one) for one in contents.get("differs", [])],
        given_on=[shapes.PracticeGiven(**one) for one in contents.get("given_on", [])],
    )
