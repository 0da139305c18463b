"""Update rules through the API: credits added once and once only, people ticked out, taken back."""

from __future__ import annotations

import pytest

from nevefield.intakes.applying import apply_intake
from tests.conftest import APPROVES, LOOKS, Browser


@pytest.fixture
def own(college):
    return Browser(college, APPROVES)


@pytest.fixture
def fellows(own) -> list[dict]:
    rows = own.get("/api/rosters/fellows/records", limit=60)["rows"]
    return [row for row in rows if row["values"].get("credits") and row["values"].get("town")][:3]


def credits(own, fellows) -> list[int]:
    """What credits the fellows have now."""
    return [int(own.get(f"/api/records/{one['id']}")["values"]["credits"]) for one in fellows]


def drop(own, fellows) -> str:
    lines = [
        f"{one['values']['fellow_number']},{number}"
        for one, number in zip(fellows, (5, 7, 9), strict=True)
    ]
    data = "\n".join(["fellow_number,credits", *lines]) + "\n"
    return f"/api/intakes/{own.drop(data.encode(), 'credits.csv', roster='fellows').json['intake']}"


def step(own, intake: str, **said) -> None:
    own.post(f"{intake}/steps", {"step": {"kind": "update", "field": "credits", **said}})


def test_credits_are_added_once(own, college, fellows):
    """Added credits are the sum; the same intake adds nothing a second time, and taking back
    gives the old ones.
    """
    before = credits(own, fellows)
    intake = drop(own, fellows)
    step(own, intake, rule="add")
    family = own.get(f"{intake}/family", family="credits")
    assert [(int(one["old"]), int(one["new"])) for one in family["people"]] == [
        (had, had + more) for had, more in zip(before, (5, 7, 9), strict=True)
    ]
    assert (family["rule"], int(family["before"]), int(family["after"])) == (
        "add",
        sum(before),
        sum(before) + 21,
    )
    state = own.get(intake)
    done = apply_intake(college, state["id"], state["steps"], state["roster_version"], None)
    assert credits(own, fellows) == [
        had + more for had, more in zip(before, (5, 7, 9), strict=True)
    ]
    again = own.get(intake)
    # what it did, and what it would do once more
    assert (again["tally"]["changed"], again["ready"]["changed"]) == (3, 0)
    own.post(f"/api/change-sets/{done}/take-back")
    assert credits(own, fellows) == before
    assert own.get(intake)["tally"]["changed"] == 3


def test_ticked_out_stays(own, college, fellows):
    """Whoever is ticked out keeps the roster's value, is counted, and can be ticked in again;
    looking is not enough.
    """
    before = credits(own, fellows)
    intake = drop(own, fellows)
    step(own, intake, rule="ours", lines=[2])
    family = own.get(f"{intake}/family", family="credits")
    assert ([one["line"] for one in family["people"]], family["kept"]) == ([3, 4], 1)
    step(own, intake, rule="file")
    assert own.get(f"{intake}/family", family="credits")["total"] == 3
    step(own, intake, rule="ours")
    families = {one["key"]: one["count"] for one in own.get(f"{intake}/changes")["families"]}
    assert families["credits"] == 0  # in sight, so that it can be changed back
    body = {"step": {"kind": "update", "field": "credits", "rule": "file"}}
    assert Browser(college, LOOKS).send("POST", f"{intake}/steps", json=body).status_code == 403
    answer = own.send(
        "POST", f"{intake}/steps", json={"step": {"kind": "update", "field": "mail", "rule": "add"}}
    )
    assert answer.status_code == 422
    assert credits(own, fellows) == before


def test_only_a_part_is_claimed(own, fellows):
    """A file that claims everybody of one town makes only those absent who live there."""
    town = fellows[0]["values"]["town"]
    intake = drop(own, fellows)
    everyone = own.get("/api/rosters/fellows/records", limit=1, filter=f"town:{town}")["total"]
    listed = sum(one["values"]["town"] == town for one in fellows)
    part = {"kind": "coverage", "of": "part", "when": {"field": "town", "is": town}}
    own.post(f"{intake}/steps", {"step": part})
    assert own.get(intake)["tally"]["absent"] == everyone - listed
    wrong = {"kind": "coverage", "of": "part", "when": {"field": "twon", "is": town}}
    answer = own.send("POST", f"{intake}/steps", json={"step": wrong})
    assert (answer.status_code, "town" in answer.json["detail"]) == (422, True)


def test_much_asks_for_its_number(own, college):
    """When a fifth of the roster changes, applying asks for the number of rows, at the API too;
    the usual does not.
    """
    rows = own.get("/api/rosters/staff/records", limit=1000)["rows"]
    lines = [
        f"{one['values']['staff_number']},+44 7700 900{place:03d}"
        for place, one in enumerate(rows[:60])
    ]
    data = "\n".join(["staff_number,phone", *lines]) + "\n"
    intake = f"/api/intakes/{own.drop(data.encode(), 'phones.csv', roster='staff').json['intake']}"
    state = own.get(intake)
    assert state["guards"] == [f"{state['tally']['changed']} of {len(rows)} records change."]
    plan = {"steps": state["steps"], "roster_version": state["roster_version"]}
    answer = own.send("POST", f"{intake}/apply", json=plan)
    assert (answer.status_code, f"Type {state['changes']}" in answer.json["detail"]) == (409, True)
    assert own.send("POST", f"{intake}/apply", json=plan | {"typed": 1}).status_code == 409
    # So many records of this roster need a second person as well: with the number it is proposed,
    # and not applied.
    assert own.send("POST", f"{intake}/propose", json=plan | {"typed": 1}).status_code == 409
    refused = own.send("POST", f"{intake}/apply", json=plan | {"typed": state["changes"]})
    assert refused.json["type"] == "urn:nevefield:NeedsApproval"
    assert (
        own.send("POST", f"{intake}/propose", json=plan | {"typed": state["changes"]}).status_code
        == 201
    )
