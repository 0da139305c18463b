"""Whatever offices and programs write around a table, in any dialect: the table that is read is
the same.
"""

from __future__ import annotations

import csv
import io

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.reading import read_file

FAMILY = [
    "Adeyemi",
    "Bjørnstad",
    "Castillo",
    "Dvořák",
    "Eskişehirli",
    "Fischer",
    "Georgiou",
    "Hà",
    "Ito",
    "Kaya",
    "Lee",
    "O'Dea",
]
GIVEN = [
    "Ana",
    "Bo",
    "Chidi",
    "Dagny",
    "Elif",
    "Finn",
    "Grażyna",
    "Huy",
    "Ines",
    "Jo Ann",
    "Kai",
    "Lóránt",
]
UNITS = ["North", "South", "Harbour", "Night shift", "A", "B"]
# Columns as offices have them: a heading in some language, and what stands below it.
COLUMNS = {
    "key": (
        ["No", "Number", "Personalnr.", "Numer", "ID"],
        lambda draw, n: [f"{draw}{1000 + 7 * i}" for i in range(n)],
    ),
    "family": (
        ["Family name", "Nachname", "Nazwisko", "Apellidos"],
        lambda draw, n: [FAMILY[(i * 5 + draw) % 12] for i in range(n)],
    ),
    "given": (
        ["Given name", "Vorname", "Imię", "Nombre"],
        lambda draw, n: [GIVEN[(i * 7 + draw) % 12] for i in range(n)],
    ),
    "born": (
        ["Born", "Date of birth", "Geburtsdatum"],
        lambda draw, n: [f"{1950 + (i + draw) % 55}-0{1 + i % 9}-1{i % 10}" for i in range(n)],
    ),
    "unit": (
        ["Unit", "Abteilung", "Ward"],
        lambda draw, n: [UNITS[(i + draw) % 6] for i in range(n)],
    ),
    "hours": (
        ["Hours", "Stunden", "Etat"],
        lambda draw, n: [f"{20 + (i * draw) % 20}" for i in range(n)],
    ),
    "mail": (
        ["Mail", "E-mail"],
        lambda draw, n: [f"p{i}@mail.example" if (i + draw) % 4 else "" for i in range(n)],
    ),
}
NOTES = [
    ["List of staff"],
    ["Printed on 12 August 2026 by M. Falk"],
    ["Please, return this, filled in, by Friday."],
    ["1. One person, one line."],
    ["Institution", "St. Adalbert"],
    ["Made", "2026-08-12"],
    [],
    ["confidential: personnel, wages, and leave"],
]
FOOTERS = [
    ["* provisional"],
    ["Source: personnel office"],
    [],
    ["Page 1 of 1"],
    ["*** end of list ***"],
    ["Total: 12 people"],
    ["Kraków, 12.08.2026"],
]


@st.composite
def tables(draw):
    """A table of people with some columns in some order; the first is always there, so that rows
    differ.
    """
    names = [
        "key",
        *draw(st.lists(st.sampled_from(list(COLUMNS)[1:]), min_size=2, max_size=6, unique=True)),
    ]
    count = draw(st.integers(4, 30))
    columns = []
    for name in names:
        headings, make = COLUMNS[name]
        first = (
            draw(st.sampled_from(["", "K-", "TQ"])) if name == "key" else draw(st.integers(1, 9))
        )
        columns.append([draw(st.sampled_from(headings)), *make(first, count)])
    return [list(row) for row in zip(*columns, strict=True)]


@given(
    tables(),
    st.lists(st.sampled_from(NOTES), max_size=6),
    st.lists(st.sampled_from(FOOTERS), max_size=4),
    st.sampled_from([",", ";", "\t", "|"]),
    st.sets(
        st.sampled_from(["headers again", "pages", "ruler", "shifted", "quoted", "blank lines"])
    ),
)
def test_around(table, above, below, separator, habits):
    """Notes, footers, pages, headers again, rulers, columns to the right, quotes: none of it is
    a row or hides one.
    """
    header, rows = table[0], table[1:]
    lines: list[list[str]] = [*above, header]
    if "ruler" in habits:
        lines.append(["-" * 6] * len(header))
    expected = []
    for number, row in enumerate(rows):
        if number and number % 10 == 0:
            lines += [["page 2 of 3"]] if "pages" in habits else []
            lines += [header] if "headers again" in habits else []
            lines += [[]] if "blank lines" in habits else []
        lines.append(row)
        expected.append((len(lines), *row))
    lines += [[""] * len(header), *below]
    shift = [""] * 2 if "shifted" in habits else []
    out = io.StringIO(newline="")
    quoting = csv.QUOTE_ALL if "quoted" in habits else csv.QUOTE_MINIMAL
    csv.writer(out, delimiter=separator, lineterminator="\n", quoting=quoting).writerows(
        [[*shift, *line] if line else line for line in lines]
    )
    found, reading = read_file(out.getvalue().encode())
    assert list(found.headings) == header, reading.sentence
    assert [(int(line), *found.row(row)) for row, line in enumerate(found.lines)] == expected
    assert reading.header_line == len(above) + 1
