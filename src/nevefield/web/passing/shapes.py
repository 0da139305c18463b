"""The shapes of the API about passing on."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, Model
from nevefield.web.moments import Moment

__all__ = [
    "Delivered",
    "DeliveredOut",
    "DeliveredQuery",
    "DestinationBegun",
    "DestinationBrief",
    "DestinationCause",
    "DestinationIn",
    "DestinationList",
    "DestinationOut",
    "DestinationPath",
    "DestinationRows",
    "DestinationVersion",
    "DestinationVersionIn",
    "DestinationVersions",
    "DoorOut",
    "FetchAddress",
    "FetchPath",
    "HoldIn",
    "LayoutAsked",
    "LayoutProposed",
    "PassedAct",
    "PassedDecided",
    "PassedFile",
    "PassedFilePath",
    "PassedMove",
    "PassedQuery",
    "PassedRow",
    "PassedTokenIn",
    "RefusedIn",
    "SharedOut",
    "SwitchIn",
    "TellIn",
    "Telling",
    "WentList",
    "WentOut",
]

Standing = Literal["in step", "to send", "refused", "held", "to end", "not theirs"]


class DestinationPath(Model):
    """A path to a destination."""

    destination: str = Field(max_length=40)


class PassedFilePath(Model):
    """A path to a file of a destination."""

    destination: str = Field(max_length=40)
    file_id: int


class DestinationBrief(BaseModel):
    """A destination in a list."""

    name: str
    title: str
    way: str  # in words
    told: str  # when, in words
    rosters: list[str]  # titles
    counts: dict[str, int]  # by where records stand
    records: int
    is_on: bool
    problem: str
    sent_at: Moment | None
    next_at: Moment | None


class DestinationList(BaseModel):
    """The destinations that may be seen."""

    destinations: list[DestinationBrief]
    # folder of the server for files, "" where there is none; null to whom it is not to say
    outbox: str | None


class DestinationIn(Model):
    """A destination that is begun."""

    document: dict[str, Any]


class DestinationVersionIn(Model):
    """Another version of a destination."""

    document: dict[str, Any]
    version: int


class DestinationBegun(BaseModel):
    """A destination that was begun, or kept."""

    name: str
    version: int


class DestinationVersion(BaseModel):
    """A version of a destination."""

    number: int
    at: Moment
    by: str
    document: dict[str, Any]


class DestinationVersions(BaseModel):
    """The versions of a destination, the newest first."""

    versions: list[DestinationVersion]


class DestinationCause(BaseModel):
    """Refusals that one remedy would settle."""

    code: str
    title: str
    text: str
    records: list[int]
    names: list[str]  # of the first few
    anew: list[str]  # what would be composed for them instead
    remedies: list[Literal["anew", "same", "again", "hold"]]


class PassedFile(BaseModel):
    """A file that was made."""

    file: int
    file_name: str
    records: int
    is_kept: bool
    at: Moment
    by: str
    fetched_at: Moment | None
    waits: bool  # to be laid in a folder
    laid_at: Moment | None
    laid_as: str  # its name there
    trouble: str  # why it does not lie there yet


class SharedOut(BaseModel):
    """A roster of which a destination is told."""

    roster: str
    title: str
    fields: list[dict[str, Any]]  # as the definition has them
    where: str  # in words; "" for everybody


class DoorOut(BaseModel):
    """A door, as it said of itself when it was last asked."""

    door: str
    title: str
    zones: list[str]
    answers: bool
    holds: int
    room: int
    at: Moment
    late: int  # cards that it does not know yet, or knows and should not


class ProposedIntake(BaseModel):
    """An intake of what a destination proposed."""

    intake: int
    title: str


class DestinationOut(BaseModel):
    """A destination, and where everybody stands."""

    name: str
    title: str
    document: dict[str, Any]
    version: int
    since: Moment
    way: str
    told: str
    shares: list[SharedOut]
    counts: dict[str, int]
    records: int
    there: int
    ends_names: list[str]  # the first who would be switched off
    takes: int  # how many would lose a privilege, and stay
    takes_names: list[str]
    is_guarded: bool  # so many would be switched off that it wants their number
    causes: list[DestinationCause]
    files: list[PassedFile]
    doors: list[DoorOut]
    is_on: bool
    has_token: bool
    has_address: bool  # whether they have a token by which they fetch or ask
    asked_at: Moment | None  # when they last asked, to the minute
    proposed: int  # of what they wrote, how much is in no intake yet
    proposed_in: list[ProposedIntake]  # of which nobody decided yet
    problem: str
    sent_at: Moment | None
    next_at: Moment | None
    job: int | None  # that tells it now
    may_decide: bool
    may_tell: bool
    may_change: bool


class PassedQuery(Model):
    """Which records of a destination are wanted."""

    place: Literal["", "in step", "to send", "refused", "held", "to end", "not theirs"] = ""
    text: str = Field(default="", max_length=200)
    code: str | None = Field(default=None, max_length=200)
    start: int = Field(default=0, ge=0, le=MOST_ROWS)
    limit: int = Field(default=100, ge=1, le=500)


class PassedMove(BaseModel):
    """A field of theirs that changes; the groups have no name."""

    what: str
    before: list[str]
    after: list[str]


class PassedRow(BaseModel):
    """A record, and what sending would change."""

    record: int
    roster: str
    key: str
    name: str
    place: Standing
    act: Literal["", "joins", "changes", "ends"]
    moved: list[PassedMove]
    takes_privileges: bool
    because: str  # in words
    receipt: int | None
    at: Moment | None
    code: str
    problem: str
    held_reason: str


class DestinationRows(BaseModel):
    """A page of records of a destination."""

    total: int
    rows: list[PassedRow]


class TellIn(Model):
    """What is to be sent, as it was looked at."""

    seen: int
    ends: int | None = None


class Telling(BaseModel):
    """Who sends."""

    job: int


class HoldIn(Model):
    """Records that are held back, with a reason; without one they go again."""

    records: list[int] = Field(min_length=1, max_length=100_000)
    reason: str = Field(default="", max_length=500)


class RefusedIn(Model):
    """What is decided of records that were refused."""

    records: list[int] = Field(min_length=1, max_length=100_000)
    what: Literal["again", "anew", "same"]


class PassedDecided(BaseModel):
    """Of how many it was decided."""

    records: int


class FetchAddress(BaseModel):
    """The address on this host from which files are fetched, or at which they ask with a token;
    shown once.
    """

    path: str
    token: str  # "" where it stands in the address


class FetchPath(Model):
    """A path to the newest file of a destination."""

    token: str = Field(max_length=100)


class PassedTokenIn(Model):
    """The token by which we are known there; "" takes it away."""

    token: str = Field(max_length=1_500)


class SwitchIn(Model):
    """Whether it is told by itself."""

    on: bool


class LayoutAsked(Model):
    """For what a layout is to be proposed."""

    roster: str = Field(max_length=100)
    way: dict[str, Any]


class LayoutProposed(BaseModel):
    """A layout that is proposed."""

    share: dict[str, Any]


class PassedAct(BaseModel):
    """Something that was sent."""

    act: str
    moved: str
    answer: str
    ms: int | None
    at: Moment
    by: str


class DeliveredQuery(Model):
    """Which of what was sent is wanted: what has a lower number; 0 for all."""

    before: int = Field(default=0, ge=0)


class Delivered(PassedAct):
    """Something that was sent, and of whom."""

    number: int
    record: int
    key: str  # "" for who has left the roster
    name: str


class DeliveredOut(BaseModel):
    """A page of what was sent to a destination, the newest first."""

    acts: list[Delivered]


class WentOut(BaseModel):
    """Where a record stands with one destination."""

    destination: str
    title: str
    place: Standing
    act: Literal["", "joins", "changes", "ends"]
    moved: list[PassedMove]
    because: str
    receipt: int | None
    problem: str
    told: str  # when, in words
    gets: list[PassedMove]  # what it should hold: `before` is what it holds
    never: list[str]
    sent: list[PassedAct]
    at: Moment | None  # when it was last sent


class WentList(BaseModel):
    """Where a record has gone."""

    destinations: list[WentOut]
