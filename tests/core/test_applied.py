"""After it was applied: what went in is history, and what stayed open goes in only when somebody
has said so.
"""

from __future__ import annotations

import json

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.applied import numbers_of, ranges_of
from nevefield.core.changes.plan import plan_changes
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.keeping import keep_moment
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from tests.core.edits.test_steps import (
    ALIKE,
    ALTERED,
    CODES,
    LATER,
    OTHERS,
    ROSTER,
    ROWS,
    STEPS,
    TODAY,
    VALUES,
    WHO,
    WHO_STEPS,
    definitions,
    told,
)
from tests.core.people.maker import DEFINITION, FIELDS, make_people
from tests.core.world import CREW, SNAPSHOT, outcomes, work_out
from tests.core.world import ROSTER as CREW_ROSTER
from tests.examples import part

IDS = [11, 12, 13, 14, 15]
OPEN = ("waiting", "stopped", "held")
# What others do to the roster meanwhile.
COME = {
    "no": "7",
    "family": "Okafor",
    "given": "Tove",
    "born": "2009-01-02",
    "mail": "new@q.example",
    "dept": "NAV",
}


def write(names, rows) -> bytes:
    return "\n".join([",".join(names), *(",".join(row) for row in rows)]).encode() + b"\n"


def apply(evaluation, ids, records):
    """Put a plan into a roster: the numbers and the contents of its records afterwards."""
    plan = plan_changes(evaluation)
    ids, records = list(ids), [dict(one) for one in records]
    for record, document in zip(plan.records.tolist(), plan.documents, strict=True):
        if record < 0:
            ids.append(max(ids, default=0) + 1)
            records.append(json.loads(document))
        else:
            records[record] = json.loads(document)
    gone = set(plan.leaving.tolist())
    kept = [place for place in range(len(ids)) if place not in gone]
    return [ids[place] for place in kept], [records[place] for place in kept]


def follow(definition, names, rows, steps, *, others: bool):
    """Apply, let the world go on, and look again."""
    data = write(names, rows)
    said = [read_step(one) for one in steps if one["kind"] != "undo"]
    snapshot = Snapshot.of_values(definition, IDS, ROSTER, 4)
    more = {"coverage": "everybody", "others": {"others": OTHERS}}
    then = evaluate(Inputs(data, said, definition, CODES, snapshot, TODAY, **more))
    step = read_step(
        json.loads(json.dumps({"kind": "applied", "change_set": 1, **keep_moment(then)}))
    )
    ids, records = apply(then, IDS, ROSTER)
    if others:
        ids, records = [*ids, 99], [*records, COME]
    now = Snapshot.of_values(definition, ids, records, 5)
    codes, day = (ALTERED, LATER) if others else (CODES, TODAY)
    after = evaluate(Inputs(data, [*said, step], definition, codes, now, day, **more))
    was, is_now = outcomes(then), outcomes(after)
    for line, one in was.items():
        assert is_now[line] == one or (one in OPEN and is_now[line] in OPEN)
    assert len(plan_changes(after)) == 0
    assert after.tally.absent == then.tally.absent
    assert not set(now.ids[after.absent].tolist()) - set(IDS)  # whoever came later was not expected
    # Taken back, it is as before.
    back = read_step({"kind": "taken_back", "change_set": 1})
    again = evaluate(Inputs(data, [*said, step, back], definition, CODES, snapshot, TODAY, **more))
    assert told(again) == told(then)


@part(0.4)
@given(definitions(), ROWS, STEPS, st.booleans())
def test_nothing_moves_by_itself(definition, rows, steps, others):
    """Whatever was applied, and whatever became of roster, codes and day: no row that was open
    goes in by itself.
    """
    follow(definition, list(VALUES), rows, steps, others=others)


@part(0.3)
@given(definitions(), ALIKE, WHO_STEPS, st.booleans())
def test_nobody_is_decided_by_growth(definition, rows, steps, others):
    """So with rows that are alike, where those that went in make the others likelier or less
    likely to be somebody.
    """
    follow(definition, WHO, rows, steps, others=others)


def test_many_that_wait_for_a_person_wait_on():
    """Most of a file goes in, and the roster is many times as large: whoever waited for a person
    waits, with candidates.
    """
    definition, roster, incoming = crowd()
    snapshot = Snapshot.of_values(definition, list(range(1, len(roster) + 1)), roster, 1)
    names = list(incoming[0])
    data = write(names, [[row[name] for name in names] for row in incoming])
    then = evaluate(Inputs(data, [], definition, {}, snapshot, TODAY))
    waiting = {line for line, one in outcomes(then).items() if one == "waiting"}
    assert len(waiting) >= 5
    step = read_step(
        json.loads(json.dumps({"kind": "applied", "change_set": 1, **keep_moment(then)}))
    )
    ids, records = apply(then, snapshot.ids.tolist(), roster)
    after = evaluate(
        Inputs(data, [step], definition, {}, Snapshot.of_values(definition, ids, records, 2), TODAY)
    )
    assert {line for line, one in outcomes(after).items() if one == "waiting"} == waiting
    who = next(cause for cause in after.causes if cause.hit.check == "who")
    assert set(after.table.lines[who.open_rows].tolist()) == waiting  # for a person, as before
    people = after.facts.people
    assert all(people.candidates(after.row_of(line)) for line in waiting)
    # What is said of one of them is done, and of no other.
    first = min(waiting)
    said = read_step({"kind": "person", "choices": [{"line": first, "record": None}]})
    decided = evaluate(
        Inputs(
            data,
            [step, said],
            definition,
            {},
            Snapshot.of_values(definition, ids, records, 2),
            TODAY,
        )
    )
    assert plan_changes(decided).lines.tolist() == [first]


def test_ranges():
    """Numbers and back."""
    for numbers in ([], [3], [1, 2, 3], [1, 3, 4, 9, 10, 11]):
        assert numbers_of(ranges_of(numbers)).tolist() == numbers


def test_what_went_in_is_history():
    """Whoever went in stands as they did then, though somebody altered or removed their record
    since.
    """
    text = "no,name,dept\n1,Inés,NAV\n2,Tove,MEN\n7,Kit,NAV\n8,,NAV\n"
    then = work_out(text)
    assert outcomes(then) == {2: "changed", 3: "same", 4: "new", 5: "stopped"}
    step = json.loads(json.dumps({"kind": "applied", "change_set": 1, **keep_moment(then)}))
    # Tove is gone, and so is Kit
    records = [{**CREW_ROSTER[0], "name": "Somebody else"}, CREW_ROSTER[2]]
    now = Snapshot.of_values(CREW, [int(SNAPSHOT.ids[0]), int(SNAPSHOT.ids[2])], records, 9)
    after = work_out(text, step, snapshot=now)
    assert outcomes(after) == outcomes(then)
    assert len(plan_changes(after)) == 0
    assert after.ready.stopped == after.ready.read == 1


def crowd():
    """A small roster, and a file many times as large: of some it is open whether they are in the
    roster.
    """
    made = make_people(900, 5, blank=0.6)

    def people(columns, count):
        return [{name: columns[name].at(place) or "" for name in FIELDS} for place in range(count)]

    roster = [
        {name: text for name, text in one.items() if text} for one in people(made.theirs, 200)
    ]
    return DEFINITION, roster, people(made.ours, 900)
