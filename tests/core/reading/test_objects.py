"""JSON as programs write it: objects a line, in lists, over many lines; what is none of it is
refused with its line.
"""

from __future__ import annotations

import gzip
import io
import json
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import read_file

VALUES = st.one_of(
    st.text(max_size=6).filter(lambda text: "\x00" not in text and "\x1f" not in text),
    st.none(),
    st.booleans(),
    st.integers(),
)
OBJECTS = st.lists(
    st.dictionaries(
        st.sampled_from(["Kürzel", "номер", "name", "a b"]), VALUES, min_size=1, max_size=4
    ),
    min_size=1,
    max_size=8,
)


def read(text: str):
    """Headings, rows and lines."""
    table, _ = read_file(text.encode())
    return list(table.headings), [table.row(row) for row in range(len(table))], table.lines.tolist()


def plain(value):
    """What a cell says of a value."""
    return (
        {None: "", True: "true", False: "false"}[value]
        if value is None or isinstance(value, bool)
        else str(value)
    )


@given(OBJECTS, st.booleans(), st.sampled_from([None, 1, 4]))
def test_any_shape(objects, as_list, indent):
    """Whether they stand a line each or over several, in a list or not: the same rows, each with
    the line it begins on.
    """
    parts = [json.dumps(one, ensure_ascii=False, indent=indent) for one in objects]
    text = "[\n" + ",\n".join(parts) + "\n]\n" if as_list else "\n".join(parts) + "\n"
    headings = list(dict.fromkeys(key for one in objects for key in one))
    line, lines = 2 if as_list else 1, []
    for part in parts:
        lines.append(line)
        line += part.count("\n") + 1
    found, rows, where = read(text)
    assert found == headings
    wanted = [
        ([plain(one.get(key)) for key in headings], line)
        for one, line in zip(objects, lines, strict=True)
    ]
    kept = [(row, line) for row, line in wanted if any(cell.strip() for cell in row)]
    assert [
        (row, line)
        for row, line in zip(rows, where, strict=True)
        if any(cell.strip() for cell in row)
    ] == kept


def test_numbers_as_written():
    """No number is rounded or shortened: keys of eighteen digits and amounts with their last
    nought come as they stand.
    """
    _, rows, _ = read(
        '{"n": 123456789012345678, "x": 12.50, "y": 1e3}\n{"n": 2, "x": 0.1, "y": -0}\n'
    )
    assert rows == [["123456789012345678", "12.50", "1e3"], ["2", "0.1", "-0"]]


def test_half_a_letter():
    """A text that a program cut amid a letter is read with a sign there, which is said; two
    halves of one letter are whole.
    """
    data = (
        rb'{"n": "1", "l": "Ann\ud83d"}'
        + b"\n"
        + rb'{"n": "2", "l": "\ud83d\ude00"}'
        + b"\n"
        + rb'{"n": "3", "\udfff": "x"}'
    )
    table, reading = read_file(data)
    assert [table.row(row)[1] for row in range(3)] == ["Ann\ufffd", "\U0001f600", ""]
    assert any("halves of letters" in remark for remark in reading.remarks)
    _, reading = read_file(rb'{"n": "2", "l": "\ud83d\ude00"}')
    assert not reading.remarks


def test_nested():
    """A list of texts is several values; anything deeper stays JSON text, letters as they are."""
    _, rows, _ = read(
        '{"n": "1", "l": ["pl", "uk"], "d": {"ż": [1, 2]}}\n{"n": "2", "l": [], "d": null}\n'
    )
    assert rows == [["1", "pl;uk", '{"ż": ["1", "2"]}'], ["2", "", ""]]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"n": 1}\n{"n": 2\n', "Line 2"),
        ('{"n": 1}\n\n\n{"n": }\n', "Line 4"),
        ('{"n": 1}\n[1, 2]\n', "Line 2"),
        ('[{"n": 1},\n 7]', "Line 2"),
        ('{"n": 1}\n{"n": ' + "[" * 100_000, "Line 2"),
    ],
)
def test_refused(text, said):
    """The line, what is wrong, and what to do."""
    with pytest.raises(UnreadableFile) as caught:
        read(text)
    assert said in str(caught.value)
    assert caught.value.remedy


def packed(*files: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target:
        for name, data in files:
            target.writestr(name, data)
    return out.getvalue()


TABLE = "номер;имя\n1;Нина\n2;Олег\n3;Ян\n".encode()


def test_packed_with_clutter():
    """What some systems put beside the one file does not count as another."""
    data = packed(
        ("folder/list.csv", TABLE),
        ("__MACOSX/folder/list.csv", b"\x00"),
        ("folder/.hidden", b"\x01"),
    )
    table, reading = read_file(data)
    assert [table.row(row) for row in range(len(table))] == [
        ["1", "Нина"],
        ["2", "Олег"],
        ["3", "Ян"],
    ]
    assert any("folder/list.csv" in remark for remark in map(str, reading.remarks))


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (packed(("a.csv", TABLE), ("b.csv", TABLE)), "2 files"),
        (packed(), "is empty"),
        (gzip.compress(TABLE)[:-9], "cut off"),
        (gzip.compress(TABLE)[:12] + b"\xff" * 20, "damaged"),
        (gzip.compress(b"x" * 400_000_000), "unpacks to"),
    ],
    ids=["several", "empty", "cut off", "damaged", "bomb"],
)
def test_packed_refused(data, said):
    """Several files, none, half of one, damaged ones and those that unpack beyond reason."""
    with pytest.raises(UnreadableFile) as caught:
        read_file(data)
    assert said in str(caught.value)
    assert caught.value.remedy
