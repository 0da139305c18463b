"""Runs at the API: numbers given, handed over, lost, spoiled, taken back and made again."""

from __future__ import annotations

import io
import json
import threading
from collections import Counter
from dataclasses import replace
from datetime import timedelta

import pytest
from pypdf import PdfReader

from nevefield.cards.designs import begin_design
from nevefield.cards.errors import OtherNumbers
from nevefield.cards.holding import find_cards
from nevefield.cards.running import Asked, find_scanned, make_run, open_run
from nevefield.core.cards.numbers import read_number
from nevefield.core.errors import WrongDesign
from nevefield.keeping.erasing import erase
from nevefield.store import records, rosters
from tests.cards.house import design_of, open_club
from tests.conftest import ADMINISTERS, LOOKS, PREPARES, Browser


@pytest.fixture
def page(college):
    return lambda name: Browser(college, name)


@pytest.fixture
def cards(made) -> dict:
    return json.loads((made / "gate-card.truth.json").read_text())


def passes(client) -> list[dict]:
    answer = client.send("GET", "/api/rosters/gate-passes/export?format=json")
    return json.loads(answer.data)["records"]


def numbers(client) -> Counter:
    return Counter((one["facility_code"], one["card_number"]) for one in passes(client))


def test_run_of_all_who_need_one(page, cards):
    """All who need a card and can have one get one, with a number of their campus's range that
    nobody had; the counts move, and the register has them.
    """
    client = page(PREPARES)
    before = numbers(client)
    wanted = len(cards["make"]) + len(cards["anew"])
    run = client.post("/api/cards/gate-card/runs", {"count": wanted})["run"]
    after = numbers(client)
    assert after.total() - before.total() == wanted == 37
    assert max(after.values()) == 1
    given = client.get(f"/api/cards/gate-card/runs/{run}")["cards"]
    assert sorted(Counter(one["record"] for one in given).values()) == [1] * 37
    assert {(one["facility"], one["number"]) for one in given} == set(after) - set(before)
    assert all(1 <= int(one["number"]) <= 1120 for one in given)
    counts = client.get("/api/cards/gate-card")["counts"]
    assert counts["has"] == len(cards["has"]) + 37
    assert (counts["make"], counts["anew"], counts["photo"], counts["unfit"]) == (0, 0, 3, 1)
    answer = client.send("POST", "/api/cards/gate-card/runs", json={})
    assert answer.status_code == 409
    assert "Nobody of those chosen needs a card" in answer.json["detail"]


def test_lost_card_is_made_again(page, cards):
    """A lost card is out of use at once, its holder needs one anew, and gets another number."""
    client = page(PREPARES)
    person = next(
        one
        for one in client.get("/api/cards/gate-card/people", need="has", limit=1000)["people"]
        if one["face"] == "cadets" and len(one["cards"]) == 1
    )
    card = person["cards"][0]
    change_set = client.post(f"/api/cards/gate-card/register/{card['card']}", {"what": "lost"})
    assert change_set["change_set"]
    (state,) = [
        one["pass_state"]
        for one in passes(client)
        if (one["facility_code"], one["card_number"]) == (card["facility"], card["number"])
    ]
    assert state == "LOST"
    again = client.send(
        "POST", f"/api/cards/gate-card/register/{card['card']}", json={"what": "lost"}
    )
    assert (again.status_code, again.json["detail"]) == (409, "This card is lost already.")
    (anew,) = client.get("/api/cards/gate-card/people", need="anew", text=person["key"])["people"]
    assert anew["why"] == [f"card {card['facility']}·{card['number']} is lost"]
    client.post("/api/cards/gate-card/runs", {"records": [person["record"]]})
    (now,) = client.get("/api/cards/gate-card/people", need="has", text=person["key"])["people"]
    (good,) = [one for one in now["cards"] if one["is_good"]]
    assert good["number"] != card["number"]
    assert [one["zones"] for one in passes(client) if one["card_number"] == good["number"]] == [
        one["zones"] for one in passes(client) if one["card_number"] == card["number"]
    ]


def test_change_makes_anew(page):
    """What stands on a card that we made changes: it is to be made anew, and why is said; what
    does not stand on it changes nothing.
    """
    client = page(ADMINISTERS)
    (first, second) = client.get("/api/cards/gate-card/people", need="make", limit=2)["people"]
    client.post("/api/cards/gate-card/runs", {"records": [first["record"], second["record"]]})
    client.post(f"/api/records/{first['record']}/edit", {"values": {"family_name": "Ødegård-Li"}})
    client.post(f"/api/records/{second['record']}/edit", {"values": {"berth": "A100"}})
    (anew,) = [
        one
        for one in client.get("/api/cards/gate-card/people", need="anew")["people"]
        if one["key"] in (first["key"], second["key"])
    ]
    assert anew["key"] == first["key"]
    was = first["name"].split(",")[0]
    assert anew["why"] == [f"Family name: {was} → Ødegård-Li"]
    # the card before is put out of use with the one that takes its place
    client.post("/api/cards/gate-card/runs", {"records": [first["record"]]})
    states = Counter(one["pass_state"] for one in passes(client) if one["holder"] == first["key"])
    assert states == {"ACTIVE": 1, "BLOCKED": 1}


def test_handed_over_by_scanning(page):
    """A card is ticked off by what a scanner reads: its holder's number or its own, with zeros or
    without; a number of two facilities is asked about.
    """
    client = page(PREPARES)
    run = client.post("/api/cards/gate-card/runs", {})["run"]
    made = client.get(f"/api/cards/gate-card/runs/{run}")["cards"]
    (key,) = [
        one["key"]
        for one in client.get("/api/cards/gate-card/people", need="has", limit=1000)["people"]
        if one["record"] == made[0]["record"]
    ]
    handed = client.post("/api/cards/gate-card/handed", {"scanned": key.lower()})
    assert handed["name"] == made[0]["name"]
    number = f"{made[1]['facility'].zfill(3)}-{made[1]['number'].zfill(5)}"
    assert client.post("/api/cards/gate-card/handed", {"scanned": number})["cards"] == 1
    cards = client.get(f"/api/cards/gate-card/runs/{run}")["cards"]
    assert [one["handed_at"] is not None for one in cards] == [True, True] + [False] * 35
    unknown = client.send("POST", "/api/cards/gate-card/handed", json={"scanned": "9999999"})
    assert unknown.status_code == 404


def test_two_runs_at_once(college, cards):
    """Two people make cards at the same moment: everybody gets one, no number is given twice."""
    clients = [Browser(college, PREPARES), Browser(college, ADMINISTERS)]
    gate = threading.Barrier(2)
    statuses = []

    def make(client):
        gate.wait()
        statuses.append(client.send("POST", "/api/cards/gate-card/runs", json={}).status_code)

    threads = [threading.Thread(target=make, args=(client,)) for client in clients]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(statuses) == [201, 409]
    found = passes(clients[0])
    assert max(numbers(clients[0]).values()) == 1
    good = Counter(one["holder"] for one in found if one["pass_state"] == "ACTIVE")
    assert all(good[key] == 1 for key in [*cards["make"], *cards["anew"]])


def test_run_taken_back(page, cards):
    """A run is taken back like any change: the cards are gone, everybody needs one as before; the
    numbers are given again where no sheet was printed, and rest where one was.
    """
    client = page(ADMINISTERS)
    for printed in (False, True):
        run = client.post("/api/cards/gate-card/runs", {})["run"]
        first = client.get(f"/api/cards/gate-card/runs/{run}")
        given = {(one["facility"], one["number"]) for one in first["cards"]}
        if printed:
            sheet = client.send("GET", f"/api/cards/gate-card/runs/{run}/sheets")
            assert sheet.data[:5] == b"%PDF-"
        client.post(f"/api/change-sets/{first['run']['change_set']}/take-back")
        assert client.get("/api/cards/gate-card")["counts"]["make"] == len(cards["make"])
        assert client.get("/api/cards/gate-card/runs")["runs"][0]["undone"]
        again = client.post("/api/cards/gate-card/runs", {})["run"]
        then = client.get(f"/api/cards/gate-card/runs/{again}")
        new = {(one["facility"], one["number"]) for one in then["cards"]}
        assert (not new & given) if printed else new == given
        client.post(f"/api/change-sets/{then['run']['change_set']}/take-back")


def test_who_may_only_look(page):
    """Who may look sees who needs a card, makes none, and sees no photograph."""
    client = page(LOOKS)
    assert client.get("/api/cards")["designs"][0]["people"] == 1012
    assert client.send("POST", "/api/cards/gate-card/runs", json={}).status_code == 403
    record = client.get("/api/cards/gate-card/people", need="has")["people"][0]["record"]
    assert client.send("GET", f"/api/records/{record}/photo").status_code == 404
    assert page(PREPARES).send("GET", f"/api/records/{record}/photo").data[:3] == b"\xff\xd8\xff"


def test_asked_again_after_a_lost_answer(page):
    """A card that is made although there is a good one is made once, however often it is asked
    for as it was looked at.
    """
    client = page(PREPARES)
    version = client.get("/api/cards/gate-card")["register_version"]
    (person,) = client.get("/api/cards/gate-card/people", need="has", limit=1)["people"]
    asked = {"records": [person["record"]], "anew": True, "count": 1, "seen": version}
    statuses = [
        client.send("POST", "/api/cards/gate-card/runs", json=asked).status_code for _ in range(2)
    ]
    assert statuses == [201, 409]
    assert len(client.get("/api/cards/gate-card/runs")["runs"]) == 1


def test_moved_meanwhile(page):
    """Another number of cards than was looked at is not made."""
    client = page(PREPARES)
    answer = client.send("POST", "/api/cards/gate-card/runs", json={"count": 36})
    assert answer.status_code == 409
    assert client.get("/api/cards/gate-card/runs")["runs"] == []


def test_sheets_say_what_was_made(page):
    """The sheets say what stood there when the cards were made, not what stands there today."""
    client = page(ADMINISTERS)
    (person,) = client.get("/api/cards/gate-card/people", need="make", limit=1)["people"]
    run = client.post("/api/cards/gate-card/runs", {"records": [person["record"]]})["run"]
    client.post(f"/api/records/{person['record']}/edit", {"values": {"family_name": "Changed"}})
    answer = client.send("GET", f"/api/cards/gate-card/runs/{run}/sheets?paper=card")
    text = "\n".join(one.extract_text() for one in PdfReader(io.BytesIO(answer.data)).pages)
    assert person["name"].split(", ")[0] in text
    assert "Changed" not in text


def test_cards_in_the_roster(page):
    """A person's record has their cards with state and photograph, and a card is found by its
    number, however a scanner gives it; who has a part of the people finds no card.
    """
    client = page(PREPARES)
    person = client.get("/api/cards/gate-card/people", need="has", limit=1)["people"][0]
    card = person["cards"][-1]
    of_person = client.get(f"/api/records/{person['record']}/cards")
    (design,) = of_person["designs"]
    assert (design["design"], design["key"], of_person["has_photo"]) == (
        "gate-card",
        person["key"],
        True,
    )
    assert card["number"] in [one["number"] for one in design["cards"]]
    assert not page(LOOKS).get(f"/api/records/{person['record']}/cards")["has_photo"]
    for scanned in (f"{card['facility']}-{card['number']}", f"{card['facility']}·{card['number']}"):
        places = [
            one for one in client.get("/api/search", q=scanned)["places"] if one["kind"] == "card"
        ]
        assert [(one["title"], one["detail"]) for one in places] == [
            (f"Card {card['facility']}·{card['number']}", person["name"])
        ]


def test_of_a_shortlist(page, cards):
    """Those of a shortlist are shown alone; another's own shortlist is not there."""
    admin, client = page(ADMINISTERS), page(PREPARES)
    people = client.get("/api/cards/gate-card/people", need="make", limit=3)["people"]
    records = [one["record"] for one in people]
    kept = admin.post(
        "/api/rosters/cadets/shortlists",
        {"title": "Mine", "records": records, "is_shared": False},
    )
    shown = admin.get("/api/cards/gate-card/people", shortlist=kept["id"])
    assert [one["record"] for one in shown["people"]] == records
    answer = client.send("GET", f"/api/cards/gate-card/people?shortlist={kept['id']}")
    assert answer.status_code == 404


def test_numbers_with_letters_and_zeros(bare):
    """A register of texts: the next numbers are written as those that there are, none of which is
    given again however it is spelt; they stand on the card, and are found as they are read.
    """
    there = [
        {"serial": "LIB-000011", "member": "0001", "ends": "2027-12-31"},
        {"serial": "lib-12", "member": "0002", "ends": "2020-01-01"},
        {"serial": "²", "member": "0009"},
        {"serial": "9" * 5000, "member": "0009"},
    ]
    open_club(bare, written={"before": "LIB-", "digits": 6}, there=there)
    run = open_run(bare, "club-card", make_run(bare, "club-card", Asked(), None))
    given = [f"LIB-0000{number}" for number in (13, 14, 15)]
    assert sorted(one.number for one in run.cards) == given
    assert sorted(one.card.texts["square"] for one in run.cards) == given
    assert find_scanned(bare, "club-card", "lib-14").number == "LIB-000014"
    assert [one.number for one in find_cards(bare, "LIB-000013")] == ["LIB-000013"]
    assert find_cards(bare, "13") == []


def test_numbers_are_not_made_otherwise_than_they_are(bare):
    """Nothing is made that would be numbered unlike everything that there is."""
    open_club(bare, written={}, there=[{"serial": "004512", "member": "0001"}])
    with pytest.raises(OtherNumbers, match="“004512”, and the first new one would be “11”"):
        make_run(bare, "club-card", Asked(), None)


def test_bare_numbers_have_no_letters(bare):
    """What holds whole numbers takes neither letters nor zeros, and it is said where to go."""
    open_club(bare)
    document = design_of() | {"name": "another"}
    document["numbering"]["digits"] = 5
    with pytest.raises(WrongDesign, match=r"^Digits: .+bare numbers.+under Definition"):
        begin_design(bare, document, None)


@pytest.mark.parametrize("written", [None, {"before": "LIB-", "digits": 4}])
def test_the_number_of_an_erased_card_rests(bare, written):
    """What is erased of a card is all that says whose it was; its number is not given to the next
    one before its days of rest are over, and is free then.
    """
    before = written["before"] if written else ""
    open_club(bare, written=written, there=[{"serial": f"{before}11", "member": "0009"}])
    with bare.database.transaction() as connection:
        register = rosters.get_roster(connection, "club-cards")
        ((card, _),) = records.list_current(connection, register.id)
    erase(bare, card, "Their parents", "left the club", None)
    run = open_run(bare, "club-card", make_run(bare, "club-card", Asked(), None))
    given = {read_number(one.number, before) for one in run.cards}
    assert given == {12, 13, 14, 15}
    later = replace(bare, now=lambda: bare.now() + timedelta(days=31))
    one = Asked(frozenset([run.cards[0].card.record_id]), anew=True)
    again = open_run(later, "club-card", make_run(later, "club-card", one, None))
    assert [read_number(one.number, before) for one in again.cards] == [11]
