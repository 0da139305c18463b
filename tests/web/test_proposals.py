"""Proposals and taking back at the API: levels, one's own, what is shown to whom."""

from __future__ import annotations

import pytest

from nevefield.jobs.worker import run_one
from tests.conftest import ADMINISTERS, APPROVES, LOOKS, PREPARES, Browser


@pytest.fixture
def intake(desk, joiners) -> int:
    return Browser(desk, PREPARES).drop(joiners).json["intake"]


def propose(own: Browser, intake: int):
    state = own.get(f"/api/intakes/{intake}")
    body = {"steps": state["steps"], "roster_version": state["roster_version"]}
    return own.send("POST", f"/api/intakes/{intake}/propose", json=body)


def test_levels_of_a_proposal(desk, intake):
    """Who looks proposes nothing, who prepares approves nothing, and nobody approves their
    own.
    """
    assert propose(Browser(desk, LOOKS), intake).status_code == 403
    own = Browser(desk, APPROVES)
    number = propose(own, intake).json["proposal"]
    path = f"/api/proposals/{number}"
    assert Browser(desk, PREPARES).send("POST", f"{path}/approve").status_code == 403
    assert (
        Browser(desk, PREPARES).send("POST", f"{path}/send-back", json={"reason": "no"}).status_code
        == 403
    )
    # somebody else's
    assert Browser(desk, PREPARES).send("POST", f"{path}/withdraw").status_code == 409
    mine = own.send("POST", f"{path}/approve")
    assert mine.status_code == 409
    assert mine.json["type"] == "urn:nevefield:NotApproved"
    seen = Browser(desk, LOOKS).get("/api/proposals")["proposals"]
    assert [(one["id"], one["is_mine"], one["may_approve"]) for one in seen] == [
        (number, False, False)
    ]


def test_sent_back_and_proposed_again(desk, intake):
    """The reason reaches who proposed it; proposed again it is approved, done, and the receipt
    stands with the proposal.
    """
    own, other = Browser(desk, PREPARES), Browser(desk, APPROVES)
    number = propose(own, intake).json["proposal"]
    assert (
        other.send(
            "POST", f"/api/proposals/{number}/send-back", json={"reason": "line 7 first"}
        ).status_code
        == 200
    )
    state = own.get(f"/api/intakes/{intake}")["proposal"]
    assert (state["state"], state["reason"]) == ("sent_back", "line 7 first")
    number = propose(own, intake).json["proposal"]
    assert other.send("POST", f"/api/proposals/{number}/approve").json["job"]
    assert run_one(desk, "w")
    done = own.get(f"/api/proposals/{number}")
    assert done["state"] == "done"
    assert own.get(f"/api/change-sets/{done['change_set']}")["intake"] == intake
    assert own.get("/api/proposals")["proposals"] == []


def test_undo_plan_is_shown_before(desk, intake):
    """What taking back would do is counted by field and shown with names; chosen people are
    taken back, the rest is not.
    """
    own = Browser(desk, APPROVES)
    state = own.get(f"/api/intakes/{intake}")
    own.post(
        f"/api/intakes/{intake}/apply",
        {"steps": state["steps"], "roster_version": state["roster_version"]},
    )
    assert run_one(desk, "w")
    done = own.get(f"/api/intakes/{intake}")["applied"]
    plan = own.get(f"/api/change-sets/{done}/undo")
    assert (plan["leaves"], plan["values"]) == (state["tally"]["new"], state["tally"]["changed"])
    first = plan["people"][0]
    back = own.send(
        "POST", f"/api/change-sets/{done}/take-back", json={"records": [first["record"]]}
    )
    assert back.json["part_of"] == done
    assert own.get(f"/api/change-sets/{done}/undo")["leaves"] + own.get(
        f"/api/change-sets/{done}/undo"
    )["values"] == (plan["leaves"] + plan["values"] - 1)


def test_compared_covers_what_is_sensitive(college, clock):
    """Who may only look sees that sensitive values differ, and never what they are; a file to
    take along has none either.
    """
    clock.move(days=1)
    own, looks = Browser(college, ADMINISTERS), Browser(college, LOOKS)
    rows = own.get("/api/rosters/cadets/records", limit=200)["rows"]
    code = next(row["values"]["dietary"] for row in rows if row["values"].get("dietary"))[0]
    record = next(row for row in rows if not row["values"].get("dietary"))
    edited = own.send(
        "POST", f"/api/records/{record['id']}/edit", json={"values": {"dietary": code}}
    )
    assert edited.status_code == 200, edited.json
    query = {"old": "day:2026-09-01", "new": "today", "family": "dietary"}
    (person,) = own.get("/api/rosters/cadets/compare", **query)["people"]
    assert (person["record"], person["old"], person["new"]) == (record["id"], None, [code])
    seen = looks.get("/api/rosters/cadets/compare", **query)
    assert [one["count"] for one in seen["families"] if one["key"] == "dietary"] == [1]
    assert code not in str(seen["people"])
    address = "/api/rosters/cadets/compare/export?old=day:2026-09-01&new=today"
    assert code in own.send("GET", address).data.decode("utf-8-sig")
    assert code not in looks.send("GET", address).data.decode("utf-8-sig")
    assert code not in str(
        looks.get(f"/api/change-sets/{edited.json['change_set']}/undo")["people"]
    )
    assert own.send("GET", "/api/rosters/cadets/compare?old=day:yesterday").status_code == 422
