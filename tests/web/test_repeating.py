"""A request whose transaction was lost is done again by itself, as long as nothing of it can
have been kept; never twice.
"""

from __future__ import annotations

import io

import pytest

from nevefield.accounts import Level, add_account
from nevefield.store.again import PAUSES
from nevefield.web import create_app
from tests.crew import contents, drop, numbers, open_crew
from tests.store.test_mishaps import Mishap, deadlock, killed

PASSWORD = "keeper-of-the-crew-2026"
FILE = "no,name,mail,dept\n1,Ines Marie,ines@q.example,NAV\n7,Kit,kit@q.example,NAV\n"
MOST = 200  # statements of a request


@pytest.fixture
def crew(bare):
    open_crew(bare)
    add_account(bare, "keeper", "A keeper", PASSWORD, Level.ADMINISTER)
    return bare


@pytest.fixture
def ask(crew, monkeypatch):
    monkeypatch.setattr("time.sleep", lambda seconds: None)
    client = create_app(crew.settings, crew).test_client()
    token = client.post("/api/session", json={"name": "keeper", "password": PASSWORD}).json["token"]
    return lambda method, path, **more: client.open(
        path, method=method, headers={"X-Nevefield-Token": token}, **more
    )


def mishaps(crew, database_url, monkeypatch, kind):
    return Mishap(monkeypatch, deadlock if kind == "deadlock" else killed(database_url))


@pytest.mark.parametrize("kind", ["deadlock", "killed"])
@pytest.mark.parametrize(
    "path", ["/api/rosters/crew/records?limit=5", "/api/intakes/1", "/api/desk", "/api/session"]
)
def test_looking(crew, ask, database_url, monkeypatch, kind, path):
    """Whichever statement of looking is lost, the answer is the same as ever."""
    drop(crew, FILE)
    expected = ask("GET", path)
    assert expected.status_code == 200
    mishap = mishaps(crew, database_url, monkeypatch, kind)
    for number in range(1, MOST):
        mishap.left = number
        answer = ask("GET", path)
        assert (answer.status_code, answer.data) == (200, expected.data), number
        undisturbed, mishap.left = mishap.left is not None, None
        if undisturbed:
            assert number > 1
            return
    raise AssertionError("it never went through undisturbed")


@pytest.mark.parametrize("kind", ["deadlock", "killed"])
def test_a_file_is_taken_in_once(crew, ask, database_url, monkeypatch, kind):
    """Whichever statement is lost: it is there once, with all its rows, or it is said in a
    sentence and is not there.
    """
    mishap = mishaps(crew, database_url, monkeypatch, kind)
    said = {201: 0, 503: 0}
    for number in range(1, MOST):
        before = len(ask("GET", "/api/intakes").json["intakes"])
        mishap.left = number
        form = {
            "file": (io.BytesIO(FILE.replace("Kit", f"Kit{number}").encode()), f"f{number}.csv"),
            "roster": "crew",
        }
        answer = ask("POST", "/api/intakes", data=form)
        undisturbed, mishap.left = mishap.left is not None, None
        found = ask("GET", "/api/intakes").json["intakes"]
        said[answer.status_code] += 1
        if answer.status_code == 201:
            assert ask("GET", f"/api/intakes/{answer.json['intake']}").json["tally"]["read"] == 2
        else:
            assert "Try again" in answer.json["detail"] or "database" in answer.json["detail"]
        assert len(found) <= before + 1, number
        assert answer.status_code == 503 or len(found) == before + 1, number
        if undisturbed:
            assert said[201] > 5
            return
    raise AssertionError("it never went through undisturbed")


@pytest.mark.parametrize("kind", ["deadlock", "killed"])
def test_an_edit_is_done_once(crew, ask, database_url, monkeypatch, kind):
    """An edit by hand whose statement is lost is in the roster once, or not at all and said;
    nothing of it waits on the desk.
    """
    mishap = mishaps(crew, database_url, monkeypatch, kind)
    record = numbers(crew)["1"]
    said = {200: 0, 503: 0}
    for number in range(1, MOST):
        before = ask("GET", "/api/rosters/crew/change-sets").json["change_sets"][0]["version"]
        mishap.left = number
        answer = ask(
            "POST", f"/api/records/{record}/edit", json={"values": {"guardian": f"Berit {number}"}}
        )
        undisturbed, mishap.left = mishap.left is not None, None
        after = ask("GET", "/api/rosters/crew/change-sets").json["change_sets"][0]["version"]
        assert (answer.status_code, after) in {(200, before + 1), (503, before)}, (
            number,
            answer.json,
        )
        assert (contents(crew)["1"].get("guardian") == f"Berit {number}") == (
            answer.status_code == 200
        )
        said[answer.status_code] += 1
        assert ask("GET", "/api/desk").json["open"] == [], number
        if undisturbed:
            assert answer.status_code == 200
            assert said[503] <= 2 < 20 < said[200]  # only what nobody may do again
            return
    raise AssertionError("it never went through undisturbed")


def test_lost_each_time_it_is_said(crew, ask, monkeypatch):
    """What is lost again and again is given up after a few tries, in a sentence."""
    from nevefield.store.connection import Connection
    from nevefield.store.errors import Contended

    tries = []

    def lost(self, statement, values=()):
        tries.append(statement)
        raise Contended

    monkeypatch.setattr(Connection, "rows", lost)
    answer = ask("GET", "/api/rosters")
    assert answer.status_code == 503
    assert (
        answer.json["detail"]
        == "Somebody else was writing the same at that moment, so nothing was changed. Try again."
    )
    assert len(tries) == len(PAUSES) + 1
