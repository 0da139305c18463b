"""Groups whose own names are written with what addresses are written with: looked at, moved into
and confirmed all the same.
"""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, add_account
from nevefield.core.codes import read_codes
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters
from tests.conftest import APPROVES, PASSWORDS, Browser

ODD = ["1/A", "Ü-30 & mehr", "50%", "a?b=c", "#7", "Tee, Kaffee", "..", "x y"]
CODES = "list,code,label\n" + "".join(f'team,"{code}","Team {code}"\n' for code in ODD)
DOCUMENT = {
    "name": "verein",
    "title": "Verein",
    "primaryKey": "nr",
    "fields": [
        {"name": "nr"},
        {"name": "name"},
        {"name": "team", "nevefield": {"codeList": "team"}},
    ],
    "nevefield": {"groups": [{"kind": "team", "by": ["team"]}], "checks": []},
}


@pytest.fixture
def club(bare) -> Browser:
    with bare.database.transaction() as connection:
        for name, codes in read_codes(CODES).items():
            rosters.replace_code_list(connection, name, codes.codes)
    open_roster_with(
        bare,
        DOCUMENT,
        [{"nr": str(place), "name": f"N{place}", "team": code} for place, code in enumerate(ODD)],
    )
    add_account(bare, APPROVES, "A. Approves", PASSWORDS[APPROVES], Level.ADMINISTER)
    return Browser(bare, APPROVES)


def members(own: Browser, code: str) -> list[dict]:
    return own.get("/api/groups/verein/team/members", key=code)["members"]


@pytest.mark.parametrize("code", ODD)
def test_looked_at(club, code):
    """Each group opens with its one member, and counts over the year."""
    groups = {one["key"][0]: one for one in club.get("/api/groups/verein/team")["groups"]}
    assert groups[code]["size"] == 1
    assert [one["name"] for one in members(club, code)] == [f"N{ODD.index(code)}"]


@pytest.mark.parametrize("code", ODD)
def test_moved_into(club, code):
    """Somebody is moved into it: the intake says from where to where."""
    other = ODD[ODD.index(code) - 1]
    (one,) = members(club, other)
    body = {
        "moves": {str(one["own"]): code},
        "is_spread": False,
        "leaving": {str(one["own"]): other},
    }
    intake = club.post("/api/groups/verein/team/place", body)["intake"]
    (move,) = club.get(f"/api/intakes/{intake}/family", family="team")["moves"]
    assert (move["old"], move["new"], move["count"]) == (other, code, 1)


@pytest.mark.parametrize("code", ODD)
def test_confirmed(club, code):
    """A member is ticked off as rightly there, and stays so."""
    (one,) = members(club, code)
    assert club.post("/api/groups/verein/team/confirm", {"key": [code], "records": [one["own"]]})
    assert members(club, code)[0]["confirmed"] is not None
