"""A workbook's sheet into rows of texts.

Days come as `2026-09-01` (with ` 14:30:00` unless midnight), whole numbers without a point, yes and no as `true` and
`false`, a formula by its stored result, an error by its text.
"""

from __future__ import annotations

import io
import warnings
import zipfile
from datetime import date, datetime, time, timedelta
from typing import Any
from xml.etree.ElementTree import ParseError

import openpyxl

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows
from nevefield.core.texts import near

__all__ = ["read_workbook"]

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
            return _read_sheet(book, wanted)
    except (zipfile.BadZipFile, ParseError, KeyError, ValueError, IndexError, TypeError, AttributeError, EOFError) as error:
        raise UnreadableFile("The workbook is damaged.", "Open it, save it again and drop it here.") from error


def _read_sheet(book: Any, wanted: str) -> tuple[Rows, str]:
    names = [sheet.title for sheet in book.worksheets]
    if wanted and wanted not in names:
        raise UnreadableFile(f"There is no sheet {wanted!r} in the workbook; {near(wanted, names)}")
    remarks: list[str] = []
    for sheet in book.worksheets:
        if wanted and sheet.title != wanted:
            continue
        if not wanted and sheet.sheet_state != "visible":
            remarks.append(f"The sheet “{sheet.title}” is hidden and was not read.")
            continue
        values, lines = _read_values(sheet)
        if wanted or any(any(row) for row in values):
            others = [name for name in names if name != sheet.title]
            if others:
                remarks.append(f"Read is the sheet “{sheet.title}”; there are {len(others)} more: {', '.join(others)}.")
            return Rows(values, lines, remarks), sheet.title
    raise UnreadableFile("The workbook has nothing in it.", "Ask for it again; perhaps the export had not finished.")


def _read_values(sheet: Any) -> tuple[list[list[str]], list[int]]:
    values: list[list[str]] = []
    lines: list[int] = []
    cells = 0
    sheet.reset_dimensions()  # what the sheet says of its own size is often wrong, and can be made to lie
    for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
        texts = ["" if value is None else _text_of(value) for value in row]
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


def _text_of(value: Any) -> str:
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
