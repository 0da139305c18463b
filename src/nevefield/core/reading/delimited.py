"""Text with separators into rows with the file's own line numbers.

Regular text (no quotes, every line with the same number of separators) takes a fast path over Arrow; all other text takes the
robust path.
Both give the same table, which a property test holds them to.
"""

from __future__ import annotations

import codecs
import csv
import io
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.csv as pacsv

from nevefield.core.table import Column, Table

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["Rows", "find_separator", "read_regular", "read_rows"]

SEPARATORS = (",", ";", "\t", "|")
PART = 1 << 24  # bytes that are looked at together
LONGEST_CELL = 10_000_000  # characters
csv.field_size_limit(LONGEST_CELL)


@dataclass(frozen=True)
class Rows:
    """Rows of texts, each with the line where it begins, and what was odd."""

    values: list[list[str]]
    lines: list[int]
    remarks: list[str]
    made_for: str = ""  # whom a request sheet was made for


def find_separator(text: str) -> tuple[str, float]:
    """Decide the separator from the first hundred rows: the one that cuts most rows into the same number of cells.

    Returns:
        The separator, and how sure it is: 0 when none cuts anything, over 1 when every row has the same number of cells.
    """
    best, best_score = ",", 0.0
    sample = text[:200_000]
    for separator in SEPARATORS:
        if separator not in sample:
            continue
        rows = csv.reader(io.StringIO(sample, newline=""), delimiter=separator)
        widths = np.array([len(row) for row, _ in zip(rows, range(100), strict=False) if row])
        wide = widths[widths > 1]
        if not len(wide):
            continue
        commonest = np.bincount(wide).argmax()
        # Squared, so that agreement counts for more than many cells (a decimal comma makes many, but unevenly).
        score = ((widths == commonest).mean() ** 2) * (1 + np.log2(commonest) / 4)
        if score > best_score:
            best, best_score = separator, float(score)
    return best, best_score


def read_rows(text: str, separator: str, most: int | None = None) -> Rows:
    """Read rows, whatever state they are in.

    Args:
        text: The decoded text.
        separator: One character.
        most: Stop after so many rows; None for all.

    Returns:
        Every row as it stands (a blank line as no cells), with the line where it begins; LF, CRLF and CR end a line.
    """
    values: list[list[str]] = []
    lines: list[int] = []
    remarks: list[str] = []
    stream = io.StringIO(text, newline="")
    offset = 0  # lines before the part being read
    while True:
        reader = csv.reader(stream, delimiter=separator)
        start = 1
        for row in reader:
            values.append(row)
            lines.append(offset + start)
            start = reader.line_num + 1
            if most is not None and len(values) >= most:
                return Rows(values, lines, remarks)
        if not values or lines[-1] == offset + reader.line_num or not _is_open(text, lines[-1], separator):
            return Rows(values, lines, remarks)
        # A quote that is never closed has swallowed the rest: take its line as plain text and read on below it.
        line = lines.pop()
        values.pop()
        whole = _lines_from(text, line)
        first, _, rest = _cut_line(whole)
        values.append(first.split(separator))
        lines.append(line)
        remarks.append(f"Line {line} opens a quote that is never closed; the line is read as it stands.")
        if not rest:
            return Rows(values, lines, remarks)
        stream, offset = io.StringIO(rest, newline=""), line


def _is_open(text: str, line: int, separator: str) -> bool:
    """Tell whether the row that begins at a line, the last one, ends inside a quote."""
    rows = csv.reader(io.StringIO(_lines_from(text, line), newline=""), delimiter=separator, strict=True)
    try:
        for _ in rows:
            pass
    except csv.Error as error:
        return "unexpected end of data" in str(error)
    return False


def _lines_from(text: str, line: int) -> str:
    """Cut off the lines before a line; lines end as for the reader."""
    stream = io.StringIO(text, newline="")
    for _ in range(line - 1):
        stream.readline()
    return stream.read()


def _cut_line(text: str) -> tuple[str, str, str]:
    stream = io.StringIO(text, newline="")
    first = stream.readline()
    body = first.rstrip("\r\n")
    return body, first[len(body) :], stream.read()


def read_regular(data: bytes, separator: str, skip: int, headings: list[str]) -> Table | None:
    """Read regular text below its header fast, with little room beside it.

    Args:
        data: The text, whole, in UTF-8.
        separator: One character.
        skip: Lines before the first row of data.
        headings: Of the columns.

    Returns:
        The table, or None when the text is not regular: quotes, lone CR, blank or ragged lines.
    """
    if b'"' in data or b"\0" in data or len(headings) < 2 or len(separator.encode()) > 1:
        return None
    letters = np.frombuffer(data, np.uint8)
    ends = _places(letters, b"\n")
    if not len(ends) or skip > len(ends):
        return None
    # Every CR must stand right before a LF, and then every LF after a CR.
    if b"\r" in data and (data.count(b"\r") != len(ends) or ends[0] == 0 or (letters[ends - 1] != ord("\r")).any()):
        return None
    begin = 0 if skip == 0 else int(ends[skip - 1]) + 1
    body = letters[begin:]
    if not len(body) or bytes(body[:3]) == codecs.BOM_UTF8:  # files put behind each other; Arrow would drop the mark
        return None
    stops = ends[skip:] - begin
    if not len(stops) or stops[-1] != len(body) - 1:
        stops = np.append(stops, len(body))
    if not _are_even(body, separator, stops, len(headings) - 1):
        return None
    names = [str(number) for number in range(len(headings))]
    table = pacsv.read_csv(
        pa.BufferReader(pa.py_buffer(body)),
        read_options=pacsv.ReadOptions(column_names=names, block_size=min(max(len(body) + 1, 1 << 20), 2**31 - 1)),
        parse_options=pacsv.ParseOptions(delimiter=separator, quote_char=False, double_quote=False, ignore_empty_lines=False),
        convert_options=pacsv.ConvertOptions(
            column_types={name: pa.dictionary(pa.int32(), pa.string()) for name in names},
            strings_can_be_null=False,
        ),
    )
    if table.num_rows != len(stops):
        return None
    columns = tuple(Column.encode(column) for column in table.columns)
    return Table(tuple(headings), columns, np.arange(skip + 1, skip + 1 + len(stops), dtype=np.int64))


def _places(letters: NDArray[np.uint8], letter: bytes) -> NDArray[np.int64]:
    """List where a letter stands, looking at a part at a time."""
    parts = range(0, len(letters), PART)
    found = [np.flatnonzero(letters[start : start + PART] == ord(letter)) + start for start in parts]
    return np.concatenate([*found, np.zeros(0, np.int64)])


def _are_even(body: NDArray[np.uint8], separator: str, stops: NDArray[np.int64], wanted: int) -> bool:
    """Tell whether every line, by where it stops, has as many separators as wanted."""
    first = 0
    begin = 0
    while first < len(stops):
        last = max(int(np.searchsorted(stops, begin + PART)), first + 1)
        lines = stops[first:last]
        places = np.flatnonzero(body[begin : int(lines[-1])] == ord(separator)) + begin
        if not (np.diff(np.searchsorted(places, lines), prepend=0) == wanted).all():
            return False
        begin, first = int(lines[-1]) + 1, last
    return True
