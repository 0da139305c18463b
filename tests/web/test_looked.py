"""Sensitive fields: uncovered for a task by who may, for a while; and who looked at them."""

from __future__ import annotations

import pytest

from nevefield.core.masking import COVER
from tests.conftest import ADMINISTERS, LOOKS, PREPARES


@pytest.fixture
def own(browser):
    return browser(ADMINISTERS)


@pytest.fixture
def looker(browser):
    return browser(LOOKS)


def let(own, name: str, **more) -> None:
    """Let an account do what it may, and more."""
    one = next(one for one in own.get("/api/accounts")["people"] if one["sign_in"] == name)
    body = {key: one[key] for key in ("name", "level", "rosters", "last_day")} | more
    assert own.send("PUT", f"/api/accounts/{one['id']}", json=body).status_code == 204


def covered(client) -> bool:
    """Whether sensitive values of the cadets are covered for somebody, wherever they stand."""
    row = client.get("/api/rosters/cadets/records", limit=1)["rows"][0]
    life = client.get(f"/api/records/{row['id']}")
    exported = client.get("/api/rosters/cadets/export", format="json")["records"]
    places = {COVER in str(one) for one in (row, life["values"], exported)}
    assert len(places) == 1
    return places.pop()


def uncover(client, reason: str = "a letter to the parents", roster: str = "cadets") -> int:
    return client.send(
        "POST", f"/api/rosters/{roster}/uncover", json={"reason": reason}
    ).status_code


def test_uncovered_for_a_while(own, looker, clock):
    """Who may, with a reason, in one roster, for a quarter of an hour or until they are done; the
    trail has the reason.
    """
    assert covered(looker)
    assert uncover(looker) == 403
    assert covered(looker)
    let(own, LOOKS, may_uncover=True)
    assert looker.get("/api/session")["may_uncover"]
    for reason in ("", "   ", "x"):
        assert uncover(looker, reason) == 403
    assert uncover(looker) == 200
    assert not covered(looker)
    rosters = {one["name"]: one for one in looker.get("/api/rosters")["rosters"]}
    assert rosters["cadets"]["uncovered_until"]
    assert rosters["staff"]["uncovered_until"] is None
    assert COVER in str(looker.get("/api/rosters/staff/records", limit=1)["rows"])
    clock.move(minutes=16)
    assert covered(looker)
    assert uncover(looker) == 200
    assert looker.send("POST", "/api/rosters/cadets/cover", json={}).status_code == 204
    assert covered(looker)
    lines = own.get("/api/trail", group="taken")["lines"]
    said = [(one["words"], one["who"]) for one in lines if "cover" in one["words"]]
    assert said[:3] == [
        ("covered sensitive fields again", "A. Lindqvist"),
        ("uncovered sensitive fields", "A. Lindqvist"),
        ("uncovered sensitive fields", "A. Lindqvist"),
    ]
    assert any("a letter to the parents" in one["detail"] for one in lines)


def test_who_looked(own, looker, browser, clock):
    """Whom somebody saw uncovered stands there once an hour, with the reason; of who sees them
    covered nothing does.
    """
    number = looker.get("/api/rosters/cadets/records", limit=1)["rows"][0]["id"]
    looker.get(f"/api/records/{number}")
    assert own.get("/api/looked")["total"] == 0
    let(own, LOOKS, may_uncover=True)
    uncover(looker)
    for _ in range(3):
        looker.get(f"/api/records/{number}")
    preparer = browser(PREPARES)
    preparer.get(f"/api/records/{number}")
    preparer.get("/api/rosters/cadets/records", limit=1)
    clock.move(hours=1)
    preparer.get(f"/api/records/{number}")
    found = own.get("/api/looked")
    seen = [(one["who"], one["record"], one["reason"]) for one in found["lines"]]
    assert found["total"] == 4
    assert sorted(seen, key=str) == sorted(
        [
            ("R. Tamm", number, ""),
            ("R. Tamm", None, ""),
            ("A. Lindqvist", number, "a letter to the parents"),
            ("R. Tamm", number, ""),
        ],
        key=str,
    )
    assert seen[0] == ("R. Tamm", number, "")  # the last hour first
    family = own.get(f"/api/records/{number}")["name"].split()[-1]
    assert all(family in one["whom"] for one in found["lines"] if one["record"])
    own_looks = own.get("/api/looked", roster="staff")
    assert own_looks["total"] == 0
    assert looker.send("GET", "/api/looked").status_code == 403
