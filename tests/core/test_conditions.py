"""Conditions against a naive reading of their own, and in words."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.conditions import fields_of, holds, say_condition
from nevefield.core.table import Column
from tests.core.world import TODAY

VALUES = {
    "site": ["NQ", "CH", None],
    "year": ["1", "2", None],
    "born": ["2008-09-02", "2010-01-01", None],
    "roles": ["A\x1fB", "B", None],
}
LEAVES = st.one_of(
    st.builds(
        lambda value: {"field": "site", "is": value},
        st.sampled_from(["NQ", "CH", ["NQ", "CH"], "X"]),
    ),
    st.builds(lambda value: {"field": "site", "not": value}, st.sampled_from(["NQ", ["NQ", "CH"]])),
    st.builds(lambda value: {"field": "roles", "has": value}, st.sampled_from(["A", "B"])),
    st.builds(lambda value: {"field": "year", "least": value}, st.integers(0, 3)),
    st.builds(lambda value: {"field": "year", "most": value}, st.integers(0, 3)),
    st.builds(
        lambda name, value: {"field": name, "filled": value},
        st.sampled_from(list(VALUES)),
        st.booleans(),
    ),
    st.builds(
        lambda value: {"field": "born", "under": value, "on": "2026-09-01"}, st.integers(15, 19)
    ),
)
CONDITIONS = st.recursive(
    LEAVES,
    lambda inner: st.builds(
        lambda joint, some: {joint: some},
        st.sampled_from(["all", "any", "none"]),
        st.lists(inner, min_size=1, max_size=3),
    ),
    max_leaves=6,
)


def naive(when: dict, row: dict) -> bool:
    """The same, one row at a time and without any table."""
    for joint, join in (("all", all), ("any", any)):
        if joint in when:
            return join(naive(one, row) for one in when[joint])
    if "none" in when:
        return not any(naive(one, row) for one in when["none"])
    value = row[when["field"]]
    if "is" in when or "not" in when:
        wanted = when.get("is", when.get("not"))
        same = value in (wanted if isinstance(wanted, list) else [wanted])
        return same if "is" in when else not same
    if "has" in when:
        return value is not None and when["has"] in value.split("\x1f")
    if "filled" in when:
        return (value is not None) == when["filled"]
    if value is None:
        return False
    if "least" in when:
        return int(value) >= when["least"]
    if "most" in when:
        return int(value) <= when["most"]
    year, month, day = map(int, value.split("-"))
    return 2026 - year - ((month, day) > (9, 1)) < when["under"]


ROWS = st.fixed_dictionaries({name: st.sampled_from(values) for name, values in VALUES.items()})


@given(CONDITIONS, st.lists(ROWS, min_size=1, max_size=8))
def test_holds_as_the_naive_one(when, rows):
    """Worked out by columns, a condition holds for exactly the rows for which it holds one by
    one.
    """
    columns = {name: Column.of([row[name] for row in rows]) for name in VALUES}
    assert holds(when, columns.__getitem__, len(rows), TODAY).tolist() == [
        naive(when, row) for row in rows
    ]
    assert set(fields_of(when)) <= set(VALUES)
    assert say_condition(when, str.upper)


@pytest.mark.parametrize(
    ("when", "said"),
    [
        ({"field": "site", "is": ["NQ", "CH"]}, "Site is NQ or CH"),
        ({"field": "born", "under": 18, "on": "2026-09-01"}, "Born is under 18 on 2026-09-01"),
        (
            {
                "all": [
                    {"field": "year", "least": 2, "most": 3},
                    {"field": "guardian", "filled": False},
                ]
            },
            "Year is at least 2 and is at most 3 and Guardian is empty",
        ),
        ({"none": [{"field": "site", "not": "NQ"}]}, "none of Site is not NQ"),
        ({"field": "until", "until": "today"}, "Until is today or earlier"),
    ],
)
def test_words(when, said):
    """A condition is said as a sentence."""
    assert say_condition(when, str.capitalize).replace("(", "").replace(")", "") == said


def test_today_is_passed_in():
    """What "today" means comes from outside."""
    column = Column.of(["2026-08-31", "2026-09-01", "2026-09-02", None])
    for day, expected in (
        (date(2026, 9, 1), [True, True, False, False]),
        (date(2026, 8, 31), [True, False, False, False]),
    ):
        assert (
            holds({"field": "x", "until": "today"}, lambda _: column, 4, day).tolist() == expected
        )
