"""What goes in and out of the routes of mails."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "LinkMailIn",
    "MailAddress",
    "MailDecided",
    "MailDecision",
    "MailList",
    "MailOut",
    "MailQuery",
    "MailServerIn",
    "MailSwitch",
    "PostOut",
]


class PostOut(BaseModel):
    """How it is with mails."""

    server: dict[str, Any] | None  # None: nobody said where they are handed over
    has_password: bool
    is_on: bool
    is_practice: bool
    problem: str  # why nothing goes
    counts: dict[str, int]  # by what became of them


class MailServerIn(Model):
    """Where mails are handed over, and who writes."""

    server: dict[str, Any]
    password: str | None = Field(default=None, max_length=500)  # None: the one that is kept


class MailSwitch(Model):
    """Whether mails go, or wait."""

    on: bool


class MailAddress(Model):
    """To whom a test message goes."""

    address: str = Field(min_length=3, max_length=254)


class LinkMailIn(Model):
    """To whom a link goes by mail."""

    address: str = Field(min_length=3, max_length=254)


class MailQuery(Model):
    """Which mails are wanted."""

    state: Literal["", "waiting", "sent", "refused", "unclear", "dropped"] = ""
    start: int = Field(default=0, ge=0, le=10_000_000)


class MailOut(BaseModel):
    """A mail, without its text."""

    id: int
    kind: Literal["test", "link", "people"]
    record: int | None
    recipient: str
    subject: str
    state: Literal["waiting", "handing", "sent", "refused", "unclear", "dropped"]
    tries: int
    next_at: Moment
    answer: str
    by: str
    at: Moment
    done_at: Moment | None
    has_text: bool  # whether it can go again


class MailList(BaseModel):
    """A page of mails, the last first."""

    mails: list[MailOut]


class MailDecision(Model):
    """What becomes of mails: what came to nothing goes again, or what waits is dropped."""

    mails: list[int] = Field(min_length=1, max_length=1_000)
    what: Literal["again", "drop"]


class MailDecided(BaseModel):
    """Of how many it was decided."""

    mails: int


class MailsReturned(BaseModel):
    """What messages were about that mail servers wrote."""

    returned: int  # mails that did not get there
    late: int  # mails that are tried still
    known: int  # of which it was known already
    unknown: int  # reports about mails that are none of ours
    others: int  # messages that are no report
