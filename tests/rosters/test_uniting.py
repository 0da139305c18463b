"""Two records of one person: found by likeness, said to be two, or made one; and the merging
taken back.
"""

from __future__ import annotations

import json

import numpy as np
import pytest

from nevefield.core.people.doubles import find_doubles
from nevefield.core.snapshot import Snapshot
from nevefield.intakes.applying import take_back
from nevefield.rosters.errors import NoSuchRecord, RosterMoved
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.uniting import merge_records, open_doubles, say_two
from nevefield.store import records as store
from tests.core.people.maker import DEFINITION, make_people
from tests.crew import numbers

STAFF = {
    "name": "staff",
    "primaryKey": "no",
    "foreignKeys": [{"fields": "boss", "reference": {"resource": "", "fields": "no"}}],
    "fields": [
        "no",
        {"name": "family", "nevefield": {"means": "family-name"}},
        {"name": "given", "nevefield": {"means": "given-name"}},
        {"name": "born", "type": "date", "nevefield": {"means": "birth-date"}},
        {"name": "mail", "format": "email"},
        {"name": "teams", "nevefield": {"several": ";"}},
        "boss",
    ],
}
NAMES = [
    "Ash",
    "Birk",
    "Corr",
    "Dunn",
    "Ekely",
    "Falk",
    "Gorm",
    "Hagg",
    "Ivers",
    "Jarl",
    "Kvist",
    "Lunde",
]
PEOPLE = [
    {
        "no": str(n),
        "family": f"{NAMES[n % 12]}{NAMES[n // 12 % 12].lower()}",
        "given": NAMES[(n * 5 + 3) % 12],
        "born": f"{1970 + n % 30}-0{1 + n % 9}-1{n % 10}",
    }
    for n in range(1, 60)
]
TWICE = [
    {
        "no": "100",
        "family": "Quernmore",
        "given": "Astrid",
        "born": "1988-05-06",
        "mail": "a.q@q.example",
        "teams": ["A"],
    },
    {
        "no": "200",
        "family": "Quernmoor",
        "given": "Astrid",
        "born": "1988-05-06",
        "teams": ["B", "A"],
        "boss": "7",
    },
    {"no": "300", "family": "Solway", "given": "Ida", "born": "1979-01-31", "boss": "200"},
]


@pytest.fixture
def staff(bare):
    open_roster_with(bare, STAFF, [*PEOPLE, *TWICE])
    return bare


def contents(context) -> dict[str, dict]:
    with context.database.transaction() as connection:
        return {
            json.loads(text)["no"]: json.loads(text)
            for _, text in store.list_current(connection, 1)
        }


def shown(context) -> list[set[str]]:
    opened = open_doubles(context, "staff")
    return [set(opened.snapshot.keys(one)) for one in opened.doubles.records]


def test_said_to_be_two(staff):
    """The one who stands twice is shown; said to be two people, they are not shown again."""
    assert shown(staff) == [{"100", "200"}]
    number = numbers(staff)
    say_two(staff, "staff", number["200"], number["100"], None)
    assert shown(staff) == []
    with pytest.raises(NoSuchRecord):
        say_two(staff, "staff", number["100"], 99_999, None)


def test_made_one_and_taken_back(staff):
    """The one that stays takes over what it lacks and what is chosen; who referred to the other
    follows; it can be undone.
    """
    before, number = contents(staff), numbers(staff)
    with pytest.raises(RosterMoved):
        merge_records(staff, "staff", number["100"], number["200"], None, version=0)
    with pytest.raises(NoSuchRecord):
        merge_records(staff, "staff", number["100"], number["100"], None)
    done = merge_records(
        staff, "staff", number["100"], number["200"], None, take=["family"], version=1
    )
    after = contents(staff)
    assert after.keys() == before.keys() - {"200"}
    assert after["100"] == {
        **before["100"],
        "family": "Quernmoor",
        "teams": ["A", "B"],
        "boss": "7",
    }
    assert after["300"]["boss"] == "100"
    assert shown(staff) == []
    take_back(staff, done, None)
    assert contents(staff) == before


def test_made_people_who_stand_twice():
    """Of made people with the usual slips most who stand twice are found, and hardly anybody
    else is shown.
    """
    made = make_people(600, seed=5)
    values = []
    for side in (made.theirs, made.ours):
        rows = range(len(next(iter(side.values()))))
        values += [
            {name: text for name, column in side.items() if (text := column.at(row)) is not None}
            for row in rows
        ]
    size = len(values) - len(made.truth)
    snapshot = Snapshot.of_values(DEFINITION, list(range(len(values))), values, 1)
    doubles = find_doubles(DEFINITION, snapshot)
    truth = {(int(record), size + row) for row, record in enumerate(made.truth) if record >= 0}
    found = {tuple(pair) for pair in doubles.records.tolist()}
    assert len(found & truth) >= 0.95 * len(truth)
    sure = {tuple(pair) for pair in doubles.records[doubles.scores >= 98].tolist()}
    assert len(sure - truth) <= 0.02 * len(sure)
    assert np.all(np.diff(doubles.scores) <= 0)
