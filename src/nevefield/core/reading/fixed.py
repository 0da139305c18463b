"""Text in columns of fixed width: cut where no line has anything."""

from __future__ import annotations

import io
import re

import numpy as np

from nevefield.core.reading.delimited import Rows
from nevefield.core.texts import trim

__all__ = ["cut_fixed", "find_cuts"]

SAMPLE = 400  # lines looked at
LEAST_LINES = 4
PADDED = 0.4  # share of the lines that have to have a run of blanks
ALMOST_ALL = 0.97  # share of the lines that have to be blank at a place for it to part two columns


def find_cuts(text: str) -> list[int]:
    """Find where columns begin.

    Args:
        text: The decoded text.

    Returns:
        The places where columns begin, the first 0; [] when the text is not in columns. Lines much
        shorter than the usual (notes, ends) have no say; a gap of one blank parts columns only
        where what stands after it begins in nearly every line.
    """
    lines = [
        line.rstrip("\r\n").expandtabs()
        for line, _ in zip(io.StringIO(text), range(SAMPLE), strict=False)
    ]
    if ruled := next((cuts for line in lines[:60] if (cuts := _ruled(line))), []):
        return ruled
    lengths = np.array([len(line.rstrip()) for line in lines if trim(line)])
    if len(lengths) < LEAST_LINES:
        return []
    usual = [line for line in lines if len(line.rstrip()) >= 0.6 * np.median(lengths)]
    if sum("  " in line.strip() for line in usual) < PADDED * len(usual):
        return []  # no line is filled up with blanks: words stand one behind the other
    width = max(map(len, usual))
    blank = np.array([[letter == " " for letter in line.ljust(width)] for line in usual])
    gap = blank.mean(axis=0) >= ALMOST_ALL
    cuts = [0]
    for place in range(1, width):
        begins = 1 - blank[:, place].mean()
        if gap[place - 1] and not gap[place] and ((place >= 2 and gap[place - 2]) or begins >= 0.9):
            cuts.append(place)
    return cuts if len(cuts) > 1 else []


def _ruled(line: str) -> list[int]:
    """List where the parts of a ruler begin, that stands below a header and says how wide its
    columns are.
    """
    parts = list(re.finditer(r"[-=_]{2,}", line))
    if len(parts) < 2 or set(line) - set("-=_ "):
        return []
    return [0, *(part.start() for part in parts[1:])]


def cut_fixed(text: str, cuts: list[int]) -> Rows:
    """Cut every line at the places where columns begin; a value that reaches over into the next
    column stays whole in its own.
    """
    values: list[list[str]] = []
    lines: list[int] = []
    for number, line in enumerate(io.StringIO(text), start=1):
        plain = line.rstrip("\r\n").expandtabs()
        cells = [trim(plain[begin:end]) for begin, end in zip(cuts, [*cuts[1:], None], strict=True)]
        values.append(cells if any(cells) else [])
        lines.append(number)
    return Rows(values, lines, [])
