"""OpenDocument spreadsheets (.ods): a sheet into rows of texts, in the same forms as `workbook`.

Source: OASIS OpenDocument 1.3, part 3, chapter 9 (tables) and 19.385 (office:value-type).
"""

from __future__ import annotations

import io
import zipfile
from typing import TYPE_CHECKING
from xml.etree import ElementTree

from nevefield.core.borders import Foreign
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows
from nevefield.core.reading.grid import Grid
from nevefield.core.reading.kinds import BROKEN_ARCHIVE
from nevefield.core.reading.sheet import MOST_CELLS
from nevefield.core.reading.sheet_cells import MOST_COLUMNS
from nevefield.core.reading.workbook import choose_sheet, text_of
from nevefield.core.texts import read_whole

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["read_opendocument"]

_OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
_TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
_TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"


def read_opendocument(
    data: bytes, wanted: str = "", known: frozenset[str] = frozenset()
) -> tuple[Grid, str]:
    """Read one sheet; see `read_workbook`.

    Raises:
        UnreadableFile: The workbook is damaged, too wide or too large, or has no such sheet.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            root = ElementTree.fromstring(archive.read("content.xml"))  # noqa: S314  # its size was looked at before
    except (*BROKEN_ARCHIVE, ElementTree.ParseError) as error:
        raise UnreadableFile(
            "The workbook is damaged.", "Open it, save it again and drop it here."
        ) from error
    hidden = {
        style.get("{urn:oasis:names:tc:opendocument:xmlns:style:1.0}name")
        for style in root.iter("{urn:oasis:names:tc:opendocument:xmlns:style:1.0}style")
        if any(part.get(f"{_TABLE}display") == "false" for part in style)
    }
    sheets = [
        (
            table.get(f"{_TABLE}name", ""),
            table.get(f"{_TABLE}style-name") not in hidden,
            _reader(table),
        )
        for table in root.iter(f"{_TABLE}table")
    ]
    return choose_sheet(sheets, wanted, known)


def _reader(table: Foreign) -> Callable[[int | None], Grid]:
    def read(most: int | None) -> Grid:
        values: list[list[str]] = []
        lines: list[int] = []
        line, cells = 1, 0
        for row in table.iter(f"{_TABLE}table-row"):
            if most is not None and len(values) >= most:
                break
            times = _times(row.get(f"{_TABLE}number-rows-repeated", "1"))
            texts = _texts(row)
            # An empty row that is repeated to the end of the sheet is nothing; of one between rows,
            # one is enough to be blank.
            for number in range(times if texts else min(times, 1)):
                values.append(texts)
                lines.append(line + number)
                cells += len(texts) + 1
                if cells > MOST_CELLS:
                    raise UnreadableFile(
                        f"The sheet has over {MOST_CELLS:,} cells.", "Send it as CSV, or in parts."
                    )
            if not texts and times < MOST_BLANK:
                values += [[]] * (times - 1)
                lines += range(line + 1, line + times)
            line += times
        return Grid.of(Rows(values[:most], lines[:most], []))

    return read


MOST_BLANK = 1_000  # blank rows in a run that are listed one by one


def _times(text: str) -> int:
    """Tell how often something is repeated; once where nobody can tell."""
    return read_whole(text, 9) or 1


def _texts(row: Foreign) -> list[str]:
    texts: list[str] = []
    for cell in row:
        if cell.tag not in (f"{_TABLE}table-cell", f"{_TABLE}covered-table-cell"):
            continue
        times = _times(cell.get(f"{_TABLE}number-columns-repeated", "1"))
        text = _text(cell)
        if not text and times > MOST_COLUMNS:
            times = 1  # the empty rest of the sheet
        if len(texts) + times > MOST_COLUMNS * 10:
            raise UnreadableFile(
                f"The sheet is over {MOST_COLUMNS:,} columns wide; at most so many are read."
            )
        texts += [text] * times
    while texts and not texts[-1]:
        texts.pop()
    if len(texts) > MOST_COLUMNS:
        raise UnreadableFile(
            f"The sheet is {len(texts):,} columns wide; at most {MOST_COLUMNS:,} are read."
        )
    return texts


def _text(cell: Foreign) -> str:
    kind = cell.get(f"{_OFFICE}value-type")
    shown = "\n".join("".join(part.itertext()) for part in cell.findall(f"{_TEXT}p"))
    if shown.startswith("#") and shown.rstrip("!?").isupper():
        return shown  # an error by its text
    if kind in ("float", "percentage", "currency"):
        try:
            return text_of(float(cell.get(f"{_OFFICE}value", "")))
        except ValueError:
            return shown
    if kind == "date":
        day, _, time = cell.get(f"{_OFFICE}date-value", "").partition("T")
        return day if not time or time.startswith("00:00:00") else f"{day} {time[:8]}"
    if kind == "boolean":
        return str(cell.get(f"{_OFFICE}boolean-value", ""))
    return shown
