"""Patterns of definitions and authorities: as the standard library reads them, but in time that
only the text decides.
"""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.patterns import matches, refuse_pattern

PIECES = st.sampled_from(
    [
        "a",
        "B",
        "é",
        "[A-D]",
        "[^A-D]",
        "[]a]",
        r"[\d-]",
        r"[\w.]",
        r"[^\s]",
        r"\d",
        r"\D",
        r"\w",
        r"\W",
        r"\s",
        r"\S",
        ".",
        r"\.",
        r"\\",
        "-",
    ]
)
MANY = st.sampled_from(["", "?", "*", "+", "{2}", "{1,3}"])
PATTERNS = st.lists(st.tuples(PIECES, MANY).map("".join), min_size=1, max_size=4).map("".join)
TEXTS = st.text("aBéЖ٣5_-. \u00a0\n\\]", max_size=6)


@given(PATTERNS, PATTERNS, TEXTS)
def test_as_the_standard_library(one, other, text):
    """Classes are Unicode's, the whole text counts, and a line's end is no end of the text."""
    pattern = f"{one}|({other})"
    assert refuse_pattern(pattern) == ""
    assert matches(pattern, text) == (re.fullmatch(pattern, text) is not None)


@pytest.mark.parametrize(
    "pattern", ["(a+)+", "(a|a)*b", r"(\w*\d*)*-", "(.*)*x", "(a?){30}a{30}", r"([\w-]+\.?)+@"]
)
def test_no_text_takes_long(pattern):
    """What an engine that goes back would try for years is over as soon as the text is read."""
    assert not matches(pattern, "a" * 100_000 + "!")


@pytest.mark.parametrize(
    ("pattern", "said"),
    [
        ("(?=a)b", "(?="),
        (r"(a)\1", "refers back"),
        ("a{2000}", "1,000 times"),
        ("(a", "parenthesis"),
        ("[a", "bracket"),
        ("a" * 1001, "longer"),
    ],
)
def test_what_cannot_be_expressed_is_refused(pattern, said):
    """With the place and the reason, when the definition is read."""
    document = {"name": "one", "fields": [{"name": "a", "constraints": {"pattern": pattern}}]}
    with pytest.raises(WrongDefinition) as refused:
        read_definition(document)
    assert said in str(refused.value)
    assert "pattern" in str(refused.value)
