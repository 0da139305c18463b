"""The absent: nothing by itself; they leave, end on a day or are held when somebody says so, and
all of it can be taken back.
"""

from __future__ import annotations

import pytest

from nevefield.core.changes.explaining import explain_absent
from nevefield.core.errors import WrongStep
from nevefield.core.snapshot import Snapshot
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.errors import NothingToApply
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step
from nevefield.store import records as record_store
from tests.core.world import CREW, work_out
from tests.crew import contents, drop, numbers, open_crew

ONE = "no,name\n1,Ines\n"


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


def apply(context, intake: int) -> int:
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def test_absent_stay_by_themselves(crew):
    """A file of everybody that lacks two people does nothing to them."""
    intake = drop(crew, ONE, coverage="everybody")
    assert open_intake(crew, intake).evaluation.absences.counts() == {
        "stay": 2,
        "leave": 0,
        "end": 0,
        "hold": 0,
    }
    with pytest.raises(NothingToApply):
        apply(crew, intake)


def test_some_end_and_some_leave(crew):
    """One ends on the day said, the other leaves; the receipt counts both, and taking back gives
    both back.
    """
    before = contents(crew)
    intake = drop(crew, ONE, coverage="everybody")
    add_step(
        crew, intake, {"kind": "absent", "act": "end", "field": "to", "day": "2026-09-30"}, None
    )
    number = numbers(crew)["3"]
    add_step(crew, intake, {"kind": "absent", "act": "leave", "records": [number]}, None)
    done = apply(crew, intake)
    after = contents(crew)
    assert set(after) == {"1", "2"}
    with crew.database.transaction() as connection:
        ((left, _),) = record_store.list_leavings(connection, number)
    assert left.id == done
    assert after["2"] == {**before["2"], "to": "2026-09-30"}
    with crew.database.transaction() as connection:
        receipt = record_store.get_change_set(connection, done).receipt
    assert receipt["found"] == {"joined": 0, "changed": 1, "left": 1}
    assert receipt["absent"] == {"stay": 0, "leave": 1, "end": 1, "hold": 0}
    with pytest.raises(NothingToApply):  # the day is there, and who left is not absent any more
        apply(crew, intake)
    take_back(crew, done, None)
    assert contents(crew) == before


def test_held_need_a_reason(crew):
    """Holding the absent needs a reason and alters nothing; an end needs a field that takes a
    day, and a day.
    """
    intake = drop(crew, ONE, coverage="everybody")
    no_field, no_day = (
        {"act": "end", "field": "name", "day": "2026-09-30"},
        {
            "act": "end",
            "field": "to",
            "day": "30.9.",
        },
    )
    for wrong in ({"act": "hold"}, no_field, no_day):
        with pytest.raises(WrongStep):
            add_step(crew, intake, {"kind": "absent", **wrong}, None)
    add_step(crew, intake, {"kind": "absent", "act": "hold", "reason": "ask the office"}, None)
    assert open_intake(crew, intake).evaluation.absences.counts()["hold"] == 2
    with pytest.raises(NothingToApply):
        apply(crew, intake)


def test_only_the_absent_are_touched(crew):
    """What is said of the absent does nothing to a file that claims only the people in it."""
    intake = drop(crew, ONE, coverage="listed")
    add_step(crew, intake, {"kind": "absent", "act": "leave"}, None)
    assert open_intake(crew, intake).evaluation.absences.altered == 0


@pytest.mark.parametrize(
    ("absent", "past", "is_unusual"),
    [(30, [4, 11, 6], True), (12, [4, 11, 6], False), (30, [], True), (8, [], False)],
)
def test_unusual_is_told_with_its_reason(absent, past, is_unusual):
    """Far more absent than in the last files is unusual; a department that the file lacks is
    named, with its remedy.
    """
    people = [
        {"no": f"{n:03}", "name": f"N{n}", "dept": "MEN" if n < absent else "NAV"}
        for n in range(200)
    ]
    roster = Snapshot.of_values(CREW, list(range(200)), people, 1)
    rows = "".join(f"{one['no']},{one['name']},{one['dept']}\n" for one in people[absent:])
    evaluation = work_out("no,name,dept\n" + rows, snapshot=roster, coverage="everybody")
    found = explain_absent(evaluation, past)
    assert (found is not None) == is_unusual
    if found:
        assert found.part == {"field": "dept", "not": "MEN"}
        assert f"{absent} of the {absent} have Dept Engines" in found.reason
        if past:
            assert found.said == "30 absent is unusual: the last 3 left out 4 to 11."


def test_ended_already_is_no_news():
    """Where the absent have an end day that is past, that is the reason, and ending them on a
    later day alters nothing.
    """
    people = [
        {"no": f"{n:03}", "name": f"N{n}", "to": "2026-06-30" if n % 4 == 0 else "2027-06-30"}
        for n in range(200)
    ]
    roster = Snapshot.of_values(CREW, list(range(200)), people, 1)
    rows = "".join(f"{one['no']},{one['name']}\n" for one in people if one["to"] > "2027")
    said = {"kind": "absent", "act": "end", "field": "to", "day": "2026-09-30"}
    evaluation = work_out("no,name\n" + rows, said, snapshot=roster, coverage="everybody")
    found = explain_absent(evaluation, [4, 6])
    assert found is not None
    assert (
        found.reason == "To of 50 of the 50 is past, the last 2026-06-30: they have ended already."
    )
    assert evaluation.absences.counts() == {"stay": 50, "leave": 0, "end": 0, "hold": 0}


def test_file_that_breaks_off():
    """A sorted file that lacks all who would come after its last row may be cut off."""
    people = [{"no": f"{n:03}", "name": f"N{n}"} for n in range(200)]
    roster = Snapshot.of_values(CREW, list(range(200)), people, 1)
    rows = "".join(f"{one['no']},{one['name']}\n" for one in people[:150])
    found = explain_absent(work_out("no,name\n" + rows, snapshot=roster, coverage="everybody"), [])
    assert found is not None
    assert "ends at 149" in found.reason
