"""Runs: cards made together, their sheets, handed over; lost, spoiled and given back."""

from __future__ import annotations

import io
from typing import Any

from flask import Response

from nevefield.accounts import Level
from nevefield.cards.printing import Sheets, print_run
from nevefield.cards.running import (
    Asked,
    find_scanned,
    hand_over,
    list_runs,
    make_run,
    mark_card,
    open_run,
)
from nevefield.core.texts import read_whole
from nevefield.setup.working import Working
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.cards import shapes_designs, shapes_runs
from nevefield.web.cards.answers import made_answer, run_row
from nevefield.web.describing import gives_file

__all__ = ["card_run_api"]

card_run_api = Api("card_runs", __name__)


@card_run_api.get("/cards/<design>/runs", responses={200: shapes_runs.RunList})
@needs(Level.LOOK, of="design", whole=True)
def get_runs(path: shapes_designs.DesignPath) -> Any:
    """List the runs of a card design, the newest first."""
    return answer(
        shapes_runs.RunList(
            runs=[run_row(run, cards) for run, cards in list_runs(context(), path.design)]
        )
    )


@card_run_api.post("/cards/<design>/runs", responses={201: shapes_runs.RunMade})
@needs(Level.PREPARE, of="design", whole=True)
def post_run(path: shapes_designs.DesignPath, body: shapes_runs.RunIn) -> Any:
    """Make cards: numbers are given and what stands on each is kept."""
    records = None if body.records is None else frozenset(body.records)
    with Working(context(), body.work, account().id) as progress:
        run = make_run(
            context(),
            path.design,
            Asked(records, body.anew, body.count, body.seen),
            account().id,
            progress,
        )
    return answer(shapes_runs.RunMade(run=run), 201)


@card_run_api.get("/cards/<design>/runs/<int:run_id>", responses={200: shapes_runs.RunOut})
@needs(Level.LOOK, of="design", whole=True)
def get_run(path: shapes_runs.RunPath) -> Any:
    """Give a run and its cards."""
    opened = open_run(context(), path.design, path.run_id)
    return answer(made_answer(opened))


@card_run_api.get("/cards/<design>/runs/<int:run_id>/sheets")
@needs(Level.PREPARE, of="design", whole=True)
@gives_file("application/pdf")
def get_sheets(path: shapes_runs.RunPath, query: shapes_runs.CardSheetQuery) -> Response:
    """Give the sheets of a run as PDF."""
    out = io.BytesIO()
    named = (read_whole(one.strip()) for one in query.cards.split(","))
    wanted = frozenset(one for one in named if one is not None)
    with Working(context(), query.work, account().id) as progress:
        sheets = Sheets(path.run_id, "" if query.paper == "card" else query.paper, wanted or None)
        print_run(context(), path.design, sheets, out, account().id, progress)
    return download(
        out.getvalue(), "application/pdf", f"{path.design} run {path.run_id} {query.paper}.pdf"
    )


@card_run_api.post("/cards/<design>/handed", responses={200: shapes_runs.Marked})
@needs(Level.PREPARE, of="design", whole=True)
def post_handed(path: shapes_designs.DesignPath, body: shapes_runs.HandedIn) -> Any:
    """Keep that cards were handed over, ticked or scanned; or that they were not after all."""
    cards, name = list(body.cards), ""
    if body.scanned:
        found = find_scanned(context(), path.design, body.scanned)
        cards, name = [found.card], found.name
    count = hand_over(context(), path.design, cards, account().id, is_over=body.is_over)
    return answer(shapes_runs.Marked(cards=count, name=name))


@card_run_api.post("/cards/<design>/register/<int:card_id>", responses={200: shapes_runs.Marked})
@needs(Level.PREPARE, of="design", whole=True)
def post_mark(path: shapes_runs.CardPath, body: shapes_runs.MarkIn) -> Any:
    """Say that a card was lost, spoiled or given back: it is out of use from now on."""
    change_set = mark_card(context(), path.design, path.card_id, body.what, account().id)
    return answer(shapes_runs.Marked(change_set=change_set))


@card_run_api.get("/cards/<design>/whose", responses={200: shapes_runs.WhoseOut})
@needs(Level.LOOK, of="design", whole=True)
def get_whose(path: shapes_designs.DesignPath, query: shapes_runs.WhoseQuery) -> Any:
    """Tell whose a card is, by what a scanner reads from it."""
    found = find_scanned(context(), path.design, query.scanned)
    return answer(
        shapes_runs.WhoseOut(
            card=found.card,
            record=found.record,
            name=found.name,
            key=found.key,
            number=found.number,
            facility=found.facility,
            is_good=found.is_good,
        )
    )
