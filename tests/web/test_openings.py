"""Rosters opened through the API: from a file with what is proposed, from nothing, taken back."""

from __future__ import annotations

import io

import pytest

from nevefield.jobs.worker import run_one
from tests.conftest import ADMINISTERS, APPROVES
from tests.data.openings.offices import choir, library_cards, primary_school

TABLES = (
    "SELECT (SELECT COUNT(*) FROM roster), (SELECT COUNT(*) FROM definition),"
    " (SELECT COUNT(*) FROM code_list), (SELECT COUNT(*) FROM code),"
    " (SELECT COUNT(*) FROM intake), (SELECT COUNT(*) FROM intake_file),"
    " (SELECT COUNT(*) FROM source), (SELECT COUNT(*) FROM recipe)"
)


@pytest.fixture
def admin(browser):
    return browser(ADMINISTERS)


def begin(admin, office) -> int:
    """Drop an office's file, to make a roster of it."""
    answer = admin.send(
        "POST", "/api/openings", data={"file": (io.BytesIO(office.data), office.file)}
    )
    assert answer.status_code == 201, answer.json
    return answer.json["opening"]


def say(admin, number: int, seen: int, **choices):
    """Say something of a proposal."""
    return admin.send("PUT", f"/api/openings/{number}", json={"choices": choices, "seen": seen})


def count(desk) -> tuple:
    with desk.database.transaction() as connection:
        return connection.row(TABLES)


def test_a_file_becomes_a_roster(admin, desk):
    """Its file is the first intake: all rows without a planted error are new, as was said before
    it was opened, and the whole is taken back without a trace.
    """
    before, office = count(desk), choir()
    number = begin(admin, office)
    proposed = admin.get(f"/api/openings/{number}")
    planted = {row for column in office.columns for row in column.wrong}
    assert proposed["tally"]["read"] == len(office.columns[0].texts)
    assert proposed["tally"]["stopped"] == len(planted)
    assert (proposed["title"], proposed["key"]) == ("Choir", "Member no.")
    assert count(desk) == before
    opened = admin.send("POST", f"/api/openings/{number}/open", json={"seen": 1}).json
    intake = admin.get(f"/api/intakes/{opened['intake']}")
    assert intake["tally"] == proposed["tally"]
    assert admin.get("/api/rosters/choir/opening") == {"can_take_back": True}
    assert admin.send("POST", "/api/rosters/choir/opening/take-back").status_code == 204
    assert count(desk) == before
    assert admin.send("GET", f"/api/openings/{number}").status_code == 404


def test_what_is_said_has_its_effect_at_once(admin):
    """A code kept apart, a field not taken, another kind, no check of the order: each is in the
    answer, and one that cannot be changes nothing.
    """
    number = begin(admin, choir())
    said = {
        "title": "Singers",
        "columns": {
            "Site": {"ways": {"Kelder R.": "Kelder R.", "??": "Tarn End"}},
            "Fee": {"leave": True},
            "Surname": {"title": "Family name", "required": False},
            "Member no.": {"check": False},
            "First": {"kind": "code"},
        },
        "unchecked": [["Start", "End"]],
    }
    answer = say(admin, number, 1, **said).json
    columns = {one["heading"]: one for one in answer["columns"]}
    ways = [[way["text"] for way in code["ways"]] for code in columns["Site"]["codes"]]
    assert ["Kelder R."] in ways
    assert next(one for one in ways if "Tarn End" in one)[-1] == "??"
    assert columns["Site"]["none"] == []
    assert (columns["Fee"]["field"], columns["Fee"]["kind"]) == ("", "left")
    assert columns["Surname"]["title"] == "Family name"
    assert "Family name" not in answer["required"]
    assert columns["First"]["kind"] == "code"
    assert answer["orders"] == [{"first": "Start", "last": "End", "is_checked": False}]
    assert answer["title"] == "Singers"
    assert answer["tally"]["stopped"] == 1  # the day that is none; all else was let be
    wrong = say(admin, number, 2, columns={"Fee": {"kind": "colour"}})
    assert wrong.status_code == 422
    assert "colour" in wrong.json["detail"]
    assert admin.get(f"/api/openings/{number}")["version"] == 2
    assert say(admin, number, 1, title="Other").status_code == 409


def test_secrets_of_an_opening_are_kept_nowhere(admin, desk):
    """A column of PINs is not taken, and its values stand neither in the answer nor in what is
    kept.
    """
    office = library_cards()
    number = begin(admin, office)
    answer = admin.get(f"/api/openings/{number}")
    pins = next(one for one in answer["columns"] if one["heading"] == "PIN")
    assert (pins["field"], pins["kind"]) == ("", "secret")
    with desk.database.transaction() as connection:
        content = connection.row("SELECT content FROM opening WHERE id = %s", (number,))[0]
    column = next(one for one in office.columns if one.heading == "PIN")
    assert not [one for one in column.texts if f",{one}\r\n".encode() in content]
    assert not [one for one in column.texts if f'"{one}"' in str(answer)]
    admin.send("POST", f"/api/openings/{number}/open", json={"seen": 1})
    with desk.database.transaction() as connection:
        held = connection.rows("SELECT held_secrets FROM intake_file")
    assert (1,) in held


def test_two_rosters_with_lists_of_one_name(admin):
    """The second one's list has a name of its own, and a name that is taken is told."""
    office = primary_school()
    first = begin(admin, office)
    admin.send("POST", f"/api/openings/{first}/open", json={"seen": 1})
    second = begin(admin, office)
    answer = admin.get(f"/api/openings/{second}")
    assert (answer["name"], answer["is_name_taken"]) == ("pupils_two", False)
    assert answer["fits"][0]["roster"] == "pupils"
    clash = say(admin, second, 1, name="pupils").json
    assert clash["is_name_taken"]
    refused = admin.send("POST", f"/api/openings/{second}/open", json={"seen": 2})
    assert refused.status_code == 409
    assert "already" in refused.json["detail"]
    say(admin, second, 2, name="pupils_b")
    opened = admin.send("POST", f"/api/openings/{second}/open", json={"seen": 3})
    assert opened.json["roster"] == "pupils_b"
    lists = {one["name"] for one in admin.get("/api/codes")["lists"]}
    assert {"class", "pupils_b_class"} <= lists


def test_taking_back_what_is_in_use_is_refused(admin, desk):
    """A roster with a receipt is not taken back: its records would be lost."""
    number = begin(admin, choir())
    opened = admin.send("POST", f"/api/openings/{number}/open", json={"seen": 1}).json
    intake = admin.get(f"/api/intakes/{opened['intake']}")
    state = {"steps": intake["steps"], "roster_version": intake["roster_version"]}
    admin.post(f"/api/intakes/{opened['intake']}/apply", {**state, "typed": intake["ready"]["new"]})
    assert run_one(desk, "test")
    assert admin.get("/api/rosters/choir/records", limit=1)["total"] == intake["tally"]["new"]
    assert admin.get("/api/rosters/choir/opening") == {"can_take_back": False}
    refused = admin.send("POST", "/api/rosters/choir/opening/take-back")
    assert refused.status_code == 409
    assert "receipts" in refused.json["detail"]


def test_from_nothing(admin):
    """Four kinds of people have fields and checks of their own; fields that are left out take their
    checks along; the roster takes a file at once.
    """
    kinds = {one["name"]: one for one in admin.get("/api/openings/people")["people"]}
    assert list(kinds) == ["students", "employees", "members", "cardholders"]
    for kind in kinds:
        body = {"people": kind, "title": f"Our {kind}", "leave": ["born"]}
        answer = admin.send("POST", "/api/openings/from-nothing", json=body)
        assert answer.status_code == 201, answer.json
        document = admin.get(f"/api/rosters/our_{kind}/definition")["document"]
        names = [one["name"] for one in document["fields"]]
        assert "born" not in names
        assert all(set(one["fields"]) <= set(names) for one in document["nevefield"]["checks"])
    data = b"Member number,Family name,Joined,Paid until\n0012,Abbot,2020-01-01,2019-01-01\n"
    dropped = admin.drop(data, "members.csv", roster="our_members").json
    causes = admin.get(f"/api/intakes/{dropped['intake']}/causes")["causes"]
    assert any("Paid until is before Joined" in one["title"] for one in causes)
    again = admin.send(
        "POST", "/api/openings/from-nothing", json={"people": "members", "title": "Our members"}
    )
    assert again.status_code == 409


def test_only_administrators_of_all(browser):
    """Opening rosters is for administrators: others are refused on every route."""
    own = browser(APPROVES)
    for method, path in (
        ("GET", "/api/openings"),
        ("GET", "/api/openings/1"),
        ("PUT", "/api/openings/1"),
        ("DELETE", "/api/openings/1"),
        ("POST", "/api/openings"),
        ("POST", "/api/openings/1/open"),
        ("POST", "/api/openings/from-nothing"),
        ("POST", "/api/rosters/staff/opening/take-back"),
    ):
        assert own.send(method, path, json={}).status_code == 403, path


@pytest.mark.parametrize(
    ("data", "name"),
    [(b"", "empty.csv"), (b"\x00\x01\x02\x03" * 90, "noise.bin"), (b"PK\x03\x04 cut", "cut.xlsx")],
)
def test_what_is_no_table(admin, desk, data, name):
    """A file that is no table is told in a sentence, and nothing is kept of it."""
    answer = admin.send("POST", "/api/openings", data={"file": (io.BytesIO(data), name)})
    assert answer.status_code == 422
    assert answer.json["detail"].endswith(".")
    with desk.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM opening") == (0,)


def test_taken_back_with_all_that_hangs_on_it(admin, desk):
    """A source, a thrown-away file, a shortlist, a proposal about its definition: all of it goes.
    A code list that another roster has come to use stays.
    """
    before = count(desk)
    number = begin(admin, choir())
    opened = admin.send("POST", f"/api/openings/{number}/open", json={"seen": 1}).json
    step = {"kind": "source", "name": "Choir office", "by": "hand", "why": ""}
    admin.post(f"/api/intakes/{opened['intake']}/steps", {"step": step, "seen": None})
    admin.post(f"/api/intakes/{opened['intake']}/throw-away", {"back": False})
    second = admin.drop(choir().data, "again.csv", roster="choir").json["intake"]
    admin.send("PUT", f"/api/intakes/{second}/due", json={"day": "2030-01-01"})
    now = admin.get("/api/rosters/choir/definition")
    body = {"document": {**now["document"], "title": "Singers"}, "seen": now["number"]}
    admin.post("/api/rosters/choir/definition/propose", body)
    staff = admin.get("/api/rosters/staff/definition")
    fields = [
        *staff["document"]["fields"],
        {"name": "site", "nevefield": {"codeList": "site"}},
    ]
    body = {"document": {**staff["document"], "fields": fields}, "seen": staff["number"]}
    assert admin.send("PUT", "/api/rosters/staff/definition", json=body).status_code == 200
    done = admin.send("POST", "/api/rosters/choir/opening/take-back")
    assert done.status_code == 204, done.json
    assert {one["name"] for one in admin.get("/api/codes")["lists"]} >= {"site"}
    assert "sections" not in {one["name"] for one in admin.get("/api/codes")["lists"]}
    after = count(desk)
    assert (after[0], after[4:]) == (before[0], before[4:])


@pytest.mark.parametrize("text", ["Member no,Surname\n", "Member no,Surname\n,\n-,-\n"])
def test_a_file_without_people(admin, desk, text):
    """A header with nobody under it is told, and does not wait to become a roster."""
    file = (io.BytesIO(text.encode()), "nobody.csv")
    answer = admin.send("POST", "/api/openings", data={"file": file})
    assert answer.status_code == 422
    assert "nobody" in answer.json["detail"].casefold()
    assert admin.get("/api/openings")["drafts"] == []
