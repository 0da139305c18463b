"""A letter on paper: where each line stands, so that the address shows in a window envelope.

Source: DIN 5008:2020, form B: the address 45 mm from the upper edge and 20 mm from the left one,
85 mm wide; the text 25 mm from the left edge and 20 mm from the right one.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.core.cards.fitting import MM_PER_POINT, line_height, tidy
from nevefield.core.cards.symbols import Modules, encode

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.core.cards.fitting import Measure
    from nevefield.core.mailing.template import Filled

__all__ = ["PAPERS", "Page", "Set", "Square", "lacking_letters", "set_letter"]

PAPERS = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}  # mm
LEFT, RIGHT, BOTTOM, TOP = 25.0, 20.0, 25.0, 25.0
HEAD, ADDRESS, SUBJECT = 20.0, 50.0, 103.0  # where they begin
ADDRESS_WIDTH, ADDRESS_LINES = 80.0, 6
BODY, SMALL, LARGE = 11.0, 9.0, 14.0  # points
GAP = 1.15  # of a line's height
SQUARE = 28.0


@dataclass(frozen=True)
class Set:
    """A line of words; x and base are mm from the upper left corner."""

    x: float
    base: float
    text: str
    size: float  # points
    bold: bool = False


@dataclass(frozen=True)
class Square:
    """A square code."""

    x: float
    y: float
    side: float
    modules: Modules


@dataclass
class Page:
    """One page of a letter."""

    lines: list[Set] = field(default_factory=list)
    squares: list[Square] = field(default_factory=list)


def lacking_letters(filled: Filled, measure: Measure) -> str:
    """List the letters of a letter that cannot be set."""
    return measure.missing(
        "".join(tidy(text) for text in (filled.subject, filled.text, filled.address))
    )


def set_letter(
    filled: Filled, head: str, day: str, measure: Measure, link: str = "", paper: str = "A4"
) -> list[Page]:
    """Set a letter.

    Args:
        filled: What is written; letters that the typeface lacks leave a gap.
        head: Who writes.
        day: On which it is written.
        measure: Of the typeface.
        link: That stands in the text: it is printed as a square code too; "" for none.
        paper: One of `PAPERS`.
    """
    width, height = PAPERS[paper]
    room = width - LEFT - RIGHT
    pages = [Page()]
    first = pages[0].lines
    first.append(Set(LEFT, HEAD, tidy(head), LARGE, bold=True))
    y = ADDRESS
    for text in filled.address.splitlines()[:ADDRESS_LINES]:
        size = _fitting(tidy(text), ADDRESS_WIDTH, measure)
        first.append(Set(LEFT, y, tidy(text), size))
        y += _high(BODY, measure)
    right = width - RIGHT - measure.width(day, bold=False) * BODY * MM_PER_POINT
    first.append(Set(right, SUBJECT - 2 * _high(BODY, measure), day, BODY))
    y = SUBJECT
    for text in _wrapped(tidy(filled.subject), room, measure, bold=True):
        first.append(Set(LEFT, y, text, BODY, bold=True))
        y += _high(BODY, measure)
    y += _high(BODY, measure)
    for text in _lines(filled.text, room, measure):
        if y > height - BOTTOM and text:
            pages.append(Page())
            y = TOP
        if text:
            pages[-1].lines.append(Set(LEFT, y, text, BODY))
        y += _high(BODY, measure)
    modules = encode("QR", link) if link else None
    if isinstance(modules, Modules):
        if y + SQUARE > height - BOTTOM:
            pages.append(Page())
            y = TOP
        pages[-1].squares.append(Square(LEFT, y, SQUARE, modules))
    for number, page in enumerate(pages, 1):
        if len(pages) > 1:
            page.lines.append(Set(LEFT, height - 12, f"{number} of {len(pages)}", SMALL))
    return pages


def _high(size: float, measure: Measure) -> float:
    return line_height(size, measure) * GAP


def _fitting(text: str, width: float, measure: Measure) -> float:
    """Give the size at which a line of an address fits its window; a longer one goes beyond."""
    wide = measure.width(text, bold=False) * MM_PER_POINT
    return max(7.0, min(BODY, width / wide)) if wide else BODY


def _lines(text: str, room: float, measure: Measure) -> Iterator[str]:
    for line in text.splitlines():
        yield from _wrapped(tidy(line), room, measure) if line.strip() else [""]


def _wrapped(text: str, room: float, measure: Measure, *, bold: bool = False) -> list[str]:
    """Break a text into lines between words; a word that is wider than a line, where it must."""
    ems = room / (BODY * MM_PER_POINT)
    lines: list[str] = []
    for word in text.split(" "):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and measure.width(longer, bold=bold) <= ems:
            lines[-1] = longer
            continue
        lines.append("")
        for letter in word:
            if lines[-1] and measure.width(lines[-1] + letter, bold=bold) > ems:
                lines.append("")
            lines[-1] += letter
    return lines
