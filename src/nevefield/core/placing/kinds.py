"""Kinds of group, as a definition declares them: which fields say the group, who is in one, and what each must keep to."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Any

from nevefield.core.conditions import check_condition, fields_of
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

__all__ = ["Ages", "Grant", "GroupKind", "read_kinds"]

OWN = ("kind", "title", "by", "where", "least", "most", "lead", "ages", "each", "person", "from", "to", "one", "grants")
AGES_OWN = ("field", "bands", "on")
GRANT_OWN = ("weight", "may")


@dataclass(frozen=True)
class Ages:
    """Bands of ages of which a group holds one only."""

    field: str  # day of birth
    bands: tuple[tuple[int, int], ...]  # whole years, both inclusive
    on: date | None = None  # None: the day that is looked at


@dataclass(frozen=True)
class Grant:
    """What being in a group gives: a role is a group that gives privileges."""

    weight: int = 0  # the higher, the more it gives; the lowest is for everybody
    may: tuple[str, ...] = ()  # in words


@dataclass(frozen=True)
class GroupKind:
    """A family of groups.

    As a rule a record is a person and its fields say the group. Where a record is a membership, `each` is the field that says the
    kind, and `person`, `first` and `last` are those that say whose it is and on which days.
    """

    name: str
    title: str
    by: tuple[str, ...]  # the fields that say the group together; the last one is its own name, those before it the part
    where: Any = None  # a condition: who should be in one; None for everybody
    least: int = 0
    most: int = 0  # 0: as many as there are
    lead: Any = None  # a condition: who leads; exactly one in each group
    ages: Ages | None = None
    each: str = ""
    person: str = ""
    first: str = ""
    last: str = ""
    one: bool | tuple[str, ...] = False  # one person is in one group of it at a time; of memberships, the kinds that are so
    grants: Mapping[str, Grant] = dataclasses.field(default_factory=dict)  # by a group's own name

    @property
    def field(self) -> str:
        """The field that takes the group's own name."""
        return self.by[-1]

    @property
    def reads(self) -> frozenset[str]:
        """The fields that tell who is in which group, who should be and who leads."""
        conditions = [fields_of(one) for one in (self.where, self.lead) if one is not None]
        days = {name for name in (self.each, self.first, self.last) if name}
        return frozenset(self.by).union(days, *conditions)

    def allows_one(self, value: str) -> bool:
        """Tell whether somebody is in one group at a time, of the kind that a value of `each` stands for."""
        return self.one if isinstance(self.one, bool) else value in self.one

    @property
    def part(self) -> tuple[str, ...]:
        """The fields that say which part of the institution a group belongs to."""
        return self.by[:-1]


def read_kinds(listed: list[Any], names: Collection[str]) -> tuple[GroupKind, ...]:
    """Read the kinds of group that a definition declares.

    Args:
        listed: Their JSON, under `nevefield.groups`.
        names: The roster's fields.

    Raises:
        WrongDefinition: With the place and what would be right.
    """
    found: list[GroupKind] = []
    for number, own in enumerate(listed):
        place = f"nevefield.groups[{number}]"
        if not isinstance(own, dict):
            raise WrongDefinition(place, 'is a JSON object such as {"kind": "watch", "by": ["campus", "watch"], "least": 8}.')
        _refuse_unknown(own, OWN, place)
        one = _read_kind(own, place, names)
        if any(other.name == one.name for other in found):
            raise WrongDefinition(f"{place}.kind", f"{one.name!r} is the name of an earlier kind too.")
        found.append(one)
    return tuple(found)


def _read_kind(own: dict[str, Any], place: str, names: Collection[str]) -> GroupKind:
    name = own.get("kind")
    if not isinstance(name, str) or not name:
        raise WrongDefinition(f"{place}.kind", "is missing: the name of the kind, such as watch.")
    by = own.get("by")
    if not isinstance(by, list) or not by or not all(isinstance(one, str) for one in by):
        raise WrongDefinition(f"{place}.by", "is a list of fields, the last of which holds the group's own name.")
    fields = {one: own.get(one, "") for one in ("each", "person", "from", "to")}
    named = [(f"by[{number}]", one) for number, one in enumerate(by)] + [(key, one) for key, one in fields.items() if one]
    for at, field in named:
        if field not in names:
            raise WrongDefinition(f"{place}.{at}", f"there is no field {field!r}; {near(str(field), names)}")
    if bool(fields["each"]) != bool(fields["person"]):
        raise WrongDefinition(place, "has each and person together, where a record is a membership, or neither.")
    for condition in ("where", "lead"):
        if condition in own:
            check_condition(own[condition], f"{place}.{condition}", names)
    least, most = _count(own, "least", place), _count(own, "most", place)
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


def _read_one(own: Any, place: str, *, has_each: bool) -> bool | tuple[str, ...]:
    if isinstance(own, bool) and (has_each or not own):
        return own
    if has_each and isinstance(own, list) and own and all(isinstance(one, str) for one in own):
        return tuple(own)
    raise WrongDefinition(place, 'is true, or where a record is a membership a list of kinds, such as ["HOUSE"].')


def _read_grants(own: Any, place: str) -> dict[str, Grant]:
    example = '{"REGIST": {"weight": 3, "may": ["change records"]}}'
    if not isinstance(own, dict) or not all(isinstance(one, dict) for one in own.values()):
        raise WrongDefinition(place, f"is a JSON object such as {example}.")
    found = {}
    for code, one in own.items():
        _refuse_unknown(one, GRANT_OWN, f"{place}.{code}")
        may = one.get("may", [])
        if not isinstance(may, list) or not all(isinstance(said, str) for said in may):
            raise WrongDefinition(f"{place}.{code}.may", "is a list of texts: what it allows.")
        found[code] = Grant(_count(one, "weight", f"{place}.{code}"), tuple(may))
    return found


def _read_ages(own: Any, place: str, names: Collection[str]) -> Ages:
    if not isinstance(own, dict):
        raise WrongDefinition(place, 'is a JSON object such as {"field": "born", "bands": [[16, 17], [18, 99]]}.')
    _refuse_unknown(own, AGES_OWN, place)
    if own.get("field") not in names:
        raise WrongDefinition(f"{place}.field", f"there is no field {own.get('field')!r}; {near(str(own.get('field')), names)}")
    bands = own.get("bands")
    if not isinstance(bands, list) or not bands or not all(map(_is_band, bands)):
        raise WrongDefinition(f"{place}.bands", "is a list of two ages each, such as [[16, 17], [18, 99]].")
    try:
        on = date.fromisoformat(own["on"]) if own.get("on", "today") != "today" else None
    except (TypeError, ValueError) as error:
        raise WrongDefinition(f"{place}.on", "is a day such as 2026-09-01, or today.") from error
    return Ages(own["field"], tuple((low, high) for low, high in bands), on)


def _is_band(one: Any) -> bool:
    return isinstance(one, list) and len(one) == 2 and all(isinstance(age, int) for age in one)


def _count(own: dict[str, Any], name: str, place: str) -> int:
    value = own.get(name, 0)
    if isinstance(value, bool) or not isinstance(value, int) or value < 0:
        raise WrongDefinition(f"{place}.{name}", "is a whole number from 0 on.")
    return value


def _refuse_unknown(own: dict[str, Any], known: Collection[str], place: str) -> None:
    for name in own:
        if name not in known:
            raise WrongDefinition(f"{place}.{name}", near(name, known))
