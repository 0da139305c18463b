"""The shapes of the API about shortlists, and changing many records at once."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "ActIn",
    "ChangeManyIn",
    "ShortlistIn",
    "ShortlistList",
    "ShortlistOut",
    "ShortlistPath",
    "ShortlistRecords",
]


class ShortlistPath(Model):
    """A path to a shortlist."""

    shortlist_id: int


class ShortlistIn(Model):
    """A shortlist to be kept: of records, of what a file brought, or live by a condition."""

    title: str = Field(max_length=120)
    records: list[int] = Field([], max_length=1_000_000)
    change_set: int | None = None  # of those that it brought
    outcome: str = "new"
    live: dict[str, Any] | None = None  # a condition
    q: str = ""  # of those with these words
    filter: list[str] = []
    is_shared: bool = True


class ShortlistRecords(Model):
    """Records to put on a shortlist, and records to take off."""

    add: list[int] = Field([], max_length=1_000_000)
    remove: list[int] = Field([], max_length=1_000_000)


class ShortlistOut(BaseModel):
    """A shortlist, and how many it holds today."""

    id: int
    title: str
    live: dict[str, Any] | None
    said: str  # the condition in words
    is_shared: bool
    by: str
    at: Moment
    count: int


class ShortlistList(BaseModel):
    """The shortlists of a roster."""

    shortlists: list[ShortlistOut]


class ActIn(Model):
    """One act on a field of many records."""

    field: str
    act: str  # set, blank, add, take, plus, minus, replace
    value: str = Field("", max_length=10_000)
    find: str = Field("", max_length=1_000)


class ChangeManyIn(Model):
    """Acts on many records, and which records."""

    acts: list[ActIn] = Field(min_length=1, max_length=50)
    records: list[int] | None = Field(None, max_length=1_000_000)
    shortlist: int | None = None
    q: str = ""
    filter: list[str] = []
    everybody: bool = False  # all of the roster
    title: str = Field("", max_length=200)
    work: str = ""  # to ask how far it is
