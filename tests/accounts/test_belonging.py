"""What belongs to which roster: every kind is followed, what is not there and what may not be seen
are the same.
"""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, Sight
from nevefield.accounts.belonging import BELONGING, find_roster, list_rosters
from nevefield.intakes.errors import NoSuchIntake
from nevefield.rosters.errors import NoSuchRoster
from nevefield.rosters.opening import open_roster_with
from tests.core.world import DOCUMENT
from tests.crew import drop, open_crew


@pytest.fixture
def two(bare) -> tuple[int, int]:
    """Two rosters."""
    return open_crew(bare), open_roster_with(bare, {**DOCUMENT, "name": "guests"}, [])


def test_followed_to_its_roster(bare, two):
    """By name and by number."""
    crew, guests = two
    assert find_roster(bare, "roster", "guests", 0) == guests
    assert find_roster(bare, "intake", drop(bare, "no,name\n7,Kit\n"), 0) == crew
    assert list_rosters(bare) == [crew, guests]


def test_not_seen_is_not_there(bare, two):
    """Whatever it is, and the words are those for a number that nothing has."""
    _, guests = two
    intake = drop(bare, "no,name\n7,Kit\n")
    there = bare.seen_by(Sight(Level.NONE, {guests: Level.ADMINISTER}))
    assert list_rosters(there) == [guests]
    with pytest.raises(NoSuchRoster):
        find_roster(there, "roster", "crew", 0)
    with pytest.raises(NoSuchIntake) as hidden:
        find_roster(there, "intake", intake, 0)
    with pytest.raises(NoSuchIntake) as absent:
        find_roster(bare, "intake", 10**6, 0)
    assert str(hidden.value).replace(str(intake), "") == str(absent.value).replace(str(10**6), "")


@pytest.mark.parametrize("kind", BELONGING)
def test_no_kind_finds_what_nothing_is(bare, two, kind):
    """Each says so in a sentence of its own kind."""
    lead = BELONGING[kind]
    given = "nothing" if lead.part == "name" else 10**6
    with pytest.raises(Exception, match=r"[.]$") as error:
        find_roster(bare, kind, given, 0)
    assert type(error.value) is not KeyError
    assert str(given) in str(error.value)
