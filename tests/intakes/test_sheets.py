"""The error sheet out and the corrected sheet back, onto the same rows."""

from __future__ import annotations

import csv
import io

import openpyxl
import pytest

from nevefield.core.checking.causes import iter_findings
from nevefield.core.tally import OUTCOMES
from nevefield.intakes.errors import WrongSheet
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import receive_file
from nevefield.intakes.sheets import (
    mark_of_content,
    mark_of_file,
    take_corrections,
    write_error_sheet,
)
from tests.conftest import APPROVES, LOOKS


@pytest.fixture
def intake(desk, joiners) -> int:
    return receive_file(desk, "september-joiners.xlsx", joiners)


def sheet(desk, intake: int, kind: str) -> list[list]:
    """The error sheet's cells as a spreadsheet would show them."""
    opened = open_intake(desk, intake)
    content = write_error_sheet(
        opened.evaluation, "september-joiners.xlsx", opened.intake.file_hash, "x", kind
    ).content
    assert mark_of_file(desk, content, None) == mark_of_content(opened.intake.file_hash)
    if kind == "csv":
        return list(csv.reader(io.StringIO(content.decode("utf-8-sig"), newline="")))
    return [
        ["" if cell is None else str(cell) for cell in row]
        for row in openpyxl.load_workbook(io.BytesIO(content)).active.iter_rows(values_only=True)
    ]


def write(rows: list[list], kind: str) -> bytes:
    """Save a sheet as a spreadsheet program would."""
    out = io.BytesIO()
    if kind == "csv":
        text = io.StringIO(newline="")
        csv.writer(text, delimiter=";").writerows(rows)
        return text.getvalue().encode("utf-8-sig")
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    book.save(out)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["xlsx", "csv"])
def test_sheet_has_the_problem_rows(desk, intake, truth, kind):
    """It has exactly the rows that are stopped or wait, with the file's headings, lines, texts
    and every message; no secret.
    """
    rows = sheet(desk, intake, kind)
    evaluation = open_intake(desk, intake).evaluation
    assert rows[0][1:-1] == list(evaluation.table.headings)
    lines = {
        line for line, outcome in truth["outcomes"].items() if outcome in ("stopped", "waiting")
    }
    assert {row[0] for row in rows[1:]} == lines
    planted = {(str(one["line"]), one["check"]) for one in truth["planted"]}
    messages = {
        (str(finding.line), finding.check): finding.message
        for cause in evaluation.causes
        for finding in iter_findings(cause, evaluation.facts)
        if finding.weight != "note"
    }
    why = {row[0]: row[-1] for row in rows[1:]}
    assert all(messages[one] in why[one[0]] for one in planted)
    assert all(text.startswith(("STOP: ", "ASK: ")) for text in why.values())
    assert {row[rows[0].index("Portal PIN")] for row in rows[1:]} == {""}


def test_cells_carry_their_messages(desk, intake, truth):
    """In the workbook each wrong cell has a note with its message and a frame of its own."""
    content = write_error_sheet(
        open_intake(desk, intake).evaluation, "x", b"1234", "x", "xlsx"
    ).content
    cells = openpyxl.load_workbook(io.BytesIO(content)).active
    headings = {cell.value: cell.column for cell in cells[1]}
    lines = {cells.cell(row, 1).value: row for row in range(2, cells.max_row + 1)}
    ports = [one for one in truth["planted"] if one["field"] == "home_port"]
    for one in ports:
        cell = cells.cell(lines[one["line"]], headings["Home Port"])
        assert cell.comment.text.startswith("STOP" if one["weight"] == "stop" else "ASK")
        assert cell.border.left.style == ("medium" if one["weight"] == "stop" else "dashed")
        assert cell.data_type == "s"


@pytest.mark.parametrize("kind", ["xlsx", "csv"])
def test_corrected_sheet_lands_on_its_rows(desk, intake, truth, kind):
    """What was corrected goes in with the true values, what was not is said, and undoing the one
    step takes all of it back.
    """
    rows = sheet(desk, intake, kind)
    before = open_intake(desk, intake).evaluation.tally
    programme, name = rows[0].index("Course"), rows[0].index("First names")
    right = {
        line: values["programme"]
        for line, values in truth["right"].items()
        if "programme" in values
    }
    for row in rows[1:]:
        if row[0] in right:
            row[programme] = right[row[0]]
    waiting = next(row for row in rows[1:] if truth["outcomes"][row[0]] == "waiting")
    waiting[name] = "Another"
    lost = rows.pop()  # a row that the office forgot to send back
    rows.append([*["99999" if place == 0 else text for place, text in enumerate(rows[1])]])
    found = take_corrections(desk, intake, write(rows, kind), None)
    assert [str(line) for line in found.corrected] == sorted(
        (line for line in right if line != lost[0]), key=int
    )
    assert found.altered == [int(waiting[0])]
    assert (found.beside, found.missing, len(found.added)) == (1, [int(lost[0])], 1)
    assert len(found.untouched) == before.stopped + before.waiting - len(found.corrected) - 2
    after = open_intake(desk, intake).evaluation
    assert after.tally.new == before.new + len(found.corrected)
    for line in found.corrected:
        row = after.row_of(line)
        assert OUTCOMES[after.outcomes[row]] == "new"
        assert after.facts.value(row, "programme") == right[str(line)]


def test_untouched_sheet_is_no_step(desk, intake):
    """A sheet that comes back as it went out alters nothing, formulas and phone numbers in it
    included.
    """
    for kind in ("xlsx", "csv"):
        found = take_corrections(desk, intake, write(sheet(desk, intake, kind), kind), None)
        assert (found.step, found.corrected, found.altered, found.beside) == (None, [], [], 0)


def test_sheet_of_another_file_is_refused(desk, intake, joiners, made):
    """The sheet of another file, or no error sheet, is refused in a sentence."""
    other = receive_file(desk, "autumn.csv", (made / "cadets-full-autumn.csv").read_bytes())
    with pytest.raises(WrongSheet, match="error sheet of another file than autumn"):
        take_corrections(desk, other, write(sheet(desk, intake, "xlsx"), "xlsx"), None)
    with pytest.raises(WrongSheet, match="no error sheet"):
        take_corrections(desk, intake, joiners, None)


def test_dropped_anywhere_finds_its_intake(desk, browser, intake):
    """A corrected sheet that is dropped anywhere goes to its intake, for who may prepare there,
    and makes no new one.
    """
    rows = sheet(desk, intake, "xlsx")
    rows[1][rows[0].index("Course")] = "DECK"
    own = browser(APPROVES)
    answer = own.drop(write(rows, "xlsx"), "corrected.xlsx").json
    assert answer["intake"] == intake
    assert answer["corrections"]["step"] == 1
    assert len(own.get("/api/intakes")["intakes"]) == 1
    assert browser(LOOKS).drop(write(rows, "xlsx"), "corrected.xlsx").status_code == 403
    sent = browser(LOOKS).send(
        "GET", f"/api/intakes/{intake}/errors", query_string={"format": "csv"}
    )
    assert (
        sent.headers["Content-Disposition"] == "attachment; filename=September-joiners-errors.csv"
    )
