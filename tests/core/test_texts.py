"""Small matters of text, the kernels held to the plain functions."""

from __future__ import annotations

import re

import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.texts import (
    fold,
    fold_all,
    key_of,
    near,
    plain_marks,
    squeeze,
    trim,
    trim_all,
    unplain,
)

TEXT = st.text(st.sampled_from("aB é\u00a0\u2003\u200b\ufeff\tßİ-_"), max_size=8)


@given(st.lists(TEXT, max_size=12))
def test_kernels_do_the_same(texts):
    """Over a whole array, trimming and folding give what they give text by text."""
    array = pa.array(texts, pa.string())
    assert trim_all(array).to_pylist() == [trim(text) for text in texts]
    assert fold_all(array, case=True).to_pylist() == [fold(text) for text in texts]
    assert fold_all(array, case=False).to_pylist() == [squeeze(plain_marks(text)) for text in texts]


@given(
    st.lists(st.text(st.sampled_from("aB ~!é\t\x1f\x7f\u2003"), max_size=6), max_size=12),
    st.integers(0, 4),
)
def test_unplain_is_told_of_each(texts, first):
    """Of a slice of an array too, whose buffers begin before it."""
    array = pa.array(texts, pa.string()).slice(first)
    assert unplain(array).tolist() == [
        not re.fullmatch("([!-~]+( [!-~]+)*)?", text) for text in texts[first:]
    ]


@given(TEXT)
def test_folding_twice_is_once(text):
    """Folding what is folded changes nothing."""
    assert fold(fold(text)) == fold(text)
    assert squeeze(squeeze(text)) == squeeze(text)


@pytest.mark.parametrize(
    ("heading", "key"),
    [
        ("Cadet No.", "cadetno"),
        ("d.o.b.", "dob"),
        ("E-Mail", "email"),
        ("Prénom", "prenom"),
        ("STRASSE", "strasse"),
        ("  ", ""),
    ],
)
def test_headings_to_keys(heading, key):
    """Headings are compared without case, accents, spaces and punctuation."""
    assert key_of(heading) == key


def test_near_names():
    """An unknown name is answered with the nearest, or with those there are."""
    assert near("codeLst", ["codeList", "several"]) == "did you mean codeList?"
    assert near("xyz", ["b", "a"]) == "known are a, b"
