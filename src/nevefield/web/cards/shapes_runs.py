"""The shapes of the API about runs of cards."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "CardPath",
    "CardSheetQuery",
    "HandedIn",
    "MadeOut",
    "MarkIn",
    "Marked",
    "RunIn",
    "RunList",
    "RunMade",
    "RunOut",
    "RunPath",
    "RunRow",
    "WhoseOut",
    "WhoseQuery",
]


class RunPath(Model):
    """A path to a run."""

    design: str = Field(max_length=40)
    run_id: int


class CardPath(Model):
    """A path to a card: its record in the register."""

    design: str = Field(max_length=40)
    card_id: int


class RunIn(Model):
    """Whose cards are to be made."""

    records: list[int] | None = Field(default=None, max_length=100_000)
    anew: bool = False
    count: int | None = None
    seen: int | None = None  # the register's version
    work: str = Field(default="", max_length=32)


class RunRow(BaseModel):
    """A run in a list."""

    run: int
    at: Moment
    by: str
    cards: int
    handed: int
    spoiled: int
    version: int
    change_set: int
    printed_at: Moment | None
    undone: bool


class RunList(BaseModel):
    """The runs of a design, the newest first."""

    runs: list[RunRow]


class MadeOut(BaseModel):
    """A card of a run."""

    card: int
    record: int
    name: str
    number: str
    facility: str
    state: str
    handed_at: Moment | None
    handed_by: str
    spoiled_at: Moment | None


class RunOut(BaseModel):
    """A run and its cards."""

    run: RunRow
    cards: list[MadeOut]


class RunMade(BaseModel):
    """The run that was made."""

    run: int


class WhoseQuery(Model):
    """What a scanner read."""

    scanned: str = Field(max_length=200)


class WhoseOut(BaseModel):
    """Whose a card is."""

    card: int
    record: int | None  # whose; None when they are not in a roster of the design
    name: str
    key: str
    number: str
    facility: str
    is_good: bool


class CardSheetQuery(Model):
    """On what the sheets of a run are printed."""

    paper: Literal["A4", "Letter", "card"] = "A4"
    cards: str = Field(default="", max_length=20_000)  # records of the register, with commas
    work: str = Field(default="", max_length=32)


class HandedIn(Model):
    """Cards that were handed over, by their records in the register or by a number that was
    scanned.
    """

    cards: list[int] = Field(default=[], max_length=10_000)
    scanned: str = Field(default="", max_length=200)
    is_over: bool = True


class MarkIn(Model):
    """What became of a card."""

    what: Literal["lost", "spoiled", "returned"]


class Marked(BaseModel):
    """The change set with which it was written, and how many cards it is about."""

    change_set: int | None = None
    cards: int = 1
    name: str = ""
