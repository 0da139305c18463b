"""The error sheet: problem rows out to the office that they came from, and the corrected sheet
back onto the same rows.
"""

from __future__ import annotations

import csv
import io
import re
import zipfile
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np
import xlsxwriter

from nevefield.core.checking.causes import iter_findings
from nevefield.core.reading.kinds import BROKEN_ARCHIVE
from nevefield.core.tally import STOPPED, WAITING
from nevefield.core.texts import bare_cell, read_whole, safe_cell, trim
from nevefield.intakes.errors import WrongSheet
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step
from nevefield.rosters.looking import Export

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.context import Context
    from nevefield.core.evaluate import Evaluation

__all__ = [
    "Corrections",
    "mark_of_content",
    "mark_of_file",
    "take_corrections",
    "write_error_sheet",
]

_LINE_OF = re.compile(r"\W*line of .{1,255} #([0-9a-f]{8})\b", re.IGNORECASE)
# bytes that an error sheet may unpack to; ours are a tenth of it at most
MOST_OF_SHEET = 50_000_000
_WHY = "what is wrong"
_SIGNS = {"stop": "STOP", "ask": "ASK"}
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@dataclass(frozen=True)
class Corrections:
    """What a corrected sheet brought."""

    # lines that had a problem, were altered, and go in now
    corrected: list[int] = field(default_factory=list)
    # lines that were altered and still do not go in
    altered: list[int] = field(default_factory=list)
    # lines with a problem that came back as they were
    untouched: list[int] = field(default_factory=list)
    beside: int = 0  # altered cells that had no problem
    missing: list[int] = field(default_factory=list)  # lines with a problem that did not come back
    # rows of the sheet that are no row of the file: not taken
    added: list[str] = field(default_factory=list)
    step: int | None = None


def mark_of_content(digest: bytes) -> str:
    """Shorten the SHA-256 of a file to the mark by which its error sheet is known again."""
    return digest.hex()[:8]


def mark_of_sheet(headings: Sequence[str]) -> str:
    """Find the mark of the file that an error sheet is of, in its first heading; "" for any
    other file.
    """
    matched = _LINE_OF.fullmatch(trim(headings[0])) if headings else None
    return matched[1].lower() if matched else ""


def mark_of_file(context: Context, data: bytes, account_id: int | None) -> str:
    """Find the mark of the file that bytes are the error sheet of, from the first heading alone."""
    if data.startswith(b"PK"):
        unpacked = sum(member.file_size for member in _members(data))
        return (
            mark_of_sheet(context.readers.first_texts(data, account=account_id))
            if unpacked <= MOST_OF_SHEET
            else ""
        )
    matched = _LINE_OF.match(data[:400].decode("utf-8", "ignore"))
    return matched[1].lower() if matched else ""


def _members(data: bytes) -> list[zipfile.ZipInfo]:
    try:
        return zipfile.ZipFile(io.BytesIO(data)).infolist()
    except BROKEN_ARCHIVE:
        return []


def write_error_sheet(
    evaluation: Evaluation, file_name: str, digest: bytes, title: str, kind: str
) -> Export:
    """Write the rows that are stopped or wait, in the file's own columns and order, with lines and
    messages.

    Args:
        evaluation: Of the intake.
        file_name: Of the file that came.
        digest: Its SHA-256: the sheet carries its beginning, by which it is known when it comes
            back.
        title: For the file's name.
        kind: `xlsx` or `csv`.
    """
    rows = np.flatnonzero((evaluation.outcomes == STOPPED) | (evaluation.outcomes == WAITING))
    notes = _messages(evaluation, rows)
    headings = [f"line of {file_name} #{mark_of_content(digest)}", *evaluation.table.headings, _WHY]
    name = re.sub(r"[^\w.-]+", "-", title).strip("-") or "file"
    if kind == "xlsx":
        return Export(_workbook(evaluation, rows, headings, notes), _XLSX, f"{name}-errors.xlsx")
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(headings)
    for row in rows.tolist():
        texts = [
            str(evaluation.table.lines[row]),
            *_texts(evaluation, row),
            _why(notes.get(row, [])),
        ]
        writer.writerow([safe_cell(text) for text in texts])
    return Export(
        b"\xef\xbb\xbf" + out.getvalue().encode(), "text/csv; charset=utf-8", f"{name}-errors.csv"
    )


def _messages(evaluation: Evaluation, rows: Any) -> dict[int, list[tuple[str, str | None, str]]]:
    """List weight, field and message of what stops or asks, by row."""
    messages: dict[int, list[tuple[str, str | None, str]]] = {}
    for cause in evaluation.causes:
        if cause.hit.weight == "note":
            continue
        chosen = np.intersect1d(cause.open_rows, rows)
        for finding in iter_findings(cause, evaluation.facts, chosen):
            messages.setdefault(finding.row, []).append(
                (finding.weight, finding.field, finding.message)
            )
    return messages


def _why(notes: list[tuple[str, str | None, str]]) -> str:
    return " ".join(f"{_SIGNS[weight]}: {message}" for weight, _, message in notes)


def _texts(evaluation: Evaluation, row: int) -> list[str]:
    """Write a row's texts as they stand now: the file's, with what was edited since."""
    texts = []
    for place, pair in enumerate(evaluation.pairs):
        typed = evaluation.facts.typed.get(pair.field) if pair.field else None
        texts.append(
            (typed.raw.at(row) if typed else evaluation.table.columns[place].at(row)) or ""
        )
    return texts


def _workbook(
    evaluation: Evaluation,
    rows: Any,
    headings: list[str],
    notes: dict[int, list[tuple[str, str | None, str]]],
) -> bytes:
    out = io.BytesIO()
    options = {
        "in_memory": True,
        "strings_to_formulas": False,
        "strings_to_urls": False,
        "strings_to_numbers": False,
    }
    book = xlsxwriter.Workbook(out, options)
    sheet = book.add_worksheet("Errors")
    bold = book.add_format({"bold": True, "bottom": 1})
    # A thick frame for what stops, a dashed one for what asks: the colour only helps.
    formats = {
        "stop": book.add_format(
            {"border": 2, "border_color": "#C2452D", "bg_color": "#FBEAE5", "num_format": "@"}
        ),
        "ask": book.add_format(
            {"border": 3, "border_color": "#7A5606", "bg_color": "#FAF1DA", "num_format": "@"}
        ),
    }
    plain = book.add_format({"num_format": "@"})
    places = {pair.field: place + 1 for place, pair in enumerate(evaluation.pairs) if pair.field}
    for column, heading in enumerate(headings):
        sheet.write_string(0, column, heading, bold)
    for number, row in enumerate(rows.tolist(), 1):
        marks: dict[int, tuple[str, str]] = {}
        for weight, name, message in notes.get(row, []):
            place = places.get(name or "", 0)
            before = marks.get(place, ("ask", ""))
            marks[place] = (
                "stop" if "stop" in (weight, before[0]) else "ask",
                f"{before[1]} {_SIGNS[weight]}: {message}".strip(),
            )
        sheet.write_number(number, 0, int(evaluation.table.lines[row]))
        for column, text in enumerate(_texts(evaluation, row), 1):
            sheet.write_string(
                number, column, text, formats[marks[column][0]] if column in marks else plain
            )
        for column, (_, message) in marks.items():
            sheet.write_comment(number, column, message[:1000], {"x_scale": 2})
        sheet.write_string(number, len(headings) - 1, _why(notes.get(row, [])))
    sheet.freeze_panes(1, 1)
    sheet.set_column(0, len(headings) - 2, 16)
    sheet.set_column(len(headings) - 1, len(headings) - 1, 80)
    book.close()
    return out.getvalue()


def take_corrections(
    context: Context, intake_id: int, data: bytes, account_id: int | None
) -> Corrections:
    """Take a corrected error sheet in: cells that were altered become one step on the same rows.

    Raises:
        UnreadableFile: It is no table.
        WrongSheet: It is no error sheet, or that of another intake.
    """
    table, _ = context.readers.read(data, account=account_id)
    mark = mark_of_sheet(table.headings)
    opened = open_intake(context, intake_id)
    if mark != mark_of_content(opened.intake.file_hash):
        raise WrongSheet(mark, opened.intake.file_name)
    before = opened.evaluation
    problems = {
        int(before.table.lines[row])
        for row in np.flatnonzero((before.outcomes == STOPPED) | (before.outcomes == WAITING))
    }
    wrong = {
        (row, name)
        for row, notes in _messages(before, np.arange(len(before.table))).items()
        for _, name, _ in notes
    }
    columns = [
        (table.headings.index(pair.heading), place)
        for place, pair in enumerate(before.pairs)
        if pair.field and pair.heading in table.headings
    ]
    cells: list[dict[str, Any]] = []
    added, came, beside = [], set(), 0
    for index in range(len(table)):
        values = table.row(index)
        number = read_whole(values[0])
        row = before.row_of(number) if number is not None else None
        if row is None:
            added.append(f"line {table.lines[index]} of the sheet")
            continue
        line = int(before.table.lines[row])
        came.add(line)
        now = _texts(before, row)
        for theirs, place in columns:
            name = before.pairs[place].field
            if trim(bare_cell(values[theirs])) != trim(now[place]):
                cells.append(
                    {"line": line, "field": name, "value": trim(bare_cell(values[theirs]))}
                )
                beside += (row, name) not in wrong
    step = (
        add_step(context, intake_id, {"kind": "set", "cells": cells}, account_id) if cells else None
    )
    after = open_intake(context, intake_id).evaluation
    touched = {int(cell["line"]) for cell in cells}
    still = {
        int(after.table.lines[row])
        for row in np.flatnonzero((after.outcomes == STOPPED) | (after.outcomes == WAITING))
    }
    return Corrections(
        corrected=sorted((problems & touched) - still),
        altered=sorted(touched & still),
        untouched=sorted((problems & came) - touched),
        beside=beside,
        missing=sorted(problems - came),
        added=added,
        step=step,
    )
