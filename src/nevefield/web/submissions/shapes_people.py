"""The shapes of the API about the records of a submission, and the rules that they break."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model
from nevefield.web.moments import Moment

__all__ = [
    "DecideIn",
    "DecidedOut",
    "FieldHere",
    "HeldOut",
    "HolderOut",
    "PeopleHere",
    "PeopleIn",
    "PersonHere",
    "PersonInFull",
    "PersonQuery",
    "RequestHere",
    "RequestsOut",
    "RuleHere",
    "RulesHere",
    "RulesQuery",
    "State",
    "TakeTheirsIn",
    "TookOver",
]

State = Literal["accepted", "to_number", "ready", "rejected", "not_sent"]


class RequestHere(BaseModel):
    """A change of theirs that was asked for."""

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
    """Changes of theirs that were asked for, the last first."""

    total: int
    counts: dict[str, int]  # by state
    requests: list[RequestHere]


class PeopleIn(Model):
    """Which records of a submission."""

    state: str = ""
    rule: str = Field("", max_length=10)
    q: str = Field("", max_length=200)
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(200, ge=1, le=1000)


class PersonHere(BaseModel):
    """A record in a list, and where it stands."""

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
    """A page of the records of a submission."""

    people: list[PersonHere]
    total: int


class RulesQuery(Model):
    """Which rules: broken by answers, known to be broken before, or warned of."""

    which: Literal["rejected", "before", "warned"] = "rejected"


class RuleHere(BaseModel):
    """A rule of the authority that records break."""

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
    """The rules that records break."""

    rules: list[RuleHere]
    records: int


class PersonQuery(Model):
    """The rule that is asked about."""

    rule: str = Field("", max_length=10)


class FieldHere(BaseModel):
    """A field of theirs beside ours."""

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
    """Somebody who holds a number at the authority and may be the one."""

    number: str
    score: int
    values: list[FieldHere]  # those that differ, first
    earlier: str  # the enrolment that is told of them


class PersonInFull(BaseModel):
    """A record of a submission in full."""

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
    """What the authority holds right now, beside ours."""

    fields: list[FieldHere]


class DecideIn(Model):
    """Records of which something is decided."""

    records: list[int] = Field(min_length=1, max_length=100_000)
    kind: str = Field(max_length=10)
    value: str = Field("", max_length=60)
    rule: str = Field("", max_length=10)
    reason: str = Field("", max_length=1000)
    attached: str = Field("", max_length=200)
    attachment: str = Field("", max_length=7_000_000)  # Base64


class DecidedOut(BaseModel):
    """Of how many records it was decided."""

    records: int


class TakeTheirsIn(Model):
    """Records that take over what the authority holds."""

    records: list[int] = Field(min_length=1, max_length=100_000)
    fields: list[str] = Field(min_length=1, max_length=200)  # the authority's


class TookOver(BaseModel):
    """The intake with which it is taken over."""

    intake: int
