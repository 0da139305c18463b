"""Tables with gaps, of any kind of values: the first line is the header, and nobody is lost."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from nevefield.core.reading import read_file

HEADINGS = [
    "needed",
    "guardian",
    "first",
    "last day",
    "mail",
    "Ort",
    "born",
    "Vormund",
    "band",
    "rola",
    "watch",
    "amount",
]
VALUES = {
    "code": st.sampled_from(["NAV", "ENG", "red", "junior", "SKUA", "x"]),
    "day": st.dates().map(lambda day: day.isoformat()),
    "number": st.integers(0, 5000).map(str),
    "name": st.sampled_from(
        ["Ana Luz", "Bo", "de Wit, Jan", "Grażyna", "Sum Ming", "Total Eclipse", "Page", "End"]
    ),
    "mail": st.integers(1, 99).map(lambda number: f"p{number}@x.example"),
    "remark": st.sampled_from(
        [
            "see letter of 3 May",
            "Moved; back in autumn, he says.",
            "page 2",
            "total loss",
            "---",
            "n/a",
        ]
    ),
}


@st.composite
def tables(draw):
    """A table of which each row has a number, and of the rest as much as chance has it."""
    width = draw(st.integers(1, 12))
    kinds = draw(st.lists(st.sampled_from(list(VALUES)), min_size=width, max_size=width))
    filled = draw(st.sampled_from([0.05, 0.2, 0.5, 0.9]))
    count = draw(st.integers(1, 40))
    chance = draw(st.randoms(use_true_random=False))
    rows = []
    for number in range(count):
        cells = [draw(VALUES[kind]) if chance.random() < filled else "" for kind in kinds]
        rows.append([f"k{number}", *cells])
    return [["key", *HEADINGS[:width]], *rows]


# As the roster with every check of the catalog brought it to light: the last row was taken for the
# header, all others for notes.
SPARSE = [
    ["needed", "guardian", "first", "key", "mail", "band"],
    *([["x", "x", "", f"k{n}", "", ""] for n in range(8)]),
]
SPARSE.append(["x", "", "", "b2", "", "red"])


@given(tables(), st.sampled_from([",", ";", "\t"]))
@example(SPARSE, ",")
def test_nobody_is_lost(table, separator):
    """Whatever stands in the cells, a row with a number of its own is a row."""
    out = io.StringIO(newline="")
    csv.writer(out, delimiter=separator, lineterminator="\n").writerows(table)
    found, reading = read_file(out.getvalue().encode())
    assert reading.header_line == 1, reading.sentence
    assert [[*found.row(row)] for row in range(len(found))] == table[1:], reading.not_data


@pytest.mark.parametrize(
    "numbers",
    [
        [f"{number:02d}" for number in range(1, 100)],
        list("abcdefghijklmnopqrstuvwxyz"),
        ["A", "B", "C", "D", "E"],
        ["h", "p", "p", "p", "t"],
    ],
    ids=["01 to 99", "a to z", "A to E", "of one kind"],
)
def test_numbers_are_no_kinds_of_record(numbers):
    """The first and the last person are no opening and closing record because of their number,
    unless most rows have one mark.
    """
    rows = [[number, f"Person {place}", f"X{place}"] for place, number in enumerate(numbers)]
    found, reading = read_file("\n".join(";".join(row) for row in rows).encode())
    kept = [list(found.row(row)) for row in range(len(found))]
    assert kept == (rows[1:-1] if numbers[1] == numbers[2] else rows), reading.not_data
