"""The shapes of the API about rosters and their records."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, FamilyOut, FieldChange, Model, Value
from nevefield.web.moments import Moment

__all__ = [
    "AheadOut",
    "CompareQuery",
    "ComparedOut",
    "ComparedPerson",
    "EditIn",
    "EditOut",
    "ExportQuery",
    "FieldOut",
    "LifeEntry",
    "LifeOut",
    "RecordRow",
    "RecordsOut",
    "RecordsQuery",
    "RequestSheetQuery",
    "RosterList",
    "RosterOut",
]


class FieldOut(BaseModel):
    """A field of a roster, as a page needs it."""

    name: str
    title: str
    type: str
    code_list: str
    several: bool
    required: bool
    is_key: bool
    mono: bool
    means: str
    owner: str  # the office that owns it
    is_mail: bool  # has mail addresses
    is_kept: bool  # from who may only look


class RosterOut(BaseModel):
    """A roster with its fields."""

    name: str
    title: str
    version: int
    records: int
    level: int
    within: str  # the part of it that one has, in words; "" for all of it
    is_covered: bool  # it has sensitive fields, which are covered for one
    uncovered_until: Moment | None  # they are uncovered for a task
    fields: list[FieldOut]


class UncoverIn(Model):
    """For which task sensitive fields are to be uncovered."""

    reason: str = Field(max_length=500)


class UncoveredOut(BaseModel):
    """Until when they are uncovered."""

    until: Moment


class RosterList(BaseModel):
    """The rosters that one may see."""

    rosters: list[RosterOut]


class RecordsQuery(Model):
    """Which records, in which order, as of which day."""

    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(100, ge=1, le=1000)
    sort: str = ""
    down: bool = False
    q: str = Field("", max_length=200)
    filter: list[str] = []
    as_of: date | None = None
    shortlist: int | None = None


class RecordRow(BaseModel):
    """A record."""

    id: int
    ended: bool  # the last day is over
    name: str  # of the person whom the record refers to, where it has no name of its own
    values: dict[str, Value]


class RecordsOut(BaseModel):
    """A page of records."""

    total: int
    of: int
    ended: int  # of all records, those whose last day is over
    version: int
    rows: list[RecordRow]


class LifeEntry(BaseModel):
    """What one change set made of a record."""

    version: int
    at: Moment
    by: str
    kind: str
    title: str
    change_set: int
    intake: int | None
    file: str
    line: int | None
    changes: list[FieldChange]


class AheadOut(BaseModel):
    """What waits for its day and would alter a record."""

    day: date
    title: str
    by: str
    intake: int
    leaves: bool
    changes: list[FieldChange]


class LifeOut(BaseModel):
    """A record with everything that ever became of it."""

    id: int
    roster: str
    roster_title: str
    name: str
    is_current: bool
    values: dict[str, Value]
    life: list[LifeEntry]
    ahead: list[AheadOut]  # what waits for its day


class CompareQuery(Model):
    """Two states of a roster that are compared, and a page of a family of their differences."""

    old: str = Field("today", max_length=40)  # today, day:2026-08-31, intake:7
    new: str = Field("today", max_length=40)
    family: str = Field("", max_length=120)  # joined, absent or a field; "" for the largest
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class ComparedPerson(BaseModel):
    """Somebody in whom two states differ."""

    record: int | None  # null where the state is a file
    line: int | None  # of the file
    key: str
    name: str
    old: Value
    new: Value


class ComparedOut(BaseModel):
    """In what two states of a roster differ."""

    old: str  # what was compared, worded
    new: str
    families: list[FamilyOut]  # joined, absent, then fields
    changed: int  # records of which any field differs
    same: int
    family: str
    total: int
    people: list[ComparedPerson]


class EditIn(Model):
    """Values typed into a record."""

    # by field the text as typed; "" empties it
    values: dict[str, str] = Field(min_length=1, max_length=200)
    reason: str = Field("", max_length=1000)
    until: date | None = None  # the last day of a privilege that is gained; null for good
    day: date | None = None  # from which it is to hold; null for at once


class EditOut(BaseModel):
    """What became of an edit: done, proposed, or put off to its day."""

    intake: int
    change_set: int | None
    proposal: int | None
    scheduled: int | None


class RequestSheetQuery(Model):
    """Which fields a request sheet asks for, and of whom."""

    format: Literal["xlsx", "csv"] = "xlsx"
    owner: str = Field("", max_length=120)
    source: str = Field("", max_length=120)  # whom it is made for
    field: list[str] = Field([], max_length=500)


class ExportQuery(Model):
    """Which records to give as a file, in which format."""

    format: Literal["csv", "xlsx", "json"] = "csv"
    as_of: date | None = None
    shortlist: int | None = None
