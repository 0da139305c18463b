"""Find columns whose cells hold several values, and the sign between them."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from nevefield.core.opening.lists import LONGEST, MOST_CODES, OFTEN
from nevefield.core.texts import fold, trim

if TYPE_CHECKING:
    from nevefield.core.opening.looks import Look

__all__ = ["count_parts", "find_separator"]

SIGNS = (";", "|", "\n", ",", "/", "+", "&")
LEAST = 3  # cells with several values
SHARE = 0.02  # of the cells that are filled
KNOWN = 0.8  # of the parts stand in other cells too


def find_separator(look: Look) -> str:
    """Find the sign between several values of a cell; "" where cells hold one.

    The parts must be few, and nearly all of them stand in other cells too: alone, or with others.
    """
    for sign in SIGNS:
        joint = {text: rows for text, rows in look.counts.items() if len(split(text, sign)) > 1}
        rows = sum(joint.values())
        if not joint:
            continue
        cells: Counter[str] = Counter()  # different cells in which a part stands
        parts: Counter[str] = Counter()
        alone = {fold(text) for text in look.counts if len(split(text, sign)) < 2}
        if not all(fold(part) in alone for text in joint for part in split(text, sign)) and (
            rows < max(LEAST, SHARE * look.filled) or len(joint) < 2
        ):
            continue
        for text, count in look.counts.items():
            for part in {fold(part) for part in split(text, sign)}:
                cells[part] += 1
                parts[part] += count
        if not parts or max(map(len, parts)) > LONGEST or sum(parts.values()) <= OFTEN * len(parts):
            continue
        of_joint = Counter(fold(part) for text in joint for part in split(text, sign))
        known = sum(count for part, count in of_joint.items() if part in alone or cells[part] > 1)
        # as many parts as whole cells: what stands there is one text with a comma in it
        is_fewer = len(parts) < len(look.counts) or len(alone) >= 2
        if is_fewer and len(parts) <= 3 * MOST_CODES and known >= KNOWN * sum(of_joint.values()):
            return sign
    return ""


def split(text: str, sign: str) -> list[str]:
    """Split a cell; empty parts fall away."""
    return [part for part in map(trim, text.split(sign)) if part]


def count_parts(look: Look, sign: str) -> dict[str, int]:
    """Count the rows of each part."""
    counts: Counter[str] = Counter()
    for text, rows in look.counts.items():
        for part in dict.fromkeys(split(text, sign)):
            counts[part] += rows
    return dict(counts)
