"""Read a file: bytes in, a Table and the Reading out."""

from __future__ import annotations

from codecs import BOM_UTF8
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np
import pyarrow.compute as pc

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows, find_separator, read_regular, read_rows
from nevefield.core.reading.encoding import decode
from nevefield.core.reading.fixed import cut_fixed, find_cuts
from nevefield.core.reading.kinds import kind_of
from nevefield.core.reading.layout import (
    EXAMPLE,
    Layout,
    find_layout,
    find_made_for,
    is_end,
    is_example,
    is_total,
    join_headings,
    name_columns,
)
from nevefield.core.reading.objects import looks_like_objects, read_objects
from nevefield.core.reading.oldbook import read_old_workbook
from nevefield.core.reading.opendocument import read_opendocument
from nevefield.core.reading.secrets import find_secrets
from nevefield.core.reading.unpacking import unpack
from nevefield.core.reading.workbook import read_workbook
from nevefield.core.table import Column, Table
from nevefield.core.texts import trim, trim_all

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

__all__ = ["Found", "NotData", "Opened", "Reading", "ReadingChoice", "lay_out_rows", "open_rows", "read_file"]

LARGEST = 250_000_000  # bytes
WIDEST = 2_000  # columns
_SEPARATOR_NAMES = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "upright bars"}


@dataclass(frozen=True)
class ReadingChoice:
    """What a person said about how to read a file; what is left out is decided from the file."""

    encoding: str = ""
    separator: str = ""
    sheet: str = ""
    header_line: int | None = None
    no_header: bool = False


@dataclass(frozen=True)
class NotData:
    """A line that is not a row: a note, blank, a header, a total, an example, or an end mark."""

    line: int
    kind: str
    text: str = ""  # its first cells, for the File page


@dataclass(frozen=True)
class Reading:
    """How a file was understood."""

    type: str
    encoding: str | None
    separator: str | None
    sheet: str | None
    header_line: int | None
    sentence: str
    remarks: tuple[str, ...] = ()
    not_data: tuple[NotData, ...] = ()
    secrets: tuple[str, ...] = ()  # headings of columns taken for secrets, whose values are gone
    made_for: str = ""  # whom the request sheet was made for that the file is; as the file says, which is no proof
    sheet_rows: int = field(default=0, compare=False)


def read_file(data: bytes, choice: ReadingChoice | None = None, known: frozenset[str] = frozenset()) -> tuple[Table, Reading]:
    """Read a file.

    Args:
        data: Its bytes.
        choice: What a person decided about the reading.
        known: Names that headings may have (see `find_layout`).

    Returns:
        The table, texts as they stand and untrimmed, one row a row of data with the file's own line; and the reading.
        The values of columns taken for secrets are left out.

    Raises:
        UnreadableFile: With the reason and the remedy.
    """
    choice = choice or ReadingChoice()
    if len(data) > LARGEST:
        raise UnreadableFile(
            f"The file has {len(data) // 1_000_000:,} MB; at most {LARGEST // 1_000_000:,} MB are read.", "Send it in parts."
        )
    data, unpacked = unpack(data)
    kind = kind_of(data)
    if kind in _WORKBOOKS:
        rows, sheet = _WORKBOOKS[kind](data, choice.sheet)
        laid, found = _lay_out(rows, choice, known, None), _found_workbook(kind, sheet, rows)
    else:
        laid, found = _read_any_text(data, choice, known)
    if unpacked:
        laid[1].remarks.insert(0, unpacked)
    return _finish(*laid, found, known)


@dataclass(frozen=True)
class Opened:
    """A file's lines before anything is parted from anything."""

    rows: Rows
    headings: list[str] | None  # where the rows carry them, as in JSON
    found: Found
    unpacked: str


def open_rows(data: bytes, choice: ReadingChoice) -> Opened:
    """Read all lines of a file, or of the sheet that is meant, on the robust path.

    Raises:
        UnreadableFile: It is no table.
    """
    data, unpacked = unpack(data)
    kind = kind_of(data)
    if kind in _WORKBOOKS:
        rows, sheet = _WORKBOOKS[kind](data, choice.sheet)
        return Opened(rows, None, _found_workbook(kind, sheet, rows), unpacked)
    text = _open_text(data, choice)
    if text.found.type == "jsonl":
        headings, rows = read_objects(text.text)
        return Opened(rows, headings, text.found, unpacked)
    rows = cut_fixed(text.text, text.cuts) if text.cuts else read_rows(text.text, text.found.separator or ",")
    return Opened(rows, None, text.found, unpacked)


def lay_out_rows(
    rows: Rows,
    headings: list[str] | None,
    found: Found,
    choice: ReadingChoice,
    known: frozenset[str],
    secrets: tuple[int, ...] = (),
) -> tuple[Table, Reading]:
    """Make table and reading of lines that were opened before.

    Args:
        rows: The lines.
        headings: Where the rows carry them.
        found: What kind of file it was.
        choice: What a person decided.
        known: Names that headings may have.
        secrets: Places of columns whose values were taken out.
    """
    if headings is not None:
        laid = Table.of(headings, rows.values, rows.lines), _Laid(None, [], list(rows.remarks), named=True)
    else:
        laid = _lay_out(rows, choice, known, found.separator)
    return _finish(*laid, found, known, secrets)


_WORKBOOKS: dict[str, Callable[[bytes, str], tuple[Rows, str]]] = {
    "xlsx": read_workbook,
    "xls": read_old_workbook,
    "ods": read_opendocument,
}
SURE = 0.5  # a separator that cuts rows less alike than this is doubted, and fixed columns are looked for


@dataclass(frozen=True)
class Found:
    """What kind of file it is, for the reading."""

    type: str
    encoding: str | None
    separator: str | None
    sheet: str | None
    said: str
    made_for: str = ""  # whom a request sheet was made for


@dataclass(frozen=True)
class _Text:
    text: str
    found: Found
    cuts: list[int]  # of columns of fixed width


def _found_workbook(kind: str, sheet: str, rows: Rows) -> Found:
    return Found(kind, None, None, sheet, f"A workbook, sheet “{sheet}”", rows.made_for)


def _open_text(data: bytes, choice: ReadingChoice) -> _Text:
    text, encoding, name = decode(data, choice.encoding)
    if not choice.separator and looks_like_objects(text):
        return _Text(text, Found("jsonl", encoding, None, None, f"JSON objects in {name}"), [])
    separator, sure = find_separator(text)
    if not choice.separator and sure < SURE and (cuts := find_cuts(text)):
        said = f"Text in {len(cuts)} columns of fixed width in {name}"
        return _Text(text, Found("fixed", encoding, None, None, said), cuts)
    separator = choice.separator or separator
    said = f"Text with {_SEPARATOR_NAMES.get(separator, repr(separator))} in {name}"
    return _Text(text, Found("csv", encoding, separator, None, said), [])


def _read_any_text(data: bytes, choice: ReadingChoice, known: frozenset[str]) -> tuple[tuple[Table, _Laid], Found]:
    opened = _open_text(data, choice)
    if opened.found.type == "jsonl":
        headings, rows = read_objects(opened.text)
        return (Table.of(headings, rows.values, rows.lines), _Laid(None, [], list(rows.remarks), named=True)), opened.found
    if opened.cuts:
        return _lay_out(cut_fixed(opened.text, opened.cuts), choice, known, None), opened.found
    found, separator = opened.found, opened.found.separator or ","
    head = read_rows(opened.text[:400_000], separator, most=200)
    if len(head.values) < 200:
        return _lay_out(read_rows(opened.text, separator), choice, known, separator), found
    # Of a large text one form is kept at a time: it takes much room.
    written = data if found.encoding == "utf-8" and not data.startswith(BOM_UTF8) else opened.text.encode("utf-8")
    del opened
    layout = _layout(head, choice, known)
    width = max((len(row) for row in head.values[layout.first :]), default=0)
    headings = name_columns(_header_of(head, layout), width)
    if len({*headings}) == len(headings):
        table = read_regular(written, separator, head.lines[layout.first] - 1, headings)
        if table is not None:
            return _trim_tail(table, head, layout), found
    return _lay_out(read_rows(written.decode("utf-8"), separator), choice, known, separator), found


@dataclass(frozen=True)
class _Laid:
    header_line: int | None
    not_data: list[NotData]
    remarks: list[str]
    named: bool = False  # the columns have names without a header, as in JSON


def _layout(rows: Rows, choice: ReadingChoice, known: frozenset[str]) -> Layout:
    if choice.header_line is not None:
        if choice.header_line not in rows.lines:
            raise UnreadableFile(f"No row begins at line {choice.header_line}.", "Choose another line for the header.")
        place = rows.lines.index(choice.header_line)
        return Layout(place, place + 1)
    found = find_layout(rows.values, known)
    if choice.no_header:
        return Layout(None, found.first if found.header is None else found.header)
    return found


def _header_of(rows: Rows, layout: Layout) -> list[str] | None:
    if layout.header is None:
        return None
    lower = rows.values[layout.header]
    return lower if layout.upper is None else join_headings(rows.values[layout.upper], lower)


def _above(rows: Rows, layout: Layout) -> list[NotData]:
    """List the lines above the data: notes, blanks and the header."""
    return [
        NotData(line, "header" if place in (layout.header, layout.upper) else _blank_or(values, "note"), _glimpse(values))
        for place, (values, line) in enumerate(zip(rows.values[: layout.first], rows.lines, strict=False))
    ]


def _blank_or(values: Sequence[str], kind: str) -> str:
    return kind if any(trim(value) for value in values) else "blank"


def _glimpse(values: Sequence[str]) -> str:
    return "  ".join(trim(value) for value in values if trim(value))[:200]


def _lay_out(rows: Rows, choice: ReadingChoice, known: frozenset[str], separator: str | None) -> tuple[Table, _Laid]:
    """Part rows into data and not data, and make the table."""
    layout = _layout(rows, choice, known)
    header = _header_of(rows, layout)
    not_data = _above(rows, layout)
    values, lines = rows.values[layout.first :], rows.lines[layout.first :]
    last = max((place for place, row in enumerate(values) if any(trim(cell) for cell in row)), default=-1)
    values, lines = values[: last + 1], lines[: last + 1]
    width = max([len(header or ()), *(len(row) for row in values)], default=0)
    if width > WIDEST:
        raise UnreadableFile(f"The table is {width:,} columns wide; at most {WIDEST:,} are read.")
    wide = int(np.median([len(row) for row in values])) if values else 0
    kept: list[list[str]] = []
    kept_lines: list[int] = []
    for place, (row, line) in enumerate(zip(values, lines, strict=True)):
        kind = _kind_of_row(row, header, wide, place >= len(values) - 5)
        if kind:
            not_data.append(NotData(line, kind, _glimpse(row)))
        else:
            kept.append(row + [""] * (width - len(row)))
            kept_lines.append(line)
    if separator is None:  # cells at the right of a sheet that only once had something in them are no columns
        while width > len(header or ()) and not any(row[width - 1] for row in kept):
            width -= 1
            kept = [row[:width] for row in kept]
    remarks = list(rows.remarks)
    short = [line for row, line in zip(values, lines, strict=True) if separator is not None and 0 < len(row) != width]
    short = [line for line in short if line in set(kept_lines)]
    if short:
        shown = ", ".join(str(line) for line in short[:5]) + (" …" if len(short) > 5 else "")
        remarks.append(f"{len(short)} rows have another number of cells than the widest one: line {shown}.")
    table = Table.of(name_columns(header, width), kept, kept_lines)
    header_line = rows.lines[layout.header] if layout.header is not None else None
    return table, _Laid(header_line, not_data, remarks)


def _kind_of_row(row: Sequence[str], header: Sequence[str] | None, wide: int, near_end: bool) -> str:
    filled = [cell for cell in row if trim(cell)]
    if not filled:
        return "blank"
    if header is not None and [trim(cell) for cell in row] == [trim(cell) for cell in header]:
        return "header"
    if is_example(row):
        return "example"
    if near_end and is_total(row):
        return "total"
    if near_end and wide >= 3 and is_end(row):
        return "end"
    return ""


def _trim_tail(table: Table, head: Rows, layout: Layout) -> tuple[Table, _Laid]:
    """Take lines that are not data off a table that was read fast: blank ones, repeated headers, totals at the end."""
    header = _header_of(head, layout)
    not_data = _above(head, layout)
    suspects = set(range(max(0, len(table) - 5), len(table)))
    first = table.columns[0]
    examples = pc.match_substring(first.values, EXAMPLE, ignore_case=True).to_numpy(zero_copy_only=False)
    odd = np.flatnonzero(_like(first.values, "") | _like(first.values, trim(header[0]) if header else "") | examples)
    suspects |= set(np.flatnonzero(np.isin(first.codes, odd)).tolist())
    gone: dict[int, NotData] = {}
    for row in sorted(suspects):
        values = table.row(row)
        kind = _kind_of_row(values, header, len(values), row >= len(table) - 5)
        if kind:
            gone[row] = NotData(int(table.lines[row]), kind, _glimpse(values))
    while gone and gone.get(len(table) - 1, NotData(0, "")).kind == "blank":  # nothing stands below: not even a blank
        del gone[len(table) - 1]
        table = table.take(np.arange(len(table) - 1))
    if gone:
        keep = np.ones(len(table), bool)
        keep[list(gone)] = False
        table = table.take(np.flatnonzero(keep))
    header_line = head.lines[layout.header] if layout.header is not None else None
    return table, _Laid(header_line, [*not_data, *gone.values()], list(head.remarks))


def _like(values: Any, text: str) -> NDArray[np.bool_]:
    """Tell which texts of an Arrow array are a text with nothing but spaces around it."""
    return np.asarray(pc.equal(trim_all(values), text).to_numpy(zero_copy_only=False), bool)


def _finish(
    table: Table, laid: _Laid, found: Found, known: frozenset[str], places: tuple[int, ...] = ()
) -> tuple[Table, Reading]:
    if not len(table) and not any(one.kind == "header" for one in laid.not_data):
        raise UnreadableFile("There is no row of data in the file.", "Ask for it again, with its rows.")
    table, secrets = _without_secrets(table, known, places)
    remarks = list(laid.remarks)
    for heading in secrets:
        remarks.append(f"The column “{heading}” looks like a secret; its values are not taken. Ask not to be sent it.")
    if laid.header_line is None and not laid.named:
        remarks.append("No header was found; the columns are numbered.")
    if not len(table):
        remarks.append("There is a header and no row below it.")
    without = "named in each row" if laid.named else "no header"
    header = f"header on line {laid.header_line}" if laid.header_line is not None else without
    others = [one for one in laid.not_data if one.kind not in ("header", "blank")]
    counts = ", ".join(_count_of(others, name) for name in ("note", "total", "example", "end") if _count_of(others, name))
    sentence = f"{found.said}, {header}, {len(table):,} row{'s' if len(table) != 1 else ''}" + (f", {counts}." if counts else ".")
    not_data = tuple(sorted(laid.not_data, key=lambda one: one.line))
    reading = Reading(
        found.type,
        found.encoding,
        found.separator,
        found.sheet,
        laid.header_line,
        sentence,
        tuple(remarks),
        not_data,
        tuple(secrets),
        found.made_for or find_made_for([one.text for one in not_data if one.kind == "note"]),
    )
    return table, reading


def _count_of(lines: list[NotData], kind: str) -> str:
    count = sum(1 for one in lines if one.kind == kind)
    word = {"note": "line of notes", "total": "line of totals", "example": "example row", "end": "end mark"}[kind]
    return (
        ""
        if not count
        else f"{count} {word if count == 1 else word.replace('line', 'lines', 1) if 'line' in word else word + 's'}"
    )


def _without_secrets(table: Table, known: frozenset[str], places: tuple[int, ...]) -> tuple[Table, list[str]]:
    """Empty the columns of secrets: those found, and those that were emptied before the rows were kept."""
    found = sorted({*find_secrets(table, known), *(place for place in places if place < len(table.headings))})
    if not found:
        return table, []
    nothing = Column.constant("", len(table))
    columns = tuple(nothing if place in found else column for place, column in enumerate(table.columns))
    return Table(table.headings, columns, table.lines), [table.headings[place] for place in found]
