"""A file's cells as columns, before rows are parted from what is none; text with separators is cut into them by array operations.

Lines whose quotes stand where quotes stand and that have as many cells as most go into Arrow together; the few others are read
one by one. A property test holds this to the slow reader (`delimited.read_rows`).
"""

from __future__ import annotations

import codecs
import csv
from dataclasses import dataclass, field
from itertools import zip_longest
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.csv as pacsv

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import LONGEST_CELL, Rows
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from numpy.typing import NDArray

__all__ = ["Grid", "cut_text"]

PART = 1 << 24  # bytes that are looked at together
MOST_LINES = 10_000  # of one cell; a quote that is open for longer is taken for one that is never closed
MOST_OPEN = 50  # quotes that are never closed, before no more are looked for
QUOTE = ord('"')


@dataclass(frozen=True)
class Grid:
    """Cells by column, with the line where each row begins."""

    columns: tuple[Column, ...]  # of as many rows as there are lines; "" where a row has no such cell
    lengths: NDArray[np.int64]  # how many cells each row has as it is written
    lines: NDArray[np.int64]
    remarks: list[str] = field(default_factory=list)
    made_for: str = ""  # whom a request sheet was made for
    sheets: tuple[str, ...] = ()  # of a workbook, those that can be read instead

    @classmethod
    def of(cls, rows: Rows) -> Grid:
        """Turn rows of texts into columns."""
        columns = tuple(Column.of(texts) for texts in zip_longest(*rows.values, fillvalue=""))
        lengths = np.array([len(row) for row in rows.values], np.int64)
        return cls(columns, lengths, np.array(rows.lines, np.int64), rows.remarks)

    def __len__(self) -> int:
        return len(self.lines)

    @property
    def width(self) -> int:
        """How many columns there are."""
        return len(self.columns)

    def rows(self, chosen: NDArray[np.intp] | Sequence[int]) -> list[list[str]]:
        """List the texts of chosen rows, each as long as the file has it."""
        places = np.asarray(chosen, np.intp)
        if not self.columns:
            return [[] for _ in places]
        texts = zip(*(column.rows(places) for column in self.columns), strict=True)
        return [list(row)[:length] for row, length in zip(texts, self.lengths[places].tolist(), strict=True)]


def cut_text(data: bytes, separator: str) -> Grid:
    """Cut text into cells.

    Args:
        data: In UTF-8, without a byte order mark.
        separator: One ASCII character.

    Returns:
        Every row as it stands, blank lines as rows without cells; LF, CRLF and CR end a line.

    Raises:
        UnreadableFile: A cell is longer than any cell.
    """
    letters = np.frombuffer(data, np.uint8)
    starts, ends, stops = _find_lines(letters)
    counts, hard = _count_cells(letters, ord(separator), starts, ends)
    counts[starts == ends] = 0
    usual = int(np.bincount(counts[~hard], minlength=1)[1:].argmax()) + 1 if (counts[~hard] > 0).any() else 1
    odd = hard | (counts != usual) | _marked(letters, starts)
    found = _read_odd(data, separator, starts, ends, stops, np.flatnonzero(odd), hard)
    even = np.flatnonzero(~(odd | found.swallowed))
    columns = _parse_even(data, separator, usual, even, starts, stops)
    return _assemble(columns, usual, even, found)


def _find_lines(letters: NDArray[np.uint8]) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """List of each line where it begins, where it ends without what ends it, and where the next one begins."""
    last = _places(letters, ord("\n"))
    returns = _places(letters, ord("\r"))
    if len(returns):
        following = np.append(letters[1:], np.uint8(0))[returns] if returns[-1] == len(letters) - 1 else letters[returns + 1]
        lone = returns[following != ord("\n")]
        last = np.union1d(last, lone)
    stops = last + 1
    if not len(stops) or stops[-1] != len(letters):
        stops = np.append(stops, len(letters))
        ends = np.append(last, len(letters))
    else:
        ends = last.copy()
    starts = np.concatenate([np.zeros(1, np.int64), stops[:-1]])
    if len(returns):
        pairs = ends[: len(last)] > starts[: len(last)]
        before = np.flatnonzero(pairs)
        before = before[(letters[ends[before]] == ord("\n")) & (letters[ends[before] - 1] == ord("\r"))]
        ends[before] -= 1
    if len(letters) == 0:
        return (np.zeros(0, np.int64),) * 3
    return starts, ends, stops


def _places(letters: NDArray[np.uint8], letter: int) -> NDArray[np.int64]:
    """List where a letter stands, looking at a part at a time."""
    parts = range(0, len(letters), PART)
    found = [np.flatnonzero(letters[start : start + PART] == letter) + start for start in parts]
    return np.concatenate([*found, np.zeros(0, np.int64)])


def _count_cells(
    letters: NDArray[np.uint8], separator: int, starts: NDArray[np.int64], ends: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    """Count the cells of each line, and tell the lines whose quotes need a closer look."""
    counts = np.ones(len(starts), np.int64)
    hard = np.zeros(len(starts), bool)
    first = 0
    while first < len(starts):
        begin = int(starts[first])
        last = max(int(np.searchsorted(ends, begin + PART)), first + 1)
        counts[first:last], hard[first:last] = _count_part(
            letters[begin : int(ends[last - 1])], separator, starts[first:last] - begin, ends[first:last] - begin
        )
        first = last
    return counts, hard


def _count_part(
    letters: NDArray[np.uint8], separator: int, starts: NDArray[np.int64], ends: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    parted = np.flatnonzero(letters == separator)
    quotes = np.flatnonzero(letters == QUOTE)
    hard = np.zeros(len(starts), bool)
    lines = np.arange(len(starts))
    if len(quotes):
        before_each = np.searchsorted(quotes, starts)  # quotes that stand before a line
        of_each = np.diff(np.append(before_each, len(quotes)))
        line = np.repeat(lines, of_each)
        nth = np.arange(len(quotes)) - before_each[line]  # of its line, from 0
        before = np.where(quotes > starts[line], letters[quotes - 1], separator)
        after = np.where(quotes + 1 < ends[line], letters[np.minimum(quotes + 1, len(letters) - 1)], separator)
        opens = nth % 2 == 0
        is_opened = (before == separator) | ((before == QUOTE) & (nth > 0))
        is_closed = (after == separator) | (after == QUOTE)
        hard[line[~np.where(opens, is_opened, is_closed)]] = True
        hard |= of_each % 2 == 1
        # Separators within quotes part nothing: those before which an odd number of the line's quotes stands.
        within = np.repeat(lines, np.diff(np.append(np.searchsorted(parted, starts), len(parted))))
        some = np.flatnonzero(of_each[within] > 0)
        inside = (np.searchsorted(quotes, parted[some]) - before_each[within[some]]) % 2 == 1
        parted = np.delete(parted, some[inside])
    counts = np.searchsorted(parted, ends) - np.searchsorted(parted, starts) + 1
    return counts, hard


def _marked(letters: NDArray[np.uint8], starts: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Tell the lines that begin with a byte order mark, of files put behind each other: Arrow would drop it."""
    found = np.zeros(len(starts), bool)
    if not len(letters):
        return found
    first = letters[np.minimum(starts, len(letters) - 1)]
    for line in np.flatnonzero(first == codecs.BOM_UTF8[0]).tolist():
        found[line] = bytes(letters[starts[line] : starts[line] + 3]) == codecs.BOM_UTF8
    return found


@dataclass(frozen=True)
class _Odd:
    """Rows that were read one by one."""

    rows: list[list[str]]
    lines: list[int]  # from 0
    swallowed: NDArray[np.bool_]  # lines that are part of a row that begins above
    remarks: list[str]


def _read_odd(
    data: bytes,
    separator: str,
    starts: NDArray[np.int64],
    ends: NDArray[np.int64],
    stops: NDArray[np.int64],
    odd: NDArray[np.intp],
    hard: NDArray[np.bool_],
) -> _Odd:
    found = _Odd([], [], np.zeros(len(starts), bool), [])
    upto = unclosed = 0
    quote = b'"'
    for line, begin, end, is_hard in zip(odd.tolist(), starts[odd].tolist(), ends[odd].tolist(), hard[odd].tolist(), strict=True):
        if line < upto:
            continue
        body = data[begin:end]
        row: list[str] | None
        if not body:
            row = []
        elif quote not in body:
            row = body.decode().split(separator)
        elif not is_hard or unclosed >= MOST_OPEN:
            row = next(csv.reader([body.decode()], delimiter=separator)) if not is_hard else body.decode().split(separator)
        else:
            row, upto = _read_hard(data, separator, line, starts, stops)
            if row is None:
                unclosed += 1
                row = body.decode().split(separator)
                found.remarks.append(f"Line {line + 1} opens a quote that is never closed; the line is read as it stands.")
            found.swallowed[line + 1 : upto] = True
        found.rows.append(row)
        found.lines.append(line)
    return found


def _read_hard(
    data: bytes, separator: str, line: int, starts: NDArray[np.int64], stops: NDArray[np.int64]
) -> tuple[list[str] | None, int]:
    """Read the row that begins at a line; None where a quote in it is never closed. And the line where the next one begins."""
    is_over = False

    def texts() -> Iterator[str]:
        nonlocal is_over
        for number in range(line, min(line + MOST_LINES, len(starts))):
            yield data[starts[number] : stops[number]].decode()
        is_over = True

    reader = csv.reader(texts(), delimiter=separator)
    try:
        row = next(reader)
    except csv.Error as error:
        raise UnreadableFile(
            f"A cell that begins on line {line + 1} has over {LONGEST_CELL:,} characters.", "Ask for the file without it."
        ) from error
    return (None, line + 1) if is_over else (row, line + reader.line_num)


def _parse_even(
    data: bytes, separator: str, width: int, even: NDArray[np.intp], starts: NDArray[np.int64], stops: NDArray[np.int64]
) -> list[Column]:
    """Let Arrow parse lines that have as many cells as `width`."""
    if not len(even):
        return [Column.constant("", 0) for _ in range(width)]
    breaks = np.flatnonzero(np.diff(even) != 1)
    firsts, lasts = even[np.append(0, breaks + 1)], even[np.append(breaks, len(even) - 1)]
    whole = memoryview(data)
    runs = [whole[begin:end] for begin, end in zip(starts[firsts].tolist(), stops[lasts].tolist(), strict=True)]
    body = runs[0] if len(runs) == 1 else b"".join(runs)
    names = [str(number) for number in range(width)]
    quote: str | bool = '"' if b'"' in data else False
    table = pacsv.read_csv(
        pa.BufferReader(pa.py_buffer(body)),
        read_options=pacsv.ReadOptions(column_names=names, block_size=min(max(len(body) + 1, 1 << 20), 2**31 - 1)),
        parse_options=pacsv.ParseOptions(
            delimiter=separator, quote_char=quote, double_quote=bool(quote), ignore_empty_lines=False
        ),
        convert_options=pacsv.ConvertOptions(
            column_types={name: pa.dictionary(pa.int32(), pa.string()) for name in names},
            strings_can_be_null=False,
            check_utf8=False,
        ),
    )
    return [Column.encode(column) for column in table.columns]


def _assemble(columns: list[Column], usual: int, even: NDArray[np.intp], odd: _Odd) -> Grid:
    lines = np.concatenate([even, np.array(odd.lines, np.int64)])
    lengths = np.concatenate([np.full(len(even), usual), np.array([len(row) for row in odd.rows], np.int64)]).astype(np.int64)
    if not odd.rows:
        return Grid(tuple(columns), lengths, lines + 1, odd.remarks)
    order = np.argsort(lines, kind="stable")
    others = [list(texts) for texts in zip_longest(*odd.rows, fillvalue="")]
    others += [[""] * len(odd.rows) for _ in range(len(others), usual)]
    made = []
    for place, texts in enumerate(others):
        had = columns[place] if place < usual else Column.constant("", len(even))
        more = pa.array(texts, pa.string()).dictionary_encode()
        first = pa.DictionaryArray.from_arrays(pa.array(had.codes), had.values)
        both = Column.encode(pa.chunked_array([first, more]).unify_dictionaries())
        made.append(Column(both.values, both.codes[order]))
    return Grid(tuple(made), lengths[order], lines[order] + 1, odd.remarks)
