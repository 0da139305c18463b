"""Where the header stands, and which rows are no data."""

from __future__ import annotations

import pytest

from nevefield.core.reading.layout import Layout, find_layout, is_end, is_total, name_columns

DATA = [["TQ2044104", "Ines", "2008-03-14"], ["TQ2044139", "Tove", "2007-11-02"], ["TQ2044163", "Una", "2008-01-09"]]


@pytest.mark.parametrize(
    ("above", "layout"),
    [
        ([["No", "Name", "Born"]], Layout(0, 1)),
        ([["Admissions", "", ""], [], ["No", "Name", "Born"]], Layout(2, 3)),
        ([["of 21 August", "", ""], ["No", "Name", "Born"]], Layout(1, 2)),
        ([], Layout(None, 0)),
        ([["Admissions", "", ""]], Layout(None, 1)),
        ([[], []], Layout(None, 2)),
    ],
    ids=["header", "notes", "note", "no header", "note, no header", "blank lines"],
)
def test_finds_header(above, layout):
    """The header is the first row as wide as the table that is unlike what stands below it."""
    assert find_layout([*above, *DATA]) == layout


def test_known_names_weigh_most():
    """A row with names of the roster's fields is the header, even below a wide row of texts."""
    rows = [["Report", "of", "people"], ["number", "name", "born"], ["one", "two", "three"]]
    assert find_layout(rows, frozenset({"number", "name", "born"})) == Layout(1, 2)


def test_header_alone():
    """A file with a header and nothing below has a header."""
    assert find_layout([["No", "Name", "Born"]]) == Layout(0, 1)
    assert find_layout([]) == Layout(None, 0)


@pytest.mark.parametrize(
    ("cells", "total"),
    [
        (["TOTAL", "348", "", "", "", ""], True),
        (["", "", "Total:", "12", "", ""], True),
        (["Sum", "", "", "", "", ""], True),
        (["Totals", "1", "2", "", "", ""], True),
        (["Totnes", "Ines", "2008-03-14", "x", "y", "z"], False),
        (["Total", "Ines", "2008-03-14", "NAV", "DECK", "1"], False),
        (["", "", "", "", "", ""], False),
    ],
)
def test_tells_totals(cells, total):
    """A total begins with such a word and has few cells; a person called so has many."""
    assert is_total(cells) is total


@pytest.mark.parametrize(
    ("cells", "end"),
    [
        (["*** end ***", "", ""], True),
        (["3 rows exported", "", ""], True),
        (["Ines", "", ""], False),
        (["end", "x", ""], False),
        (["TQ2044104", "", ""], False),
    ],
)
def test_tells_ends(cells, end):
    """A line that only says that the file ends is one cell in words."""
    assert is_end(cells) is end


def test_names_columns():
    """Headings stay as written; missing ones are named by place, doubled ones numbered."""
    assert name_columns(["Name", "", " Name", "Name"], 6) == ["Name", "Column 2", " Name", "Name (2)", "Column 5", "Column 6"]
    assert name_columns(None, 2) == ["Column 1", "Column 2"]
