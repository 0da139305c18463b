"""The shapes of the API about waivers that last."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model
from nevefield.web.moments import Moment

__all__ = ["WaiverList", "WaiverOut", "WaiverPath", "WaiversQuery"]


class WaiverPath(Model):
    """A path to a waiver."""

    waiver_id: int


class WaiversQuery(Model):
    """A page of waivers, of all or of one record."""

    record: int | None = None
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class WaiverOut(BaseModel):
    """What was let in of whom, and whether it still counts."""

    id: int
    record: int
    key: str
    name: str
    asked: str  # what was asked
    field: str  # its title
    values: list[str]  # what it was about, worded
    reason: str
    until: date | None
    intake: int | None
    line: int
    receipt: int
    by: str
    at: Moment
    state: Literal["stands", "changed", "over", "taken back", "gone", "withdrawn"]
    withdrawn: str  # by whom and when


class WaiverList(BaseModel):
    """A page of waivers, the last first."""

    total: int
    standing: int
    waivers: list[WaiverOut]
