"""The best assignment, with and without contention."""

from __future__ import annotations

from itertools import permutations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.assigning import assign


@given(st.integers(0, 4), st.integers(0, 5), st.data())
def test_no_other_gains_more(height, width, data):
    """Of all ways to pair each row with at most one column and each column with at most one row,
    none gains more.
    """
    gain = np.array(
        data.draw(st.lists(st.integers(0, 4), min_size=height * width, max_size=height * width)),
        float,
    )
    gain = gain.reshape(height, width)
    rows, columns = assign(gain)
    assert len({*rows.tolist()}) == len(rows)
    assert len({*columns.tolist()}) == len(columns)
    assert (gain[rows, columns] > 0).all()
    wide = np.hstack([gain, np.zeros((height, height))])  # a row may stay alone
    ways = permutations(range(width + height), height)
    most = max(
        (sum(wide[row, column] for row, column in enumerate(way)) for way in ways), default=0
    )
    assert gain[rows, columns].sum() == most
