"""Numbers as they are written, and the decimal mark decided from the whole column."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.numbers import decide_mark, read_number
from nevefield.core.columns.values import ValueContext, convert
from nevefield.core.definition import Field
from nevefield.core.table import Column
from tests.core.world import TODAY


@pytest.mark.parametrize(
    ("texts", "mark"),
    [
        (["1.234,5", "12"], ","),
        (["1,234.5"], "."),
        (["75,5", "1,234"], ","),
        (["1,234,567"], "."),
        (["0,125"], ","),
        (["1,234", "5"], ""),
        (["75,5", "75.5"], ""),
        ([], ""),
    ],
)
def test_decides_mark(texts, mark):
    """One value that can only be read one way decides for the column; contradiction and openness
    decide nothing.
    """
    assert decide_mark(texts)[0] == mark


NUMBERS = st.decimals(-999_999_999, 999_999_999, places=2)


@given(
    NUMBERS, st.sampled_from([("", "."), (",", "."), ("", ","), (".", ","), (" ", ","), ("'", ".")])
)
def test_round_trip(number, signs):
    """A number written with any grouping and mark is read as itself once the mark is known."""
    grouping, mark = signs
    text = f"{number:,.2f}".replace(",", "\0").replace(".", mark).replace("\0", grouping)
    found = read_number(text, mark)
    assert found is not None
    assert Decimal(found.value) == number


@given(st.lists(NUMBERS, min_size=1, max_size=20), st.sampled_from([",", "."]))
def test_columns_are_read_right(numbers, mark):
    """A column with two decimals decides its own mark, and every value is read right."""
    texts = [f"{number:.2f}".replace(".", mark) for number in numbers]
    typed = convert(
        Field("x", "X", type="number"), Column.of(texts), ValueContext({}, frozenset({""}), TODAY)
    )
    assert typed.problems == {}
    assert [Decimal(typed.stored.at(row)) for row in range(len(numbers))] == numbers


def test_open_column_asks():
    """A column that may be read both ways is asked about, with both readings; the answer settles
    all of it.
    """
    one, column = Field("x", "X", type="number"), Column.of(["1,234", "5,678"])
    typed = convert(one, column, ValueContext({}, frozenset({""}), TODAY))
    assert {(problem.check, problem.suggestions) for problem in typed.problems.values()} == {
        ("decimal-mark", ("1234", "1.234")),
        ("decimal-mark", ("5678", "5.678")),
    }
    for mark, values in ((",", ["1.234", "5.678"]), (".", ["1234", "5678"])):
        said = convert(one, column, ValueContext({}, frozenset({""}), TODAY, marks={"x": mark}))
        assert [said.stored.at(row) for row in range(2)] == values


@pytest.mark.parametrize(
    ("text", "value"),
    [("1,234", "1234"), ("12.0", "12"), ("1 000", "1000"), ("-7", "-7"), ("7.5", None)],
)
def test_whole_numbers(text, value):
    """A whole number may be grouped, or end in a nought after the mark; what has decimals is
    none.
    """
    typed = convert(
        Field("x", "X", type="integer"), Column.of([text]), ValueContext({}, frozenset({""}), TODAY)
    )
    assert (None if typed.problems else typed.stored.at(0)) == value
