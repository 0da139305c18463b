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
    "HeldQuery",
    "HoldBackIn",
    "KeepingOut",
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


class ErasuresOut(BaseModel):
    """Who was erased, the last first."""

    erasures: list[ErasureOut]
