"""Names of another roster's people, beside records that refer to them: for those who may see
these people, for nobody else.
"""

from __future__ import annotations

import copy

import pytest

from nevefield.accounts import Level, add_account
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters
from tests.conftest import APPROVES, LOOKS, PASSWORDS, PREPARES, Browser
from tests.core.placing.test_memberships import CODES, DOCUMENT, NAMES, PEOPLE, ROSTER

FILE = b"nr;art;gruppe;von\nA1;CHOR;JUG;2026-12-15\nB2;AG;SCH;2026-12-15\n"


def open_choir(context, people: dict) -> tuple[int, int]:
    """Open the people and their memberships; returns the rosters' numbers."""
    with context.database.transaction() as connection:
        for name, codes in CODES.items():
            rosters.replace_code_list(connection, name, codes.codes)
    return open_roster_with(context, people, NAMES), open_roster_with(context, DOCUMENT, ROSTER)


def secret(people: dict) -> dict:
    """The same people, whose names are sensitive."""
    made = copy.deepcopy(people)
    made["fields"][1]["nevefield"]["sensitive"] = True
    return made


@pytest.mark.parametrize(
    ("people", "levels", "seen"),
    [
        (PEOPLE, (Level.LOOK, Level.PREPARE), True),
        (PEOPLE, (Level.NONE, Level.PREPARE), False),
        # may look, but not at what is sensitive
        (secret(PEOPLE), (Level.LOOK, Level.PREPARE), False),
        (secret(PEOPLE), (Level.PREPARE, Level.PREPARE), True),
    ],
    ids=["both", "memberships only", "sensitive", "sensitive and may"],
)
def test_who_sees_names(bare, people, levels, seen):
    """Rows, changes, the roster's list, a record's life and search name a person only to who may
    see that person's name.
    """
    first, second = open_choir(bare, people)
    of = {roster: level for roster, level in zip((first, second), levels, strict=True) if level}
    add_account(bare, PREPARES, "P. Prepares", PASSWORDS[PREPARES], Level.NONE, of)
    intake = receive_file(bare, "chor.csv", FILE, Claims(roster="zugehoerig"))
    own = Browser(bare, PREPARES)
    rows = own.get(f"/api/intakes/{intake}/rows")["rows"]
    assert [row["name"] == "Öztürk" for row in rows] == [seen, False]
    listed = own.get("/api/rosters/zugehoerig/records")["rows"]
    assert (listed[0]["name"] == "Öztürk") is seen
    assert (own.get(f"/api/records/{listed[0]['id']}")["name"] == "Öztürk") is seen
    own.post(f"/api/intakes/{intake}/steps", {"step": {"kind": "coverage", "of": "groups"}})
    absent = own.get(f"/api/intakes/{intake}/family", family="absent")["people"]
    assert len(absent) == 2
    assert ({one["name"] for one in absent} == {"Öztürk", "Ní Bhriain"}) is seen
    if not seen:
        found = [own.get(f"/api/intakes/{intake}/{page}") for page in ("rows", "causes", "changes")]
        assert "Öztürk" not in str(found) + str(listed)


def test_a_number_that_is_nobodys(bare):
    """Where the other roster has nobody of that number there is no name, and nothing fails."""
    open_choir(bare, PEOPLE)
    add_account(bare, APPROVES, "A. Approves", PASSWORDS[APPROVES], Level.APPROVE)
    intake = receive_file(
        bare,
        "chor.csv",
        b"nr;art;gruppe;von\nZ9;CHOR;JUG;2026-12-15\n",
        Claims(roster="zugehoerig"),
    )
    (row,) = Browser(bare, APPROVES).get(f"/api/intakes/{intake}/rows")["rows"]
    assert (row["name"], row["outcome"]) in {("Z9", "stopped"), ("", "stopped")}


def test_names_of_their_own_stay(desk):
    """A roster whose records have names shows those, and asks no other roster."""
    rows = Browser(desk, LOOKS).get("/api/rosters/staff/records")["rows"]
    assert {row["name"] for row in rows} == {""}
