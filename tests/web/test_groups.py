"""Groups at the API: what is kept from who may only look, and shortlists that rest on it."""

from __future__ import annotations

import pytest

from tests.conftest import ADMINISTERS, LOOKS, PREPARES


@pytest.fixture
def page(browser):
    return browser


def test_what_is_kept_is_kept_in_groups(page):
    """Ages stand on a sensitive day of birth: who may only look sees neither the bands nor that
    they are mixed.
    """
    looks, prepares = page(LOOKS), page(PREPARES)
    path = "/api/groups/cadets/watch"
    shown, kept = prepares.get(path)["groups"], looks.get(path)["groups"]
    assert [one["size"] for one in shown] == [one["size"] for one in kept]
    assert any("bands of age mixed" in one["troubles"] for one in shown)
    assert all(one["ages"] for one in shown)
    assert not any(one["ages"] or "bands of age mixed" in one["troubles"] for one in kept)


def test_shortlists_and_rules_on_what_is_kept(page):
    """A live shortlist or a rule that reads a sensitive field tells who may only look neither
    its condition nor its people.
    """
    admin, looks = page(ADMINISTERS), page(LOOKS)
    made = admin.post(
        "/api/rosters/cadets/shortlists",
        {"title": "Diets", "live": {"field": "dietary", "filled": True}},
    )
    open_one = admin.post(
        "/api/rosters/cadets/shortlists",
        {"title": "Skua", "live": {"field": "watch", "is": "SKUA"}},
    )
    assert [one["title"] for one in looks.get("/api/rosters/cadets/shortlists")["shortlists"]] == [
        "Skua"
    ]
    assert (
        looks.get("/api/rosters/cadets/records", shortlist=open_one["id"])["total"]
        == open_one["count"]
    )
    assert (
        looks.send("GET", f"/api/rosters/cadets/records?shortlist={made['id']}").status_code == 404
    )
    assert (
        looks.send("GET", f"/api/rosters/cadets/export?shortlist={made['id']}").status_code == 404
    )
    definition = admin.get("/api/rosters/cadets/definition")
    document = definition["document"]
    document["nevefield"]["placement"] = [
        {"when": {"field": "dietary", "has": "VEG"}, "field": "berth", "value": "D100"}
    ]
    admin.send(
        "PUT",
        "/api/rosters/cadets/definition",
        json={"document": document, "seen": definition["number"]},
    )
    (rule,) = looks.get("/api/groups/cadets/rules")["rules"]
    assert (rule["said"], rule["when"], rule["people"]) == ("•••", {}, [])
    assert admin.get("/api/groups/cadets/rules")["rules"][0]["people"]
