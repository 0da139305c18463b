"""The shapes of the API about cards."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "BroughtOut",
    "CardCause",
    "CardFinding",
    "CardIn",
    "CardOfOut",
    "CardOut",
    "CardPath",
    "CardPerson",
    "CardSheetQuery",
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
    "FileSaid",
    "FitsOut",
    "FrameIn",
    "HandedIn",
    "HardOut",
    "HeldCard",
    "LeftOut",
    "MadeOut",
    "MarkIn",
    "MarkOut",
    "Marked",
    "NeedQuery",
    "PhotoOut",
    "PictureOut",
    "PicturePath",
    "RecordPhotoPath",
    "RunIn",
    "RunList",
    "RunMade",
    "RunOut",
    "RunPath",
    "RunRow",
    "SideOut",
    "WhoseOut",
    "WhoseQuery",
]


class DesignPath(Model):
    """A path to a card design."""

    design: str = Field(max_length=40)


class RunPath(Model):
    """A path to a run."""

    design: str = Field(max_length=40)
    run_id: int


class CardPath(Model):
    """A path to a card: its record in the register."""

    design: str = Field(max_length=40)
    card_id: int


class PicturePath(Model):
    """A path to a picture, by its digest."""

    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


class RecordPhotoPath(Model):
    """A path to somebody's photograph."""

    record_id: int


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


class RunIn(Model):
    """Whose cards are to be made."""

    records: list[int] | None = Field(default=None, max_length=100_000)
    anew: bool = False
    count: int | None = None
    work: str = Field(default="", max_length=32)


class RunRow(BaseModel):
    """A run in a list."""

    run: int
    at: Moment
    by: str
    cards: int
    handed: int
    spoiled: int
    version: int
    change_set: int
    printed_at: Moment | None
    undone: bool


class RunList(BaseModel):
    """The runs of a design, the newest first."""

    runs: list[RunRow]


class MadeOut(BaseModel):
    """A card of a run."""

    card: int
    record: int
    name: str
    number: str
    facility: str
    state: str
    handed_at: Moment | None
    handed_by: str
    spoiled_at: Moment | None


class RunOut(BaseModel):
    """A run and its cards."""

    run: RunRow
    cards: list[MadeOut]


class RunMade(BaseModel):
    """The run that was made."""

    run: int


class WhoseQuery(Model):
    """What a scanner read."""

    scanned: str = Field(max_length=200)


class WhoseOut(BaseModel):
    """Whose a card is."""

    card: int
    record: int | None  # whose; None when they are not in a roster of the design
    name: str
    key: str
    number: str
    facility: str
    is_good: bool


class CardSheetQuery(Model):
    """On what the sheets of a run are printed."""

    paper: Literal["A4", "Letter", "card"] = "A4"
    cards: str = Field(default="", max_length=20_000)  # records of the register, with commas
    work: str = Field(default="", max_length=32)


class HandedIn(Model):
    """Cards that were handed over, by their records in the register or by a number that was
    scanned.
    """

    cards: list[int] = Field(default=[], max_length=10_000)
    scanned: str = Field(default="", max_length=200)
    is_over: bool = True


class MarkIn(Model):
    """What became of a card."""

    what: Literal["lost", "spoiled", "returned"]


class Marked(BaseModel):
    """The change set with which it was written, and how many cards it is about."""

    change_set: int | None = None
    cards: int = 1
    name: str = ""


class FileSaid(BaseModel):
    """What was said of a file."""

    file: str
    why: str


class BroughtOut(BaseModel):
    """What became of photographs that were brought."""

    total: int
    taken: int
    same: list[str]
    nobody: list[str]
    several: list[FileSaid]
    doubles: list[FileSaid]
    coarse: list[FileSaid]
    wrong: list[FileSaid]
    left: int


class FrameIn(Model):
    """What of a photograph is shown: shares of the picture."""

    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    width: float = Field(gt=0, le=1)
    height: float = Field(gt=0, le=1)


class PhotoOut(BaseModel):
    """Whether somebody has a photograph."""

    record: int
    has_photo: bool


class PictureOut(BaseModel):
    """The digest of a picture."""

    digest: str
