"""Files made to be slow: what goes back and forth over its text takes hours on these.

Nothing is timed; each is so large that it does not end where reading is worse than about in
proportion to size.
"""

from __future__ import annotations

import io
import json

import pytest
import xlsxwriter

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import read_file

TIMES = 100_000
PAGE = b"<html><body><table><tr><td>a</td></tr><tr><td>"


def groups_of_people(count: int) -> bytes:
    made = io.BytesIO()
    with xlsxwriter.Workbook(made) as book:
        sheet = book.add_worksheet()
        sheet.write_row(0, 0, ["No", "Name", "Born"])
        for number in range(count):
            sheet.write_row(3 * number + 2, 0, [f"K{number}", "Ann", "2000-01-01"])
            sheet.write_row(3 * number + 3, 0, [f"L{number}", "Bo", "2001-01-01"])
    return made.getvalue()


@pytest.mark.parametrize(
    "piece",
    [
        b"<a ",
        b"</",
        b"<!--",
        b"<!",
        b"<?",
        b"&",
        b"<td a='",
        b'<td "',
        b"<td <",
        b"<script>",
        b"&#",
        b"<br",
    ],
)
def test_pages(piece):
    """A page that never closes what it opens."""
    try:
        table, _ = read_file(PAGE + piece * TIMES)
    except UnreadableFile:
        return
    assert len(table) <= 2


@pytest.mark.parametrize(
    "data",
    [
        b"No;Name\n1;" + b"a" * 3_000_000 + b" \xe9\n2;b\n",
        b"No;Name\n" + b'1;"open\n' * TIMES,
        b"No;Name\n" + b'1;a "b" c\n' * TIMES,
        b"No;Name\n1;" + b"-" * 3_000_000 + b"x\n",
        b"No;Name\n" + b"1;" + b"page " * 500_000 + b"\n2;b\n",
        json.dumps({f"k{number}": {"name": "a", "unit": "b"} for number in range(TIMES)}).encode(),
        b'{"a":' * TIMES,
        b"[" * TIMES,
    ],
    ids=[
        "letters",
        "open quotes",
        "odd quotes",
        "rulers",
        "words",
        "JSON by key",
        "deep JSON",
        "lists in lists",
    ],
)
def test_texts(data):
    """A text of cells, quotes and keys that invite going over them again."""
    try:
        table, reading = read_file(data)
    except UnreadableFile:
        return
    assert len(table) + len(reading.not_data) > 0


def test_groups_between_blank_lines():
    """A sheet in which blank lines part every two people is one table, and nobody is lost."""
    table, _ = read_file(groups_of_people(600))
    assert len(table) == 1200
