"""One sheet of a workbook (.xlsx) into columns, by array operations over its XML, a part of some megabytes at a time.

Source: ECMA-376, part 1, 18.3 (worksheets) and 18.4 (shared strings). Read so is what programs write as good as always: cells
with their place first, then style and type, then one value. Anything else is told (None), and the workbook's library reads the
sheet.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import IO, TYPE_CHECKING, Any, Protocol

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.grid import Grid
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Collection

    from numpy.typing import NDArray

__all__ = ["MOST_CELLS", "MOST_COLUMNS", "Numbers", "read_sheet", "read_strings"]

MOST_COLUMNS = 2_000
MOST_CELLS = 60_000_000
LAST_ROW = 1_048_576
PART = 4_000_000  # bytes that are looked at together
WINDOW = 8  # bytes that are compared at one go
LESS, MORE, SLASH, SPACE, QUOTE = b"</"[0], b">"[0], b"/"[0], b" "[0], b'"'[0]
NUMBER, SHARED, TEXT, BOOLEAN, ERROR, INLINE = range(6)
_TYPES = {b"s": SHARED, b"str": TEXT, b"b": BOOLEAN, b"e": ERROR, b"n": NUMBER, b"inlineStr": INLINE}
_ENTITY = re.compile(r"&(?:#(\d{1,7})|#x([0-9a-fA-F]{1,6})|(amp|lt|gt|quot|apos));")
_NAMED = {"amp": "&", "lt": "<", "gt": ">", "quot": '"', "apos": "'"}


class Numbers(Protocol):
    """What writes numbers and days."""

    @property
    def days(self) -> Collection[int]:
        """The styles of days and times."""

    def write(self, raw: str, style: int) -> str:
        """Write a number as the XML has it, by the number of its style."""


@dataclass
class _Found:
    """What was read of a sheet so far; each list has one entry for every part."""

    rows: list[NDArray[np.int64]] = field(default_factory=list)  # of each cell
    columns: list[NDArray[np.int64]] = field(default_factory=list)
    texts: list[Any] = field(default_factory=list)  # Arrow strings
    hidden: list[int] = field(default_factory=list)
    merged: list[str] = field(default_factory=list)
    formulas: int = 0
    cells: int = 0


class _Odd(Exception):
    """The sheet is written in a way that is not read here."""


def read_sheet(stream: IO[bytes], strings: Any, numbers: Numbers, most: int | None = None) -> tuple[Grid, list[str]] | None:
    """Read a sheet.

    Args:
        stream: Its XML.
        strings: The workbook's shared strings, an Arrow array.
        numbers: What writes numbers and days.
        most: Rows to read; None for all.

    Returns:
        The cells, and what the values do not show (hidden rows, merged cells, formulas); None where it is written otherwise.

    Raises:
        UnreadableFile: It is too wide or too large.
    """
    found = _Found()
    try:
        for part in _parts(stream):
            _read_part(part, found, strings, numbers)
            if most is not None and found.rows and len(found.rows[-1]) and int(found.rows[-1][-1]) > most:
                break
    except _Odd:
        return None
    return _grid(found, most), _oddities(found)


def _parts(stream: IO[bytes]) -> Any:
    """Cut the XML behind rows; the first part begins at the first row, the last ends with the document."""
    kept = b""
    is_within = False
    while part := stream.read(PART):
        kept += part
        if not is_within:
            begin = kept.find(b"<sheetData")
            if begin < 0:
                if len(kept) > 4 * PART:
                    raise _Odd
                continue
            if b":sheetData" in kept[:begin] or b"<!DOCTYPE" in kept[:begin] or b"<!ENTITY" in kept[:begin]:
                raise _Odd
            kept, is_within = kept[begin:], True
        end = kept.rfind(b"</row>")
        if end >= 0:
            yield kept[: end + 6]
            kept = kept[end + 6 :]
        elif len(kept) > 16 * PART:
            raise UnreadableFile("A row of the sheet is larger than any row.", "Ask for the sheet as CSV.")
    if not is_within:
        raise _Odd
    yield kept


def _read_part(data: bytes, found: _Found, strings: Any, numbers: Numbers) -> None:
    if b"<!--" in data or b"<![CDATA[" in data or b"<x:" in data[:2_000]:
        raise _Odd
    letters = np.frombuffer(data + b"\0" * 32, np.uint8)
    opens = np.flatnonzero(letters == LESS)
    first, second = letters[opens + 1], letters[opens + 2]
    end_of_name = (second == SPACE) | (second == MORE) | (second == SLASH)
    cells = opens[(first == ord("c")) & end_of_name]
    values = opens[(first == ord("v")) & end_of_name]
    rows = opens[(first == ord("r")) & (second == ord("o")) & (letters[opens + 3] == ord("w"))]
    found.formulas += int(((first == ord("f")) & end_of_name).sum())
    _tail(data, found)
    if not len(rows):
        if len(cells):
            raise _Odd
        return
    numbers_of_rows, _ = _attribute(letters, rows + 4, b"r", digits=7)
    _hidden(data, rows, numbers_of_rows, found)
    found.cells += len(cells)
    if found.cells > MOST_CELLS:
        raise UnreadableFile(f"The sheet has over {MOST_CELLS:,} cells.", "Send it as CSV, or in parts.")
    if not len(cells):
        return
    whose = np.searchsorted(rows, cells, "right") - 1
    if (whose < 0).any():
        raise _Odd
    line = numbers_of_rows[whose]
    column, at = _places(letters, cells, line)
    style, at = _optional(letters, at, b"s", digits=6)
    kind, at = _types(letters, at)
    at = _skip_metadata(letters, at)
    ends = letters[at]
    is_closed = ends == SLASH
    if not ((ends == MORE) | is_closed).all() or int(column.max()) >= 16_384 or int(line.max()) > LAST_ROW:
        raise _Odd
    text = _value_texts(letters, cells, values, kind, is_closed, opens)
    some = np.flatnonzero(text.is_there)
    made = _write(text.texts, kind[some], style[some], strings, numbers)
    if len(some) and int(column[some].max()) >= MOST_COLUMNS:
        width = int(column[some].max()) + 1
        raise UnreadableFile(f"The sheet is {width:,} columns wide; at most {MOST_COLUMNS:,} are read.")
    found.rows.append(line[some])
    found.columns.append(column[some])
    found.texts.append(made)


def _window(letters: NDArray[np.uint8], places: NDArray[np.int64]) -> NDArray[np.uint64]:
    """Take the eight bytes that begin at each place as one number, the first byte the lowest."""
    view: NDArray[np.uint64] = np.ndarray((len(letters) - 7,), "<u8", letters.data, 0, (1,))
    return view[places]


def _is(window: NDArray[np.uint64], text: bytes) -> NDArray[np.bool_]:
    """Tell which windows begin with a text of up to eight bytes."""
    wanted = np.uint64(int.from_bytes(text, "little"))
    if len(text) == WINDOW:
        return np.asarray(window == wanted)
    return np.asarray((window & np.uint64((1 << 8 * len(text)) - 1)) == wanted)


def _digits(letters: NDArray[np.uint8], places: NDArray[np.int64], most: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read whole numbers of up to seven digits that begin at places and end with a quotation mark; and the place behind that."""
    window = _window(letters, places)
    number = np.zeros(len(places), np.int64)
    size = np.zeros(len(places), np.int64)
    going = np.ones(len(places), bool)
    for _ in range(most + 1):
        letter = (window & np.uint64(255)).astype(np.int64)
        going &= (letter >= ord("0")) & (letter <= ord("9"))
        if not going.any():
            break
        number = np.where(going, number * 10 + (letter - ord("0")), number)
        size += going
        window = np.where(going, window >> np.uint64(8), window)
    if not ((window & np.uint64(255)) == QUOTE).all() or not size.all() or int(size.max(initial=0)) > most:
        raise _Odd
    return number, places + size + 1


def _attribute(
    letters: NDArray[np.uint8], at: NDArray[np.int64], name: bytes, digits: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read an attribute that has to come next, a whole number; and the place behind it."""
    if not _is(_window(letters, at), b" " + name + b'="').all():
        raise _Odd
    return _digits(letters, at + len(name) + 3, digits)


def _optional(
    letters: NDArray[np.uint8], at: NDArray[np.int64], name: bytes, digits: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read an attribute that may come next, a whole number or 0."""
    there = np.flatnonzero(_is(_window(letters, at), b" " + name + b'="'))
    number, after = np.zeros(len(at), np.int64), at.copy()
    if len(there):
        number[there], after[there] = _attribute(letters, at[there], name, digits)
    return number, after


def _places(
    letters: NDArray[np.uint8], cells: NDArray[np.int64], line: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read the column of each cell from its place, which has to be in its row; and the place behind the attribute."""
    at = cells + 2
    window = _window(letters, at)
    if not _is(window, b' r="').all():
        raise _Odd
    column = np.zeros(len(cells), np.int64)
    size = np.zeros(len(cells), np.int64)
    window = window >> np.uint64(32)
    for _ in range(3):
        letter = (window & np.uint64(255)).astype(np.int64)
        is_letter = (letter >= ord("A")) & (letter <= ord("Z"))
        column = np.where(is_letter, column * 26 + (letter - ord("A") + 1), column)
        size += is_letter
        window = window >> np.uint64(8)
    number, end = _digits(letters, at + 4 + size, 7)
    if not ((column > 0) & (number == line)).all():
        raise _Odd
    return column - 1, end


def _types(letters: NDArray[np.uint8], at: NDArray[np.int64]) -> tuple[NDArray[np.int8], NDArray[np.int64]]:
    kind = np.zeros(len(at), np.int8)
    after = at.copy()
    there = np.flatnonzero(_is(_window(letters, at), b' t="'))
    window = _window(letters, at[there] + 4)
    for name, number in _TYPES.items():
        same = _is(window, (name + b'"')[:WINDOW])
        hits = there[same]
        kind[hits] = number
        after[hits] = at[hits] + 5 + len(name)
    if not (after[there] > at[there]).all():
        raise _Odd
    return kind, after


def _skip_metadata(letters: NDArray[np.uint8], at: NDArray[np.int64]) -> NDArray[np.int64]:
    for name in (b"cm", b"vm", b"ph"):
        _, at = _optional(letters, at, name, digits=6)
    return at


@dataclass(frozen=True)
class _Texts:
    is_there: NDArray[np.bool_]  # of each cell
    texts: Any  # Arrow strings, of the cells that are


def _value_texts(
    letters: NDArray[np.uint8],
    cells: NDArray[np.int64],
    values: NDArray[np.int64],
    kind: NDArray[np.int8],
    is_closed: NDArray[np.bool_],
    opens: NDArray[np.int64],
) -> _Texts:
    """Take the text of each cell's value, as the XML has it."""
    begin = np.full(len(cells), -1, np.int64)
    if len(values):
        if not (letters[values + 2] == MORE).all():
            spaced = (letters[values + 2] == SPACE) & (letters[values + 3] == SLASH)
            empty = (letters[values + 2] == SLASH) | spaced  # <v/>, <v />
            if not ((letters[values + 2] == MORE) | empty).all():
                raise _Odd
            values = values[~empty]
        whose = np.searchsorted(cells, values, "right") - 1
        if (whose < 0).any() or (np.diff(whose) == 0).any() or is_closed[whose].any():
            raise _Odd
        begin[whose] = values + 3
    inline = np.flatnonzero(kind == INLINE)
    if len(inline):
        begin[inline] = _inline(letters, cells, inline, opens)
    there = begin >= 0
    starts = begin[there]
    ends = opens[np.minimum(np.searchsorted(opens, starts), len(opens) - 1)]
    return _Texts(there, _slices(letters, starts, ends))


def _inline(
    letters: NDArray[np.uint8], cells: NDArray[np.int64], inline: NDArray[np.intp], opens: NDArray[np.int64]
) -> NDArray[np.int64]:
    """Find where the texts of cells begin that hold theirs themselves; those in several runs are not read here."""
    marks = opens[(letters[opens + 1] == ord("t")) & ((letters[opens + 2] == MORE) | (letters[opens + 2] == SPACE))]
    whose = np.searchsorted(cells, marks, "right") - 1
    counts = np.bincount(whose[whose >= 0], minlength=len(cells))
    if (counts[inline] > 1).any():
        raise _Odd
    first = np.full(len(cells), -1, np.int64)
    first[whose[whose >= 0]] = marks[whose >= 0]
    begin = first[inline]
    ends = np.flatnonzero(letters == MORE)
    found = ends[np.minimum(np.searchsorted(ends, np.maximum(begin, 0)), len(ends) - 1)]
    found_is_empty = letters[found - 1] == SLASH
    return np.where((begin < 0) | found_is_empty, -1, found + 1)


def _slices(letters: NDArray[np.uint8], starts: NDArray[np.int64], ends: NDArray[np.int64]) -> Any:
    """Gather byte ranges into an Arrow string array."""
    sizes = ends - starts
    offsets = np.concatenate([np.zeros(1, np.int64), np.cumsum(sizes)])
    bodies: list[NDArray[np.uint8]] = [np.zeros(0, np.uint8)] if not len(starts) else []
    first = 0
    while first < len(starts):  # some megabytes at a time, to bound the memory
        last = max(int(np.searchsorted(offsets, offsets[first] + PART)), first + 1)
        last = min(last, len(starts))
        part = slice(first, last)
        places = np.repeat(starts[part] - offsets[:-1][part] + offsets[first], sizes[part])
        bodies.append(letters[places + np.arange(int(offsets[last] - offsets[first]))])
        first = last
    body = np.concatenate(bodies) if len(bodies) != 1 else bodies[0]
    return pa.StringArray.from_buffers(len(starts), pa.py_buffer(offsets.astype(np.int32)), pa.py_buffer(body))


def _write(raw: Any, kind: NDArray[np.int8], style: NDArray[np.int64], strings: Any, numbers: Numbers) -> Any:
    """Write values as texts: shared strings looked up, numbers and days as the contract has them."""
    parts = []
    order = []
    for one in range(len(_TYPES)):
        rows = np.flatnonzero(kind == one)
        if not len(rows):
            continue
        own = raw.take(pa.array(rows))
        order.append(rows)
        if one == SHARED:
            places = pc.cast(own, pa.int32())
            if pc.max(places).as_py() >= len(strings):
                raise _Odd
            parts.append(strings.take(places))
        elif one == NUMBER:
            parts.append(_numbers(own, style[rows], numbers))
        elif one == BOOLEAN:
            parts.append(pc.if_else(pc.equal(own, "1"), "true", "false"))
        else:
            parts.append(_plain(own))
    if not parts:
        return pa.array([], pa.string())
    whole = pa.concat_arrays([part.cast(pa.string()) for part in parts])
    back = np.empty(len(raw), np.int64)
    back[np.concatenate(order)] = np.arange(len(raw))
    return whole.take(pa.array(back))


def _numbers(raw: Any, style: NDArray[np.int64], numbers: Numbers) -> Any:
    """Write numbers: whole ones are as they stand, all others are written once for each that differs."""
    is_day = np.isin(style, np.array(sorted(numbers.days), np.int64))
    is_whole = np.asarray(pc.match_substring_regex(raw, "^(0|-?[1-9][0-9]{0,14})$").to_numpy(zero_copy_only=False), bool)
    others = np.flatnonzero(is_day | ~is_whole)
    if not len(others):
        return raw
    encoded = raw.take(pa.array(others)).dictionary_encode()
    distinct = encoded.dictionary.to_pylist()
    width = int(style.max()) + 1
    pairs = encoded.indices.to_numpy().astype(np.int64) * width + style[others]
    used, back = np.unique(pairs, return_inverse=True)
    texts = pa.array([numbers.write(distinct[pair // width], pair % width) for pair in used.tolist()], pa.string())
    if len(others) == len(raw):
        return texts.take(pa.array(back.reshape(-1)))
    places = np.arange(len(raw))
    places[others] = len(raw) + back.reshape(-1)
    return pa.concat_arrays([raw, texts]).take(pa.array(places))


def _plain(raw: Any) -> Any:
    """Resolve the entities of XML; a carriage return that is written as one ends a line."""
    if not pc.any(pc.or_(pc.match_substring(raw, "&"), pc.match_substring(raw, "\r"))).as_py():
        return raw
    encoded = raw.dictionary_encode()
    texts = [_resolve(text) for text in encoded.dictionary.to_pylist()]
    return pa.array(texts, pa.string()).take(encoded.indices)


def _resolve(text: str) -> str:
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    return _ENTITY.sub(_letter, text) if "&" in text else text


def _letter(found: re.Match[str]) -> str:
    if found[3]:
        return _NAMED[found[3]]
    number = int(found[1]) if found[1] else int(found[2], 16)
    return chr(number) if number < 0x110000 and not 0xD800 <= number < 0xE000 else "\ufffd"


def _tail(data: bytes, found: _Found) -> None:
    found.merged += (
        [one.decode() for one in re.findall(rb'<mergeCell ref="([A-Z]{1,3}\d{1,7}:[A-Z]{1,3}\d{1,7})"', data)]
        if b"<mergeCell " in data
        else []
    )


def _hidden(data: bytes, rows: NDArray[np.int64], numbers: NDArray[np.int64], found: _Found) -> None:
    if b"hidden=" not in data:
        return
    for place in re.finditer(rb' hidden="(?:1|true)"', data):
        at = int(np.searchsorted(rows, place.start(), "right")) - 1
        if at >= 0 and data.find(b">", int(rows[at]), place.start()) < 0:
            found.hidden.append(int(numbers[at]))


def _grid(found: _Found, most: int | None) -> Grid:
    if not found.rows or not sum(map(len, found.rows)):
        return Grid((), np.zeros(0, np.int64), np.zeros(0, np.int64))
    rows = np.concatenate(found.rows) - 1
    columns = np.concatenate(found.columns)
    texts = pa.chunked_array(found.texts).combine_chunks() if len(found.texts) > 1 else found.texts[0]
    is_said = np.asarray(pc.not_equal(texts, "").to_numpy(zero_copy_only=False), bool)
    if most is not None:
        is_said &= rows < most
    if not is_said.all():
        kept = np.flatnonzero(is_said)
        rows, columns, texts = rows[kept], columns[kept], texts.take(pa.array(kept))
    if not len(rows):
        return Grid((), np.zeros(0, np.int64), np.zeros(0, np.int64))
    height, width = int(rows.max()) + 1, int(columns.max()) + 1
    order = np.argsort(columns, kind="stable")
    bounds = np.searchsorted(columns[order], np.arange(width + 1))
    made = []
    for place in range(width):
        chosen = order[bounds[place] : bounds[place + 1]]
        column = Column.encode(texts.take(pa.array(chosen)))
        if len(chosen) == height and (np.diff(rows[chosen]) == 1).all():
            made.append(column)
            continue
        values = pa.concat_arrays([column.values, pa.array([""], pa.string())])
        codes = np.full(height, len(column.values), np.int32)
        codes[rows[chosen]] = column.codes
        made.append(Column(values, codes))
    lengths = np.zeros(height, np.int64)
    np.maximum.at(lengths, rows, columns + 1)
    return Grid(tuple(made), lengths, np.arange(1, height + 1))


def _oddities(found: _Found) -> list[str]:
    """Say what the values do not show."""
    said = []
    if found.hidden:
        shown = ", ".join(str(line) for line in found.hidden[:5]) + (" …" if len(found.hidden) > 5 else "")
        rows = "1 row of the sheet is" if len(found.hidden) == 1 else f"{len(found.hidden)} rows of the sheet are"
        said.append(f"{rows} hidden and read like the others: {shown}.")
    if found.merged:
        shown = ", ".join(found.merged[:4]) + (" …" if len(found.merged) > 4 else "")
        said.append(
            f"{len(found.merged)} merged cell{'' if len(found.merged) == 1 else 's'}, the value read at the first only: {shown}."
        )
    if found.formulas:
        said.append(f"{found.formulas} formula{'' if found.formulas == 1 else 's'}, read by the stored result.")
    return said


def read_strings(data: bytes) -> Any | None:
    """Read a workbook's shared strings; None where they are written in a way that is not read here.

    Returns:
        An Arrow string array. Of a text in several runs the runs are put together; phonetic hints are left out.
    """
    if b"<!--" in data or b"<![CDATA[" in data or b"<!ENTITY" in data[:2_000] or b"<x:" in data[:2_000]:
        return None
    letters = np.frombuffer(data + b"\0" * 32, np.uint8)
    opens = np.flatnonzero(letters == LESS)
    first, second, third = letters[opens + 1], letters[opens + 2], letters[opens + 3]
    items = opens[(first == ord("s")) & (second == ord("i")) & ((third == MORE) | (third == SLASH) | (third == SPACE))]
    marks = opens[(first == ord("t")) & ((second == MORE) | (second == SPACE) | (second == SLASH))]
    if not len(items):
        return pa.array([], pa.string())
    whose = np.searchsorted(items, marks, "right") - 1
    counts = np.bincount(whose, minlength=len(items))
    ends = np.flatnonzero(letters == MORE)
    begin = ends[np.minimum(np.searchsorted(ends, marks), len(ends) - 1)] + 1
    is_empty = letters[begin - 2] == SLASH
    stop = np.where(is_empty, begin, opens[np.minimum(np.searchsorted(opens, begin), len(opens) - 1)])
    texts = pc.replace_substring(_plain(_slices(letters, begin, stop)), "x005F_", "")  # how an underline is kept from escaping
    if (counts == 1).all():
        return texts
    plain = np.flatnonzero(counts[whose] == 1)
    made: list[str] = [""] * len(items)
    for at, text in zip(whose[plain].tolist(), texts.take(pa.array(plain)).to_pylist(), strict=True):
        made[at] = text
    bounds = np.append(items, len(data))
    for item in np.flatnonzero(counts > 1).tolist():
        part = data[int(bounds[item]) : int(bounds[item + 1])]
        part = re.sub(rb"<rPh\b.*?</rPh>", b"", part, flags=re.DOTALL)
        runs = re.findall(rb"<t(?: [^>]{0,100})?>([^<]*)</t>", part)
        made[item] = _resolve(b"".join(runs).decode()).replace("x005F_", "")
    return pa.array(made, pa.string())
