"""Groups: what they come to on a day, and putting people into them."""

from __future__ import annotations

from datetime import date, timedelta
from typing import TYPE_CHECKING, Any

import numpy as np
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.conditions import fields_of, say_condition
from nevefield.core.definition import Grant
from nevefield.core.masking import COVER, sensitive_fields
from nevefield.core.placing.groups import MIXED
from nevefield.groups.errors import WrongPlacing
from nevefield.groups.looking import (
    OpenKind,
    Origin,
    confirm_members,
    find_origins,
    list_kinds,
    list_ticked,
    open_kind,
    sizes_over_year,
)
from nevefield.groups.placing import (
    Asked,
    RuleHere,
    look_at_rules,
    place_people,
    run_rules,
    spread_people,
)
from nevefield.rosters.shortlists import places_of
from nevefield.rosters.snapshots import load_codes
from nevefield.web import group_models, models
from nevefield.web.access import account, context, is_masked, level_in, needs
from nevefield.web.answering import answer
from nevefield.web.shortlists import see_shortlist

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.placing.groups import Group

__all__ = ["group_api"]

group_api = APIBlueprint("groups", __name__, url_prefix="/api")
LARGEST_YEAR = 20_000  # records of a roster that is looked at month by month
MONTHS = 12
MOST_TOLD = 250  # members of a group of whom is told since when and through what
NAMES = 20  # that are told with a rule


@group_api.get("/groups", responses={200: group_models.GroupKindList})
@needs(Level.LOOK)
def list_all() -> Any:
    """List the kinds of group of all rosters."""
    found = list_kinds(context(), context().today())
    return answer(
        group_models.GroupKindList(
            kinds=[
                group_models.GroupKindOut(
                    roster=one.roster.name,
                    roster_title=one.roster.title,
                    kind=one.kind.name,
                    title=one.kind.title,
                    groups=one.groups,
                    people=one.people,
                )
                for one in found
            ]
        )
    )


@group_api.get("/groups/<name>/rules", responses={200: group_models.RulesOut})
@needs(Level.LOOK, of="roster")
def get_rules(path: models.NamePath) -> Any:
    """Give the placement rules in force with what they come to today."""
    return answer(_rules(path.name, None))


@group_api.post("/groups/<name>/rules/try", responses={200: group_models.RulesOut})
@needs(Level.PREPARE, of="roster")
def post_try_rules(path: models.NamePath, body: group_models.RulesIn) -> Any:
    """Say what other placement rules would come to; nothing is kept."""
    return answer(_rules(path.name, [one.model_dump() for one in body.rules]))


@group_api.post("/groups/<name>/rules/run", responses={201: models.Created})
@needs(Level.PREPARE, of="roster")
def post_run_rules(path: models.NamePath) -> Any:
    """Let the rules move whom they would move, as an intake that is looked at and applied;
    nothing is changed yet.
    """
    return answer(models.Created(intake=run_rules(context(), path.name, account().id)), 201)


def _rules(name: str, rules: list[Any] | None) -> group_models.RulesOut:
    roster, snapshot, here = look_at_rules(context(), name, rules)
    definition = snapshot.definition
    with context().database.transaction() as connection:
        lists = load_codes(connection)
    hides = is_masked(roster.id)

    def names(places: NDArray[np.intp]) -> list[str]:
        values = [snapshot.values(place) for place in places[:NAMES].tolist()]
        return [name_person(definition, one.get) or person_key(definition, one) for one in values]

    def out(one: RuleHere) -> group_models.RuleOut:
        rule, effect = one.rule, one.effect
        code = (
            lists[definition.by_name[rule.field].code_list].by_code.get(rule.value)
            if _coded(definition, rule.field)
            else None
        )
        kept_back = hides and bool(
            {rule.field, *fields_of(rule.when)} & sensitive_fields(definition)
        )
        return group_models.RuleOut(
            when={} if kept_back else rule.when,
            said=COVER if kept_back else say_condition(rule.when, definition.title_of),
            field=rule.field,
            title=definition.title_of(rule.field),
            value=rule.value,
            label=code.label or rule.value if code else rule.value,
            is_on=rule.is_on,
            fits=len(effect.fits),
            there=len(effect.fits) - len(effect.moves) - len(effect.by_hand),
            moves=len(effect.moves),
            by_hand=len(effect.by_hand),
            against=len(effect.against),
            people=[] if kept_back else names(effect.moves),
            kept=[] if kept_back else names(effect.by_hand),
            contested=[] if kept_back else names(effect.against),
        )

    return group_models.RulesOut(number=roster.definition, rules=[out(one) for one in here])


def _coded(definition: Definition, name: str) -> bool:
    return bool(definition.by_name[name].code_list)


@group_api.get("/groups/<name>/<kind>", responses={200: group_models.GroupsOut})
@needs(Level.LOOK, of="roster")
def get_groups(path: group_models.KindPath, query: group_models.DayQuery) -> Any:
    """Give the groups of a kind as they are on a day."""
    opened = _open(path, query.day)
    kind, definition = opened.kind, opened.snapshot.definition
    return answer(
        group_models.GroupsOut(
            roster=opened.roster.name,
            roster_title=opened.roster.title,
            kind=kind.name,
            title=kind.title,
            day=opened.day,
            code_list=definition.by_name[kind.field].code_list,
            level=level_in(opened.roster.id),
            field="" if kind.each or definition.by_name[kind.field].several else kind.field,
            part_fields=[definition.title_of(one) for one in kind.part],
            least=kind.least,
            most=kind.most,
            has_lead=kind.lead is not None,
            has_ages=kind.ages is not None,
            groups=[
                _group(opened, one)
                for one in sorted(opened.found.groups, key=lambda one: -_grant(opened, one).weight)
            ],
            without=len(opened.found.without),
            fields=[
                one.name
                for one in definition.fields
                if one.name not in (*kind.by, *definition.primary_key)
            ],
        )
    )


@group_api.get("/groups/<name>/<kind>/members", responses={200: group_models.MembersOut})
@needs(Level.LOOK, of="roster")
def get_members(path: group_models.KindPath, query: group_models.MembersQuery) -> Any:
    """Give the people of a group, or those who should be in one and are in none."""
    opened = _open(path, query.day)
    key = tuple(query.key)
    group = next((one for one in opened.found.groups if one.key == key), None)
    if key and group is None:
        return answer(group_models.MembersOut(members=[], days=[], sizes=[]))
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
        one = _member(opened, person, place, place in leads, since, origins.get(place))
        members.append(one.model_copy(update={"own": own, "confirmed": at, "confirmer": by}))
    members.sort(key=lambda one: (not one.is_lead, one.name.casefold()))
    days = _days(opened.day) if key and len(opened.snapshot) <= LARGEST_YEAR else []
    sizes = sizes_over_year(context(), path.name, path.kind, key, days)
    return answer(group_models.MembersOut(members=members, days=days, sizes=sizes))


@group_api.post("/groups/<name>/<kind>/confirm", responses={200: models.Done})
@needs(Level.PREPARE, of="roster")
def post_confirm(path: group_models.KindPath, body: group_models.ConfirmIn) -> Any:
    """Tick members off in a review: they are rightly in the group."""
    found = confirm_members(
        context(), path.name, path.kind, tuple(body.key), body.records, account().id
    )
    return answer(models.Done(done=found > 0))


@group_api.post("/groups/<name>/<kind>/spread", responses={200: group_models.SpreadOut})
@needs(Level.PREPARE, of="roster")
def post_spread(path: group_models.KindPath, body: group_models.SpreadIn) -> Any:
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
    found = spread_people(context(), path.name, path.kind, asked)
    place = {int(number): row for row, number in enumerate(opened.snapshot.ids.tolist())}
    return answer(
        group_models.SpreadOut(
            people=len(records),
            stay=found.stay,
            moved=found.moved,
            placed=[_placed(opened, place[number], group) for number, group in found.moves.items()],
            sizes=[
                group_models.SizeOut(
                    key=list(key),
                    label=opened.label(key[-1]),
                    part=opened.part(key),
                    before=size,
                    after=found.after.get(key),
                )
                for key, size in sorted(found.before.items())
            ],
            clashes=found.clashes,
            lacking=len(found.lacking),
            is_least=found.is_least,
        )
    )


@group_api.post("/groups/<name>/<kind>/place", responses={201: models.Created})
@needs(Level.PREPARE, of="roster")
def post_place(path: group_models.KindPath, body: group_models.PlaceIn) -> Any:
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
    return answer(models.Created(intake=number), 201)


def _open(path: group_models.KindPath, day: date | None) -> OpenKind:
    return open_kind(context(), path.name, path.kind, day or context().today())


def _is_kept(opened: OpenKind, name: str) -> bool:
    return name in sensitive_fields(opened.snapshot.definition)


def _chosen(opened: OpenKind, body: group_models.SpreadIn) -> list[int]:
    """List who is to be spread: those named, those of a shortlist, or those of a part who have no
    group.

    Raises:
        WrongPlacing: Nobody is.
    """
    snapshot = opened.snapshot
    if body.records is not None:
        return body.records
    if body.shortlist is not None:
        with context().database.transaction() as connection:
            found = see_shortlist(connection, body.shortlist, snapshot)
            places: NDArray[np.intp] = places_of(connection, found, snapshot, context().today())
    else:
        places = opened.found.without
    for name, value in zip(opened.kind.part, body.part, strict=False):
        places = np.array(
            [one for one in places.tolist() if snapshot.columns[name].at(one) == value], np.intp
        )
    if not len(places):
        raise WrongPlacing("Nobody is without a group there, and nobody else is chosen.")
    return [int(number) for number in snapshot.ids[places]]


def _group(opened: OpenKind, one: Group) -> group_models.GroupOut:
    hides = (
        opened.kind.ages is not None
        and is_masked(opened.roster.id)
        and _is_kept(opened, opened.kind.ages.field)
    )
    bands = opened.kind.ages.bands if opened.kind.ages else ()
    ages = [_say_band(bands[band]) if band < len(bands) else "other ages" for band in one.bands]
    leads = [_name(opened, person) for person in opened.persons(one.leads).tolist()]
    return group_models.GroupOut(
        key=list(one.key),
        label=opened.label(one.key[-1]),
        part=opened.part(one.key),
        size=len(one.members),
        leads=leads,
        ages="" if hides else " and ".join(ages),
        troubles=[trouble for trouble in one.troubles if not (hides and trouble == MIXED)],
        weight=_grant(opened, one).weight if opened.kind.grants else None,
        may=list(_grant(opened, one).may),
    )


def _grant(opened: OpenKind, one: Group) -> Grant:
    return opened.kind.grants.get(one.key[-1], Grant())


def _say_band(band: tuple[int, int]) -> str:
    return f"{band[0]} and over" if band[1] >= 99 else f"{band[0]}–{band[1]}"


def _name(opened: OpenKind, person: int) -> str:
    if person < 0:
        return ""
    values = opened.people.values(person)
    return name_person(opened.people.definition, values.get) or person_key(
        opened.people.definition, values
    )


def _member(
    opened: OpenKind,
    person: int,
    place: int,
    is_lead: bool,
    since: str | None,
    origin: Origin | None,
) -> group_models.MemberOut:
    if person >= 0:
        key = person_key(opened.people.definition, opened.people.values(person))
    # of a membership whose person is not there, or in a roster that may not be seen: as the
    # membership has it
    else:
        key = opened.snapshot.columns[opened.kind.person].at(place) or ""
    number = int(opened.people.ids[person]) if person >= 0 else None
    day = date.fromisoformat(since[:10]) if since else origin.since if origin else None
    why = f"{origin.title}{f' ({origin.by})' if origin.by else ''}" if origin else ""
    change_set = origin.change_set if origin else None
    return group_models.MemberOut(
        record=number,
        key=key,
        name=_name(opened, person),
        is_lead=is_lead,
        since=day,
        why=why,
        change_set=change_set,
        confirmed=None,
        confirmer="",
        own=0,
    )


def _placed(opened: OpenKind, place: int, group: str) -> group_models.PlacedOut:
    snapshot, kind = opened.snapshot, opened.kind
    had = snapshot.columns[kind.field].at(place)
    values = snapshot.values(place)
    return group_models.PlacedOut(
        record=int(snapshot.ids[place]),
        key=person_key(snapshot.definition, values),
        name=_name(opened, place),
        part=opened.part([str(values.get(one, "")) for one in kind.part]),
        had=opened.label(had) if had else "",
        group=group,
        label=opened.label(group),
    )


def _days(day: date) -> list[date]:
    """List the last twelve months' days, the day itself the last."""
    return [day - timedelta(days=30 * back) for back in range(MONTHS - 1, 0, -1)] + [day]
