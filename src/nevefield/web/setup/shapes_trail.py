"""The shapes of the API about the trail."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model
from nevefield.web.moments import Moment

__all__ = [
    "BrokenOut",
    "LookedLine",
    "LookedOut",
    "LookedQuery",
    "TrailChecked",
    "TrailFileQuery",
    "TrailGroup",
    "TrailLine",
    "TrailOut",
    "TrailQuery",
]


class TrailFileQuery(Model):
    """What of the trail is taken out."""

    group: str = Field("", max_length=20)
    account: int | None = None
    q: str = Field("", max_length=100)
    first: date | None = None
    last: date | None = None


class TrailQuery(TrailFileQuery):
    """What of the trail is looked at."""

    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(100, ge=1, le=500)


class TrailLine(BaseModel):
    """One line of the trail."""

    id: int
    at: Moment
    who: str  # "" for the product itself
    address: str
    words: str  # what was done
    subject: str
    detail: str  # in words
    is_sealed: bool


class LookedQuery(Model):
    """Who looked, at what."""

    account: int | None = None
    roster: str = Field("", max_length=120)
    record: int | None = None
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(100, ge=1, le=500)


class LookedLine(BaseModel):
    """Somebody saw sensitive fields in an hour."""

    hour: Moment
    who: str
    roster: str
    roster_title: str
    record: int | None  # null for a list
    whom: str
    reason: str  # why they were uncovered; "" of who sees them anyway


class LookedOut(BaseModel):
    """A page of who looked at sensitive fields, the last first."""

    total: int
    lines: list[LookedLine]


class TrailGroup(BaseModel):
    """A kind of acts."""

    name: str
    words: str


class TrailOut(BaseModel):
    """A page of the trail, the last line first."""

    total: int
    lines: list[TrailLine]
    groups: list[TrailGroup]


class BrokenOut(BaseModel):
    """A place at which the trail is not what it was."""

    line: int
    said: str


class TrailChecked(BaseModel):
    """Whether the trail is what it was."""

    lines: int
    head: str  # the last seal
    broken: list[BrokenOut]
