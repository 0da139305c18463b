"""Shortlists, and changing many records at once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.accounts import Level
from nevefield.core.changes.many import Act
from nevefield.core.conditions import say_condition
from nevefield.proposals.changing import change_many
from nevefield.rosters.shortlists import (
    Meant,
    change_shortlist,
    drop_shortlist,
    find_meant,
    keep_shortlist,
    list_counted,
    open_shortlist,
)
from nevefield.setup.working import Working
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.rosters import shapes_shortlists

if TYPE_CHECKING:
    from nevefield.rosters.shortlists import Counted

__all__ = ["shortlist_api"]

shortlist_api = Api("shortlists", __name__)


@shortlist_api.get("/rosters/<name>/shortlists", responses={200: shapes_shortlists.ShortlistList})
@needs(Level.LOOK, of="roster")
def list_all(path: common.NamePath) -> Any:
    """List a roster's shortlists with how many they hold today."""
    counted = list_counted(context(), path.name, account().id)
    return answer(shapes_shortlists.ShortlistList(shortlists=[_shortlist(one) for one in counted]))


@shortlist_api.post("/rosters/<name>/shortlists", responses={201: shapes_shortlists.ShortlistOut})
@needs(Level.PREPARE, of="roster")
def post_shortlist(path: common.NamePath, body: shapes_shortlists.ShortlistIn) -> Any:
    """Keep a shortlist: of records, of those that a change set brought, or live by a condition."""
    meant = Meant(
        body.records or None,
        body.change_set,
        body.outcome,
        text=body.q,
        filters=body.filter,
        everybody=True,
    )
    number = keep_shortlist(
        context(),
        path.name,
        body.title,
        account().id,
        records=find_meant(context(), path.name, meant, account().id) if body.live is None else (),
        live=body.live,
        is_shared=body.is_shared,
    )
    return answer(_shortlist(open_shortlist(context(), number, account().id)), 201)


@shortlist_api.post(
    "/shortlists/<int:shortlist_id>/records", responses={200: shapes_shortlists.ShortlistOut}
)
@needs(Level.PREPARE, of="shortlist")
def post_records(
    path: shapes_shortlists.ShortlistPath, body: shapes_shortlists.ShortlistRecords
) -> Any:
    """Put records on a shortlist, or take some off."""
    change_shortlist(context(), path.shortlist_id, account().id, add=body.add, remove=body.remove)
    return answer(_shortlist(open_shortlist(context(), path.shortlist_id, account().id)))


@shortlist_api.delete("/shortlists/<int:shortlist_id>", responses={200: common.Done})
@needs(Level.PREPARE, of="shortlist")
def delete_shortlist(path: shapes_shortlists.ShortlistPath) -> Any:
    """Forget a shortlist."""
    drop_shortlist(context(), path.shortlist_id, account().id)
    return answer(common.Done(done=True))


@shortlist_api.post("/rosters/<name>/change-many", responses={201: common.Created})
@needs(Level.PREPARE, of="roster")
def post_change_many(path: common.NamePath, body: shapes_shortlists.ChangeManyIn) -> Any:
    """Work out what is to become of many records, as an intake that is looked at and applied;
    nothing is changed yet.
    """
    meant = Meant(
        body.records,
        shortlist=body.shortlist,
        text=body.q,
        filters=body.filter,
        everybody=body.everybody,
    )
    records = find_meant(context(), path.name, meant, account().id)
    acts = [Act(act.field, act.act, act.value, act.find) for act in body.acts]
    with Working(context(), body.work, account().id) as progress:
        number = change_many(
            context(), path.name, records, acts, account().id, title=body.title, progress=progress
        )
    return answer(common.Created(intake=number), 201)


def _shortlist(counted: Counted) -> shapes_shortlists.ShortlistOut:
    shortlist = counted.shortlist
    says = (
        say_condition(shortlist.live, counted.definition.title_of)
        if shortlist.live is not None
        else ""
    )
    return shapes_shortlists.ShortlistOut(
        id=shortlist.id,
        title=shortlist.title,
        live=shortlist.live,
        said=says,
        is_shared=shortlist.is_shared,
        by=shortlist.by,
        at=shortlist.at,
        count=counted.count,
    )
