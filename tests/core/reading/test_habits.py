"""Strange files by other people's habits: what is in them is read, at the first look."""

from __future__ import annotations

import pytest

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import ReadingChoice, read_file

from .habits import around, documents, dumps, sheets, within, written

FILES = [
    *around.FILES,
    *within.FILES,
    *dumps.FILES,
    *written.FILES,
    *sheets.FILES,
    *documents.FILES,
]


@pytest.mark.parametrize("file", FILES, ids=str)
def test_habit(file):
    """The table is read with the file's own lines, or refused in the expected sentence."""
    if file.refused:
        with pytest.raises(UnreadableFile) as refused:
            read_file(file.data, known=file.known)
        assert str(refused.value).startswith(file.refused)
        return
    table, reading = read_file(file.data, known=file.known)
    assert table.headings == file.columns
    assert [(int(line), *table.row(row)) for row, line in enumerate(table.lines)] == [
        (line, *row) for line, row in zip(file.lines, file.rows, strict=True)
    ]
    if file.header is not None:
        assert reading.header_line == file.header
    if file.remark:
        assert any(file.remark in one for one in reading.remarks), reading.remarks
    assert reading.sentence.endswith(".")


@pytest.mark.parametrize("name", ["two tables beside each other", "two tables below each other"])
def test_another_table_is_chosen(name):
    """Of several tables in a sheet each can be read: it stands among the sheets, by the cell
    where it begins, and back again.
    """
    (file,) = [one for one in FILES if str(one) == name]
    _, first = read_file(file.data)
    (other,) = [sheet for sheet in first.sheets if sheet != "Sheet"]
    table, reading = read_file(file.data, ReadingChoice(sheet=other))
    assert table.headings == ("Code", "Label")
    assert [table.row(row)[0] for row in range(len(table))] == ["D1", "D2", "D3"]
    assert reading.sheet == other
    assert reading.sheets[0] == "Sheet"
    again, _ = read_file(file.data, ReadingChoice(sheet="Sheet"))
    assert again.headings == file.columns
