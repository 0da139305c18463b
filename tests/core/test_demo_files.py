"""The whole core on every sample file, against the truth about it."""

from __future__ import annotations

import json
from collections import Counter
from datetime import date

import pytest

from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Evaluation, Inputs, evaluate
from nevefield.core.people.recognising import DECISIONS
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.core.tally import OUTCOMES

TODAY = date(2026, 9, 1)
FILES = [
    "september-joiners.xlsx",
    "cadets-full-autumn.csv",
    "hr-staff-extract.csv",
    "fellows-renewals.xls",
    "gate-dump.txt",
]


def work_out(made, file: str, steps=()) -> tuple[Evaluation, dict]:
    """Evaluate a sample file against its roster; and the truth about it."""
    truth = json.loads((made / f"{file.rsplit('.', 1)[0]}.truth.json").read_text())
    content = json.loads((made / f"roster-{truth.get('roster', 'cadets')}.json").read_text())
    definition = read_definition(content["definition"])
    records = content["records"]
    snapshot = Snapshot.of_values(definition, list(range(1, len(records) + 1)), records, 1)
    codes = read_codes((made / "codes.csv").read_text())
    data = (made / file).read_bytes()
    return (
        evaluate(
            Inputs(
                data,
                steps,
                definition,
                codes,
                snapshot,
                TODAY,
                coverage=truth.get("coverage", "listed"),
            )
        ),
        truth,
    )


@pytest.fixture(scope="module", params=FILES)
def worked(request, made) -> tuple[Evaluation, dict]:
    """One sample file after another."""
    return work_out(made, request.param)


def test_reading_is_true(worked):
    """Header, notes, blanks, ends, encoding, separator and secrets are what the truth says, with
    nothing overruled.
    """
    evaluation, truth = worked
    found: dict[str, list[int]] = {}
    for one in evaluation.reading.not_data:
        found.setdefault(one.kind, []).append(one.line)
    assert found == truth["not_data"]
    assert evaluation.reading.header_line == truth["header_line"]
    for name in ("encoding", "separator", "sheet"):
        assert getattr(evaluation.reading, name) == truth.get(
            name, getattr(evaluation.reading, name)
        )
    assert list(evaluation.reading.secrets) == truth.get("secrets", [])


def test_columns_go_right(worked):
    """Every column goes to its field, and what no field takes stays in the file."""
    evaluation, truth = worked
    if "columns" in truth:
        found = {pair.heading: pair.field or "" for pair in evaluation.pairs}
        assert found == truth["columns"]


def test_planted_alone(worked):
    """What is planted is found where it was planted, and nothing else stops a row or asks."""
    evaluation, truth = worked
    found = Counter(
        (finding.line, finding.field, finding.check, finding.weight)
        for cause in evaluation.causes
        for finding in iter_findings(cause, evaluation.facts)
        if finding.weight != "note"
    )
    assert found == Counter(
        (one["line"], one["field"], one["check"], one["weight"]) for one in truth["planted"]
    )


def test_outcomes_are_true(worked):
    """Every line has its outcome, and the tally is the truth's."""
    evaluation, truth = worked
    outcomes = {
        str(line): OUTCOMES[one]
        for line, one in zip(evaluation.table.lines, evaluation.outcomes, strict=True)
    }
    assert {
        line: (outcomes[line], one)
        for line, one in truth["outcomes"].items()
        if outcomes[line] != one
    } == {}
    assert evaluation.tally.to_json() == truth["tally"]
    assert sorted(map(str, evaluation.snapshot.keys(evaluation.absent))) == truth.get("absent", [])


def test_consequences_are_folded(made):
    """The watch without its captain follows from the mistyped position code, and vanishes with
    it.
    """
    evaluation, truth = work_out(made, "cadets-full-autumn.csv")
    by_id = {cause.id: cause for cause in evaluation.causes}
    (lead,) = (cause for cause in evaluation.causes if cause.hit.check == "lead")
    assert [by_id[one].hit.check for one in lead.follows] == ["code"]
    assert lead.hit.title.endswith(f"{truth['captain']['watch']}: without its lead")
    step = read_step(
        {"kind": "translate", "field": "watch_position", "texts": ["CAPTT"], "to": "CAPT"}
    )
    after, _ = work_out(made, "cadets-full-autumn.csv", [step])
    assert [cause.hit.check for cause in after.causes if cause.hit.weight != "note"] == []


def test_few_causes_for_many_findings(made):
    """The causes that somebody has to touch are at most an eighth of the findings on the
    September file, notes and all.
    """
    evaluation, _ = work_out(made, "september-joiners.xlsx")
    findings = sum(1 for cause in evaluation.causes for _ in iter_findings(cause, evaluation.facts))
    touched = sum(
        cause.is_open and cause.hit.weight != "note" and not cause.follows
        for cause in evaluation.causes
    )
    assert touched * 8 <= findings


def test_regatta_people_are_known(made):
    """Of people without numbers, everybody whom something tells beyond doubt is known, and only
    the others are asked about.
    """
    evaluation, truth = work_out(made, "regatta-crew.csv")
    people = evaluation.facts.people
    for row, line in enumerate(evaluation.table.lines.tolist()):
        record = int(evaluation.known.record[row])
        key = evaluation.snapshot.keys([record])[0] if record >= 0 else None
        decision = DECISIONS[people.decision[row]]
        if line in truth["asked"]:
            assert (decision, key) == ("possible", None), line
            candidates = [
                evaluation.snapshot.keys([one])[0] for one, _, _ in people.candidates(row)
            ]
            assert truth["people"][str(line)] in (None, *candidates)
        else:
            assert key == truth["people"][str(line)], (line, truth["kinds"][str(line)])
    turned = next(cause for cause in evaluation.causes if cause.hit.check == "names-turned")
    lines = [line for line, kind in truth["kinds"].items() if kind == "names changed places"]
    assert [str(line) for line in evaluation.table.lines[turned.open_rows]] == lines
