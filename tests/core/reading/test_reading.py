"""Files in whatever state they are: what is read, what is not data, what is refused."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime

import pytest
import xlsxwriter

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import ReadingChoice, read_file

PLAIN = "Cadet No,Name,Born\nTQ1,Ines,2008-03-14\nTQ2,Tove,2007-11-02\n"


def rows_of(data: bytes, **choice):
    table, reading = read_file(data, ReadingChoice(**choice))
    return (
        list(table.headings),
        [table.row(row) for row in range(len(table))],
        table.lines.tolist(),
        reading,
    )


@pytest.mark.parametrize(
    ("data", "encoding"),
    [
        (PLAIN.encode(), "utf-8"),
        (b"\xef\xbb\xbf" + PLAIN.encode(), "utf-8"),
        (PLAIN.encode("utf-16"), "utf-16-le"),
        (PLAIN.encode("utf-16-be"), "utf-16-be"),
        (PLAIN.replace("Ines", "Siân").encode("cp1252"), "windows-1252"),
    ],
)
def test_reads_encodings(data, encoding):
    """The encoding follows from the bytes; the mark at the beginning is no part of the first
    heading.
    """
    headings, rows, lines, reading = rows_of(data)
    assert reading.encoding == encoding
    assert headings == ["Cadet No", "Name", "Born"]
    assert rows[0][1] in ("Ines", "Siân")
    assert lines == [2, 3]


def test_notes_above_header():
    """Notes, blank lines, a repeated header and a total are not data; lines stay the file's own."""
    head = "Admissions\nof August\n\nNo,Name,Born\n1,Ines,2008-03-14\n,,\n2,Tove,2007-11-02\n"
    text = head + "No,Name,Born\n3,Una,2008-01-09\nTOTAL,3,\n"
    _, rows, lines, reading = rows_of(text.encode())
    assert lines == [5, 7, 9]
    assert [row[1] for row in rows] == ["Ines", "Tove", "Una"]
    assert {(one.line, one.kind) for one in reading.not_data} == {
        (1, "note"),
        (2, "note"),
        (3, "blank"),
        (4, "header"),
        (6, "blank"),
        (8, "header"),
        (10, "total"),
    }
    assert reading.header_line == 4


def test_no_header():
    """A file that begins with data has numbered columns and loses no row."""
    headings, rows, lines, reading = rows_of(
        b"TQ204417X,2008-03-14\nTQ2044233,2007-11-02\nTQ2044306,2008-01-09\n"
    )
    assert headings == ["Column 1", "Column 2"]
    assert len(rows) == 3
    assert lines == [1, 2, 3]
    assert reading.header_line is None


def test_overruled_header():
    """A person's choice of header line, or of none, is followed."""
    data = b"one,two\nName,Town\nInes,Dunsea\n"
    assert rows_of(data, header_line=2)[0] == ["Name", "Town"]
    assert rows_of(data, no_header=True)[1] == [
        ["one", "two"],
        ["Name", "Town"],
        ["Ines", "Dunsea"],
    ]
    with pytest.raises(UnreadableFile, match="No row begins at line 9"):
        rows_of(data, header_line=9)


def test_ragged_rows():
    """A short row is filled up, a longer one widens the table, and both are said."""
    headings, rows, _, reading = rows_of(b"Name,Town\nInes\nTove,Dunsea,extra\nUna,Velmar\n")
    assert headings == ["Name", "Town", "Column 3"]
    assert rows == [["Ines", "", ""], ["Tove", "Dunsea", "extra"], ["Una", "Velmar", ""]]
    assert any("line 2" in remark for remark in reading.remarks)


def test_doubled_headings():
    """A heading that stands twice is numbered, one that is missing is named after its place."""
    assert rows_of(b"Name,Name,,Born\nInes,Tove,x,2008-03-14\n")[0] == [
        "Name",
        "Name (2)",
        "Column 3",
        "Born",
    ]


@pytest.mark.parametrize(
    "heading", ["password", "Portal PIN", "User_Password", "Passwort", "api key", "portalPin"]
)
def test_secrets_are_not_taken(heading):
    """A column of secrets keeps its heading and none of its values."""
    headings, rows, _, reading = rows_of(f"Name,{heading}\nInes,hunter2\nTove,tr0ub4dor\n".encode())
    assert headings[1] == heading
    assert [row[1] for row in rows] == ["", ""]
    assert reading.secrets == (heading,)


@pytest.mark.parametrize("heading", ["Shipping", "Opinion", "Passport no", "Pinnace"])
def test_harmless_headings_stay(heading):
    """A heading that only contains such letters is taken like any other."""
    assert rows_of(f"Name,{heading}\nInes,value\n".encode())[1] == [["Ines", "value"]]


def workbook(fill) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True})
    fill(book)
    book.close()
    return out.getvalue()


def test_workbook_cells():
    """Days, whole numbers, yes and no, and a formula's result come as the contract says."""

    def fill(book):
        day = book.add_format({"num_format": "yyyy-mm-dd"})
        hidden, sheet = book.add_worksheet("Old"), book.add_worksheet("New")
        hidden.hide()
        hidden.write(0, 0, "nothing here")
        sheet.activate()
        sheet.write_row(0, 0, ["Name", "Born", "Seen", "Credits", "Rate", "Lives in", "Sum"])
        sheet.write_string(1, 0, "Ines")
        sheet.write_datetime(1, 1, datetime(2008, 3, 14), day)
        sheet.write_datetime(1, 2, datetime(2026, 9, 1, 14, 30), day)
        sheet.write_number(1, 3, 12)
        sheet.write_number(1, 4, 12.5)
        sheet.write_boolean(1, 5, True)
        sheet.write_formula(1, 6, "=D2+1", value=13)

    _, rows, lines, reading = rows_of(workbook(fill))
    assert rows == [["Ines", "2008-03-14", "2026-09-01 14:30:00", "12", "12.5", "true", "13"]]
    assert lines == [2]
    assert reading.sheet == "New"
    assert any("hidden" in remark for remark in reading.remarks)


def _zip(**members: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in members.items():
            archive.writestr(name.replace("__", "/").replace("_xml", ".xml"), content)
    return out.getvalue()


ENCRYPTED = (
    b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
    + b"\0" * 600
    + "EncryptedPackage".encode("utf-16-le")
    + b"\0" * 400
)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b" \r\n\n", "empty"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * 100, "picture"),
        (b"\xff\xd8\xff\xe0" + b"\0" * 100, "picture"),
        (b"%PDF-1.7\n", "PDF"),
        (ENCRYPTED, "encrypted"),
        (b"PK\x03\x04" + b"\0" * 50, "damaged"),
        (_zip(xl__workbook_xml=b"<nonsense/>"), "damaged"),
        (_zip(word__document_xml=b"<w/>"), "text document"),
        (_zip(xl__workbook_xml=b"0" * 250_000_000), "unpacks to"),
        (b"<!DOCTYPE html><html></html>", "web page"),
        (bytes(range(256)) * 20, "not text"),
    ],
    ids=[
        "empty",
        "blank",
        "png",
        "jpeg",
        "pdf",
        "encrypted",
        "cut",
        "nonsense",
        "docx",
        "bomb",
        "html",
        "binary",
    ],
)
def test_refuses_plainly(data, said):
    """What is no table is refused in a sentence that says what it is."""
    with pytest.raises(UnreadableFile, match=said) as refused:
        read_file(data)
    assert str(refused.value).endswith(".")
    assert "Traceback" not in str(refused.value)


def test_day_of_workbook_is_stored(made):
    """The demo's workbook has both real days and typed ones; both stay as they stand."""
    table, _ = read_file((made / "september-joiners.xlsx").read_bytes())
    born = table.columns[table.headings.index("d.o.b.")].texts()
    assert any(text[2:3] == "/" for text in born)
    assert any(date.fromisoformat(text) for text in born if text[4:5] == "-")
