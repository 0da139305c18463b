"""Open rosters: from a file with what is proposed for it, or from nothing."""

from __future__ import annotations

from typing import Any

from flask import request

from nevefield.accounts import Level
from nevefield.core.errors import UnreadableFile
from nevefield.openings.drafting import alter, begin, forget, list_drafts, look
from nevefield.openings.opening import (
    can_take_back,
    open_draft,
    open_from_nothing,
    take_back_opening,
)
from nevefield.setup.working import Working
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.describing import takes_file
from nevefield.web.openings import shapes
from nevefield.web.openings.answers import opening_answer, people_answer

__all__ = ["opening_api"]

opening_api = Api("openings", __name__)


@opening_api.post("/openings", responses={201: shapes.OpeningMade})
@needs(Level.ADMINISTER, everywhere=True)
@takes_file(work="a token of 32 hexadecimal digits, to ask how far it is")
def post_opening() -> Any:
    """Keep a file that may become a roster: multipart, `file`."""
    file = request.files.get("file")
    if file is None:
        raise UnreadableFile("No file came with the request.", "Upload it again.")
    with Working(context(), request.form.get("work", ""), account().id) as progress:
        number = begin(context(), file.filename or "file", file.read(), account().id, progress)
        look(context(), number, account().id, progress)
    return answer(shapes.OpeningMade(opening=number), 201)


@opening_api.get("/openings", responses={200: shapes.DraftList})
@needs(Level.ADMINISTER, everywhere=True)
def get_openings() -> Any:
    """List one's own files that wait to become a roster."""
    drafts = [
        shapes.DraftOut(id=one.id, file_name=one.file_name, at=one.at)
        for one in list_drafts(context(), account().id)
    ]
    return answer(shapes.DraftList(drafts=drafts))


@opening_api.get("/openings/people", responses={200: shapes.StartingList})
@needs(Level.ADMINISTER, everywhere=True)
def get_people() -> Any:
    """List the kinds of people that a roster can begin with, and their usual fields."""
    return answer(people_answer())


@opening_api.get("/openings/<int:opening_id>", responses={200: shapes.OpeningOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_opening(path: shapes.OpeningPath) -> Any:
    """Say what is proposed for a file, and what it would do."""
    return answer(opening_answer(look(context(), path.opening_id, account().id)))


@opening_api.put("/openings/<int:opening_id>", responses={200: shapes.OpeningOut})
@needs(Level.ADMINISTER, everywhere=True)
def put_opening(path: shapes.OpeningPath, body: shapes.ChoicesIn) -> Any:
    """Keep what was said of a proposal, and say what follows."""
    draft = alter(context(), path.opening_id, body.choices, body.seen, account().id)
    return answer(opening_answer(draft))


@opening_api.delete("/openings/<int:opening_id>", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def delete_opening(path: shapes.OpeningPath) -> Any:
    """Throw a file away that waits to become a roster."""
    forget(context(), path.opening_id, account().id)
    return "", 204


@opening_api.post("/openings/<int:opening_id>/open", responses={201: shapes.OpenedOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_open(path: shapes.OpeningPath, body: shapes.OpenIn) -> Any:
    """Open the roster as it is proposed, with the file as its first intake."""
    name, intake = open_draft(context(), path.opening_id, body.seen, account().id)
    return answer(shapes.OpenedOut(roster=name, intake=intake), 201)


@opening_api.post("/openings/from-nothing", responses={201: shapes.OpenedOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_from_nothing(body: shapes.FromNothingIn) -> Any:
    """Open an empty roster with the usual fields of one kind of people."""
    name = open_from_nothing(
        context(), body.people, body.title, frozenset(body.leave), account().id
    )
    return answer(shapes.OpenedOut(roster=name, intake=None), 201)


@opening_api.get("/rosters/<name>/opening", responses={200: shapes.OpeningState})
@needs(Level.LOOK, of="roster")
def get_state(path: common.NamePath) -> Any:
    """Say whether it can be taken back that a roster was opened."""
    return answer(shapes.OpeningState(can_take_back=can_take_back(context(), path.name)))


@opening_api.post("/rosters/<name>/opening/take-back", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def post_take_back(path: common.NamePath) -> Any:
    """Take back that a roster was opened, while nothing was applied to it."""
    take_back_opening(context(), path.name, account().id)
    return "", 204
