"""How a text is laid out: what parts its cells, or where its columns begin.

Each way is tried on a sample, and the likeliest taken.
"""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.headings import is_heading_word
from nevefield.core.reading.delimited import Rows
from nevefield.core.reading.fixed import cut_fixed, find_cuts
from nevefield.core.reading.looks import BLANK, KINDS, looks_of
from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = ["Dialect", "find_dialect", "read_drawn"]

SEPARATORS = (",", ";", "\t", "|", "^", "~", ":")
RARE = {":": -1.5, "^": -0.2, "~": -0.2}
HEAD, MIDDLE, TAIL = 200_000, 60_000, 30_000  # characters looked at
SAMPLE = 150  # rows of the head that are looked at
NEAR = 0.5  # two ways that differ by less are both said
FIXED = -0.8
_SAID = re.compile(r'"?sep=(.)"?[\r\n]', re.IGNORECASE)
_BARS = "|│┃║"
_RULE = re.compile(r"[-=+|─━═┄┈│┃║┌┬┐├┼┤└┴┘╔╦╗╠╬╣╚╩╝╒╤╕╞╪╡╘╧╛:\s]{3,}")
_CROSSED = re.compile(r"\s*[-─━═]{2,}(?:[+┼╪╬][-─━═]{2,})+\s*")


@dataclass(frozen=True)
class Dialect:
    """How cells are parted."""

    separator: str = ","
    cuts: tuple[int, ...] = ()  # where columns of fixed width begin
    is_drawn: bool = False
    other: str = ""  # another separator that is nearly as likely


def find_dialect(text: str, known: frozenset[str] = frozenset()) -> Dialect:
    """Tell how a text's cells are parted.

    Args:
        text: Decoded, without a byte order mark.
        known: Names that headings may have.
    """
    if matched := _SAID.match(text[:20]):
        return Dialect(matched[1])
    sample = _sample(text)
    if _is_drawn(sample):
        return Dialect("|", is_drawn=True)
    scored = []
    for separator in SEPARATORS:
        if separator in sample:
            score = _score(_parsed(sample, separator), known) + RARE.get(separator, 0.0)
            scored.append((score, Dialect(separator)))
    best = max((score for score, _ in scored), default=0.0)
    if best < 8.0 and "\t" not in sample and (cuts := find_cuts(text)):
        scored.append(
            (_score(cut_fixed(sample, cuts).values, known) + FIXED, Dialect(cuts=tuple(cuts)))
        )
    scored = sorted((one for one in scored if one[0] > 0), key=lambda one: -one[0])
    if not scored:
        return Dialect()
    first = scored[0][1]
    if (
        len(scored) > 1
        and scored[0][0] - scored[1][0] < NEAR
        and not first.cuts
        and not scored[1][1].cuts
    ):
        return Dialect(first.separator, other=scored[1][1].separator)
    return first


def _sample(text: str) -> str:
    """Take the head of a text, and of a long one its middle and its end: the table is there,
    notes are at its edges.
    """
    if len(text) <= HEAD + MIDDLE + TAIL:
        return text
    parts = [text[:HEAD]]
    for begin, size in ((len(text) // 2, MIDDLE), (len(text) - TAIL, TAIL)):
        part = text[begin : begin + size]
        parts.append(part[part.find("\n") + 1 :])
    return "\n".join(parts)


def _parsed(sample: str, separator: str) -> list[list[str]]:
    rows: list[list[str]] = []
    try:
        for row in csv.reader(io.StringIO(sample, newline=""), delimiter=separator):
            rows.append(row)
            if len(rows) >= 3 * SAMPLE:
                break
    except csv.Error:
        return []
    return rows


def _score(rows: Sequence[Sequence[str]], known: frozenset[str]) -> float:
    """Score how far rows are those of one table; 0 when nothing parts anything."""
    rows = [row for row in rows if any(map(trim, row))]
    widths = np.array([len(row) for row in rows])
    if not len(rows) or not (widths > 1).any():
        return 0.0
    best = 0.0
    counts = np.bincount(widths[widths > 1])
    for width in np.argsort(-counts)[:2].tolist():
        if counts[width]:
            best = max(best, _score_width(rows, widths, width, known))
    return best


def _score_width(
    rows: Sequence[Sequence[str]], widths: np.ndarray, width: int, known: frozenset[str]
) -> float:
    fits = widths == width
    first, last = int(np.flatnonzero(fits)[0]), int(np.flatnonzero(fits)[-1])
    agree = float(fits.mean())
    within = float(fits[first : last + 1].mean())  # notes stand above and below
    body = [row for row, fit in zip(rows, fits, strict=True) if fit][:SAMPLE]
    shown = min(width, 40)
    looks = looks_of(body[1:] or body, shown)
    alike = []
    for place in range(shown):
        counts = np.bincount(looks[:, place], minlength=KINDS)
        counts[BLANK] = 0
        if counts.sum():
            alike.append(counts.max() / counts.sum())
    heads = body[:30]
    words = max((_words_in(row, known) for row in heads), default=0.0)
    later = [cell for row in body for cell in row[1:] if trim(cell)]
    spaced = sum(cell[:1] == " " for cell in later) / len(later) if later else 0.0
    steady = 0.35 * agree + 0.65 * within
    few = min(1.0, 0.5 + 0.1 * len(body))
    return float(
        3.0 * steady**2 * few
        + 0.8 * np.log2(min(width, 60)) * steady
        + 1.6 * (float(np.mean(alike)) if alike else 0.0) * few
        + 2.5 * words
        - 2.0 * spaced
    )


def _words_in(row: Sequence[str], known: frozenset[str]) -> float:
    cells = [cell for cell in row if trim(cell)][:60]
    if len(cells) < 2:
        return 0.0
    hits = sum(
        1.0 if key_of(cell) in known else 0.6 if is_heading_word(cell[:60]) else 0.0
        for cell in cells
    )
    return hits / len(cells)


def _is_drawn(sample: str) -> bool:
    """Tell whether a table is drawn in letters: bars at both sides of its lines, and a ruler
    that meets them.
    """
    lines = [line for line in sample[:40_000].splitlines()[:200] if line.strip()]
    rulers = [
        line
        for line in lines
        if _RULE.fullmatch(line)
        and any(text in line for text in "-─━═")
        and any(text in line for text in "+|│┼╪╬┬┤║")
    ]
    barred = sum(
        1
        for line in lines
        if line.strip()[0] in _BARS and line.strip()[-1] in _BARS and len(line.strip()) > 2
    )
    crossed = any(_CROSSED.fullmatch(line) for line in lines)
    return bool(rulers) and (
        barred >= 2 or (crossed and sum("|" in line or "│" in line for line in lines) >= 2)
    )


def read_drawn(text: str) -> Rows:
    """Read a table that is drawn: bars part cells, lines that are only drawn are rows of one
    cell.
    """
    values: list[list[str]] = []
    lines: list[int] = []
    for number, line in enumerate(io.StringIO(text, newline=None), start=1):
        bare = line.strip()
        if not bare:
            values.append([])
        elif _RULE.fullmatch(bare) or not any(bar in bare for bar in _BARS):
            values.append([bare])
        else:
            cells = [trim(cell) for cell in re.split(f"[{_BARS}]", bare)]
            if bare[0] in _BARS:
                cells = cells[1:]
            if bare[-1] in _BARS:
                cells = cells[:-1]
            values.append(cells)
        lines.append(number)
    return Rows(values, lines, [])
