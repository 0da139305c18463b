"""`joiners-corrected.xlsx`: the error sheet of the September file as the admissions office sends
it back, mostly corrected.
"""

from __future__ import annotations

import hashlib
import io
import re
import zipfile
from datetime import date
from typing import Any

import openpyxl

from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.intakes.sheets import write_error_sheet

__all__ = ["make_corrected"]

TODAY = date(2026, 9, 1)
LEFT = 3  # rows that come back as they were
MOVED = "North Quay"  # where one row without a fault in that cell is moved to


def make_corrected(
    workbook: bytes,
    truth: dict[str, Any],
    document: dict[str, Any],
    cadets: list[dict[str, Any]],
    codes: dict[str, Any],
) -> tuple[bytes, dict[str, Any]]:
    """Make the sheet and its truth: which lines were put right, which came back as they were, what
    else was altered.

    The wrong programmes and home ports and the two wrong numbers are put right; one row of those
    comes back untouched, with those that only ask; one cell that was right is altered, and one row
    is added that the file does not have.
    """
    definition = read_definition(document)
    snapshot = Snapshot.of_values(definition, list(range(1, len(cadets) + 1)), cadets, 1)
    evaluation = evaluate(Inputs(workbook, [], definition, codes, snapshot, TODAY))
    sheet = write_error_sheet(
        evaluation,
        "september-joiners.xlsx",
        hashlib.sha256(workbook).digest(),
        "September joiners",
        "xlsx",
    ).content
    book = openpyxl.load_workbook(io.BytesIO(sheet))
    page = book.worksheets[0]
    columns = {page.cell(1, column).value: column for column in range(1, page.max_column + 1)}
    headings = {"programme": "Course", "home_port": "Home Port", "cadet_number": "Cadet No."}
    planted: dict[int, set[str]] = {}
    for one in truth["planted"]:
        planted.setdefault(one["line"], set()).add(one["field"])
    altered: dict[int, set[str]] = {}
    left = sorted(int(line) for line in truth["right"])[:LEFT]
    moved = None
    for row in range(2, page.max_row + 1):
        line = int(page.cell(row, 1).value)
        for field, value in truth["right"].get(str(line), {}).items():
            if line not in left:
                page.cell(row, columns[headings[field]]).value = value
                altered.setdefault(line, set()).add(field)
        if moved is None and line in altered and page.cell(row, columns["Site"]).value != MOVED:
            page.cell(row, columns["Site"]).value = MOVED
            moved = line
    page.append(["99999", "TQ9999990", "Stray"])
    out = io.BytesIO()
    book.save(out)
    settled = sorted(line for line, fields in altered.items() if planted[line] <= fields)
    return _timeless(out.getvalue()), {
        "file": "joiners-corrected.xlsx",
        "of": "september-joiners.xlsx",
        "corrected": settled,
        "altered": sorted(set(altered) - set(settled)),
        "untouched": sorted(set(planted) - set(altered)),
        "beside": 1,
        "moved": moved,
        "added": 1,
    }


def _timeless(workbook: bytes) -> bytes:
    """Pack a workbook again without the moment at which it was saved, so that the same seed
    gives the same bytes.
    """
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(workbook)) as saved,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed,
    ):
        for name in saved.namelist():
            content = saved.read(name)
            if name == "docProps/core.xml":
                content = re.sub(rb"\d{4}-\d\d-\d\dT[\d:]+Z", b"2026-09-02T10:00:00Z", content)
            packed.writestr(zipfile.ZipInfo(name, (2026, 9, 2, 10, 0, 0)), content)
    return out.getvalue()
