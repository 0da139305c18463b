"""Days in all the ways in which people write them."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.days import decide_order, read_day
from nevefield.core.columns.values import Typed, ValueContext, convert
from nevefield.core.definition import Field
from nevefield.core.table import Column

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


@pytest.mark.parametrize(
    "text",
    ["31/02/2027", "2026-W01-1", "2026-13-01", "30.2.2026", "14 Foo 2008", "soon", "12", "1/2"],
)
def test_refuses_no_day(text):
    """What is no day of the calendar is none."""
    assert read_day(text, "dmy", TODAY) is None


def test_open_order_asks():
    """A day whose month could stand first is not guessed: both are offered, until the order is
    known.
    """
    found = read_day("03/04/2026", "", TODAY)
    assert found.day is None
    assert found.either == (date(2026, 4, 3), date(2026, 3, 4))
    assert read_day("03/04/2026", "dmy", TODAY).day == date(2026, 4, 3)
    assert read_day("03/04/2026", "mdy", TODAY).day == date(2026, 3, 4)
    assert read_day("03/14/2026", "dmy", TODAY) is None  # a day only in the other order


@given(
    st.dates(date(1940, 1, 1), date(2045, 12, 31)),
    st.sampled_from(["%d/%m/%Y", "%d.%m.%Y", "%Y-%m-%d", "%d %B %Y", "%d-%m-%Y"]),
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
    """The whole column decides day or month first; values that contradict each other decide
    nothing.
    """
    assert decide_order(texts) == order


def test_short_years():
    """A year of two digits lies at most twenty years ahead."""
    assert read_day("1.1.46", "", TODAY).day.year == 2046
    assert read_day("1.1.47", "", TODAY).day.year == 1947


def column_of(*texts: str, **said) -> Typed:
    context = ValueContext({}, frozenset({""}), TODAY, **said)
    return convert(Field("d", "Born", type="date"), Column.of(list(texts)), context)


def stored(typed: Typed) -> list[str | None]:
    return [
        None if int(code) in typed.problems else typed.stored.at(row)
        for row, code in enumerate(typed.raw.codes)
    ]


@given(
    st.lists(st.dates(date(1990, 1, 1), date(2020, 12, 31)), min_size=1, max_size=30),
    st.sampled_from(["%d/%m/%Y", "%m/%d/%Y", "%d-%m-%Y", "%m-%d-%Y"]),
)
def test_decisive_columns_are_right(days, pattern):
    """With one value that decides, every day of the column is read right; with none, every
    doubtful one is asked.
    """
    typed = column_of(*(day.strftime(pattern) for day in days))
    decisive = any(day.day > 12 for day in days)
    expected = [day.isoformat() if decisive or day.day == day.month else None for day in days]
    assert stored(typed) == expected
    assert {problem.check for problem in typed.problems.values()} <= {"date-order"}


def test_slips_are_told():
    """A few values of the other order do not undo what all others say: they are the slips, with
    the day that was meant.
    """
    days = [f"{day}/03/2008" for day in range(13, 29)]
    typed = column_of(*days, "04/05/2008", "03/25/2008")
    assert stored(typed)[-2:] == ["2008-05-04", None]
    (problem,) = typed.problems.values()
    assert (problem.check, problem.suggestions) == ("date-swapped", ("2008-03-25",))


def test_turned_days_are_found():
    """Real dates with days up to twelve beside texts that only the other order reads: the
    spreadsheet turned them round.
    """
    # 3 January to 3 September, as month and day
    real = [f"2008-{day:02d}-03" for day in (1, 2, 4, 5, 6, 7, 8, 9)]
    texts = [f"{day}/03/2008" for day in range(13, 29)]
    typed = column_of(*real, *texts)
    assert {problem.check for problem in typed.problems.values()} == {"dates-turned"}
    back = column_of(*real, *texts, orders={"d": "dmy-turned"})
    assert stored(back)[:8] == [f"2008-03-{day:02d}" for day in (1, 2, 4, 5, 6, 7, 8, 9)]
    kept = column_of(*real, *texts, orders={"d": "dmy"})
    assert stored(kept)[:8] == real


def test_honest_real_dates_stay():
    """Real dates among which one has a day over twelve were not turned round."""
    texts = [
        *(f"2008-{day:02d}-03" for day in range(1, 10)),
        "2008-04-20",
        *(f"{day}/03/2008" for day in range(13, 29)),
    ]
    assert column_of(*texts).problems == {}


def test_last_time_decides_what_is_open():
    """Where the column leaves the order open, that of the source's last file holds; what the
    column says goes first.
    """
    assert stored(column_of("04/05/2008", last_orders={"d": "mdy"})) == ["2008-04-05"]
    assert stored(column_of("04/05/2008", "25/05/2008", last_orders={"d": "mdy"})) == [
        "2008-05-04",
        "2008-05-25",
    ]
