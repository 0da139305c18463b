"""What machines ask: whether it is ready, numbers, and a log in which nobody stands."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
import structlog

from nevefield.web import create_app
from tests.conftest import ADMINISTERS, LOOKS, PASSWORDS


@pytest.fixture
def _plain_log():
    yield
    structlog.reset_defaults()


def test_ready(desk):
    """It is ready with all migrations; with one missing it says so, and is still healthy."""
    client = create_app(desk.settings, desk).test_client()
    assert (client.get("/api/ready").status_code, client.get("/api/ready").text) == (200, "ready")
    with desk.database.transaction() as connection:
        last = connection.row("SELECT MAX(name) FROM migration")
        connection.run("DELETE FROM migration WHERE name = %s", last)
    answer = client.get("/api/ready")
    assert answer.status_code == 503
    assert "waits for 1 migration;" in answer.text
    assert client.get("/api/health").text == "ok"


def test_numbers(browser, desk):
    """A program that may look everywhere gets numbers that are those of the database; whoever may
    look at one roster does not.
    """
    own = browser(ADMINISTERS)
    tokens = {
        name: own.post("/api/programs", {"name": name, "level": level, "rosters": rosters})["token"]
        for name, level, rosters in (("all", 1, {}), ("one", 0, {"cadets": 1}))
    }
    client = create_app(desk.settings, desk).test_client()

    def ask(name: str):
        return client.get("/api/metrics", headers={"Authorization": f"Bearer {tokens[name]}"})

    cadets = own.get("/api/rosters/cadets/records", limit=1)["of"]
    assert ask("one").status_code == 403
    answer = ask("all")
    assert answer.content_type.startswith("text/plain")
    found = dict(
        line.rsplit(" ", 1) for line in answer.text.splitlines() if not line.startswith("#")
    )
    assert float(found['nevefield_records{roster="cadets"}']) == cadets
    assert float(found["nevefield_unforeseen_errors"]) == 0
    # how long answers took: by the shape of an address, never by a name in it
    times = [line for line in found if line.startswith("nevefield_request_seconds_count")]
    shape = 'method="GET",route="/api/rosters/<name>/records",status="200"'
    assert any(shape in line for line in times)
    assert not any("cadets" in line for line in times)
    assert float(found["nevefield_evaluation_seconds_count"]) >= 0
    assert client.get("/api/metrics").status_code == 401


@pytest.mark.usefixtures("_plain_log")
def test_a_log_without_anybody(desk, capsys):
    """Each request is one JSON object with its number, which stands in the answer too; no name, no
    value, no number of anything.
    """
    client = create_app(replace(desk.settings, log="json"), desk).test_client()
    answer = client.post("/api/session", json={"name": LOOKS, "password": PASSWORDS[LOOKS]})
    numbers = [answer.headers["X-Request-Id"]]
    for path in ("/api/rosters/cadets/records?q=Adair", "/api/records/1", "/api/nobody/Adair"):
        numbers.append(client.get(path).headers["X-Request-Id"])
    lines = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [line["request"] for line in lines] == numbers
    assert [(line["route"], line["status"]) for line in lines] == [
        ("/api/session", 200),
        ("/api/rosters/<name>/records", 200),
        ("/api/records/<int:record_id>", 200),
        ("/api/<path:rest>", 404),
    ]
    assert all(line["milliseconds"] >= 0 for line in lines)
    text = json.dumps(lines)
    assert not any(word in text for word in ("Adair", LOOKS, "cadets", "127.0.0.1"))
