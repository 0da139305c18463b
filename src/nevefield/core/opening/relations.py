"""Find what holds between columns: which one numbers people, which refers to it, what comes before
what, which code stands under which.
"""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.days import decide_order, read_day
from nevefield.core.columns.numbers import decide_mark, read_number
from nevefield.core.opening.naming import (
    SUPERIORS,
    begins,
    ends,
    names_people,
    speaks_of_people,
)
from nevefield.core.texts import key_of, read_whole

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.opening.looks import Look

__all__ = ["Reference", "find_keys", "find_orders", "find_parents", "find_references"]

ALIKE = 0.98  # of the rows are different under a key
REFERS = 0.95  # of the values are keys of the file
CROSSED = 0.02  # of the rows in which an end comes before its beginning, at most
ENOUGH = 50  # rows of both
UNDER = 0.98  # of the rows, under the parent that their code has as a rule
_COUNTER = re.compile(
    r"(?:row|line|lfd|laufende|serial|sr|s|seq|pos|item)?\W*(?:no|nr|num|#|n)?\W*", re.I
)
_SAY_NO_TOPIC = frozenset(("until", "from", "date", "day", "joined"))
_THINGS = (
    "card account passport visa room locker bank iban tax insurance permit licence license badge"
    " facility phone"
)
_OTHER_THINGS = frozenset(_THINGS.split())


@dataclass(frozen=True)
class Reference:
    """A column whose values are keys of the same file.

    Args:
        place: Of the column.
        target: Of the key's column.
        hierarchy: Whether it goes up a tree: to a manager, and from there further up.
    """

    place: int
    target: int
    hierarchy: bool


def find_keys(looks: Sequence[Look], kinds: Sequence[str]) -> tuple[list[int], int | None]:
    """Find the columns that people are known by, the likeliest first.

    Args:
        looks: The columns.
        kinds: Of them, by name.

    Returns:
        Their places; and that of a column which only counts the rows.
    """
    ranked = []
    counter = None
    for place, (look, kind) in enumerate(zip(looks, kinds, strict=True)):
        if kind not in ("identifier", "mail", "integer", "text") or not look.is_full:
            continue
        if look.distinct < ALIKE or look.rows < 2 or _is_prose(look, kind):
            continue
        if _counts_rows(look):
            counter = place
            continue
        is_named = "number" in look.words or names_people(look.words)
        if kind in ("integer", "text") and not is_named:
            continue
        other = bool(look.words & _OTHER_THINGS)
        rank = (kind == "mail", other, -speaks_of_people(look.words), kind != "identifier", place)
        if speaks_of_people(look.words) or kind == "mail":
            ranked.append((rank, place))
    return [place for _, place in sorted(ranked)], counter


def _is_prose(look: Look, kind: str) -> bool:
    return kind == "text" and look.share(lambda text: " " in text) > 0.2


def _counts_rows(look: Look) -> bool:
    """Tell whether a column counts the rows of the file from 0 or 1 on, under a heading that says
    no more.
    """
    if not re.fullmatch(_COUNTER, look.heading.strip()) or not look.texts:
        return False
    numbers = [number for text in look.texts if (number := read_whole(text)) is not None]
    if len(numbers) < len(look.texts):
        return False
    steps = np.diff(np.array(numbers, np.float64))
    return numbers[0] in (0, 1) and bool((steps == 1).mean() > ALIKE if len(steps) else True)


def find_references(
    looks: Sequence[Look], kinds: Sequence[str], keys: Sequence[int]
) -> list[Reference]:
    """Find columns whose values are keys of the file in nearly all rows that have one."""
    found: list[Reference] = []
    for target in keys:
        if kinds[target] == "mail":
            continue
        known = {key_of(text) for text in looks[target].texts}
        for place, look in enumerate(looks):
            if place in keys or len(look.counts) < 2 or kinds[place] in ("date", "year", "boolean"):
                continue
            if any(one.place == place for one in found):
                continue
            if _share_known(look, known) >= REFERS and _is_linked(look, looks[target]):
                up = bool(look.words & SUPERIORS) and not _goes_round(look, looks[target])
                found.append(Reference(place, target, up))
    return found


def _share_known(look: Look, known: set[str]) -> float:
    return look.share(lambda text: key_of(text) in known)


def _is_linked(look: Look, target: Look) -> bool:
    """Tell a reference from small numbers that happen to be keys too."""
    if look.words & SUPERIORS or "number" in look.words or "sibling" in look.words:
        return True
    sizes = Counter(map(len, target.texts))
    return min(map(len, look.texts)) >= 4 and len(sizes) <= 2 and look.filled >= 5


def _goes_round(look: Look, target: Look) -> bool:
    """Tell whether following the references comes back to where it began."""
    keys = [key_of(text) for text in target.texts]
    ups = [key_of(text) for text in look.texts]
    above = {
        keys[code]: ups[up]
        for code, up in zip(target.codes.tolist(), look.codes.tolist(), strict=True)
        if code >= 0 and up >= 0
    }
    rounds = 0
    for start in above:
        one, steps = above[start], 0
        while one in above and one != start and steps <= len(above):
            one, steps = above[one], steps + 1
        rounds += one == start
    # one loop in a large file is a mistake, for checking to find
    return rounds > max(2, 0.02 * len(above))


def find_orders(
    looks: Sequence[Look], kinds: Sequence[str], today: date
) -> list[tuple[int, int, int]]:
    """Find pairs of days or numbers that begin and end something and do not cross.

    Returns:
        The place of the beginning, that of the end, and in how many rows they cross.
    """
    found: list[tuple[int, int, int]] = []
    shares: dict[int, int] = {}  # words that a beginning shares with an end, at most
    pairs: list[tuple[int, int, int, int]] = []
    for kind in ("date", "datetime", "year", "integer", "number"):
        places = [place for place, one in enumerate(kinds) if one == kind]
        starts = [place for place in places if begins(looks[place].words)]
        for last in (place for place in places if ends(looks[place].words)):
            fits = []
            for first in starts:
                crossed, both = _crossed(looks[first], looks[last], kind, today)
                shared = len(looks[first].words & looks[last].words - _SAY_NO_TOPIC)
                if both >= ENOUGH and crossed <= CROSSED * both:
                    fits.append((-shared, abs(last - first), first, crossed))
            if fits:
                shared, _, first, crossed = min(fits)
                pairs.append((first, last, crossed, -shared))
                shares[first] = max(shares.get(first, 0), -shared)
    for first, last, crossed, shared in pairs:
        # what begins with a name ends with it: enrolled until, not the health card's last day
        if shared == shares[first]:
            found.append((first, last, crossed))
    return found


def _crossed(first: Look, last: Look, kind: str, today: date) -> tuple[int, int]:
    """Count the rows in which an end comes before its beginning, and those that have both."""
    starts, stops = _sizes(first, kind, today)[first.codes], _sizes(last, kind, today)[last.codes]
    both = ~np.isnan(starts) & ~np.isnan(stops)
    return int((stops[both] < starts[both]).sum()), int(both.sum())


def _sizes(look: Look, kind: str, today: date) -> NDArray[np.float64]:
    """Put a column's texts as numbers, not-a-number for what is none and, at the end, for
    nothing.
    """
    order, _ = decide_order(look.texts)
    mark, _ = decide_mark(look.texts)
    sizes = []
    for text in look.texts:
        size = np.nan
        if kind in ("date", "datetime"):
            read = read_day(text.split()[0] if kind == "datetime" else text, order, today)
            if read is not None and read.day is not None:
                size = float(read.day.toordinal())
        elif (number := read_number(text, mark)) is not None and number.value is not None:
            size = float(number.value)
        sizes.append(size)
    return np.array([*sizes, np.nan])


def find_parents(
    coded: Mapping[int, NDArray[np.int64]], sizes: Mapping[int, int]
) -> dict[int, int]:
    """Find codes of which each stands under one code of another column.

    Args:
        coded: By the column's place, for each row the number of its code; -1 for none.
        sizes: How many codes each column has.

    Returns:
        By place, that of the column above it: of several, the one with most codes.
    """
    parents: dict[int, int] = {}
    for place in coded:
        above = [
            other
            for other in coded
            if other != place
            and 1 < sizes[other] < sizes[place]
            and _stands_under(coded[place], coded[other], sizes[place], sizes[other])
        ]
        if above:
            parents[place] = max(above, key=lambda other: (sizes[other], -other))
    return parents


def _stands_under(
    ours: NDArray[np.int64], theirs: NDArray[np.int64], count: int, above: int
) -> bool:
    """Tell whether nearly every row's code is under the parent that its code has as a rule, and
    every code has one as a rule.
    """
    both = (ours >= 0) & (theirs >= 0)
    if both.sum() < max(ENOUGH / 2, 3 * count):
        return False
    pairs = np.bincount(ours[both] * above + theirs[both], minlength=count * above)
    table = pairs.reshape(count, above)
    rows = table.sum(axis=1)
    most = table.max(axis=1)
    seen = rows > 0
    if most.sum() < UNDER * both.sum() or (most[seen] < 0.75 * rows[seen]).any():
        return False
    # Two or more parents that are really told apart: not all codes under one.
    return len(set(table[seen].argmax(axis=1).tolist())) > 1
