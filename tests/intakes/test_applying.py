"""Applying: all or nothing, once, against the roster that was looked at; and taking back."""

from __future__ import annotations

from datetime import date

import pytest

from nevefield.context import Context
from nevefield.intakes.applying import apply_intake, request_apply, take_back
from nevefield.intakes.errors import NothingToApply, OutOfDate
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step
from nevefield.rosters.errors import NotReconciled, NotTakenBack
from nevefield.store import intakes as intake_store
from nevefield.store import records as record_store
from tests.core.world import DOCUMENT
from tests.crew import apply_text, contents, drop, open_crew

FILE = (
    "no,name,mail,dept\n1,Ines"
    " Marie,ines@q.example,NAV\n2,Tove,tove@q.example,MEN\n7,Kit,kit@q.example,NAV\n8,Kim,x@,NAV\n"
)


@pytest.fixture
def crew(bare) -> Context:
    open_crew(bare)
    return bare


def test_applies_what_was_planned(crew):
    """Joins and changes are in the roster, the same and the stopped rows did nothing; the
    receipt says so from the database.
    """
    change_set = apply_text(crew, FILE)
    after = contents(crew)
    assert set(after) == {"1", "2", "3", "7"}
    assert after["1"]["name"] == "Ines Marie"
    assert after["1"]["credits"] == "12.5"  # not in the file: stays
    with crew.database.transaction() as connection:
        receipt = record_store.get_change_set(connection, change_set).receipt
        lines = {
            line: outcome
            for outcome in ("new", "changed", "same", "stopped")
            for line, _, _ in intake_store.list_outcomes(connection, change_set, outcome)
        }
    assert receipt["planned"] == receipt["found"] == {"joined": 1, "changed": 1, "left": 0}
    assert receipt["rows"]["stopped"] == 1
    assert lines == {2: "changed", 3: "same", 4: "new", 5: "stopped"}


def test_twice_does_nothing(crew):
    """Applying again what was applied gives the same receipt and alters nothing."""
    intake = drop(crew, FILE)
    opened = open_intake(crew, intake)
    first = apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    before = contents(crew)
    assert apply_intake(crew, intake, len(opened.steps), opened.roster.version, None) == first
    assert request_apply(crew, intake, len(opened.steps), opened.roster.version, None) == (0, first)
    assert contents(crew) == before
    now = open_intake(crew, intake)
    with pytest.raises(NothingToApply):
        apply_intake(crew, intake, len(now.steps), now.roster.version, None)


def test_new_steps_are_refused(crew):
    """When somebody added a step since, the plan is another and is not applied."""
    intake = drop(crew, FILE)
    opened = open_intake(crew, intake)
    add_step(crew, intake, {"kind": "hold", "lines": [4], "reason": "asked"}, None)
    with pytest.raises(OutOfDate):
        request_apply(crew, intake, len(opened.steps), opened.roster.version, None)


def test_failure_inside_leaves_nothing(crew, monkeypatch):
    """When what is read back is not what was planned, the roster, its keys and the intake's rows
    are as they were.
    """
    import nevefield.intakes.recording as recording

    intake = drop(crew, FILE)
    opened = open_intake(crew, intake)
    before = contents(crew)
    real = recording.insert_outcomes
    monkeypatch.setattr(recording, "insert_outcomes", lambda *given: {**real(*given), "new": 99})
    with pytest.raises(NotReconciled, match="Nothing was changed"):
        apply_intake(crew, intake, 0, opened.roster.version, None)
    monkeypatch.undo()
    assert contents(crew) == before
    assert open_intake(crew, intake).roster.version == opened.roster.version
    assert apply_intake(crew, intake, 0, opened.roster.version, None)


def test_taken_back_whole(crew):
    """Taking back ends who joined and gives back every earlier value; the intake can be applied
    again.
    """
    before = contents(crew)
    change_set = apply_text(crew, FILE)
    undo = take_back(crew, change_set, None)
    assert contents(crew) == before
    with pytest.raises(NotTakenBack, match="already"):
        take_back(crew, change_set, None)
    with crew.database.transaction() as connection:
        intake = record_store.get_change_set(connection, change_set).intake_id
        assert record_store.get_change_set(connection, undo).receipt["found"] == {
            "joined": 0,
            "changed": 1,
            "left": 1,
        }
    opened = open_intake(crew, intake)
    assert opened.evaluation.tally.new == 1
    again = apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    assert again != change_set
    assert contents(crew)["7"]["name"] == "Kit"


def test_not_taken_back_under_later_changes(crew):
    """What later changes rest on is not taken back, and the people are named; once those are
    taken back, it is.
    """
    before = contents(crew)
    first = apply_text(crew, "no,name\n7,Kit\n")
    second = apply_text(crew, "no,name,dept\n7,Kit Marie,NAV\n")
    with pytest.raises(NotTakenBack, match="1 record was changed again later") as refused:
        take_back(crew, first, None)
    assert refused.value.people
    take_back(crew, second, None)
    take_back(crew, first, None)
    assert contents(crew) == before


def test_opening_is_not_taken_back(crew):
    """The opening of a roster has nothing before it."""
    with pytest.raises(NotTakenBack, match="opening"):
        take_back(crew, 1, None)


def test_roster_as_of_any_day(crew, clock):
    """The roster can be seen as it was at the end of any day."""
    clock.move(days=1)
    change_set = apply_text(crew, FILE)
    clock.move(days=1)
    take_back(crew, change_set, None)
    assert set(contents(crew, date(2026, 8, 31))) == set()
    assert set(contents(crew, date(2026, 9, 1))) == {"1", "2", "3"}
    assert set(contents(crew, date(2026, 9, 2))) == {"1", "2", "3", "7"}
    assert set(contents(crew, date(2026, 9, 3))) == {"1", "2", "3"}


def test_freed_value_moves_in_one_file(bare):
    """A value that one record gives up and another takes in the same file goes through the
    database's own check.
    """
    open_crew(bare, document={**DOCUMENT, "nevefield": {}})
    apply_text(bare, "no,name,mail\n2,Tove,tove.r@q.example\n3,Una,tove@q.example\n")
    after = contents(bare)
    assert (after["2"]["mail"], after["3"]["mail"]) == ("tove.r@q.example", "tove@q.example")
