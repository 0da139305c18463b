"""The shapes of the API about copies."""

from __future__ import annotations

from pydantic import BaseModel

from nevefield.web.moments import Moment

__all__ = ["CopiesOut", "CopyBackOut", "CopyOrdered", "CopyOut"]


class CopyOut(BaseModel):
    """A copy that was ordered."""

    id: int
    by: str  # "" where it was made by itself
    ordered_at: Moment
    state: str  # ordered, making, trying, good, failed
    ended_at: Moment | None
    file_name: str
    size: int  # bytes
    rows: int
    said: str


class CopyBackOut(BaseModel):
    """A copy that is being brought back, or why it could not be."""

    file_name: str
    by: str
    said: str  # why it could not be; "" while it is under way


class CopiesOut(BaseModel):
    """Copies that were ordered, the last first."""

    copies: list[CopyOut]
    back: CopyBackOut | None
    good_at: Moment | None  # when the last good one was made
    is_late: bool  # the last good one is older than two days
    is_encrypted: bool
    hour: int  # of the institution's day, after which one is made
    days: int
    weeks: int


class CopyOrdered(BaseModel):
    """A copy was ordered."""

    copy_id: int
