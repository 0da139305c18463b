"""Card designs: begun, looked at, tried, kept; who needs a card."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.accounts import Level
from nevefield.cards.designs import begin_design, keep_design, list_versions
from nevefield.cards.looking import (
    lay_card,
    look_at_all,
    look_at_design,
    look_at_needed,
    try_design,
)
from nevefield.core.cards.reading import read_design
from nevefield.rosters.shortlists import records_on
from nevefield.web.access import account, context, level_in, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.cards import shapes_designs
from nevefield.web.cards.answers import (
    card_answer,
    design_answer,
    page_answer,
    tried_answer,
    troubles_answer,
)

if TYPE_CHECKING:
    from nevefield.cards.designs import OpenDesign

__all__ = ["card_design_api"]

card_design_api = Api("card_designs", __name__)


def may_change(opened: OpenDesign) -> bool:
    """Tell whether who is signed in may keep versions of a design and make cards."""
    return level_in(opened.row.register_id) >= Level.PREPARE


@card_design_api.get("/cards", responses={200: shapes_designs.DesignList})
@needs(Level.LOOK)
def get_cards() -> Any:
    """List the card designs, each with where its people stand."""
    return answer(
        shapes_designs.DesignList(
            designs=[
                shapes_designs.DesignBrief(
                    name=standing.opened.design.name,
                    title=standing.opened.design.title,
                    register_title=standing.opened.rosters[
                        standing.opened.design.register_.roster
                    ].title,
                    version=standing.opened.row.version,
                    since=standing.opened.row.since,
                    counts={need.value: count for need, count in standing.needed.counts().items()},
                    people=len(standing.needed.people),
                )
                for standing in look_at_all(context())
            ]
        )
    )


@card_design_api.post("/cards", responses={201: shapes_designs.DesignBegun})
@needs(Level.PREPARE)
def post_design(body: shapes_designs.DesignIn) -> Any:
    """Begin a card design."""
    name = begin_design(context(), body.document, account().id)
    return answer(shapes_designs.DesignBegun(name=name, version=1), 201)


@card_design_api.post("/cards/with-register", responses={201: shapes_designs.DesignBegun})
@needs(Level.ADMINISTER, everywhere=True)
def post_with_register(body: shapes_designs.DesignIn) -> Any:
    """Begin a card design, and open the roster in which its cards are kept."""
    name = begin_design(context(), body.document, account().id, opens_register=True)
    return answer(shapes_designs.DesignBegun(name=name, version=1), 201)


@card_design_api.get("/cards/<design>", responses={200: shapes_designs.DesignOut})
@needs(Level.LOOK, of="design", whole=True, polled=True)
def get_design(path: shapes_designs.DesignPath) -> Any:
    """Give a card design, and where its people stand."""
    look = look_at_design(context(), path.design)
    return answer(
        design_answer(
            look.standing, look.left, look.runs, may_change=may_change(look.standing.opened)
        )
    )


@card_design_api.put("/cards/<design>", responses={200: shapes_designs.DesignBegun})
@needs(Level.PREPARE, of="design", whole=True)
def put_design(path: shapes_designs.DesignPath, body: shapes_designs.DocumentIn) -> Any:
    """Keep another version of a card design."""
    version = keep_design(context(), path.design, body.document, body.version, account().id)
    return answer(shapes_designs.DesignBegun(name=path.design, version=version))


@card_design_api.get("/cards/<design>/versions", responses={200: shapes_designs.DesignVersions})
@needs(Level.LOOK, of="design", whole=True)
def get_versions(path: shapes_designs.DesignPath) -> Any:
    """List the versions of a card design, the newest first."""
    return answer(
        shapes_designs.DesignVersions(
            versions=[
                shapes_designs.DesignVersion(
                    number=one.number, at=one.at, by=one.by, document=one.document
                )
                for one in list_versions(context(), path.design)
            ]
        )
    )


@card_design_api.get("/cards/<design>/people", responses={200: shapes_designs.CardsOut})
@needs(Level.LOOK, of="design", whole=True)
def get_people(path: shapes_designs.DesignPath, query: shapes_designs.NeedQuery) -> Any:
    """Give a page of the people of a card design, by where they stand."""
    only = None
    if query.shortlist is not None:
        only = records_on(context(), query.shortlist, account().id)
    return answer(page_answer(look_at_needed(context(), path.design), query, only))


@card_design_api.post("/cards/<design>/card", responses={200: shapes_designs.CardOfOut})
@needs(Level.LOOK, of="design", whole=True)
def post_card(path: shapes_designs.DesignPath, body: shapes_designs.CardIn) -> Any:
    """Lay somebody's card as it would be, by the design or by a changed one that is not kept."""
    card = lay_card(context(), path.design, body.record, body.document, body.face)
    troubles = troubles_answer(read_design(body.document)) if body.document else []
    return answer(
        shapes_designs.CardOfOut(card=card_answer(card) if card else None, troubles=troubles)
    )


@card_design_api.post("/cards/<design>/try", responses={200: shapes_designs.DesignTried})
@needs(Level.LOOK, of="design", whole=True)
def post_try(path: shapes_designs.DesignPath, body: shapes_designs.CardIn) -> Any:
    """Find the records that try a design hardest, and count how its lines fit."""
    return answer(tried_answer(try_design(context(), path.design, body.document)))
