"""Who may do what: every route, every level, other sites, failed sign-ins."""

from __future__ import annotations

import json
import re
from datetime import date

import pytest
from flask import Flask

from nevefield.accounts import Level
from nevefield.submissions.opening import Beginning, begin_submission
from nevefield.web import create_app
from nevefield.web.access import Access, check_access, needs
from nevefield.web.errors import register_errors
from tests.conftest import ADMINISTERS, APPROVES, LOOKS, PASSWORDS, PREPARES

OPEN = {
    "front_end",
    "session.begin_session",
    "session.get_session",
    "links.get_first",
    "links.post_look",
    "links.post_use",
    "passing.get_fetched",
    "ask_scim",
    "letters.post_own_look",
    "letters.post_own_answer",
    "_health",
    "_ready",
    "_nowhere",
}


@pytest.fixture
def intake(browser, joiners) -> int:
    """An intake of the joiners, dropped by somebody who prepares."""
    return browser(PREPARES).drop(joiners).json["intake"]


def routes(app: Flask):
    for rule in app.url_map.iter_rules():
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            yield rule, method, re.sub(r"<[^>]*>", "1", str(rule))


def test_every_route_declares(desk):
    """Every route says who may use it; those open to all are exactly the known few."""
    app = create_app(desk.settings, desk)
    declared = {
        rule.endpoint: getattr(app.view_functions[rule.endpoint], "access", None)
        for rule, _, _ in routes(app)
    }
    assert all(isinstance(one, Access) for one in declared.values())
    assert {name for name, one in declared.items() if one.is_open} == OPEN


def test_every_route_refuses_strangers(browser, desk):
    """Without a session every route but the open ones answers 401, whatever the method."""
    stranger = browser()
    for rule, method, path in routes(create_app(desk.settings, desk)):
        if rule.endpoint not in OPEN:
            assert (
                stranger.send(method, path, json={} if method != "GET" else None).status_code == 401
            ), (method, path)


def test_undeclared_route_is_refused(desk):
    """A route that declares nothing is nobody's."""
    app = Flask(__name__)
    app.extensions["nevefield"] = desk
    app.before_request(check_access)
    register_errors(app)
    app.add_url_rule("/forgotten", view_func=lambda: "secret")
    answer = app.test_client().get("/forgotten")
    assert answer.status_code == 403
    assert b"secret" not in answer.data


def changing(intake: int, number: int):
    """Requests that change something, with the level that each asks for."""
    return [
        (
            "POST",
            f"/api/intakes/{intake}/steps",
            {"step": {"kind": "hold", "lines": [6], "reason": "x"}},
            Level.PREPARE,
        ),
        (
            "POST",
            f"/api/intakes/{intake}/remedies",
            {"cause": "x", "kind": "hold", "reason": "x"},
            Level.PREPARE,
        ),
        ("POST", f"/api/intakes/{intake}/apply", {"steps": 0, "roster_version": 1}, Level.APPROVE),
        ("POST", "/api/change-sets/1/take-back", {}, Level.APPROVE),
        ("POST", "/api/change-sets/1/propose-take-back", {}, Level.PREPARE),
        (
            "POST",
            f"/api/intakes/{intake}/propose",
            {"steps": 0, "roster_version": 1},
            Level.PREPARE,
        ),
        (
            "POST",
            f"/api/intakes/{intake}/schedule",
            {"steps": 0, "roster_version": 1, "day": "2027-01-01"},
            Level.APPROVE,
        ),
        ("POST", "/api/rosters/cadets/shortlists", {"title": ""}, Level.PREPARE),
        (
            "POST",
            "/api/rosters/cadets/change-many",
            {"acts": [{"field": "x", "act": "set"}], "everybody": True},
            Level.PREPARE,
        ),
        ("POST", "/api/groups/cadets/watch/spread", {"records": [0]}, Level.PREPARE),
        ("POST", "/api/groups/cadets/watch/place", {"moves": {"0": "SKUA"}}, Level.PREPARE),
        ("POST", "/api/groups/cadets/rules/try", {"rules": []}, Level.PREPARE),
        ("POST", "/api/groups/cadets/rules/run", {}, Level.PREPARE),
        ("POST", "/api/groups/cadets/watch/confirm", {"key": ["x"], "records": []}, Level.PREPARE),
        ("POST", "/api/rosters/cadets/two", {"one": 0, "other": 0}, Level.PREPARE),
        ("POST", "/api/rosters/cadets/merge", {"keep": 0, "gone": 0, "version": 0}, Level.APPROVE),
        ("POST", "/api/records/1/edit", {"values": {"no such field": "x"}}, Level.PREPARE),
        (
            "POST",
            "/api/rosters/cadets/submissions",
            {"roster": "cadets", "day": "2026-09-30"},
            Level.PREPARE,
        ),
        ("PUT", f"/api/submissions/{number}/layout", {"layout": {}}, Level.PREPARE),
        (
            "POST",
            f"/api/submissions/{number}/decide",
            {"records": [0], "kind": "hold", "reason": "x"},
            Level.PREPARE,
        ),
        (
            "POST",
            f"/api/submissions/{number}/translate",
            {"field": "x", "ours": "x", "theirs": "x"},
            Level.PREPARE,
        ),
        (
            "POST",
            f"/api/submissions/{number}/take-theirs",
            {"records": [0], "fields": ["BORN"]},
            Level.PREPARE,
        ),
        (
            "POST",
            f"/api/submissions/{number}/numbers",
            {"records": [0], "kind": "number", "value": "NEW"},
            Level.APPROVE,
        ),
        ("POST", f"/api/submissions/{number}/policy", {"none": False, "one": 1}, Level.APPROVE),
        ("POST", f"/api/submissions/{number}/send", {"seen": 999}, Level.APPROVE),
        (
            "PUT",
            "/api/codes/campus",
            {"codes": [{"code": "NQ"}, {"code": "CH"}, {"code": "TSM"}]},
            Level.ADMINISTER,
        ),
    ]


@pytest.mark.parametrize(
    ("name", "level"),
    [
        (LOOKS, Level.LOOK),
        (PREPARES, Level.PREPARE),
        (APPROVES, Level.APPROVE),
        (ADMINISTERS, Level.ADMINISTER),
    ],
)
def test_levels_hold_at_the_api(browser, desk, intake, joiners, made, name, level):
    """Each level may do what it includes and nothing above it; what is refused leaves no trace
    in the rosters or intakes.
    """
    own = browser(name)
    began = json.loads((made / "registry.json").read_text())
    day, layout, published = date.fromisoformat(began["day"]), began["layout"], began["published"]
    number = begin_submission(
        desk,
        Beginning(
            roster="cadets",
            title="Return",
            side="live",
            day=day,
            layout=layout,
            published=published,
        ),
        None,
    )
    for method, path, document, needed in changing(intake, number):
        answer = own.send(method, path, json=document)
        assert (answer.status_code == 403) == (level < needed), (path, answer.json)
    dropped = own.drop(joiners)
    assert (dropped.status_code == 201) == (level >= Level.PREPARE)
    if level == Level.LOOK:
        with desk.database.transaction() as connection:
            assert connection.row("SELECT COUNT(*) FROM intake_step") == (0,)
            assert connection.row("SELECT COUNT(*) FROM job") == (0,)
        assert own.get(f"/api/intakes/{intake}")["tally"]["read"] == 348  # but may look


def test_level_in_one_roster(bare, made, joiners):
    """A level in one roster holds there and nowhere else."""
    from nevefield.accounts import add_account
    from nevefield.run.demo import load_demo
    from nevefield.store import rosters
    from tests.conftest import Browser

    load_demo(bare, made)
    with bare.database.transaction() as connection:
        staff = rosters.get_roster(connection, "staff").id
    add_account(bare, LOOKS, "A. Lindqvist", PASSWORDS[LOOKS], Level.NONE, {staff: Level.APPROVE})
    own = Browser(bare, LOOKS)
    assert [one["name"] for one in own.get("/api/rosters")["rosters"]] == ["staff"]
    assert own.send("GET", "/api/rosters/cadets/records").status_code == 404
    assert own.send("GET", "/api/records/1").status_code == 404
    assert own.drop(joiners).status_code == 422  # no roster of theirs fits
    assert own.get("/api/search", q="a")["places"] != []
    assert all("Cadets" not in hit["detail"] for hit in own.get("/api/search", q="a")["places"])


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "https://elsewhere.example"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"X-Nevefield-Token": "wrong"},
    ],
)
def test_posts_from_elsewhere_are_refused(browser, intake, headers):
    """A post from another site, or without the session's token, does nothing."""
    own = browser(APPROVES)
    step = {"step": {"kind": "hold", "lines": [6], "reason": "x"}}
    assert (
        own.send("POST", f"/api/intakes/{intake}/steps", json=step, headers=headers).status_code
        == 403
    )
    assert own.get(f"/api/intakes/{intake}")["steps"] == 0
    signing = {"name": APPROVES, "password": PASSWORDS[APPROVES]}
    if "X-Nevefield-Token" not in headers:
        assert (
            browser().send("POST", "/api/session", json=signing, headers=headers).status_code == 403
        )


def test_unknown_name_says_the_same(browser):
    """A name that nobody has is answered like a wrong password."""
    answers = [
        browser()
        .send("POST", "/api/session", json={"name": name, "password": "wrong-wrong-1"})
        .json
        for name in ("nobody", APPROVES)
    ]
    assert answers[0]["detail"] == answers[1]["detail"]


def test_session_ends(browser, clock):
    """A session ends when signed out, and by itself after its hours; the cookie cannot be read
    by scripts.
    """
    own = browser(APPROVES)
    signed = own.send(
        "POST", "/api/session", json={"name": APPROVES, "password": PASSWORDS[APPROVES]}
    )
    assert "HttpOnly" in signed.headers["Set-Cookie"]
    assert "SameSite=Strict" in signed.headers["Set-Cookie"]
    own.token = signed.json["token"]
    assert own.send("DELETE", "/api/session").status_code == 204
    assert own.send("GET", "/api/desk").status_code == 401
    other = browser(APPROVES)
    assert other.send("GET", "/api/session").json["name"]
    clock.move(hours=13)
    assert other.send("GET", "/api/desk").status_code == 401
    asked = other.send("GET", "/api/session")  # that nobody is signed in is no error
    assert (asked.status_code, asked.data) == (204, b"")


def test_no_secret_is_stored(desk, browser):
    """Passwords and tokens are nowhere in the database as they are."""
    own = browser(APPROVES)
    with desk.database.transaction() as connection:
        told = (
            repr(connection.rows("SELECT password_hash FROM account"))
            + repr(connection.rows("SELECT * FROM session"))
            + repr(connection.rows("SELECT * FROM audit"))
        )
    cookie = own.client.get_cookie("nevefield_session").value
    assert PASSWORDS[APPROVES] not in told
    assert cookie not in told


def test_answers_protect_themselves(browser):
    """Every answer forbids foreign scripts, framing and guessing of types."""
    for path in ("/", "/api/desk", "/api/nothing"):
        headers = browser().send("GET", path).headers
        assert "script-src 'self'" in headers["Content-Security-Policy"]
        assert "frame-ancestors 'none'" in headers["Content-Security-Policy"]
        assert headers["X-Content-Type-Options"] == "nosniff"


def test_sensitive_fields_are_covered(browser, made):
    """Who may only look sees no day of birth: in records, lives, exports, searches, or any
    answer about an intake.
    """
    keeper, other = browser(PREPARES), browser(LOOKS)
    row = keeper.get("/api/rosters/cadets/records", limit=1)["rows"][0]
    born = row["values"]["born"]
    assert other.get("/api/rosters/cadets/records", limit=1)["rows"][0]["values"] == {
        **row["values"],
        "born": "•••",
        **({"dietary": "•••"} if "dietary" in row["values"] else {}),
    }
    assert other.get("/api/rosters/cadets/records", filter=f"born:{born}")["total"] == 0
    assert other.get(f"/api/records/{row['id']}")["values"]["born"] == "•••"
    exported = other.send("GET", "/api/rosters/cadets/export", query_string={"format": "csv"}).text
    assert born not in exported
    number = keeper.drop((made / "september-joiners.xlsx").read_bytes()).json["intake"]
    line = keeper.get(f"/api/intakes/{number}/rows", fields="born", limit=1)["rows"][0]
    fields = keeper.get(f"/api/intakes/{number}/rows/{line['line']}")["fields"]
    texts = {line["values"]["born"], next(one["raw"] for one in fields if one["field"] == "born")}
    paths = (
        "lines",
        "columns",
        "causes",
        "rows?fields=born&limit=1000",
        f"rows/{line['line']}",
        "rehearsal",
        "changes",
    )
    for path in paths:
        mine = keeper.send("GET", f"/api/intakes/{number}/{path}").text
        answer = other.send("GET", f"/api/intakes/{number}/{path}")
        assert (answer.status_code, [one for one in texts if one in answer.text]) == (200, []), path
        assert path not in ("rows?fields=born&limit=1000", "lines") or [
            one for one in texts if one in mine
        ]
    cell = {"line": line["line"], "field": "born", "value": "2001-07-13"}
    keeper.post(f"/api/intakes/{number}/steps", {"step": {"kind": "set", "cells": [cell]}})
    label = keeper.get(f"/api/intakes/{number}")["log"][-1]["label"]
    assert "2001-07-13" in label
    assert (
        other.get(f"/api/intakes/{number}")["log"][-1]["label"]
        == "Something about Born, which is kept from you"
    )
    sheet = other.send(
        "GET", f"/api/intakes/{number}/errors", query_string={"format": "csv", "rows": "all"}
    ).text
    assert [one for one in texts if one in sheet] == []


def test_only_known_ways_lead_to_a_roster():
    """A route that is about something from which no way leads to a roster cannot be declared."""
    with pytest.raises(ValueError, match="Nothing leads from 'moon' to a roster"):
        needs(Level.LOOK, of="moon")
