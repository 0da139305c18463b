"""The shapes of the API about one person's data."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "EraseIn",
    "ErasureOut",
    "ErasureQueued",
    "ErasuresOut",
    "GoesOut",
    "HeldQuery",
    "HoldBackIn",
    "KeepingOut",
    "LapseOut",
    "LapsesOut",
    "TermIn",
]


class HeldQuery(Model):
    """As what file it is wanted."""

    format: Literal["html", "json"] = "html"


class EraseIn(Model):
    """Who asked for it, and why."""

    asked_by: str = Field(max_length=200)
    reason: str = Field(max_length=1_000)


class HoldBackIn(Model):
    """Why somebody's data must stay."""

    reason: str = Field(max_length=1_000)


class ErasureOut(BaseModel):
    """Somebody who was erased."""

    record: int
    roster: str
    roster_title: str
    asked_by: str
    reason: str
    by: str
    at: Moment
    counts: dict[str, int]  # what was taken out of where, and what remains
    is_renewed: bool  # the database's files were written anew since


class KeepingOut(BaseModel):
    """Whether somebody was erased, or why their data must stay."""

    erased: ErasureOut | None
    kept_for: str
    kept_by: str


class ErasureQueued(BaseModel):
    """A job takes somebody's values out of everything."""

    job_id: int


class TermIn(BaseModel):
    """For how many days something is kept."""

    kind: str
    days: int | None = Field(None, ge=0, le=100_000)  # None: for ever


class GoesOut(BaseModel):
    """What would go."""

    tonight: int  # files, rows, people, lines, notes
    soon: int  # within thirty days, tonight's among them


class LapseOut(GoesOut):
    """What is kept for how long, and what goes of it when."""

    kind: str  # files, rows, left, trail, looked
    least: int  # days that may be chosen
    days: int | None  # None: for ever
    by: str
    at: Moment | None


class LapsesOut(BaseModel):
    """For how long things are kept."""

    lapses: list[LapseOut]
    hour: int  # of the institution's day after which it goes


class ErasuresOut(BaseModel):
    """Who was erased, the last first."""

    erasures: list[ErasureOut]
