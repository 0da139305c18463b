"""Where the header stands, and which rows are no data."""

from __future__ import annotations

import pytest

from nevefield.core.reading import read_file
from nevefield.core.reading.evidence import find_layout
from nevefield.core.reading.layout import name_columns

DATA = [
    ["TQ2044104", "Ines", "2008-03-14"],
    ["TQ2044139", "Tove", "2007-11-02"],
    ["TQ2044163", "Una", "2008-01-09"],
]


@pytest.mark.parametrize(
    ("above", "layout"),
    [
        ([["No", "Name", "Born"]], (0, 1)),
        ([["Admissions", "", ""], [], ["No", "Name", "Born"]], (2, 3)),
        ([["of 21 August", "", ""], ["No", "Name", "Born"]], (1, 2)),
        ([], (None, 0)),
        ([["Admissions", "", ""]], (None, 1)),
        ([[], []], (None, 2)),
    ],
    ids=["header", "notes", "note", "no header", "note, no header", "blank lines"],
)
def test_finds_header(above, layout):
    """The header is the first row as wide as the table that is unlike what stands below it."""
    found = find_layout([*above, *DATA])
    assert (found.header, found.first) == layout


def test_known_names_weigh_most():
    """A row with names of the roster's fields is the header, even below a wide row of texts."""
    rows = [["Report", "of", "people"], ["number", "name", "born"], ["one", "two", "three"]]
    found = find_layout(rows, frozenset({"number", "name", "born"}))
    assert (found.header, found.first) == (1, 2)


def test_header_alone():
    """A file with a header and nothing below has a header."""
    assert find_layout([["No", "Name", "Born"]]).header == 0
    assert find_layout([]).header is None


HEADER = ["Number", "Name", "Born", "Dept", "Watch", "Hours"]
PEOPLE = [
    [f"TQ{number}", name, "2008-03-14", "NAV", "DECK", str(number)]
    for number, name in enumerate(["Ines", "Tove", "Una"] * 4)
]


@pytest.mark.parametrize(
    ("cells", "kind"),
    [
        (["TOTAL", "348", "", "", "", ""], "total"),
        (["", "", "Total:", "12", "", ""], "total"),
        (["Total:", "", "", "", "", "66"], "total"),
        (["Sum", "12", "", "", "", ""], "total"),
        (["Totals", "1", "2", "", "", ""], "total"),
        (["Subtotal NAV", "", "", "", "", "66"], "total"),
        (["Totnes", "Ines", "2008-03-14", "x", "y", "3"], ""),
        (["Total", "Ines", "2008-03-14", "NAV", "DECK", "1"], ""),
        (["*** end ***", "", ""], "end"),
        (["3 rows exported", "", ""], "end"),
        (["TQ2044104", "", ""], ""),
        (["end", "x", ""], ""),
        (["page 2 of 3", "", ""], "note"),
    ],
    ids=lambda value: " ".join(value) if isinstance(value, list) else value or "data",
)
def test_tells_what_is_no_row(cells, kind):
    """A total, an end or a page says that it is one and is unlike the rows; whatever may be a
    person stays one.
    """
    text = "\n".join(";".join(row) for row in [HEADER, *PEOPLE, cells])
    table, reading = read_file(text.encode())
    assert [one.kind for one in reading.not_data if one.line == len(PEOPLE) + 2] == (
        [kind] if kind else []
    )
    assert len(table) == len(PEOPLE) + (not kind)


def test_names_columns():
    """Headings stay as written; missing ones are named by place, doubled ones numbered."""
    assert name_columns(["Name", "", " Name", "Name"], 6) == [
        "Name",
        "Column 2",
        " Name",
        "Name (2)",
        "Column 5",
        "Column 6",
    ]
    assert name_columns(None, 2) == ["Column 1", "Column 2"]
