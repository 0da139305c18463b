"""An intake through the API, from the file to taking it back, against the truth of the demo's
file.
"""

from __future__ import annotations

import io
import tempfile
import zipfile

import pytest

from nevefield.core.tally import OUTCOMES
from nevefield.jobs.worker import run_one
from tests.conftest import APPROVES, LOOKS


@pytest.fixture
def own(browser):
    return browser(APPROVES)


@pytest.fixture
def intake(own, joiners) -> str:
    return f"/api/intakes/{own.drop(joiners).json['intake']}"


def apply(desk, own, intake: str) -> int:
    """Apply an intake as it stands and return the change set."""
    now = own.get(intake)
    job = own.post(
        f"{intake}/apply", {"steps": now["steps"], "roster_version": now["roster_version"]}
    )["job"]
    assert run_one(desk, "test")
    done = own.get(f"/api/jobs/{job}")
    assert done["state"] == "done", done
    return done["answer"]["change_set"]


def settle_all(own, intake: str) -> None:
    """Settle what one remedy settles, let the asks in, and hold the rest."""
    while causes := [
        one
        for one in own.get(f"{intake}/causes")["causes"]
        if one["weight"] != "note" and one["rows"]
    ]:
        first = causes[0]
        kinds = {one["kind"]: one for one in first["remedies"]}
        kind = next(kind for kind in ("translate", "suggest", "waive", "hold") if kind in kinds)
        value = kinds[kind]["value"]
        reason = (first["reasons"] or ["agreed"])[0] if kind in ("waive", "hold") else ""
        own.post(
            f"{intake}/remedies",
            {"cause": first["id"], "kind": kind, "value": value, "reason": reason},
        )


def test_whole_journey(desk, own, intake, truth):
    """Drop, settle, apply, receipt, find the person, take back: the tally adds up to the truth
    at each of them.
    """
    now = own.get(intake)
    assert {name: now["tally"][name] for name in truth["tally"]} == truth["tally"]
    assert now["adds_up"]

    settle_all(own, intake)
    tally = own.get(intake)["tally"]
    assert sum(tally[name] for name in OUTCOMES) == tally["read"] == truth["tally"]["read"]
    assert (tally["stopped"], tally["waiting"]) == (0, 0)
    assert (
        tally["new"] + tally["held"]
        == truth["tally"]["read"] - truth["tally"]["same"] - truth["tally"]["changed"]
    )

    before = own.get("/api/rosters/cadets/records")["total"]
    receipt = own.get(f"/api/change-sets/{apply(desk, own, intake)}")
    assert (
        receipt["planned"]
        == receipt["found"]
        == {"joined": tally["new"], "changed": tally["changed"], "left": 0}
    )
    assert receipt["rows"] == {name: tally[name] for name in OUTCOMES}
    kept = {
        name: own.get(f"/api/change-sets/{receipt['id']}/lines", outcome=name, limit=1000)
        for name in OUTCOMES
    }
    assert {name: one["total"] for name, one in kept.items()} == receipt["rows"]
    assert sum(len(one["lines"]) for one in kept.values()) == tally["read"]
    assert all(one["message"] for one in kept["held"]["lines"])
    assert own.get("/api/rosters/cadets/records")["total"] == before + tally["new"]

    line = next(line for line, outcome in truth["outcomes"].items() if outcome == "new")
    where = own.get(f"{intake}/where/{line}")
    assert (where["outcome"], where["applied"]) == ("new", True)
    life = own.get(f"/api/records/{where['record']}")
    assert life["values"]["cadet_number"] == truth["people"][line]
    assert life["life"][0]["line"] == int(line)
    assert own.get("/api/search", q=truth["people"][line])["places"][0]["place"].endswith(
        f"record={where['record']}"
    )

    own.post(f"/api/change-sets/{receipt['id']}/take-back")
    assert own.get("/api/rosters/cadets/records")["total"] == before
    assert not own.get(f"/api/records/{where['record']}")["is_current"]
    assert own.get(intake)["tally"] == tally


def test_rows_by_outcome_and_cause(own, intake, truth):
    """Every number of the tally opens to exactly its rows, and so does every cause."""
    for outcome in set(truth["outcomes"].values()):
        rows = own.get(f"{intake}/rows", outcome=outcome, limit=1000)
        assert {str(row["line"]) for row in rows["rows"]} == {
            line for line, one in truth["outcomes"].items() if one == outcome
        }
    causes = own.get(f"{intake}/causes")["causes"]
    for cause in causes:
        assert own.get(f"{intake}/rows", cause=cause["id"])["total"] == cause["rows"]
    ports = {
        str(one["line"])
        for one in truth["planted"]
        if one["check"] == "code" and one["field"] == "home_port"
    }
    port = next(one for one in causes if one["field"] == "home_port" and one["check"] == "code")
    assert {
        str(row["line"]) for row in own.get(f"{intake}/rows", cause=port["id"])["rows"]
    } == ports


def test_lines_and_columns(own, intake, truth):
    """The File page has every line once, and the Columns page says where each column goes and
    what stands under it.
    """
    lines = own.get(f"{intake}/lines", limit=500)
    assert [one["line"] for one in lines["lines"]] == list(range(1, 6 + truth["tally"]["read"] + 1))
    columns = {one["heading"]: one for one in own.get(f"{intake}/columns")["columns"]}
    assert columns["Course"]["field"] == "programme"
    assert (
        sum(one["rows"] for one in columns["Course"]["translations"] if one["how"] == "wrong") == 17
    )
    assert {
        tuple(one["likely"]) for one in columns["Course"]["translations"] if one["how"] == "wrong"
    } == {("DECK",)}
    assert columns["Portal PIN"]["secret"]
    assert all(
        sum(part["rows"] for part in one["spark"]) == truth["tally"]["read"]
        for one in columns.values()
    )
    assert [one["field"] for one in own.get(f"{intake}/columns")["unfilled"]] == [
        "mariner_number",
        "watch_position",
        "deposit",
    ]


def test_changes_open_to_people(own, intake, truth):
    """Families of change add up to the tally, and open to the people they count."""
    changes = own.get(f"{intake}/changes")
    families = {one["key"]: one["count"] for one in changes["families"]}
    assert families == {"join": truth["tally"]["new"], "absent": 0, "watch": 6, "phone": 3}
    assert changes["changed"] == truth["tally"]["changed"]
    watch = own.get(f"{intake}/family", family="watch")
    assert sum(move["count"] for move in watch["moves"]) == 6
    changed = {int(line) for line, outcome in truth["outcomes"].items() if outcome == "changed"}
    assert {person["line"] for person in watch["people"]} == changed
    assert all(person["old"] != person["new"] for person in watch["people"])


def test_undo_and_redo(own, intake, truth):
    """Undo takes the last step back and says which; doing it again brings it back."""
    own.post(f"{intake}/steps", {"step": {"kind": "hold", "lines": [6], "reason": "letter due"}})
    now = own.get(intake)
    assert now["tally"]["held"] == 1
    assert "letter due" in now["log"][0]["label"]
    own.post(f"{intake}/steps", {"step": {"kind": "undo", "step": now["undo"]}})
    now = own.get(intake)
    assert (now["tally"]["held"], now["undo"]) == (0, None)
    own.post(f"{intake}/steps", {"step": {"kind": "undo", "step": now["redo"]}})
    assert own.get(intake)["tally"]["held"] == 1


def test_another_reading_is_tried_first(own, intake):
    """A choice of header that cannot be followed is refused and leaves the intake open as it
    was.
    """
    answer = own.send(
        "POST", f"{intake}/steps", json={"step": {"kind": "reading", "header_line": 9999}}
    )
    assert answer.status_code == 422
    assert own.get(intake)["steps"] == 0
    own.post(f"{intake}/steps", {"step": {"kind": "reading", "no_header": True}})
    assert own.get(intake)["reading"]["header_line"] is None


def test_own_steps_are_not_taken(own, intake):
    """Nobody can write that an intake was applied."""
    answer = own.send(
        "POST", f"{intake}/steps", json={"step": {"kind": "applied", "change_set": 1}}
    )
    assert answer.status_code == 422


def test_settled_cause_is_refused(own, intake):
    """A remedy for a cause that somebody settled meanwhile does nothing and says so."""
    cause = own.get(f"{intake}/causes")["causes"][0]
    remedy = {"cause": cause["id"], "kind": "translate", "value": "DECK"}
    own.post(f"{intake}/remedies", remedy)
    again = own.send("POST", f"{intake}/remedies", json=remedy)
    assert again.status_code == 422
    assert "not there any more" in again.json["detail"]


def test_some_rows_of_a_cause(own, intake):
    """A remedy for some rows settles those and leaves the others."""
    cause = own.get(f"{intake}/causes")["causes"][0]
    lines = [row["line"] for row in own.get(f"{intake}/rows", cause=cause["id"], limit=3)["rows"]]
    own.post(
        f"{intake}/remedies",
        {"cause": cause["id"], "kind": "translate", "value": "DECK", "lines": lines},
    )
    assert own.get(f"{intake}/causes")["causes"][0]["rows"] == cause["rows"] - 3


def _bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/workbook.xml", b"0" * 250_000_000)
    return out.getvalue()


ENCRYPTED = (
    b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\0" * 512 + "EncryptedPackage".encode("utf-16-le")
)
BAD = [
    ("empty", b"", "empty"),
    ("picture", b"\x89PNG\r\n\x1a\n" + b"\0" * 100, "picture"),
    ("encrypted", ENCRYPTED, "encrypted"),
    ("bomb", _bomb(), "unpacks to"),
    ("other", b"Colour,Weight\nred,12\n", "fit no roster"),
    ("script", b"<html><script>alert(1)</script>", "web page"),
]


@pytest.mark.parametrize(("name", "data", "said"), BAD, ids=[one[0] for one in BAD])
def test_bad_files_are_one_sentence(desk, own, name, data, said):
    """A bad file is answered in plain words, and nothing is stored but the attempt."""
    answer = own.drop(data, f"{name}.csv")
    assert answer.status_code == 422
    assert answer.mimetype == "application/problem+json"
    assert said in answer.json["detail"]
    with desk.database.transaction() as connection:
        assert connection.row(
            "SELECT (SELECT COUNT(*) FROM intake), (SELECT COUNT(*) FROM intake_file)"
        ) == (0, 0)
        assert connection.row("SELECT COUNT(*) FROM audit WHERE act = 'file-refused'") == (1,)


def test_huge_file_is_refused(desk, own):
    """A file of 300 MB is refused before it is read."""
    with tempfile.TemporaryFile() as sparse:
        sparse.truncate(300_000_000)
        headers = {"Content-Length": "300000000", "Content-Type": "multipart/form-data; boundary=x"}
        answer = own.send("POST", "/api/intakes", input_stream=sparse, headers=headers)
    assert answer.status_code == 413
    assert "at most 250 MB" in answer.json["detail"]


def test_wrong_roster_is_said(own, joiners):
    """A file of cadets that is dropped for the staff is refused with the place where it belongs."""
    answer = own.drop(joiners, roster="staff")
    assert answer.status_code == 422
    assert "Cadets" in answer.json["detail"]


def test_hostile_values_stay_values(desk, own):
    """Scripts and formulas in cells come back as they are in JSON, and cannot run from an
    export.
    """
    text = (
        "Cadet No,Surname,First"
        ' names,d.o.b.,Course,Start\nTQ2044104,"=HYPERLINK(""http://x"")",<script>alert(1)</script>,2008-03-14,DECK,2026-09-07\n'
    )
    intake = f"/api/intakes/{own.drop(text.encode(), 'x.csv').json['intake']}"
    row = own.get(f"{intake}/rows/2")
    assert row["name"] == '=HYPERLINK("http://x"), <script>alert(1)</script>'
    apply(desk, own, intake)
    exported = own.send("GET", "/api/rosters/cadets/export", query_string={"format": "csv"})
    assert exported.headers["Content-Disposition"].startswith("attachment")
    assert b"'=HYPERLINK" in exported.data


def test_numbers_past_the_end(own, intake):
    """Unknown numbers are answered with 404 or 422 and words, never with a trace."""
    for path in (
        "/api/intakes/999",
        "/api/records/999999",
        "/api/change-sets/999",
        "/api/rosters/nobody/records",
        "/api/codes/none",
        "/api/jobs/99",
        f"{intake}/rows/3",
    ):
        answer = own.send("GET", path)
        assert answer.status_code in (404, 422), path
        assert answer.json["detail"].endswith(".")
        assert "Traceback" not in answer.text


def test_looking_shows_everything(browser, intake):
    """Who may only look sees the intake with its level, and no button needs guessing."""
    assert browser(LOOKS).get(intake)["level"] == 1
