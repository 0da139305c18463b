"""The roster moves between looking at a plan and applying it: what does the same to the same
records goes in, nothing else.
"""

from __future__ import annotations

import hashlib
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

import nevefield.intakes.applying as applying
from nevefield.context import Context
from nevefield.intakes.applying import apply_intake, request_apply, take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.moving import what_moved
from nevefield.jobs.worker import run_one
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.errors import RosterMoved
from nevefield.store import records as record_store
from nevefield.store.connection import Database
from tests.crew import apply_text, contents, drop, numbers, open_crew

FILE = (
    "no,name,mail,dept\n1,Ines"
    " Marie,ines@q.example,NAV\n2,Tove,tove@q.example,MEN\n7,Kit,kit@q.example,NAV\n8,Kim,x@,NAV\n"
)
KEEPERS = 4


@pytest.fixture
def crew(bare) -> Context:
    open_crew(bare)
    return bare


def looked_at(crew, text=FILE) -> tuple[int, int, int]:
    """Take a file in and look at it: its number, its steps, the roster's version."""
    intake = drop(crew, text)
    opened = open_intake(crew, intake)
    return intake, len(opened.steps), opened.roster.version


def name_of(number: int) -> str:
    """A name that is like nobody else's."""
    return (
        hashlib.sha256(str(number).encode())
        .hexdigest()[:12]
        .translate(str.maketrans("0123456789", "ghijklmnop"))
        .title()
    )


def receipt_of(crew, change_set) -> dict:
    with crew.database.transaction() as connection:
        return record_store.get_change_set(connection, change_set).receipt


def test_others_are_not_touched(crew):
    """Others joined, changed and were changed back meanwhile: it is applied, and the receipt
    says what was looked at.
    """
    intake, steps, version = looked_at(crew)
    apply_text(crew, "no,name\n9,Liv\n3,Anders\n")
    take_back(crew, apply_text(crew, "no,name\n3,Anderz\n"), None)
    job, _ = request_apply(crew, intake, steps, version, None)
    apply_text(crew, "no,name\n10,Rune\n")
    assert job
    assert run_one(crew, "one")
    after = contents(crew)
    assert {key: one["name"] for key, one in after.items()} == {
        "1": "Ines Marie", "2": "Tove", "3": "Anders", "7": "Kit", "9": "Liv", "10": "Rune",
    }  # fmt: skip
    with crew.database.transaction() as connection:
        receipt = record_store.get_change_set_of(connection, intake).receipt
    assert receipt["looked_at"] == version
    assert receipt["version"] == version + 5
    assert receipt["rows"] == {
        "new": 1,
        "changed": 1,
        "same": 1,
        "stopped": 1,
        "waiting": 0,
        "held": 0,
        "left_out": 0,
    }


def test_a_roster_that_stood_still_is_not_said_to_have_moved(crew):
    """Of a roster that stood still the receipt says nothing of that."""
    intake, steps, version = looked_at(crew)
    assert "looked_at" not in receipt_of(crew, apply_intake(crew, intake, steps, version, None))


def test_something_else_of_the_same_person(crew):
    """Another field of somebody who changes was changed meanwhile: both stand."""
    intake, steps, version = looked_at(crew)
    apply_text(crew, "no,name,guardian\n1,Ines,Berit\n")
    apply_intake(crew, intake, steps, version, None)
    assert (contents(crew)["1"]["name"], contents(crew)["1"]["guardian"]) == ("Ines Marie", "Berit")


def set_by_hand(crew):
    edit_record(crew, Edit(numbers(crew)["1"], {"name": "Ines M."}), None)


TOUCHING = {
    "the same value was changed": lambda crew: apply_text(crew, "no,name\n1,Ines Mari\n"),
    "it says so already": lambda crew: apply_text(crew, "no,name\n1,Ines Marie\n"),
    "the same value was set by hand": set_by_hand,
    "who joins is there already": lambda crew: apply_text(
        crew, "no,name,mail\n7,Kit,kit@q.example\n"
    ),
    "what was the same is another": lambda crew: apply_text(
        crew, "no,name,mail\n2,Tove,t2@q.example\n"
    ),
}


@pytest.mark.parametrize("what", TOUCHING)
def test_what_does_something_else_is_refused(crew, what):
    """Whoever of the plan was touched: nothing is applied, at once or by a job; the rows that
    are another are told.
    """
    intake, steps, version = looked_at(crew)
    TOUCHING[what](crew)
    before = contents(crew)
    with pytest.raises(RosterMoved):
        apply_intake(crew, intake, steps, version, None)
    with pytest.raises(RosterMoved):
        request_apply(crew, intake, steps, version, None)
    assert contents(crew) == before
    assert what_moved(crew, intake, version)[1]
    again = open_intake(crew, intake)
    if again.evaluation.altering:
        assert apply_intake(crew, intake, len(again.steps), again.roster.version, None)


def test_what_moved_is_told_by_row(crew):
    """Rows are told with what would have become of them and what would now."""
    intake, _, version = looked_at(crew)
    apply_text(crew, "no,name\n9,Liv\n")
    assert what_moved(crew, intake, version)[1] == []
    apply_text(crew, "no,name,mail\n1,Ines Marie,ines@q.example\n7,Kit,kit@q.example\n")
    assert [
        (one.line, one.before, one.now, one.fields) for one in what_moved(crew, intake, version)[1]
    ] == [
        (2, "changed", "same", ("name",)),
        (4, "new", "changed", ("dept",)),
    ]


def test_moves_between_looking_and_locking(crew, monkeypatch):
    """It moves after it was worked out for applying and before it is locked: worked out again,
    and applied.
    """
    intake, steps, version = looked_at(crew)
    real, others = applying.number_rows, ["no,name\n9,Liv\n", "no,name\n10,Rune\n"]

    def meanwhile(*given):
        found = real(*given)
        if others:
            text = others.pop()
            apply_text(crew, text)
        return found

    monkeypatch.setattr(applying, "number_rows", meanwhile)
    change_set = apply_intake(crew, intake, steps, version, None)
    assert set(contents(crew)) == {"1", "2", "3", "7", "9", "10"}
    assert receipt_of(crew, change_set)["looked_at"] == version


def test_keepers_who_do_not_touch_each_other_all_get_through(crew):
    """Four keepers, twelve files each of people of their own, on one roster at once: all are in,
    once, none is refused.
    """
    gate = threading.Barrier(KEEPERS)

    def keep(place: int) -> list[int]:
        own = Context(Database(crew.settings.database_url), crew.settings, crew.now)
        gate.wait()
        made = []
        for turn in range(12):
            first = 1000 * (place + 1) + 10 * turn
            text = "no,name\n" + "".join(
                f"{one},{name_of(one)}\n" for one in range(first, first + 5)
            )
            made.append(apply_text(own, text))
        own.database.close()
        return made

    with ThreadPoolExecutor(KEEPERS) as pool:
        made = [one for found in pool.map(keep, range(KEEPERS)) for one in found]
    assert len(set(made)) == KEEPERS * 12
    assert len(contents(crew)) == 3 + KEEPERS * 12 * 5
    with crew.database.transaction() as connection:
        versions = [one.version for one, _, _ in record_store.list_change_sets(connection, 1, 1000)]
    assert sorted(versions) == list(range(1, 2 + KEEPERS * 12))
