"""Strange and hostile files: each in `tests/data/strange`, with the table or the sentence that
is expected beside it.
"""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import read_file

FILES = Path(__file__).parents[2] / "data" / "strange"
NAMES = sorted(path.name.removesuffix(".json") for path in FILES.glob("*.*.json")) or ["none"]


@pytest.mark.parametrize("name", NAMES)
def test_strange_file(name):
    """The file is read as the expected table with the file's own lines, or refused in the
    expected sentence.
    """
    data = (FILES / name).read_bytes()
    expected = json.loads((FILES / f"{name}.json").read_text())
    if "refused" in expected:
        with pytest.raises(UnreadableFile) as refused:
            read_file(data)
        assert str(refused.value).startswith(expected["refused"])
        return
    table, reading = read_file(data)
    assert list(table.headings) == expected["columns"]
    rows = [{"line": int(line), "values": table.row(row)} for row, line in enumerate(table.lines)]
    assert rows == expected["rows"]
    for part in ("type", "encoding", "separator", "sheet", "header_line"):
        if part in expected:
            assert getattr(reading, part) == expected[part], part
    if "not_data" in expected:
        assert [[one.line, one.kind] for one in reading.not_data] == expected["not_data"]
    if "remark" in expected:
        assert any(expected["remark"] in remark for remark in reading.remarks), reading.remarks
    assert reading.sentence.endswith(".")
