"""Edited columns: whatever is put where, in whichever order, each column says what a plain list
would.
"""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.people.joining import group_rows, regroup_rows
from nevefield.core.table import Column

TEXTS = st.one_of(
    st.none(), st.text(max_size=4), st.sampled_from(["a", "b", "long enough to be told apart"])
)
EDITS = st.lists(st.tuples(st.integers(0, 20), st.integers(0, 11), TEXTS), max_size=30)


@given(st.lists(TEXTS, min_size=12, max_size=12), EDITS)
def test_edits_of_edits(texts, edits):
    """Each edit goes on from any column made before; none of those is altered by it."""
    made = [(Column.of(texts), list(texts))]
    other = Column.of(["a", "é", "b"])
    for start, row, text in edits:
        column, plain = made[start % len(made)]
        plain = list(plain)
        plain[row] = text
        made.append((column.replace({row: text}), plain))
    for column, plain in made:
        assert column.rows(np.arange(12)) == plain
        assert len(set(column.values.to_pylist())) == len(column.values)
        wanted = [-1 if text is None else {"a": 0, "é": 1, "b": 2}.get(text, -2) for text in plain]
        assert column.place(other).tolist() == wanted
        assert column.take(np.array([3, 5])).place(other).tolist() == [wanted[3], wanted[5]]
        rows = column.since(made[-1][0])
        assert rows is not None
        assert {row for row in range(12) if plain[row] != made[-1][1][row]} <= set(rows.tolist())
    assert Column.of(texts).since(made[0][0]) is None


@given(
    st.lists(st.integers(-1, 6), min_size=1, max_size=30),
    st.lists(st.tuples(st.integers(0, 29), st.integers(-1, 8)), max_size=6),
)
def test_grouped_again(values, changes):
    """Grouping again after few changes is grouping from nothing."""
    before = np.array(values, np.int64)
    after = before.copy()
    for row, value in changes:
        after[row % len(after)] = value
    rows = np.unique([row % len(after) for row, _ in changes]).astype(np.intp)
    again = regroup_rows(group_rows(before), before, after, rows)
    assert [one.tolist() for one in again] == [one.tolist() for one in group_rows(after)]
