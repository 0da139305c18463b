"""A file's cells as columns, before rows are parted from what is none; text with separators is cut
into them by array operations.

Lines whose quotes stand where quotes stand and that have as many cells as most go into Arrow
together; the few others are read one by one. A property test holds this to the slow reader
(`delimited.read_rows`).
"""

from __future__ import annotations

import codecs
import csv
from dataclasses import dataclass, field
from functools import partial
from itertools import zip_longest
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.csv as pacsv

from nevefield.core.beside import at_once
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import LONGEST_CELL, Rows
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from numpy.typing import NDArray

__all__ = ["Grid", "cut_text"]

MOST_COLUMNS = 20_000  # of any line; of a table far fewer are read
MOST_CELLS = 120_000_000
PART = 1 << 24  # bytes that are looked at together
# of one cell; a quote that is open for longer is taken for one that is never closed
MOST_LINES = 10_000
MOST_OPEN = 50  # quotes that are never closed, before no more are looked for
QUOTE = ord('"')


@dataclass(frozen=True)
class Grid:
    """Cells by column, with the line where each row begins."""

    # of as many rows as there are lines; "" where a row has no such cell
    columns: tuple[Column, ...]
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
        return [
            list(row)[:length]
            for row, length in zip(texts, self.lengths[places].tolist(), strict=True)
        ]


def cut_text(data: bytes, separator: str) -> Grid:
    """Cut text into cells.

    Args:
        data: In UTF-8, without a byte order mark.
        separator: One ASCII character.

    Returns:
        Every row as it stands, blank lines as rows without cells; LF, CRLF and CR end a line.

    Raises:
        UnreadableFile: It is wider or larger than any table, or a cell is longer than any cell.
    """
    letters = np.frombuffer(data, np.uint8)
    starts, ends, stops = _find_lines(letters)
    counts, hard = _count_cells(letters, ord(separator), starts, ends)
    counts[starts == ends] = 0
    _refuse_size(counts, hard, ends - starts)
    usual = (
        int(np.bincount(counts[~hard], minlength=1)[1:].argmax()) + 1
        if (counts[~hard] > 0).any()
        else 1
    )
    odd = hard | (counts != usual) | _marked(letters, starts)
    found = _read_odd(data, separator, starts, ends, stops, np.flatnonzero(odd), hard)
    even = np.flatnonzero(~(odd | found.swallowed))
    columns = _parse_even(data, separator, usual, even, starts, stops)
    return _assemble(columns, usual, even, found)


def _refuse_size(
    counts: NDArray[np.int64], hard: NDArray[np.bool_], letters: NDArray[np.int64]
) -> None:
    """Refuse what no table is, before it takes the memory of one: rows too wide, too many cells,
    lines that are one long cell.
    """
    sure = np.where(hard, 1, counts)
    widest = int(sure.max(initial=0))
    if widest > MOST_COLUMNS:
        line = int(sure.argmax()) + 1
        raise UnreadableFile(
            f"Line {line:,} has {widest:,} cells; at most {MOST_COLUMNS:,} columns are read.",
            "Is it a table?",
        )
    if int(sure.sum()) > MOST_CELLS:
        raise UnreadableFile(f"The file has over {MOST_CELLS:,} cells.", "Send it in parts.")
    long = np.flatnonzero(letters > LONGEST_CELL * np.maximum(sure, 1))
    if len(long):
        raise UnreadableFile(
            f"A cell on line {int(long[0]) + 1:,} has over {LONGEST_CELL:,} characters.",
            "Ask for the file without it.",
        )


def _find_lines(
    letters: NDArray[np.uint8],
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
    """List of each line where it begins, where it ends without what ends it, and where the next
    one begins.
    """
    last = _places(letters, ord("\n"))
    returns = _places(letters, ord("\r"))
    if len(returns):
        following = (
            np.append(letters[1:], np.uint8(0))[returns]
            if returns[-1] == len(letters) - 1
            else letters[returns + 1]
        )
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
        before = before[
            (letters[ends[before]] == ord("\n")) & (letters[ends[before] - 1] == ord("\r"))
        ]
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
            letters[begin : int(ends[last - 1])],
            separator,
            starts[first:last] - begin,
            ends[first:last] - begin,
        )
        first = last
    return counts, hard


def _count_part(
    letters: NDArray[np.uint8], separator: int, starts: NDArray[np.int64], ends: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    """Count cells and judge quotes by a bit for each letter; a quote is open where an odd number
    of its line's stands before.
    """
    parted = _bits(letters == separator)
    quotes = _bits(letters == QUOTE)
    if not quotes.any():
        return _count(parted, starts, ends) + 1, np.zeros(len(starts), bool)
    opened = _parity(quotes)
    opening, closing = quotes & opened, quotes & ~opened
    # What may stand beside a quote: a separator, another quote, the end of a line or of the part.
    near = quotes | parted | _bits((letters == ord("\n")) | (letters == ord("\r")))
    near[len(letters) >> 6] |= np.uint64(1) << np.uint64(len(letters) & 63)
    carried = np.concatenate([np.ones(1, np.uint64), near[:-1] >> np.uint64(63)])
    lent = np.append(near[1:] << np.uint64(63), np.uint64(0))
    after_none, before_none = ~((near << np.uint64(1)) | carried), ~((near >> np.uint64(1)) | lent)
    wrong = (
        (opening & after_none) | (closing & before_none),
        (closing & after_none) | (opening & before_none),
    )
    outside = (parted & ~opened, parted & opened)
    of_each = _count(quotes, starts, ends)
    # An odd number of quotes above turns round what opens and what closes.
    is_turned = (np.cumsum(of_each) - of_each) % 2 == 1
    hard = np.where(is_turned, *(_count(marks, starts, ends) for marks in reversed(wrong))) > 0
    counts = np.where(is_turned, *(_count(marks, starts, ends) for marks in reversed(outside)))
    return counts + 1, hard | (of_each % 2 == 1)


def _bits(marks: NDArray[np.bool_]) -> NDArray[np.uint64]:
    """Pack marks into words of 64 bits, the first the lowest; one bit at least lies beyond the
    marks.
    """
    packed = np.packbits(marks, bitorder="little")
    return np.concatenate([packed, np.zeros(16 - len(packed) % 8, np.uint8)]).view("<u8")


def _parity(bits: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """Set each bit by whether an odd number of bits is set up to and with it."""
    found = bits.copy()
    for width in (1, 2, 4, 8, 16, 32):
        found ^= found << np.uint64(width)
    of_each = np.bitwise_count(bits)
    above = (np.cumsum(of_each, dtype=np.int64) - of_each) & 1
    return found ^ (np.uint64(0) - above.astype(np.uint64))


def _count(
    bits: NDArray[np.uint64], starts: NDArray[np.int64], ends: NDArray[np.int64]
) -> NDArray[np.int64]:
    """Count the bits that are set from each start up to its end."""
    sums = np.concatenate(
        [np.zeros(1, np.int64), np.cumsum(np.bitwise_count(bits), dtype=np.int64)]
    )

    def before(places: NDArray[np.int64]) -> NDArray[np.int64]:
        word = places >> 6
        below = bits[word] & ((np.uint64(1) << (places & 63).astype(np.uint64)) - np.uint64(1))
        return np.asarray(sums[word] + np.bitwise_count(below))

    return before(ends) - before(starts)


def _marked(letters: NDArray[np.uint8], starts: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Tell the lines that begin with a byte order mark, of files put behind each other: Arrow
    would drop it.
    """
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
    for line, begin, end, is_hard in zip(
        odd.tolist(), starts[odd].tolist(), ends[odd].tolist(), hard[odd].tolist(), strict=True
    ):
        if line < upto:
            continue
        body = data[begin:end]
        row: list[str] | None
        if not body:
            row = []
        elif quote not in body:
            row = body.decode().split(separator)
        elif not is_hard or unclosed >= MOST_OPEN:
            row = (
                next(csv.reader([body.decode()], delimiter=separator))
                if not is_hard
                else body.decode().split(separator)
            )
        else:
            row, upto = _read_hard(data, separator, line, starts, stops)
            if row is None:
                unclosed += 1
                row = body.decode().split(separator)
                found.remarks.append(
                    f"Line {line + 1} opens a quote that is never closed; the line is read as it"
                    " stands."
                )
            found.swallowed[line + 1 : upto] = True
        found.rows.append(row)
        found.lines.append(line)
    return found


def _read_hard(
    data: bytes, separator: str, line: int, starts: NDArray[np.int64], stops: NDArray[np.int64]
) -> tuple[list[str] | None, int]:
    """Read the row that begins at a line; None where a quote in it is never closed. And the line
    where the next one begins.
    """
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
            f"A cell that begins on line {line + 1} has over {LONGEST_CELL:,} characters.",
            "Ask for the file without it.",
        ) from error
    return (None, line + 1) if is_over else (row, line + reader.line_num)


def _parse_even(
    data: bytes,
    separator: str,
    width: int,
    even: NDArray[np.intp],
    starts: NDArray[np.int64],
    stops: NDArray[np.int64],
) -> list[Column]:
    """Let Arrow parse lines that have as many cells as `width`."""
    if not len(even):
        return [Column.constant("", 0) for _ in range(width)]
    breaks = np.flatnonzero(np.diff(even) != 1)
    firsts, lasts = even[np.append(0, breaks + 1)], even[np.append(breaks, len(even) - 1)]
    whole = memoryview(data)
    runs = [
        whole[begin:end]
        for begin, end in zip(starts[firsts].tolist(), stops[lasts].tolist(), strict=True)
    ]
    body = runs[0] if len(runs) == 1 else b"".join(runs)
    names = [str(number) for number in range(width)]
    quote: str | bool = '"' if b'"' in data else False
    table = pacsv.read_csv(
        pa.BufferReader(pa.py_buffer(body)),
        read_options=pacsv.ReadOptions(
            column_names=names, block_size=min(max(len(body) + 1, 1 << 20), 2**31 - 1)
        ),
        parse_options=pacsv.ParseOptions(
            delimiter=separator,
            quote_char=quote,
            double_quote=bool(quote),
            ignore_empty_lines=False,
        ),
        convert_options=pacsv.ConvertOptions(
            column_types=dict.fromkeys(names, pa.string()),
            strings_can_be_null=False,
            check_utf8=False,
        ),
    )
    return at_once([partial(Column.encode, column) for column in table.columns])


def _assemble(columns: list[Column], usual: int, even: NDArray[np.intp], odd: _Odd) -> Grid:
    lines = np.concatenate([even, np.array(odd.lines, np.int64)])
    lengths = np.concatenate(
        [np.full(len(even), usual), np.array([len(row) for row in odd.rows], np.int64)]
    ).astype(np.int64)
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
