"""A side of somebody's card: where each thing stands, and what does not fit.

    ┌──────────────────────────────┐  bands from edge to edge, from the top and from the bottom;
    │ band                         │  places at the left and at the right below each other; between
    ├──────┬────────────────┬──────┤  them the column: lines from its top, bars at its foot
    │ left │ line           │ right│
    │      │ line           │      │
    │      │ ▌▐▌▐▐▌         │      │
    └──────┴────────────────┴──────┘

Nothing is ever put outside of its place and nothing is cut: what does not fit is a `Finding`, and
then it does not stand on the card at all.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal

from nevefield.core.cards.design import Band, Letters, Line, Photo, Picture, Symbol
from nevefield.core.cards.fitting import MM_PER_POINT, Unfit, fit, line_height, one_line
from nevefield.core.cards.symbols import Modules, encode, module_width, reads_back

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from nevefield.core.cards.design import Item, Size
    from nevefield.core.cards.fitting import Measure

__all__ = [
    "Box",
    "Fill",
    "Finding",
    "Image",
    "Laid",
    "Mark",
    "Squares",
    "Words",
    "lay",
    "width_of_band",
]

BETWEEN = 3.0  # mm between the column and the places, and between places
BELOW_LINE = 0.4  # mm between lines
WRITTEN = Letters(size=6, least=5, align="middle")  # what a code says, below it


@dataclass(frozen=True)
class Box:
    """A rectangle, in mm from the upper left corner of the card."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Where it ends."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """Where it ends below."""
        return self.y + self.height

    def holds(self, other: Box) -> bool:
        """Tell whether another lies in it, but for rounding."""
        return (
            other.x >= self.x - 1e-6
            and other.y >= self.y - 1e-6
            and other.right <= self.right + 1e-6
            and other.bottom <= self.bottom + 1e-6
        )


@dataclass(frozen=True)
class Fill:
    """A coloured rectangle."""

    item: str
    box: Box
    colour: str


@dataclass(frozen=True)
class Words:
    """One line of letters."""

    item: str
    box: Box  # that it fills: as wide as its letters, as high as the typeface
    text: str
    base: float  # mm from the upper edge of the card to the line that letters stand on
    size: float  # points
    bold: bool
    colour: str


@dataclass(frozen=True)
class Image:
    """A picture: `of` its digest, or "photo" for the person's photograph; "" where there is none
    yet.
    """

    item: str
    box: Box
    of: str


@dataclass(frozen=True)
class Squares:
    """The modules of a code."""

    item: str
    box: Box  # of the modules alone, without the quiet zones
    modules: Modules
    width: float  # of a module, in mm


Mark = Fill | Words | Image | Squares


@dataclass(frozen=True)
class Finding:
    """What does not fit, and why."""

    item: str  # its name; "" for what the doors do not take
    kind: Literal["too long", "letters", "no room", "empty", "code", "no photo", "door"]
    why: str


@dataclass
class Laid:
    """A side."""

    marks: list[Mark] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    column: float = 0.0  # mm from its left to its right


def lay(
    items: tuple[Item, ...],
    size: Size,
    texts: Mapping[str, str],
    shown: Collection[str],
    measure: Measure,
    *,
    has_photo: bool,
    read_back: bool = True,
) -> Laid:
    """Lay a side.

    Args:
        items: Of the side, from the top.
        size: Of the card.
        texts: What stands in each, by its name; "" for nothing.
        shown: The names of those whose condition holds.
        measure: Of the typeface.
        has_photo: Whether there is a photograph of the person.
        read_back: Whether codes are read back.
    """
    side = _Side(size, texts, measure, read_back=read_back)
    there = [item for item in items if item.name in shown]
    for band in there:
        if isinstance(band, Band):
            side.put_band(band)
    for place in there:
        if isinstance(place, (Photo, Picture)) or (isinstance(place, Symbol) and place.is_square):
            side.put_place(place, has_photo=has_photo)
    side.open_column()
    for bars in reversed(there):
        if isinstance(bars, Symbol) and not bars.is_square:
            side.put_bars(bars)
    for line in there:
        if isinstance(line, Line):
            side.put_line(line)
    return side.laid


class _Side:
    """A side while it is laid."""

    def __init__(
        self, size: Size, texts: Mapping[str, str], measure: Measure, *, read_back: bool
    ) -> None:
        self.laid = Laid()
        self._read_back = read_back
        self._texts = texts
        self._measure = measure
        self._size = size
        self._top, self._bottom = 0.0, size.height  # between the bands
        self._ends: dict[str, float] = {}  # where the places at an edge end
        self._widest: dict[str, float] = {"left": 0.0, "right": 0.0}
        self._column = Box(0, 0, 0, 0)

    def put_band(self, band: Band) -> None:
        if band.height > self._bottom - self._top:
            self._find(band, "no room", "The bands together are higher than the card.")
            return
        y = self._top if band.edge == "top" else self._bottom - band.height
        box = Box(0, y, self._size.width, band.height)
        if band.edge == "top":
            self._top += band.height
        else:
            self._bottom -= band.height
        self.laid.marks.append(Fill(band.name, box, band.fill))
        margin, width = self._size.margin, width_of_band(band, self._size)
        if band.picture:
            side = _side_of_picture(band)
            self.laid.marks.append(
                Image(
                    band.name, Box(margin, y + (band.height - side) / 2, side, side), band.picture
                )
            )
        inner = Box(self._size.width - margin - width, y, width, band.height)
        self._set(band, inner, band.letters, middle=True)

    def put_place(self, place: Photo | Picture | Symbol, *, has_photo: bool) -> None:
        width = place.height if isinstance(place, Symbol) else place.width
        margin = self._size.margin
        y = self._ends.get(place.edge, self._top + margin)
        x = margin if place.edge == "left" else self._size.width - margin - width
        box = Box(x, y, width, place.height)
        other = self._widest["right" if place.edge == "left" else "left"]
        wide = max(width, self._widest[place.edge]) + (other + BETWEEN if other else 0)
        if box.bottom > self._bottom - margin + 1e-6 or wide > self._size.width - 2 * margin + 1e-6:
            self._find(
                place,
                "no room",
                f"{width:g} × {place.height:g} mm have no room between the bands, {place.edge}.",
            )
            return
        self._ends[place.edge] = box.bottom + BETWEEN
        self._widest[place.edge] = max(self._widest[place.edge], width)
        if isinstance(place, Symbol):
            self._put_square(place, box)
        elif isinstance(place, Photo):
            self.laid.marks.append(Image(place.name, box, "photo" if has_photo else ""))
            if place.is_needed and not has_photo:
                self._find(place, "no photo", "There is no photograph.")
        else:
            self.laid.marks.append(Image(place.name, box, place.picture))

    def open_column(self) -> None:
        """Leave the rest to the lines."""
        margin = self._size.margin
        left, right = (
            margin + (self._widest[edge] + BETWEEN if self._widest[edge] else 0)
            for edge in ("left", "right")
        )
        self._column = Box(
            left,
            self._top + margin,
            max(0.0, self._size.width - left - right),
            max(0.0, self._bottom - self._top - 2 * margin),
        )
        self.laid.column = self._column.width

    def put_bars(self, bars: Symbol) -> None:
        column = self._column
        written = line_height(WRITTEN.size, self._measure) if bars.is_written else 0.0
        if (modules := self._modules(bars)) is None:
            return
        if bars.height + written > column.height:
            self._find(bars, "no room", f"There are no {bars.height:g} mm left for its height.")
            return
        width = module_width(modules.across, column.width)
        if width is None:
            self._find(
                bars,
                "code",
                f"{modules.across} modules in {column.width:.1f} mm are narrower than 0.25 mm.",
            )
            return
        y = column.bottom - bars.height - written
        box = Box(column.x + modules.quiet * width, y, len(modules.rows[0]) * width, bars.height)
        self.laid.marks.append(Squares(bars.name, box, modules, width))
        self._write_below(bars, box, written)
        self._column = Box(
            column.x, column.y, column.width, column.height - bars.height - written - 1.0
        )

    def put_line(self, line: Line) -> None:
        text = self._texts.get(line.name, "")
        if not text:
            if line.is_needed:
                self._find(line, "empty", "There is nothing to stand in it.")
            return
        column = self._column
        box = Box(
            column.x, column.y + line.above, column.width, max(0.0, column.height - line.above)
        )
        used = self._set(line, box, line.letters)
        rest = column.height - line.above - used - BELOW_LINE
        self._column = Box(column.x, box.y + used + BELOW_LINE, column.width, max(0.0, rest))

    def _set(self, item: Line | Band, box: Box, letters: Letters, *, middle: bool = False) -> float:
        """Set the words of an item in a box from its top, or in its middle; give the height that
        they take.
        """
        text = self._texts.get(item.name, "")
        if not text:
            return 0.0
        fitted = fit(text, box.width, letters, self._measure)
        if isinstance(fitted, Unfit):
            self._find(item, *_why(fitted, letters))
            return 0.0
        height = fitted.height(self._measure)
        if height > box.height + 1e-6:
            lines = (
                f"{len(fitted.lines)} lines of {fitted.size:g} pt"
                if len(fitted.lines) > 1
                else f"{fitted.size:g} pt"
            )
            self._find(
                item,
                "no room",
                f"{lines} are {height:.1f} mm high, and {max(0, box.height):.1f} mm are left.",
            )
            return 0.0
        y = box.y + ((box.height - height) / 2 if middle else 0)
        each = height / len(fitted.lines)
        for number, words in enumerate(fitted.lines):
            self._put_words(
                item.name,
                words,
                Box(box.x, y + number * each, box.width, each),
                letters,
                fitted.size,
            )
        return height

    def _put_words(self, name: str, text: str, row: Box, letters: Letters, size: float) -> None:
        width = self._measure.width(text, bold=letters.bold) * size * MM_PER_POINT
        x = {
            "left": row.x,
            "middle": row.x + (row.width - width) / 2,
            "right": row.right - width,
        }[letters.align]
        base = row.y + self._measure.ascent * size * MM_PER_POINT
        box = Box(x, row.y, width, row.height)
        self.laid.marks.append(Words(name, box, text, base, size, letters.bold, letters.colour))

    def _put_square(self, square: Symbol, box: Box) -> None:
        if (modules := self._modules(square)) is None:
            return
        down = len(modules.rows) + 2 * modules.quiet
        width = module_width(max(modules.across, down), box.width)
        if width is None:
            self._find(
                square,
                "code",
                f"{modules.across} modules in {box.width:g} mm are narrower than 0.25 mm.",
            )
            return
        across, high = len(modules.rows[0]) * width, len(modules.rows) * width
        inner = Box(box.x + (box.width - across) / 2, box.y + (box.height - high) / 2, across, high)
        self.laid.marks.append(Squares(square.name, inner, modules, width))
        if square.is_written:
            written = line_height(WRITTEN.size, self._measure)
            if box.bottom + written > self._bottom - self._size.margin + 1e-6:
                self._find(square, "no room", "There is no room below it for what it says.")
                return
            self._write_below(square, box, written)
            self._ends[square.edge] += written

    def _write_below(self, symbol: Symbol, box: Box, height: float) -> None:
        """Write what a code says below it."""
        if not symbol.is_written:
            return
        text = self._texts[symbol.name]
        size = size_below(text, box.width, self._measure)
        if size is None:
            self._find(symbol, "too long", "What it says is too long to stand below it.")
            return
        row = Box(box.x, box.bottom, box.width, height)
        self._put_words(symbol.name, text, row, WRITTEN, size)

    def _modules(self, symbol: Symbol) -> Modules | None:
        text = self._texts.get(symbol.name, "")
        if not text:
            if symbol.is_needed:
                self._find(symbol, "empty", "There is nothing to write in it.")
            return None
        modules = encode(symbol.symbol, text)
        if not isinstance(modules, Modules):
            self._find(symbol, "code", modules.why)
            return None
        if self._read_back and not reads_back(modules, text):
            self._find(symbol, "code", f"A reader does not read “{text}” back from it.")
            return None
        return modules

    def _find(self, item: Item, kind: str, why: str) -> None:
        self.laid.findings.append(Finding(item.name, kind, why))  # type: ignore[arg-type]


def size_below(text: str, width: float, measure: Measure) -> float | None:
    """Tell in which size what a code says stands below it, in points; None when it cannot."""
    fitted = one_line(text, width, WRITTEN, measure)
    return None if fitted is None or measure.missing(text) else fitted.size


def width_of_band(band: Band, size: Size) -> float:
    """Tell how much room the words of a band have, in mm."""
    return size.width - 2 * size.margin - (_side_of_picture(band) + 2 if band.picture else 0)


def _side_of_picture(band: Band) -> float:
    return max(0.0, band.height - 2.0)


def _why(unfit: Unfit, letters: Letters) -> tuple[str, str]:
    least = f"{min(letters.least, letters.size):g} pt"
    if unfit.letters:
        return "letters", f"The typeface has no {', '.join(map(_name_letter, unfit.letters))}."
    if unfit.word:
        return "too long", f"“{unfit.word}” alone is too wide at {least}."
    allowed = "one line" if letters.lines == 1 else f"{letters.lines} lines"
    return "too long", f"It takes {unfit.lines} lines of {least}, and {allowed} may be."


def _name_letter(letter: str) -> str:
    return (
        f"“{letter}”" if letter.isprintable() and not letter.isspace() else f"U+{ord(letter):04X}"
    )
