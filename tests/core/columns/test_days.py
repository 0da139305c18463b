"""Days in all the ways in which people write them."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.days import decide_order, read_day

TODAY = date(2026, 9, 1)
MARCH = date(2008, 3, 14)


@pytest.mark.parametrize(
    "text",
    [
        "2008-03-14",
        "14.3.2008",
        "14.03.08",
        "14 Mar 2008",
        "14th March 2008",
        "March 14, 2008",
        "20080314",
        "2008/3/14",
        "14/03/2008",
        "03/14/2008",
        "2008-03-14 00:00:00",
        "14-3-2008",
    ],
)
def test_reads_one_day(text):
    """Every way of writing 14 March 2008 that leaves no doubt is that day."""
    assert read_day(text, "", TODAY).day == MARCH


@pytest.mark.parametrize("text", ["31/02/2027", "2026-W01-1", "2026-13-01", "30.2.2026", "14 Foo 2008", "soon", "12", "1/2"])
def test_refuses_no_day(text):
    """What is no day of the calendar is none."""
    assert read_day(text, "dmy", TODAY) is None


def test_open_order_asks():
    """A day whose month could stand first is not guessed: both are offered, until the order is known."""
    found = read_day("03/04/2026", "", TODAY)
    assert found.day is None
    assert found.either == (date(2026, 4, 3), date(2026, 3, 4))
    assert read_day("03/04/2026", "dmy", TODAY).day == date(2026, 4, 3)
    assert read_day("03/04/2026", "mdy", TODAY).day == date(2026, 3, 4)
    assert read_day("03/14/2026", "dmy", TODAY) is None  # a day only in the other order


@given(
    st.dates(date(1940, 1, 1), date(2045, 12, 31)), st.sampled_from(["%d/%m/%Y", "%d.%m.%Y", "%Y-%m-%d", "%d %B %Y", "%d-%m-%Y"])
)
def test_round_trip(day, pattern):
    """Any day written day-first is read back."""
    assert read_day(day.strftime(pattern), "dmy", TODAY).day == day


@pytest.mark.parametrize(
    ("texts", "order"),
    [
        (["03/04/2026", "14/03/2008"], ("dmy", 1)),
        (["03/04/2026", "03/14/2008", "12/31/2008"], ("mdy", 2)),
        (["03/04/2026"], ("", 0)),
        (["14/03/2008", "03/14/2008"], ("", 0)),
        (["2008-03-14", "14.3.2008"], ("", 0)),
    ],
)
def test_decides_order(texts, order):
    """The whole column decides day or month first; values that contradict each other decide nothing."""
    assert decide_order(texts) == order


def test_short_years():
    """A year of two digits lies at most twenty years ahead."""
    assert read_day("1.1.46", "", TODAY).day.year == 2046
    assert read_day("1.1.47", "", TODAY).day.year == 1947
