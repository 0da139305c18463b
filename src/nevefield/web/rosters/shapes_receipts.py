"""The shapes of the API about receipts, and taking back."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model, Outcome, TallyOut, Value
from nevefield.web.moments import Moment

__all__ = [
    "ChangeSetList",
    "ChangeSetOut",
    "LaterSet",
    "ReceiptLine",
    "ReceiptLines",
    "ReceiptPerson",
    "ReceiptQuery",
    "UndoFamily",
    "UndoIn",
    "UndoMove",
    "UndoOut",
    "UndoPerson",
    "UndoQuery",
]


class UndoQuery(Model):
    """What of a change set would be taken back, and a page of those whom it is about."""

    records: list[int] | None = None
    fields: list[str] | None = None
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class UndoIn(Model):
    """What of a change set is to be taken back."""

    records: list[int] | None = None  # whose; null for all
    fields: list[str] | None = None  # which; null for all
    but: list[int] = []  # whose not
    as_far: bool = False  # leave what later changes rest on as it is


class UndoMove(BaseModel):
    """A value that would go back to what it was."""

    field: str
    title: str
    now: Value
    then: Value


class LaterSet(BaseModel):
    """A later change set that something rests on."""

    change_set: int
    title: str


class UndoPerson(BaseModel):
    """What taking back would do to one record."""

    record: int
    name: str
    key: str
    does: str  # leaves, returns, values; "" when nothing of it can be taken back
    moves: list[UndoMove]
    rests: list[str]  # titles of fields that were changed again later; "" for the whole record
    later: list[LaterSet]


class UndoFamily(BaseModel):
    """A field of which values would go back."""

    field: str
    title: str
    count: int


class UndoOut(BaseModel):
    """What taking a change set back would do."""

    version: int  # of the roster
    leaves: int
    returns: int
    values: int
    kept: int  # records of whom something stays
    families: list[UndoFamily]  # of the values
    why: str  # why a second person has to approve; "" when none has to
    people: list[UndoPerson]  # a page, those of whom something stays last
    total: int


class ReceiptPerson(BaseModel):
    """Somebody whom taking back was about."""

    record: int
    name: str
    key: str


class ChangeSetOut(BaseModel):
    """A receipt: what altered a roster, counted as it is in the roster."""

    id: int
    roster: str
    version: int
    kind: str
    title: str
    by: str
    at: Moment
    intake: int | None
    undone_by: int | None
    undoes: int | None
    part_of: int | None  # the change set of which it takes a part back
    absent: dict[str, int]  # the absent by what became of them: stay, leave, end, hold
    undone: dict[str, int]  # of an undo: returned, values, left, kept
    planned: dict[str, int]
    found: dict[str, int]
    tally: TallyOut | None
    rows: dict[str, int]
    fields: dict[str, int]
    # of an undo, by what became of them: returned, left, values
    who: dict[str, list[ReceiptPerson]] = {}
    # by title of the field, from how many people a value was taken away
    taken_away: dict[str, int] = {}
    # the roster's version as it was looked at, where it had moved on by the time it was applied
    looked_at: int | None = None


class ReceiptLine(BaseModel):
    """A line of a file, and what became of it."""

    line: int
    record: int | None
    name: str
    key: str
    message: str


class ReceiptLines(BaseModel):
    """A page of the lines of a file that had one outcome."""

    total: int
    lines: list[ReceiptLine]


class ReceiptQuery(Model):
    """Which lines of a receipt."""

    outcome: Outcome
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class ChangeSetList(BaseModel):
    """What altered a roster, the last first."""

    change_sets: list[ChangeSetOut]
