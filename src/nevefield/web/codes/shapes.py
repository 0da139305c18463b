"""The shapes of the API about code lists."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, Field

from nevefield.web.common import Model

__all__ = [
    "CodeInUse",
    "CodeListBrief",
    "CodeListIn",
    "CodeListOut",
    "CodeLists",
    "CodeOut",
    "CodesCompared",
    "ListBegun",
    "ListIn",
    "MergeDone",
    "MergeIn",
    "MergedOut",
]


class CodeOut(BaseModel):
    """A code."""

    code: str = Field(max_length=80, min_length=1)
    label: str = Field("", max_length=200)
    parent: str = Field("", max_length=80)
    aliases: list[str] = []
    first_day: date | None = None
    last_day: date | None = None


class CodeInUse(CodeOut):
    """A code, and how many records have it."""

    used: int


class CodeListOut(BaseModel):
    """A code list, and what uses it."""

    name: str
    title: str
    version: int
    used_in: list[str]
    codes: list[CodeInUse]


class CodeListBrief(BaseModel):
    """A code list in a list of them."""

    name: str
    title: str
    codes: int
    used_in: list[str]


class CodeLists(BaseModel):
    """The code lists."""

    lists: list[CodeListBrief]


class MergeIn(Model):
    """A code that is merged into another, or retired in its favour."""

    code: str = Field(max_length=80)
    into: str = Field(max_length=80)
    retire: bool = False  # keep it for the past, with yesterday as its last day
    look: bool = False  # only say what would happen


class MergedOut(BaseModel):
    """What a merge does to one roster."""

    roster: str
    title: str
    records: int
    change_set: int | None


class MergeDone(BaseModel):
    """What a merge does, by roster."""

    rosters: list[MergedOut]


class CodesCompared(BaseModel):
    """In what a file differs from a code list."""

    sentence: str  # how the file was read
    problems: list[str]  # what stops it, each with its line
    added: list[str]
    gone: list[str]
    altered: list[str]
    used: dict[str, int]  # records that have a code that would be gone
    codes: list[CodeOut]


class ListIn(Model):
    """What a new code list is called."""

    title: str = Field(max_length=200)


class ListBegun(BaseModel):
    """A code list was begun."""

    name: str


class CodeListIn(Model):
    """A code list to be written whole."""

    codes: list[CodeOut]
    seen: int | None = None  # the version that they were made of
