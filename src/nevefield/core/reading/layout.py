"""Where the header stands, where the data begin and end, and which lines are not data."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = [
    "ABOUT",
    "EXAMPLE",
    "MADE_FOR",
    "Layout",
    "find_layout",
    "find_made_for",
    "is_end",
    "is_example",
    "is_total",
    "join_headings",
    "name_columns",
]

SAMPLE = 200  # rows looked at
EXAMPLE = "e.g."  # what every cell of an example row in our request sheets begins with
ABOUT = "About this sheet"  # the sheet of a request workbook that says whom it was made for
MADE_FOR = "Request sheet made for "  # what says so begins with this
LONGEST_NAME = 120  # of a source
_TYPED = re.compile(
    r"""\s*(?: [+-]?[\d.,\s]*\d%?                    # a number
      | \d{1,4}[-./]\d{1,2}[-./]\d{1,4}(\s.*)?       # a day
      | \S+@\S+\.\S+                                 # a mail address
      | (?=\S*\d\S*\d)[\w+()/-]{4,}                  # an identifier: at least two digits
      | \+?[\d ()/-]{6,} )\s*""",
    re.VERBOSE,
)
_TOTAL = re.compile(r"(grand |sub)?totals?\b.*|sum\b.*|summe\b.*|gesamt\b.*|count:?|number of .*", re.IGNORECASE)


@dataclass(frozen=True)
class Layout:
    """The header's place in the list of rows (None: there is none) and the first row of data."""

    header: int | None
    first: int
    upper: int | None = None  # the row above that belongs to the header too, when it goes over two lines


def find_layout(rows: Sequence[Sequence[str]], known: frozenset[str] = frozenset()) -> Layout:
    """Find the header among the first rows.

    Args:
        rows: The first rows of the file, blank ones as no or empty cells.
        known: Names that headings may have, in the form of `key_of`; they weigh most.

    Returns:
        Where header and data begin. The header is the first row as wide as the table, of texts that are all
        different and unlike what stands below them.
    """
    filled = [[trim(cell) for cell in row] for row in rows[:SAMPLE]]
    widths = np.array([sum(1 for cell in row if cell) for row in filled])
    spans = np.array([max((place + 1 for place, cell in enumerate(row) if cell), default=0) for row in filled])
    if not spans.any():
        return Layout(None, 0)
    span = int(np.bincount(spans[spans > 0]).argmax())
    # One text alone above a table of several columns is a note, even where it is half as wide as the table.
    wide = (widths >= max(0.5 * span, min(2, span))) & (spans >= 0.5 * span)
    first_wide = int(np.flatnonzero(wide)[0]) if wide.any() else 0
    best: tuple[float, int] | None = None
    for place in range(min(len(filled), 40)):
        hits = sum(1 for cell in filled[place] if cell and key_of(cell) in known)
        if hits >= 2 and hits >= 0.3 * widths[place] and (best is None or hits > best[0]):
            best = (hits, place)
    if best is not None:
        return _with_upper(filled, best[1], known)
    for upper in (first_wide - 1, first_wide):
        if upper >= 0 and upper + 2 < len(filled) and _goes_on(filled[upper], filled[upper + 1], filled[upper + 2 :]):
            return Layout(upper + 1, upper + 2, upper)
    candidate, below = filled[first_wide], filled[first_wide + 1 :]
    if _looks_like_header(candidate, [row for row in below if any(row) and row != candidate]):
        return Layout(first_wide, first_wide + 1)
    return Layout(None, first_wide)


def _with_upper(filled: list[list[str]], place: int, known: frozenset[str]) -> Layout:
    """Take the row above a header, or below it, for a part of it when together they name more fields."""
    for upper, lower in ((place - 1, place), (place, place + 1)):
        if upper < 0 or lower + 1 >= len(filled) or not _goes_on(filled[upper], filled[lower], filled[lower + 1 :]):
            continue
        joined = join_headings(filled[upper], filled[lower])
        if sum(key_of(name) in known for name in joined) > sum(key_of(cell) in known for cell in filled[place] if cell):
            return Layout(lower, lower + 1, upper)
    return Layout(place, place + 1)


def _goes_on(upper: list[str], lower: list[str], below: list[list[str]]) -> bool:
    """Tell whether a row of headings goes on in the next: the upper one with gaps, both in words, typed values below."""
    names = [cell for cell in upper if cell]
    under = [cell for cell in lower if cell]
    if not 2 <= len(names) < len(under) or any(_TYPED.fullmatch(cell) for cell in (*names, *under)):
        return False
    first = next(place for place, cell in enumerate(upper) if cell)
    if first + 1 < len(upper) and upper[first + 1] and first < len(lower) and lower[first]:
        return False  # an upper heading stands over several: this one over its own column alone is a note in two cells
    return _looks_like_header(lower, [row for row in below if any(row)]) and any(
        _TYPED.fullmatch(row[place]) for row in below[:20] for place in range(len(row)) if row[place]
    )


def join_headings(upper: Sequence[str], lower: Sequence[str]) -> list[str]:
    """Join a header over two lines: each upper text reaches right to the next.

    >>> join_headings(["Name", "", "Enrolled", ""], ["family", "given", "from", "to"])
    ['Name family', 'Name given', 'Enrolled from', 'Enrolled to']
    """
    joined, above = [], ""
    for place in range(max(len(upper), len(lower))):
        above = trim(upper[place]) if place < len(upper) and trim(upper[place]) else above
        joined.append(trim(f"{above} {lower[place] if place < len(lower) else ''}"))
    return joined


def _looks_like_header(candidate: list[str], below: list[list[str]]) -> bool:
    texts = [cell for cell in candidate if cell]
    if len(set(texts)) < len(texts) and len(texts) > 3 and len(set(texts)) < 0.7 * len(texts):
        return False
    if not below:
        return not any(_TYPED.fullmatch(cell) for cell in texts)
    alike = unlike = repeated = 0
    for place, cell in enumerate(candidate):
        column = [row[place] for row in below if place < len(row) and row[place]]
        if not cell or not column:
            continue
        typed = sum(1 for value in column if _TYPED.fullmatch(value)) >= 0.7 * len(column)
        if typed:
            if _TYPED.fullmatch(cell):
                alike += 1
            else:
                unlike += 1
        elif cell in column:
            repeated += 1
    if alike or unlike:
        return unlike > alike
    return repeated == 0


_END = re.compile(
    r"[*=#_-]{2,}.*|(end|eof|ende|fin)\b.*|.*\b(rows?|records?|lines?|entries|exported|generated|printed|created|page)\b.*",
    re.IGNORECASE,
)


def is_end(cells: Sequence[str]) -> bool:
    """Tell whether a row at the end of a file only says that it ends: one cell, in words, not a lonely identifier."""
    filled = [trim(cell) for cell in cells if trim(cell)]
    return len(filled) == 1 and _END.fullmatch(filled[0]) is not None


def is_example(cells: Sequence[str]) -> bool:
    """Tell whether a row is the example of a request sheet that came back: every cell of it begins so."""
    filled = [trim(cell) for cell in cells if trim(cell)]
    return bool(filled) and all(cell.casefold().startswith(f"{EXAMPLE} ") for cell in filled)


def find_made_for(texts: Sequence[str]) -> str:
    """Find whom a request sheet was made for, among the texts of its first lines; "" where none says so.

    >>> find_made_for(["", "Request sheet made for Harbour office"])
    'Harbour office'
    """
    said = (trim(text).removeprefix(MADE_FOR) for text in texts if trim(text).startswith(MADE_FOR))
    return next((name.rstrip(",;\t ")[:LONGEST_NAME] for name in said), "")


def is_total(cells: Sequence[str]) -> bool:
    """Tell whether a row at the end of a file is a total rather than a person."""
    filled = [trim(cell) for cell in cells if trim(cell)]
    return bool(filled) and len(filled) <= max(3, len(cells) // 3) and _TOTAL.fullmatch(filled[0]) is not None


def name_columns(heading_row: Sequence[str] | None, width: int) -> list[str]:
    """Name the columns: the headings as written, "Column N" for none, " (2)" added to a doubled one."""
    names: list[str] = []
    taken: set[str] = set()
    for place in range(width):
        heading = heading_row[place] if heading_row is not None and place < len(heading_row) else ""
        name = heading if trim(heading) else f"Column {place + 1}"
        number = 2
        while name in taken:
            name, number = f"{heading or f'Column {place + 1}'} ({number})", number + 1
        taken.add(name)
        names.append(name)
    return names
