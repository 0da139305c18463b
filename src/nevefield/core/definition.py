"""A roster's definition: a Table Schema document with our own properties under `nevefield`, read by
`defining`.

Source: Table Schema, Data Package standard (https://datapackage.org/standard/table-schema/), and
our `docs/definition.md`.
"""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.conditions import fields_of
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date

__all__ = [
    "COUNTING",
    "UPDATES",
    "Ages",
    "Approval",
    "Check",
    "Definition",
    "Field",
    "ForeignKey",
    "Grant",
    "GroupKind",
    "Identifier",
    "Names",
    "Rule",
]

UPDATES = ("filled", "file", "ours", "blanks", "add", "remove")
COUNTING = 4  # of them are for every field; those behind are for numbers and several values


@dataclass(frozen=True)
class Identifier:
    """How an identifier is built; `length` counts all of it, prefix and check character
    included.
    """

    length: int = 0  # 0: any
    prefix: str = ""
    alphabet: str = ""  # characters between prefix and check; "": any
    check: str = ""  # name of the scheme; "": none
    whole: bool = False  # the check is worked out over the prefix too
    weights: tuple[int, ...] = ()
    modulus: int = 0


@dataclass(frozen=True)
class Field:
    """One field of a roster."""

    name: str
    title: str
    type: str = "string"
    format: str = "default"
    required: bool = False
    unique: bool = False
    minimum: str = ""
    maximum: str = ""
    min_length: int | None = None
    max_length: int | None = None
    pattern: str = ""
    enum: tuple[str, ...] = ()
    aliases: tuple[str, ...] = ()
    identifier: Identifier | None = None
    code_list: str = ""
    parent: str = ""  # the field whose code must be the parent of this one's
    several: str = ""  # separator between several values in a cell; "": one value
    kind: str = ""  # "phone"
    region: str = ""  # of a phone number without its country, ISO 3166-1
    means: str = ""  # what the field is about a person
    owner: str = ""  # the office that owns the field
    sensitive: bool = False
    update: str = ""  # the update rule that holds unless somebody says otherwise; "": see `rule`
    on_day: str = ""  # the field whose day a code must be in use on; "": today
    form: Field | None = None  # the field that it refers to: values are compared as that one's are

    @property
    def rule(self) -> str:
        """The update rule that holds unless somebody says otherwise: a file takes nothing away
        that it does not name.
        """
        return self.update or ("add" if self.several else "filled")

    def typed(self, text: str | None) -> str:
        """Give a value that is kept as somebody types it: several with their separator."""
        return (text or "").replace(SEVERAL, self.several) if self.several else text or ""

    @property
    def is_mail(self) -> bool:
        """Tell whether the field holds mail addresses."""
        return self.type == "string" and self.format == "email"

    @property
    def is_telling(self) -> bool:
        """Tell whether the field's texts can be told from others by what they look like: mail
        addresses, phone numbers.
        """
        return self.is_mail or self.kind == "phone"

    @property
    def folds_case(self) -> bool:
        """Tell whether values that differ only in case are the same: mail addresses, codes,
        identifiers.
        """
        return self.is_mail or bool(self.code_list) or self.identifier is not None


@dataclass(frozen=True)
class Names:
    """What the options of a declared check name."""

    conditions: tuple[str, ...] = ()  # fields that its conditions read
    fields: tuple[str, ...] = ()  # fields that its other options name
    lists: tuple[tuple[str, str], ...] = ()  # option and code list
    rosters: tuple[tuple[str, str], ...] = ()  # another roster, and the field there


@dataclass(frozen=True)
class Check:
    """One declared check; what it takes is in `checking.catalog`."""

    check: str
    fields: tuple[str, ...]
    weight: str = "stop"
    options: dict[str, Json] = field(default_factory=dict)
    text: str = ""  # its own words, in place of ours
    id: str = ""  # a name by which it is spoken of
    names: Names = Names()  # what its options name

    @property
    def reads(self) -> tuple[str, ...]:
        """The fields that it looks at, each once: those that decide first, of those named the
        last (a group's own name) first.
        """
        return tuple(
            dict.fromkeys([*self.names.conditions, *self.fields, *reversed(self.names.fields)])
        )

    def reads_for(self, name: str) -> tuple[str, ...]:
        """List what it looks at for one of its fields alone."""
        return tuple(dict.fromkeys([*self.names.conditions, name]))


@dataclass(frozen=True)
class ForeignKey:
    """Fields that refer to a record of this roster (`resource` "") or another."""

    fields: tuple[str, ...]
    resource: str
    target: tuple[str, ...]
    hierarchy: bool = False  # it goes up a tree: following it must lead in no circle


@dataclass(frozen=True)
class Approval:
    """When a second account has to approve before a roster is altered."""

    least: int | None = None  # from so many altered records on; None: never for their number
    raising: bool = False  # when somebody gains a privilege above the lowest

    def why(self, altered: int, raised: int = 0) -> str:
        """Say why a second account has to approve; "" when none has to.

        Args:
            altered: How many records are altered.
            raised: How many people gain a privilege.
        """
        messages = []
        if self.least is not None and altered >= self.least:
            size = (
                "every change" if self.least == 1 else f"a change of {self.least:,} records or more"
            )
            messages.append(f"{size} of this roster needs a second person")
        if self.raising and raised:
            messages.append(
                f"{raised:,} {'person gains' if raised == 1 else 'people gain'} a privilege, which"
                " needs a second person"
            )
        return " and ".join(messages)


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

    As a rule a record is a person and its fields say the group. Where a record is a membership,
    `each` is the field that says the kind, and `person`, `first` and `last` are those that say
    whose it is and on which days.
    """

    name: str
    title: str
    # the fields that say the group together; the last one is its own name, those before it the part
    by: tuple[str, ...]
    where: Json = None  # a condition: who should be in one; None for everybody
    least: int = 0
    most: int = 0  # 0: as many as there are
    lead: Json = None  # a condition: who leads; exactly one in each group
    ages: Ages | None = None
    each: str = ""
    person: str = ""
    first: str = ""
    last: str = ""
    # one person is in one group of it at a time; of memberships, the kinds that are so
    one: bool | tuple[str, ...] = False
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
        """Tell whether somebody is in one group at a time, of the kind that a value of `each`
        stands for.
        """
        return self.one if isinstance(self.one, bool) else value in self.one

    @property
    def part(self) -> tuple[str, ...]:
        """The fields that say which part of the institution a group belongs to."""
        return self.by[:-1]


@dataclass(frozen=True)
class Rule:
    """One placement rule: what a field is to be where a condition holds."""

    when: Json  # a condition
    field: str
    value: str  # of the field; where it takes several, one of them
    is_on: bool = True


@dataclass(frozen=True)
class Definition:
    """A roster's fields, keys and checks."""

    name: str
    title: str
    fields: tuple[Field, ...]
    primary_key: tuple[str, ...] = ()
    unique_keys: tuple[tuple[str, ...], ...] = ()
    missing_values: tuple[str, ...] = ("",)
    foreign_keys: tuple[ForeignKey, ...] = ()
    keys: tuple[tuple[str, ...], ...] = ()  # each alone is enough to know a record
    checks: tuple[Check, ...] = ()
    likeness: bool = True  # people are told by likeness where no key says who they are
    approval: Approval = Approval()  # when a second account has to approve
    groups: tuple[GroupKind, ...] = ()  # kinds of group that its fields say
    placement: tuple[Rule, ...] = ()  # what follows from a record, from the top
    # from which score on likeness settles it, and up to which it is nobody
    limits: tuple[float, float] = (98.0, 4.0)
    document: dict[str, Json] = field(default_factory=dict, compare=False)

    @cached_property
    def by_name(self) -> dict[str, Field]:
        """Find a field by its name."""
        return {field.name: field for field in self.fields}

    @cached_property
    def possible_keys(self) -> tuple[tuple[str, ...], ...]:
        """List what people can be known by: the keys, then every other field or fields together
        that only one person has.
        """
        singles = [(field.name,) for field in self.fields if field.unique]
        return tuple(dict.fromkeys([*self.keys, *singles, *self.unique_keys]))

    @cached_property
    def telling(self) -> tuple[Field, ...]:
        """List the fields whose texts can be told from others by what they look like."""
        return tuple(field for field in self.fields if field.is_telling)

    @cached_property
    def missing(self) -> frozenset[str]:
        """List the texts that count as nothing there."""
        return frozenset(self.missing_values) | {""}

    def title_of(self, name: str) -> str:
        """Name a field for a person."""
        return self.by_name[name].title
