"""What something with rows was edited from, and in which rows: with it, what rests on it is
mended there and nowhere else.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Array
from nevefield.core.edits import limits

if TYPE_CHECKING:
    from collections.abc import Iterable

    from numpy.typing import NDArray

__all__ = ["NO_ROWS", "Followed", "Trail", "has_any", "put_in", "union"]

NO_ROWS = np.zeros(0, np.intp)


class Trail:
    """The edits that led here, each with the rows that it touched.

    >>> first = Trail()
    >>> second = first.after(np.array([3])).after(np.array([1]))
    >>> second.since(first).tolist(), first.after(np.array([7])).since(second).tolist(), second.since(Trail())
    ([1, 3], [1, 3, 7], None)
    """  # noqa: E501

    __slots__ = ("_marks", "_rows")

    def __init__(self) -> None:
        self._marks: tuple[object, ...] = (object(),)  # of each state, this one's first
        # that were touched between each state and the one behind it
        self._rows: tuple[NDArray[np.intp], ...] = ()

    def after(self, rows: NDArray[np.intp]) -> Trail:
        """Go one edit on."""
        trail = Trail()
        trail._marks = (*trail._marks, *self._marks[: limits.EDITS])
        trail._rows = (rows, *self._rows[: limits.EDITS - 1])
        return trail

    def since(self, trail: Trail) -> NDArray[np.intp] | None:
        """List the rows in which two that were edited from one may differ, rising; None when
        they have nothing in common.
        """
        if trail is self:
            return NO_ROWS
        place = {mark: number for number, mark in enumerate(trail._marks)}
        for number, mark in enumerate(self._marks):
            if mark in place:
                return union((*self._rows[:number], *trail._rows[: place[mark]]))
        return None


@dataclass(frozen=True)
class Followed:
    """An array with something for each row, and what it was edited from."""

    values: Array
    trail: Trail = field(default_factory=Trail, compare=False)

    def put(self, rows: NDArray[np.intp], values: Array) -> Followed:
        """Put other values into some rows; the array itself where that alters nothing."""
        differ = self.values[rows] != values
        if not differ.any():
            return self
        edited = self.values.copy()
        edited[rows] = values
        return Followed(edited, self.trail.after(rows[differ]))

    def since(self, followed: Followed) -> NDArray[np.intp] | None:
        """List the rows in which it may differ from another; None where that is not known."""
        return self.trail.since(followed.trail)


def union(lists: Iterable[NDArray[np.intp]]) -> NDArray[np.intp]:
    """Bring lists of rows together, rising."""
    found = [one for one in lists if len(one)]
    if len(found) < 2:
        return found[0] if found else NO_ROWS
    return np.unique(np.concatenate(found))


def has_any(many: NDArray[np.intp], few: NDArray[np.intp]) -> bool:
    """Tell whether a few rows are among many; the many rise."""
    if not len(many):
        return False
    places = np.minimum(np.searchsorted(many, few), len(many) - 1)
    return bool((many[places] == few).any())


def put_in(
    before: NDArray[np.intp], again: NDArray[np.intp], there: NDArray[np.intp]
) -> NDArray[np.intp]:
    """Take a few rows out of many and put those back that are there.

    Args:
        before: The many, rising.
        again: The few, rising.
        there: Those of the few that are there, rising.

    Returns:
        The rows, rising; `before` itself where nothing is altered.
    """
    if len(again) == 1:  # as a rule; and quicker
        place = int(before.searchsorted(again[0]))
        was = place < len(before) and bool(before[place] == again[0])
        if was == bool(len(there)):
            return before
        return np.concatenate([before[:place], there, before[place + was :]])
    places = np.searchsorted(before, again)
    found = places[places < len(before)]
    found = found[before[found] == again[places < len(before)]]
    if len(found) == len(there) and np.array_equal(before[found], there):
        return before
    rest = np.delete(before, found)
    return np.insert(rest, np.searchsorted(rest, there), there)
