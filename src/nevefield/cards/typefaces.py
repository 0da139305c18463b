"""The typefaces that cards are set in: several files, asked for a letter one after the other.

Letters are set one by one, from left to right, without kerning: what is measured is what is
printed. Scripts that need more (joined letters, marks put on others, from right to left) have none
here, and are told as letters that cannot be set.
"""

from __future__ import annotations

import unicodedata
from functools import cache, cached_property
from itertools import groupby
from pathlib import Path
from typing import TYPE_CHECKING

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

if TYPE_CHECKING:
    from collections.abc import Iterator

__all__ = ["Typefaces", "load_typefaces", "register_typefaces"]

FOLDER = Path(__file__).parent / "typefaces"
# In the order in which they are asked; made by `scripts/typefaces.py`.
FILES = (
    "atkinson-hyperlegible-next-latin",
    "atkinson-hyperlegible-next-latin-ext",
    "noto-sans-vietnamese",
    "noto-sans-greek",
    "noto-sans-greek-ext",
    "noto-sans-cyrillic",
    "noto-sans-cyrillic-ext",
)
WEIGHTS = {False: 400, True: 700}
# Marks that are put on other letters, letters from right to left, and what is not seen at all
_NOT_SET = ("Mn", "Me", "Mc", "Cf", "Cc", "Cs", "Co", "Cn")
_FROM_RIGHT = ("R", "AL")


class Typefaces:
    """Measures and splits texts; a `core.cards.fitting.Measure`."""

    def __init__(self) -> None:
        self._fonts = {
            bold: [_load(f"{name}-{weight}") for name in FILES] for bold, weight in WEIGHTS.items()
        }
        self._letters = {bold: _places(fonts) for bold, fonts in self._fonts.items()}
        self._widths = {
            bold: _Widths(
                {
                    letter: fonts[place].face.charWidths[ord(letter)] / 1000
                    for letter, place in self._letters[bold].items()
                }
            )
            for bold, fonts in self._fonts.items()
        }
        self._known = frozenset(self._letters[False])

    @cached_property
    def ascent(self) -> float:
        """How high the highest of them reaches, of a size of 1."""
        return float(max(font.face.ascent for font in self.fonts())) / 1000

    @cached_property
    def descent(self) -> float:
        """How far the deepest of them reaches below the line, of a size of 1."""
        return float(max(-font.face.descent for font in self.fonts())) / 1000

    def width(self, text: str, *, bold: bool) -> float:
        """Tell how wide a text is of a size of 1; letters that cannot be set have no width."""
        return sum(map(self._widths[bold].__getitem__, text), 0.0)

    def missing(self, text: str) -> str:
        """List the letters that none of them can set, each once."""
        if self._known.issuperset(text):
            return ""
        return "".join(dict.fromkeys(letter for letter in text if letter not in self._known))

    def runs(self, text: str, *, bold: bool) -> Iterator[tuple[TTFont, str]]:
        """Split a text into what each of them sets."""
        letters, fonts = self._letters[bold], self._fonts[bold]
        for place, run in groupby(text, key=lambda letter: letters.get(letter, 0)):
            yield fonts[place], "".join(run)

    def fonts(self) -> list[TTFont]:
        """List all of them, to be embedded where they are used."""
        return [font for fonts in self._fonts.values() for font in fonts]


class _Widths(dict[str, float]):
    """How wide letters are; those that cannot be set have no width."""

    def __missing__(self, letter: str) -> float:
        return 0.0


def _places(fonts: list[TTFont]) -> dict[str, int]:
    """Tell which of some files sets a letter: the first that has it."""
    places: dict[str, int] = {}
    for place, font in enumerate(fonts):
        for letter in map(chr, font.face.charToGlyph):
            if _is_set(letter):
                places.setdefault(letter, place)
    return places


def _load(name: str) -> TTFont:
    font = TTFont(name, FOLDER / f"{name}-normal.ttf")
    # Files of one typeface have one name inside, by which the writer of PDF tells them apart: the
    # second would be set with the letters of the first.
    font.face.name = name.encode()
    return font


def _is_set(letter: str) -> bool:
    return (
        unicodedata.category(letter) not in _NOT_SET
        and unicodedata.bidirectional(letter) not in _FROM_RIGHT
    )


@cache
def load_typefaces() -> Typefaces:
    """Load them, once a process."""
    return Typefaces()


def register_typefaces() -> Typefaces:
    """Give them, known to the writer of PDF."""
    typefaces = load_typefaces()
    for font in typefaces.fonts():
        if font.fontName not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(font)
    return typefaces
