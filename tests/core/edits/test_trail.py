"""What was edited from what: rows that may differ are never left out, and what is mended there
is as made anew.
"""

from __future__ import annotations

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.edits.finding import Finder
from nevefield.core.edits.memo import Memo
from nevefield.core.edits.trail import Followed, Trail, put_in

EDITS = st.lists(
    st.tuples(
        st.integers(0, 30), st.lists(st.integers(0, 9), min_size=1, max_size=3), st.integers(0, 4)
    ),
    max_size=25,
)
ROWS = st.sets(st.integers(0, 30), max_size=20)


@given(EDITS)
def test_where_two_may_differ(edits):
    """Of any two that were edited from one, wherever, every row in which they differ is told; of
    strangers nothing is.
    """
    made = [Followed(np.zeros(10, np.int64))]
    for start, rows, value in edits:
        some = np.unique(np.array(rows, np.intp))
        made.append(made[start % len(made)].put(some, np.full(len(some), value)))
    for one in made:
        for other in made:
            told = one.since(other)
            assert told is not None
            assert set(np.flatnonzero(one.values != other.values).tolist()) <= set(told.tolist())
    assert made[0].since(Followed(np.zeros(10, np.int64))) is None


def test_a_trail_has_an_end():
    """What lies very far back is not known any more: it is made whole, never taken for the same."""
    first = last = Trail()
    for row in range(2_000):
        last = last.after(np.array([row]))
    assert last.since(first) is None


@given(ROWS, ROWS, ROWS)
def test_put_in(many, few, there):
    """Few rows are taken out of many, and those that are there put back: as sets would have it."""
    arrays = [np.array(sorted(one), np.intp) for one in (many, few, there & few)]
    assert put_in(*arrays).tolist() == sorted((many - few) | (there & few))


@given(EDITS)
def test_mended_is_made_anew(edits):
    """A part that is mended row by row is what making it whole gives, and no part made before is
    altered by it.
    """
    column, memo, told = Followed(np.zeros(10, np.int64)), Memo(), []
    for _, rows, value in [(0, [0], 0), *edits]:
        some = np.unique(np.array(rows, np.intp))
        column = column.put(some, np.full(len(some), value))
        memo = Memo(memo)

        def again(before, rows, was, column=column):
            return put_in(before, rows, rows[column.values[rows] > 2])

        many = memo.mend(
            "many", (column,), lambda column=column: np.flatnonzero(column.values > 2), again
        )
        told.append((many, many.tolist()))
        assert many.tolist() == [
            row for row, value in enumerate(column.values.tolist()) if value > 2
        ]
        memo.forget()
    assert all(many.tolist() == then for many, then in told)


@given(
    st.lists(st.text(max_size=30), unique=True), st.lists(st.text(max_size=12)), st.integers(0, 3)
)
def test_found_by_mark(texts, others, cut):
    """A text is found at its place or not at all, in a part of an array too."""
    finder = Finder(pa.array(texts, pa.string())[cut:])
    left = texts[cut:]
    for text in [*texts, *others]:
        assert finder.find(text) == (left.index(text) if text in left else -1)


def test_alike_but_for_their_midst():
    """Texts that share beginning, midst and end, and so their mark, are told apart all the same."""
    texts = [
        f"the same beginning {middle} and all of this in the midst {middle} the same end"
        for middle in "abcdefgh"
    ]
    finder = Finder(pa.array(texts))
    assert [finder.find(text) for text in texts] == list(range(8))
