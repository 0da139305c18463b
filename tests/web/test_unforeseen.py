"""Errors that nobody foresaw are counted by where they arose, shown to administrators, and never
say what they were about.
"""

from __future__ import annotations

import pytest

from nevefield.jobs.worker import run_one
from nevefield.setup import unforeseen
from nevefield.store import jobs as job_store
from nevefield.store.connection import Database
from tests.conftest import ADMINISTERS, APPROVES, LOOKS, PREPARES, Browser

SECRET = "Amundsen-4711"


@pytest.fixture
def broken(desk, monkeypatch):
    """The page of rosters breaks, speaking of somebody."""
    import nevefield.web.rosters.routes_receipts as routes

    def fail(*_: object) -> None:
        raise ValueError(f"cannot read {SECRET}")

    monkeypatch.setattr(routes, "_change_set", fail)
    return Browser(desk, ADMINISTERS)


def break_it(own: Browser, name: str = "cadets"):
    answer = own.send("GET", f"/api/rosters/{name}/change-sets")
    assert answer.status_code == 500
    return answer.json["detail"]


def listed(own: Browser) -> list[dict]:
    return own.get("/api/unforeseen")["unforeseen"]


def test_counted_by_what_and_where(broken):
    """The same error of two rosters is one, with how often and the last mark; what it was about
    is nowhere in it.
    """
    assert listed(broken) == []
    break_it(broken)
    said = break_it(broken, "staff")
    (one,) = listed(broken)
    assert (one["doing"], one["kind"], one["times"]) == (
        "GET /api/rosters/<name>/change-sets",
        "ValueError",
        2,
    )
    assert one["source"].startswith("web.rosters.routes_receipts:")
    assert one["first_at"] < one["last_at"]
    assert f"in the log as {one['mark']}" in said
    assert SECRET not in str(one) + said


def test_on_the_desk_of_administrators_only(broken, desk):
    """Who administers finds it on the desk, with the page; nobody else finds it, or may look."""
    break_it(broken)
    (item,) = [one for one in broken.get("/api/desk")["open"] if one["place"] == "/unforeseen"]
    assert (item["lead"], item["rest"]) == ("1 error that nobody foresaw", "happened 1 time")
    for name in (LOOKS, PREPARES, APPROVES):
        other = Browser(desk, name)
        assert [
            one for one in other.get("/api/desk")["open"] if one["place"] == "/unforeseen"
        ] == []
        assert other.send("GET", "/api/unforeseen").status_code == 403
        assert other.send("POST", "/api/unforeseen/1/settle").status_code == 403


def test_put_aside_until_it_happens_again(broken):
    """Put aside it is gone from list and desk, once; when it happens again it is there anew,
    counted from one.
    """
    break_it(broken)
    break_it(broken)
    (one,) = listed(broken)
    assert broken.send("POST", f"/api/unforeseen/{one['id']}/settle").status_code == 204
    assert broken.send("POST", f"/api/unforeseen/{one['id']}/settle").status_code == 404
    assert listed(broken) == []
    break_it(broken)
    (again,) = listed(broken)
    assert (again["times"], again["first_at"], again["id"]) == (1, again["last_at"], one["id"])


def test_of_a_job(desk, monkeypatch):
    """A job that breaks is counted under its kind, its words say the mark, and the worker goes
    on.
    """
    from nevefield.jobs import worker

    def fail(*_: object) -> None:
        raise KeyError(SECRET)

    monkeypatch.setitem(worker.RUNNERS, "round", fail)
    with desk.database.transaction() as connection:
        number = job_store.insert_job(connection, "round", 1, {"round": 1}, None, desk.now())
    assert run_one(desk, "one")
    (one,) = listed(Browser(desk, ADMINISTERS))
    assert (one["doing"], one["kind"]) == ("job: round", "KeyError")
    with desk.database.transaction() as connection:
        job = job_store.get_job(connection, number)
    assert job.state == "failed"
    assert one["mark"] in job.problem
    assert SECRET not in job.problem
    assert not run_one(desk, "one")


def test_without_a_database_the_log_has_it(desk, capsys):
    """Where the database is what failed, the error still gets its mark, and the log has it with
    its trace.
    """
    from dataclasses import replace

    gone = replace(desk, database=Database("mysql://x:y@127.0.0.1:1/none"))
    try:
        raise ZeroDivisionError
    except ZeroDivisionError as error:
        mark = unforeseen.note(gone, "GET /api/nothing", error)
    assert len(mark) == 8
    assert mark in capsys.readouterr().out
