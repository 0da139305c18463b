"""Placement rules: the first that fits decides, what a file says and what was placed by hand
stays, whatever way it came.
"""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.placing.rules import effects_of
from nevefield.core.snapshot import Snapshot
from nevefield.groups.errors import WrongPlacing
from nevefield.groups.placing import look_at_rules, run_rules
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.proposals.editing import Edit, edit_record
from tests.core.world import CODES, DOCUMENT, TODAY
from tests.crew import apply_text, contents, drop, numbers, open_crew

RULES = [
    {"when": {"field": "dept", "is": "NAV"}, "field": "guardian", "value": "Bridge"},
    {"when": {"field": "name", "filled": True}, "field": "guardian", "value": "Deck"},
    {"when": {"field": "prog", "is": "ENGR"}, "field": "port", "value": "BRW"},
    {
        "when": {"field": "name", "filled": True},
        "field": "guardian",
        "value": "Nowhere",
        "off": True,
    },
]
RULED = {**DOCUMENT, "nevefield": {**DOCUMENT["nevefield"], "placement": RULES}}


@pytest.fixture
def crew(bare):
    open_crew(bare, document=RULED)
    return bare


def apply(context, intake: int) -> int:
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def test_follows_with_a_file(crew):
    """With a file's rows comes what follows: for the new and the changed; what the row says
    outright, or a hand set, stays.
    """
    edit_record(crew, Edit(numbers(crew)["3"], {"guardian": "By hand"}), None)
    text = (
        "no,name,dept,prog,guardian\n1,Ines N,NAV,DECK,\n2,Tove,MEN,ENGR,Said outright\n3,Una"
        " N,NAV,DECK,\n9,New,MEN,ENGR,\n"
    )
    intake = drop(crew, text)
    facts = open_intake(crew, intake).evaluation.facts
    lines = {name: facts.lines[rows].tolist() for name, rows in facts.followed.items()}
    assert lines == {"guardian": [2, 5], "port": [3, 5]}
    apply(crew, intake)
    found = contents(crew)
    assert [found[key].get("guardian") for key in ("1", "2", "9")] == [
        "Bridge",
        "Said outright",
        "Deck",
    ]
    # what the empty cell makes of it is the file's, not a rule's
    assert found["3"].get("guardian") in (None, "By hand")
    assert found["2"]["port"] == ["DNS", "SKV", "BRW"]
    assert found["9"]["port"] == ["BRW"]


def test_run_over_the_roster(crew):
    """Run over the roster: whom they would move is said first, then exactly those are moved; and
    then nobody any more.
    """
    edit_record(crew, Edit(numbers(crew)["2"], {"guardian": "By hand"}), None)
    _, snapshot, here = look_at_rules(crew, "crew")
    key = snapshot.columns["no"]
    told = [
        (key.rows(one.effect.moves), key.rows(one.effect.by_hand), key.rows(one.effect.against))
        for one in here
    ]
    assert told == [(["1"], [], []), (["3"], ["2"], ["1"]), ([], [], []), ([], [], ["1", "2", "3"])]
    assert contents(crew)["2"]["port"] == ["DNS", "SKV", "BRW"]  # it followed from the edit
    apply(crew, run_rules(crew, "crew", None))
    found = contents(crew)
    assert {one: found[one].get("guardian") for one in "123"} == {
        "1": "Bridge",
        "2": "By hand",
        "3": "Deck",
    }
    assert found["2"]["port"] == ["DNS", "SKV", "BRW"]
    with pytest.raises(WrongPlacing, match="already"):
        run_rules(crew, "crew", None)
    # What the rules moved was not moved by hand: another file lets them move it on.
    apply_text(crew, "no,name,dept,prog\n1,Ines,MEN,ENGR\n")
    assert contents(crew)["1"]["guardian"] == "Deck"


def test_tried_before_they_are_switched_on(crew):
    """Other rules are tried with nothing kept; one that cannot be is refused with what would be
    right.
    """
    _, _, here = look_at_rules(
        crew, "crew", [{"when": {"field": "dept", "is": "MEN"}, "field": "prog", "value": "ENGR"}]
    )
    assert (len(here[0].effect.fits), len(here[0].effect.moves)) == (1, 0)
    with pytest.raises(WrongPlacing, match="ENGR"):
        look_at_rules(
            crew,
            "crew",
            [{"when": {"field": "dept", "is": "MEN"}, "field": "prog", "value": "ENGRR"}],
        )
    for wrong, place in (
        ({"when": {"field": "dept", "is": "MEN"}, "field": "dept", "value": "NAV"}, "itself sets"),
        ({"when": {"field": "nothing", "is": "x"}, "field": "dept", "value": "NAV"}, "when.field"),
        ({"when": {"field": "name", "is": "x"}, "field": "dept", "value": ""}, "value"),
        ({"when": {"field": "name", "is": "x"}, "field": "dept", "value": "NAV", "of": 1}, "off"),
    ):
        with pytest.raises(WrongDefinition, match=place):
            look_at_rules(crew, "crew", [wrong])


VALUES = st.sampled_from(["a", "b", "c", ""])


@given(
    st.lists(st.tuples(VALUES, VALUES), min_size=1, max_size=6),
    st.lists(st.tuples(st.sampled_from("abc"), st.sampled_from("xyz"), st.booleans()), max_size=4),
    st.sets(st.integers(0, 5)),
)
def test_plainly(people, rules, hands):
    """Rules do what a plain loop over people does, over the roster and with a file of the same
    people alike.
    """
    placement = [
        {"when": {"field": "kind", "is": kind}, "field": "place", "value": value, "off": off}
        for kind, value, off in rules
    ]
    definition = read_definition(
        {
            "name": "x",
            "primaryKey": "no",
            "fields": [{"name": "no"}, {"name": "kind"}, {"name": "place"}, {"name": "note"}],
            "nevefield": {"placement": placement, "likeness": {"off": True}},
        }
    )
    filled = [{"no": str(row), "kind": kind, "place": at} for row, (kind, at) in enumerate(people)]
    records = [{name: text for name, text in one.items() if text} for one in filled]
    snapshot = Snapshot.of_values(definition, list(range(len(people))), records, 1)
    wanted = {}
    for row, (kind, at) in enumerate(people):
        value = next((value for when, value, off in rules if when == kind and not off), None)
        if value is not None and value != at and row not in hands:
            wanted[row] = value
    effects = effects_of(definition.placement, snapshot, {"place": hands}, TODAY)
    moved = {
        place: rule.value
        for rule, effect in zip(definition.placement, effects, strict=True)
        if rule.is_on
        for place in effect.moves.tolist()
    }
    assert moved == wanted
    data = "no,note\n" + "".join(f"{row},same\n" for row in range(len(people)))
    evaluation = evaluate(
        Inputs(
            data.encode(), [], definition, CODES, snapshot, TODAY, placed_by_hand={"place": hands}
        )
    )
    rows = evaluation.changes.get("place", [])
    stored = evaluation.facts.typed.get("place")
    assert {int(row): stored.stored.at(int(row)) for row in rows} == wanted
