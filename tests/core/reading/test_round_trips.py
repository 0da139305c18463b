"""Any table, written in any dialect and encoding that is read, comes back the same with the same
line numbers.
"""

from __future__ import annotations

import csv
import gzip
import io
import json
import zipfile
from xml.sax.saxutils import escape

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.reading import ReadingChoice, keep_without_secrets, read_file, read_kept

WORDS = st.text(st.sampled_from("abcXYZ019 .-'éÅß€"), min_size=1, max_size=8).map(
    lambda text: text.strip() or "x"
)
# What makes text with separators hard: quotes, the separators themselves, line ends inside a cell.
HARD = st.sampled_from(
    ["", 'say "x"', "a,b", "c;d", "e|f", "two\nlines", "crlf\r\nend", '"', " x ", "007", "1,5"]
)
CELLS = st.one_of(WORDS, HARD)
# Letters thrown together are not told apart by any language: these are names, as they stand in
# files of eight bits.
NAMES = st.sampled_from(
    [
        "Müller",
        "Siân",
        "Åse",
        "Straße",
        "García",
        "O’Neill",
        "Zoë",
        "Café",
        "10 €",
        "Søren",
        "François",
        "Ann",
    ]
)


@st.composite
def tables(draw, cells=CELLS):
    """Headings and rows, at least as many as it takes to tell the separator; the first cell says
    that it is a row.
    """
    width = draw(st.integers(2, 5))
    headings = [f"Heading {'abcde'[place]}" for place in range(width)]
    count = draw(st.integers(3, 12))
    rows = [
        [f"R{number}", *draw(st.lists(cells, min_size=width - 1, max_size=width - 1))]
        for number in range(count)
    ]
    return headings, rows


def lines_of(rows, end: str, quoted: bool) -> list[int]:
    """The line where each row begins, from the text that is written."""
    line, found = 2, []
    for row in rows:
        found.append(line)
        line += 1 + sum(cell.replace("\r\n", "\n").count("\n") for cell in row)
    return found


def check(data: bytes, headings, rows, lines) -> None:
    table, _ = read_file(data, ReadingChoice(header_line=1))
    assert list(table.headings) == headings
    assert [table.row(row) for row in range(len(table))] == rows
    assert table.lines.tolist() == lines


ENCODED = st.one_of(
    st.tuples(tables(), st.sampled_from(["utf-8", "utf-8-sig", "utf-16"])),
    st.tuples(tables(st.one_of(NAMES, HARD)), st.just("windows-1252")),
)


@given(
    ENCODED,
    st.sampled_from([",", ";", "\t", "|"]),
    st.sampled_from(["\n", "\r\n"]),
    st.booleans(),
    st.sampled_from(["", "gz", "zip"]),
)
def test_text(encoded, separator, end, quoted, packed):
    """Text with separators, whatever it is quoted, ended, encoded and packed with."""
    (headings, rows), encoding = encoded
    out = io.StringIO(newline="")
    quoting = csv.QUOTE_ALL if quoted else csv.QUOTE_MINIMAL
    csv.writer(out, delimiter=separator, lineterminator=end, quoting=quoting).writerows(
        [headings, *rows]
    )
    data = out.getvalue().encode(encoding)
    if packed == "gz":
        data = gzip.compress(data)
    elif packed == "zip":
        archive = io.BytesIO()
        with zipfile.ZipFile(archive, "w") as target:
            target.writestr("table.csv", data)
        data = archive.getvalue()
    check(data, headings, rows, lines_of(rows, end, quoted))


@given(tables())
def test_workbook(table):
    """A workbook gives back the texts, each row with its number."""
    headings, rows = table
    rows = [[cell.replace("\r\n", "\n") for cell in row] for row in rows]
    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet("People")
    for row in [headings, *rows]:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    check(out.getvalue(), headings, rows, list(range(2, len(rows) + 2)))


@given(tables())
def test_json_lines(table):
    """JSON lines give back the texts, each row with its line."""
    headings, rows = table
    data = "\n".join(json.dumps(dict(zip(headings, row, strict=True))) for row in rows).encode()
    found, _ = read_file(data)
    assert list(found.headings) == headings
    assert [found.row(row) for row in range(len(found))] == rows
    assert found.lines.tolist() == list(range(1, len(rows) + 1))


@given(tables(), st.sampled_from([",", ";", "\t"]))
def test_kept_without_secrets(table, separator):
    """What is kept of a file with a secret reads like the file itself, and holds no value of the
    secret.
    """
    headings, rows = table
    secret = [f"Zq{number}!Wx{number}" for number in range(len(rows))]
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=separator)
    writer.writerows(
        [[*headings, "Password"], *([*row, one] for row, one in zip(rows, secret, strict=True))]
    )
    data = out.getvalue().encode()
    kept = keep_without_secrets(data)
    assert kept is not None
    plain = gzip.decompress(kept)
    assert not any(one.encode() in plain for one in secret)
    again, reading = read_kept(kept)
    table, first = read_file(data)
    assert (again.headings, again.lines.tolist(), reading) == (
        table.headings,
        table.lines.tolist(),
        first,
    )
    assert [again.row(row) for row in range(len(again))] == [
        table.row(row) for row in range(len(table))
    ]


@pytest.mark.parametrize("part", [{"separator": ";"}, {"encoding": "utf-16"}, {"sheet": "Other"}])
def test_kept_is_not_the_file(part):
    """What rests on the file itself can no longer be chosen; the sentence says to drop it again."""
    kept = keep_without_secrets(b"Name,PIN\nAdair,1234\nBelling,5678\n")
    with pytest.raises(Exception, match="Drop the file again"):
        read_kept(kept or b"", ReadingChoice(**part))


PLAIN = st.text(st.sampled_from("abcXYZ019.-éÅß"), min_size=1, max_size=8)


@given(tables(), st.data())
def test_fixed_width(table, data):
    """Columns of a fixed width, told by the blanks between them in every line."""
    headings, rows = table
    rows = [[row[0], *(data.draw(PLAIN) for _ in row[1:])] for row in rows]
    widths = [max(map(len, column)) + 2 for column in zip(headings, *rows, strict=True)]
    lines = [
        "".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True))
        for row in [headings, *rows]
    ]
    table, reading = read_file("\n".join(lines).encode(), ReadingChoice(header_line=1))
    assert reading.type == "fixed"
    assert [[cell.strip() for cell in table.row(row)] for row in range(len(table))] == rows
    assert table.lines.tolist() == list(range(2, len(rows) + 2))


@given(tables())
def test_open_document(table):
    """A sheet of the open document format gives back the texts, each row with its number."""
    headings, rows = table
    rows = [[" ".join(cell.split()) or "x" for cell in row] for row in rows]
    cell = '<table:table-cell office:value-type="string"><text:p>{}</text:p></table:table-cell>'
    cells = ("".join(cell.format(escape(text)) for text in row) for row in [headings, *rows])
    named = "".join(
        f' xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"'
        for name in ("office", "table", "text")
    )
    sheet = "".join(f"<table:table-row>{row}</table:table-row>" for row in cells)
    content = (
        f"<office:document-content{named}><office:body><office:spreadsheet>"
        "<table:table"
        f' table:name="People">{sheet}</table:table></office:spreadsheet></office:body></office:document-content>'  # noqa: E501
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", content)
    check(out.getvalue(), headings, rows, list(range(2, len(rows) + 2)))
