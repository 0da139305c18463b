"""What must hold of every evaluation, whatever the file and the steps."""

from __future__ import annotations

import copy
import csv
import io
import json

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.changes.plan import plan_changes
from nevefield.core.checking.causes import iter_findings
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.reading import read_file
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import active_steps, decide, read_step
from nevefield.core.tally import OUTCOMES
from tests.core.world import CODES, DOCUMENT, ROSTER, SNAPSHOT, TODAY, outcomes, work_out
from tests.examples import part

FIELDS = ["no", "name", "mail", "dept", "prog", "born", "from", "to", "credits"]
CELLS = st.sampled_from(
    [
        "",
        "1",
        "2",
        "3",
        "7",
        "Ines",
        " Tove ",
        "ines@q.example",
        "x@",
        "NAV",
        "nav",
        "Deck",
        "MEN",
        "3.4.2010",
        "2026-09-01",
        "31/02/2027",
        "12,5",
        "no",
    ]
)
FILES = st.lists(st.lists(CELLS, min_size=len(FIELDS), max_size=len(FIELDS)), max_size=8)
LINES = st.lists(st.integers(1, 12), min_size=1, max_size=3)
STEPS = st.lists(
    st.one_of(
        st.builds(lambda lines: {"kind": "hold", "lines": lines, "reason": "asked"}, LINES),
        st.builds(lambda lines: {"kind": "leave_out", "lines": lines, "reason": "withdrew"}, LINES),
        st.builds(lambda lines: {"kind": "release", "lines": lines}, LINES),
        st.builds(
            lambda line, field, value: {
                "kind": "set",
                "cells": [{"line": line, "field": field, "value": value}],
            },
            st.integers(1, 12),
            st.sampled_from(FIELDS),
            CELLS,
        ),
        st.builds(
            lambda text: {"kind": "translate", "field": "dept", "texts": [text], "to": "NAV"}, CELLS
        ),
        st.builds(lambda value: {"kind": "fill", "field": "name", "value": value}, CELLS),
        st.builds(
            lambda of: {"kind": "coverage", "of": of}, st.sampled_from(["everybody", "listed"])
        ),
        st.builds(
            lambda line, record: {"kind": "person", "choices": [{"line": line, "record": record}]},
            st.integers(1, 12),
            st.sampled_from([11, 12, 13, 99, None]),
        ),
        st.builds(lambda lines: {"kind": "undecided", "lines": lines}, LINES),
        st.builds(
            lambda certain: {"kind": "limits", "certain": certain, "nobody": 1},
            st.sampled_from([50, 90, 100]),
        ),
        st.builds(lambda number: {"kind": "undo", "step": number}, st.integers(1, 6)),
    ),
    max_size=6,
)
PAIRS = st.builds(
    lambda heading, to: {"kind": "pair", "heading": heading, "field": to},
    st.sampled_from(FIELDS),
    st.sampled_from([*FIELDS, None]),
)
SPLITS = st.builds(
    lambda heading: {"kind": "split", "heading": heading, "at": " ", "into": ["name", "guardian"]},
    st.sampled_from(FIELDS),
)
ORDERS = st.builds(
    lambda field, order: {"kind": "date_order", "field": field, "order": order},
    st.sampled_from(["born", "from"]),
    st.sampled_from(["dmy", "mdy"]),
)
MARKS = st.builds(
    lambda mark: {"kind": "decimal_mark", "field": "credits", "mark": mark},
    st.sampled_from([",", "."]),
)
COMPOSED = st.builds(
    lambda letters: {
        "kind": "compose",
        "field": "guardian",
        "pattern": {"pieces": [{"field": "name", "letters": letters}]},
    },
    st.integers(0, 3),
)
READING_STEPS = st.one_of(PAIRS, SPLITS, ORDERS, MARKS, COMPOSED)
CHECKS = [
    {"check": "ended", "fields": ["to"]},
    {
        "check": "age",
        "fields": ["born"],
        "on": "2026-09-01",
        "least": 16,
        "when": {"field": "dept", "is": "NAV"},
    },
    {"check": "never-together", "fields": ["port"], "codes": ["NAV", "MEN"]},
    {"check": "overlap", "fields": ["from", "to"], "of": ["name"]},
    {"check": "compare", "fields": ["name", "guardian"], "how": "different"},
    {"check": "lead", "fields": [], "by": ["dept"], "lead": {"field": "prog", "is": "DECK"}},
    {"check": "group-size", "fields": [], "by": ["dept"], "most": 2},
    {"check": "absent-share", "fields": [], "most": 0.2},
]


@st.composite
def definitions(draw):
    """The crew's definition with other constraints, keys and checks."""
    document = copy.deepcopy(DOCUMENT)
    for one in document["fields"][1:]:
        limits = dict.fromkeys(draw(st.sets(st.sampled_from(["required", "unique"]))), True)
        if limits:
            one["constraints"] = limits
    document["nevefield"]["checks"] = draw(
        st.lists(st.sampled_from(CHECKS), unique_by=lambda one: one["check"], max_size=4)
    )
    document["nevefield"]["keys"] = draw(
        st.sampled_from([["no"], ["no", "mail"], [["no"], ["name", "born"]]])
    )
    up = {
        "fields": "guardian",
        "reference": {"resource": "", "fields": "no"},
        "nevefield": {"hierarchy": True},
    }
    document["foreignKeys"] = draw(st.sampled_from([[], [up]]))
    return read_definition(document)


def write(rows) -> str:
    out = io.StringIO(newline="")
    csv.writer(out).writerows([FIELDS, *rows])
    return out.getvalue()


@part(0.5)
@given(FILES, STEPS)
def test_no_row_is_lost(rows, steps):
    """Every row that is not blank has exactly one outcome; they add up; each stopped row has a
    finding that says why.
    """
    evaluation = work_out(write(rows), *steps)
    filled = [row for row in rows if any(cell.strip() for cell in row)]
    assert evaluation.tally.read == len(filled) == len(evaluation.outcomes)
    assert evaluation.tally.adds_up
    why = {
        finding.row
        for cause in evaluation.causes
        for finding in iter_findings(cause, evaluation.facts, cause.open_rows)
        if finding.weight == "stop"
    }
    stopped = set(np.flatnonzero(evaluation.outcomes == OUTCOMES.index("stopped")).tolist())
    assert stopped <= why
    # Nothing that stops lets its row in: it is stopped, or aside because an equal row above it is.
    assert {OUTCOMES[evaluation.outcomes[row]] for row in why - stopped} <= {"left_out"}


@part(0.5)
@given(FILES, STEPS)
def test_plan_is_the_outcomes(rows, steps):
    """The plan has the new and the changed rows and nothing else, and no two of its rows are one
    record.
    """
    evaluation = work_out(write(rows), *steps)
    plan = plan_changes(evaluation)
    going = [
        line for line, outcome in outcomes(evaluation).items() if outcome in ("new", "changed")
    ]
    assert plan.lines.tolist() == going
    records = plan.records[plan.records >= 0].tolist()
    assert len(records) == len(set(records))


@part(0.5)
@given(FILES, STEPS)
def test_applying_leaves_nothing(rows, steps):
    """Once the plan is in the roster, the same file changes nothing more: what went in is the
    same.
    """
    evaluation = work_out(write(rows), *steps)
    records = [dict(record) for record in ROSTER]
    plan = plan_changes(evaluation)
    for record, document in zip(plan.records.tolist(), plan.documents, strict=True):
        if record < 0:
            records.append(json.loads(document))
        else:
            records[record] = json.loads(document)
    after = work_out(
        write(rows),
        *steps,
        snapshot=Snapshot.of_values(SNAPSHOT.definition, list(range(len(records))), records, 5),
    )
    went_in = [
        line
        for line, outcome in outcomes(evaluation).items()
        if outcome in ("new", "changed", "same")
    ]
    assert all(outcomes(after)[line] == "same" for line in went_in)


@given(STEPS)
def test_undone_steps_count_for_nothing(steps):
    """Steps with each of them undone come to no steps at all."""
    plain = [read_step(step) for step in steps if step["kind"] != "undo"]
    undos = [read_step({"kind": "undo", "step": number}) for number in range(1, len(plain) + 1)]
    assert active_steps([*plain, *undos]) == []
    assert decide([*plain, *undos]) == decide([])


@part(0.5)
@given(FILES, st.permutations(FIELDS))
def test_order_of_columns_is_nothing(rows, order):
    """The same columns in another order come to the same outcomes."""
    places = [FIELDS.index(name) for name in order]
    out = io.StringIO(newline="")
    csv.writer(out).writerows([list(order), *([row[place] for place in places] for row in rows)])
    assert outcomes(work_out(out.getvalue())) == outcomes(work_out(write(rows)))


@part(0.25)
@given(definitions(), FILES, STEPS, st.lists(READING_STEPS, max_size=3), st.randoms())
def test_step_by_step_is_from_nothing(definition, rows, steps, more, chance):
    """Whatever definition, table and steps: step after step, each taking over what it does not
    touch, is as all at once.
    """
    steps = [*steps, *more]
    chance.shuffle(steps)
    text = write(rows)
    read = read_file(text.encode(), known=known_headings(definition))
    snapshot = Snapshot.of_values(definition, [11, 12, 13], ROSTER, 4)
    before = None
    for count in range(len(steps) + 1):
        parsed = [read_step(step) for step in steps[:count]]
        after = evaluate(
            Inputs(text.encode(), parsed, definition, CODES, snapshot, TODAY, read=read),
            before=before,
        )
        whole = evaluate(Inputs(text.encode(), parsed, definition, CODES, snapshot, TODAY))
        before = after.memo
        assert after.tally == whole.tally
        assert after.outcomes.tolist() == whole.outcomes.tolist()
        assert plan_changes(after).documents == plan_changes(whole).documents
        assert changes(after) == changes(whole)
        assert causes(after) == causes(whole)


def changes(evaluation) -> dict[str, list[int]]:
    return {name: rows.tolist() for name, rows in evaluation.changes.items()}


def causes(evaluation) -> list[tuple]:
    return [(one.id, one.open_rows.tolist(), one.remedies) for one in evaluation.causes]


def test_unfilled_fields_stay():
    """A field that the file does not fill is no change, and its value stays in the plan."""
    evaluation = work_out("no,name\n1,Ines Marie\n2,Tove\n")
    assert outcomes(evaluation) == {2: "changed", 3: "same"}
    (document,) = plan_changes(evaluation).documents
    assert '"mail":"ines@q.example"' in document
    assert '"name":"Ines Marie"' in document


def test_blank_cells_take_away_when_asked():
    """A blank cell takes a value away only when somebody says so, and then it is counted as a
    change of that field.
    """
    text = "no,name,credits\n1,Ines,\n"
    assert work_out(text).changes == {}
    evaluation = work_out(text, {"kind": "update", "field": "credits", "rule": "file"})
    assert {name: rows.tolist() for name, rows in evaluation.changes.items()} == {"credits": [0]}
    assert "credits" not in plan_changes(evaluation).documents[0]


def test_fill_fills_blanks():
    """A fill value goes where the cell is blank, or the whole column is missing, and nowhere
    else.
    """
    evaluation = work_out(
        "no,name,dept\n7,Kit,\n8,Kim,MEN\n",
        {"kind": "fill", "field": "dept", "value": "NAV"},
        {"kind": "fill", "field": "prog", "value": "DECK"},
    )
    assert [evaluation.facts.value(row, "dept") for row in (0, 1)] == ["NAV", "MEN"]
    assert outcomes(evaluation) == {2: "new", 3: "stopped"}  # DECK does not belong to MEN
