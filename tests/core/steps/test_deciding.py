"""Steps: what they say, what later ones do to earlier ones, what is refused."""

from __future__ import annotations

import pytest

from nevefield.core.errors import WrongStep
from nevefield.core.steps import active_steps, decide, read_step


def steps(*documents: dict):
    return [read_step(one) for one in documents]


SET = {"kind": "set", "cells": [{"line": 6, "field": "name", "value": "Ines"}]}
HOLD = {"kind": "hold", "lines": [6, 7], "reason": "letter due"}


def undo(number: int) -> dict:
    return {"kind": "undo", "step": number}


@pytest.mark.parametrize(
    ("documents", "holding"),
    [
        ([HOLD], [1]),
        ([HOLD, undo(1)], []),
        ([HOLD, undo(1), undo(2)], [1]),
        ([HOLD, undo(1), undo(2), undo(3)], []),
        ([HOLD, SET, undo(1)], [2]),
        ([HOLD, SET, undo(2), undo(1), undo(4)], [1]),
        ([undo(1), HOLD], [2]),
        ([HOLD, undo(9)], [1]),
    ],
    ids=[
        "one",
        "undone",
        "again",
        "undone again",
        "other stays",
        "in turn",
        "of itself",
        "of nothing",
    ],
)
def test_undo_and_again(documents, holding):
    """An undo takes its step away, an undo of the undo brings it back."""
    assert [number for number, _ in active_steps(steps(*documents))] == holding


def test_later_over_earlier():
    """The last word on a cell, a line or a text holds."""
    decisions = decide(
        steps(
            SET,
            {
                "kind": "set",
                "cells": [
                    {"line": 6, "field": "name", "value": "Tove"},
                    {"line": 7, "field": "name", "value": ""},
                ],
            },
            {"kind": "translate", "field": "port", "texts": ["a", "b"], "to": "SKV"},
            {"kind": "translate", "field": "port", "texts": ["b"], "to": "DNS"},
            HOLD,
            {"kind": "release", "lines": [7]},
            {"kind": "leave_out", "lines": [9], "reason": "withdrew"},
            {"kind": "fill", "field": "year", "value": "1"},
            {"kind": "date_order", "field": "born", "order": "mdy"},
            {"kind": "coverage", "of": "everybody"},
            {
                "kind": "waive",
                "check": "home-area",
                "field": "port",
                "lines": [3],
                "reason": "agreed",
            },
        )
    )
    assert decisions.cells == {"name": {6: "Tove", 7: ""}}
    assert decisions.translations == {("port", "a"): "SKV", ("port", "b"): "DNS"}
    assert (decisions.held, decisions.left_out) == ({6: "letter due"}, {9: "withdrew"})
    assert (decisions.fills, decisions.orders, decisions.coverage) == (
        {"year": "1"},
        {"born": "mdy"},
        "everybody",
    )
    assert decisions.waivers == {("home-area", "port", 3): "agreed"}


def test_reading_parts_add_up():
    """Parts of the reading that a step leaves out stay; a header and no header take each other's
    place.
    """
    decisions = decide(
        steps({"kind": "reading", "separator": ";"}, {"kind": "reading", "no_header": True})
    )
    assert (decisions.reading.separator, decisions.reading.no_header) == (";", True)
    decisions = decide(
        steps({"kind": "reading", "no_header": True}, {"kind": "reading", "header_line": 5})
    )
    assert (decisions.reading.header_line, decisions.reading.no_header) == (5, False)


def test_pairing_moves_a_field():
    """A field goes to one column: choosing another one frees the first."""
    decisions = decide(
        steps(
            {"kind": "pair", "heading": "A", "field": "name"},
            {"kind": "pair", "heading": "B", "field": "name"},
            {"kind": "pair", "heading": "C", "field": None},
        )
    )
    assert decisions.pairs == {"B": "name", "C": None}


@pytest.mark.parametrize(
    ("document", "said"),
    [
        ({}, "kind"),
        ({"kind": "nothing"}, "kind"),
        ({"kind": "hold", "lines": [], "reason": "x"}, "lines"),
        ({"kind": "hold", "lines": [1], "reason": ""}, "reason"),
        ({"kind": "hold", "lines": ["one"], "reason": "x"}, "lines"),
        ({"kind": "date_order", "field": "born", "order": "ymd"}, "order"),
        ({"kind": "coverage", "of": "some"}, "of"),
        ({**HOLD, "more": 1}, "more"),
        ({"kind": "set", "cells": [{"line": 1, "field": "name", "value": "x" * 20_001}]}, "value"),
        ("hold", "kind"),
        ({"kind": "moon", "lines": [1]}, "moon"),  # of a newer version's store
    ],
)
def test_refuses_what_is_none(document, said):
    """What is no step is refused with the part that is wrong."""
    with pytest.raises(WrongStep, match=said):
        read_step(document)
