"""Programs ask by tokens: what they may do and nothing else, for as long as a token counts."""

from __future__ import annotations

import io

import pytest

from tests.conftest import ADMINISTERS

SHEET = b"cadet_number;family_name;given_names\nTQ999;Nobody;Nina\n"


@pytest.fixture
def own(browser):
    return browser(ADMINISTERS)


@pytest.fixture
def ask(own):
    """Ask as a program does: a header, no cookie, no page's token."""
    client = own.client.application.test_client()

    def asked(token: str, method: str, path: str, **more):
        header = {"Authorization": f"Bearer {token}"} if token else {}
        return client.open(f"/api{path}", method=method, headers=header, **more)

    return asked


def add(own, name: str = "Türen", **may) -> dict:
    return own.post("/api/programs", {"name": name, "level": 0, "rosters": {"cadets": 1}, **may})


def test_it_may_what_it_was_let(own, ask):
    """It sees its roster and no other, within its level, and people's own places not at all."""
    token = add(own)["token"]
    assert [one["name"] for one in ask(token, "GET", "/rosters").json["rosters"]] == ["cadets"]
    assert ask(token, "GET", "/rosters/cadets/records").json["total"] > 100
    assert ask(token, "GET", "/rosters/staff/records").status_code == 404
    drop = {"data": {"file": (io.BytesIO(SHEET), "x.csv"), "roster": "cadets"}}
    assert ask(token, "POST", "/intakes", **drop).status_code == 403
    for method, path in (
        ("GET", "/session/second-step"),
        ("PUT", "/session/password"),
        ("DELETE", "/session"),
        ("GET", "/accounts"),
        ("POST", "/programs"),
    ):
        assert ask(token, method, path, json={}).status_code == 403, path
    row = next(iter(own.get("/api/rosters/cadets/records", limit=1)["rows"]))
    page = ask(token, "GET", "/rosters/cadets/records?limit=1").json["rows"][0]
    assert page["id"] == row["id"]
    assert page["values"] != row["values"]  # sensitive fields are covered for who may only look


def test_a_file_that_it_brings(own, ask):
    """One that may prepare drops a file, with no page's token; the trail says who."""
    token = add(own, rosters={"cadets": 2})["token"]
    drop = {"data": {"file": (io.BytesIO(SHEET), "x.csv"), "roster": "cadets"}}
    answer = ask(token, "POST", "/intakes", **drop)
    assert answer.status_code == 201, answer.json
    line = own.get("/api/trail")["lines"][0]
    assert (line["who"], line["words"], line["subject"]) == ("Türen", "dropped a file", "x.csv")
    # a browser that is signed in still needs its page's token
    bare = own.client.open("/api/intakes", method="POST", data={"file": (io.BytesIO(SHEET), "x")})
    assert bare.status_code == 403


def test_until_it_is_ended(own, ask):
    """Of two tokens each counts until it is ended; none after its last day, none of a program that
    is closed; what is no token says so.
    """
    made = add(own)
    first, number = made["token"], made["account"]
    second = own.post(f"/api/programs/{number}/tokens", {"token_until": None})["token"]
    over = own.post(f"/api/programs/{number}/tokens", {"token_until": "2020-01-01"})["token"]
    assert [ask(one, "GET", "/desk").status_code for one in (first, second, over)] == [
        200,
        200,
        401,
    ]
    (program,) = own.get("/api/programs")["programs"]
    assert [(one["counts"], one["used_at"] is None) for one in program["tokens"]] == [
        (False, True),
        (True, False),
        (True, False),
    ]
    own.send("DELETE", f"/api/programs/{number}/tokens/{program['tokens'][2]['id']}")
    assert [ask(one, "GET", "/desk").status_code for one in (first, second)] == [401, 200]
    own.post(f"/api/accounts/{number}/close", {})
    assert ask(second, "GET", "/desk").status_code == 401
    own.post(f"/api/accounts/{number}/open", {})
    assert ask(second, "GET", "/desk").status_code == 200
    for wrong in ("nvf_", "nvf_" + "x" * 43, second[:-1], second + "x", "ü" * 20):
        answer = ask(wrong, "GET", "/desk")
        assert answer.status_code == 401
        assert "does not count" in answer.json["detail"]
    assert "Sign in first" in ask("", "GET", "/desk").json["detail"]


def test_what_cannot_be(own, desk):
    """None administers, now or later; two have not one name; one has no password link; and of a
    token nothing but a digest is kept.
    """
    made = add(own)

    def refused(method: str, path: str, body: dict) -> int:
        return own.send(method, path, json=body).status_code

    for rosters, level in (({"cadets": 4}, 0), ({}, 4)):
        body = {"name": "Other", "level": level, "rosters": rosters}
        assert refused("POST", "/api/programs", body) == 422
        assert refused("PUT", f"/api/accounts/{made['account']}", body) == 422
    assert refused("POST", "/api/programs", {"name": "Türen", "level": 1}) == 422
    assert refused("POST", f"/api/accounts/{made['account']}/link", {}) == 422
    people = own.get("/api/accounts")["people"]
    assert all(one["name"] != "Türen" for one in people)
    somebody = people[0]["id"]
    assert refused("POST", f"/api/programs/{somebody}/tokens", {}) == 404
    with desk.database.transaction() as connection:
        kept = repr(connection.rows("SELECT * FROM program_token"))
        kept += repr(connection.rows("SELECT detail FROM audit"))
    assert made["token"][4:] not in kept
