"""What is kept of a file that holds secrets, or rows of somebody who was erased: its rows
without their values, in a form of our own, never the file itself.
"""

from __future__ import annotations

import gzip
import json
from dataclasses import asdict
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.erasing import ERASED
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows
from nevefield.core.reading.grid import Grid
from nevefield.core.reading.reading import (
    Found,
    Opened,
    ReadingChoice,
    lay_out,
    open_file,
    read_file,
)

if TYPE_CHECKING:
    from collections.abc import Collection

    from nevefield.core.erasing import Telling
    from nevefield.core.reading.reading import Reading
    from nevefield.core.table import Table

__all__ = ["keep_without_people", "keep_without_secrets", "read_kept"]


def keep_without_secrets(
    data: bytes, choice: ReadingChoice | None = None, known: frozenset[str] = frozenset()
) -> bytes | None:
    """Make the form in which a file with secrets is kept.

    Args:
        data: The file.
        choice: How to read it.
        known: Names that headings may have.

    Returns:
        All lines of the sheet that is read, each with its number, the cells of secrets empty; None
        for a file without secrets, which is kept as it is.

    Raises:
        UnreadableFile: It is no table.
    """
    table, reading = read_file(data, choice, known)
    if not reading.secrets:
        return None
    return _pack(_lay_open(data, choice, known, table, reading))


def keep_without_people(
    data: bytes,
    choice: ReadingChoice | None = None,
    known: frozenset[str] = frozenset(),
    *,
    lines: Collection[int] = (),
    telling: Telling | None = None,
    is_kept: bool = False,
) -> tuple[bytes, int] | None:
    """Make the form in which a file is kept from which somebody was erased.

    Args:
        data: The file, or what is kept of it.
        choice: How to read it.
        known: Names that headings may have.
        lines: The lines of their rows.
        telling: Finds further rows, and notes, that are about them.
        is_kept: Whether it is what is kept of it.

    Returns:
        All lines of the sheet, those of the person with `ERASED` in each cell that had something,
        and how many there are; None where none is about them.

    Raises:
        UnreadableFile: It is no table.
    """
    if is_kept:
        document = json.loads(gzip.decompress(data))
    else:
        table, reading = read_file(data, choice, known)
        document = _lay_open(data, choice, known, table, reading)
    erased = 0
    for values, line in zip(document["values"], document["lines"], strict=True):
        is_theirs = line in lines or (telling is not None and telling.are_of(values))
        if is_theirs and any(values):
            # in each cell that had something: so it stays a row of the table, with its line
            values[:] = [text and ERASED for text in values]
            erased += 1
    return (_pack(document), erased) if erased else None


def _lay_open(
    data: bytes,
    choice: ReadingChoice | None,
    known: frozenset[str],
    table: Table,
    reading: Reading,
) -> dict[str, Json]:
    """Lay all lines of a sheet open, the cells of secrets empty."""
    opened = open_file(data, choice or ReadingChoice(), known)
    places = [table.headings.index(heading) for heading in reading.secrets]
    rows = opened.grid.rows(range(len(opened.grid)))
    lines = {int(line) for line in table.lines} | {
        line.line for line in reading.not_data if line.kind != "header"
    }
    for values, line in zip(rows, opened.grid.lines.tolist(), strict=True):
        if line in lines and (reading.header_line is None or line > reading.header_line):
            for place in places:
                if place + reading.left < len(values):
                    values[place + reading.left] = ""
    return {
        "found": asdict(opened.found),
        "headings": opened.headings,
        "remarks": [*opened.grid.remarks, *opened.remarks],
        "secrets": places,
        "lines": opened.grid.lines.tolist(),
        "values": rows,
    }


def _pack(document: dict[str, Json]) -> bytes:
    # No name and no time in the header: the same file is kept as the same bytes.
    return gzip.compress(
        json.dumps(document, ensure_ascii=False).encode(), compresslevel=6, mtime=0
    )


def read_kept(
    kept: bytes, choice: ReadingChoice | None = None, known: frozenset[str] = frozenset()
) -> tuple[Table, Reading]:
    """Read what `keep_without_secrets` made; header and notes can be overruled, what the file
    itself decided cannot.

    Raises:
        UnreadableFile: The choice is about the file itself, or cannot be followed.
    """
    choice = choice or ReadingChoice()
    document = json.loads(gzip.decompress(kept))
    found = Found(**document["found"])
    if (
        (choice.sheet or found.sheet) != found.sheet
        or choice.encoding
        or (choice.separator or found.separator) != found.separator
    ):
        raise UnreadableFile(
            "The file held secrets, so only the rows that were read are kept, not the file.",
            "Drop the file again to read it in another way.",
        )
    grid = Grid.of(Rows(document["values"], document["lines"], document["remarks"]))
    return lay_out(
        Opened(grid, document["headings"], found), choice, known, tuple(document["secrets"])
    )
