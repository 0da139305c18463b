"""A card design: lines and places that hold for everybody, no free drawing.

A design has a face for each kind of people who get the card (a roster and, if need be, a condition;
the first that fits counts). A face has two sides; a side is a list of items from the top: bands,
places for the photograph and for pictures, lines, bars or a square code. Where an item stands
follows from the order, see `laying`. Everything is in millimetres, sizes of letters in points of
1/72 inch.

Source of the usual size: ISO/IEC 7810:2019, ID-1, 85.60 x 53.98 mm.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from nevefield.core.borders import Json
from nevefield.core.conditions import fields_of

__all__ = [
    "COLOURS",
    "DAY_FORMS",
    "ID_1",
    "Band",
    "Design",
    "Face",
    "Item",
    "Letters",
    "Line",
    "Numbering",
    "Photo",
    "Picture",
    "Piece",
    "Register",
    "Size",
    "Symbol",
    "contrast",
    "name_of_item",
    "pieces_of",
]

ID_1 = (85.60, 53.98)
MOST_ITEMS = 24  # on a side
MOST_PIECES = 8  # in a line
SMALLEST_POINTS = 4.0
# What may be printed in, by name; print colours of our own, red, green and blue.
COLOURS: dict[str, str] = {
    "ink": "#15212a",
    "slate": "#4a5964",
    "white": "#ffffff",
    "chalk": "#eef1ed",
    "spruce": "#14484a",
    "harbour": "#1f4f82",
    "heather": "#5b4390",
    "brick": "#9c3521",
    "ochre": "#e9c46a",
    "bark": "#5f4629",
}
DAY_FORMS = ("1 Sep 2026", "01.09.2026", "2026-09-01", "09/2026", "Sep 2026", "2026")
SYMBOLS = ("code 128", "code 39", "EAN-13", "QR", "data matrix")
Colour = Literal[
    "ink",
    "slate",
    "white",
    "chalk",
    "spruce",
    "harbour",
    "heather",
    "brick",
    "ochre",
    "bark",
]
Name = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
FieldName = Annotated[str, Field(max_length=200)]
Millimetres = Annotated[float, Field(ge=0, le=300, allow_inf_nan=False)]
Points = Annotated[float, Field(ge=SMALLEST_POINTS, le=72, allow_inf_nan=False)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Piece(_Part):
    """One piece of what stands in a line: fixed words, a field of the person, or something of the
    card itself; one of the three.
    """

    text: Annotated[str, Field(max_length=120)] = ""
    field: FieldName = ""
    card: Literal["", "number", "facility", "until", "made"] = ""
    # how it is written: a day in one of `DAY_FORMS`, a code by its own letters
    form: Literal[
        "as it is",
        "capitals",
        "code",
        "1 Sep 2026",
        "01.09.2026",
        "2026-09-01",
        "09/2026",
        "Sep 2026",
        "2026",
    ] = "as it is"
    letters: Annotated[int, Field(ge=0, le=100)] = 0  # from the beginning; 0: all
    word: Annotated[int, Field(ge=-1, le=9)] = 0  # only this one, from 1; -1: the last; 0: all

    @property
    def takes(self) -> bool:
        """Tell whether it is made of somebody's value rather than of fixed words."""
        return bool(self.field or self.card)


Pieces = Annotated[tuple[Piece, ...], Field(max_length=MOST_PIECES)]


class Letters(_Part):
    """How words are set, and what becomes of what is too long: smaller down to `least`, then on as
    many `lines`, then it is a finding.
    """

    size: Points = 9
    least: Points = 7
    lines: Annotated[int, Field(ge=1, le=4)] = 1
    bold: bool = False
    align: Literal["left", "middle", "right"] = "left"
    colour: Colour = "ink"


class Line(_Part):
    """A line of text in the column between the places."""

    kind: Literal["line"] = "line"
    name: Name
    pieces: Pieces = ()
    letters: Letters = Letters()
    where: Json = None  # a condition: whose card has it; None for everybody's
    above: Millimetres = 0  # empty room above it
    is_needed: bool = False  # when there is nothing to stand in it, that is a finding
    renews: bool = True  # a card on which it is not true any more is made anew


class Band(_Part):
    """A coloured strip from edge to edge, with words and a picture."""

    kind: Literal["band"] = "band"
    name: Name
    edge: Literal["top", "bottom"] = "top"
    height: Millimetres = 10
    fill: Colour = "spruce"
    pieces: Pieces = ()
    letters: Letters = Letters(size=11, least=8, bold=True, colour="white")
    picture: Annotated[str, Field(max_length=64)] = ""  # by its digest
    where: Json = None
    renews: bool = True


class Photo(_Part):
    """The place for the photograph."""

    kind: Literal["photo"] = "photo"
    name: Name = "photo"
    edge: Literal["left", "right"] = "left"
    width: Millimetres = 22
    height: Millimetres = 28
    is_needed: bool = True
    where: Json = None
    renews: bool = False


class Picture(_Part):
    """The same picture on every card."""

    kind: Literal["picture"] = "picture"
    name: Name
    edge: Literal["left", "right"] = "right"
    width: Millimetres = 12
    height: Millimetres = 12
    picture: Annotated[str, Field(max_length=64)] = ""  # by its digest
    where: Json = None


class Symbol(_Part):
    """Bars or a square code that a machine reads; bars stand at the foot, a square at an edge."""

    kind: Literal["symbol"] = "symbol"
    name: Name
    symbol: Literal["code 128", "code 39", "EAN-13", "QR", "data matrix"] = "code 128"
    pieces: Pieces = ()
    edge: Literal["left", "right"] = "right"  # of a square
    height: Millimetres = 8  # of bars; of a square, its side
    is_written: bool = False  # what it says stands below it, too
    where: Json = None
    is_needed: bool = True
    renews: bool = True

    @property
    def is_square(self) -> bool:
        """Tell whether it is a square code rather than bars."""
        return self.symbol in ("QR", "data matrix")


Item = Annotated[Line | Band | Photo | Picture | Symbol, Field(discriminator="kind")]
Items = Annotated[tuple[Item, ...], Field(max_length=MOST_ITEMS)]


class Face(_Part):
    """What people of one roster, for whom a condition holds, have on their card."""

    name: Name
    title: Annotated[str, Field(max_length=80)] = ""
    roster: Annotated[str, Field(max_length=100)]
    holder: FieldName  # the field by which the register names them
    where: Json = None
    until: FieldName = ""  # the field that says until when their card holds
    site: FieldName = ""  # the field that says which facility's numbers they get
    front: Items = ()
    back: Items = ()

    def sides(self) -> tuple[tuple[str, tuple[Item, ...]], ...]:
        """List the sides that have anything, each by its name."""
        return tuple(
            (name, items) for name, items in (("front", self.front), ("back", self.back)) if items
        )

    def items(self) -> tuple[Item, ...]:
        """List the items of both sides."""
        return (*self.front, *self.back)


class Register(_Part):
    """The roster in which the cards themselves are kept, and its fields."""

    roster: Annotated[str, Field(max_length=100)]
    number: FieldName
    holder: FieldName
    facility: FieldName = ""
    state: FieldName = ""
    until: FieldName = ""
    name: FieldName = ""  # the holder's name as the doors take it
    # values of the state: of a card that opens doors, and of one that was lost, spoiled, given back
    in_use: Annotated[tuple[str, ...], Field(max_length=20)] = ()
    lost: Annotated[str, Field(max_length=100)] = ""
    spoiled: Annotated[str, Field(max_length=100)] = ""
    returned: Annotated[str, Field(max_length=100)] = ""
    replaced: Annotated[str, Field(max_length=100)] = ""  # of one for which there is another


class Range(_Part):
    """Numbers that may be given, both ends included, in one facility."""

    facility: Annotated[int, Field(ge=0)] = 0
    first: Annotated[int, Field(ge=0)] = 1
    last: Annotated[int, Field(ge=0)] = 65_535
    site: Annotated[str, Field(max_length=200)] = ""  # for whom; "" for everybody


class Numbering(_Part):
    """How numbers are given."""

    facility_bits: Annotated[int, Field(ge=0, le=32)] = 8
    number_bits: Annotated[int, Field(ge=4, le=48)] = 16
    # as one is written in the register and on the card: after what, with zeros to how many digits
    before: Annotated[str, Field(max_length=20, pattern=r"^([!-~][ -~]*)?$")] = ""
    digits: Annotated[int, Field(ge=0, le=18)] = 0
    ranges: Annotated[tuple[Range, ...], Field(max_length=50)] = ()
    rests: Annotated[int, Field(ge=0, le=36_500)] = 365  # days before one is given again
    warns: Annotated[int, Field(ge=0)] = 50  # from how few left on it is said


class Size(_Part):
    """Of a card, in mm."""

    width: Annotated[float, Field(ge=30, le=300, allow_inf_nan=False)] = ID_1[0]
    height: Annotated[float, Field(ge=30, le=300, allow_inf_nan=False)] = ID_1[1]
    margin: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = 3


class Design(_Part):
    """One card design."""

    name: Name
    title: Annotated[str, Field(min_length=1, max_length=80)]
    size: Size = Size()
    faces: Annotated[tuple[Face, ...], Field(min_length=1, max_length=8)]
    register_: Annotated[Register, Field(alias="register")]
    numbering: Numbering = Numbering()

    def face(self, name: str) -> Face:
        """Find a face by its name.

        Raises:
            KeyError: There is none.
        """
        return {face.name: face for face in self.faces}[name]

    def fields_in(self, roster: str) -> frozenset[str]:
        """List the fields of a roster on which something in the design rests."""
        register = self.register_
        names = {
            getattr(register, option)
            for option in ("number", "holder", "facility", "state", "until", "name")
            if register.roster == roster
        }
        for face in self.faces:
            if face.roster != roster:
                continue
            names |= {face.holder, face.until, face.site}
            conditions = [face.where, *(item.where for item in face.items())]
            names |= {name for when in conditions if when is not None for name in fields_of(when)}
            names |= {piece.field for item in face.items() for piece in pieces_of(item)}
        return frozenset(names - {""})


def pieces_of(item: Item) -> tuple[Piece, ...]:
    """List the pieces of an item; none of a place."""
    return item.pieces if isinstance(item, (Line, Band, Symbol)) else ()


def name_of_item(item: Item, items: tuple[Item, ...]) -> str:
    """Name an item for a person by its kind and its place among those of its kind: "line 2".

    Args:
        item: The item.
        items: All of its side.
    """
    words = {
        "line": "line",
        "band": "band",
        "photo": "photograph",
        "picture": "picture",
        "symbol": "code",
    }
    same = [other for other in items if other.kind == item.kind]
    word = words[item.kind]
    return word if len(same) == 1 and item.kind != "line" else f"{word} {same.index(item) + 1}"


def contrast(one: str, other: str) -> float:
    """Work out the contrast of two colours of the palette, 1 to 21.

    Source: WCAG 2.2, definition of contrast ratio.

    >>> round(contrast("ink", "white"), 1), contrast("ink", "ink")
    (16.4, 1.0)
    """
    first, second = (_luminance(COLOURS[name]) for name in (one, other))
    return (max(first, second) + 0.05) / (min(first, second) + 0.05)


def _luminance(colour: str) -> float:
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    red, green, blue = (
        part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts
    )
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue
