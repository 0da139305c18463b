"""Arrays that are written by columns are the same JSON as when each object is written."""

from __future__ import annotations

import json

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st

from nevefield.cli.writing import Objects, chosen_of, json_lists, json_texts, rounded, whole_numbers

WORDS = st.text(
    st.one_of(st.characters(codec="utf-8"), st.sampled_from('"\\\x00\x1f\n{}[],:é\U0001f600')),
    max_size=8,
)


ROWS = st.lists(
    st.tuples(st.integers(0, 2**40), WORDS, WORDS, st.floats(0, 100), st.integers(0, 2)),
    max_size=30,
)


@given(ROWS, st.integers(1, 7))
def test_objects_are_what_they_would_be_one_by_one(rows, batch):
    import nevefield.cli.writing as writing

    kinds = ["as it is", 'a "quoted" one', ["b", None]]
    columns = [list(column) for column in zip(*rows, strict=True)] if rows else [[], [], [], [], []]
    objects = Objects(
        {
            "line": whole_numbers(np.array(columns[0], np.int64)),
            'na"me': json_texts(pa.array(columns[1], pa.string())),
            "key": json_lists(
                [json_texts(pa.array(column, pa.string())) for column in columns[1:3]]
            ),
            "score": rounded(np.array(columns[3], np.float64), 1),
            "kind": chosen_of(kinds, np.array(columns[4], np.int64)),
        }
    )
    usual, writing.BATCH = writing.BATCH, batch
    try:
        pieces = list(objects.pieces())
    finally:
        writing.BATCH = usual
    made = json.loads(b"[" + b",".join(pieces) + b"]")
    assert made == [
        {
            "line": line,
            'na"me': name,
            "key": [name, other],
            "score": round(score, 1),
            "kind": kinds[kind],
        }
        for line, name, other, score, kind in rows
    ]
