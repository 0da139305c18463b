"""The shapes of the API about who the rows are."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model

__all__ = [
    "CandidateOut",
    "KeyChoice",
    "LimitsOut",
    "LimitsQuery",
    "PeopleOut",
    "PeopleQuery",
    "PersonBrief",
    "PersonCell",
    "PersonField",
    "PersonOut",
    "Rival",
]


class PeopleQuery(Model):
    """Which people of an intake."""

    state: Literal["possible", "certain", "nobody", "chosen"] = "possible"
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class Rival(BaseModel):
    """Another row that may be the same record."""

    line: int
    name: str


class PersonBrief(BaseModel):
    """Somebody in a list, and how it is known who they are."""

    line: int
    name: str
    key: str
    state: str
    score: float  # 0 to 100, of the record that it is, or of the likeliest
    candidates: int
    rivals: list[Rival]  # other rows that may be the same record
    record: str  # who it is, if anybody


class KeyChoice(BaseModel):
    """Fields by which people can be known."""

    fields: list[str]
    title: str
    used: bool  # rows of this file are known by it
    in_file: bool  # the file has columns for it
    rows: int  # that are known by it


class PeopleOut(BaseModel):
    """How it is known who the rows are, and a page of those of one state."""

    # rows by how it is known who they are: key, certain, possible, nobody, chosen
    counts: dict[str, int]
    keys: list[KeyChoice]  # what people can be known by: those that are used first, in their order
    own_keys: bool  # as the roster has it, nothing else was said for this file
    passed_over: int  # rows of people whom the file is not for
    certain: float  # the limits that hold
    nobody: float
    total: int
    people: list[PersonBrief]


class LimitsQuery(Model):
    """Limits of likeness that are tried."""

    certain: float = Field(ge=50, le=100)
    nobody: float = Field(ge=0, le=50)


class LimitsOut(BaseModel):
    """What limits would decide."""

    counts: dict[str, int]


class CandidateOut(BaseModel):
    """A record that a row may be."""

    record: int
    key: str
    name: str
    score: float  # 0 to 100
    since: str  # the day since which it is known, and from where


class PersonCell(BaseModel):
    """A field of a candidate beside the row's."""

    value: Any
    word: str  # how well it agrees
    bits: float  # what that adds to the evidence, against it below 0
    same: bool


class PersonField(BaseModel):
    """A field of a row beside those of its candidates."""

    field: str
    title: str
    tells: bool  # it is one of those that tell people apart
    value: Any
    cells: list[PersonCell]  # of each candidate


class PersonOut(BaseModel):
    """A row beside the records that it may be."""

    line: int
    name: str
    key: str
    state: str
    record: int | None
    rivals: list[Rival]
    more: int  # candidates that are not shown
    candidates: list[CandidateOut]
    fields: list[PersonField]
    notes: list[str]
