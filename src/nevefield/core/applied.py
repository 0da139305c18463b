"""What an applied intake keeps of the moment when it was applied: history is what happened, and is
not worked out again.

Rows that went in keep their outcome. Rows that stayed open keep what they wait for: whatever
becomes of the roster, the codes or the day, none of them goes in before somebody says so. How much
each agreement counts between people is kept too.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Array

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.steps.kinds import AppliedStep, KeptScale, Step

__all__ = ["Applied", "numbers_of", "ranges_of"]


Ranges = tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class Applied:
    """What stands of the times that an intake was applied."""

    went_in: Mapping[str, Ranges] = field(default_factory=dict)  # by outcome then, the lines
    # lines that stayed open: fields of what they waited for
    open: Mapping[int, frozenset[str]] = field(default_factory=dict)
    asked: frozenset[int] = frozenset()  # lines of which a person had to say who they are
    absent: int | None = None  # how many were absent; None when it was never applied
    left: Ranges = ()  # absent records, by number, that neither ended nor left
    scale: KeptScale | None = None  # how much each agreement between people counted
    # lines that went aside by themselves: said twice, or not whom the file is for
    passed: frozenset[int] = frozenset()

    def after(self, step: AppliedStep) -> Applied:
        """Go on from one more time that it was applied."""
        if step.absent is None:  # applied before any of this was kept
            return self
        names = {*self.went_in, *step.went_in}
        went_in = {
            name: (*self.went_in.get(name, ()), *step.went_in.get(name, ())) for name in names
        }
        stays_open: dict[int, frozenset[str]] = {}
        for one in step.open:
            stays_open.update(dict.fromkeys(numbers_of(one.lines).tolist(), frozenset(one.fields)))
        asked = frozenset(numbers_of(step.asked).tolist())
        absent = step.absent if self.absent is None else self.absent
        passed = frozenset(numbers_of(step.passed).tolist())
        return Applied(
            went_in, stays_open, asked, absent, tuple(step.left), self.scale or step.scale, passed
        )

    def touched(self, step: Step) -> Applied:
        """Let go of the rows that a later step is about: what becomes of them is what somebody
        has said.
        """
        if not self.open and not self.passed:
            return self
        lines, fields = step.touched()
        if lines is None:
            return replace(self, open={}, asked=frozenset(), passed=frozenset())
        gone = {line for line in lines if line in self.open}
        if fields:
            gone |= {line for line, named in self.open.items() if named & fields}
        kept = (
            {line: named for line, named in self.open.items() if line not in gone}
            if gone
            else self.open
        )
        return replace(self, open=kept, passed=self.passed.difference(lines))


def ranges_of(numbers: Sequence[int] | Array) -> list[list[int]]:
    """Write rising numbers as ranges, each by its first and last.

    >>> ranges_of([1, 2, 3, 7]), ranges_of([])
    ([[1, 3], [7, 7]], [])
    """
    found = np.asarray(numbers, np.int64)
    if not len(found):
        return []
    breaks = np.flatnonzero(np.diff(found) != 1)
    firsts, lasts = found[np.append(0, breaks + 1)], found[np.append(breaks, len(found) - 1)]
    return np.stack([firsts, lasts], axis=1).tolist()  # type: ignore[no-any-return]


def numbers_of(ranges: Iterable[Sequence[int]]) -> NDArray[np.int64]:
    """List the numbers of ranges.

    >>> numbers_of([(1, 3), (7, 7)]).tolist()
    [1, 2, 3, 7]
    """
    parts = [np.arange(first, last + 1) for first, last in ranges]
    return np.concatenate(parts) if parts else np.zeros(0, np.int64)
