"""The old binary workbook (.xls): a sheet into rows of texts, in the same forms as `workbook`.

Source: [MS-XLS], read by the library; which days count from 1904 the workbook says itself.
"""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

import xlrd

from nevefield.core.borders import Foreign
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows
from nevefield.core.reading.grid import Grid
from nevefield.core.reading.workbook import choose_sheet, text_of

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["read_old_workbook"]


def read_old_workbook(
    data: bytes, wanted: str = "", known: frozenset[str] = frozenset()
) -> tuple[Grid, str]:
    """Read one sheet; see `read_workbook`.

    Raises:
        UnreadableFile: The workbook is damaged, encrypted, a document of another program, or has no
            such sheet.
    """
    try:
        book = xlrd.open_workbook(file_contents=data, logfile=io.StringIO(), on_demand=True)
        sheets = [
            (sheet.name, sheet.visibility == 0, _reader(book, sheet)) for sheet in book.sheets()
        ]
    except xlrd.XLRDError as error:
        message = str(error)
        if "encrypt" in message or "password" in message:
            raise UnreadableFile(
                "The workbook is encrypted with a password.",
                "Save it again without the password, then drop it here.",
            ) from error
        if "find workbook" in message.casefold():
            raise UnreadableFile(
                "This is a document in an old binary format, not a workbook.",
                "Ask for a workbook or a CSV file.",
            ) from error
        raise _damaged() from error
    except Exception as error:  # the library raises whatever a broken record makes it do
        raise _damaged() from error
    return choose_sheet(sheets, wanted, known)


def _damaged() -> UnreadableFile:
    return UnreadableFile("The workbook is damaged.", "Open it, save it again and drop it here.")


def _reader(book: Foreign, sheet: Foreign) -> Callable[[int | None], Grid]:
    def read(most: int | None) -> Grid:
        values = [
            [_text(book, cell) for cell in sheet.row(row)]
            for row in range(min(sheet.nrows, most or sheet.nrows))
        ]
        for row in values:
            while row and not row[-1]:
                row.pop()
        return Grid.of(Rows(values, list(range(1, len(values) + 1)), []))

    return read


def _text(book: Foreign, cell: Foreign) -> str:
    if cell.ctype == xlrd.XL_CELL_DATE:
        try:
            return text_of(xlrd.xldate_as_datetime(cell.value, book.datemode))
        except (xlrd.xldate.XLDateError, OverflowError, ValueError):
            return text_of(cell.value)
    if cell.ctype == xlrd.XL_CELL_BOOLEAN:
        return "true" if cell.value else "false"
    if cell.ctype == xlrd.XL_CELL_ERROR:
        return str(xlrd.error_text_from_code.get(cell.value, "#N/A"))
    return text_of(cell.value)
