"""The shapes of the API about people who work here."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "AccountIn",
    "AccountOut",
    "AccountPartOut",
    "AccountPath",
    "AccountsOut",
    "InstitutionIn",
    "InviteIn",
    "LinkMadeOut",
    "LoneOut",
    "ProgramIn",
    "ProgramOut",
    "ProgramsOut",
    "TokenIn",
    "TokenMadeOut",
    "TokenOut",
    "TokenPath",
]


class AccountPath(Model):
    """A path to an account."""

    account_id: int


class AccountIn(Model):
    """What somebody is called and may do."""

    name: str = Field(max_length=200)
    level: int = Field(ge=0, le=4)  # in every roster
    rosters: dict[str, int] = Field(default_factory=dict, max_length=1_000)  # more in single ones
    # by roster the condition of the part that the level there is for
    parts: dict[str, Any] = Field(default_factory=dict, max_length=1_000)
    last_day: date | None = None
    may_uncover: bool = False  # sensitive fields for a task, where they may only look


class InviteIn(AccountIn):
    """Somebody who is to work here."""

    sign_in: str = Field(max_length=80)


class AccountPartOut(BaseModel):
    """A part of a roster."""

    when: dict[str, Any]  # the condition
    words: str


class AccountOut(BaseModel):
    """Somebody who works here, or did."""

    id: int
    sign_in: str
    name: str
    level: int
    rosters: dict[str, int]  # levels in single rosters, by name
    parts: dict[str, AccountPartOut]  # by roster, of which they have a part alone
    last_day: date | None
    is_closed: bool
    is_over: bool  # the last day is over
    has_password: bool
    link_until: Moment | None  # by when an invitation or a new password's link is to be used
    since: Moment
    password_at: Moment | None
    seen_at: Moment | None
    sessions: int
    may_uncover: bool
    second_step: bool  # they sign in with a code too
    is_you: bool


class LoneOut(BaseModel):
    """A roster in which one person alone may approve."""

    roster: str
    title: str
    who: str  # name; "" where nobody may
    needs_two: bool  # its definition asks for a second person


class AccountsOut(BaseModel):
    """Everybody who works here or did."""

    people: list[AccountOut]
    alone: list[LoneOut]


class TokenPath(AccountPath):
    """A path to a program's token."""

    token_id: int


class TokenIn(Model):
    """A token that is to be made."""

    token_until: date | None = None  # its last day; null for none


class ProgramIn(AccountIn, TokenIn):
    """A program that is to ask."""


class TokenOut(BaseModel):
    """A token of a program."""

    id: int
    made_at: Moment
    by: str
    last_day: date | None
    used_at: Moment | None
    counts: bool  # it was not ended, and is not over


class ProgramOut(BaseModel):
    """A program, with its tokens."""

    account: AccountOut
    tokens: list[TokenOut]


class ProgramsOut(BaseModel):
    """The programs."""

    programs: list[ProgramOut]


class TokenMadeOut(BaseModel):
    """A token; it is shown this once."""

    account: int
    token: str


class LinkMadeOut(BaseModel):
    """A link that sets a password once; it is shown this once."""

    account: int
    token: str
    until: Moment


class InstitutionIn(Model):
    """What the institution is called, and the colour of its mark."""

    name: str = Field(max_length=200)
    colour: str = Field(max_length=7)
