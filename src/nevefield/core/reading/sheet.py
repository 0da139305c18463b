"""One sheet of a workbook (.xlsx) into columns, by array operations over its XML, a part of some
megabytes at a time.

Source: ECMA-376, part 1, 18.3 (worksheets) and 18.4 (shared strings). Read so is what programs
write as good as always: cells with their place first, then style and type, then one value. Anything
else is told (None), and the workbook's library reads the sheet.
"""

from __future__ import annotations

import re
from typing import IO, TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.grid import Grid
from nevefield.core.reading.sheet_cells import (
    ENDS_NAME,
    LAST_ROW,
    LESS,
    MORE,
    MOST_COLUMNS,
    PART,
    SLASH,
    Found,
    Numbers,
    Odd,
    find_attribute,
    find_begins,
    find_optional,
    find_places,
    find_types,
    skip_metadata,
    write_cells,
)
from nevefield.core.table import Column

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["MOST_CELLS", "read_sheet"]


MOST_CELLS = 60_000_000


def read_sheet(
    stream: IO[bytes], strings: Arrow, numbers: Numbers, most: int | None = None
) -> tuple[Grid, list[str]] | None:
    """Read a sheet.

    Args:
        stream: Its XML.
        strings: The workbook's shared strings, an Arrow array.
        numbers: What writes numbers and days.
        most: Rows to read; None for all.

    Returns:
        The cells, and what the values do not show (hidden rows, merged cells, formulas); None where
        it is written otherwise.

    Raises:
        UnreadableFile: It is too wide or too large.
    """
    found = Found(tables=[strings], size=len(strings))
    try:
        for part in _parts(stream):
            _read_part(part, found, numbers)
            if (
                most is not None
                and found.rows
                and len(found.rows[-1])
                and int(found.rows[-1][-1]) > most
            ):
                break
    except Odd:
        return None
    return _grid(found, most), _oddities(found)


def _parts(stream: IO[bytes]) -> Arrow:
    """Cut the XML behind rows; the first part begins at the first row, the last ends with the
    document.
    """
    kept = b""
    is_within = False
    while part := stream.read(PART):
        kept += part
        if not is_within:
            begin = kept.find(b"<sheetData")
            if begin < 0:
                if len(kept) > 4 * PART:
                    raise Odd
                continue
            if (
                b":sheetData" in kept[:begin]
                or b"<!DOCTYPE" in kept[:begin]
                or b"<!ENTITY" in kept[:begin]
            ):
                raise Odd
            kept, is_within = kept[begin:], True
        end = kept.rfind(b"</row>")
        if end >= 0:
            yield kept[: end + 6]
            kept = kept[end + 6 :]
        elif len(kept) > 16 * PART:
            raise UnreadableFile(
                "A row of the sheet is larger than any row.", "Ask for the sheet as CSV."
            )
    if not is_within:
        raise Odd
    yield kept


def _read_part(data: bytes, found: Found, numbers: Numbers) -> None:
    if b"<!--" in data or b"<![CDATA[" in data or b"<x:" in data[:2_000]:
        raise Odd
    letters = np.frombuffer(data + b"\0" * 32, np.uint8)
    opens = np.flatnonzero(letters == LESS)
    first, second = letters[opens + 1], letters[opens + 2]
    end_of_name = ENDS_NAME[second]
    cells = opens[(first == ord("c")) & end_of_name]
    values = opens[(first == ord("v")) & end_of_name]
    rows = opens[(first == ord("r")) & (second == ord("o")) & (letters[opens + 3] == ord("w"))]
    found.formulas += int(((first == ord("f")) & end_of_name).sum())
    _tail(data, found)
    if not len(rows):
        if len(cells):
            raise Odd
        return
    numbers_of_rows, ends_of_rows = find_attribute(letters, rows + 4, b"r", digits=7)
    _hidden(data, rows, numbers_of_rows, found)
    found.cells += len(cells)
    if found.cells > MOST_CELLS:
        raise UnreadableFile(
            f"The sheet has over {MOST_CELLS:,} cells.", "Send it as CSV, or in parts."
        )
    if not len(cells):
        return
    if cells[0] < rows[0]:
        raise Odd
    of_each = np.diff(np.append(np.searchsorted(cells, rows), len(cells)))
    line = np.repeat(numbers_of_rows, of_each)
    column, at = find_places(letters, cells, rows, ends_of_rows, of_each)
    style, at = find_optional(letters, at, b"s", digits=6)
    kind, at = find_types(letters, at)
    at = skip_metadata(letters, at)
    ends = letters[at]
    is_closed = ends == SLASH
    if (
        not ((ends == MORE) | is_closed).all()
        or int(column.max()) >= 16_384
        or int(line.max()) > LAST_ROW
    ):
        raise Odd
    begin = find_begins(letters, cells, values, kind, is_closed, opens)
    some = np.flatnonzero(begin >= 0)
    codes = write_cells(letters, opens, begin[some], kind[some], style[some], found, numbers)
    if len(some) and int(column[some].max()) >= MOST_COLUMNS:
        width = int(column[some].max()) + 1
        raise UnreadableFile(
            f"The sheet is {width:,} columns wide; at most {MOST_COLUMNS:,} are read."
        )
    found.rows.append(line[some])
    found.columns.append(column[some].astype(np.int16))
    found.codes.append(codes)


def _tail(data: bytes, found: Found) -> None:
    found.merged += (
        [
            part.decode()
            for part in re.findall(rb'<mergeCell ref="([A-Z]{1,3}\d{1,7}:[A-Z]{1,3}\d{1,7})"', data)
        ]
        if b"<mergeCell " in data
        else []
    )


def _hidden(data: bytes, rows: NDArray[np.int64], numbers: NDArray[np.int64], found: Found) -> None:
    if b"hidden=" not in data:
        return
    for place in re.finditer(rb' hidden="(?:1|true)"', data):
        at = int(np.searchsorted(rows, place.start(), "right")) - 1
        if at >= 0 and data.find(b">", int(rows[at]), place.start()) < 0:
            found.hidden.append(int(numbers[at]))


def _grid(found: Found, most: int | None) -> Grid:
    nothing = Grid((), np.zeros(0, np.int64), np.zeros(0, np.int64))
    if not sum(map(len, found.rows)):
        return nothing
    rows, columns, codes = (
        np.concatenate(found.rows) - 1,
        np.concatenate(found.columns),
        np.concatenate(found.codes),
    )
    table = pa.concat_arrays([table.cast(pa.string()) for table in found.tables])
    is_said = np.asarray(pc.not_equal(table, "").to_numpy(zero_copy_only=False), bool)[codes]
    if most is not None:
        is_said &= rows < most
    if not is_said.all():
        rows, columns, codes = rows[is_said], columns[is_said], codes[is_said]
    if not len(rows):
        return nothing
    height, width = int(rows.max()) + 1, int(columns.max()) + 1
    if height * width > MOST_CELLS * 2:
        raise UnreadableFile(
            f"The sheet has {height:,} rows and {width:,} columns, most of them empty.",
            "Send it as CSV, or in parts.",
        )
    order = np.argsort(columns, kind="stable")
    bounds = np.searchsorted(columns[order], np.arange(width + 1))
    made = []
    for place in range(width):
        chosen = order[bounds[place] : bounds[place + 1]]
        made.append(_column(rows[chosen], codes[chosen], table, height))
    lengths = np.zeros(height, np.int64)
    for place in range(width):
        lengths[rows[order[bounds[place] : bounds[place + 1]]]] = place + 1
    return Grid(tuple(made), lengths, np.arange(1, height + 1))


def _column(rows: NDArray[np.int64], codes: NDArray[np.int64], table: Arrow, height: int) -> Column:
    used, back = np.unique(codes, return_inverse=True)
    # the same text may stand in the table twice
    encoded = table.take(pa.array(used)).dictionary_encode()
    own = encoded.indices.to_numpy()[back.reshape(-1)]
    if len(rows) == height and (np.diff(rows) == 1).all():
        return Column(encoded.dictionary, own.astype(np.int32, copy=False))
    spread = np.full(height, len(encoded.dictionary), np.int32)
    spread[rows] = own
    return Column(pa.concat_arrays([encoded.dictionary, pa.array([""], pa.string())]), spread)


def _oddities(found: Found) -> list[str]:
    """Say what the values do not show."""
    oddities = []
    if found.hidden:
        shown = ", ".join(str(line) for line in found.hidden[:5]) + (
            " …" if len(found.hidden) > 5 else ""
        )
        rows = (
            "1 row of the sheet is"
            if len(found.hidden) == 1
            else f"{len(found.hidden)} rows of the sheet are"
        )
        oddities.append(f"{rows} hidden and read like the others: {shown}.")
    if found.merged:
        shown = ", ".join(found.merged[:4]) + (" …" if len(found.merged) > 4 else "")
        oddities.append(
            f"{len(found.merged)} merged cell{'' if len(found.merged) == 1 else 's'}, the value"
            f" read at the first only: {shown}."
        )
    if found.formulas:
        oddities.append(
            f"{found.formulas} formula{'' if found.formulas == 1 else 's'}, read by the stored"
            " result."
        )
    return oddities
