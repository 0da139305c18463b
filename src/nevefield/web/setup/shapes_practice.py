"""The shapes of the API about the practice copy."""

from __future__ import annotations

from pydantic import BaseModel

from nevefield.web.moments import Moment

__all__ = ["PracticeCount", "PracticeDiffers", "PracticeGiven", "PracticeOut"]


class PracticeCount(BaseModel):
    """A roster of it."""

    title: str
    records: int


class PracticeDiffers(BaseModel):
    """Where a check finds in the made-up people what it does not find in the real ones, or the
    reverse.
    """

    roster: str
    check: str
    field: str  # "" for the whole record
    records: int


class PracticeGiven(BaseModel):
    """Identifiers that are a real one of somebody else, as there was no room for others."""

    roster: str
    field: str
    values: int


class PracticeOut(BaseModel):
    """The practice copy."""

    is_practice: bool  # this is it
    lacks: str  # why there can be none here; "" when there can
    state: str  # of what was ordered last: ordered, making, ready, failed; none
    by: str
    ordered_at: Moment | None
    made_at: Moment | None  # of the one that is there
    doing: str
    done: int
    total: int
    said: str  # why it failed
    address: str  # where it is
    answers: bool  # it may take some seconds after it was made
    rosters: list[PracticeCount]
    differs: list[PracticeDiffers]
    given_on: list[PracticeGiven]
