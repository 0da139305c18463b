"""The shapes of the API about card designs and who needs a card."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "CardCause",
    "CardFinding",
    "CardIn",
    "CardOfOut",
    "CardOut",
    "CardPerson",
    "CardsOfDesign",
    "CardsOfOut",
    "CardsOut",
    "DesignBegun",
    "DesignBrief",
    "DesignIn",
    "DesignList",
    "DesignOut",
    "DesignPath",
    "DesignTried",
    "DesignTrouble",
    "DesignVersion",
    "DesignVersions",
    "DocumentIn",
    "FaceOut",
    "FitsOut",
    "HardOut",
    "HeldCard",
    "LeftOut",
    "MarkOut",
    "NeedQuery",
    "SideOut",
]


class DesignPath(Model):
    """A path to a card design."""

    design: str = Field(max_length=40)


class DesignBrief(BaseModel):
    """A design in a list."""

    name: str
    title: str
    register_title: str
    version: int
    since: Moment
    counts: dict[str, int]  # by where people stand
    people: int


class DesignList(BaseModel):
    """The designs that may be seen."""

    designs: list[DesignBrief]


class FaceOut(BaseModel):
    """A face of a design: who has it, and the fields of their roster."""

    name: str
    roster: str
    roster_title: str
    fields: list[dict[str, Any]]  # as the definition has them
    people: int
    where: str  # in words; "" for everybody


class LeftOut(BaseModel):
    """How much of a range of numbers is left."""

    facility: int
    first: int
    last: int
    site: str
    total: int
    left: int
    is_low: bool


class DesignTrouble(BaseModel):
    """What in a design is allowed and yet not well."""

    face: str
    item: str
    text: str


class DesignOut(BaseModel):
    """A design, and where everybody stands."""

    name: str
    title: str
    document: dict[str, Any]
    version: int
    since: Moment
    may_change: bool
    register_title: str
    register_version: int
    faces: list[FaceOut]
    register_fields: list[dict[str, Any]]  # as the definition has them
    counts: dict[str, int]
    people: int
    left: list[LeftOut]
    runs: int
    troubles: list[DesignTrouble]
    colours: dict[str, str]  # of print, by name


class DesignIn(Model):
    """A design that is begun."""

    document: dict[str, Any]


class DesignBegun(BaseModel):
    """The name of the design that was begun, or the version that was kept."""

    name: str
    version: int


class DocumentIn(Model):
    """A design as it was changed, and from which version on."""

    document: dict[str, Any]
    version: int


class DesignVersion(BaseModel):
    """A version of a design."""

    number: int
    at: Moment
    by: str
    document: dict[str, Any]


class DesignVersions(BaseModel):
    """The versions, the newest first."""

    versions: list[DesignVersion]


class NeedQuery(Model):
    """Which of the people."""

    need: Literal["", "has", "make", "anew", "photo", "unfit", "take in"] = ""
    text: str = Field(default="", max_length=200)
    shortlist: int | None = None
    start: int = Field(default=0, ge=0, le=1_000_000_000)
    limit: int = Field(default=100, ge=1, le=1_000)


class HeldCard(BaseModel):
    """A card in the register."""

    card: int  # its record there
    number: str
    facility: str
    state: str
    until: str
    is_good: bool
    bits: str  # as a reader sends it; "" where it is no number
    run: int | None
    handed_at: Moment | None


class CardPerson(BaseModel):
    """Somebody, and where they stand."""

    record: int
    face: str
    name: str
    key: str
    need: str
    why: list[str]
    cards: list[HeldCard]
    has_photo: bool


class CardsOfDesign(BaseModel):
    """The cards that somebody has by a design."""

    design: str
    title: str
    key: str
    cards: list[HeldCard]


class CardsOfOut(BaseModel):
    """Somebody's cards, and whether there is a photograph of them."""

    designs: list[CardsOfDesign]
    has_photo: bool


class CardCause(BaseModel):
    """Why people stand where they do: a cause, and how many."""

    need: str
    text: str
    people: int


class CardsOut(BaseModel):
    """A page of the people of a design."""

    total: int
    people: list[CardPerson]
    causes: list[CardCause]


class CardIn(Model):
    """Whose card is to be seen, by which design."""

    document: dict[str, Any] | None = None
    record: int | None = None
    face: str = Field(default="", max_length=40)


class MarkOut(BaseModel):
    """Something that stands on a card: in mm from the upper left corner."""

    item: str
    kind: Literal["fill", "words", "image", "squares"]
    x: float
    y: float
    width: float
    height: float
    colour: str = ""
    text: str = ""
    base: float = 0
    size: float = 0  # points
    bold: bool = False
    of: str = ""  # a picture's digest, or "photo"
    rows: list[str] = []  # dark and light modules
    module: float = 0  # mm


class CardFinding(BaseModel):
    """What does not fit, and why."""

    item: str
    kind: str
    why: str


class SideOut(BaseModel):
    """A side of a card."""

    marks: list[MarkOut]
    findings: list[CardFinding]


class CardOut(BaseModel):
    """Somebody's card."""

    record: int
    name: str
    face: str
    has_photo: bool
    frame: list[float] | None  # of the photograph: x, y, width, height as shares
    front: SideOut
    back: SideOut


class CardOfOut(BaseModel):
    """Somebody's card; none where nobody has the face."""

    card: CardOut | None
    troubles: list[DesignTrouble]


class HardOut(BaseModel):
    """Somebody who tries a design, and how."""

    what: str
    people: int
    fails: bool
    side: str  # on which it is seen
    card: CardOut


class FitsOut(BaseModel):
    """How an item is set, over everybody who has it."""

    face: str
    item: str
    plain: int
    smaller: int
    lines: int
    fails: int
    empty: int


class DesignTried(BaseModel):
    """A design on everybody."""

    people: int
    hardest: list[HardOut]
    fits: list[FitsOut]
