"""Every kind of step: the fields that it names, the rows that it is about, and that all of them
are decided.
"""

from __future__ import annotations

from typing import get_args

import pytest

from nevefield.core.steps import Step, decide, read_step
from nevefield.core.steps.kinds import About

FILE, NO_ROW, ROWS = About.FILE, About.NO_ROW, About.ROWS
CELLS = [{"line": 3, "field": "mail", "value": "x"}, {"line": 4, "field": "port", "value": ""}]
WAIVE = {"kind": "waive", "check": "age", "field": "born", "lines": [3], "reason": "agreed"}
PATTERN = {"pieces": [{"field": "family"}, {"text": "."}, {"field": "given"}]}
EXAMPLES = [
    ({"kind": "reading", "header_line": 2}, FILE, [], []),
    ({"kind": "pair", "heading": "E-mail", "field": "mail"}, FILE, ["mail"], []),
    ({"kind": "pair", "heading": "E-mail", "field": None}, FILE, [], []),
    (
        {
            "kind": "pairs",
            "pairs": [{"heading": "a", "field": "mail"}, {"heading": "b", "field": None}],
        },
        FILE,
        ["mail"],
        [],
    ),
    (
        {"kind": "split", "heading": "Name", "at": ",", "into": ["family", "given"]},
        FILE,
        ["family", "given"],
        [],
    ),
    ({"kind": "date_order", "field": "born", "order": "dmy"}, ROWS, ["born"], []),
    ({"kind": "decimal_mark", "field": "credits", "mark": ","}, ROWS, ["credits"], []),
    ({"kind": "fill", "field": "year", "value": "1"}, ROWS, ["year"], []),
    (
        {"kind": "compose", "field": "mail", "pattern": PATTERN},
        ROWS,
        ["mail", "family", "given"],
        [],
    ),
    ({"kind": "compose", "field": "mail", "pattern": None}, ROWS, ["mail"], []),
    ({"kind": "translate", "field": "port", "texts": ["a"], "to": "SKV"}, ROWS, ["port"], []),
    ({"kind": "set", "cells": CELLS}, ROWS, ["mail", "port"], [3, 4]),
    ({"kind": "hold", "lines": [3, 4], "reason": "letter due"}, ROWS, [], [3, 4]),
    ({"kind": "leave_out", "lines": [3], "reason": "withdrew"}, ROWS, [], [3]),
    ({"kind": "release", "lines": [4]}, ROWS, [], [4]),
    (WAIVE, ROWS, ["born"], [3]),
    ({**WAIVE, "check": "lead", "field": "SKUA", "lines": [0]}, ROWS, [], [0]),
    ({"kind": "update", "field": "mail", "rule": "ours"}, ROWS, ["mail"], []),
    ({"kind": "update", "field": "mail", "rule": "ours", "lines": [3]}, ROWS, ["mail"], [3]),
    (
        {"kind": "person", "choices": [{"line": 3, "record": None}, {"line": 4, "record": 9}]},
        ROWS,
        [],
        [3, 4],
    ),
    ({"kind": "undecided", "lines": [3]}, ROWS, [], [3]),
    ({"kind": "limits", "certain": 90, "nobody": 5}, FILE, [], []),
    (
        {"kind": "known_by", "keys": [["mail"], ["family", "born"]]},
        FILE,
        ["mail", "family", "born"],
        [],
    ),
    ({"kind": "takes", "of": "new"}, FILE, [], []),
    ({"kind": "coverage", "of": "everybody"}, NO_ROW, [], []),
    ({"kind": "absent", "act": "leave"}, NO_ROW, [], []),
    ({"kind": "absent", "act": "end", "field": "last", "day": "2026-09-30"}, NO_ROW, ["last"], []),
    (
        {"kind": "end", "field": "last", "ends": [{"record": 4, "day": "2026-09-30"}]},
        NO_ROW,
        ["last"],
        [],
    ),
    ({"kind": "applied", "change_set": 4}, NO_ROW, [], []),
    ({"kind": "taken_back", "change_set": 4}, NO_ROW, [], []),
    ({"kind": "source", "name": "Registry"}, NO_ROW, [], []),
    (
        {"kind": "recipe", "source": "Registry", "version": 1, "learnt": "2026-08-01", "steps": []},
        FILE,
        [],
        [],
    ),
    ({"kind": "undo", "step": 1}, ROWS, [], []),
]


def test_every_kind_is_here():
    """No kind is without an example."""
    kinds = {kind.model_fields["kind"].annotation.__args__[0] for kind in get_args(Step)}
    assert {document["kind"] for document, *_ in EXAMPLES} == kinds


@pytest.mark.parametrize(("document", "about", "named", "rows"), EXAMPLES, ids=lambda one: None)
def test_what_a_step_is_about(document, about, named, rows):
    """The fields that it names, in their order, and the lines that it is about; it is decided,
    and written as it was read.
    """
    step = read_step(document)
    assert step.about is about
    assert ([name for _, name in step.named()], list(step.rows())) == (named, rows)
    assert read_step(step.model_dump(mode="json")) == step
    decide([step])  # none is left without a case
