"""Text with separators: the file's own lines, and what parts its cells."""

from __future__ import annotations

import pytest

from nevefield.core.reading.delimited import read_rows
from nevefield.core.reading.dialect import find_dialect


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
    assert find_dialect(text).separator == separator
