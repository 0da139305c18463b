"""Several rows for one person: joined where only lists differ, a finding where single values do."""

from __future__ import annotations

import random

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.core.tally import OUTCOMES
from tests.core.world import TODAY

CHAPTERS = read_codes("list,code,label\nchapter,H,Harbour\nchapter,N,North\nchapter,L,Lamp\n")
FELLOWS = read_definition(
    {
        "name": "fellows",
        "primaryKey": "no",
        "fields": [
            {"name": "no", "constraints": {"required": True}},
            {"name": "name"},
            {"name": "chapters", "nevefield": {"codeList": "chapter", "several": ";"}},
        ],
    }
)


def work_out(*rows: str, roster=(), steps=()):
    data = "\n".join(["no,name,chapters", *rows]).encode()
    snapshot = Snapshot.of_values(FELLOWS, list(range(len(roster))), list(roster), 1)
    return evaluate(
        Inputs(data, [read_step(one) for one in steps], FELLOWS, CHAPTERS, snapshot, TODAY)
    )


def outcomes(evaluation) -> list[str]:
    return [OUTCOMES[one] for one in evaluation.outcomes]


def test_lists_are_joined():
    """Rows of one person are one record with all values; a single value may stand in one of the
    rows only.
    """
    evaluation = work_out("1,Adair,Harbour", "2,Belling,N", "1,,North", "1,Adair,H")
    typed = evaluation.facts.typed
    assert outcomes(evaluation) == ["new"] * 4
    assert [typed["chapters"].stored.at(row) for row in range(4)] == [
        "H\x1fN",
        "N",
        "H\x1fN",
        "H\x1fN",
    ]
    assert [typed["name"].stored.at(row) for row in range(4)] == [
        "Adair",
        "Belling",
        "Adair",
        "Adair",
    ]
    assert evaluation.facts.joined.lead.tolist() == [0, 1, 0, 0]
    assert [cause.hit.check for cause in evaluation.causes if cause.hit.check != "repaired"] == [
        "joined"
    ]


def test_contradiction_is_found():
    """Rows that give one person two names are not joined: all stop, and the field is named."""
    evaluation = work_out("1,Adair,H", "1,Adare,N")
    (cause,) = (cause for cause in evaluation.causes if cause.hit.weight == "stop")
    assert (cause.hit.check, outcomes(evaluation)) == ("duplicate", ["stopped", "stopped"])
    assert (
        next(iter_findings(cause, evaluation.facts)).message
        == "Lines 2 and 3 are one person and differ in Name; keep one of them."
    )


def test_one_stop_stops_the_person():
    """A wrong code in one row stops the person's other rows too, as what only follows; putting
    it right frees all.
    """
    evaluation = work_out("1,Adair,H", "1,Adair,Nroth", "1,Adair,L")
    assert outcomes(evaluation) == ["stopped"] * 3
    first, second = (cause for cause in evaluation.causes if cause.hit.weight == "stop")
    assert (first.hit.check, first.open_rows.tolist(), second.follows) == ("code", [1], (first.id,))
    assert second.open_rows.tolist() == [0, 2]
    assert {finding.follows for finding in iter_findings(second, evaluation.facts)} == {first.id}
    step = {"kind": "translate", "field": "chapters", "texts": ["Nroth"], "to": "N"}
    assert (
        outcomes(work_out("1,Adair,H", "1,Adair,Nroth", "1,Adair,L", steps=[step])) == ["new"] * 3
    )


def test_rows_aside_are_not_joined():
    """A row that is left out brings nothing to the person."""
    step = {"kind": "leave_out", "lines": [3], "reason": "old"}
    evaluation = work_out("1,Adair,H", "1,Adair,N", steps=[step])
    assert outcomes(evaluation) == ["new", "left_out"]
    assert evaluation.facts.typed["chapters"].stored.at(0) == "H"


def test_known_person_changes_once():
    """Against the roster the person changes once, whichever row brings what is new."""
    roster = [
        {"no": "1", "name": "Adair", "chapters": ["N", "H"]},
        {"no": "2", "name": "Belling", "chapters": ["H"]},
    ]
    evaluation = work_out("1,Adair,H", "2,Belling,H", "1,Adair,N", "2,Belling,L", roster=roster)
    assert outcomes(evaluation) == ["same", "changed", "same", "changed"]
    assert {name: rows.tolist() for name, rows in evaluation.changes.items()} == {"chapters": [1]}


PEOPLE = st.dictionaries(
    st.integers(1, 9),
    st.lists(st.sampled_from("HNL"), min_size=1, max_size=3, unique=True),
    min_size=1,
)


@given(PEOPLE, st.randoms())
def test_any_order_joins_the_same(people, chance):
    """However the rows are shuffled, every person gets exactly the values of all their rows."""
    rows = [
        f"{number},P{number},{chapter}"
        for number, chapters in people.items()
        for chapter in chapters
    ]
    chance.shuffle(rows)
    evaluation = work_out(*rows)
    column = evaluation.facts.typed["chapters"].stored
    found = {}
    for row in np.flatnonzero(evaluation.facts.joined.is_lead).tolist():
        found[int(evaluation.facts.typed["no"].stored.at(row))] = set(column.at(row).split("\x1f"))
    assert found == {number: set(chapters) for number, chapters in people.items()}
    assert evaluation.tally.new == len(rows)


def test_many_rows_are_joined():
    """A thousand people with five rows each are a thousand records."""
    chance = random.Random(4)
    rows = [f"{number},P,{chapter}" for number in range(1000) for chapter in "HNLHN"]
    chance.shuffle(rows)
    evaluation = work_out(*rows)
    assert int(evaluation.facts.joined.is_lead.sum()) == 1000
    assert evaluation.tally.to_json()["new"] == 5000
