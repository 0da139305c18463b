"""Yeses that last, in the core: which rows an earlier yes lets in, and what of a yes is kept."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.checking.causes import find_causes
from nevefield.core.checking.waiving import PASSING, is_lasting, waived_by
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.keeping import list_waivers
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from tests.core.world import TODAY, outcomes

DOCUMENT = {
    "name": "załoga",
    "primaryKey": "nr",
    "fields": [
        {"name": "nr"},
        {"name": "port"},
        {"name": "born", "type": "date"},
        {"name": "rang"},
    ],
    "nevefield": {
        "likeness": {"off": True},
        "checks": [
            {"check": "home-area", "fields": ["port"], "within": ["GDY", "GDA"]},
            {
                "check": "age",
                "fields": ["born"],
                "on": "today",
                "most": 60,
                "weight": "ask",
                "when": {"field": "rang", "is": "K"},
            },
        ],
    },
}
CREW = read_definition(DOCUMENT)
ROSTER = [
    {"nr": "1", "port": "GDY"},
    {"nr": "2", "port": "SZZ"},
    {"nr": "3", "born": "1950-01-01", "rang": "K"},
]
IDS = [71, 72, 73]


def look(rows: str, *steps: dict, standing=None, definition=CREW, today: date = TODAY):
    snapshot = Snapshot.of_values(definition, IDS, ROSTER, 1)
    data = ("nr;port;born;rang\n" + rows).encode()
    return evaluate(
        Inputs(
            data,
            [read_step(one) for one in steps],
            definition,
            {},
            snapshot,
            today,
            standing=standing or {},
        )
    )


def yes(check: str, field: str, *lines: int, **more) -> dict:
    return {
        "kind": "waive",
        "check": check,
        "field": field,
        "lines": list(lines),
        "reason": "uzgodniono",
        **more,
    }


def kept(evaluation, ids=IDS):
    """What would stand from now on, had the evaluation been applied."""
    standing = {}
    for one in list_waivers(evaluation):
        record = int(evaluation.known.record[one.row])
        number = ids[record] if record >= 0 else 99
        standing.setdefault((one.check, one.field), {}).setdefault(number, {})[one.digest] = (
            "let in before"
        )
    return standing


def test_what_of_a_yes_is_kept():
    """Of rows that go in: the check, where it asked, all values that it read, the reason and the
    last day.
    """
    steps = [yes("home-area", "port", 2, 3), yes("age", "born", 4, until="2026-12-31")]
    evaluation = look("1;SZZ;;\n2;;;\n3;;1951-01-01;K\n", *steps)
    found = {
        (one.check, one.line, one.reason, one.until, str(one.values))
        for one in list_waivers(evaluation)
    }
    assert found == {
        ("home-area", 2, "uzgodniono", None, "{'port': 'SZZ'}"),
        ("age", 4, "uzgodniono", date(2026, 12, 31), "{'rang': 'K', 'born': '1951-01-01'}"),
    }


def test_of_rows_that_do_not_go_in_nothing_is_kept():
    """Held, left out, stopped or the same: a yes to them was for nothing."""
    steps = [yes("home-area", "port", 2, 3), {"kind": "hold", "lines": [2], "reason": "?"}]
    assert list_waivers(look("1;SZZ;;\n2;SZZ;;\n", *steps)) == []  # the second is the same already


@pytest.mark.parametrize(
    ("rows", "asked"),
    [
        ("1;SZZ;;\n", []),
        ("1;szz;;\n", [2]),  # case in free text is another value
        ("1; SZZ ;;\n", []),
        ("1;KOL;;\n", [2]),
        ("1;SZZ;;\n2;KOL;;\n", [3]),
        ("1;SZZ;1999-09-09;\n", []),  # what the check does not read
    ],
)
def test_value_for_value(rows, asked):
    """The same person and value is let in; another value, and another person, are asked about."""
    standing = kept(look("1;SZZ;;\n", yes("home-area", "port", 2)))
    evaluation = look(rows, standing=standing)
    assert [line for line, one in outcomes(evaluation).items() if one == "waiting"] == asked
    for cause in evaluation.causes:
        for row in cause.waived_before.tolist():
            assert waived_by(cause.hit, evaluation.facts, row) == "let in before"


def test_each_value_that_the_check_read_counts():
    """A field of the condition is part of what was let in."""
    standing = kept(look("3;;1951-01-01;K\n", yes("age", "born", 2)))
    assert outcomes(look("3;;1951-01-01;K\n", standing=standing)) == {2: "changed"}
    stricter = {
        **DOCUMENT,
        "nevefield": {
            **DOCUMENT["nevefield"],
            "checks": [{**DOCUMENT["nevefield"]["checks"][1], "most": 50}],
        },
    }
    again = look("3;;1951-01-01;K\n", standing=standing, definition=read_definition(stricter))
    assert outcomes(again) == {2: "waiting"}


@given(
    st.lists(st.sampled_from(["SZZ", "KOL", "GDY", "GDA", ""]), min_size=1, max_size=4),
    st.integers(0, 3),
)
def test_nobody_else_is_let_in(ports, which):
    """Whatever was said of one, a file asks of every other person exactly as without it."""
    rows = "".join(f"{place + 1};{port};;\n" for place, port in enumerate(ports))
    line = min(which, len(ports) - 1) + 2
    standing = kept(look(rows, yes("home-area", "port", line)))
    plain, lasting = outcomes(look(rows)), outcomes(look(rows, standing=standing))
    assert {one: what for one, what in plain.items() if one != line} == {
        one: what for one, what in lasting.items() if one != line
    }


def test_what_is_asked_once():
    """Who is who, two that are alike, what a hand set, what is gained: a yes to these lasts for
    its file alone.
    """
    evaluation = look("1;SZZ;;\n")
    (hit,) = [cause.hit for cause in evaluation.causes if cause.hit.check == "home-area"]
    assert is_lasting(hit)
    assert {"who", "alike", "by-hand", "raised", "since"} <= PASSING
    causes = find_causes([hit], evaluation.facts, {})
    assert [cause.waived_before.tolist() for cause in causes] == [[]]
