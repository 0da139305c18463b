"""A workbook's sheet into rows of texts.

Days come as `2026-09-01` (with ` 14:30:00` unless midnight), whole numbers without a point, yes and no as `true` and
`false`, a formula by its stored result, an error by its text.
"""

from __future__ import annotations

import io
import warnings
import zipfile
from datetime import date, datetime, time, timedelta
from functools import partial
from typing import TYPE_CHECKING, Any
from xml.etree.ElementTree import ParseError

import openpyxl

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows
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
            return choose_sheet(sheets, wanted)
    except (zipfile.BadZipFile, ParseError, KeyError, ValueError, IndexError, TypeError, AttributeError, EOFError) as error:
        raise UnreadableFile("The workbook is damaged.", "Open it, save it again and drop it here.") from error


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
            return Rows(values, lines, remarks), name
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
