"""Error sheet and request sheet through a real spreadsheet program and back."""

from __future__ import annotations

import io
import re

import openpyxl
import pytest

from nevefield.core.tally import OUTCOMES
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import receive_file
from nevefield.intakes.sheets import take_corrections, write_error_sheet
from tests.conftest import PREPARES
from tests.office import needs_office, open_and_save

pytestmark = needs_office
HEADINGS = {"programme": "Course", "home_port": "Home Port", "cadet_number": "Cadet No."}


@pytest.mark.parametrize("saved", ["xlsx", "csv"])
def test_error_sheet_is_corrected_there(desk, joiners, truth, tmp_path, saved):
    """Corrected in the program and saved as a workbook or as CSV, the sheet lands on the same
    rows, and on no other.
    """
    intake = receive_file(desk, "september-joiners.xlsx", joiners)
    opened = open_intake(desk, intake)
    sheet = write_error_sheet(
        opened.evaluation, "september-joiners.xlsx", opened.intake.file_hash, "x", "xlsx"
    ).content
    page = openpyxl.load_workbook(io.BytesIO(sheet)).worksheets[0]
    columns = {page.cell(1, column).value: column - 1 for column in range(1, page.max_column + 1)}
    rows = {str(page.cell(row, 1).value): row - 1 for row in range(2, page.max_row + 1)}
    cells = [
        (rows[line], columns[HEADINGS[field]], value)
        for line, values in truth["right"].items()
        for field, value in values.items()
    ]
    assert len(cells) == 24
    back = open_and_save(sheet, "xlsx", tmp_path / "office", cells, saved)
    found = take_corrections(desk, intake, back, None)
    assert (found.beside, found.missing, found.added) == (0, [], [])
    evaluation = open_intake(desk, intake).evaluation
    right = {
        (int(line), field): value
        for line, values in truth["right"].items()
        for field, value in values.items()
    }
    assert {
        one: evaluation.facts.typed[one[1]].stored.at(evaluation.row_of(one[0])) for one in right
    } == right
    planted = {one["line"] for one in truth["planted"] if (one["line"], one["field"]) not in right}
    still = {
        int(line)
        for line, outcome in zip(evaluation.table.lines, evaluation.outcomes, strict=True)
        if OUTCOMES[outcome] in ("stopped", "waiting")
    }
    assert still == planted


def test_request_sheet_keeps_its_choices(desk, browser, tmp_path):
    """Opened and saved there, the request sheet keeps its drop-down choices and notes; its
    example row is ignored on return.
    """
    own = browser(PREPARES)
    answer = own.send("GET", "/api/rosters/cadets/request-sheet", query_string={"format": "xlsx"})
    before = openpyxl.load_workbook(io.BytesIO(answer.data))
    saved = open_and_save(answer.data, "xlsx", tmp_path / "office")
    after = openpyxl.load_workbook(io.BytesIO(saved))
    assert after.sheetnames == before.sheetnames
    rules = [one.worksheets[0].data_validations.dataValidation for one in (before, after)]
    places = [
        {re.match(r"[A-Z]+", str(rule.sqref))[0]: _source(rule.formula1) for rule in some}
        for some in rules
    ]
    assert places[0]
    assert places[1] == places[0]
    notes = [
        sum(cell.comment is not None for row in one.worksheets[0].iter_rows() for cell in row)
        for one in (before, after)
    ]
    assert notes[1] == notes[0] > 0
    headings = [str(cell.value) for cell in after.worksheets[0][1]]
    places = {
        name: next(n for n, one in enumerate(headings) if one.startswith(name))
        for name in ("Cadet number", "Family name")
    }
    cells = [(2, places["Cadet number"], "TQ2099999"), (2, places["Family name"], "Adair")]
    filled = open_and_save(saved, "xlsx", tmp_path / "again", cells)
    intake = own.drop(filled, "request-back.xlsx").json["intake"]
    reading = own.get(f"/api/intakes/{intake}")
    assert reading["tally"]["read"] == 1
    assert [one["kind"] for one in reading["reading"]["not_data"]].count("example") == 1


def _source(formula: str) -> str:
    """Name the cells that choices come from, however the program quotes them."""
    return formula.replace("'", "").replace("$", "").replace(" ", "").replace(".", "!").lstrip("=")
