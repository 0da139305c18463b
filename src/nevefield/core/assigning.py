"""Pair rows with columns so that the sum of what the pairs gain is the most (the linear
assignment problem; Kuhn 1955).
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["assign"]


def assign(gain: NDArray[np.float64]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Find the best assignment.

    Args:
        gain: Rows × columns, none negative; 0 for what is no pair.

    Returns:
        The rows and columns of the pairs, by row; pairs that gain nothing are left out.

    >>> rows, columns = assign(np.array([[3.0, 2.0], [2.0, 0.0]]))
    >>> rows.tolist(), columns.tolist()
    ([0, 1], [1, 0])
    """
    if not gain.size:
        return np.zeros(0, np.intp), np.zeros(0, np.intp)
    best = gain.argmax(axis=1)
    rows = np.flatnonzero(gain.max(axis=1) > 0)
    if len(np.unique(best[rows])) == len(rows):
        return rows, best[rows]  # no two rows want the same column: no assignment gains more
    # it takes a second to load, and is seldom needed
    from scipy.optimize import linear_sum_assignment

    rows, columns = linear_sum_assignment(gain, maximize=True)
    some = gain[rows, columns] > 0
    return rows[some], columns[some]
