"""Sheets read by array operations, against the workbook's library, which goes cell by cell."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime, time, timedelta
from functools import partial

import openpyxl
import pytest
import xlsxwriter
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.workbook import _Book, _by_library, read_workbook

TEXTS = st.one_of(
    st.text(st.sampled_from("abcé <>&\"'=\n\t€Ж0"), min_size=1, max_size=12),
    st.sampled_from(
        ["true", "12", "007", "&amp;", "]]>", 'a hidden="1" b', "<v>3</v>", "_x000D_", " x "]
    ),
)
VALUES = st.one_of(
    st.none(),
    TEXTS,
    st.integers(-(10**14), 10**14),
    st.floats(-1e9, 1e9, allow_nan=False).map(lambda number: round(number, 6)),
    st.booleans(),
    st.dates(date(1901, 1, 1), date(2099, 12, 31)),
    st.datetimes(datetime(1901, 1, 1), datetime(2099, 12, 31)).map(
        lambda at: at.replace(microsecond=0)
    ),
    st.times().map(lambda at: at.replace(microsecond=0)),
)
ROWS = st.lists(st.lists(VALUES, max_size=6), min_size=1, max_size=8)


def by_openpyxl(rows) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(
            [value.strip("\x0b") if isinstance(value, str) else value for value in row]
        )
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def by_xlsxwriter(rows, *, inline: bool) -> bytes:
    out = io.BytesIO()
    with xlsxwriter.Workbook(
        out, {"constant_memory": inline, "strings_to_urls": False, "strings_to_formulas": False}
    ) as book:
        sheet = book.add_worksheet("Sheet")
        formats = {
            date: "yyyy-mm-dd",
            datetime: "yyyy-mm-dd hh:mm:ss",
            time: "hh:mm:ss",
            timedelta: "[h]:mm",
        }
        made = {kind: book.add_format({"num_format": text}) for kind, text in formats.items()}
        for number, row in enumerate(rows):
            for place, value in enumerate(row):
                if isinstance(value, str):
                    sheet.write_string(number, place, value)
                elif isinstance(value, (date, time)):
                    sheet.write_datetime(number, place, value, made[type(value)])
                elif value is not None:
                    sheet.write(number, place, value)
    return out.getvalue()


MAKERS = [by_openpyxl, partial(by_xlsxwriter, inline=False), partial(by_xlsxwriter, inline=True)]


def both(data: bytes):
    """The cells as they are read, and as the library reads them; empty rows at the end left out."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        book = _Book(data, archive)
        (name,) = book.sheets
        fast = book.read(name, None)
        assert not book._library, "the library had to read it"
    slow = _by_library(
        openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)[name], None
    )
    rows = slow.rows(range(len(slow)))
    while rows and not any(rows[-1]):
        rows.pop()
    return [[*row] for row in fast.rows(range(len(fast)))], rows


@given(ROWS, st.sampled_from(MAKERS))
def test_any_sheet(rows, make):
    """Texts, numbers, days, times, yes and no, in shared strings or within the cells: the same
    as the library's.
    """
    fast, slow = both(make(rows))
    assert fast == slow


def test_what_values_do_not_show():
    """Formulas by their results, errors by their texts; hidden rows and merged cells are said."""
    out = io.BytesIO()
    with xlsxwriter.Workbook(out) as book:
        sheet = book.add_worksheet("Staff")
        sheet.write_row(0, 0, ["No", "Name", "Sum"])
        for number in range(1, 5):
            sheet.write_row(number, 0, [number, f"P{number}"])
        sheet.write_formula(1, 2, "=1/0", None, "#DIV/0!")
        sheet.write_formula(2, 2, '=B3&"!"', None, "P2!")
        sheet.write_formula(3, 2, "=1<2", None, True)
        sheet.set_row(2, None, None, {"hidden": True})
        sheet.merge_range(5, 0, 5, 1, "all")
        bold = book.add_format({"bold": True})
        sheet.write_rich_string(4, 2, "one ", bold, "two", " three")
    grid, _ = read_workbook(out.getvalue())
    assert [row[2:] for row in grid.rows(range(1, 5))] == [
        ["#DIV/0!"],
        ["P2!"],
        ["true"],
        ["one two three"],
    ]
    assert [said.split(",")[0] for said in grid.remarks] == [
        "1 row of the sheet is hidden and read like the others: 3.",
        "1 merged cell",
        "3 formulas",
    ]


def rewritten(data: bytes, path: str, change) -> bytes:
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(data)) as old,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new,
    ):
        for one in old.infolist():
            content = old.read(one)
            new.writestr(one, change(content) if one.filename == path else content)
    return out.getvalue()


PLAIN = by_openpyxl([["No", "Name"], [1, "Ann & Bo"], [2, "Cy"]])
SHEET = "xl/worksheets/sheet1.xml"


@pytest.mark.parametrize(
    "change",
    [
        lambda xml: xml.replace(b' r="A1"', b""),
        lambda xml: xml.replace(b'<row r="1"', b"<row"),
        lambda xml: xml.replace(b"<sheetData>", b"<!-- a note --><sheetData>"),
        lambda xml: xml.replace(b'<c r="A2" t="n">', b'<c t="n" r="A2">'),
    ],
    ids=["no places", "no row numbers", "comments", "another order"],
)
def test_written_otherwise(change):
    """What other programs write otherwise is read as well, by the library."""
    data = rewritten(PLAIN, SHEET, change)
    grid, _ = read_workbook(data)
    assert grid.rows(range(len(grid))) == [["No", "Name"], ["1", "Ann & Bo"], ["2", "Cy"]]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda xml: xml.replace(b'r="B1"', b'r="XFD1"'), "16,384 columns wide"),
        (lambda xml: xml.replace(b'r="B1"', b'r="ZZZ1"'), "18,278 columns wide"),
        (lambda xml: xml[: len(xml) // 2], "damaged"),
    ],
    ids=["too wide", "no such column", "cut off"],
)
def test_hostile(change, said):
    """What cannot be is refused in one sentence."""
    with pytest.raises(UnreadableFile, match=said):
        read_workbook(rewritten(PLAIN, SHEET, change))


def test_no_such_string():
    """A cell that names a shared string which is not there is damage, not another text."""
    data = by_xlsxwriter([["No", "Name"], ["a", "b"]], inline=False)
    with pytest.raises(UnreadableFile, match="damaged"):
        read_workbook(rewritten(data, SHEET, lambda xml: xml.replace(b"<v>3</v>", b"<v>99999</v>")))
