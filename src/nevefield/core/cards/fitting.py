"""A text in its place: smaller down to a limit, then on more lines, then a finding; never cut.

How wide letters are is asked of a `Measure` that is handed in, so that what is tried here is what
is printed.
"""

from __future__ import annotations

import math
import re
import unicodedata
from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from nevefield.core.cards.design import Letters

__all__ = ["MM_PER_POINT", "Fitted", "Measure", "Unfit", "fit", "one_line", "tidy"]

MM_PER_POINT = 25.4 / 72
STEP_POINTS = 0.5  # sizes are whole steps of it
# A line may be broken behind white space (which goes) and behind these (which stay).
_BREAK = re.compile(r"(?<=[-–—/])(?=\S)| ")
SAFETY = 1e-9  # of rounding


class Measure(Protocol):
    """Knows a typeface."""

    @property
    def ascent(self) -> float:
        """How high it reaches above the line that letters stand on, of a size of 1."""

    @property
    def descent(self) -> float:
        """How far it reaches below, of a size of 1."""

    def width(self, text: str, *, bold: bool) -> float:
        """Tell how wide a text is of a size of 1: the sum of its letters' advances."""

    def missing(self, text: str) -> str:
        """List the letters that it cannot set, each once."""


@dataclass(frozen=True)
class Fitted:
    """How a text is set."""

    size: float  # in points
    lines: tuple[str, ...]

    def height(self, measure: Measure) -> float:
        """Tell how high it is, in mm."""
        return len(self.lines) * line_height(self.size, measure)


@dataclass(frozen=True)
class Unfit:
    """Why a text has no place: `letters` that the typeface lacks, a `word` that is too long by
    itself, or too many `lines`.
    """

    letters: str = ""
    word: str = ""
    lines: int = 0


def line_height(size: float, measure: Measure) -> float:
    """Tell how high a line is, in mm."""
    return (measure.ascent + measure.descent) * size * MM_PER_POINT


def tidy(text: str) -> str:
    """Bring a text to one form: letters composed (Unicode NFC), white space to single spaces.

    >>> tidy("  Žofie\\n Ørsted ")
    'Žofie Ørsted'
    """
    return " ".join(unicodedata.normalize("NFC", text).split())


def fit(text: str, width: float, letters: Letters, measure: Measure) -> Fitted | Unfit:
    """Fit a text into a width.

    Args:
        text: As `tidy` gives it; not empty.
        width: Of the place, in mm.
        letters: The sizes and lines that it may take.
        measure: Of the typeface.

    Returns:
        The largest size between `least` and `size` at which it stands on one line; else, at
        `least`, as few lines as it takes; else why not.
    """
    if lacking := measure.missing(text):
        return Unfit(letters=lacking)
    smallest = min(letters.least, letters.size)
    if (fitted := one_line(text, width, letters, measure)) is not None:
        return fitted
    room = width / (smallest * MM_PER_POINT) + SAFETY
    lines: list[str] = []
    for word, glue in _words(text):
        if measure.width(word, bold=letters.bold) > room:
            return Unfit(word=word)
        longer = f"{lines[-1]}{glue}{word}" if lines else word
        if lines and measure.width(longer, bold=letters.bold) <= room:
            lines[-1] = longer
        else:
            lines.append(word)
    return (
        Fitted(smallest, tuple(lines)) if len(lines) <= letters.lines else Unfit(lines=len(lines))
    )


def one_line(text: str, width: float, letters: Letters, measure: Measure) -> Fitted | None:
    """Set a text on one line, as large as may be; None when it is too long at the least size."""
    smallest = min(letters.least, letters.size)
    ems = measure.width(text, bold=letters.bold)
    largest = letters.size if not ems else width / ems / MM_PER_POINT + SAFETY
    if largest < smallest:
        return None
    if largest >= letters.size:
        return Fitted(letters.size, (text,))
    size = max(smallest, math.floor(largest / STEP_POINTS) * STEP_POINTS)
    return Fitted(size, (text,))


def _words(text: str) -> list[tuple[str, str]]:
    """List the words of a text, each with what stands between it and the one before."""
    words: list[tuple[str, str]] = []
    start, glue = 0, ""
    for match in _BREAK.finditer(text):
        words.append((text[start : match.start()], glue))
        start, glue = match.end(), match.group()
    words.append((text[start:], glue))
    return words
