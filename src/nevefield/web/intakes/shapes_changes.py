"""The shapes of the API about what would change, and applying it."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, FamilyOut, Model, Value

__all__ = [
    "ApplyOut",
    "ChangedPerson",
    "ChangesOut",
    "FamilyDetail",
    "FamilyQuery",
    "FollowedOut",
    "Move",
    "MovedOut",
    "MovedQuery",
    "MovedRow",
]


class MovedQuery(Model):
    """The version of the roster that a plan was looked at on."""

    version: int = Field(ge=0)  # of the roster, as it was looked at


class MovedRow(BaseModel):
    """A row of which the plan is another by now."""

    line: int
    name: str
    before: str  # outcome
    now: str
    fields: list[str]  # titles


class MovedOut(BaseModel):
    """The rows of which the plan is another by now."""

    total: int
    rows: list[MovedRow]  # the first of them


class FollowedOut(BaseModel):
    """A field whose value a placement rule gave."""

    field: str
    title: str
    count: int  # rows that go in with a value that a placement rule gave


class ChangesOut(BaseModel):
    """What would change, by family."""

    families: list[FamilyOut]
    changed: int
    followed: list[FollowedOut] = []


class FamilyQuery(Model):
    """A page of a family of change."""

    family: str = Field(max_length=120)
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class Move(BaseModel):
    """A value that becomes another, and in how many rows."""

    old: str | None
    new: str | None
    count: int


class ChangedPerson(BaseModel):
    """Somebody whom a family of change is about."""

    line: int | None
    record: int | None
    key: str
    name: str
    old: Value
    new: Value
    act: str = ""  # of an absent one: stay, leave, end, hold


class FamilyDetail(BaseModel):
    """A family of change with a page of its people."""

    key: str
    title: str
    total: int
    moves: list[Move]
    people: list[ChangedPerson]
    rule: str = ""  # what becomes of the field's value; "" for families that are no field
    rules: list[str] = []  # that it could be
    kept: int = 0  # rows that were ticked out: the roster's value stays
    before: str | None = None  # of a number: the sum over the records that the file is about
    after: str | None = None
    act: str = ""  # of the absent: what becomes of all of whom nothing else was said
    end_field: str = ""
    end_day: str = ""


class ApplyOut(BaseModel):
    """The job that applies, or the change set that it was applied as already."""

    job: int | None
    change_set: int | None
