"""Who is who, through the API: rows without a number, decisions as steps, remembered, and taken
back.
"""

from __future__ import annotations

import csv
import io

import pytest

from nevefield.core.columns.identifiers import add_check
from nevefield.core.definition import Identifier
from nevefield.intakes.applying import apply_intake
from tests.conftest import APPROVES, LOOKS


@pytest.fixture
def own(browser):
    return browser(APPROVES)


@pytest.fixture
def cadets(own) -> list[dict]:
    """Some cadets of the roster, as they stand; none of them leads a watch."""
    rows = own.get("/api/rosters/cadets/records", limit=40)["rows"]
    return [row for row in rows if row["values"].get("watch_position") != "CAPT"]


def drop(own, *people: dict, name: str = "list.csv") -> str:
    """Drop a list of people; who has no number has an empty cell."""
    out = io.StringIO(newline="")
    writer = csv.DictWriter(out, list(dict.fromkeys(key for one in people for key in one)))
    writer.writeheader()
    writer.writerows(people)
    answer = own.drop(out.getvalue().encode(), name, roster="cadets")
    assert answer.status_code == 201, answer.json
    return f"/api/intakes/{answer.json['intake']}"


def of(cadet: dict, **other) -> dict:
    """A cadet as a row without a number, other in some fields."""
    texts = {
        name: ";".join(value) if isinstance(value, list) else value
        for name, value in cadet["values"].items()
    }
    return texts | {"cadet_number": "", "mariner_number": ""} | other


def fresh(serial: int) -> str:
    """A cadet number that nobody has."""
    return add_check(Identifier(9, "TQ", "0123456789", "iso7064-mod11-2"), f"{990_000 + serial}")


def twin_of(cadet: dict) -> dict:
    """A twin with a number that nobody has, and a name of the same initial: whether it is the
    same person is open.
    """
    given = f"{cadet['values']['given_names'][0]}yndalquist"
    return of(cadet, cadet_number=fresh(1), given_names=given, mail="w@family.example")


def test_known_without_a_number(own, cadets):
    """Rows without a number are known by likeness, with a note and a score; a twin is asked
    about; a stranger is nobody.
    """
    first, second, third = cadets[:3]
    intake = drop(
        own,
        of(first),
        of(second, phone="+44 7700 900999", home_port="DNS"),
        twin_of(third),
        of(
            third,
            family_name="Ottershaw",
            given_names="Bo",
            born="1999-12-31",
            mail="bo@x.example",
            phone="+44 1632 960123",
        ),
        {**of(first), "cadet_number": first["values"]["cadet_number"], "given_names": "Other"},
    )
    counts = own.get(f"{intake}/people")["counts"]
    # The first row and the last claim one cadet, the last by its number: the first is left to a
    # person.
    assert counts == {"key": 1, "certain": 1, "possible": 2, "nobody": 1, "chosen": 0}
    taken = own.get(f"{intake}/people", state="certain")["people"]
    assert [(one["line"], second["values"]["cadet_number"] in one["record"]) for one in taken] == [
        (3, True)
    ]
    asked = {one["line"]: one for one in own.get(f"{intake}/people")["people"]}
    assert [one["line"] for one in asked[2]["rivals"]] == [6]
    person = own.get(f"{intake}/people/4")
    assert person["candidates"][0]["record"] == third["id"]
    words = {one["field"]: one["cells"][0]["word"] for one in person["fields"] if one["tells"]}
    assert (words["family_name"], words["given_names"], words["born"]) == (
        "same",
        "same initial",
        "same",
    )
    assert person["candidates"][0]["since"].startswith("202")


def test_decisions_are_steps(own, cadets):
    """Saying who it is, or that it is somebody new, is a step: it can be undone, and names
    records of the roster only.
    """
    intake = drop(own, twin_of(cadets[0]))
    line, number = 2, cadets[0]["id"]
    assert own.get(intake)["tally"]["waiting"] == 1
    step = own.post(
        f"{intake}/steps",
        {"step": {"kind": "person", "choices": [{"line": line, "record": number}]}},
    )["number"]
    row = own.get(f"{intake}/rows/{line}")
    assert row["record"] == number
    assert own.get(f"{intake}/people")["counts"]["chosen"] == 1
    own.post(f"{intake}/steps", {"step": {"kind": "undo", "step": step}})
    assert own.get(f"{intake}/people")["counts"]["possible"] == 1
    cause = next(one for one in own.get(f"{intake}/causes")["causes"] if one["check"] == "who")
    assert [one["kind"] for one in cause["remedies"]] == ["new", "hold", "leave_out"]
    own.post(f"{intake}/remedies", {"cause": cause["id"], "kind": "new"})
    assert own.get(f"{intake}/people", state="chosen")["people"][0]["record"] == ""
    staff = own.get("/api/rosters/staff/records", limit=1)["rows"][0]["id"]
    answer = own.send(
        "POST",
        f"{intake}/steps",
        json={"step": {"kind": "person", "choices": [{"line": line, "record": staff}]}},
    )
    assert (answer.status_code, f"no record {staff}" in answer.json["detail"]) == (422, True)


def test_never_asked_twice(own, desk, cadets):
    """What was said and applied is remembered: the same person in another file is not asked
    about again.
    """
    changed = of(cadets[0], given_names=twin_of(cadets[0])["given_names"], mail="w@family.example")
    intake = drop(own, changed)
    assert own.get(f"{intake}/people")["counts"]["possible"] == 1
    own.post(
        f"{intake}/steps",
        {"step": {"kind": "person", "choices": [{"line": 2, "record": cadets[0]["id"]}]}},
    )
    state = own.get(intake)
    apply_intake(desk, state["id"], state["steps"], state["roster_version"], None)
    again = drop(own, changed | {"berth": "A101"}, name="other.csv")
    assert own.get(f"{again}/people")["counts"]["possible"] == 0
    assert own.get(f"{again}/rows/2")["record"] == cadets[0]["id"]


def test_new_is_remembered(own, desk, cadets):
    """Somebody said to be new joins, and neither the same file nor another asks about them
    again.
    """
    intake = drop(own, twin_of(cadets[0]))
    own.post(
        f"{intake}/steps", {"step": {"kind": "person", "choices": [{"line": 2, "record": None}]}}
    )
    state = own.get(intake)
    assert state["tally"]["new"] == 1
    apply_intake(desk, state["id"], state["steps"], state["roster_version"], None)
    again = own.get(intake)
    assert (again["tally"]["new"], again["ready"]["new"], again["ready"]["waiting"]) == (1, 0, 0)
    joined = own.get("/api/rosters/cadets/records", q=fresh(1))["rows"][0]["id"]
    again = drop(own, twin_of(cadets[0]) | {"cadet_number": ""}, name="other.csv")
    assert own.get(f"{again}/rows/2")["record"] == joined


def test_limits_say_what_they_decide(own, browser, cadets):
    """Other limits are tried with nothing kept, then set as a step; who may only look cannot set
    them.
    """
    slip = of(
        cadets[3],
        mail="",
        phone="",
        home_port="",
        born="",
        family_name=cadets[3]["values"]["family_name"] + "e",
    )
    intake = drop(own, slip)
    assert own.get(f"{intake}/people")["counts"]["certain"] == 1
    strict = own.get(f"{intake}/people/limits", certain=100, nobody=0)["counts"]
    assert (strict["possible"], strict["certain"]) == (1, 0)
    assert own.get(f"{intake}/people")["counts"]["certain"] == 1  # nothing is kept
    step = {"step": {"kind": "limits", "certain": 100, "nobody": 4}}
    assert browser(LOOKS).send("POST", f"{intake}/steps", json=step).status_code == 403
    own.post(f"{intake}/steps", step)
    now = own.get(f"{intake}/people")
    assert (now["certain"], now["counts"]["possible"]) == (100, 1)
