"""A workbook's sheet into rows of texts.

Days come as `2026-09-01` (with ` 14:30:00` unless midnight), whole numbers without a point, yes and no as `true` and
`false`, a formula by its stored result, an error by its text.
"""

from __future__ import annotations

import io
import re
import warnings
import zipfile
from datetime import date, datetime, time, timedelta
from functools import partial
from typing import TYPE_CHECKING, Any
from xml.etree.ElementTree import ParseError

import openpyxl

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows
from nevefield.core.reading.layout import ABOUT, find_made_for
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

__all__ = ["MOST_CELLS", "MOST_COLUMNS", "choose_sheet", "first_texts", "read_workbook", "text_of"]

Sheet = tuple[list[list[str]], list[int]]  # values by row, and the line of each

MOST_COLUMNS = 2_000
MOST_CELLS = 60_000_000


def read_workbook(data: bytes, wanted: str = "") -> tuple[Rows, str]:
    """Read one sheet.

    Args:
        data: The file's bytes.
        wanted: The sheet's name; "" for the first visible one that has anything in it.

    Returns:
        The rows (their line is the row number of the sheet) and the sheet's name.

    Raises:
        UnreadableFile: The workbook is damaged, too wide or too large, or has no such sheet.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
            sheets = [(one.title, one.sheet_state == "visible", partial(_read_values, one)) for one in book.worksheets]
            rows, name = choose_sheet(sheets, wanted)
            rows.remarks.extend(_oddities(data, book[name]))
            return rows, name
    except (zipfile.BadZipFile, ParseError, KeyError, ValueError, IndexError, TypeError, AttributeError, EOFError) as error:
        raise UnreadableFile("The workbook is damaged.", "Open it, save it again and drop it here.") from error


_HIDDEN = re.compile(rb'<row (?=[^>]*\bhidden="(?:1|true)")[^>]*\br="(\d+)"')
_MERGED = re.compile(rb'<mergeCell ref="([A-Z]{1,3}\d+:[A-Z]{1,3}\d+)"')
_FORMULA = re.compile(rb"<f[ >/]")
_PART = 4_000_000  # bytes looked at at a time
_OVERLAP = 600  # no tag that is looked for is longer


def _oddities(data: bytes, sheet: Any) -> list[str]:
    """Say what the sheet's values do not show: hidden rows, merged cells, formulas."""
    hidden: list[int] = []
    merged: list[str] = []
    formulas = 0
    with zipfile.ZipFile(io.BytesIO(data)) as archive, archive.open(sheet._worksheet_path) as stream:
        kept = b""
        while part := stream.read(_PART):
            text, done = kept + part, len(part) < _PART
            edge = len(text) if done else len(text) - _OVERLAP  # what begins behind it is looked at with the next part
            hidden += [int(found[1]) for found in _HIDDEN.finditer(text) if found.start() < edge]
            merged += [found[1].decode() for found in _MERGED.finditer(text) if found.start() < edge]
            formulas += sum(found.start() < edge for found in _FORMULA.finditer(text))
            kept = b"" if done else text[edge:]
    said = []
    if hidden:
        shown = ", ".join(str(line) for line in hidden[:5]) + (" …" if len(hidden) > 5 else "")
        rows = "1 row of the sheet is" if len(hidden) == 1 else f"{len(hidden)} rows of the sheet are"
        said.append(f"{rows} hidden and read like the others: {shown}.")
    if merged:
        shown = ", ".join(merged[:4]) + (" …" if len(merged) > 4 else "")
        said.append(f"{len(merged)} merged cell{'' if len(merged) == 1 else 's'}, the value read at the first only: {shown}.")
    if formulas:
        said.append(f"{formulas} formula{'' if formulas == 1 else 's'}, read by the stored result.")
    return said


def first_texts(data: bytes) -> list[str]:
    """Return the texts of the first row of a workbook's first sheet, without reading on; [] when it cannot be opened."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
            rows = book.worksheets[0].iter_rows(max_row=1, values_only=True)
            return ["" if value is None else text_of(value) for value in next(rows, ())]
    except (zipfile.BadZipFile, ParseError, KeyError, ValueError, IndexError, TypeError, AttributeError, EOFError):
        return []


def choose_sheet(sheets: Sequence[tuple[str, bool, Callable[[], Sheet]]], wanted: str) -> tuple[Rows, str]:
    """Read the sheet that is wanted, or the first visible one that has anything in it.

    Args:
        sheets: Of each the name, whether it is visible, and what reads its values and lines.
        wanted: A name; "" to choose here.

    Raises:
        UnreadableFile: There is no such sheet, or nothing in any.
    """
    names = [name for name, _, _ in sheets]
    about = next((read for name, _, read in sheets if name == ABOUT), None)
    if wanted and wanted not in names:
        raise UnreadableFile(f"There is no sheet {wanted!r} in the workbook; {near(wanted, names)}")
    remarks: list[str] = []
    for name, visible, read in sheets:
        if wanted and name != wanted:
            continue
        if not wanted and not visible:
            remarks.append(f"The sheet “{name}” is hidden and was not read.")
            continue
        values, lines = read()
        if wanted or any(any(row) for row in values):
            others = [other for other in names if other != name]
            if others:
                remarks.append(f"Read is the sheet “{name}”; there are {len(others)} more: {', '.join(others)}.")
            made_for = find_made_for([text for row in about()[0][:5] for text in row]) if about is not None else ""
            return Rows(values, lines, remarks, made_for), name
    raise UnreadableFile("The workbook has nothing in it.", "Ask for it again; perhaps the export had not finished.")


def _read_values(sheet: Any) -> tuple[list[list[str]], list[int]]:
    values: list[list[str]] = []
    lines: list[int] = []
    cells = 0
    sheet.reset_dimensions()  # what the sheet says of its own size is often wrong, and can be made to lie
    for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
        texts = ["" if value is None else text_of(value) for value in row]
        while texts and not texts[-1]:
            texts.pop()
        cells += len(row) + 1
        if len(texts) > MOST_COLUMNS:
            raise UnreadableFile(f"The sheet is {len(texts):,} columns wide; at most {MOST_COLUMNS:,} are read.")
        if cells > MOST_CELLS:
            raise UnreadableFile(f"The sheet has over {MOST_CELLS:,} cells.", "Send it as CSV, or in parts.")
        values.append(texts)
        lines.append(number)
    return values, lines


def text_of(value: Any) -> str:
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
        return day if value.time() == time() else f"{day} {value.time().isoformat(timespec='seconds')}"
    if isinstance(value, (date, time)):
        return value.isoformat()
    if isinstance(value, timedelta):
        return str(value)
    return str(value)
