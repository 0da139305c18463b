"""Groups and placement rules as the API gives them."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.conditions import fields_of, say_condition
from nevefield.core.definition import Grant
from nevefield.core.masking import COVER, sensitive_fields
from nevefield.core.placing.groups import MIXED
from nevefield.groups.looking import (
    OpenKind,
    Origin,
)
from nevefield.groups.placing import (
    RuleHere,
    look_at_rules,
)
from nevefield.rosters.coding import list_codes
from nevefield.web.access import context, is_masked
from nevefield.web.groups import shapes

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.placing.groups import Group

__all__ = ["grant_of", "group_answer", "member_answer", "placed_answer", "rules_answer"]

NAMES = 20  # that are told with a rule


def rules_answer(name: str, rules: list[Any] | None) -> shapes.RulesOut:
    roster, snapshot, here = look_at_rules(context(), name, rules)
    definition = snapshot.definition
    lists = list_codes(context())
    hides = is_masked(roster.id)

    def names(places: NDArray[np.intp]) -> list[str]:
        values = [snapshot.values(place) for place in places[:NAMES].tolist()]
        return [
            name_person(definition, value.get) or person_key(definition, value) for value in values
        ]

    def out(one: RuleHere) -> shapes.RuleOut:
        rule, effect = one.rule, one.effect
        code = (
            lists[definition.by_name[rule.field].code_list].by_code.get(rule.value)
            if _coded(definition, rule.field)
            else None
        )
        kept_back = hides and bool(
            {rule.field, *fields_of(rule.when)} & sensitive_fields(definition)
        )
        return shapes.RuleOut(
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

    return shapes.RulesOut(number=roster.definition, rules=[out(rule) for rule in here])


def _coded(definition: Definition, name: str) -> bool:
    return bool(definition.by_name[name].code_list)


def group_answer(opened: OpenKind, group: Group) -> shapes.GroupOut:
    hides = (
        opened.kind.ages is not None
        and is_masked(opened.roster.id)
        and _is_kept(opened, opened.kind.ages.field)
    )
    bands = opened.kind.ages.bands if opened.kind.ages else ()
    ages = [_say_band(bands[band]) if band < len(bands) else "other ages" for band in group.bands]
    leads = [_name(opened, person) for person in opened.persons(group.leads).tolist()]
    return shapes.GroupOut(
        key=list(group.key),
        label=opened.label(group.key[-1]),
        part=opened.part(group.key),
        size=len(group.members),
        leads=leads,
        ages="" if hides else " and ".join(ages),
        troubles=[trouble for trouble in group.troubles if not (hides and trouble == MIXED)],
        weight=grant_of(opened, group).weight if opened.kind.grants else None,
        may=list(grant_of(opened, group).may),
    )


def grant_of(opened: OpenKind, group: Group) -> Grant:
    return opened.kind.grants.get(group.key[-1], Grant())


def _say_band(band: tuple[int, int]) -> str:
    return f"{band[0]} and over" if band[1] >= 99 else f"{band[0]}–{band[1]}"


def _name(opened: OpenKind, person: int) -> str:
    if person < 0:
        return ""
    values = opened.people.values(person)
    return name_person(opened.people.definition, values.get) or person_key(
        opened.people.definition, values
    )


def member_answer(
    opened: OpenKind,
    person: int,
    place: int,
    is_lead: bool,
    since: str | None,
    origin: Origin | None,
) -> shapes.MemberOut:
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
    return shapes.MemberOut(
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


def placed_answer(opened: OpenKind, place: int, group: str) -> shapes.PlacedOut:
    snapshot, kind = opened.snapshot, opened.kind
    had = snapshot.columns[kind.field].at(place)
    values = snapshot.values(place)
    return shapes.PlacedOut(
        record=int(snapshot.ids[place]),
        key=person_key(snapshot.definition, values),
        name=_name(opened, place),
        part=opened.part([str(values.get(name, "")) for name in kind.part]),
        had=opened.label(had) if had else "",
        group=group,
        label=opened.label(group),
    )


def _is_kept(opened: OpenKind, name: str) -> bool:
    return name in sensitive_fields(opened.snapshot.definition)
