"""The shapes of the API about causes and rows."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model, Outcome, TallyOut, Value, Weight

__all__ = [
    "CauseOut",
    "CausesOut",
    "EffectOut",
    "FindingOut",
    "RemedyIn",
    "RemedyOut",
    "ReplaceIn",
    "ReplaceOut",
    "RowDetail",
    "RowField",
    "RowOut",
    "RowsOut",
    "RowsQuery",
    "StepDone",
    "StepIn",
    "WhereOut",
]


class RemedyOut(BaseModel):
    """One way to settle a cause."""

    kind: str
    value: str | None
    label: str


class CauseOut(BaseModel):
    """A cause: what is wrong in one way, in how many rows, and its remedies."""

    id: str
    weight: Weight
    check: str
    field: str | None
    fields: list[str]
    title: str
    detail: str
    value: str | None
    rows: int
    settled: int
    waived: int  # rows that this intake approves
    waived_before: int  # rows that an earlier intake approved
    whole: bool  # about the whole file or a group, rather than about rows
    near: int = 0  # of one about a group or the whole file: its rows, none put aside
    follows: list[str]  # the causes that it only follows from, and vanishes with
    frees: int
    reasons: list[str]  # of which one is needed to approve it; none where any will do
    # Whether the approval may, or must, say until which day what is gained is had; or until which
    # day it need not be given again.
    ends: Literal["", "may", "must", "again"]
    remedies: list[RemedyOut]


class CausesOut(BaseModel):
    """All causes of an intake."""

    causes: list[CauseOut]


class RowsQuery(Model):
    """Which rows of an intake."""

    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)
    outcome: str = ""
    cause: str = ""
    q: str = Field("", max_length=200)
    fields: str = Field("", max_length=4000)
    ready: bool = False  # without the rows that went in when the intake was applied


class FindingOut(BaseModel):
    """What a check says of a row."""

    cause: str
    field: str | None
    weight: Weight
    value: str | None
    message: str
    suggestions: list[str]
    waived: bool
    approval: str  # the reason with which it was approved, or what was said earlier


class RowOut(BaseModel):
    """A row in a list."""

    line: int
    outcome: Outcome
    record: int | None
    key: str
    name: str
    values: dict[str, Value]
    findings: list[FindingOut]


class RowsOut(BaseModel):
    """A page of rows."""

    total: int
    rows: list[RowOut]


class RowField(BaseModel):
    """A field of a row: as it stands, as it is read, and as the roster has it."""

    field: str
    title: str
    raw: str | None
    value: Value
    repair: str
    old: Value
    is_changed: bool


class RowDetail(BaseModel):
    """A row in full."""

    line: int
    is_in: bool  # it went in when the intake was applied
    outcome: Outcome
    reason: str
    record: int | None
    key: str
    name: str
    fields: list[RowField]
    findings: list[FindingOut]


class WhereOut(BaseModel):
    """Where a line of a file ended up."""

    line: int
    found: bool
    name: str
    outcome: str
    said: str
    record: int | None
    applied: bool


class StepIn(Model):
    """A step to be added to an intake."""

    step: dict[str, Any]
    # steps that the browser knew: a cell that somebody else has set since is not written over
    seen: int | None = None


class EffectOut(BaseModel):
    """The tally as it would be."""

    tally: TallyOut  # as it would be


class ReplaceIn(Model):
    """What to find in a column, and what to put in its place."""

    field: str = Field(max_length=200)
    find: str = Field(min_length=1, max_length=500)
    put: str = Field(max_length=500)
    whole: bool = False  # only cells that are it, not those that hold it
    cause: str = ""  # only in its rows


class ReplaceOut(BaseModel):
    """In how many cells something was replaced."""

    cells: int
    number: int | None


class StepDone(BaseModel):
    """The number of the step that was added."""

    number: int


class RemedyIn(Model):
    """A cause to be settled, by which remedy, in which rows."""

    cause: str
    kind: str
    value: str | None = Field(None, max_length=20_000)
    reason: str = Field("", max_length=1000)
    # ISO 8601: the last day of a privilege that is approved; "" for good
    until: str = Field("", max_length=10)
    lines: list[int] | None = None
    seen: int | None = None
