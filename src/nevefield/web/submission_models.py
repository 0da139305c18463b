"""The shapes of the API about submissions."""

from __future__ import annotations

from datetime import date
from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.accounts import Level
from nevefield.web.models import Model
from nevefield.web.moments import Moment

__all__ = [
    "BeganOut",
    "BeginIn",
    "CloseIn",
    "CountIn",
    "CountOut",
    "CountedPart",
    "DecideIn",
    "DecidedOut",
    "FieldHere",
    "FileQuery",
    "HeldOut",
    "HolderOut",
    "LayoutIn",
    "LayoutOut",
    "OurField",
    "PartOut",
    "PartsOut",
    "PeopleHere",
    "PeopleIn",
    "PersonHere",
    "PersonInFull",
    "PersonQuery",
    "PolicyIn",
    "RenameIn",
    "RequestHere",
    "RequestsOut",
    "RoundHere",
    "RoundPath",
    "RuleHere",
    "RulesHere",
    "RulesQuery",
    "SendIn",
    "SentOut",
    "SideQuery",
    "StandingTally",
    "SubmissionLine",
    "SubmissionList",
    "SubmissionOut",
    "SubmissionPath",
    "SubmissionPersonPath",
    "TakeTheirsIn",
    "TheirField",
    "TookIn",
    "TookOver",
    "TranslateIn",
]

State = Literal["accepted", "to_number", "ready", "rejected", "not_sent"]


class SubmissionPath(BaseModel):
    submission_id: int


class SubmissionPersonPath(BaseModel):
    submission_id: int
    record_id: int


class RoundPath(BaseModel):
    round_id: int


class StandingTally(BaseModel):
    records: int
    accepted: int
    to_number: int
    ready: int
    rejected: int
    not_sent: int
    adds_up: bool


class SubmissionLine(BaseModel):
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
    submissions: list[SubmissionLine]
    may_begin: list[str]  # rosters of which one may be begun


class BeginIn(Model):
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
    day: date
    like: int | None = None
    instead: bool = False
    chosen: dict[str, Any] | None = None


class CountedPart(BaseModel):
    title: str
    parts: list[dict[str, Any]]  # value, label, records


class CountOut(BaseModel):
    records: int
    said: str  # the condition in words; "" for everybody
    parts: list[CountedPart]


class RenameIn(Model):
    title: str = Field(min_length=1, max_length=200)


class CloseIn(Model):
    back: bool = False


class RequestHere(BaseModel):
    record: int
    name: str
    key: str
    rule: str
    reason: str
    by: str
    at: Moment
    round: int  # with which it went; 0: with none yet
    state: Literal["waits", "agreed", "refused"]
    answer: str


class RequestsOut(BaseModel):
    total: int
    counts: dict[str, int]  # by state
    requests: list[RequestHere]


class BeganOut(BaseModel):
    submission: int


class TheirField(BaseModel):
    name: str
    title: str
    role: str  # reference, number, asked, or ""
    is_needed: bool
    codes: list[dict[str, str]]  # code, label, last_day


class OurField(BaseModel):
    name: str
    title: str
    codes: list[dict[str, str]]  # code, label


class LayoutOut(BaseModel):
    authority: str
    theirs: list[TheirField]
    ours: list[OurField]
    layout: dict[str, Any]


class LayoutIn(Model):
    layout: dict[str, Any]


class SideQuery(Model):
    side: Literal["practice", "live"] = "practice"


class PartOut(BaseModel):
    value: str
    code: str  # the value itself
    accepted: int
    records: int
    ready: int


class PartsOut(BaseModel):
    field: str
    title: str  # of the field by which they are counted
    parts: list[PartOut]


class RoundHere(BaseModel):
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


class PeopleIn(Model):
    state: str = ""
    rule: str = Field("", max_length=10)
    q: str = Field("", max_length=200)
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)


class PersonHere(BaseModel):
    record: int
    name: str
    key: str
    state: State
    why: str
    number: str
    moved: bool
    candidates: int
    rules: list[str]


class PeopleHere(BaseModel):
    people: list[PersonHere]
    total: int


class RulesQuery(Model):
    which: Literal["rejected", "before", "warned"] = "rejected"


class RuleHere(BaseModel):
    rule: str
    title: str
    text: str
    reads: list[str]
    records: list[int]
    people: list[PersonHere]  # the first of them
    follows: bool  # a mere consequence: nothing to do
    # before sending: codes that could go otherwise: field, ours, sent, theirs, label
    translate: list[dict[str, str]]


class RulesHere(BaseModel):
    rules: list[RuleHere]
    records: int


class PersonQuery(Model):
    rule: str = Field("", max_length=10)


class FieldHere(BaseModel):
    field: str  # the authority's
    title: str
    source: str  # ours; "" for what is the same for everybody
    ours: str
    ours_label: str
    theirs: str | None
    theirs_label: str
    is_same: bool
    is_read: bool  # whether the rule reads it
    changed: str  # who last changed our value, from which file and line
    change_set: int | None


class HolderOut(BaseModel):
    number: str
    score: int
    values: list[FieldHere]  # those that differ, first
    earlier: str  # the enrolment that is told of them


class PersonInFull(BaseModel):
    record: int
    name: str
    key: str
    number: str
    state: State
    why: str
    rule: str
    rule_title: str
    text: str
    reads: list[str]
    rules: list[str]
    follows: list[str]
    round: int | None
    has_held: bool
    fields: list[FieldHere]
    candidates: list[HolderOut]
    decided: str
    reason: str
    by: str
    answer: str  # of the authority to the last change that was asked for
    requests: list[RequestHere]  # all changes of theirs that were asked for
    answered_at: Moment | None  # when the authority held it so
    asked: str


class HeldOut(BaseModel):
    fields: list[FieldHere]


class DecideIn(Model):
    records: list[int] = Field(min_length=1, max_length=100_000)
    kind: str = Field(max_length=10)
    value: str = Field("", max_length=60)
    rule: str = Field("", max_length=10)
    reason: str = Field("", max_length=1000)
    attached: str = Field("", max_length=200)
    attachment: str = Field("", max_length=7_000_000)  # Base64


class DecidedOut(BaseModel):
    records: int


class TakeTheirsIn(Model):
    records: list[int] = Field(min_length=1, max_length=100_000)
    fields: list[str] = Field(min_length=1, max_length=200)  # the authority's


class TookOver(BaseModel):
    intake: int


class TranslateIn(Model):
    field: str = Field(max_length=60)
    ours: str = Field(max_length=200)
    theirs: str = Field(max_length=200)


class PolicyIn(Model):
    none: bool
    one: float | None = None


class SendIn(Model):
    seen: int
    by_hand: bool = False
    part: str = Field("", max_length=120)  # a field of ours: only records with the value
    value: str = Field("", max_length=200)


class SentOut(BaseModel):
    round: int


class TookIn(BaseModel):
    records: int


class FileQuery(Model):
    kind: Literal["json", "csv"] = "json"
