"""A destination: an outside system or office, what it is told of which rosters, how and when.

What of a roster goes there is a share: a condition, and a layout of puts. A put fills one field of
theirs from one of ours, from a pattern, or with the same for everybody. What is kept from who may
only look never leaves, unless a put says why it does.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from nevefield.core.borders import Json
from nevefield.core.columns.composing import Pattern
from nevefield.core.conditions import fields_of

__all__ = [
    "GATE_FIELDS",
    "AskedWay",
    "CallWay",
    "Destination",
    "FileWay",
    "GateWay",
    "Membership",
    "Put",
    "ScimWay",
    "Share",
    "Way",
    "When",
]

# what a door is told of a card
GATE_FIELDS = frozenset({"facility", "number", "name", "zones", "until"})
Name = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
FieldName = Annotated[str, Field(max_length=200)]
ClassName = Annotated[str, Field(pattern=r"^[A-Za-z][A-Za-z0-9-]{0,60}$")]
Words = Annotated[str, Field(max_length=400)]
Address = Annotated[str, Field(pattern=r"^https?://[^\s]{1,400}$")]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)


class Put(_Part):
    """What goes into one field of theirs."""

    to: Annotated[str, Field(min_length=1, max_length=200)]
    source: Annotated[FieldName, Field(alias="from")] = ""  # one of our fields
    fill: Words = ""  # the same for everybody
    pattern: Pattern | None = None  # composed of several
    # how a value is written: as it is kept, a code by its label, a day in one of these forms, a
    # yes or no by these letters
    form: Literal[
        "as it is", "label", "01.09.2026", "09/01/2026", "20260901", "true/false", "Y/N", "1/0"
    ] = "as it is"
    codes: dict[str, Words] = {}  # our value -> theirs; others go as they are
    is_needed: bool = False  # who has nothing for it cannot be sent
    because: Words = ""  # why it leaves although it is kept
    width: Annotated[int, Field(ge=0, le=1_000)] = 0  # of a column of fixed width

    @model_validator(mode="after")
    def _is_one(self) -> Self:
        if sum((bool(self.source), bool(self.fill), self.pattern is not None)) > 1:
            raise ValueError("a put is from a field, or composed, or the same for everybody")
        return self

    @property
    def is_unique(self) -> bool:
        """Tell whether what is composed is made so that nobody else has it there."""
        return self.pattern is not None and self.pattern.unique

    def fields(self) -> tuple[str, ...]:
        """List the fields that it takes."""
        if self.pattern is not None:
            return tuple(piece.field for piece in self.pattern.pieces if piece.field)
        return (self.source,) if self.source else ()


class Membership(_Part):
    """A field of ours whose values are groups there."""

    source: Annotated[FieldName, Field(alias="from", min_length=1)]
    before: Annotated[str, Field(max_length=80)] = ""  # words before each group's name
    form: Literal["as it is", "label"] = "label"
    codes: dict[str, Words] = {}
    is_privilege: bool = False  # whoever leaves it is told apart
    because: Words = ""


class Share(_Part):
    """What of one roster goes there."""

    roster: Annotated[str, Field(max_length=100)]
    where: Json = None  # a condition; None for everybody
    puts: Annotated[tuple[Put, ...], Field(min_length=1, max_length=200)]
    groups: Annotated[tuple[Membership, ...], Field(max_length=20)] = ()
    each: FieldName = ""  # in files, a row for each value of this field

    def fields(self) -> frozenset[str]:
        """List the fields of the roster on which something of it rests."""
        names = {name for put in self.puts for name in put.fields()}
        names |= {one.source for one in self.groups}
        if self.where is not None:
            names |= {*fields_of(self.where)}
        return frozenset(names | ({self.each} if self.each else set()))


class FileWay(_Part):
    """A file, laid out as they want it."""

    kind: Literal["file"] = "file"
    format: Literal[
        "csv", "xlsx", "json", "json lines", "ldif", "vcard", "fixed width", "oneroster"
    ] = "csv"
    # {day} and {time} are those of the making
    file_name: Annotated[str, Field(pattern=r"^[^/\\\x00-\x1f]{1,120}$")] = "{day}"
    separator: Literal[",", ";", "\t", "|"] = ","
    encoding: Literal["utf-8", "utf-8-bom", "windows-1252"] = "utf-8"
    several: Annotated[str, Field(max_length=3)] = ";"  # between several values in a cell
    base: Annotated[str, Field(pattern=r"^[^\r\n]{0,400}$")] = ""  # LDIF: below which entries stand
    classes: Annotated[tuple[ClassName, ...], Field(max_length=20)] = ()  # LDIF: what entries are
    # OneRoster: of which school and term it is, days in ISO 8601
    school: Words = ""
    term: Words = ""
    first_day: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    last_day: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    is_fetched: bool = False  # by them, at an address with a token
    into_folder: bool = False  # laid in a folder of the server, from which it is carried on
    only_changes: bool = False  # what changed since the last one, where the format has it


class ScimWay(_Part):
    """Pushed by the System for Cross-domain Identity Management 2.0 (RFC 7643, 7644)."""

    kind: Literal["scim"] = "scim"
    address: Address
    ends: Literal["switch off", "take out"] = "switch off"
    # attributes by which somebody who is there already is found, in this order, and taken for the
    # same; by another than externalId only who has none yet
    finds_by: Annotated[tuple[str, ...], Field(min_length=1, max_length=5)] = ("externalId",)
    at_once: Annotated[int, Field(ge=1, le=16)] = 4  # requests
    # letters that a password has at least which people set there by a link; 0: they set none
    least_password: Annotated[int, Field(ge=0, le=64)] = 0


class GateWay(_Part):
    """Told to gate controllers: which card opens which zones, until when."""

    kind: Literal["gates"] = "gates"
    address: Address


class AskedWay(_Part):
    """They ask us, by the System for Cross-domain Identity Management 2.0 (RFC 7643, 7644)."""

    kind: Literal["asked"] = "asked"
    # what becomes of what they write: nothing, or an intake that somebody looks at
    writes: Literal["refused", "proposed"] = "refused"


class CallWay(_Part):
    """A program of theirs is called at an address with each record that changed, signed."""

    kind: Literal["called"] = "called"
    address: Address


Way = Annotated[FileWay | ScimWay | GateWay | AskedWay | CallWay, Field(discriminator="kind")]


class When(_Part):
    """When it is told."""

    kind: Literal["by hand", "after receipts", "each minute", "at a time"] = "by hand"
    rule: Annotated[str, Field(max_length=100)] = ""  # minute, hour, day, month, weekday; * for any


class Destination(_Part):
    """One destination."""

    name: Name
    title: Annotated[str, Field(min_length=1, max_length=80)]
    way: Way
    shares: Annotated[tuple[Share, ...], Field(min_length=1, max_length=8)]
    when: When = When()
    # the part of those there that may be switched off without somebody's word
    most_ends: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] = 0.2

    def share_of(self, roster: str) -> Share | None:
        """Find what of a roster goes there."""
        return next((share for share in self.shares if share.roster == roster), None)
