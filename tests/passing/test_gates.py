"""Told to gate controllers: a swimming club's lockers and pools, with doors that do not answer, are
full, or forget everything.
"""

from __future__ import annotations

import dataclasses
from datetime import timedelta

import httpx
import pytest
from cryptography.fernet import Fernet
from stand_ins.gates.app import make_app

from nevefield.core.codes import Code
from nevefield.core.errors import WrongDestination
from nevefield.passing_on.comparing import compare
from nevefield.passing_on.keeping import begin_destination, keep_token
from nevefield.passing_on.looking import choose_rows, look_at
from nevefield.passing_on.sending import queue_due, tell
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.opening import open_roster_with
from nevefield.store.rosters import replace_code_list

JOB = 1
TOKEN = "of-the-club"
DOORS = [
    {"door": "front", "title": "Front door", "zones": ["IN"]},
    {"door": "pool", "title": "Pool", "zones": ["POOL"]},
    {"door": "tower", "title": "Diving tower", "zones": ["TOWER", "POOL"]},
]
BANDS = {
    "name": "bands",
    "title": "Wristbands",
    "primaryKey": "band",
    "fields": [
        {"name": "band", "title": "Band", "constraints": {"required": True}},
        {"name": "who", "title": "Who"},
        {"name": "zones", "title": "Zones", "nevefield": {"codeList": "z", "several": ";"}},
        {"name": "state", "title": "State"},
        {"name": "ends", "title": "Ends", "type": "date"},
    ],
}
GOOD = {
    "all": [
        {"field": "state", "is": "good"},
        {"any": [{"field": "ends", "filled": False}, {"field": "ends", "from": "today"}]},
    ]
}
GATES = {
    "name": "doors",
    "title": "Doors",
    "way": {"kind": "gates", "address": "http://doors.example"},
    "when": {"kind": "each minute"},
    "shares": [
        {
            "roster": "bands",
            "where": GOOD,
            "puts": [
                {"to": "number", "from": "band", "is_needed": True},
                {"to": "name", "from": "who"},
                {"to": "zones", "from": "zones"},
                {"to": "until", "from": "ends"},
            ],
        }
    ],
}
PEOPLE = [
    ("101", "Ann", ["IN", "POOL"], "good", ""),
    ("102", "Bo", ["IN"], "good", "2026-09-30"),
    ("103", "Cy", ["IN", "TOWER"], "good", ""),
    ("104", "Di", ["POOL"], "lost", ""),
    ("105", "Ed", [], "good", ""),
]


class Wire(httpx.BaseTransport):
    """The line to the stand-in."""

    def __init__(self) -> None:
        app = make_app([dict(one) for one in DOORS], TOKEN, control="wrench")
        self.gates = app.config["gates"]
        self._inner = httpx.WSGITransport(app=app, raise_app_exceptions=True)
        self.asked = 0

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        self.asked += 1
        return self._inner.handle_request(request)

    def do(self, door: str, **what) -> None:
        client = httpx.Client(transport=self._inner, base_url="http://doors.example")
        client.post(
            "/control", json={"door": door, **what}, headers={"Authorization": "Bearer wrench"}
        ).raise_for_status()

    def knows(self) -> dict[str, set[str]]:
        return {name: set(door.cards) for name, door in self.gates.doors.items()}


@pytest.fixture
def wire():
    return Wire()


@pytest.fixture
def club(bare, wire):
    settings = dataclasses.replace(bare.settings, step_key=Fernet.generate_key().decode())
    context = dataclasses.replace(bare, settings=settings, transport=wire)
    with context.database.transaction() as connection:
        replace_code_list(connection, "z", [Code("IN"), Code("POOL"), Code("TOWER")])
    names = [field["name"] for field in BANDS["fields"]]
    people = [{k: v for k, v in zip(names, one, strict=True) if v} for one in PEOPLE]
    open_roster_with(context, BANDS, people)
    begin_destination(context, GATES, None)
    keep_token(context, "doors", TOKEN, None)
    return context


def alter(context, band: str, **values) -> None:
    look = look_at(context, "doors")
    (row,) = choose_rows(context, look, "", band, start=0, limit=5)[1]
    edit_record(context, Edit(row.record, values, reason="by the test"), None)


def run(context) -> dict:
    return tell(context, "doors", JOB, None, by_itself=True)


def places(context) -> dict[str, int]:
    look = look_at(context, "doors")
    assert sum(look.counts.values()) == look.records
    return {place.value: count for place, count in look.counts.items() if count}


def test_each_door_knows_its_zones(club, wire):
    """A card is known at the doors of its zones alone; one that is lost is known nowhere, also who
    changes zones; nothing is told that is known.
    """
    assert queue_due(club) == 1
    run(club)
    first = {"front": {"0-101", "0-102", "0-103"}, "pool": {"0-101"}, "tower": {"0-101", "0-103"}}
    assert wire.knows() == first
    assert places(club) == {"in step": 4, "not theirs": 1}
    asked = wire.asked
    run(club)
    assert wire.asked == asked + 1  # how the doors are
    alter(club, "101", state="lost")
    alter(club, "103", zones=["POOL"])
    run(club)
    assert wire.knows() == {"front": {"0-102"}, "pool": {"0-103"}, "tower": {"0-103"}}


def test_a_door_that_does_not_answer_keeps_nobody_waiting(club, wire):
    """A lost card is off at every door that answers at once; which do not know it yet is said; they
    are told when they answer again.
    """
    run(club)
    wire.do("front", answers=False)
    alter(club, "101", state="lost")
    alter(club, "105", zones=["IN", "POOL"])
    run(club)
    assert wire.knows() == {
        "front": {"0-101", "0-102", "0-103"},
        "pool": {"0-105"},
        "tower": {"0-103", "0-105"},
    }
    assert places(club) == {"in step": 2, "to send": 1, "to end": 1, "not theirs": 1}
    look = look_at(club, "doors")
    assert "Front door" in look.opened.row.problem
    because = {row.key: row.because for row in choose_rows(club, look, "", "", start=0, limit=9)[1]}
    assert because["101"].startswith("receipt")
    assert {one["door"]: one["answers"] for one in look.opened.row.doors}["front"] is False
    wire.do("front", answers=True)
    run(club)
    assert wire.knows()["front"] == {"0-102", "0-103", "0-105"}
    assert places(club) == {"in step": 3, "not theirs": 2}
    assert look_at(club, "doors").opened.row.problem == ""


def test_a_door_that_forgets_is_told_anew(club, wire):
    run(club)
    before = wire.knows()
    wire.do("tower", forget=True)
    assert wire.knows()["tower"] == set()
    run(club)
    assert wire.knows() == before
    assert places(club) == {"in step": 4, "not theirs": 1}


def test_what_doors_know_is_compared(club, wire):
    """A card that somebody took out of a door, or put in, is found, and put right."""
    run(club)
    before = wire.knows()
    wire.gates.set("pool", "0-101", None)
    wire.gates.set("tower", "0-999", {"name": "Nobody", "until": ""})
    wire.gates.set("front", "0-103", {"name": "Somebody else", "until": ""})
    answer = compare(club, "doors", JOB, club.now())
    assert answer == {"compared": 4, "otherwise": 2, "gone": 0, "strange": 1}
    run(club)
    assert {**wire.knows(), "tower": wire.knows()["tower"] - {"0-999"}} == before
    assert wire.gates.doors["front"].cards["0-103"]["name"] == "Cy"


def test_a_full_door_is_a_cause(club, wire):
    """A door without room is said by name, with those who are not in it."""
    wire.do("front", room=2)
    run(club)
    (cause,) = look_at(club, "doors").causes
    assert (cause.code, len(cause.records)) == ("full at front", 1)
    assert len(wire.knows()["front"]) == 2


def test_what_ends_at_midnight_is_gone_after_it(club, clock, wire):
    run(club)
    clock.at = clock.at.replace(month=9, day=30, hour=23, minute=59)
    assert queue_due(club) == 1
    run(club)
    assert "0-102" in wire.knows()["front"]
    clock.at += timedelta(minutes=2)
    assert places(club)["to end"] == 1
    run(club)
    assert "0-102" not in wire.knows()["front"]


def test_what_cannot_be(club):
    wrong = {**GATES, "name": "others"}
    puts = [{"to": "number", "from": "band"}, {"to": "zones", "from": "zones"}]
    for extra, says in (([{"to": "born", "from": "ends"}], "doors have no born"), ([], "")):
        share = {"roster": "bands", "puts": [*puts[: 2 if extra else 1], *extra]}
        with pytest.raises(WrongDestination, match=says or "needs number and zones"):
            begin_destination(club, {**wrong, "shares": [share]}, None)
