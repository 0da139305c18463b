"""The shapes of the API about signing in, the desk, jobs and finding."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel, Field

from nevefield.web.common import Model, TallyOut, Weight
from nevefield.web.moments import Moment

__all__ = [
    "CodeIn",
    "CodesMade",
    "DeskOut",
    "JobOut",
    "JobPath",
    "Keys",
    "Me",
    "OpenItem",
    "PasswordAgain",
    "PastChange",
    "Place",
    "PlaceOut",
    "RosterBrief",
    "RosterOnDesk",
    "SearchOut",
    "SearchQuery",
    "SecondBegun",
    "SecondOut",
    "SignIn",
]


COLOUR = "#17494d"  # of an institution's mark, until it chooses one


class JobPath(Model):
    """A path to a job."""

    job_id: int


class SignIn(Model):
    """A name and a password."""

    name: str = Field(max_length=80)
    password: str = Field(max_length=500)
    code: str = Field("", max_length=40)  # of the second step, or a recovery code


class PasswordAgain(Model):
    """The password, given again."""

    password: str = Field(max_length=500)


class CodeIn(Model):
    """A code of the second step."""

    code: str = Field(max_length=40)


class SecondOut(BaseModel):
    """How it stands with one's second step of signing in."""

    is_on: bool
    since: Moment | None
    codes_left: int  # recovery codes that were not used
    can_be: bool  # whether this installation keeps secrets of second steps


class SecondBegun(BaseModel):
    """What an app needs to know; it is shown this once."""

    secret: str  # to be typed, base 32
    address: str  # as apps read it
    picture: str  # that as a square code, SVG


class CodesMade(BaseModel):
    """Recovery codes; they are shown this once."""

    codes: list[str]


class PasswordIn(Model):
    """The password so far, and the new one."""

    old: str = Field(max_length=500)
    new: str = Field(max_length=500)


class LinkIn(Model):
    """The token of a link that sets a password."""

    token: str = Field(max_length=100)


class LinkOut(BaseModel):
    """What a link is for."""

    kind: str  # first, invite, reset
    name: str  # whose password it sets; "" for the first administrator
    sign_in: str
    institution: str


class LinkUse(LinkIn):
    """A password that is chosen by a link; of the first administrator the names too."""

    password: str = Field(max_length=500)
    sign_in: str = Field("", max_length=80)
    name: str = Field("", max_length=200)
    institution: str = Field("", max_length=200)


class NameOut(BaseModel):
    """The name to sign in with."""

    sign_in: str


class FirstOut(BaseModel):
    """Whether nobody can sign in yet."""

    needed: bool
    institution: str
    colour: str
    practice: bool  # this is the practice copy


class Keys(Model):
    """How somebody works with keys: whether single ones act, and those pressed in place of ours."""

    single: bool
    changed: dict[str, str] = Field(max_length=100)


class RosterBrief(BaseModel):
    """A roster that one may see, and one's level in it."""

    name: str
    title: str
    level: int


class PlaceOut(BaseModel):
    """A place where an account is signed in."""

    address: str
    at: Moment
    seen: Moment  # when something was done there last


class Me(BaseModel):
    """Who is signed in, and what they may do."""

    name: str
    sign_in: str
    level: int  # the highest anywhere
    everywhere: int  # the level in every roster
    institution: str  # its name; "" where nobody said it
    colour: str  # of its mark
    token: str
    version: str  # of the product
    practice: bool
    largest_mb: int
    zone: str  # IANA name of its time zone; "" where none is set
    rosters: list[RosterBrief]
    keys: Keys
    may_uncover: bool  # sensitive fields for a task, where one may only look
    address: str  # from where this session was begun
    elsewhere: list[PlaceOut]  # where else the account is signed in


class OpenItem(BaseModel):
    """Something that is open, with where it can be settled."""

    weight: Weight
    lead: str
    rest: str
    detail: str
    place: str
    at: Moment
    due: date | None = None  # by which day it has to be done; the first stand first
    days: int | None = None  # until then; less than 0 where it is over


class PastChange(BaseModel):
    """An alteration of a roster in its history."""

    change_set: int
    kind: str
    title: str
    at: Moment
    tally: TallyOut | None
    undone: bool


class RosterOnDesk(BaseModel):
    """A roster with its last alterations."""

    name: str
    title: str
    records: int
    within: str  # the part of it that one has, in words; "" for all of it
    history: list[PastChange]


class DeskOut(BaseModel):
    """Everything that is open, and what each file did to the rosters."""

    open: list[OpenItem]
    rosters: list[RosterOnDesk]


class JobOut(BaseModel):
    """How far a job is, and what it came to."""

    id: int
    state: str
    doing: str
    done: int
    total: int
    answer: dict[str, Any] | None
    problem: str


class SearchQuery(Model):
    """What is looked for."""

    q: str = Field(max_length=200)


class Place(BaseModel):
    """Something that was found, with where it is."""

    kind: str
    title: str
    detail: str
    place: str


class SearchOut(BaseModel):
    """What was found."""

    places: list[Place]
