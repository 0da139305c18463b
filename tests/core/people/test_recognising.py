"""Who rows are, all things taken together: what somebody said, keys, likeness, what was said
elsewhere.
"""

from __future__ import annotations

import json

import numpy as np

from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.people.recognising import DECISIONS, likeness_of
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from tests.core.people.maker import DEFINITION, FIELDS, make_people
from tests.core.world import TODAY, outcomes

MADE = make_people(300, 11).theirs
CROWD = [
    {name: MADE[name].at(place) for name in FIELDS if MADE[name].at(place)} for place in range(300)
]
ROSTER = Snapshot.of_values(DEFINITION, list(range(1000, 1300)), CROWD, 1)


def work_out(rows: list[dict[str, str]], *steps: dict, said=None):
    """Evaluate rows against the crowd."""
    lines = [",".join(FIELDS), *(",".join(row.get(name, "") for name in FIELDS) for row in rows)]
    data = ("\n".join(lines) + "\n").encode()
    return evaluate(
        Inputs(data, [read_step(step) for step in steps], DEFINITION, {}, ROSTER, TODAY, said=said)
    )


def decided(evaluation) -> list[tuple[str, int]]:
    """How each row is known, and the record's number in the store; 0 for nobody."""
    people = evaluation.facts.people
    records = evaluation.known.record
    return [
        (DECISIONS[people.decision[row]], int(ROSTER.ids[record]) if record >= 0 else 0)
        for row, record in enumerate(records.tolist())
    ]


def without_number(place: int, **other: str) -> dict[str, str]:
    return CROWD[place] | {"number": ""} | other


def test_what_was_said_counts_first():
    """A choice goes over key and likeness; left undecided again, both speak as before."""
    rows = [CROWD[0], without_number(1)]
    assert decided(work_out(rows)) == [("key", 1000), ("certain", 1001)]
    chosen = {
        "kind": "person",
        "choices": [{"line": 2, "record": 1005}, {"line": 3, "record": None}],
    }
    assert decided(work_out(rows, chosen)) == [("chosen", 1005), ("chosen", 0)]
    assert decided(work_out(rows, chosen, {"kind": "undecided", "lines": [2, 3]})) == [
        ("key", 1000),
        ("certain", 1001),
    ]


def test_gone_record_is_no_choice():
    """A record that left the roster since it was chosen is passed over: the row is told as if
    nothing had been said.
    """
    chosen = {"kind": "person", "choices": [{"line": 2, "record": 77}]}
    assert decided(work_out([without_number(1)], chosen)) == [("certain", 1001)]


def test_aside_rows_claim_nobody():
    """Of two rows that claim one record the other one is certain once the first is left out."""
    rows = [without_number(2), without_number(2, phone="+44 7700 111111")]
    assert [decision for decision, _ in decided(work_out(rows))] == ["possible", "possible"]
    left = {"kind": "leave_out", "lines": [3], "reason": "twice"}
    assert decided(work_out(rows, left))[0] == ("certain", 1002)


def test_key_of_another_row_is_respected():
    """A record that another row has the number of is never given away by likeness."""
    found = decided(work_out([CROWD[3], without_number(3)]))
    assert found[0] == ("key", 1003)
    assert found[1] == ("possible", 0)


def test_empty_key_takes_nothing_away():
    """A known row without a number keeps the record's number, and only what else differs
    changes.
    """
    evaluation = work_out([without_number(4, town="Elsewhere")])
    assert outcomes(evaluation) == {2: "changed"}
    assert list(evaluation.changes) == ["town"]
    assert evaluation.facts.value(0, "number") == CROWD[4]["number"]


def test_said_elsewhere():
    """What was said of the same row in another intake holds: it is that person, or it is not."""
    first = work_out([without_number(5)])
    likeness = likeness_of(DEFINITION, first.facts.people.typed, 0)
    assert decided(work_out([without_number(5)], said={likeness: {1009: True}})) == [
        ("chosen", 1009)
    ]
    assert decided(work_out([without_number(5)], said={likeness: {1005: False}})) == [("nobody", 0)]
    assert decided(
        work_out([without_number(5, town="Elsewhere")], said={likeness: {1005: False}})
    ) == [("certain", 1005)]


def test_off_in_the_definition():
    """With likeness switched off only keys tell who rows are."""
    document = json.loads(json.dumps(DEFINITION.document)) | {
        "nevefield": {"likeness": {"off": True}}
    }
    off = read_definition(document)
    data = (
        ",".join(FIELDS)
        + "\n"
        + ",".join(without_number(6).get(name, "") for name in FIELDS)
        + "\n"
    ).encode()
    evaluation = evaluate(
        Inputs(data, [], off, {}, Snapshot.of_values(off, [1], [CROWD[6]], 1), TODAY)
    )
    assert evaluation.known.record.tolist() == [-1]
    assert np.isin([cause.hit.check for cause in evaluation.causes], ["who", "likeness"]).sum() == 0


def test_alike_within_the_file():
    """Of people who are new, those who stand on two lines are asked about, whatever their
    numbers say; nobody else is.
    """
    made = make_people(500, 12)
    fresh = [
        {name: made.theirs[name].at(place) or "" for name in FIELDS} for place in range(400, 500)
    ]
    fresh = [one | {"number": f"N{place:04d}"} for place, one in enumerate(fresh)]
    twice = [
        fresh[7] | {"number": "N9001"},
        fresh[30] | {"number": "", "mail": "another@new.example"},
        fresh[55] | {"number": "N9003", "given": fresh[55]["given"] + "e", "phone": ""},
    ]
    namesake = {
        "number": "N9004",
        "mail": "someone.else@new.example",
        "phone": "+44 7700 123123",
        "born": "1999-09-09",
    }
    twice.append(fresh[70] | namesake)
    pairs = {(9, 102), (32, 103), (57, 104)}  # lines; the headings are the first

    def asked(evaluation) -> set[tuple[int, ...]]:
        causes = [
            cause for cause in evaluation.causes if cause.hit.check == "alike" and cause.is_open
        ]
        return {tuple(evaluation.table.lines[cause.hit.rows].tolist()) for cause in causes}

    rows = [*fresh, *twice]
    evaluation = work_out(rows)
    assert asked(evaluation) == pairs
    assert {line for line, outcome in outcomes(evaluation).items() if outcome == "waiting"} == {
        9,
        102,
        32,
        103,
        57,
        104,
    }
    steps = [
        {"kind": "leave_out", "lines": [102], "reason": "the same person as line 9"},
        {
            "kind": "waive",
            "check": "alike",
            "field": None,
            "lines": [32, 103],
            "reason": "mother and daughter",
        },
        {"kind": "set", "cells": [{"line": 104, "field": "born", "value": "1970-01-01"}]},
    ]
    assert asked(work_out(rows, *steps)) == set()
    assert asked(work_out(rows, steps[0])) == {(32, 103), (57, 104)}
