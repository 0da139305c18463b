"""Taking back parts: chosen people, chosen fields, and what later changes rest on is left and
named.
"""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step
from nevefield.rosters.errors import NotTakenBack
from nevefield.rosters.undoing import Choice, _turn, plan_undo
from nevefield.store import records as record_store
from tests.core.world import CREW
from tests.crew import apply_text, contents, drop, numbers, open_crew

FILE = (
    "no,name,mail,dept\n1,Ines Marie,ines2@q.example,NAV\n2,Tove"
    " Ann,tove@q.example,MEN\n7,Kit,kit@q.example,NAV\n"
)


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


def plan(context, change_set: int, choice: Choice | None = None):
    with context.database.transaction() as connection:
        return plan_undo(connection, change_set, choice)


def test_chosen_people(crew):
    """Only the chosen people get their values back; the rest of the change set stands and can be
    taken back after.
    """
    before = contents(crew)
    done = apply_text(crew, FILE)
    after = contents(crew)
    take_back(crew, done, None, choice=Choice(records=frozenset({numbers(crew)["1"]})))
    assert contents(crew) == {**after, "1": before["1"]}
    rest = plan(crew, done)
    assert {(one.key, one.does) for one in rest.people} == {("2", "values"), ("7", "leaves")}
    take_back(crew, done, None)
    assert contents(crew) == before
    with pytest.raises(NotTakenBack, match="already"):
        take_back(crew, done, None)


def test_chosen_fields(crew):
    """Only the chosen field goes back, of everybody who had it changed; who joined stays."""
    done = apply_text(crew, FILE)
    take_back(crew, done, None, choice=Choice(fields=frozenset({"mail"})))
    now = contents(crew)
    assert (now["1"]["mail"], now["1"]["name"], "7" in now) == (
        "ines@q.example",
        "Ines Marie",
        True,
    )


def test_later_changes_are_named_and_left(crew):
    """A field that was changed again later stays, with the later file named; what does not rest
    on it can be taken back.
    """
    done = apply_text(crew, FILE)
    apply_text(crew, "no,name,mail\n1,Ines Maria,ines2@q.example\n7,Kit Marie,kit@q.example\n")
    found = plan(crew, done)
    kept = {one.key: one for one in found.kept}
    assert {key: one.rests for key, one in kept.items()} == {"1": ["name"], "7": ["name"]}
    assert [title for _, title in kept["1"].later] == ["Crew"]
    with pytest.raises(NotTakenBack, match="2 records were changed again later") as refused:
        take_back(crew, done, None)
    assert [one.split()[-1] for one in refused.value.people] == ["1", "7"]
    take_back(crew, done, None, as_far=True)
    now = contents(crew)
    assert (now["1"]["mail"], now["1"]["name"]) == ("ines@q.example", "Ines Maria")
    assert (now["2"]["name"], now["7"]["name"]) == ("Tove", "Kit Marie")
    with pytest.raises(NotTakenBack, match="nothing left"):
        take_back(crew, done, None, as_far=True)


FIELDS = st.fixed_dictionaries(
    {}, optional={name: st.sampled_from("abc") for name in ("name", "mail", "guardian")}
)
CONTENT = st.none() | FIELDS


@given(CONTENT, CONTENT, CONTENT)
def test_turning_back_property(before, after, now):
    """Taken back is exactly what nobody changed since: each field is then's where now is
    after's, and now's elsewhere.
    """
    if before is None and after is None:
        return
    texts = [None if one is None else json.dumps(one) for one in (before, after, now)]
    turned = _turn(CREW, 1, *texts, None, covers=False)
    result = (
        now if not turned.does else None if turned.content is None else json.loads(turned.content)
    )
    if before is None or after is None or now is None:
        free = now == after and not (before is not None and after is not None)
        assert result == (before if free else now)
        return
    for name in ("name", "mail", "guardian"):
        back = before.get(name) != after.get(name) and now.get(name) == after.get(name)
        assert result.get(name) == (before if back else now).get(name)
    touched = [name for name in ("name", "mail", "guardian") if before.get(name) != after.get(name)]
    assert sorted(turned.rests) == sorted(
        one for one in touched if now.get(one) not in (before.get(one), after.get(one))
    )


def test_the_receipt_names_who_returned(crew):
    """The receipt of taking back says by name who returned, who left again and who has their
    earlier values.
    """
    intake = drop(crew, "no,name\n1,Ines Marie\n7,Kit\n", coverage="everybody")
    add_step(crew, intake, {"kind": "absent", "act": "leave"}, None)
    opened = open_intake(crew, intake)
    done = apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    number = take_back(crew, done, None)
    with crew.database.transaction() as connection:
        receipt = record_store.get_change_set(connection, number).receipt
    named = {word: sorted(key for _, _, key in people) for word, people in receipt["who"].items()}
    assert named == {"returned": ["2", "3"], "left": ["7"], "values": ["1"]}
    assert {word: len(people) for word, people in named.items()} == {
        word: receipt["undone"][word] for word in named
    }
