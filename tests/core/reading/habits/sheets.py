"""Workbooks: covers, tables that begin in the middle, several tables in one sheet, the sheet that has the people."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from typing import Any

import xlsxwriter

from .making import strange

PEOPLE = [
    ["Staff no", "Family name", "Given name", "Born", "Desk"],
    ["0017", "Åkesson", "Ulf", "1970-01-31", "D4"],
    ["0018", "Öberg", "Lisa", "1981-12-02", "D5"],
    ["0021", "Ström", "Per", "1999-06-06", "D9"],
]


def book(**sheets: Mapping[str, Sequence[Sequence[Any]]]) -> bytes:
    """Make a workbook: of each sheet the blocks by the cell where they begin."""
    made = io.BytesIO()
    with xlsxwriter.Workbook(made) as out:
        for name, blocks in sheets.items():
            sheet = out.add_worksheet(name.replace("_", " "))
            for place, rows in blocks.items():
                column, line = ord(place[0]) - ord("A"), int(place[1:]) - 1
                for number, row in enumerate(rows):
                    for at, value in enumerate(row):
                        if value != "":
                            sheet.write(line + number, column + at, value)
    return made.getvalue()


def _table(first: int, rows: Sequence[Sequence[str]] = tuple(PEOPLE)) -> str:
    head, *body = rows
    return "\n".join(
        ["|".join(head), *(f"{first + place}: {'|'.join(row)}" for place, row in enumerate(body))]
    )


CODES = [["Code", "Label"], *([f"D{number}", f"Desk number {number}"] for number in range(1, 12))]
COVER = {
    "B2": [
        ["Personnel report"],
        ["Ship works"],
        [""],
        ["Made on", "2026-08-12"],
        ["By", "M. Falk"],
        ["Rows", 3],
    ]
}

FILES = [
    strange("a cover before the people", book(Cover=COVER, Staff={"A1": PEOPLE}), _table(2)),
    strange(
        "codes before the people, and more of them",
        book(Desks={"A1": CODES}, Staff={"A1": PEOPLE}),
        _table(2),
    ),
    strange(
        "help in sentences before the people",
        book(
            Read_me={
                "A1": [[f"Sentence {n} of how to fill this in, in one cell."] for n in range(30)]
            },
            Staff={"A1": PEOPLE},
        ),
        _table(2),
    ),
    strange("a table in the middle of a sheet", book(Sheet={"D7": PEOPLE}), _table(8), header=7),
    strange(
        "a table in the middle of a sheet, below a title at the left",
        book(Sheet={"A1": [["Staff of the ship works"]], "C4": PEOPLE}),
        _table(5),
        header=4,
    ),
    strange(
        "two tables beside each other",
        book(Sheet={"A1": PEOPLE, "H1": CODES[:4]}),
        _table(2),
        remark="H1",
    ),
    strange(
        "two tables below each other",
        book(Sheet={"A1": PEOPLE, "A8": CODES[:4]}),
        _table(2),
        remark="A8",
    ),
    strange(
        "a small table above the people",
        book(Sheet={"A1": [["Desk", "Floor"], ["D4", 1], ["D5", 2]], "A6": PEOPLE}),
        _table(7),
        remark="A1",
    ),
    strange(
        "the fields at hand decide the sheet",
        book(Old={"A1": [["reg", "x"], *([str(n), "y"] for n in range(40))]}, New={"A1": PEOPLE}),
        _table(2),
        known="staff no|family name|given name|born",
    ),
]
