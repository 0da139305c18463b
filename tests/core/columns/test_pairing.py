"""Columns to fields: by name, title, alias, likeness, and by hand."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.codes import Code, CodeList
from nevefield.core.columns.pairing import Said, look_at_values, pair_columns
from nevefield.core.columns.shapes import fit_values
from nevefield.core.defining.reading import read_definition
from nevefield.core.table import Table

CADETS = read_definition(
    {
        "name": "cadets",
        "fields": [
            {
                "name": "cadet_number",
                "title": "Cadet number",
                "nevefield": {"aliases": ["cadet no"]},
            },
            {
                "name": "family_name",
                "title": "Family name",
                "nevefield": {"aliases": ["surname", "last name"]},
            },
            {
                "name": "given_names",
                "title": "Given names",
                "nevefield": {"aliases": ["first names"]},
            },
            {
                "name": "born",
                "title": "Born",
                "type": "date",
                "nevefield": {"aliases": ["date of birth", "dob"]},
            },
            {
                "name": "guardian_phone",
                "title": "Guardian phone",
                "nevefield": {"aliases": ["guardian tel"]},
            },
        ],
    }
)


@pytest.mark.parametrize(
    ("heading", "field", "certain"),
    [
        ("cadet_number", "cadet_number", True),
        ("Cadet Number", "cadet_number", True),
        (" CADET-No. ", "cadet_number", True),
        ("d.o.b.", "born", True),
        ("Date-of-Birth", "born", True),
        ("Sürname", "family_name", True),
        ("Surnames", "family_name", True),
        ("Gaurdian tel", "guardian_phone", False),
        ("Shoe size", None, True),
        ("", None, True),
        ("Do", None, True),  # too short to be like anything
    ],
)
def test_pairs_by_name_and_likeness(heading, field, certain):
    """Case, accents, spaces and punctuation count for nothing; a likeness is used and marked as
    not certain.
    """
    (pair,) = pair_columns([heading], CADETS)
    assert (pair.field, pair.certain) == (field, certain)
    assert pair.reason


def test_no_field_twice():
    """Of two columns with a name of one field the first has it; the other stays in the file."""
    pairs = pair_columns(["Surname", "Family name"], CADETS)
    assert [pair.field for pair in pairs] == ["family_name", None]


def test_choice_by_hand_wins():
    """What a person chose is followed, and frees the field that the column had."""
    pairs = pair_columns(
        ["Surname", "Name"], CADETS, said=Said(pairs={"Surname": None, "Name": "family_name"})
    )
    assert [(pair.field, pair.certain) for pair in pairs] == [(None, True), ("family_name", True)]
    assert "by hand" in pairs[0].reason


def test_secret_goes_nowhere():
    """A column of secrets is paired with nothing, whatever its name."""
    (pair,) = pair_columns(["Born"], CADETS, secrets=["Born"])
    assert pair.field is None
    assert "secret" in pair.reason


HEADINGS = st.lists(
    st.sampled_from(
        [
            "Surname",
            "Surnames",
            "dob",
            "Born on",
            "Cadet no",
            "cadet num",
            "x",
            "Given names",
            "First name",
        ]
    ),
    unique=True,
)


@given(HEADINGS, st.randoms())
def test_order_never_matters(headings, chance):
    """However the columns stand, certain pairs are the same, and no field is paired twice."""
    other = list(headings)
    chance.shuffle(other)
    pairs = {pair.heading: pair for pair in pair_columns(headings, CADETS)}
    again = {pair.heading: pair for pair in pair_columns(other, CADETS)}
    fields = [pair.field for pair in pairs.values() if pair.field]
    assert len(fields) == len(set(fields))
    certain = {
        heading: pair.field for heading, pair in pairs.items() if pair.certain and pair.field
    }
    assert certain == {
        heading: pair.field for heading, pair in again.items() if pair.certain and pair.field
    }


@pytest.mark.parametrize(("rows", "certain"), [(1, True), (2, True), (8, False)])
def test_one_wrong_value_doubts_no_name(rows, certain):
    """A file of one or two rows whose days are none still has its column by its name; many such
    values make it doubtful.
    """
    table = Table.of(
        ["Date of birth"], [[f"x{row}"] for row in range(rows)], list(range(2, rows + 2))
    )
    evidence = look_at_values(table, CADETS, {}, date(2026, 9, 1))
    (pair,) = pair_columns(table.headings, CADETS, evidence=evidence)
    assert (pair.field, pair.certain) == ("born", certain)


def test_fields_of_which_one_names_what_another_is():
    """A code list and a form that are written alike are two questions to the values."""
    fields = [
        {"name": "size", "nevefield": {"codeList": "S|M"}},
        {"name": "fit", "constraints": {"pattern": "S|M"}},
        {"name": "cut", "constraints": {"enum": ["S|M"]}},
    ]
    definition = read_definition({"name": "coats", "fields": fields})
    codes = {"S|M": CodeList("S|M", (Code("small"), Code("medium")))}
    fits = fit_values(["small", "medium"], definition, codes, date(2026, 9, 1))
    assert {name: fit.share for name, fit in fits.items()} == {"size": 1.0, "fit": 0.0, "cut": 0.0}
