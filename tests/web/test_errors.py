"""What goes wrong, as the API says it: problem documents, and never what lies behind."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nevefield.store.connection import Database
from nevefield.web import create_app
from nevefield.web.errors import STATUS
from tests.conftest import APPROVES, PASSWORDS, Browser


@pytest.mark.parametrize(
    ("method", "path", "body", "status"),
    [
        ("GET", "/api/nothing", None, 404),
        ("POST", "/api/nothing/at/all", {}, 404),
        ("DELETE", "/api/rosters", None, 405),
        ("POST", "/api/session", {"name": "x"}, 422),
        ("POST", "/api/session", {"name": "x", "password": "y", "more": 1}, 422),
        ("POST", "/api/session", "no object", 422),
        ("GET", "/api/rosters/cadets/records?limit=100000", None, 422),
        ("GET", "/api/rosters/cadets/records?as_of=yesterday", None, 422),
        ("GET", "/api/rosters/cadets/export?format=pdf", None, 422),
        ("POST", "/api/intakes", {}, 415),
    ],
)
def test_problems_are_documents(browser, method, path, body, status):
    """Whatever is wrong with a request is answered as a problem document with a sentence."""
    answer = browser(APPROVES).send(method, path, **({} if body is None else {"json": body}))
    assert answer.status_code == status
    assert answer.mimetype == "application/problem+json"
    assert answer.json["detail"].endswith(".")
    assert answer.json["status"] == status


def test_unforeseen_says_nothing_of_the_inside(desk, monkeypatch):
    """An error that nobody foresaw is answered without its text, its place or a trace."""
    import nevefield.web.desk.routes_desk as routes

    def fail(*_: object) -> None:
        raise RuntimeError("the inside of the house")

    own = Browser(desk, APPROVES)
    monkeypatch.setattr(routes, "look_at_desk", fail)
    answer = own.send("GET", "/api/desk")
    assert answer.status_code == 500
    assert answer.mimetype == "application/problem+json"
    assert "inside" not in answer.text
    assert "Traceback" not in answer.text


def test_database_gone_is_said(desk):
    """Without a database the answer is 503 in words, and the same client goes on once it is
    back.
    """
    gone = replace(desk, database=Database("mysql://x:y@127.0.0.1:1/none"))
    client = create_app(gone.settings, gone).test_client()
    answer = client.post("/api/session", json={"name": APPROVES, "password": PASSWORDS[APPROVES]})
    assert answer.status_code == 503
    assert "does not answer" in answer.json["detail"]
    assert "127.0.0.1" not in answer.text


def test_every_own_error_has_a_status():
    """Every error class of the services and the store has a status in the one table."""
    from nevefield.core.errors import CoreError
    from nevefield.intakes.errors import IntakeError
    from nevefield.rosters.errors import RosterError
    from nevefield.store.errors import StoreError

    leaves = {
        one
        for base in (CoreError, IntakeError, RosterError, StoreError)
        for one in base.__subclasses__()
    }
    assert leaves <= set(STATUS)
