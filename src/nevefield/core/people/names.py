"""Names: what they sound like, and which stand for each other."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["NICKNAMES", "STANDS_FOR", "known_as", "soundex"]

_SOUNDS = {
    **dict.fromkeys("bfpv", "1"),
    **dict.fromkeys("cgjkqsxz", "2"),
    **dict.fromkeys("dt", "3"),
    "l": "4",
    **dict.fromkeys("mn", "5"),
    "r": "6",
}


@lru_cache(200_000)
def soundex(name: str) -> str:
    """Write what a name sounds like: Soundex, as the National Archives of the United States
    describe it for the census.

    Args:
        name: In small plain letters; of several words all are taken as one.

    >>> soundex("tymczak"), soundex("pfister"), soundex("honeyman"), soundex("ashcraft")
    ('t522', 'p236', 'h555', 'a261')
    """
    letters = name.replace(" ", "")
    if not letters or not letters.isascii():  # of other letters the census says nothing
        return ""
    out, last = letters[0], _SOUNDS.get(letters[0], "")
    for letter in letters[1:]:
        sound = _SOUNDS.get(letter, "")
        if sound and sound != last:
            out += sound
        if letter not in "hw":  # they do not part equal sounds; vowels do
            last = sound
        if len(out) == 4:
            break
    return out.ljust(4, "0")


def _read_lines() -> dict[str, list[list[str]]]:
    """Read the lists of names that stand for each other, by the heading above each."""
    text = (resources.files(__package__) / "given_names.txt").read_text("utf-8").replace("\n ", " ")
    lines: dict[str, list[list[str]]] = {}
    heading = ""
    for line in text.split("\n"):
        if line.startswith("#"):
            heading = line[1:].strip()
        elif line:
            lines.setdefault(heading, []).append(line.split())
    return lines


_LISTS = _read_lines()
# given names as people use them, the one on the birth certificate first
NICKNAMES = tuple(map(tuple, _LISTS["english"]))
_LINES = [
    frozenset(plain_letters(" ".join(line)).split()) for lines in _LISTS.values() for line in lines
]


def known_as(name: str) -> int:
    """Number a name that others stand for, by its first word; -1 for a name of which no such
    thing is known.
    """
    return _NUMBERS.get(name.split(" ", 1)[0], -1)


def _stand_for_each_other() -> tuple[dict[str, int], NDArray[np.bool_]]:
    numbers = {name: place for place, name in enumerate(sorted(frozenset().union(*_LINES)))}
    table = np.zeros((len(numbers) + 1,) * 2, bool)  # the last one for -1: a name that is not there
    for line in _LINES:
        places = [numbers[name] for name in line]
        table[np.ix_(places, places)] = True
    return numbers, table


_NUMBERS, STANDS_FOR = _stand_for_each_other()
