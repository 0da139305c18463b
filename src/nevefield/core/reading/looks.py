"""What cells look like, and how far rows look like headings, like notes, or like the rows below
them.

Each kind of row is a model that gives a cell's look a probability; what decides is the ratio of two
such probabilities, as in a likelihood ratio test (Neyman & Pearson 1933), summed over cells in
natural logarithms.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.texts import trim

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

__all__ = [
    "BLANK",
    "DAY",
    "HEADING",
    "IDENT",
    "KINDS",
    "MAIL",
    "NOTE",
    "NUMBER",
    "OTHER",
    "PRIOR",
    "RULED",
    "RULER",
    "SENTENCE",
    "WORDS",
    "look",
    "looks_of",
]

KINDS = 9
BLANK, RULER, NUMBER, DAY, MAIL, IDENT, WORDS, SENTENCE, OTHER = range(KINDS)
RULED = r"[-=_*~#+|.─━═┄┈│┃║┌┬┐├┼┤└┴┘╔╦╗╠╬╣╚╩╝╒╤╕╞╪╡╘╧╛]{2,}"  # what only draws a line
LONGEST = 200  # characters of a cell that are looked at
_SHAPES = (
    (RULER, re.compile(RULED)),
    (NUMBER, re.compile(r"[-+−]?\d[\d.,'\u00a0 ]{0,30}\s?%?|[-+−]?[.,]\d{1,20}")),
    (
        DAY,
        re.compile(
            r"\d{1,4}[-./ ]\d{1,2}[-./ ]\d{1,4}(?:[ T].{0,40})?|\d{1,2}[-. ]{0,2}[^\W\d_]{3,12}[-."
            r" ,]{1,2}\d{2,4}"
        ),
    ),
    (MAIL, re.compile(r"[^\s@]{1,100}@[^\s@]{1,100}")),
    (
        IDENT,
        re.compile(r"\+?[\d ()/.-]{6,30}|(?=[^\d]{0,30}\d)[\w+()/.#:-]{2,40}|[^\W\d_] \d{1,3}"),
    ),
)
_WORD = re.compile(r"[^\W\d_]+")

# How likely a cell is to look so, in a row of headings, in a note, and in a column of which nothing
# is known yet.
HEADING = np.log(np.array([0.02, 0.001, 0.03, 0.008, 0.002, 0.12, 0.72, 0.03, 0.069]))
NOTE = np.log(np.array([0.75, 0.01, 0.015, 0.015, 0.003, 0.012, 0.07, 0.08, 0.045]))
PRIOR = np.array([0.14, 0.005, 0.16, 0.1, 0.05, 0.17, 0.24, 0.05, 0.085])


@lru_cache(100_000)
def look(text: str) -> int:
    """Tell what a cell looks like.

    >>> look("2008-03-14") == DAY, look("Family name") == WORDS, look("TQ204417X") == IDENT
    (True, True, True)
    """
    bare = trim(text[: LONGEST + 1])
    if not bare:
        return BLANK
    for kind, shape in _SHAPES:
        if shape.fullmatch(bare):
            return kind
    words = len(_WORD.findall(bare))
    if len(bare) > 50 or words >= 7 or (words >= 3 and bare[-1] in ".?!:"):
        return SENTENCE
    return WORDS if words and not any(letter.isdigit() for letter in bare) else OTHER


def looks_of(rows: Sequence[Sequence[str]], width: int) -> NDArray[np.int8]:
    """Tell what the cells of rows look like, as rows × columns; beyond a row's end is blank."""
    looks = np.zeros((len(rows), width), np.int8)
    for place, row in enumerate(rows):
        looks[place, : len(row)] = [look(cell) for cell in row[:width]]
    return looks
