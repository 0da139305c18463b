"""Definitions through the API: read, tried against the records, written, brought wrong, written
by two.
"""

from __future__ import annotations

import copy
import re

import pytest

from tests.conftest import ADMINISTERS, APPROVES, LOOKS


@pytest.fixture
def admin(browser):
    return browser(ADMINISTERS)


@pytest.fixture
def staff(admin) -> dict:
    return admin.get("/api/rosters/staff/definition")


def put(admin, document: dict, seen: int, name: str = "staff"):
    return admin.send(
        "PUT", f"/api/rosters/{name}/definition", json={"document": document, "seen": seen}
    )


def field(document: dict, name: str) -> dict:
    return next(one for one in document["fields"] if one["name"] == name)


def test_a_field_is_added_without_a_restart(admin, staff):
    """A new field is in force at once: tried first, in the roster, taken by the next file."""
    document = copy.deepcopy(staff["document"])
    document["fields"].append(
        {"name": "locker", "title": "Locker", "constraints": {"pattern": "[A-F][0-9]{2}"}}
    )
    assert admin.post("/api/rosters/staff/definition/try", {"document": document}) == {
        "records": 186,
        "troubles": [],
        "why": "",
    }
    assert put(admin, document, staff["number"]).json == {"number": 2}
    (roster,) = (one for one in admin.get("/api/rosters")["rosters"] if one["name"] == "staff")
    assert roster["fields"][-1]["title"] == "Locker"
    number = admin.get("/api/rosters/staff/records", limit=1)["rows"][0]["values"]["staff_number"]
    intake = admin.drop(f"Staff number,Locker\n{number},B12\n".encode(), "lockers.csv").json[
        "intake"
    ]
    assert admin.get(f"/api/intakes/{intake}")["tally"]["changed"] == 1


def test_what_would_break_is_said(admin, staff, made):
    """A narrower pattern, a new required field and a field that goes are counted with the
    records that they would break.
    """
    document = copy.deepcopy(staff["document"])
    field(document, "mail").setdefault("constraints", {})["maxLength"] = 24
    field(document, "last_day")["constraints"] = {"required": True}
    document["fields"] = [one for one in document["fields"] if one["name"] != "roles"]
    document["nevefield"]["checks"] = [
        one for one in document["nevefield"]["checks"] if one["check"] == "order"
    ]
    del document["nevefield"]["groups"]  # they read what goes
    found = {
        (one["check"], one["field"]): one
        for one in admin.post("/api/rosters/staff/definition/try", {"document": document})[
            "troubles"
        ]
    }
    records = admin.get("/api/rosters/staff/records", limit=1000)["rows"]
    values = [one["values"] for one in records]
    expected = {
        ("maxLength", "mail"): sum(len(one.get("mail") or "") > 24 for one in values),
        ("required", "last_day"): sum(not one.get("last_day") for one in values),
        ("field-gone", "roles"): sum(bool(one.get("roles")) for one in values),
    }
    assert {key: one["records"] for key, one in found.items()} == expected
    numbers = {one["staff_number"] for one in values if len(one.get("mail") or "") > 24}
    assert set(found["maxLength", "mail"]["keys"]) <= numbers
    assert admin.get("/api/rosters/staff/definition")["number"] == staff["number"]


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda d: d.update(name="crew"), r"name: this is the definition of “crew”"),
        (lambda d: d.pop("primaryKey"), r"primaryKey: is missing"),
        (
            lambda d: field(d, "contract")["nevefield"].update(codeLst="x"),
            r"codeLst: did you mean codeList",
        ),
        (
            lambda d: field(d, "contract")["nevefield"].update(codeList="moons"),
            r"there is no code list “moons”",
        ),
        (
            lambda d: field(d, "roles")["nevefield"].pop("several"),
            r"records have several values in Roles",
        ),
        (
            lambda d: field(d, "department")["nevefield"].update(parent="department"),
            r"goes in a circle: department → department",
        ),
        (
            lambda d: d["nevefield"]["checks"].append({"check": "odrer", "fields": []}),
            r"did you mean order",
        ),
    ],
)
def test_mistakes_are_placed(admin, staff, spoil, said):
    """A definition with a mistake is refused with the place and what would be right; nothing is
    written.
    """
    document = copy.deepcopy(staff["document"])
    spoil(document)
    answer = put(admin, document, staff["number"])
    assert answer.status_code == 422
    assert re.search(said, answer.json["detail"]), answer.json["detail"]
    assert admin.get("/api/rosters/staff/definition")["number"] == staff["number"]


def test_unique_holds_from_now_on(admin, staff):
    """What records share cannot be made unique; what they do not share can, and the database
    holds it from then on.
    """
    document = copy.deepcopy(staff["document"])
    field(document, "position")["constraints"] = {"required": True, "unique": True}
    assert put(admin, document, staff["number"]).status_code == 409
    document = copy.deepcopy(staff["document"])
    field(document, "phone")["constraints"] = {"unique": True}
    troubles = admin.post("/api/rosters/staff/definition/try", {"document": document})["troubles"]
    assert put(admin, document, staff["number"]).status_code == (409 if troubles else 200)


def test_two_who_write_at_once(admin, staff):
    """Of two definitions made of the same one, the second is refused and told so."""
    document = copy.deepcopy(staff["document"])
    document["title"] = "All staff"
    assert put(admin, document, staff["number"]).status_code == 200
    answer = put(admin, document, staff["number"])
    assert (answer.status_code, "changed meanwhile" in answer.json["detail"]) == (409, True)


def test_levels(browser, staff):
    """Who may look sees the definition; only who administers tries and writes one, or opens a
    roster.
    """
    for name in (LOOKS, APPROVES):
        own = browser(name)
        assert own.get("/api/rosters/staff/definition")["document"] == staff["document"]
        assert put(own, staff["document"], staff["number"]).status_code == 403
        assert (
            own.send(
                "POST", "/api/rosters/staff/definition/try", json={"document": staff["document"]}
            ).status_code
            == 403
        )
        assert (
            own.send("POST", "/api/definitions", json={"document": staff["document"]}).status_code
            == 403
        )


def test_a_roster_is_opened(admin, staff):
    """A roster is opened with its definition, under a name that none has."""
    document = {
        "name": "guests",
        "title": "Guests",
        "primaryKey": "no",
        "fields": [{"name": "no"}, {"name": "name"}],
    }
    assert admin.post("/api/definitions", {"document": document}) == {"name": "guests"}
    assert admin.send("POST", "/api/definitions", json={"document": document}).status_code == 422
    assert admin.get("/api/rosters/guests/records")["total"] == 0


def test_older_versions(browser):
    """An older definition is read with what became another since, and put in force again as a
    version of its own, tried first; one that there never was is not there.
    """
    own = browser(ADMINISTERS)
    place = "/api/rosters/cadets/definition"
    first = own.get(place)
    number, before = first["number"], first["document"]
    altered = {
        **before,
        "title": "Cadets and guests",
        "fields": [
            {**one, "constraints": {"required": True}} if one["name"] == "berth" else one
            for one in before["fields"]
        ],
    }
    body = {"document": altered, "seen": number}
    assert own.send("PUT", place, json=body).status_code == 200
    older = own.get(f"{place}/versions/{number}")
    assert older["document"] == before
    assert len(older["changes"]) == 2
    assert any("title" in one for one in older["changes"])
    assert any(one.startswith("Berth") for one in older["changes"])
    assert own.get(f"{place}/versions/{number + 1}")["changes"] == []
    back = own.send("PUT", place, json={"document": older["document"], "seen": number + 1})
    assert back.status_code == 200
    now = own.get(place)
    assert (now["number"], now["document"]) == (number + 2, before)
    assert own.get(f"{place}/versions/{number}")["changes"] == []
    assert own.send("GET", f"{place}/versions/99").status_code == 404
