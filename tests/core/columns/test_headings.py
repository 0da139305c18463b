"""Headings as offices spell them, in several habits, against where each belongs
(`tests/data/headings`).
"""

from __future__ import annotations

import csv
import json
import random
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.codes import read_codes
from nevefield.core.columns.headings import likeness, likeness_table, weigh
from nevefield.core.columns.pairing import look_at_values, pair_columns
from nevefield.core.defining.reading import read_definition
from nevefield.core.table import Table
from tests.conftest import ROOT

SETS = Path(__file__).parents[2] / "data" / "headings"
TODAY = date(2026, 9, 1)
FREE = [
    "called back on Tuesday",
    "none",
    "see the file of last year",
    "asked twice",
    "late",
    "ok",
    "M",
    "42",
]


def habits():
    """Every habit of every set: roster, its name, and where each heading belongs ("" where no
    field takes it).
    """
    for path in sorted(SETS.glob("*.csv")):
        rows = list(csv.reader(path.open()))
        for column in range(1, len(rows[0])):
            yield (
                path.stem,
                rows[0][column],
                {row[column]: row[0].replace("-", "") for row in rows[1:]},
            )


@pytest.fixture(scope="module")
def rosters(made):
    """Definition and records of each roster."""
    found = {}
    for name in ("cadets", "staff"):
        content = json.loads((made / f"roster-{name}.json").read_text())
        found[name] = (read_definition(content["definition"]), content["records"])
    return found


def table_of(where: dict[str, str], records: list[dict], chance: random.Random) -> Table:
    """A file with these headings, in any order, and values as the roster has them."""
    headings = list(where)
    chance.shuffle(headings)
    people = chance.sample(records, 60)

    def text(one: dict, heading: str) -> str:
        value = one.get(where[heading], "") if where[heading] else chance.choice(FREE)
        return ";".join(value) if isinstance(value, list) else value

    return Table.of(
        headings,
        [[text(one, heading) for heading in headings] for one in people],
        list(range(2, 62)),
    )


def results(rosters, with_values: bool):
    """Where each heading of each habit goes, beside where it belongs."""
    codes = read_codes((ROOT / "demo" / "codes.csv").read_text())
    for name, habit, where in habits():
        definition, records = rosters[name]
        table = table_of(where, records, random.Random(habit))
        evidence = look_at_values(table, definition, codes, TODAY) if with_values else None
        for pair in pair_columns(table.headings, definition, evidence=evidence):
            yield name, habit, pair, where[pair.heading]


@pytest.mark.parametrize(("with_values", "least"), [(True, 0.95), (False, 0.85)])
def test_headings_find_their_fields(rosters, with_values, least):
    """At least 95% of 280 headings go right at the first guess (85% by their names alone), and
    no wrong one is certain.
    """
    found = list(results(rosters, with_values))
    assert len(found) >= 250
    wrong = [
        (*one[:2], one[2].heading, one[2].field, one[3])
        for one in found
        if (one[2].field or "") != one[3]
    ]
    assert [
        one[2] for one in found if one[2].field and one[2].certain and one[2].field != one[3]
    ] == []
    assert len(wrong) <= (1 - least) * len(found), wrong


WORDS = st.sampled_from(
    [
        "family",
        "familly",
        "name",
        "given",
        "first",
        "number",
        "numbers",
        "no",
        "birth",
        "date",
        "date2",
        "date3",
        "enrol",
        "enrolled",
        "2024",
        "2025",
        "x",
    ]
)
SOME = st.frozensets(WORDS, max_size=4)


@given(st.lists(SOME, max_size=6), st.lists(st.lists(SOME, max_size=3), max_size=6))
def test_likeness_of_all_is_that_of_each(headings, groups):
    weights = weigh(frozenset().union(*group) for group in groups)
    table = likeness_table(headings, groups, weights)
    each = [
        [max((likeness(said, name, weights) for name in group), default=0.0) for group in groups]
        for said in headings
    ]
    assert np.allclose(table, np.array(each).reshape(table.shape))
