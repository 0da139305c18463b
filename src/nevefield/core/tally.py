"""The outcome of every row, and the sum that must always be right."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = [
    "CHANGED",
    "HELD",
    "LEFT_OUT",
    "NEW",
    "OUTCOMES",
    "SAME",
    "STOPPED",
    "WAITING",
    "Tally",
    "count_outcomes",
]

OUTCOMES = ("new", "changed", "same", "waiting", "stopped", "held", "left_out")
NEW, CHANGED, SAME, WAITING, STOPPED, HELD, LEFT_OUT = range(len(OUTCOMES))


@dataclass(frozen=True)
class Tally:
    """Rows read = new + changed + same + waiting + stopped + held + left out; absent stands
    beside it.
    """

    read: int
    new: int = 0
    changed: int = 0
    same: int = 0
    waiting: int = 0
    stopped: int = 0
    held: int = 0
    left_out: int = 0
    absent: int = 0

    @property
    def adds_up(self) -> bool:
        """Tell whether the outcomes add up to the rows read."""
        return self.read == sum(int(getattr(self, name)) for name in OUTCOMES)

    def to_json(self) -> dict[str, int]:
        """Return the numbers by name."""
        return {name: getattr(self, name) for name in ("read", *OUTCOMES, "absent")}


def count_outcomes(outcomes: NDArray[np.int8], read: int, absent: int) -> Tally:
    """Count outcomes (indices into OUTCOMES, one a row).

    >>> count_outcomes(np.array([0, 0, 4], np.int8), 3, 0).stopped
    1
    """
    counts = [int(np.count_nonzero(outcomes == number)) for number in range(len(OUTCOMES))]
    return Tally(read, **dict(zip(OUTCOMES, counts, strict=True)), absent=absent)
