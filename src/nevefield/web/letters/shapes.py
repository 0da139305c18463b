"""What goes in and out of the routes of letters."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import BaseModel, Field

from nevefield.core.mailing.asking import Asks
from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "AddresseeOut",
    "LetterAsked",
    "LetterBrief",
    "LetterIn",
    "LetterList",
    "LetterOpen",
    "LetterOut",
    "LetterPath",
    "LetterPrintIn",
    "LetterPrintLook",
    "LetterPrintQuery",
    "LetterQuery",
    "LetterSample",
    "LetterSend",
    "LetterSent",
    "LetterTaken",
    "LetterText",
    "LetterToRecord",
    "LettersOfRecord",
    "OwnAccount",
    "OwnAnswer",
    "OwnAnswered",
    "OwnCode",
    "OwnField",
    "OwnLook",
    "OwnOut",
    "PasswordPlace",
    "PasswordPlaces",
    "ReminderIn",
    "ReminderSend",
]

Once = Field(pattern=r"^[A-Za-z0-9-]{8,64}$")
Token = Field(max_length=1_000)  # a broken one is told as a link that is none
Paper = Literal["nobody", "the rest", "all"]


class LetterText(Model):
    """A text with fields, and who gets it on paper: nobody, who has no mail address, or all."""

    subject: str = Field(max_length=400)
    text: str = Field(max_length=25_000)
    address: str = Field(default="", max_length=500)
    paper: Paper = "nobody"


class LetterIn(LetterText):
    """What is written, to whom of a roster: the records that are ticked, or all that are shown."""

    records: list[int] | None = Field(default=None, max_length=100_000)
    shortlist: int | None = None
    q: str = Field(default="", max_length=200)
    filter: list[str] = Field(default=[], max_length=20)
    everybody: bool = False
    field: str = Field(max_length=200)
    asks: Asks | None = None


class LetterSend(LetterIn):
    """The same, to be sent."""

    seen: int = Field(ge=0)
    once: str = Once


class ReminderIn(LetterText):
    """What is written to those who have not answered."""


class ReminderSend(ReminderIn):
    """The same, to be sent."""

    seen: int = Field(ge=0)
    once: str = Once


class LetterSample(BaseModel):
    """A letter as somebody would get it."""

    record: int
    key: str
    name: str
    to: str  # "" on paper
    subject: str
    text: str
    address: str
    lacking: list[str]  # fields without a value


class LetterOut(BaseModel):
    """What would go, and what would not."""

    mails: int
    papers: int
    without: list[str]  # who has no address, the first few
    without_count: int
    odd: list[str]
    odd_count: int
    ended: int  # of those who would get one, how many have ended
    no_account: int  # who has none yet where they are to set their password
    lacking: dict[str, int]
    samples: list[LetterSample]


class LetterSent(BaseModel):
    """What was queued, and what is to be printed."""

    letter: int
    mails: int
    papers: int


class LetterPath(Model):
    """A letter."""

    letter_id: int


class LetterQuery(Model):
    """Who of a letter is shown: where they stand ("" for all), from which on."""

    part: str = Field(default="", max_length=20)
    start: int = Field(default=0, ge=0)


class LetterAsked(BaseModel):
    """What a letter asks."""

    fields: list[str]
    last_day: date
    proof: str
    password_at: str = ""  # a destination's name


class LetterBrief(BaseModel):
    """A letter, and how many stand where."""

    id: int
    title: str
    by: str
    at: Moment
    asks: LetterAsked | None
    over: str  # why nobody can answer it any more; "" while they can, or where it asks nothing
    counts: dict[str, int]
    untaken: int  # corrections that are in no intake yet


class LetterList(BaseModel):
    """The letters to people of a roster, the last first."""

    letters: list[LetterBrief]


class AddresseeOut(BaseModel):
    """Somebody to whom a letter was written."""

    record: int
    key: str  # "" for who has left the roster
    name: str
    part: str
    on_paper: bool
    printed_at: Moment | None
    mail: str
    mail_answer: str
    seen_at: Moment | None
    answered_at: Moment | None
    fields: list[str]  # that they corrected
    intake: int | None
    intake_state: str  # open, applied or thrown


class LetterOpen(BaseModel):
    """A letter, and some of those to whom it was written."""

    letter: LetterBrief
    roster: str
    subject: str
    text: str
    address: str
    people: list[AddresseeOut]
    total: int  # of those who are shown
    silent: int  # who has not answered, and is in the roster
    level: int  # of who asks


class LetterTaken(BaseModel):
    """The intake in which corrections are looked at; none where there were none."""

    intake: int | None


class LetterPrintQuery(Model):
    """For whom it would be printed."""

    who: Literal["paper", "silent"] = "paper"


class LetterPrintIn(LetterPrintQuery):
    """What is printed, on what."""

    paper: Literal["A4", "Letter"] = "A4"
    work: str = Field(default="", max_length=64)  # under which it says how far it is


class LetterPrintLook(BaseModel):
    """How many letters would be printed, and whose have letters that cannot be set."""

    papers: int
    odd: list[str]


class LetterToRecord(BaseModel):
    """A letter to one person."""

    letter: int
    title: str
    at: Moment
    part: str
    answered_at: Moment | None
    fields: list[str]
    intake: int | None


class LettersOfRecord(BaseModel):
    """The letters to one person, the last first."""

    letters: list[LetterToRecord]


class OwnLook(Model):
    """A link, and what only they know whom it was written to."""

    token: str = Token
    proof: str = Field(default="", max_length=500)


class OwnAnswer(OwnLook):
    """What somebody says of themselves: by field what is not right as it is."""

    said: dict[str, str] = Field(max_length=60)
    password: str = Field(default="", max_length=500)  # where they are asked to set one


class OwnCode(BaseModel):
    """A value that may be chosen."""

    code: str
    label: str


class OwnField(BaseModel):
    """A field that somebody looks at."""

    name: str
    title: str
    kind: Literal["text", "day", "code", "several codes", "yes or no"]
    required: bool
    value: str  # as it is typed
    said: str  # as one says it
    codes: list[OwnCode]


class OwnAccount(BaseModel):
    """An account of which somebody sets the password."""

    title: str  # of the system
    login: str  # as which they sign in there; "" where it is not told
    least: int  # letters


class OwnOut(BaseModel):
    """What somebody is shown of themselves."""

    institution: str
    title: str  # of the letter
    last_day: date
    proof: str  # the title of what they have to say first; "" for nothing, or when they said it
    proof_is_day: bool
    name: str
    fields: list[OwnField]
    account: OwnAccount | None


class OwnAnswered(BaseModel):
    """What somebody corrected, by the fields' titles; and where they set their password."""

    corrected: list[str]
    password_at: str


class PasswordPlace(BaseModel):
    """A system at which people of a roster may set their password."""

    name: str
    title: str


class PasswordPlaces(BaseModel):
    """The systems at which people of a roster may set their password."""

    places: list[PasswordPlace]
