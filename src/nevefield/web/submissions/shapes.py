"""The shapes of the API about submissions and their rounds."""

from __future__ import annotations

from datetime import date
from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.accounts import Level
from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "BeganOut",
    "BeginIn",
    "CloseIn",
    "CountIn",
    "CountOut",
    "CountedPart",
    "FileQuery",
    "PartOut",
    "PartsOut",
    "PolicyIn",
    "RenameIn",
    "RoundHere",
    "RoundPath",
    "SendIn",
    "SentOut",
    "StandingTally",
    "SubmissionLine",
    "SubmissionList",
    "SubmissionOut",
    "SubmissionPath",
    "SubmissionPersonPath",
    "TookIn",
]


class SubmissionPath(BaseModel):
    """A path to a submission."""

    submission_id: int


class SubmissionPersonPath(BaseModel):
    """A path to a record of a submission."""

    submission_id: int
    record_id: int


class RoundPath(BaseModel):
    """A path to a round."""

    round_id: int


class StandingTally(BaseModel):
    """Records by where they stand; they add up."""

    records: int
    accepted: int
    to_number: int
    ready: int
    rejected: int
    not_sent: int
    adds_up: bool


class SubmissionLine(BaseModel):
    """A submission in a list."""

    id: int
    title: str
    roster: str
    roster_title: str
    authority: str
    side: str
    due: date | None
    tally: StandingTally
    rounds: int
    said: str  # what is next, in words
    closed: bool


class SubmissionList(BaseModel):
    """The submissions that one may see."""

    submissions: list[SubmissionLine]
    may_begin: list[str]  # rosters of which one may be begun


class BeginIn(Model):
    """A submission to be begun."""

    roster: str
    title: str = Field("", max_length=200)
    side: Literal["practice", "live"] = "practice"
    day: date
    due: date | None = None
    like: int | None = None  # the number of a submission whose layout and condition it takes
    instead: bool = False  # the condition takes the place of the earlier one; else both must hold
    # of a practice: the live submission whose last answers it begins with
    starts_from: int | None = None
    layout: dict[str, Any] | None = None
    chosen: dict[str, Any] | None = None


class CountIn(Model):
    """Whom a submission would take in."""

    day: date
    like: int | None = None
    instead: bool = False
    chosen: dict[str, Any] | None = None


class CountedPart(BaseModel):
    """Records by the values of one field."""

    title: str
    parts: list[dict[str, Any]]  # value, label, records


class CountOut(BaseModel):
    """How many a submission would take in."""

    records: int
    said: str  # the condition in words; "" for everybody
    parts: list[CountedPart]


class RenameIn(Model):
    """Another title."""

    title: str = Field(min_length=1, max_length=200)


class CloseIn(Model):
    """Whether a closed submission is to be opened again."""

    back: bool = False


class BeganOut(BaseModel):
    """The number of a submission that was begun."""

    submission: int


class PartOut(BaseModel):
    """A part of a submission, and how far it is."""

    value: str
    code: str  # the value itself
    accepted: int
    records: int
    ready: int


class PartsOut(BaseModel):
    """A submission by the values of one field."""

    field: str
    title: str  # of the field by which they are counted
    parts: list[PartOut]


class RoundHere(BaseModel):
    """A round."""

    id: int
    number: int
    state: str
    said: str  # the state in words
    records: int
    done: int  # that the authority is through with
    counts: dict[str, int]
    receipt: str
    problem: str
    by: str
    at: Moment
    sent_at: Moment | None
    answered_at: Moment | None
    intake: int | None  # by which its numbers went into the roster
    again: list[dict[str, Any]]  # who was rejected again: name, key, rules before and now


class SubmissionOut(BaseModel):
    """A submission as it stands."""

    id: int
    title: str
    roster: str
    roster_title: str
    authority: str
    side: str
    day: date
    due: date | None
    days_left: int | None
    level: Level
    touched: int
    tally: StandingTally
    # of the records that are not sent, as they have no answer yet: those that a round is sending
    on_way: int
    sendable: int
    # what the next round takes, by kind: first, corrected, changes, numbers, changed, again
    sends: dict[str, int]
    behind: list[dict[str, Any]]  # what stays behind, and why: said, records
    rounds: list[RoundHere]
    joining: int
    policy: dict[str, Any]
    parts: list[PartsOut]
    forecast: str  # in words; "" when the rounds say nothing
    broken: int  # records that are known to break a rule
    warned: int
    closed: Moment | None
    starts_from: str  # the title of the live submission whose answers it began with
    chosen: str  # who belongs to it, in words; "" for everybody
    requests: int  # changes of theirs that were asked for
    can_reach: bool  # whether the settings name an authority


class PolicyIn(Model):
    """What is decided of numbers without asking."""

    none: bool
    one: float | None = None


class SendIn(Model):
    """What is to be sent now."""

    seen: int
    by_hand: bool = False
    part: str = Field("", max_length=120)  # a field of ours: only records with the value
    value: str = Field("", max_length=200)


class SentOut(BaseModel):
    """The round that was begun."""

    round: int


class TookIn(BaseModel):
    """How many records came in."""

    records: int


class FileQuery(Model):
    """The format of a file."""

    kind: Literal["json", "csv"] = "json"
