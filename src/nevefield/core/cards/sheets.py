"""Cards on sheets: where each stands, its cutting marks, and its back at the right place behind it.

The backs of a sheet are printed on its other side; the sheet is turned about its long edge, so what
stands at the left in front stands at the right behind.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.errors import CardTooLarge

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.core.cards.design import Size

__all__ = ["PAPERS", "Page", "Slot", "arrange", "cutting_marks", "per_sheet"]

# width and height in mm; ISO 216, and ANSI/ASME Y14.1 (US Letter)
PAPERS = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
EDGE = 10.0  # mm that printers leave empty, with the cutting marks in it
APART = 4.0  # mm between cards
MARK = 3.0  # mm that a cutting mark is long
FROM_CARD = 0.5  # mm between a card and its mark


@dataclass(frozen=True)
class Slot:
    """Where a side of a card stands on a page, in mm from the upper left corner."""

    card: int
    side: str  # front, back
    x: float
    y: float


@dataclass(frozen=True)
class Page:
    """One side of a sheet."""

    width: float
    height: float
    slots: tuple[Slot, ...]
    is_marked: bool = False


def per_sheet(paper: str, size: Size) -> tuple[int, int]:
    """Tell how many cards stand side by side and below each other.

    Raises:
        CardTooLarge: Not even one does.
    """
    width, height = PAPERS[paper]
    across = int((width - 2 * EDGE + APART) // (size.width + APART))
    down = int((height - 2 * EDGE + APART) // (size.height + APART))
    if not across or not down:
        raise CardTooLarge((size.width, size.height), paper)
    return across, down


def arrange(count: int, size: Size, paper: str, *, has_back: bool) -> Iterator[Page]:
    """Put cards on pages, in their order.

    Args:
        count: How many cards.
        size: Of each.
        paper: A4 or Letter; "" for a page for each side, as a card printer takes them.
        has_back: Whether they have a back.
    """
    sides = ("front", "back") if has_back else ("front",)
    if not paper:
        for card in range(count):
            for side in sides:
                yield Page(size.width, size.height, (Slot(card, side, 0.0, 0.0),))
        return
    width, height = PAPERS[paper]
    across, down = per_sheet(paper, size)
    left = (width - across * size.width - (across - 1) * APART) / 2
    top = (height - down * size.height - (down - 1) * APART) / 2
    for first in range(0, count, across * down):
        cards = range(first, min(count, first + across * down))
        for side in sides:
            slots = []
            for place, card in enumerate(cards):
                row, column = divmod(place, across)
                if side == "back":
                    column = across - 1 - column
                slots.append(
                    Slot(
                        card,
                        side,
                        left + column * (size.width + APART),
                        top + row * (size.height + APART),
                    )
                )
            yield Page(width, height, tuple(slots), is_marked=True)


def cutting_marks(slot: Slot, size: Size) -> Iterator[tuple[float, float, float, float]]:
    """Give the lines at the corners of a card along which it is cut: from x, y to x, y.

    They stand outside of the card, and outside of those beside it.
    """
    long = min(MARK, APART / 2 - FROM_CARD)
    for x, outward in ((slot.x, -1), (slot.x + size.width, 1)):
        for y, down in ((slot.y, -1), (slot.y + size.height, 1)):
            yield x + outward * FROM_CARD, y, x + outward * (FROM_CARD + long), y
            yield x, y + down * FROM_CARD, x, y + down * (FROM_CARD + long)
