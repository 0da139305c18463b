"""Exports that are safe to open, and finding people."""

from __future__ import annotations

import csv
import io
from datetime import date

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.ended import last_days
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.texts import bare_cell, safe_cell, squeeze
from nevefield.rosters.looking import choose_records, export_roster, find_people
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.snapshots import unnamed_of
from nevefield.store import rosters
from nevefield.store.rosters import Roster
from nevefield.store.sight import ALL, Level, Sight
from tests.core.world import CREW, DOCUMENT, SNAPSHOT
from tests.institutions import federation

HOSTILE = [
    "=1+1",
    "+cmd|' /C calc'!A0",
    "-2+3+cmd",
    "@SUM(A1)",
    "\t=1",
    "\r=1",
    "<script>alert(1)</script>",
    '"quoted", and more',
    "line\nend",
]
SIMPLE = read_definition({"name": "simple", "primaryKey": "no", "fields": ["no", "name"]})
ROSTER = Roster(1, "simple", "Simple [1]", 1, 1)


def simple(values: list[str]) -> Snapshot:
    records = [{"no": str(place), "name": value} for place, value in enumerate(values)]
    return Snapshot.of_values(SIMPLE, list(range(len(values))), records, 1)


@pytest.mark.parametrize("text", HOSTILE[:6])
def test_formulas_are_defused(text):
    """A cell that a spreadsheet would take for a formula begins with an apostrophe."""
    assert safe_cell(text) == "'" + text
    assert bare_cell(safe_cell(text)) == text


@pytest.mark.parametrize(
    "text", ["+44 7700 900417", "-12.5", "+1", "Ines", "", "a=b", "-", "'t Hooft", "'quoted'", "'"]
)
def test_harmless_cells_stay(text):
    """Numbers, phone numbers and plain texts stay as they are."""
    assert safe_cell(text) == bare_cell(text) == text


@given(st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=12))
def test_no_csv_cell_is_a_formula(text):
    """Whatever stands in a record, no cell of the CSV begins as a formula does, unless it is a
    number.
    """
    content = export_roster(ROSTER, simple([text]), "csv").content.decode("utf-8-sig")
    cell = list(csv.reader(io.StringIO(content, newline="")))[1][1]
    assert not cell.startswith(("=", "@"))
    assert cell.removeprefix("'") == text or cell == text


@given(
    st.lists(
        st.text(st.sampled_from("=+-@'a1 é"), max_size=6).map(squeeze).filter(bool),
        min_size=1,
        max_size=80,
    )
)
def test_what_was_exported_is_the_same_when_it_comes_back(values):
    """Also where a cell had to be kept from being a formula: no apostrophe stays in anybody's
    name.
    """
    snapshot = simple(values)
    content = export_roster(ROSTER, snapshot, "csv").content
    evaluation = evaluate(
        Inputs(content, [], SIMPLE, {}, snapshot, date(2026, 9, 1), coverage="everybody")
    )
    assert (evaluation.tally.same, evaluation.tally.absent) == (len(values), 0)


def test_workbook_cells_are_text():
    """In the workbook every cell is text, a formula too, and comes back as it was."""
    values = [*HOSTILE, "00417", "1e5", "https://q.example"]
    sheet = openpyxl.load_workbook(
        io.BytesIO(export_roster(ROSTER, simple(values), "xlsx").content)
    ).active
    cells = [row[1] for row in sheet.iter_rows(min_row=2)]
    assert {cell.data_type for cell in cells} == {"s"}
    expected = dict(enumerate(values))
    assert [cell.value.replace("_x000D_", "\r") for cell in cells] == [
        expected[int(row[0].value)] for row in sheet.iter_rows(min_row=2)
    ]


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("ines", ["Ines"]),
        ("INES@q", ["Ines"]),
        ("1", ["Ines"]),
        ("tove q.example", ["Tove"]),
        ("nobody", []),
        ("e", ["Ines", "Tove"]),
    ],
)
def test_finds_people(text, found):
    """People are found by key, name and mail, all words of the text, in any case."""
    assert [SNAPSHOT.values(place)["name"] for place in find_people(SNAPSHOT, text, 8)] == found


@pytest.mark.parametrize(
    ("asked", "found"),
    [
        ({}, ["1", "2", "3"]),
        ({"filters": ["dept:nav"]}, ["1"]),
        ({"filters": ["dept:"]}, ["3"]),
        ({"filters": ["port:SKV"]}, ["2"]),
        ({"filters": ["nothing:x"]}, ["1", "2", "3"]),  # a field that is no more
        ({"text": "deck nav"}, ["1"]),
        ({"text": "deck men"}, []),
        ({"sort": "name", "down": True}, ["3", "2", "1"]),
        ({"sort": "dept"}, ["2", "1", "3"]),
    ],
)
def test_chooses_records(asked, found):
    """Filters, texts and order give exactly the records that they describe."""
    assert [
        SNAPSHOT.values(int(place))["no"] for place in choose_records(SNAPSHOT, **asked)
    ] == found


def test_empty_roster_exports():
    """A roster without records exports its headings."""
    content = export_roster(
        Roster(1, "crew", "Crew", 0, 1), Snapshot.empty(CREW), "csv"
    ).content.decode("utf-8-sig")
    assert content.strip() == ",".join(one.name for one in CREW.fields)


def test_who_has_ended():
    """Whose last day is over is marked, counted and found; on another day others are; without a
    last day nobody is.
    """
    document = {**DOCUMENT, "nevefield": {"checks": [{"check": "order", "fields": ["from", "to"]}]}}
    people = [
        {"no": "1", "name": "Ines", "to": "2026-08-31"},
        {"no": "2", "name": "Tove", "to": "2026-09-01"},
        {"no": "3", "name": "Una"},
        {"no": "4", "name": "Kit", "to": "2025-01-01"},
    ]
    snapshot = Snapshot.of_values(read_definition(document), [1, 2, 3, 4], people, 1)

    def found(value: str, day: date) -> list[str]:
        places = choose_records(snapshot, filters=[f"~ended:{value}"], today=day)
        return [snapshot.values(int(place))["no"] for place in places]

    assert (found("true", date(2026, 9, 1)), found("false", date(2026, 9, 1))) == (
        ["1", "4"],
        ["2", "3"],
    )
    assert found("true", date(2026, 1, 1)) == ["4"]
    assert last_days(read_definition({**document, "nevefield": {}})) == ()
    both = {"checks": [*document["nevefield"]["checks"], {"check": "ended", "fields": ["born"]}]}
    assert last_days(read_definition({**document, "nevefield": both})) == ("born",)


def test_nothing_is_kept_of_what_is_not_there(bare):
    """A definition may name a roster that is not opened yet: that hides nothing; one that
    somebody may not see does.
    """
    made = federation.make()
    with bare.database.transaction() as connection:
        for name, codes in read_codes(made.codes).items():
            rosters.replace_code_list(connection, name, codes.codes)
    number = open_roster_with(bare, made.document, [])
    clubs, _ = made.others["klubove"]

    def unnamed(sight: Sight) -> frozenset[str]:
        with bare.seen_by(sight).database.transaction() as connection:
            return unnamed_of(connection, read_definition(made.document))

    own = Sight(Level.NONE, {number: Level.ADMINISTER})
    assert [unnamed(ALL), unnamed(own)] == [frozenset()] * 2
    other = open_roster_with(bare, clubs, [])
    assert unnamed(ALL) == frozenset()
    assert unnamed(own) == {"klubove"}
    assert unnamed(Sight(Level.NONE, {number: Level.ADMINISTER, other: Level.LOOK})) == frozenset()
