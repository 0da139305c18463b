"""Change many: the plan of a file, made of acts; and shortlists of whom it is about."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.changes.many import Act, write_rows
from nevefield.core.errors import WrongDefinition, WrongStep
from nevefield.core.snapshot import Snapshot
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.proposals.changing import change_many
from nevefield.rosters.errors import NoSuchShortlist
from nevefield.rosters.shortlists import (
    change_shortlist,
    drop_shortlist,
    keep_shortlist,
    places_of,
    require_shortlist,
)
from nevefield.rosters.snapshots import load_snapshot, require_roster
from tests.core.world import CREW
from tests.crew import apply_text, contents, numbers, open_crew


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


def on(context, shortlist: int) -> set[str]:
    """Who is on a shortlist today, by their own number."""
    with context.database.transaction() as connection:
        snapshot = load_snapshot(connection, require_roster(connection, "crew"))
        found = places_of(
            connection, require_shortlist(connection, shortlist, None), snapshot, context.today()
        )
        return {snapshot.columns["no"].at(int(place)) for place in found}


def test_planned_applied_taken_back(crew):
    """Nothing is changed before it is applied; then all of it is, and can be taken back at once."""
    before, ids = contents(crew), numbers(crew)
    acts = [
        Act("port", "add", "DNS"),
        Act("credits", "plus", "2.5"),
        Act("name", "replace", "X", "n"),
        Act("guardian", "set", "Somebody"),
    ]
    intake = change_many(crew, "crew", [ids["1"], ids["2"], ids["3"], 999_999], acts, None)
    assert contents(crew) == before
    opened = open_intake(crew, intake)
    tally = opened.evaluation.tally
    assert (tally.read, tally.changed, tally.new) == (3, 3, 0)
    done = apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    after = contents(crew)
    assert after["1"] == before["1"] | {
        "port": ["DNS"],
        "credits": "15",
        "name": "IXes",
        "guardian": "Somebody",
    }
    assert after["2"] | {"port": []} == before["2"] | {"port": [], "guardian": "Somebody"}
    assert set(after["2"]["port"]) == {"DNS", "SKV"}
    assert after["3"]["name"] == "UXa"
    assert {key: value for key, value in after.items() if key not in "123"} == {
        key: value for key, value in before.items() if key not in "123"
    }
    take_back(crew, done, None)
    assert contents(crew) == before


def test_what_cannot_be_done(crew):
    """What cannot be done is refused with the reason; what a check stops is stopped in the plan,
    and nothing goes in.
    """
    ids = list(numbers(crew).values())
    for act, said in (
        (Act("no", "set", "9"), "which record"),
        (Act("name", "blank"), "must be filled"),
        (Act("name", "add", "x"), "one value"),
        (Act("name", "plus", "1"), "no number"),
        (Act("credits", "plus", "much"), "no number"),
        (Act("nme", "set", "x"), "name"),
        (Act("name", "rename", "x"), "replace"),
        (Act("name", "replace", "x"), "which text"),
    ):
        with pytest.raises(WrongStep, match=said):
            change_many(crew, "crew", ids, [act], None)
    with pytest.raises(WrongStep, match="twice"):
        change_many(crew, "crew", ids, [Act("name", "set", "x"), Act("name", "blank")], None)
    with pytest.raises(WrongStep, match="No record"):
        change_many(crew, "crew", [], [Act("name", "set", "x")], None)
    opened = open_intake(
        crew, change_many(crew, "crew", ids, [Act("mail", "set", "one@for.all.example")], None)
    )
    # nobody but one may have it: who, is for a person to say
    assert opened.evaluation.tally.changed == 0
    assert opened.evaluation.tally.stopped == len(ids)


@given(st.lists(st.sampled_from("abc"), unique=True), st.sampled_from("abcd"))
def test_adding_and_taking_out(had, one):
    """What was added is there once, what was taken out is not, and the others stay as they were."""
    values = {"no": "1", "name": "A"} | ({"port": had} if had else {})
    snapshot = Snapshot.of_values(CREW, [1], [values], 1)
    for act, wanted in (("add", {*had, one}), ("take", {*had} - {one})):
        row = json.loads(write_rows(snapshot, [0], [Act("port", act, one)]))
        parts = [part for part in row["port"].split(";") if part]
        assert set(parts) == wanted
        assert len(parts) == len(wanted)


def test_shortlists(crew):
    """By hand it holds whom it was given, live whom the condition fits today; who left the
    roster is on none of them.
    """
    ids = numbers(crew)
    kept = keep_shortlist(crew, "crew", "A few", None, records=[ids["1"], ids["2"]])
    live = keep_shortlist(crew, "crew", "Engineers", None, live={"field": "prog", "is": "ENGR"})
    assert (on(crew, kept), on(crew, live)) == ({"1", "2"}, {"2"})
    apply_text(crew, "no,name,dept,prog\n8,New,MEN,ENGR\n")
    assert on(crew, live) == {"2", "8"}
    change_shortlist(crew, kept, None, add=[numbers(crew)["8"]], remove=[ids["1"]])
    assert on(crew, kept) == {"2", "8"}
    with pytest.raises(WrongStep, match="condition"):
        change_shortlist(crew, live, None, add=[ids["1"]])
    with pytest.raises(WrongStep, match="already"):
        keep_shortlist(crew, "crew", "a FEW", None)
    with pytest.raises(WrongDefinition):
        keep_shortlist(crew, "crew", "Wrong", None, live={"field": "nothing", "is": "x"})
    own = keep_shortlist(crew, "crew", "Mine", None, is_shared=False)
    with crew.database.transaction() as connection, pytest.raises(NoSuchShortlist):
        require_shortlist(connection, own, 7)
    drop_shortlist(crew, kept, None)
    with pytest.raises(NoSuchShortlist):
        on(crew, kept)


def test_twenty_thousand_at_once(bare):
    """Everybody on a live shortlist of 20,000: worked out and applied with progress, one change
    set, taken back whole.
    """
    people = 20_000
    records = [
        {"no": str(number), "name": f"N{number}", "credits": str(number % 50)}
        for number in range(people + 5)
    ]
    records[-5:] = [{**one, "guardian": "Somebody"} for one in records[-5:]]
    open_crew(bare, records=records)
    before = contents(bare)
    shortlist = keep_shortlist(
        bare, "crew", "Without a guardian", None, live={"field": "guardian", "filled": False}
    )
    with bare.database.transaction() as connection:
        snapshot = load_snapshot(connection, require_roster(connection, "crew"))
        places = places_of(
            connection, require_shortlist(connection, shortlist, None), snapshot, bare.today()
        )
    heard: list[str] = []

    def hear(doing: str, done: int, total: int) -> None:
        heard.append(doing)

    acts = [Act("credits", "plus", "1"), Act("guardian", "set", "The school")]
    intake = change_many(bare, "crew", snapshot.ids[places].tolist(), acts, None, progress=hear)
    opened = open_intake(bare, intake)
    assert opened.evaluation.tally.changed == people
    assert len(set(heard)) > 3
    heard.clear()
    done = apply_intake(bare, intake, len(opened.steps), opened.roster.version, None, hear)
    assert len(set(heard)) > 1
    after = contents(bare)
    assert all(
        after[one["no"]]
        == {**one, "credits": str(int(one["credits"]) + 1), "guardian": "The school"}
        for one in records[:people]
    )
    assert [after[one["no"]] for one in records[people:]] == records[people:]
    take_back(bare, done, None)
    assert contents(bare) == before
