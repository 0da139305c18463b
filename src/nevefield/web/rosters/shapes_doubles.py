"""The shapes of the API about records that may be of one person."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model, Value

__all__ = [
    "DoubleField",
    "DoubleOut",
    "DoublesOut",
    "DoublesQuery",
    "MergedRecords",
    "TwoIn",
    "UniteIn",
]


class DoublesQuery(Model):
    """A page of pairs."""

    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(50, ge=1, le=200)


class DoubleField(BaseModel):
    """A field of two records side by side."""

    field: str
    title: str
    values: list[Value]  # of the two
    word: str  # how well they agree, where the field tells people apart
    bits: float  # what that adds to the evidence
    is_same: bool


class DoubleOut(BaseModel):
    """Two records that may be of one person."""

    score: float  # the chance in 100 that the two are one
    records: list[int]
    keys: list[str]
    names: list[str]
    fields: list[DoubleField]


class DoublesOut(BaseModel):
    """A page of pairs that may be of one person, the likeliest first."""

    version: int  # of the roster
    total: int
    pairs: list[DoubleOut]


class TwoIn(Model):
    """Two records, by number."""

    one: int
    other: int


class UniteIn(Model):
    """Two records that are to become one."""

    keep: int
    gone: int
    take: list[str] = []  # fields of which the value of the one that leaves is taken
    version: int


class MergedRecords(BaseModel):
    """The change set with which two records became one."""

    change_set: int
