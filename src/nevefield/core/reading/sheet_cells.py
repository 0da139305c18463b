"""Find and write the cells of a part of a sheet, many at once: places, types, values."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Protocol

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow

if TYPE_CHECKING:
    from collections.abc import Collection

    from numpy.typing import NDArray

__all__ = [
    "ENDS_NAME",
    "LAST_ROW",
    "LESS",
    "MORE",
    "MOST_COLUMNS",
    "PART",
    "SLASH",
    "Found",
    "Numbers",
    "Odd",
    "find_attribute",
    "find_begins",
    "find_optional",
    "find_places",
    "find_types",
    "read_strings",
    "skip_metadata",
    "write_cells",
]


LESS, MORE, SLASH, SPACE, QUOTE = b"</"[0], b">"[0], b"/"[0], b" "[0], b'"'[0]
NUMBER, SHARED, TEXT, BOOLEAN, ERROR, INLINE = range(6)
MOST_COLUMNS = 2_000
PART = 4_000_000  # bytes that are looked at together
LAST_ROW = 1_048_576
WINDOW = 8  # bytes that are compared at one go
ENDS_NAME = np.isin(np.arange(256), [SPACE, MORE, SLASH])
_TYPES = {
    b"s": SHARED,
    b"str": TEXT,
    b"b": BOOLEAN,
    b"e": ERROR,
    b"n": NUMBER,
    b"inlineStr": INLINE,
}
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
class Found:
    """What was read of a sheet so far; each list has one entry for every part."""

    rows: list[NDArray[np.int64]] = field(default_factory=list)  # of each cell
    columns: list[NDArray[np.int64]] = field(default_factory=list)
    # of each cell, into the shared strings and what follows them
    codes: list[NDArray[np.int64]] = field(default_factory=list)
    # Arrow strings: the shared ones, and those of each part
    tables: list[Arrow] = field(default_factory=list)
    size: int = 0  # texts of all tables
    hidden: list[int] = field(default_factory=list)
    merged: list[str] = field(default_factory=list)
    formulas: int = 0
    cells: int = 0


class Odd(Exception):
    """The sheet is written in a way that is not read here."""


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


def _digits(
    letters: NDArray[np.uint8], places: NDArray[np.int64], most: int, stop: int = QUOTE
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read whole numbers of up to seven digits that begin at places and end with a letter; and
    the place behind that.
    """
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
    if (
        not ((window & np.uint64(255)) == stop).all()
        or not size.all()
        or int(size.max(initial=0)) > most
    ):
        raise Odd
    return number, places + size + 1


def find_attribute(
    letters: NDArray[np.uint8], at: NDArray[np.int64], name: bytes, digits: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read an attribute that has to come next, a whole number; and the place behind it."""
    if not _is(_window(letters, at), b" " + name + b'="').all():
        raise Odd
    return _digits(letters, at + len(name) + 3, digits)


def find_optional(
    letters: NDArray[np.uint8], at: NDArray[np.int64], name: bytes, digits: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read an attribute that may come next, a whole number or 0."""
    there = np.flatnonzero(_is(_window(letters, at), b" " + name + b'="'))
    number, after = np.zeros(len(at), np.int64), at.copy()
    if len(there):
        number[there], after[there] = find_attribute(letters, at[there], name, digits)
    return number, after


def find_places(
    letters: NDArray[np.uint8],
    cells: NDArray[np.int64],
    rows: NDArray[np.int64],
    ends_of_rows: NDArray[np.int64],
    of_each: NDArray[np.int64],
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Read the column of each cell from its place, which has to be in its row; and the place
    behind the attribute.
    """
    at = cells + 2
    window = _window(letters, at)
    if not _is(window, b' r="').all():
        raise Odd
    column = np.zeros(len(cells), np.int64)
    size = np.zeros(len(cells), np.int64)
    window = window >> np.uint64(32)
    going = np.ones(len(cells), bool)
    for _ in range(3):
        letter = (window & np.uint64(255)).astype(np.int64)
        going &= (letter >= ord("A")) & (letter <= ord("Z"))
        if not going.any():
            break
        column = np.where(going, column * 26 + (letter - ord("A") + 1), column)
        size += going
        window = window >> np.uint64(8)
    # Behind the letters stands the row's number as the row has it, and the quotation mark: up to
    # eight bytes that are the same.
    begin = rows + len('<row r="')
    width = ends_of_rows - begin
    masks = (np.uint64(1) << (8 * np.minimum(width, WINDOW - 1)).astype(np.uint64)) - np.uint64(1)
    masks[width >= WINDOW] = np.uint64(2**64 - 1)
    wanted = _window(letters, begin) & masks
    behind = at + 4 + size
    if (
        (width > WINDOW).any()
        or not size.all()
        or not (
            (_window(letters, behind) & np.repeat(masks, of_each)) == np.repeat(wanted, of_each)
        ).all()
    ):
        raise Odd
    return column - 1, behind + np.repeat(width, of_each)


def find_types(
    letters: NDArray[np.uint8], at: NDArray[np.int64]
) -> tuple[NDArray[np.int8], NDArray[np.int64]]:
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
        raise Odd
    return kind, after


def skip_metadata(letters: NDArray[np.uint8], at: NDArray[np.int64]) -> NDArray[np.int64]:
    """Pass over attributes that say nothing of the value."""
    ends = letters[at]
    more = np.flatnonzero((ends != MORE) & (ends != SLASH))
    if len(more):
        at = at.copy()
        for name in (b"cm", b"vm", b"ph"):
            _, at[more] = find_optional(letters, at[more], name, digits=6)
    return at


def find_begins(
    letters: NDArray[np.uint8],
    cells: NDArray[np.int64],
    values: NDArray[np.int64],
    kind: NDArray[np.int8],
    is_closed: NDArray[np.bool_],
    opens: NDArray[np.int64],
) -> NDArray[np.int64]:
    """Find where the text of each cell's value begins; -1 for a cell without one."""
    begin = np.full(len(cells), -1, np.int64)
    if len(values):
        is_plain = letters[values + 2] == MORE
        if not is_plain.all():
            spaced = (letters[values + 2] == SPACE) & (letters[values + 3] == SLASH)
            empty = (letters[values + 2] == SLASH) | spaced  # <v/>, <v />
            if not (is_plain | empty).all():
                raise Odd
            values = values[is_plain]
        whose = np.searchsorted(cells, values, "right") - 1
        if (whose < 0).any() or (np.diff(whose) == 0).any() or is_closed[whose].any():
            raise Odd
        begin[whose] = values + 3
    inline = np.flatnonzero(kind == INLINE)
    if len(inline):
        begin[inline] = _inline(letters, cells, inline, opens)
    return begin


def _inline(
    letters: NDArray[np.uint8],
    cells: NDArray[np.int64],
    inline: NDArray[np.intp],
    opens: NDArray[np.int64],
) -> NDArray[np.int64]:
    """Find where the texts of cells begin that hold theirs themselves; those in several runs are
    not read here.
    """
    marks = opens[
        (letters[opens + 1] == ord("t"))
        & ((letters[opens + 2] == MORE) | (letters[opens + 2] == SPACE))
    ]
    whose = np.searchsorted(cells, marks, "right") - 1
    counts = np.bincount(whose[whose >= 0], minlength=len(cells))
    if (counts[inline] > 1).any():
        raise Odd
    first = np.full(len(cells), -1, np.int64)
    first[whose[whose >= 0]] = marks[whose >= 0]
    begin = first[inline]
    ends = np.flatnonzero(letters == MORE)
    end = ends[np.minimum(np.searchsorted(ends, np.maximum(begin, 0)), len(ends) - 1)]
    found_is_empty = letters[end - 1] == SLASH
    return np.where((begin < 0) | found_is_empty, -1, end + 1)


def _slices(
    letters: NDArray[np.uint8], starts: NDArray[np.int64], ends: NDArray[np.int64]
) -> Arrow:
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
    return pa.StringArray.from_buffers(
        len(starts), pa.py_buffer(offsets.astype(np.int32)), pa.py_buffer(body)
    )


def write_cells(
    letters: NDArray[np.uint8],
    opens: NDArray[np.int64],
    begin: NDArray[np.int64],
    kind: NDArray[np.int8],
    style: NDArray[np.int64],
    found: Found,
    numbers: Numbers,
) -> NDArray[np.int64]:
    """Say which text each value is: shared strings by their numbers, the others put behind them
    in a table of the part.
    """
    codes = np.empty(len(begin), np.int64)
    shared = kind == SHARED
    own = begin[shared]
    codes[shared], _ = _digits(letters, own, 7, LESS) if len(own) else (own, own)
    if len(own) and int(codes[shared].max()) >= len(found.tables[0]):
        raise Odd
    for number in (NUMBER, BOOLEAN, TEXT, ERROR, INLINE):
        rows = np.flatnonzero(kind == number)
        if not len(rows):
            continue
        starts = begin[rows]
        raw = _slices(
            letters, starts, opens[np.minimum(np.searchsorted(opens, starts), len(opens) - 1)]
        ).dictionary_encode()
        places = raw.indices.to_numpy().astype(np.int64)
        if number == NUMBER:
            places, table = _numbers(places, raw.dictionary, style[rows], numbers)
        elif number == BOOLEAN:
            table = pc.if_else(pc.equal(raw.dictionary, "1"), "true", "false")
        else:
            table = _plain(raw.dictionary)
        codes[rows] = found.size + places
        found.tables.append(table)
        found.size += len(table)
    return codes


def _numbers(
    places: NDArray[np.int64], texts: Arrow, style: NDArray[np.int64], numbers: Numbers
) -> tuple[NDArray[np.int64], Arrow]:
    """Write numbers: whole ones are as they stand, all others are written once for each that
    differs.
    """
    is_whole = np.asarray(
        pc.match_substring_regex(texts, "^(0|-?[1-9][0-9]{0,14})$").to_numpy(zero_copy_only=False),
        bool,
    )
    others = np.flatnonzero(
        np.isin(style, np.array(sorted(numbers.days), np.int64)) | ~is_whole[places]
    )
    if not len(others):
        return places, texts
    distinct = texts.to_pylist()
    width = int(style.max()) + 1
    used, back = np.unique(places[others] * width + style[others], return_inverse=True)
    written = pa.array(
        [numbers.write(distinct[pair // width], pair % width) for pair in used.tolist()],
        pa.string(),
    )
    places = places.copy()
    places[others] = len(texts) + back.reshape(-1)
    return places, pa.concat_arrays([texts, written])


def _plain(texts: Arrow) -> Arrow:
    """Resolve the entities of XML; a carriage return that is written as one ends a line."""
    if not pc.any(pc.or_(pc.match_substring(texts, "&"), pc.match_substring(texts, "\r"))).as_py():
        return texts
    return pa.array([_resolve(text) for text in texts.to_pylist()], pa.string())


def _resolve(text: str) -> str:
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    return _ENTITY.sub(_letter, text) if "&" in text else text


def _letter(matched: re.Match[str]) -> str:
    if matched[3]:
        return _NAMED[matched[3]]
    number = int(matched[1]) if matched[1] else int(matched[2], 16)
    return chr(number) if number < 0x110000 and not 0xD800 <= number < 0xE000 else "\ufffd"


def read_strings(data: bytes) -> Arrow | None:
    """Read a workbook's shared strings; None where they are written in a way that is not read here.

    Returns:
        An Arrow string array. Of a text in several runs the runs are put together; phonetic hints
        are left out.
    """
    if (
        b"<!--" in data
        or b"<![CDATA[" in data
        or b"<!ENTITY" in data[:2_000]
        or b"<x:" in data[:2_000]
    ):
        return None
    letters = np.frombuffer(data + b"\0" * 32, np.uint8)
    opens = np.flatnonzero(letters == LESS)
    first, second, third = letters[opens + 1], letters[opens + 2], letters[opens + 3]
    items = opens[
        (first == ord("s"))
        & (second == ord("i"))
        & ((third == MORE) | (third == SLASH) | (third == SPACE))
    ]
    marks = opens[(first == ord("t")) & ((second == MORE) | (second == SPACE) | (second == SLASH))]
    if not len(items):
        return pa.array([], pa.string())
    whose = np.searchsorted(items, marks, "right") - 1
    counts = np.bincount(whose, minlength=len(items))
    ends = np.flatnonzero(letters == MORE)
    begin = ends[np.minimum(np.searchsorted(ends, marks), len(ends) - 1)] + 1
    is_empty = letters[begin - 2] == SLASH
    stop = np.where(
        is_empty, begin, opens[np.minimum(np.searchsorted(opens, begin), len(opens) - 1)]
    )
    # how an underline is kept from escaping
    texts = pc.replace_substring(_plain(_slices(letters, begin, stop)), "x005F_", "")
    if (counts == 1).all():
        return texts
    plain = np.flatnonzero(counts[whose] == 1)
    made: list[str] = [""] * len(items)
    for at, text in zip(
        whose[plain].tolist(), texts.take(pa.array(plain)).to_pylist(), strict=True
    ):
        made[at] = text
    bounds = np.append(items, len(data))
    for item in np.flatnonzero(counts > 1).tolist():
        part = data[int(bounds[item]) : int(bounds[item + 1])]
        part = re.sub(rb"<rPh\b.*?</rPh>", b"", part, flags=re.DOTALL)
        runs = re.findall(rb"<t(?: [^>]{0,100})?>([^<]*)</t>", part)
        made[item] = _resolve(b"".join(runs).decode()).replace("x005F_", "")
    return pa.array(made, pa.string())
