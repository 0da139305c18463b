"""The shapes of the API about what waits: for a second person, or for its day."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "ApplyIn",
    "ProposalList",
    "ProposalOut",
    "ProposalPath",
    "ProposeIn",
    "ScheduleIn",
    "ScheduledDone",
    "ScheduledList",
    "ScheduledOut",
    "ScheduledPath",
]


class ProposalPath(Model):
    """A path to a proposal."""

    proposal_id: int


class ProposalOut(BaseModel):
    """Something that waits for a second person, or what became of it."""

    id: int
    kind: str  # intake, take-back, definition
    title: str
    roster: str
    intake: int | None
    takes_back: int | None  # the change set that would be taken back
    why: str  # a second person has to approve; "" when somebody proposed of their own will
    counts: dict[str, int]
    state: str  # open, approved, done, sent_back, withdrawn, replaced
    by: str
    at: Moment
    is_mine: bool
    may_approve: bool
    is_stale: bool  # the intake was worked on, or another definition written, after it
    document: dict[str, Any] | None  # of a definition
    changes: list[str]  # in words, of a definition
    decider: str
    decided_at: Moment | None
    reason: str
    change_set: int | None


class ProposalList(BaseModel):
    """What waits for a second person, the oldest first."""

    proposals: list[ProposalOut]


class ScheduledPath(Model):
    """A path to what waits for its day."""

    scheduled_id: int


class ScheduledOut(BaseModel):
    """Something that waits for its day, or what became of it on it."""

    id: int
    intake: int
    title: str
    roster: str
    roster_title: str
    day: date
    counts: dict[str, int]
    state: str  # waiting, due, done, stopped
    by: str
    at: Moment
    reason: str  # why it could not be done on its day
    is_stale: bool  # the intake was worked on after it
    change_set: int | None


class ScheduledList(BaseModel):
    """What waits for its day, and what could not be done on it."""

    scheduled: list[ScheduledOut]


class ScheduledDone(BaseModel):
    """The number of what was put off."""

    scheduled: int


class ApplyIn(Model):
    """The state of an intake that was looked at when it was decided to apply it."""

    steps: int
    roster_version: int
    typed: int | None = None  # the number of rows, where so much changes that it must be typed


class ProposeIn(ApplyIn):
    """The state of an intake that is proposed."""

    day: date | None = None  # from which it is to hold; null for when it is approved


class ScheduleIn(ApplyIn):
    """The state of an intake that is put off to a day."""

    day: date  # from which it is to hold; ahead
