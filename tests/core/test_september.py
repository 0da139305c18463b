"""The whole core on the admissions office's file, against the truth about it."""

from __future__ import annotations

import json
from datetime import date

import pytest

from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Evaluation, Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.core.tally import OUTCOMES
from nevefield.intakes.remedies import step_for

TODAY = date(2026, 9, 1)


@pytest.fixture(scope="module")
def world(made):
    """Definition, code lists and roster of the cadets."""
    content = json.loads((made / "roster-cadets.json").read_text())
    definition = read_definition(content["definition"])
    records = content["records"]
    snapshot = Snapshot.of_values(definition, list(range(1, len(records) + 1)), records, 1)
    return definition, read_codes((made / "codes.csv").read_text()), snapshot


@pytest.fixture(scope="module", params=["xlsx", "csv"])
def data(request, made) -> bytes:
    """The same rows as a workbook and as text."""
    return (made / f"september-joiners.{request.param}").read_bytes()


def work_out(world, data: bytes, steps=()) -> Evaluation:
    definition, codes, snapshot = world
    return evaluate(
        Inputs(data, [read_step(step) for step in steps], definition, codes, snapshot, TODAY)
    )


def test_finds_planted_alone(world, data, truth):
    """Every planted problem is found where it was planted, and nothing else stops a row or asks."""
    evaluation = work_out(world, data)
    found = {
        (finding.line, finding.field, finding.check, finding.weight)
        for cause in evaluation.causes
        for finding in iter_findings(cause, evaluation.facts)
        if finding.weight != "note"
    }
    assert found == {
        (one["line"], one["field"], one["check"], one["weight"]) for one in truth["planted"]
    }


def test_outcomes_are_true(world, data, truth):
    """Every line has the outcome that it was planted with, and the tally adds up to the truth's."""
    evaluation = work_out(world, data)
    outcomes = {
        str(line): OUTCOMES[one]
        for line, one in zip(evaluation.table.lines, evaluation.outcomes, strict=True)
    }
    assert outcomes == truth["outcomes"]
    assert evaluation.tally.to_json() == truth["tally"]
    assert evaluation.tally.adds_up


def test_knows_people(world, data, truth):
    """Rows of cadets who are in the roster are known by their number; nobody else is."""
    evaluation = work_out(world, data)
    keys = evaluation.snapshot.keys(evaluation.known.record[evaluation.known.record >= 0])
    lines = evaluation.table.lines[evaluation.known.record >= 0].tolist()
    assert lines == truth["known"]
    assert keys == [truth["people"][str(line)] for line in lines]


def test_parts_data_from_rest(world, data, truth):
    """Notes, blank line, header and total are told apart from rows, each by its own line."""
    reading = work_out(world, data).reading
    found: dict[str, list[int]] = {}
    for one in reading.not_data:
        found.setdefault(one.kind, []).append(one.line)
    assert found == truth["not_data"]
    assert reading.header_line == truth["header_line"]


def test_takes_no_secret(world, data, truth):
    """The column of PINs is recognised; not one of its values is anywhere in what was read."""
    evaluation = work_out(world, data)
    assert list(evaluation.reading.secrets) == truth["secrets"]
    place = evaluation.table.headings.index("Portal PIN")
    assert evaluation.table.columns[place].texts() == [""]


def test_repairs_are_notes(world, data):
    """Spaces, names for codes and days that were put right are said as notes, and stop nothing."""
    causes = [cause for cause in work_out(world, data).causes if cause.hit.weight == "note"]
    assert {cause.hit.repair for cause in causes} >= {"spaces", "label", "day"}
    assert {cause.hit.field for cause in causes if cause.hit.repair == "spaces"} == {"family_name"}


def test_commonest_cause_frees_all(world, data, truth):
    """The commonest cause has 17 rows; its first remedy settles them all, with the values that
    are true.
    """
    before = work_out(world, data)
    cause = before.causes[0]
    assert (cause.hit.field, len(cause.hit.rows), cause.frees) == ("programme", 17, 17)
    remedy = cause.remedies[0]
    step = step_for(before, cause.id, remedy.kind, value=remedy.value, reason="", lines=None)
    after = work_out(world, data, [step])
    assert after.tally.stopped == before.tally.stopped - 17
    for line, right in truth["right"].items():
        if "programme" in right:
            assert after.facts.value(after.row_of(int(line)), "programme") == right["programme"]


def test_suggestions_are_true(world, data, truth):
    """Where a value is suggested for a planted mistake, it is the true one."""
    evaluation = work_out(world, data)
    suggested = {}
    for cause in evaluation.causes:
        for row in cause.hit.rows.tolist() if cause.hit.weight == "stop" else ():
            values = cause.hit.suggestions or cause.hit.row_suggestions.get(row, ())
            if len(values) == 1:
                suggested[str(evaluation.table.lines[row]), cause.hit.field] = values[0]
    for line, right in truth["right"].items():
        for field, value in right.items():
            assert suggested.get((line, field), value) == value
    # of two: one swap, one slip that nothing mends
    assert sum(field == "cadet_number" for _, field in suggested) == 1


def test_undo_goes_back(world, data):
    """A step that was undone counts for nothing, and doing it again counts again."""
    line = int(work_out(world, data).table.lines[3])
    hold = {"kind": "hold", "lines": [line], "reason": "letter due"}
    undo, redo = {"kind": "undo", "step": 1}, {"kind": "undo", "step": 2}
    assert work_out(world, data, [hold]).tally.held == 1
    assert work_out(world, data, [hold, undo]).tally == work_out(world, data).tally
    assert work_out(world, data, [hold, undo, redo]).tally.held == 1


def test_duplicate_kept_once(world, data, truth):
    """Keeping one of two rows of a person leaves the other out and lets the kept one in."""
    evaluation = work_out(world, data)
    cause = next(one for one in evaluation.causes if one.hit.check == "duplicate")
    first, second = evaluation.table.lines[cause.hit.rows].tolist()
    step = step_for(evaluation, cause.id, "keep", value=str(first), reason="", lines=None)
    after = work_out(world, data, [step])
    assert OUTCOMES[after.outcomes[after.row_of(first)]] == "new"
    assert OUTCOMES[after.outcomes[after.row_of(second)]] == "left_out"


def test_everybody_makes_absent(world, data, truth):
    """A file that claims everybody makes every record absent that none of its rows is, stopped
    rows included.
    """
    evaluation = work_out(world, data, [{"kind": "coverage", "of": "everybody"}])
    assert evaluation.tally.absent == len(evaluation.snapshot) - len(truth["known"])
