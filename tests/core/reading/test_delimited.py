"""Text with separators: the file's own lines, and the two paths that must agree."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.reading.delimited import find_separator, read_regular, read_rows


@pytest.mark.parametrize(
    ("text", "lines"),
    [
        ("a,b\n1,2\n3,4\n", [1, 2, 3]),
        ("a,b\r\n1,2\r\n\r\n3,4", [1, 2, 3, 4]),
        ("a,b\r1,2\r3,4\r", [1, 2, 3]),
        ('a,b\n"one\ntwo",2\n3,4\n', [1, 2, 4]),
        ('a,b\r\n"one\r\ntwo\r\n\r\nfour",2\r\n3,4\r\n', [1, 2, 6]),
        ('a,"b ""c"" d"\n1,2\n', [1, 2]),
        ("a\u2028b,c\x0b\n1,2\n", [1, 2]),  # only LF, CRLF and CR end a line
    ],
)
def test_lines_are_the_files_own(text, lines):
    """A row has the line where it begins, through blank lines and line ends within quotes."""
    assert read_rows(text, ",").lines == lines


def test_unclosed_quote_loses_nothing():
    """A quote that is never closed is read as it stands, and the rows below it stay rows."""
    rows = read_rows('a,b\n1,"open\n3,4\n5,6\n', ",")
    assert rows.values == [["a", "b"], ["1", '"open'], ["3", "4"], ["5", "6"]]
    assert rows.lines == [1, 2, 3, 4]
    assert "Line 2" in rows.remarks[0]


@pytest.mark.parametrize(
    ("text", "separator"),
    [
        ("name;credits\nInes;1,5\nTove;2,5\n", ";"),
        ("name\tcredits\nInes\t1\n", "\t"),
        ("name|credits\nInes, T|1\nTove, R|2\n", "|"),
        ("name,credits\nInes,1\n", ","),
        ("only one column\nof words\n", ","),
    ],
)
def test_finds_separator(text, separator):
    """The separator is the one that cuts the rows alike, decimal commas notwithstanding."""
    assert find_separator(text)[0] == separator


CELL = st.text(st.characters(blacklist_characters='",;\t|\r\n\0', blacklist_categories=("Cs",)), max_size=5)


@given(st.lists(st.lists(CELL, min_size=3, max_size=3), min_size=1, max_size=12), st.sampled_from(["\n", "\r\n"]), st.booleans())
def test_fast_path_agrees(rows, end, closed):
    """Where the fast path takes a text at all, it gives the rows and lines that the robust one gives."""
    text = end.join(";".join(row) for row in [["a", "b", "c"], *rows]) + (end if closed else "")
    fast = read_regular(text.encode(), ";", 1, ["a", "b", "c"])
    robust = read_rows(text, ";")
    if fast is None:
        assert rows[0][0].startswith("\ufeff")  # a mark of another file
        return
    assert [fast.row(row) for row in range(len(fast))] == robust.values[1:]
    assert fast.lines.tolist() == robust.lines[1:]


@pytest.mark.parametrize(
    "text",
    ['a;b\n"1";2\n', "a;b\n1;2;3\n", "a;b\n1;2\n\n3;4\n", "a;b\r1;2\r", "a;b\n1\n", "a;b\n\ufeff1;2\n"],
)
def test_fast_path_declines(text):
    """Text with quotes, ragged or blank lines or lone CR is left to the robust path."""
    assert read_regular(text.encode(), ";", 1, ["a", "b"]) is None
