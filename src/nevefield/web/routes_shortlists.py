"""Shortlists, and changing many records at once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.changes.many import Act
from nevefield.core.conditions import say_condition
from nevefield.core.errors import WrongStep
from nevefield.proposals.changing import change_many
from nevefield.rosters.errors import NoSuchChangeSet, NoSuchRoster
from nevefield.rosters.looking import choose_records
from nevefield.rosters.shortlists import (
    change_shortlist,
    drop_shortlist,
    keep_shortlist,
    places_of,
    require_shortlist,
)
from nevefield.rosters.snapshots import load_snapshot, require_roster
from nevefield.setup.working import Working
from nevefield.store import intakes as intake_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store import shortlists as store
from nevefield.web import group_models, models
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.shortlists import may_see

if TYPE_CHECKING:
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection

__all__ = ["shortlist_api"]

shortlist_api = APIBlueprint("shortlists", __name__, url_prefix="/api")


@shortlist_api.get("/rosters/<name>/shortlists", responses={200: group_models.ShortlistList})
@needs(Level.LOOK, of="roster")
def list_all(path: models.NamePath) -> Any:
    """List a roster's shortlists with how many they hold today."""
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        snapshot = load_snapshot(connection, roster)
        seen = [
            one
            for one in store.list_shortlists(connection, roster.id, account().id)
            if may_see(one, snapshot)
        ]
        found = [_shortlist(connection, one, snapshot) for one in seen]
    return answer(group_models.ShortlistList(shortlists=found))


@shortlist_api.post("/rosters/<name>/shortlists", responses={201: group_models.ShortlistOut})
@needs(Level.PREPARE, of="roster")
def post_shortlist(path: models.NamePath, body: group_models.ShortlistIn) -> Any:
    """Keep a shortlist: of records, of those that a change set brought, or live by a condition."""
    records = set(body.records)
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        snapshot = load_snapshot(connection, roster)
        if body.change_set is not None:
            records |= _brought(connection, roster.id, body.change_set, body.outcome) & set(
                snapshot.ids.tolist()
            )
        elif body.live is None and not records:
            places = choose_records(
                snapshot, text=body.q, filters=body.filter, today=context().today()
            )
            records = set(snapshot.ids[places].tolist())
    number = keep_shortlist(
        context(),
        path.name,
        body.title,
        account().id,
        records=records if body.live is None else (),
        live=body.live,
        is_shared=body.is_shared,
    )
    with context().database.transaction() as connection:
        return answer(
            _shortlist(connection, require_shortlist(connection, number, account().id), snapshot),
            201,
        )


@shortlist_api.post(
    "/shortlists/<int:shortlist_id>/records", responses={200: group_models.ShortlistOut}
)
@needs(Level.PREPARE, of="shortlist")
def post_records(path: group_models.ShortlistPath, body: group_models.ShortlistRecords) -> Any:
    """Put records on a shortlist, or take some off."""
    change_shortlist(context(), path.shortlist_id, account().id, add=body.add, remove=body.remove)
    with context().database.transaction() as connection:
        found = require_shortlist(connection, path.shortlist_id, account().id)
        roster = roster_store.get_roster_by_id(connection, found.roster_id)
        if roster is None:
            raise NoSuchRoster("")
        return answer(_shortlist(connection, found, load_snapshot(connection, roster)))


@shortlist_api.delete("/shortlists/<int:shortlist_id>", responses={200: models.Done})
@needs(Level.PREPARE, of="shortlist")
def delete_shortlist(path: group_models.ShortlistPath) -> Any:
    """Forget a shortlist."""
    drop_shortlist(context(), path.shortlist_id, account().id)
    return answer(models.Done(done=True))


@shortlist_api.post("/rosters/<name>/change-many", responses={201: models.Created})
@needs(Level.PREPARE, of="roster")
def post_change_many(path: models.NamePath, body: group_models.ChangeManyIn) -> Any:
    """Work out what is to become of many records, as an intake that is looked at and applied;
    nothing is changed yet.
    """
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        snapshot = load_snapshot(connection, roster)
        records = _chosen(connection, snapshot, body)
    acts = [Act(one.field, one.act, one.value, one.find) for one in body.acts]
    with Working(context(), body.work, account().id) as progress:
        number = change_many(
            context(), path.name, records, acts, account().id, title=body.title, progress=progress
        )
    return answer(models.Created(intake=number), 201)


def _chosen(
    connection: Connection, snapshot: Snapshot, body: group_models.ChangeManyIn
) -> list[int]:
    """List the records that are meant: those named, those of a shortlist, or all that a filter lets
    through.

    Raises:
        WrongStep: Nothing says which.
    """
    if body.records is not None:
        return body.records
    if body.shortlist is not None:
        found = require_shortlist(connection, body.shortlist, account().id)
        places = places_of(connection, found, snapshot, context().today())
        return [int(number) for number in snapshot.ids[places]]
    if not body.everybody and not body.q and not body.filter:
        raise WrongStep("Say which records are meant.")
    places = choose_records(snapshot, text=body.q, filters=body.filter, today=context().today())
    return [int(one) for one in snapshot.ids[places]]


def _brought(connection: Connection, roster_id: int, change_set_id: int, outcome: str) -> set[int]:
    """List the records that a change set brought with an outcome.

    Raises:
        NoSuchChangeSet: There is none in this roster.
    """
    change_set = record_store.get_change_set(connection, change_set_id)
    if change_set is None or change_set.roster_id != roster_id:
        raise NoSuchChangeSet(change_set_id)
    return {
        record
        for _, record, _ in intake_store.list_outcomes(connection, change_set_id, outcome)
        if record
    }


def _shortlist(
    connection: Connection, one: store.Shortlist, snapshot: Snapshot
) -> group_models.ShortlistOut:
    said = say_condition(one.live, snapshot.definition.title_of) if one.live is not None else ""
    return group_models.ShortlistOut(
        id=one.id,
        title=one.title,
        live=one.live,
        said=said,
        is_shared=one.is_shared,
        by=one.by,
        at=one.at,
        count=len(places_of(connection, one, snapshot, context().today())),
    )
