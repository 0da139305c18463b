"""The shapes of the API about intakes and how their files read."""

from __future__ import annotations

from datetime import date
from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model, TallyOut
from nevefield.web.moments import Moment
from nevefield.web.proposals.shapes import ProposalOut, ScheduledOut

__all__ = [
    "DueIn",
    "IntakeBrief",
    "IntakeList",
    "IntakeOut",
    "IntakesQuery",
    "LineOut",
    "LinesOut",
    "LinesQuery",
    "MembershipOut",
    "NotDataOut",
    "PulseOut",
    "ReadingOut",
    "SheetQuery",
    "StepOut",
    "ThrowIn",
    "ThrownOut",
    "UnusualOut",
    "WaitOut",
    "WorkOut",
    "WorkPath",
]


class IntakeBrief(BaseModel):
    """An intake in a list."""

    id: int
    title: str
    file_name: str
    roster: str
    roster_title: str
    at: Moment
    by: str
    tally: TallyOut | None
    ready: int  # records that applying would add or alter now
    applied: int | None  # the last receipt that stands
    taken_back: bool  # it was applied, and all of that was taken back


class DueIn(Model):
    """By which day a file has to be in its roster; null for none."""

    day: date | None


class IntakesQuery(Model):
    """A page of intakes."""

    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=500)
    thrown: bool = False  # those that were thrown away, in place of the others


class IntakeList(BaseModel):
    """A page of intakes, the last first."""

    total: int
    thrown: int  # how many were thrown away
    intakes: list[IntakeBrief]


class ThrowIn(Model):
    """Whether an intake that was thrown away is to come back."""

    back: bool = False  # take it back


class ThrownOut(BaseModel):
    """Whether an intake is thrown away."""

    thrown: bool


class WorkPath(Model):
    """The token of work under way, made up by who asked for it."""

    token: str = Field(pattern="^[0-9a-f]{32}$")


class WorkOut(BaseModel):
    """How far work is."""

    doing: str  # "" when nothing is
    done: int
    total: int


class SheetQuery(Model):
    """The format of an error sheet."""

    format: Literal["xlsx", "csv"] = "xlsx"


class NotDataOut(BaseModel):
    """A line of a file that is no row."""

    line: int
    kind: str
    text: str


class ReadingOut(BaseModel):
    """How a file was read, and why so."""

    type: str
    encoding: str | None
    separator: str | None
    sheet: str | None
    sheets: list[str]  # of a workbook, those that can be read instead
    why: str  # the header is taken for one, in words; "" where nobody had to tell
    header_line: int | None
    sentence: str
    remarks: list[str]
    not_data: list[NotDataOut]


class StepOut(BaseModel):
    """A step in an intake's log."""

    number: int
    kind: str
    label: str
    by: str
    mine: bool  # whether it is of who asks
    at: Moment
    undone: bool


class WaitOut(BaseModel):
    """A cause about a group or the whole file that stands in the way of applying."""

    cause: str
    title: str


class MembershipOut(BaseModel):
    """What an intake does to memberships."""

    last: str  # the field that takes its last day; "" where there is none
    people: int  # of whom something goes in now
    ends: int  # memberships that end because another takes their place


class UnusualOut(BaseModel):
    """More are absent than usual, and what the file may be of."""

    said: str
    reason: str
    part: dict[str, Any] | None
    part_said: str


class IntakeOut(BaseModel):
    """An intake's overview."""

    id: int
    title: str
    file_name: str
    roster: str
    roster_title: str
    roster_version: int
    level: int
    within: str  # the part of the roster that the file is for, in words; "" for all of it
    coverage: str
    membership: MembershipOut | None  # where a record is a membership
    unusual: UnusualOut | None  # more are absent than usual
    absences: dict[str, int]  # the absent by what becomes of them: stay, leave, end, hold
    # of the field that says which part of the institution a record is of; "" where none does
    part_title: str
    # of which parts the rows are that change something, and how many; the largest first
    parts: dict[str, int]
    why: str  # why a second person has to approve before it is applied; "" when none has to
    proposal: ProposalOut | None
    scheduled: ScheduledOut | None
    # what about groups and the whole file has to be settled before anything is applied
    waits: list[WaitOut]
    guards: list[str]  # what is so much that the number of rows must be typed to apply it
    part: dict[str, Any] | None  # the condition of a coverage of a part
    part_said: str  # the same in words
    # for which files the coverage holds that was said here; "" where none was
    claims: Literal["", "this", "source"]
    takes: Literal["both", "new", "known"]  # whom the file is for
    source: str
    source_by: Literal["hand", "given", "sheet", "guess"]  # how it is known
    source_why: str  # the evidence, as a sentence
    learnt: date | None  # the day of the recipe that was taken over
    recipe_step: int | None  # its number: undoing it forgets what was learnt
    unlike: list[str]  # in what the file differs from the source's last one
    sources: list[str]  # of this roster
    by: str
    at: Moment
    due: date | None  # the day by which it has to be in the roster
    tally: TallyOut
    thrown: bool  # it was thrown away
    is_applied: bool  # some of it is in the roster with a receipt that stands
    ready: TallyOut  # of the rows that did not go in yet: what applying would do now
    adds_up: bool
    not_data: int
    reading: ReadingOut
    records: int  # in the roster now
    people: int  # that the rows are; as many as rows unless several are one
    columns_paired: int
    columns_total: int
    stops: int
    asks: int
    notes: int
    by_key: int
    nobody: int
    people_decisions: dict[str, int]  # rows by how it is known who they are
    changes: int
    steps: int
    log: list[StepOut]
    undo: int | None
    redo: int | None
    applied: int | None
    job: int | None
    later: int  # alterations of the roster since the intake was applied


class LineOut(BaseModel):
    """A line of a file as it stands."""

    line: int
    kind: str
    cells: list[str]


class LinesOut(BaseModel):
    """A page of a file's lines."""

    headings: list[str]
    lines: list[LineOut]
    total: int


class LinesQuery(Model):
    """A page of lines."""

    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(60, ge=1, le=500)


class PulseOut(BaseModel):
    """How many steps an intake has, and the version of its roster: asked often."""

    steps: int
    version: int
