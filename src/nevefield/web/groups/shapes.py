"""The shapes of the API about groups, and placement rules."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "ConfirmIn",
    "DayQuery",
    "GroupKindList",
    "GroupKindOut",
    "GroupOut",
    "GroupsOut",
    "KindPath",
    "MemberOut",
    "MembersOut",
    "MembersQuery",
    "PlaceIn",
    "PlacedOut",
    "RuleIn",
    "RuleOut",
    "RulesIn",
    "RulesOut",
    "SizeOut",
    "SpreadIn",
    "SpreadOut",
]


class RuleIn(Model):
    """A placement rule."""

    when: dict[str, Any]
    field: str
    value: str
    off: bool = False


class RulesIn(Model):
    """Placement rules, in their order."""

    rules: list[RuleIn] = Field(max_length=200)


class RuleOut(BaseModel):
    """A placement rule, and what it comes to."""

    when: dict[str, Any]
    said: str  # the condition in words
    field: str
    title: str
    value: str
    label: str
    is_on: bool
    fits: int  # for whom it decides
    there: int  # who have it already
    moves: int
    by_hand: int  # who were placed elsewhere by hand, and stay
    against: int  # whom an earlier rule puts elsewhere
    people: list[str]  # who would be moved, the first of them
    kept: list[str]  # who stay by hand
    contested: list[str]  # whom an earlier rule puts elsewhere


class RulesOut(BaseModel):
    """The placement rules of a roster."""

    number: int  # of the definition that they are of
    rules: list[RuleOut]


class KindPath(Model):
    """A path to a kind of group."""

    name: str
    kind: str


class DayQuery(Model):
    """A day; today without one."""

    day: date | None = None


class MembersQuery(DayQuery):
    """A group on a day."""

    key: list[str] = []  # of the group; none for those who are in no group


class GroupKindOut(BaseModel):
    """A kind of group, counted."""

    roster: str
    roster_title: str
    kind: str
    title: str
    groups: int
    people: int


class GroupKindList(BaseModel):
    """The kinds of group that one may see."""

    kinds: list[GroupKindOut]


class GroupOut(BaseModel):
    """A group."""

    key: list[str]
    label: str  # of its own name
    part: str  # what it belongs to, in words
    size: int
    leads: list[str]  # their names
    ages: str  # the band of ages, in words
    troubles: list[str]
    # of a role: the higher, the more it gives; null where the kind gives nothing
    weight: int | None
    may: list[str]  # what it gives, in words


class GroupsOut(BaseModel):
    """The groups of a kind on a day."""

    code_list: str  # in which the groups' own names are kept; "" when they are no codes
    roster: str
    roster_title: str
    kind: str
    title: str
    day: date
    level: int
    field: str  # that says the group; "" where a record is a membership
    part_fields: list[str]  # titles
    least: int
    most: int  # 0: any
    has_lead: bool
    has_ages: bool
    groups: list[GroupOut]
    without: int
    # names of the fields by which people can be spread evenly, kept apart or together
    fields: list[str]


class MemberOut(BaseModel):
    """Somebody in a group."""

    record: int | None  # of the person
    key: str
    name: str
    is_lead: bool
    since: date | None
    why: str  # through what: a file, a hand, with who did it
    change_set: int | None
    confirmed: Moment | None  # when somebody ticked them off last as rightly there
    confirmer: str
    own: int  # the number of the record that says it: the person's, or the membership's


class ConfirmIn(Model):
    """Members of a group who are ticked off as rightly there."""

    key: list[str]
    records: list[int] = Field(max_length=100_000)  # as `own`


class MembersOut(BaseModel):
    """The members of a group, and its size over the year."""

    members: list[MemberOut]
    days: list[date]  # with `sizes`: how many there were, over the year
    sizes: list[int]


class SpreadIn(Model):
    """Whom to spread over which groups, by what."""

    records: list[int] | None = Field(None, max_length=20_000)
    shortlist: int | None = None
    # only those of this part; with neither records nor shortlist: those of it who have no group
    part: list[str] = []
    groups: list[str] = []
    anew: bool = False
    even: list[str] = Field([], max_length=6)
    apart: list[str] = Field([], max_length=3)
    together: list[str] = Field([], max_length=3)
    sizes: bool = True
    one_band: bool = True


class PlacedOut(BaseModel):
    """Somebody who gets a group."""

    record: int
    key: str
    name: str
    part: str
    had: str
    group: str
    label: str


class SizeOut(BaseModel):
    """The size of a group before and after."""

    key: list[str]
    label: str
    part: str
    before: int
    after: int | None  # null where the conditions of its part clash


class SpreadOut(BaseModel):
    """What spreading comes to."""

    people: int
    stay: int
    moved: int  # who leave the group of today
    placed: list[PlacedOut]  # who get a group, or another one
    sizes: list[SizeOut]
    clashes: list[str]
    lacking: int  # people whose part is not known
    is_least: bool  # whether it is proven that fewer moves cannot do


class PlaceIn(Model):
    """Who goes into which group."""

    # by record, as `own` of members, the group's own name
    moves: dict[int, str] = Field(min_length=1, max_length=100_000)
    # by record the group that is left, where there may be several
    leaving: dict[int, str] = Field({}, max_length=100_000)
    is_spread: bool = False
