"""Random acts on the cards of a club against a plain model: no number twice, none lost that was not
given.
"""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
from contextlib import suppress

import pytest

from nevefield.cards.errors import NothingToMake, WrongAct
from nevefield.cards.looking import look_at_design, look_at_needed
from nevefield.cards.printing import Sheets, print_run
from nevefield.cards.running import Asked, list_runs, make_run, mark_card
from nevefield.core.cards.needing import Need
from nevefield.core.errors import NoNumbersLeft
from nevefield.rosters.errors import NotTakenBack
from nevefield.rosters.undoing import take_back_records
from nevefield.store import records as record_store
from tests.cards.house import open_club

PEOPLE = [(f"{number:04}", f"Person {number}", "Kim", "F", "2030-12-31") for number in range(1, 26)]
FIRST, LAST, RESTS = 11, 75, 30


class Model:
    """Which numbers there are in the register, whose, and from which day on one is free."""

    def __init__(self) -> None:
        self.held: dict[int, str] = {}
        self.rests: dict[int, float] = {}  # number -> day from which it may be given again
        self.runs: dict[int, dict[int, str]] = {}
        self.printed: set[int] = set()

    def free(self, day: float) -> list[int]:
        return [
            number
            for number in range(FIRST, LAST + 1)
            if number not in self.held and self.rests.get(number, -1) <= day
        ]


def numbers(context) -> dict[int, str]:
    """The numbers in the register, and whose they are."""
    with context.database.transaction() as connection:
        (roster,) = connection.row("SELECT id FROM roster WHERE name = 'club-cards'")
        contents = [json.loads(text) for _, text in record_store.list_current(connection, roster)]
    held = {int(one["serial"]): one["member"] for one in contents}
    assert len(held) == len(contents)
    return held


def act(context, clock, model: Model, chance: random.Random, day: float) -> float:
    """Do one random act on both; give the day afterwards."""
    what = chance.choice(["make", "make", "again", "undo", "print", "move", "spoil"])
    if what == "move":
        days = chance.randrange(1, 12)
        clock.move(days=days)
        return day + days
    if what in ("make", "again"):
        chosen = chance.sample(range(1, 26), chance.randrange(1, 6))
        make(context, model, chosen, day, anew=what == "again")
    elif what == "print" and model.runs:
        run = chance.choice(sorted(model.runs))
        with open(os.devnull, "wb") as nowhere:
            print_run(context, "club-card", Sheets(run, ""), nowhere, None)
        model.printed.add(run)
    elif what == "undo" and model.runs:
        undo(context, model, chance.choice(sorted(model.runs)), day)
    elif what == "spoil" and model.held:
        spoil(context, chance)
    return day


def make(context, model: Model, chosen: list[int], day: float, *, anew: bool) -> None:
    standing = look_at_needed(context, "club-card")
    records = frozenset(
        person.record for person in standing.needed.people if int(person.key) in chosen
    )
    wanting = [
        person
        for person in standing.needed.people
        if person.record in records and (anew or person.need in (Need.MAKE, Need.ANEW))
    ]
    free = model.free(day)
    try:
        run = make_run(context, "club-card", Asked(records, anew), None)
    except NothingToMake:
        assert not wanting
        return
    except NoNumbersLeft as error:
        few = error
        assert (few.wanted, few.left) == (len(wanting), len(free))
        return
    given = dict(zip(free, (person.key for person in wanting), strict=False))
    model.held |= given
    model.runs[run] = given


def undo(context, model: Model, run: int, day: float) -> None:
    (row,) = [one for one, _ in list_runs(context, "club-card") if one.id == run]
    with context.database.transaction() as connection:
        change_set = record_store.get_change_set(connection, row.change_set_id)
    with context.database.transaction() as connection:
        try:
            take_back_records(context, connection, change_set, None)
        except NotTakenBack:
            return
    for number in model.runs.pop(run):
        del model.held[number]
        model.rests[number] = day + RESTS if run in model.printed else -1


def spoil(context, chance: random.Random) -> None:
    standing = look_at_needed(context, "club-card")
    card = chance.choice(standing.held)
    with suppress(WrongAct):  # it is so already
        mark_card(context, "club-card", card.record, "spoiled", None)


def storm(context, clock, acts: int, seed: int) -> None:
    open_club(context, PEOPLE, LAST)
    model, chance, day = Model(), random.Random(seed), 0.0
    for _ in range(acts):
        day = act(context, clock, model, chance, day)
        assert numbers(context) == model.held
    (left,) = look_at_design(context, "club-card").left
    assert left.left == len(model.free(day))


@pytest.mark.parametrize("seed", [1, 2])
def test_random_acts(bare, clock, seed):
    """After each of many acts the register has exactly the numbers that a plain model has, and as
    many are left as there.
    """
    storm(bare, clock, 70, seed)


@pytest.mark.long
def test_ten_thousand_random_acts(bare, clock):
    """The same, ten thousand times."""
    storm(bare, clock, 10_000, 3)


KILLED = """
import sys
from datetime import datetime
from nevefield.cards.running import Asked, make_run
from nevefield.context import Context
from nevefield.settings import Settings
from nevefield.store.connection import Database

context = Context(
    Database(sys.argv[1]), Settings(database_url=sys.argv[1]), lambda: datetime(2026, 9, 1, 9, 5)
)
print("begun", flush=True)

def progress(doing, done, total):
    print(doing, flush=True)

make_run(context, "club-card", Asked(), None, progress)
print("done", flush=True)
"""


@pytest.mark.parametrize("line", ["begun", "Laying", "Writing"])
def test_killed_in_the_middle(bare, line):
    """A run that is killed (-9) at any stage leaves no card and no number; the next one makes all
    of them with the numbers that the first would have given.
    """
    people = [(f"{one:05}", f"Person {one}", "Kim", "F", "2030-12-31") for one in range(1, 3_001)]
    open_club(bare, people, 4_000)
    process = subprocess.Popen(
        [sys.executable, "-c", KILLED, bare.settings.database_url],
        stdout=subprocess.PIPE,
        text=True,
    )
    for said in process.stdout:
        assert not said.startswith("done")
        if said.startswith(line):
            process.kill()
            break
    assert process.wait(60) == -signal.SIGKILL
    assert numbers(bare) == {}
    assert list_runs(bare, "club-card") == []
    make_run(bare, "club-card", Asked(), None)
    assert numbers(bare) == {FIRST + place: person[0] for place, person in enumerate(people)}
