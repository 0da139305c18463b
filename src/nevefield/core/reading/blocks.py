"""Several tables in one sheet, and several sheets in one workbook: which of them has the people,
by what stands in it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Arrow
from nevefield.core.columns.headings import words_of
from nevefield.core.reading.evidence import find_layout
from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

__all__ = ["Block", "find_blocks", "worth_of"]

SAMPLE = 120  # rows of each that are looked at
LARGEST = 4_000  # rows of a sheet in which several tables are looked for
MOST_RUNS = 30  # parts of a sheet between blank lines, of which each may be a table
# blank columns between two tables side by side; one alone is a space within a table of even height
APART = 2
PERSON = frozenset(
    [
        "family",
        "given",
        "name",
        "born",
        "birth",
        "mail",
        "phone",
        "sex",
        "number",
        "joined",
        "hired",
        "guardian",
    ]
)


@dataclass(frozen=True)
class Block:
    """A part of a sheet with something in it: rows and columns, each from the first to before
    the last.
    """

    top: int
    bottom: int
    left: int
    right: int

    @property
    def corner(self) -> str:
        """The cell where it begins, as spreadsheets name cells."""
        name, left = "", self.left + 1
        while left:
            left, rest = divmod(left - 1, 26)
            name = chr(ord("A") + rest) + name
        return f"{name}{self.top + 1}"


def worth_of(rows: Sequence[Sequence[str]], known: frozenset[str]) -> float:
    """Say how likely rows are a table of people: by the names of fields, words for what people
    have, and size.
    """
    sample = [row for row in rows if any(map(trim, row))][:SAMPLE]
    if not sample:
        return 0.0
    layout = find_layout(sample, known)
    body = sample[layout.first :]
    if not body:
        return 0.1
    width = int(np.median([sum(1 for cell in row if trim(cell)) for row in body]))
    names = [cell for place in layout.headers for cell in sample[place] if trim(cell)]
    fields = sum(key_of(name) in known for name in names)
    people = sum(bool(words_of(name[:80]) & PERSON) for name in names)
    return float(
        3.0 * min(fields, 12)
        + 2.0 * min(people, 4)
        + 1.2 * np.log2(1 + len(body))
        + (1.0 * np.log2(max(width, 1)) if width > 1 else -3.0)
        + (1.5 if layout.headers else 0.0)
    )


def find_blocks(rows: Sequence[Sequence[str]], known: frozenset[str]) -> list[Block]:
    """Find the tables of a sheet.

    Args:
        rows: Of the sheet, each from its first column on.
        known: Names that headings may have.

    Returns:
        The one that has the people first; one block that is everything where there is one table
        only.
    """
    width = max((len(row) for row in rows), default=0)
    whole = Block(0, len(rows), 0, width)
    if len(rows) > LARGEST or width < 2:
        return [whole]
    filled = np.zeros((len(rows), width), bool)
    for place, row in enumerate(rows):
        filled[place, : len(row)] = [bool(trim(cell)) for cell in row]
    if not filled.any():
        return [whole]
    blocks = [block for beside in _beside(filled) for block in _below(rows, filled, beside, known)]
    blocks = [block for block in blocks if _is_table(filled, block)]
    if len(blocks) < 2:
        return [whole]
    worth = [
        worth_of([row[block.left : block.right] for row in rows[block.top : block.bottom]], known)
        for block in blocks
    ]
    order = sorted(range(len(blocks)), key=lambda place: (-worth[place], place))
    return [blocks[place] for place in order]


def _is_table(filled: NDArray[np.bool_], block: Block) -> bool:
    part = filled[block.top : block.bottom, block.left : block.right]
    return bool((part.sum(axis=1) >= 2).sum() >= 2)


def _runs(marks: Arrow, gap: int) -> list[tuple[int, int]]:
    """List the runs of marks that less than `gap` unmarked places part."""
    places = np.flatnonzero(marks)
    if not len(places):
        return []
    breaks = np.flatnonzero(np.diff(places) > gap)
    return list(
        zip(
            places[np.append(0, breaks + 1)].tolist(),
            (places[np.append(breaks, len(places) - 1)] + 1).tolist(),
            strict=True,
        )
    )


def _beside(filled: NDArray[np.bool_]) -> list[Block]:
    """Part a sheet into what stands side by side."""
    wide = filled.copy()
    wide[wide.sum(axis=1) < 2] = False  # a title reaches over anything
    parts = _runs(wide.any(axis=0), APART)
    closer = _runs(wide.any(axis=0), 1)
    if len(closer) > len(parts) and len({_height(wide, part) for part in closer}) == len(closer):
        parts = closer
    return [Block(0, len(filled), left, right) for left, right in parts]


def _height(filled: NDArray[np.bool_], part: tuple[int, int]) -> tuple[int, int]:
    rows = np.flatnonzero(filled[:, part[0] : part[1]].any(axis=1))
    return int(rows[0]), int(rows[-1])


def _below(
    rows: Sequence[Sequence[str]], filled: NDArray[np.bool_], block: Block, known: frozenset[str]
) -> list[Block]:
    """Part a block into what stands below each other: a new table begins behind a blank row with
    a header of its own.
    """
    runs = _runs(filled[:, block.left : block.right].any(axis=1), 1)
    if len(runs) > MOST_RUNS:  # blank lines part groups of one table
        return [block]
    parts: list[list[int]] = []
    header: list[str] | None = None
    for top, bottom in runs:
        part = [list(row[block.left : block.right]) for row in rows[top:bottom]]
        layout = find_layout(part[:SAMPLE], known) if len(part) > 1 else None
        mine = (
            [key_of(cell) for cell in part[layout.headers[-1]]]
            if layout is not None and layout.headers
            else None
        )
        is_new = header is None or (
            mine is not None
            and layout is not None
            and layout.score > 4.0
            and mine != header
            and len(set(mine) - {""}) > 1
        )
        if not parts or (is_new and header is not None and mine is not None):
            parts.append([top, bottom])
        else:
            parts[-1][1] = bottom
        if mine is not None and (header is None or is_new):
            header = mine
    return [Block(top, bottom, block.left, block.right) for top, bottom in parts]
