"""The shapes of the API about opening rosters."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from nevefield.web.common import Model, TallyOut, Weight
from nevefield.web.moments import Moment

__all__ = [
    "ChoicesIn",
    "DraftList",
    "DraftOut",
    "FromNothingIn",
    "NoCode",
    "OpenIn",
    "OpenedOut",
    "OpeningCause",
    "OpeningCheck",
    "OpeningCode",
    "OpeningColumn",
    "OpeningFit",
    "OpeningMade",
    "OpeningOrder",
    "OpeningOut",
    "OpeningPath",
    "OpeningState",
    "OpeningWay",
    "StartingField",
    "StartingList",
    "StartingPeople",
]


class OpeningPath(Model):
    """A path to a file that may become a roster."""

    opening_id: int


class OpeningMade(BaseModel):
    """A file that may become a roster was kept."""

    opening: int


class DraftOut(BaseModel):
    """A file that waits to become a roster."""

    id: int
    file_name: str
    at: Moment


class DraftList(BaseModel):
    """Files of the account that wait to become a roster, the last first."""

    drafts: list[DraftOut]


class OpeningWay(BaseModel):
    """One way of writing a code."""

    text: str
    rows: int
    sure: bool  # it differs in case, spaces and punctuation only, or somebody said so


class OpeningCode(BaseModel):
    """One code that is proposed."""

    code: str
    label: str
    parent: str
    rows: int
    ways: list[OpeningWay]  # as it stands in the file, the commonest first


class NoCode(BaseModel):
    """A text that is no code."""

    text: str
    rows: int


class OpeningColumn(BaseModel):
    """One column of the file, and the field that it becomes."""

    heading: str
    field: str  # "" for none
    title: str
    kind: str  # as `core.opening` has it; `secret`, `empty` or `left` where it becomes no field
    chosen: str  # the kind that somebody chose; "" for none
    sure: bool
    why: str
    is_key: bool
    is_required: bool
    is_sensitive: bool
    filled: int  # rows
    distinct: int
    commonest: list[int]  # rows of the commonest texts, the most first, at most 8
    wrong: int  # rows that are stopped or wait for something in it
    list_name: str
    several: str
    parent: str  # the heading of the column above it
    is_checked: bool  # of an identifier: whether its check character and shape are held to
    codes: list[OpeningCode]
    none: list[NoCode]


class OpeningCause(BaseModel):
    """One cause of what the file would not bring in as it is."""

    weight: Weight
    title: str
    rows: int


class OpeningOrder(BaseModel):
    """Two columns of which one is never after the other."""

    first: str  # headings
    last: str
    is_checked: bool


class OpeningCheck(BaseModel):
    """A check that counts from the first day."""

    check: str
    holds: str  # what it holds to, in words
    fields: list[str]  # titles


class StartingField(BaseModel):
    """A field that people of a kind have as a rule."""

    name: str
    title: str
    type: str


class StartingPeople(BaseModel):
    """One kind of people."""

    name: str
    title: str
    words: str
    fields: list[StartingField]  # of a file: those that it lacks
    is_added: bool = False


class StartingList(BaseModel):
    """Kinds of people that a roster can begin with."""

    people: list[StartingPeople]


class OpeningFit(BaseModel):
    """How well the file fits a roster that there is."""

    roster: str
    title: str
    fitting: int  # columns
    columns: int


class OpeningOut(BaseModel):
    """A file that may become a roster: what is proposed, and what the file would do."""

    id: int
    version: int
    file_name: str
    sentence: str  # how it is read
    remarks: list[str]
    rows: int
    title: str
    name: str
    is_name_taken: bool
    key: str  # the heading of the column that people are known by; "" for none
    keys: list[str]  # headings that it may be
    columns: list[OpeningColumn]
    tally: TallyOut
    causes: list[OpeningCause]
    checks: list[OpeningCheck]
    required: list[str]  # titles of the fields that may not be empty
    orders: list[OpeningOrder]
    people: list[StartingPeople]
    fits: list[OpeningFit]
    choices: dict[str, Any]


class ChoicesIn(Model):
    """What was said of a proposal, all of it."""

    choices: dict[str, Any]
    seen: int  # the version that it was said of


class OpenIn(Model):
    """Open the roster as it is proposed."""

    seen: int


class OpenedOut(BaseModel):
    """A roster was opened."""

    roster: str
    intake: int | None


class FromNothingIn(Model):
    """Open an empty roster with the usual fields of one kind of people."""

    people: str = Field(max_length=40)
    title: str = Field("", max_length=120)
    leave: list[str] = Field(default_factory=list, max_length=100)


class OpeningState(BaseModel):
    """Whether it can be taken back that a roster was opened."""

    can_take_back: bool
