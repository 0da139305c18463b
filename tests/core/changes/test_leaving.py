"""What becomes of the absent, and of records that end for another: literal rosters, acts and
days.
"""

from __future__ import annotations

import json

import pytest

from nevefield.core.changes.acts import acts_of
from nevefield.core.changes.leaving import ACTS
from nevefield.core.changes.plan import plan_changes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from tests.core.world import TODAY

CREW = read_definition(
    {
        "name": "załoga",
        "primaryKey": "nr",
        "fields": [{"name": "nr"}, {"name": "imię"}, {"name": "do", "type": "date"}],
    }
)
ROSTER = [
    {"nr": "A", "imię": "Łucja"},
    {"nr": "B", "imię": "Żaneta", "do": "2026-12-31"},
    {"nr": "C", "imię": "Świętosława", "do": "2026-06-30"},
    {"nr": "D", "imię": "Ćwirko"},
]
NUMBERS = {"A": 31, "B": 32, "C": 33, "D": 34}
EVERYBODY = {"kind": "coverage", "of": "everybody"}


def look(rows: str, *steps: dict):
    snapshot = Snapshot.of_values(CREW, list(NUMBERS.values()), ROSTER, 5)
    return evaluate(
        Inputs(
            ("nr,imię\n" + rows).encode(),
            [read_step(one) for one in steps],
            CREW,
            {},
            snapshot,
            TODAY,
        )
    )


def absent(act: str, *who: str, day: str = "", field: str = "do") -> dict:
    more = (
        {"field": field, "day": day}
        if act == "end"
        else {"reason": "urlop"}
        if act == "hold"
        else {}
    )
    return {"kind": "absent", "act": act, "records": [NUMBERS[one] for one in who], **more}


def ends(*who: tuple[str, str]) -> dict:
    return {
        "kind": "end",
        "field": "do",
        "ends": [{"record": NUMBERS[one], "day": day} for one, day in who],
    }


def becomes(evaluation) -> dict[str, str]:
    """What becomes of each absent record, by its number."""
    names = [ROSTER[place]["nr"] for place in evaluation.absences.records.tolist()]
    return dict(zip(names, (ACTS[act] for act in evaluation.absences.acts.tolist()), strict=True))


def written(evaluation) -> dict[str, object]:
    """Who ends and with what content, and who leaves."""
    plan = plan_changes(evaluation)
    found: dict[str, object] = {ROSTER[place]["nr"]: "leaves" for place in plan.leaving.tolist()}
    return found | {
        ROSTER[place]["nr"]: json.loads(text)
        for place, text in zip(plan.ending.tolist(), plan.ended, strict=True)
    }


@pytest.mark.parametrize(
    ("steps", "expected"),
    [
        ([], {"B": "stay", "C": "stay", "D": "stay"}),
        ([absent("leave")], {"B": "leave", "C": "leave", "D": "leave"}),
        # Who has ended by the day already stays as they are; one of them alone may be said
        # otherwise.
        ([absent("end", day="2026-08-31")], {"B": "end", "C": "stay", "D": "end"}),
        (
            [absent("end", day="2026-08-31"), absent("stay", "D")],
            {"B": "end", "C": "stay", "D": "stay"},
        ),
        # all, after one: all
        ([absent("stay", "D"), absent("leave")], {"B": "leave", "C": "leave", "D": "leave"}),
        ([absent("leave"), absent("hold", "B")], {"B": "hold", "C": "leave", "D": "leave"}),
    ],
    ids=["nothing said", "all leave", "all end", "but one", "one, then all", "one held"],
)
def test_of_all_and_of_some(steps, expected):
    """What is said of all holds for each, until something is said of one alone."""
    evaluation = look("A,Łucja\n", EVERYBODY, *steps)
    assert becomes(evaluation) == expected
    assert evaluation.tally.absent == 3
    assert evaluation.absences.altered == sum(one in ("leave", "end") for one in expected.values())


def test_what_is_written():
    """Whoever ends keeps all else; whoever leaves is gone; the others are not touched."""
    evaluation = look(
        "A,Łucja\n", EVERYBODY, absent("leave", "C"), absent("end", "D", day="2026-08-31")
    )
    assert written(evaluation) == {
        "C": "leaves",
        "D": {"nr": "D", "imię": "Ćwirko", "do": "2026-08-31"},
    }
    told = [
        (act.record, act.leaves, act.fields)
        for act in acts_of(evaluation, plan_changes(evaluation))
    ]
    assert told == [(34, False, {"do": [None, "2026-08-31"]}), (33, True, {})]


def test_end_though_nobody_is_absent():
    """A record that ends for another is in no tally of the absent, and is part of the plan."""
    evaluation = look("E,Nowa\n", ends(("A", "2026-08-31"), ("C", "2026-08-31")))
    assert evaluation.tally.absent == 0
    # C has ended before that day
    assert written(evaluation) == {"A": {"nr": "A", "imię": "Łucja", "do": "2026-08-31"}}
    assert (evaluation.altering, evaluation.absences.counts()["end"]) == (2, 0)


def test_who_is_in_the_file_does_not_end_beside():
    """A record that a row of the file is says for itself what becomes of it."""
    assert written(look("A,Łucja Maria\n", ends(("A", "2026-08-31")))) == {}


def test_absent_counts_once():
    """Who is absent and was said to end beside as well ends once, as is said of the absent."""
    evaluation = look(
        "A,Łucja\n", EVERYBODY, ends(("D", "2026-08-01")), absent("end", "D", day="2026-08-31")
    )
    assert written(evaluation) == {"D": {"nr": "D", "imię": "Ćwirko", "do": "2026-08-31"}}
    assert evaluation.absences.altered == 1


def test_undone():
    """Taken back, nobody ends."""
    steps = [read_step(ends(("A", "2026-08-31"))), read_step({"kind": "undo", "step": 1})]
    snapshot = Snapshot.of_values(CREW, list(NUMBERS.values()), ROSTER, 5)
    assert written(evaluate(Inputs(b"nr\nE\n", steps, CREW, {}, snapshot, TODAY))) == {}
