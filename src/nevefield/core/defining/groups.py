"""Reading kinds of group and placement rules, as a definition declares them."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.conditions import check_condition, fields_of
from nevefield.core.defining.parts import read_count, refuse_unknown
from nevefield.core.definition import Ages, Grant, GroupKind, Rule
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence

__all__ = ["read_kinds", "read_rules"]

KIND_OWN = (
    "kind",
    "title",
    "by",
    "where",
    "least",
    "most",
    "lead",
    "ages",
    "each",
    "person",
    "from",
    "to",
    "one",
    "grants",
)
AGES_OWN = ("field", "bands", "on")
GRANT_OWN = ("weight", "may")
RULE_OWN = ("when", "field", "value", "off")


def read_kinds(listed: list[Json], names: Collection[str]) -> tuple[GroupKind, ...]:
    """Read the kinds of group that a definition declares.

    Args:
        listed: Their JSON, under `nevefield.groups`.
        names: The roster's fields.

    Raises:
        WrongDefinition: With the place and what would be right.
    """
    kinds: list[GroupKind] = []
    for number, own in enumerate(listed):
        place = f"nevefield.groups[{number}]"
        if not isinstance(own, dict):
            raise WrongDefinition(
                place,
                'is a JSON object such as {"kind": "watch", "by": ["campus", "watch"],'
                ' "least": 8}.',
            )
        refuse_unknown(own, KIND_OWN, place)
        kind = _read_kind(own, place, names)
        if any(other.name == kind.name for other in kinds):
            raise WrongDefinition(
                f"{place}.kind", f"“{kind.name}” is the name of an earlier kind too."
            )
        kinds.append(kind)
    return tuple(kinds)


def _read_kind(own: dict[str, Json], place: str, names: Collection[str]) -> GroupKind:
    name = own.get("kind")
    if not isinstance(name, str) or not name:
        raise WrongDefinition(f"{place}.kind", "is missing: the name of the kind, such as watch.")
    by = own.get("by")
    if not isinstance(by, list) or not by or not all(isinstance(one, str) for one in by):
        raise WrongDefinition(
            f"{place}.by", "is a list of fields, the last of which holds the group's own name."
        )
    fields = {text: own.get(text, "") for text in ("each", "person", "from", "to")}
    named = [(f"by[{number}]", one) for number, one in enumerate(by)] + [
        (key, field) for key, field in fields.items() if field
    ]
    for at, field in named:
        if field not in names:
            raise WrongDefinition(
                f"{place}.{at}", f"there is no field “{field}”; {near(str(field), names)}"
            )
    if bool(fields["each"]) != bool(fields["person"]):
        raise WrongDefinition(
            place, "has each and person together, where a record is a membership, or neither."
        )
    for condition in ("where", "lead"):
        if condition in own:
            check_condition(own[condition], f"{place}.{condition}", names)
    least, most = (
        read_count(own, "least", f"{place}.least") or 0,
        read_count(own, "most", f"{place}.most") or 0,
    )
    if most and most < least:
        raise WrongDefinition(f"{place}.most", f"is {most}, and least is {least}.")
    title = own.get("title", name.capitalize())
    return GroupKind(
        name,
        str(title),
        tuple(by),
        own.get("where"),
        least,
        most,
        own.get("lead"),
        _read_ages(own["ages"], f"{place}.ages", names) if "ages" in own else None,
        fields["each"],
        fields["person"],
        fields["from"],
        fields["to"],
        _read_one(own.get("one", False), f"{place}.one", has_each=bool(fields["each"])),
        _read_grants(own.get("grants", {}), f"{place}.grants"),
    )


def _read_one(own: Json, place: str, *, has_each: bool) -> bool | tuple[str, ...]:
    if isinstance(own, bool) and (has_each or not own):
        return own
    if has_each and isinstance(own, list) and own and all(isinstance(one, str) for one in own):
        return tuple(own)
    raise WrongDefinition(
        place, 'is true, or where a record is a membership a list of kinds, such as ["HOUSE"].'
    )


def _read_grants(own: Json, place: str) -> dict[str, Grant]:
    example = '{"REGIST": {"weight": 3, "may": ["change records"]}}'
    if not isinstance(own, dict) or not all(isinstance(one, dict) for one in own.values()):
        raise WrongDefinition(place, f"is a JSON object such as {example}.")
    grants = {}
    for code, one in own.items():
        refuse_unknown(one, GRANT_OWN, f"{place}.{code}")
        may = one.get("may", [])
        if not isinstance(may, list) or not all(isinstance(said, str) for said in may):
            raise WrongDefinition(f"{place}.{code}.may", "is a list of texts: what it allows.")
        grants[code] = Grant(read_count(one, "weight", f"{place}.{code}.weight") or 0, tuple(may))
    return grants


def _read_ages(own: Json, place: str, names: Collection[str]) -> Ages:
    if not isinstance(own, dict):
        raise WrongDefinition(
            place, 'is a JSON object such as {"field": "born", "bands": [[16, 17], [18, 99]]}.'
        )
    refuse_unknown(own, AGES_OWN, place)
    if own.get("field") not in names:
        raise WrongDefinition(
            f"{place}.field",
            f"there is no field “{own.get('field')}”; {near(str(own.get('field')), names)}",
        )
    bands = own.get("bands")
    if not isinstance(bands, list) or not bands or not all(map(_is_band, bands)):
        raise WrongDefinition(
            f"{place}.bands", "is a list of two ages each, such as [[16, 17], [18, 99]]."
        )
    try:
        on = date.fromisoformat(own["on"]) if own.get("on", "today") != "today" else None
    except (TypeError, ValueError) as error:
        raise WrongDefinition(f"{place}.on", "is a day such as 2026-09-01, or today.") from error
    return Ages(own["field"], tuple((low, high) for low, high in bands), on)


def _is_band(value: Json) -> bool:
    return (
        isinstance(value, list) and len(value) == 2 and all(isinstance(age, int) for age in value)
    )


def read_rules(listed: Sequence[Json], names: Collection[str]) -> tuple[Rule, ...]:
    """Read the placement rules of a definition.

    Args:
        listed: Their JSON, under `nevefield.placement`.
        names: The roster's fields.

    Raises:
        WrongDefinition: With the place and what would be right.
    """
    return tuple(
        _read_rule(own, f"nevefield.placement[{number}]", names)
        for number, own in enumerate(listed)
    )


def _read_rule(own: Json, place: str, names: Collection[str]) -> Rule:
    if not isinstance(own, dict):
        raise WrongDefinition(
            place, 'is a JSON object such as {"when": {...}, "field": "watch", "value": "SKUA"}.'
        )
    refuse_unknown(own, RULE_OWN, place)
    if not isinstance(own.get("field"), str) or own["field"] not in names:
        raise WrongDefinition(
            f"{place}.field",
            f"there is no field “{own.get('field')}”; {near(str(own.get('field')), names)}",
        )
    if not isinstance(own.get("value"), str) or not own["value"]:
        raise WrongDefinition(f"{place}.value", "is missing: what the field is to be.")
    if not isinstance(own.get("off", False), bool):
        raise WrongDefinition(f"{place}.off", "is true or false.")
    check_condition(own.get("when"), f"{place}.when", names)
    if own["field"] in fields_of(own["when"]):
        raise WrongDefinition(
            f"{place}.when",
            f"reads {own['field']}, which the rule itself sets: it would never come to rest.",
        )
    return Rule(own["when"], own["field"], own["value"], not own.get("off", False))
