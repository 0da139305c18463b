"""Text with separators into rows, cell by cell, with the file's own line numbers.

The slow and sure way: for samples, and as what `grid` is held to.
"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

__all__ = ["LONGEST_CELL", "Rows", "read_rows"]

LONGEST_CELL = 1_000_000  # characters; a spreadsheet has at most 32,767
csv.field_size_limit(LONGEST_CELL)


@dataclass(frozen=True)
class Rows:
    """Rows of texts, each with the line where it begins, and what was odd."""

    values: list[list[str]]
    lines: list[int]
    remarks: list[str]


def read_rows(text: str, separator: str, most: int | None = None) -> Rows:
    """Read rows, whatever state they are in.

    Args:
        text: The decoded text.
        separator: One character.
        most: Stop after so many rows; None for all.

    Returns:
        Every row as it stands (a blank line as no cells), with the line where it begins; LF, CRLF
        and CR end a line.
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
        if not values or not _is_open(text, lines[-1], separator):
            return Rows(values, lines, remarks)
        # A quote that is never closed has swallowed the rest: take its line as plain text and read
        # on below it.
        line = lines.pop()
        values.pop()
        whole = _lines_from(text, line)
        first, _, rest = _cut_line(whole)
        values.append(first.split(separator))
        lines.append(line)
        remarks.append(
            f"Line {line} opens a quote that is never closed; the line is read as it stands."
        )
        if not rest:
            return Rows(values, lines, remarks)
        stream, offset = io.StringIO(rest, newline=""), line


def _is_open(text: str, line: int, separator: str) -> bool:
    """Tell whether the row that begins at a line, the last one, ends inside a quote."""
    rows = csv.reader(
        io.StringIO(_lines_from(text, line), newline=""), delimiter=separator, strict=True
    )
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
