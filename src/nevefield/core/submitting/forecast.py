"""How many rounds are left, by the rounds so far."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = ["rounds_left", "say_forecast"]


def rounds_left(left: Sequence[int]) -> int | None:
    """Say how many rounds are left when each leaves the same share open as those before did on
    average.

    Args:
        left: What each round left open, in their order.

    Returns:
        0 when nothing is open; None when the rounds do not say, or say that it does not end.

    >>> rounds_left([18, 9, 4]), rounds_left([5]), rounds_left([3, 4]), rounds_left([9, 0])
    (3, None, None, 0)
    """
    if left and left[-1] == 0:
        return 0
    if len(left) < 2 or left[0] == 0:
        return None
    share = (left[-1] / left[0]) ** (1 / (len(left) - 1))
    return math.ceil(math.log(0.5 / left[-1]) / math.log(share)) if share < 1 else None


def say_forecast(left: Sequence[int]) -> str:
    """Word the forecast; "" when there is none."""
    rounds = rounds_left(left)
    if rounds is None:
        return ""
    return (
        "nothing is open"
        if rounds == 0
        else f"at this pace done in {rounds} more round{'s' * (rounds != 1)}"
    )
