"""Groups: what there is on a day, placement rules, spreading people, moving them."""

from __future__ import annotations

from datetime import date, timedelta
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.accounts import Level
from nevefield.groups.errors import WrongPlacing
from nevefield.groups.looking import (
    OpenKind,
    confirm_members,
    find_origins,
    list_kinds,
    list_ticked,
    open_kind,
    sizes_over_year,
)
from nevefield.groups.placing import (
    Asked,
    place_people,
    run_rules,
    spread_people,
)
from nevefield.rosters.shortlists import see_places
from nevefield.web import common
from nevefield.web.access import account, context, level_in, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.groups import shapes
from nevefield.web.groups.answers import (
    grant_of,
    group_answer,
    member_answer,
    placed_answer,
    rules_answer,
)

if TYPE_CHECKING:
    pass

__all__ = ["group_api"]

group_api = Api("groups", __name__)
LARGEST_YEAR = 20_000  # records of a roster that is looked at month by month
MONTHS = 12
MOST_TOLD = 250  # members of a group of whom is told since when and through what


@group_api.get("/groups", responses={200: shapes.GroupKindList})
@needs(Level.LOOK)
def list_all() -> Any:
    """List the kinds of group of all rosters."""
    kinds = list_kinds(context(), context().today())
    return answer(
        shapes.GroupKindList(
            kinds=[
                shapes.GroupKindOut(
                    roster=kind.roster.name,
                    roster_title=kind.roster.title,
                    kind=kind.kind.name,
                    title=kind.kind.title,
                    groups=kind.groups,
                    people=kind.people,
                )
                for kind in kinds
            ]
        )
    )


@group_api.get("/groups/<name>/rules", responses={200: shapes.RulesOut})
@needs(Level.LOOK, of="roster")
def get_rules(path: common.NamePath) -> Any:
    """Give the placement rules in force with what they come to today."""
    return answer(rules_answer(path.name, None))


@group_api.post("/groups/<name>/rules/try", responses={200: shapes.RulesOut})
@needs(Level.PREPARE, of="roster")
def post_try_rules(path: common.NamePath, body: shapes.RulesIn) -> Any:
    """Say what other placement rules would come to; nothing is kept."""
    return answer(rules_answer(path.name, [rule.model_dump() for rule in body.rules]))


@group_api.post("/groups/<name>/rules/run", responses={201: common.Created})
@needs(Level.PREPARE, of="roster")
def post_run_rules(path: common.NamePath) -> Any:
    """Let the rules move whom they would move, as an intake that is looked at and applied;
    nothing is changed yet.
    """
    return answer(common.Created(intake=run_rules(context(), path.name, account().id)), 201)


@group_api.get("/groups/<name>/<kind>", responses={200: shapes.GroupsOut})
@needs(Level.LOOK, of="roster")
def get_groups(path: shapes.KindPath, query: shapes.DayQuery) -> Any:
    """Give the groups of a kind as they are on a day."""
    opened = _open(path, query.day)
    kind, definition = opened.kind, opened.snapshot.definition
    return answer(
        shapes.GroupsOut(
            roster=opened.roster.name,
            roster_title=opened.roster.title,
            kind=kind.name,
            title=kind.title,
            day=opened.day,
            code_list=definition.by_name[kind.field].code_list,
            level=level_in(opened.roster.id),
            field="" if kind.each or definition.by_name[kind.field].several else kind.field,
            part_fields=[definition.title_of(name) for name in kind.part],
            least=kind.least,
            most=kind.most,
            has_lead=kind.lead is not None,
            has_ages=kind.ages is not None,
            groups=[
                group_answer(opened, one)
                for one in sorted(
                    opened.found.groups, key=lambda group: -grant_of(opened, group).weight
                )
            ],
            without=len(opened.found.without),
            fields=[
                field.name
                for field in definition.fields
                if field.name not in (*kind.by, *definition.primary_key)
            ],
        )
    )


@group_api.get("/groups/<name>/<kind>/members", responses={200: shapes.MembersOut})
@needs(Level.LOOK, of="roster")
def get_members(path: shapes.KindPath, query: shapes.MembersQuery) -> Any:
    """Give the people of a group, or those who should be in one and are in none."""
    opened = _open(path, query.day)
    key = tuple(query.key)
    group = next((group for group in opened.found.groups if group.key == key), None)
    if key and group is None:
        return answer(shapes.MembersOut(members=[], days=[], sizes=[]))
    places = group.members if group is not None else opened.found.without
    leads = set(group.leads.tolist()) if group is not None else set()
    first = (
        opened.snapshot.columns[opened.kind.first].rows(places)
        if opened.kind.first
        else [None] * len(places)
    )
    origins = (
        find_origins(context(), opened, key, places.tolist())
        if group is not None and len(places) <= MOST_TOLD
        else {}
    )
    ticked = list_ticked(context(), opened.roster.id, path.kind, key) if key else {}
    members = []
    for person, place, since in zip(
        opened.persons(places).tolist(), places.tolist(), first, strict=True
    ):
        own = int(opened.snapshot.ids[place])
        at, by = ticked.get(own, (None, ""))
        one = member_answer(opened, person, place, place in leads, since, origins.get(place))
        members.append(one.model_copy(update={"own": own, "confirmed": at, "confirmer": by}))
    members.sort(key=lambda one: (not one.is_lead, one.name.casefold()))
    days = _days(opened.day) if key and len(opened.snapshot) <= LARGEST_YEAR else []
    sizes = sizes_over_year(context(), path.name, path.kind, key, days)
    return answer(shapes.MembersOut(members=members, days=days, sizes=sizes))


@group_api.post("/groups/<name>/<kind>/confirm", responses={200: common.Done})
@needs(Level.PREPARE, of="roster")
def post_confirm(path: shapes.KindPath, body: shapes.ConfirmIn) -> Any:
    """Tick members off in a review: they are rightly in the group."""
    number = confirm_members(
        context(), path.name, path.kind, tuple(body.key), body.records, account().id
    )
    return answer(common.Done(done=number > 0))


@group_api.post("/groups/<name>/<kind>/spread", responses={200: shapes.SpreadOut})
@needs(Level.PREPARE, of="roster")
def post_spread(path: shapes.KindPath, body: shapes.SpreadIn) -> Any:
    """Say how people would be spread over the groups; nothing is done."""
    opened = _open(path, None)
    records = _chosen(opened, body)
    asked = Asked(
        tuple(records),
        tuple(body.groups),
        body.anew,
        tuple(body.even),
        tuple(body.apart),
        tuple(body.together),
        body.sizes,
        body.one_band,
    )
    spreading = spread_people(context(), path.name, path.kind, asked)
    place = {int(number): row for row, number in enumerate(opened.snapshot.ids.tolist())}
    return answer(
        shapes.SpreadOut(
            people=len(records),
            stay=spreading.stay,
            moved=spreading.moved,
            placed=[
                placed_answer(opened, place[number], group)
                for number, group in spreading.moves.items()
            ],
            sizes=[
                shapes.SizeOut(
                    key=list(key),
                    label=opened.label(key[-1]),
                    part=opened.part(key),
                    before=size,
                    after=spreading.after.get(key),
                )
                for key, size in sorted(spreading.before.items())
            ],
            clashes=spreading.clashes,
            lacking=len(spreading.lacking),
            is_least=spreading.is_least,
        )
    )


@group_api.post("/groups/<name>/<kind>/place", responses={201: common.Created})
@needs(Level.PREPARE, of="roster")
def post_place(path: shapes.KindPath, body: shapes.PlaceIn) -> Any:
    """Put people into groups, as an intake that is looked at and applied; nothing is changed
    yet.
    """
    number = place_people(
        context(),
        path.name,
        path.kind,
        body.moves,
        account().id,
        leaving=body.leaving,
        is_spread=body.is_spread,
    )
    return answer(common.Created(intake=number), 201)


def _open(path: shapes.KindPath, day: date | None) -> OpenKind:
    return open_kind(context(), path.name, path.kind, day or context().today())


def _chosen(opened: OpenKind, body: shapes.SpreadIn) -> list[int]:
    """List who is to be spread: those named, those of a shortlist, or those of a part who have no
    group.

    Raises:
        WrongPlacing: Nobody is.
    """
    snapshot = opened.snapshot
    if body.records is not None:
        return body.records
    if body.shortlist is not None:
        places = see_places(context(), body.shortlist, snapshot, account().id)
    else:
        places = opened.found.without
    for name, value in zip(opened.kind.part, body.part, strict=False):
        places = np.array(
            [place for place in places.tolist() if snapshot.columns[name].at(place) == value],
            np.intp,
        )
    if not len(places):
        raise WrongPlacing("Nobody is without a group there, and nobody else is chosen.")
    return [int(number) for number in snapshot.ids[places]]


def _days(day: date) -> list[date]:
    """List the last twelve months' days, the day itself the last."""
    return [day - timedelta(days=30 * back) for back in range(MONTHS - 1, 0, -1)] + [day]
