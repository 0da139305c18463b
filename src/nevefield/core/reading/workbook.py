"""A workbook's sheet into columns of texts.

Days come as `2026-09-01` (with ` 14:30:00` unless midnight), whole numbers without a point, yes and
no as `true` and `false`, a formula by its stored result, an error by its text. Sheets are read by
`sheet`; the few that are written otherwise by the library, which takes anything.
"""

from __future__ import annotations

import io
import re
import warnings
import zipfile
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from functools import partial
from typing import TYPE_CHECKING
from xml.etree import ElementTree
from xml.etree.ElementTree import ParseError

import openpyxl
from openpyxl.styles.stylesheet import apply_stylesheet
from openpyxl.utils.datetime import CALENDAR_MAC_1904, from_excel

from nevefield.core.borders import Foreign
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.blocks import worth_of
from nevefield.core.reading.delimited import Rows
from nevefield.core.reading.grid import Grid
from nevefield.core.reading.kinds import BROKEN_ARCHIVE
from nevefield.core.reading.layout import ABOUT, find_made_for
from nevefield.core.reading.sheet import MOST_CELLS, read_sheet
from nevefield.core.reading.sheet_cells import MOST_COLUMNS, read_strings
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from typing import IO

__all__ = ["choose_sheet", "first_texts", "read_workbook", "text_of"]

MOST_IN_ROW = 20_000  # cells; empty ones may stand behind the table's own
_LONGEST_TAG = 64  # letters of which a tag's name is told
_ROW_OR_CELL = re.compile(rb"<(?:[A-Za-z]{1,20}:)?(row|c)[\s/>]")
MOST_SHEETS = 40  # that are looked into
SAMPLE = 120  # rows of each
_MAIN = "{http://schemas.openxmlformats.org/spreadsheetml/2006/main}"
_RELATION = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}id"
_WHOLE = re.compile(r"0|-?[1-9]\d{0,14}")
# What the libraries raise on a workbook that is damaged.
BROKEN = (*BROKEN_ARCHIVE, ParseError, TypeError, AttributeError)


def read_workbook(
    data: bytes, wanted: str = "", known: frozenset[str] = frozenset()
) -> tuple[Grid, str]:
    """Read one sheet.

    Args:
        data: The file's bytes.
        wanted: The sheet's name; "" for the visible one that has the people.
        known: Names that headings may have.

    Returns:
        The cells (the line of a row is its number in the sheet) and the sheet's name.

    Raises:
        UnreadableFile: The workbook is damaged, too wide or too large, or has no such sheet.
    """
    try:
        with warnings.catch_warnings(), zipfile.ZipFile(io.BytesIO(data)) as archive:
            warnings.simplefilter("ignore")
            book = _Book(data, archive)
            sheets = [
                (name, visible, partial(book.read, name)) for name, visible in book.sheets.items()
            ]
            return choose_sheet(sheets, wanted, known)
    except BROKEN as error:
        raise UnreadableFile(
            "The workbook is damaged.", "Open it, save it again and drop it here."
        ) from error


class _Book:
    """What the sheets of a workbook share; each part is read when it is first asked for."""

    def __init__(self, data: bytes, archive: zipfile.ZipFile) -> None:
        self.data, self.archive = data, archive
        book = _xml(archive, "xl/workbook.xml")
        relations = {
            one.get("Id"): one.get("Target", "")
            for one in _xml(archive, "xl/_rels/workbook.xml.rels")
        }
        self.paths: dict[str, str] = {}
        self.sheets: dict[str, bool] = {}
        for one in book.iter(f"{_MAIN}sheet"):
            target = relations.get(one.get(_RELATION), "")
            path = target.lstrip("/") if target.startswith("/") else f"xl/{target}"
            name = one.get("name", "")
            if "worksheets/" in path:
                self.paths[name] = path
                self.sheets[name] = one.get("state", "visible") == "visible"
        about = book.find(f"{_MAIN}workbookPr")
        self.is_1904 = about is not None and about.get("date1904") in ("1", "true")
        self._shared: list[Foreign] = []
        self._styles: list[tuple[set[int], set[int]]] = []
        self._library: list[Foreign] = []
        self._written: dict[tuple[str, int], str] = {}

    def read(self, name: str, most: int | None) -> Grid:
        """Read a sheet, all of it or its first rows."""
        strings = self.strings()
        if strings is not None:
            with self.archive.open(self.paths[name]) as stream:
                read = read_sheet(stream, strings, self, most)
            if read is not None:
                return replace(read[0], remarks=read[1])
        with self.archive.open(self.paths[name]) as stream:
            _refuse_wide(stream)
        if not self._library:
            self._library.append(
                openpyxl.load_workbook(io.BytesIO(self.data), read_only=True, data_only=True)
            )
        return _by_library(self._library[0][name], most)

    def strings(self) -> Foreign:
        """Return the shared strings; None where they are written otherwise."""
        if not self._shared:
            path = next(
                (
                    text
                    for text in self.archive.namelist()
                    if text.casefold() == "xl/sharedstrings.xml"
                ),
                "",
            )
            self._shared.append(read_strings(self.archive.read(path) if path else b""))
        return self._shared[0]

    def write(self, raw: str, style: int) -> str:
        """Write a number, or a day where its style says that it is one."""
        text = self._written.get((raw, style))
        if text is None:
            text = self._written[raw, style] = self._write(raw, style)
        return text

    @property
    def days(self) -> set[int]:
        """The styles of days and times."""
        return self._formats()[0]

    def _write(self, raw: str, style: int) -> str:
        days, spans = self._formats()
        if style in days:
            try:
                epoch = CALENDAR_MAC_1904 if self.is_1904 else openpyxl.utils.datetime.WINDOWS_EPOCH
                return text_of(from_excel(float(raw), epoch, timedelta=style in spans))
            except (OverflowError, ValueError):
                return "#VALUE!"
        if _WHOLE.fullmatch(raw):
            return raw
        try:
            return text_of(float(raw) if set(raw) & set(".eE") else int(raw))
        except ValueError:
            return raw

    def _formats(self) -> tuple[set[int], set[int]]:
        if not self._styles:
            book = openpyxl.Workbook()
            book._date_formats, book._timedelta_formats = set(), set()
            apply_stylesheet(self.archive, book)
            self._styles.append((set(book._date_formats), set(book._timedelta_formats)))
        return self._styles[0]


def _xml(archive: zipfile.ZipFile, path: str) -> Foreign:
    data = archive.read(path)
    if b"<!ENTITY" in data:
        raise ValueError("entities")
    return ElementTree.fromstring(data)  # noqa: S314  # without entities; its size was looked at before


def first_texts(data: bytes) -> list[str]:
    """Return the texts of the first row of a workbook's first sheet, without reading on; [] when
    it cannot be opened.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
            rows = book.worksheets[0].iter_rows(max_row=1, values_only=True)
            return ["" if value is None else text_of(value) for value in next(rows, ())]
    except BROKEN:
        return []


def choose_sheet(
    sheets: Sequence[tuple[str, bool, Callable[[int | None], Grid]]],
    wanted: str,
    known: frozenset[str] = frozenset(),
) -> tuple[Grid, str]:
    """Read the sheet that is wanted, or the visible one that has the people, by what stands in it.

    Args:
        sheets: Of each the name, whether it is visible, and what reads its cells, all or those of
            the first rows.
        wanted: A name; "" to choose here.
        known: Names that headings may have.

    Raises:
        UnreadableFile: There is no such sheet, or nothing in any.
    """
    names = [name for name, _, _ in sheets]
    about = next((read for name, _, read in sheets if name == ABOUT), None)
    if wanted and wanted not in names:
        raise UnreadableFile(f"There is no sheet “{wanted}” in the workbook; {near(wanted, names)}")
    remarks = [
        f"The sheet “{name}” is hidden and was not read."
        for name, visible, _ in sheets
        if not visible and not wanted
    ]
    chosen = wanted or _likeliest(
        [sheet for sheet in sheets if sheet[1] and sheet[0] != ABOUT] or list(sheets), known
    )
    if not chosen:
        raise UnreadableFile(
            "The workbook has nothing in it.",
            "Ask for it again; perhaps the export had not finished.",
        )
    grid = next(read for name, _, read in sheets if name == chosen)(None)
    others = [name for name in names if name != chosen]
    if others:
        count = f"{'is' if len(others) == 1 else 'are'} {len(others)} more"
        remarks.append(f"Read is the sheet “{chosen}”; there {count}: {', '.join(others)}.")
    made_for = (
        find_made_for([text for row in _first_rows(about(5), 5) for text in row])
        if about is not None
        else ""
    )
    return (
        replace(grid, remarks=[*remarks, *grid.remarks], made_for=made_for, sheets=tuple(names)),
        chosen,
    )


def _first_rows(grid: Grid, most: int) -> list[list[str]]:
    return grid.rows(range(min(len(grid), most)))


def _likeliest(
    sheets: Sequence[tuple[str, bool, Callable[[int | None], Grid]]], known: frozenset[str]
) -> str:
    """Name the sheet whose first rows are likeliest to be people; the first of those that are
    equal.
    """
    best, best_worth = "", 0.0
    for name, _, read in sheets[:MOST_SHEETS]:
        values = _first_rows(read(SAMPLE if len(sheets) > 1 else None), SAMPLE)
        if not any(any(row) for row in values):
            continue
        worth = max(worth_of(values, known), 0.05) + (0.5 if not best else 0.0)
        if worth > best_worth:
            best, best_worth = name, worth
    return best


def _refuse_wide(stream: IO[bytes]) -> None:
    """Refuse a row of more cells than any table has, by counting them before anything is made of
    them.
    """
    rest, cells = b"", 0
    while chunk := stream.read(1 << 20):
        text = rest + chunk
        rest = text[-_LONGEST_TAG:]
        for tag in _ROW_OR_CELL.finditer(text):
            if tag.start() >= len(text) - len(rest):
                break  # looked at with what follows
            cells = 0 if tag[1] == b"row" else cells + 1
            if cells > MOST_IN_ROW:
                raise UnreadableFile(
                    f"The sheet is over {MOST_IN_ROW:,} columns wide; at most {MOST_COLUMNS:,} are"
                    " read."
                )


def _by_library(sheet: Foreign, most: int | None) -> Grid:
    values: list[list[str]] = []
    cells = 0
    # what the sheet says of its own size is often wrong, and can be made to lie
    sheet.reset_dimensions()
    for row in sheet.iter_rows(values_only=True, max_row=most):
        texts = ["" if value is None else text_of(value) for value in row]
        while texts and not texts[-1]:
            texts.pop()
        cells += len(row) + 1
        if len(texts) > MOST_COLUMNS:
            raise UnreadableFile(
                f"The sheet is {len(texts):,} columns wide; at most {MOST_COLUMNS:,} are read."
            )
        if cells > MOST_CELLS:
            raise UnreadableFile(
                f"The sheet has over {MOST_CELLS:,} cells.", "Send it as CSV, or in parts."
            )
        values.append(texts)
    return Grid.of(Rows(values, list(range(1, len(values) + 1)), []))


def text_of(value: Foreign) -> str:
    """Write a cell's value as the contract has it."""
    if isinstance(value, str):
        return value
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int):
        return str(value)
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime):
        day = value.date().isoformat()
        return (
            day if value.time() == time() else f"{day} {value.time().isoformat(timespec='seconds')}"
        )
    if isinstance(value, (date, time)):
        return value.isoformat()
    if isinstance(value, timedelta):
        return str(value)
    return str(value)
