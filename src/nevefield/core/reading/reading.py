"""Read a file: bytes in, a Table and the Reading out."""

from __future__ import annotations

import re
from codecs import BOM_UTF8
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.blocks import LARGEST as LARGEST_SHEET
from nevefield.core.reading.blocks import find_blocks
from nevefield.core.reading.delimited import read_rows
from nevefield.core.reading.dialect import Dialect, find_dialect, read_drawn
from nevefield.core.reading.encoding import decode
from nevefield.core.reading.evidence import Layout, find_layout, join_headings, sample_size
from nevefield.core.reading.fixed import cut_fixed
from nevefield.core.reading.grid import Grid, cut_text
from nevefield.core.reading.kinds import kind_of
from nevefield.core.reading.layout import find_made_for, name_columns
from nevefield.core.reading.markup import is_page, is_xml, read_page, read_xml
from nevefield.core.reading.objects import looks_like_objects, read_objects
from nevefield.core.reading.parting import Envelope, find_envelope, part_rows
from nevefield.core.reading.secrets import find_secrets
from nevefield.core.reading.unpacking import unpack
from nevefield.core.table import Column, Table
from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

__all__ = [
    "Found",
    "NotData",
    "Opened",
    "Reading",
    "ReadingChoice",
    "lay_out",
    "open_file",
    "read_file",
]

LARGEST = 250_000_000  # bytes
WIDEST = 2_000  # columns
TABLE_AT = ", table at "  # between a sheet and the cell at which one of its tables begins
SEARCHED = 200  # rows among which a header that was chosen in an earlier file is looked for
SAMPLE = 400  # rows among which the header is looked for
_SEPARATOR_NAMES = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "upright bars"}


@dataclass(frozen=True)
class ReadingChoice:
    """What a person said about how to read a file; what is left out is decided from the file."""

    encoding: str = ""
    separator: str = ""
    sheet: str = ""
    header_line: int | None = None
    no_header: bool = False
    # that stood in that line when it was chosen: where they stand now is meant, if they do
    headings: tuple[str, ...] = ()


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
    # whom the request sheet was made for that the file is; as the file says, which is no proof
    made_for: str = ""
    sheet_rows: int = field(default=0, compare=False)
    left: int = 0  # empty columns at the left of the table, which are none
    sheets: tuple[str, ...] = ()  # of a workbook, those that can be read
    why: str = ""  # its header is taken for one, in words


def read_file(
    data: bytes, choice: ReadingChoice | None = None, known: frozenset[str] = frozenset()
) -> tuple[Table, Reading]:
    """Read a file.

    Args:
        data: Its bytes.
        choice: What a person decided about the reading.
        known: Names that headings may have (see `find_layout`).

    Returns:
        The table, texts as they stand and untrimmed, one row a row of data with the file's own
        line; and the reading. The values of columns taken for secrets are left out.

    Raises:
        UnreadableFile: With the reason and the remedy.
    """
    choice = choice or ReadingChoice()
    return lay_out(open_file(data, choice, known), choice, known)


@dataclass(frozen=True)
class Found:
    """What kind of file it is, for the reading."""

    type: str
    encoding: str | None
    separator: str | None
    sheet: str | None
    said: str
    made_for: str = ""  # whom a request sheet was made for
    sheets: tuple[str, ...] = ()  # of a workbook


@dataclass(frozen=True)
class Opened:
    """A file's cells before anything is parted from anything."""

    grid: Grid
    headings: list[str] | None  # where the rows carry them, as in JSON
    found: Found
    remarks: tuple[str, ...] = ()


_WORKBOOKS = frozenset(("xlsx", "xls", "ods"))


def open_file(data: bytes, choice: ReadingChoice, known: frozenset[str]) -> Opened:
    """Read all cells of a file, or of the sheet that is meant; rows that begin on one line are
    numbered instead.

    Raises:
        UnreadableFile: It is no table.
    """
    opened = _open(data, choice, known)
    if (np.diff(opened.grid.lines) > 0).all():
        return opened
    numbered = replace(opened.grid, lines=np.arange(1, len(opened.grid) + 1))
    return replace(
        opened,
        grid=numbered,
        remarks=(
            *opened.remarks,
            "Several rows begin on one line; they are numbered from 1 instead.",
        ),
    )


def _open(data: bytes, choice: ReadingChoice, known: frozenset[str]) -> Opened:
    if len(data) > LARGEST:
        raise UnreadableFile(
            f"The file has {len(data) // 1_000_000:,} MB; at most {LARGEST // 1_000_000:,} MB are"
            " read.",
            "Send it in parts.",
        )
    data, unpacked = unpack(data)
    said = (unpacked,) if unpacked else ()
    kind = kind_of(data)
    if kind in _WORKBOOKS:
        grid, sheet = _read_book(kind, data, _place_of(choice)[0], known)
        found = Found(
            kind, None, None, sheet, f"A workbook, sheet “{sheet}”", grid.made_for, grid.sheets
        )
        return Opened(grid, None, found, said)
    return _open_text(data, choice, known, said)


def _read_book(kind: str, data: bytes, sheet: str, known: frozenset[str]) -> tuple[Grid, str]:
    """Read a sheet; what reads workbooks is loaded when one comes, for it is large."""
    if kind == "xlsx":
        from nevefield.core.reading.workbook import read_workbook

        return read_workbook(data, sheet, known)
    if kind == "xls":
        from nevefield.core.reading.oldbook import read_old_workbook

        return read_old_workbook(data, sheet, known)
    from nevefield.core.reading.opendocument import read_opendocument

    return read_opendocument(data, sheet, known)


def _open_text(
    data: bytes, choice: ReadingChoice, known: frozenset[str], texts: tuple[str, ...]
) -> Opened:
    decoded = decode(data, choice.encoding)
    text, encoding = decoded.text, decoded.encoding
    texts += decoded.remarks
    if not choice.separator:
        if looks_like_objects(text):
            headings, rows = read_objects(text)
            return Opened(
                Grid.of(rows),
                headings,
                Found("jsonl", encoding, None, None, f"JSON objects in {decoded.name}"),
                texts,
            )
        if is_page(text[:20_000]):
            rows, _ = read_page(text, known)
            return Opened(
                Grid.of(rows),
                None,
                Found("html", encoding, None, None, f"A table in a web page in {decoded.name}"),
                texts,
            )
        if is_xml(text[:2_000]):
            headings, rows, sheet = read_xml(data, known)
            what = (
                f"A workbook written as XML, sheet “{sheet}”"
                if headings is None
                else "Records in an XML document"
            )
            return Opened(
                Grid.of(rows), headings, Found("xml", encoding, None, sheet or None, what), texts
            )
    dialect = Dialect(choice.separator) if choice.separator else find_dialect(text, known)
    if dialect.is_drawn:
        return Opened(
            Grid.of(read_drawn(text)),
            None,
            Found("drawn", encoding, None, None, f"A table drawn in {decoded.name}"),
            texts,
        )
    if dialect.cuts:
        what = f"Text in {len(dialect.cuts)} columns of fixed width in {decoded.name}"
        return Opened(
            Grid.of(cut_fixed(text, list(dialect.cuts))),
            None,
            Found("fixed", encoding, None, None, what),
            texts,
        )
    separator = dialect.separator
    if dialect.other:
        other = _SEPARATOR_NAMES.get(dialect.other, repr(dialect.other))
        texts += (
            f"The cells might be parted by {other} as well; choose that if the columns look wrong.",
        )
    found = Found(
        "csv",
        encoding,
        separator,
        None,
        f"Text with {_SEPARATOR_NAMES.get(separator, repr(separator))} in {decoded.name}",
    )
    if len(separator.encode()) > 1:
        return Opened(Grid.of(read_rows(text, separator)), None, found, texts)
    # Of a large text one form is kept at a time: it takes much room.
    is_written = encoding == "utf-8" and not data.startswith(BOM_UTF8) and not decoded.remarks
    written = data if is_written else text.encode("utf-8")
    del decoded, text
    return Opened(cut_text(written, separator), None, found, texts)


def lay_out(
    opened: Opened, choice: ReadingChoice, known: frozenset[str], secrets: tuple[int, ...] = ()
) -> tuple[Table, Reading]:
    """Make table and reading of cells that were opened.

    Args:
        opened: The cells.
        choice: What a person decided.
        known: Names that headings may have.
        secrets: Places of columns whose values were taken out.
    """
    if opened.headings is not None:
        table = Table(
            tuple(opened.headings), opened.grid.columns[: len(opened.headings)], opened.grid.lines
        )
        if len(table.columns) < len(table.headings):
            empty = Column.constant("", len(table))
            table = Table(
                table.headings,
                (*table.columns, *[empty] * (len(table.headings) - len(table.columns))),
                table.lines,
            )
        laid = _Laid(None, [], list(opened.grid.remarks), named=True)
    else:
        table, laid = _arrange(opened, choice, known)
    laid.remarks[:0] = opened.remarks
    return _finish(table, laid, opened.found, known, secrets)


@dataclass(frozen=True)
class _Laid:
    header_line: int | None
    not_data: list[NotData]
    remarks: list[str]
    named: bool = False  # the columns have names without a header, as in JSON
    why: str = ""  # the header is taken for it
    left: int = 0  # empty columns at the left, which are none
    tables: tuple[str, ...] = ()  # where the others in the sheet begin
    at: str = ""  # where this one begins, if it was chosen


def _arrange(opened: Opened, choice: ReadingChoice, known: frozenset[str]) -> tuple[Table, _Laid]:
    """Part rows into data and not data, and make the table."""
    grid, remarks = opened.grid, list(opened.grid.remarks)
    line, choice = choice.header_line, _follow(choice, grid)
    if choice.header_line != line:
        remarks.append(
            f"The header chosen earlier was line {line}; here its headings stand in line"
            f" {choice.header_line}."
        )
    outside: list[int] = []
    tables: list[str] = []
    is_sheet = opened.found.separator is None and opened.found.type in _WORKBOOKS
    if is_sheet:
        grid, outside, tables = _choose_block(grid, choice, known)
        remarks += _say_tables(tables)
    envelope = find_envelope(grid) if choice.header_line is None else Envelope(0, len(grid))
    if envelope.remark:
        remarks.append(envelope.remark)
    layout = _layout(grid, envelope, choice, known)
    parted = part_rows(grid, layout, envelope)
    kept = parted.kept
    header = (
        join_headings(*grid.rows(layout.headers))
        if len(layout.headers) > 1
        else next(iter(grid.rows(layout.headers)), None)
    )
    widest = int(grid.lengths[kept].max()) if len(kept) else 0
    width = max(len(header or ()), widest)
    if width > WIDEST:
        raise UnreadableFile(f"The table is {width:,} columns wide; at most {WIDEST:,} are read.")
    columns = [column.take(kept).used() for column in grid.columns[:width]]
    left, right = _edges(columns, header, width, is_text=not is_sheet)
    short = np.flatnonzero((grid.lengths[kept] != width) & (opened.found.separator is not None))
    if len(short):
        shown = ", ".join(str(line) for line in grid.lines[kept[short[:5]]].tolist()) + (
            " …" if len(short) > 5 else ""
        )
        remarks.append(
            f"{len(short)} rows have another number of cells than the widest one: line {shown}."
        )
    names = name_columns(header[left:] if header is not None else None, right - left)
    table = Table(tuple(names), tuple(columns[left:right]), grid.lines[kept])
    not_data = _list_others(opened.grid, grid, parted.kinds, outside)
    if layout.other is not None:
        remarks.append(
            f"Line {grid.lines[layout.other]} might be the header as well; choose it if the"
            " headings look wrong."
        )
    header_line = int(grid.lines[layout.headers[-1]]) if layout.headers else None
    at = tables[0] if _place_of(choice)[1] else ""
    return table, _Laid(
        header_line, not_data, remarks, why=layout.why, left=left, tables=tuple(tables[1:]), at=at
    )


def _follow(choice: ReadingChoice, grid: Grid) -> ReadingChoice:
    """Find the header that was chosen in an earlier file: this one may have more or fewer lines
    above it.
    """
    if choice.header_line is None or not choice.headings:
        return choice
    wanted = {key_of(heading) for heading in choice.headings}
    rows = grid.rows(range(min(len(grid), SEARCHED)))
    alike = [len({key_of(cell) for cell in row if trim(cell)} & wanted) for row in rows]
    best = max(range(len(rows)), key=lambda place: alike[place], default=-1)
    if best < 0 or alike[best] * 2 < len(wanted):
        return choice
    return replace(choice, header_line=int(grid.lines[best]))


def _place_of(choice: ReadingChoice) -> tuple[str, str]:
    """Part what was chosen into the sheet and the cell at which the table begins, where one was
    chosen.
    """
    matched = re.fullmatch(rf"(.*){TABLE_AT}([A-Z]{{1,3}}\d{{1,7}})", choice.sheet[:300], re.DOTALL)
    return (matched[1], matched[2]) if matched else (choice.sheet, "")


def _say_tables(tables: list[str]) -> list[str]:
    if len(tables) < 2:
        return []
    others = tables[1:]
    return [
        f"There {'is' if len(others) == 1 else 'are'} {len(others)} more"
        f" table{'' if len(others) == 1 else 's'} in the sheet, at {', '.join(others[:6])}; read is"
        f" the one at {tables[0]}. Another one is read when it is chosen as the sheet is."
    ]


def _choose_block(
    grid: Grid, choice: ReadingChoice, known: frozenset[str]
) -> tuple[Grid, list[int], list[str]]:
    """Take the table that is meant out of a sheet with several; what is outside of it, and where
    each begins, it first.
    """
    blocks = find_blocks(grid.rows(range(len(grid))), known) if len(grid) <= LARGEST_SHEET else []
    if len(blocks) < 2:
        return grid, [], []
    chosen, corner = blocks[0], _place_of(choice)[1]
    if corner:
        chosen = next((block for block in blocks if block.corner == corner), chosen)
    elif choice.header_line is not None:
        place = int(np.searchsorted(grid.lines, choice.header_line))
        chosen = next((block for block in blocks if block.top <= place < block.bottom), chosen)
    tables = [chosen.corner, *(block.corner for block in blocks if block is not chosen)]
    top = 0 if chosen.top == min(block.top for block in blocks) else chosen.top
    rows = np.arange(top, chosen.bottom)
    columns = tuple(column.take(rows) for column in grid.columns[: chosen.right])
    blank = Column.constant("", len(rows))
    columns = tuple(
        blank if place < chosen.left and chosen.left else column
        for place, column in enumerate(columns)
    )
    part = Grid(
        columns, np.minimum(grid.lengths[rows], chosen.right), grid.lines[rows], [], grid.made_for
    )
    return part, [place for place in range(len(grid)) if not top <= place < chosen.bottom], tables


def _layout(grid: Grid, envelope: Envelope, choice: ReadingChoice, known: frozenset[str]) -> Layout:
    if choice.header_line is not None:
        place = int(np.searchsorted(grid.lines, choice.header_line))
        if place >= len(grid) or grid.lines[place] != choice.header_line:
            raise UnreadableFile(
                f"No row begins at line {choice.header_line}.",
                "Choose another line for the header.",
            )
        return Layout((place,), place + 1)
    sample = grid.rows(
        range(envelope.first, min(envelope.last, envelope.first + sample_size(grid.width, SAMPLE)))
    )
    layout = find_layout(sample, known)
    if choice.no_header:
        layout = Layout((), layout.headers[0] if layout.headers else layout.first)
    by = envelope.first
    return Layout(
        tuple(place + by for place in layout.headers),
        layout.first + by,
        tuple(place + by for place in layout.passed),
        layout.score,
        layout.why,
        layout.other + by if layout.other is not None else None,
    )


def _edges(
    columns: Sequence[Column], header: Sequence[str] | None, width: int, *, is_text: bool
) -> tuple[int, int]:
    """Tell where the columns begin and end: empty ones at the left are none, nor in a sheet
    those at the right.
    """

    def is_empty(place: int) -> bool:
        return not (header is not None and place < len(header) and trim(header[place])) and not any(
            map(trim, columns[place].texts())
        )

    left, right = 0, min(width, len(columns))
    while left < right - 1 and is_empty(left):
        left += 1
    if left and all(is_empty(place) for place in range(right)):
        left = 0
    while not is_text and right > max(len(header or ()), left + 1) and is_empty(right - 1):
        right -= 1
    return left, right


def _list_others(
    whole: Grid, grid: Grid, kinds: dict[int, str], outside: list[int]
) -> list[NotData]:
    """List the lines that are no rows, up to the last one with anything in it."""
    places = sorted(kinds)
    texts = dict(zip(places, grid.rows(places), strict=True)) if places else {}
    others = [
        NotData(int(grid.lines[place]), kinds[place], _glimpse(texts[place])) for place in places
    ]
    for place, row in zip(outside, whole.rows(outside), strict=True):
        others.append(
            NotData(
                int(whole.lines[place]), "note" if any(map(trim, row)) else "blank", _glimpse(row)
            )
        )
    others.sort(key=lambda line: line.line)
    last = int(grid.lines[-1]) if len(grid) else 0
    while others and others[-1].kind == "blank" and others[-1].line >= last and not outside:
        last = others.pop().line - 1
    return others


def _glimpse(values: Sequence[str]) -> str:
    return "  ".join(trim(value) for value in values if trim(value))[:200]


def _finish(
    table: Table, laid: _Laid, found: Found, known: frozenset[str], places: tuple[int, ...] = ()
) -> tuple[Table, Reading]:
    if not len(table) and not any(line.kind == "header" for line in laid.not_data):
        raise UnreadableFile(
            "There is no row of data in the file.", "Ask for it again, with its rows."
        )
    table, secrets = _without_secrets(table, known, places)
    remarks = list(laid.remarks)
    for heading in secrets:
        remarks.append(
            f"The column “{heading}” looks like a secret; its values are not taken. Ask not to be"
            " sent it."
        )
    if laid.header_line is None and not laid.named:
        remarks.append("No header was found; the columns are numbered.")
    if not len(table):
        remarks.append("There is a header and no row below it.")
    without = "named in each row" if laid.named else "no header"
    header = f"header on line {laid.header_line}" if laid.header_line is not None else without
    if laid.why and laid.header_line is not None:
        header += f" ({laid.why})"
    others = [line for line in laid.not_data if line.kind not in ("header", "blank")]
    counts = ", ".join(
        _count_of(others, name)
        for name in ("note", "total", "example", "end")
        if _count_of(others, name)
    )
    sentence = f"{found.said}, {header}, {len(table):,} row{'s' if len(table) != 1 else ''}" + (
        f", {counts}." if counts else "."
    )
    reading = Reading(
        found.type,
        found.encoding,
        found.separator,
        f"{found.sheet}{TABLE_AT}{laid.at}" if laid.at else found.sheet,
        laid.header_line,
        sentence,
        tuple(remarks),
        tuple(laid.not_data),
        tuple(secrets),
        found.made_for
        or find_made_for([line.text for line in laid.not_data if line.kind == "note"]),
        left=laid.left,
        sheets=tuple(_list_sheets(found, laid)),
        why=laid.why,
    )
    return table, reading


def _list_sheets(found: Found, laid: _Laid) -> Iterator[str]:
    """List the sheets that can be read, and behind the one that is read its tables."""
    for name in found.sheets:
        yield name
        if name == found.sheet:
            yield from (
                f"{name}{TABLE_AT}{corner}"
                for corner in sorted({*laid.tables, *filter(None, [laid.at])})
            )


def _count_of(lines: list[NotData], kind: str) -> str:
    count = sum(1 for line in lines if line.kind == kind)
    word = {
        "note": "line of notes",
        "total": "line of totals",
        "example": "example row",
        "end": "end mark",
    }[kind]
    return (
        ""
        if not count
        else (
            f"{count} {word if count == 1 else word.replace('line', 'lines', 1) if 'line' in word else word + 's'}"  # noqa: E501
        )
    )


def _without_secrets(
    table: Table, known: frozenset[str], places: tuple[int, ...]
) -> tuple[Table, list[str]]:
    """Empty the columns of secrets: those found, and those that were emptied before the rows
    were kept.
    """
    numbers = sorted(
        {*find_secrets(table, known), *(place for place in places if place < len(table.headings))}
    )
    if not numbers:
        return table, []
    nothing = Column.constant("", len(table))
    columns = tuple(
        nothing if place in numbers else column for place, column in enumerate(table.columns)
    )
    return Table(table.headings, columns, table.lines), [table.headings[place] for place in numbers]
