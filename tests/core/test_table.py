"""The Table of dictionary-encoded columns."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.table import Column, Table

TEXTS = st.lists(st.none() | st.text(max_size=6), max_size=30)


@given(TEXTS)
def test_keeps_every_text(texts):
    """What goes in comes out, row by row, and each distinct text is held once."""
    column = Column.of(texts)
    assert column.rows(np.arange(len(texts))) == texts
    assert sorted(column.texts()) == sorted({text for text in texts if text is not None})
    assert column.codes.dtype == np.int32


@given(TEXTS.filter(bool), st.data())
def test_replaces_single_rows(texts, data):
    """Replacing touches the rows named and no other; the old column stays as it was."""
    changes = data.draw(
        st.dictionaries(st.integers(0, len(texts) - 1), st.none() | st.text(max_size=6), max_size=5)
    )
    column = Column.of(texts)
    assert column.replace(changes).rows(np.arange(len(texts))) == [
        changes.get(row, text) for row, text in enumerate(texts)
    ]
    assert column.rows(np.arange(len(texts))) == texts


@given(TEXTS.filter(bool), st.data())
def test_takes_chosen_rows(texts, data):
    """Taking keeps chosen rows in the order given, also twice."""
    chosen = data.draw(st.lists(st.integers(0, len(texts) - 1), max_size=8))
    assert [
        Column.of(texts).take(np.array(chosen, np.intp)).at(row) for row in range(len(chosen))
    ] == [texts[row] for row in chosen]


def test_encodes_chunks():
    """Arrow's chunks become one column, nulls become nothing there."""
    column = Column.encode(pa.chunked_array([["a", None], ["b", "a"]]))
    assert column.codes.tolist() == [0, -1, 1, 0]
    assert column.counts().tolist() == [2, 1]


def test_table_of_rows():
    """A table gives its rows back with their lines; an empty one has its headings."""
    table = Table.of(["name", "town"], [["Ines", "Dunsea"], ["Tove", ""]], [6, 9])
    assert [table.row(0), table.row(1)] == [["Ines", "Dunsea"], ["Tove", ""]]
    assert table.take(np.array([1])).lines.tolist() == [9]
    assert len(Table.of(["name"], [], [])) == 0
