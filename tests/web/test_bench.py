"""What the bench does, through the API: effects seen before, several people, find and replace,
consequences.
"""

from __future__ import annotations

import threading

import pytest

from nevefield.context import Context
from nevefield.intakes.errors import CellConflict
from nevefield.intakes.receiving import add_step
from nevefield.store import intakes as store
from nevefield.store.connection import Database
from tests.conftest import APPROVES, LOOKS, PREPARES


@pytest.fixture
def own(browser):
    return browser(APPROVES)


@pytest.fixture
def intake(own, joiners) -> str:
    return f"/api/intakes/{own.drop(joiners).json['intake']}"


def set_phone(line: int, number: str) -> dict:
    return {"kind": "set", "cells": [{"line": line, "field": "phone", "value": number}]}


def test_effect_is_what_the_remedy_does(own, intake):
    """The tally shown before each remedy of each cause is the one that there is after it;
    nothing is kept of looking.
    """
    causes = own.get(f"{intake}/causes")["causes"]
    asked = [
        {"cause": cause["id"], "kind": remedy["kind"], "value": remedy["value"], "reason": "x"}
        for cause in causes
        for remedy in cause["remedies"]
        if remedy["kind"] != "set"
    ]
    before = own.get(intake)
    seen = [own.post(f"{intake}/remedies/preview", one)["tally"] for one in asked]
    assert own.get(intake)["steps"] == before["steps"]
    assert len(asked) > 25
    for one, tally in list(zip(asked, seen, strict=True))[::3]:
        number = own.post(f"{intake}/remedies", one)["number"]
        assert own.get(intake)["tally"] == tally, one
        own.post(f"{intake}/steps", {"step": {"kind": "undo", "step": number}})
    assert own.get(intake)["tally"] == before["tally"]


def test_swapped_cells_are_swapped_back(own, intake, truth):
    """The row with mail and phone swapped is put right by one remedy."""
    (line,) = {
        one["line"]
        for one in truth["planted"]
        if one["check"] == "format" and one["field"] == "mail"
    }
    cause = next(
        one
        for one in own.get(f"{intake}/causes")["causes"]
        if one["check"] == "format" and one["field"] == "mail"
    )
    assert next(remedy["label"] for remedy in cause["remedies"]) == "Swap Mail and Phone in 1"
    own.post(f"{intake}/remedies", {"cause": cause["id"], "kind": "swap", "value": "phone"})
    assert own.get(f"{intake}/rows/{line}")["outcome"] == "new"


def test_two_values_for_one_cell(own, intake, browser):
    """A cell that somebody else set since it was looked at is not written over: both values come
    back; once more, it stands.
    """
    other = browser(PREPARES)
    seen = own.get(intake)["steps"]
    other.post(f"{intake}/steps", {"step": set_phone(44, "+44 7700 900111"), "seen": seen})
    answer = own.send(
        "POST", f"{intake}/steps", json={"step": set_phone(44, "+44 7700 900222"), "seen": seen}
    )
    assert answer.status_code == 409
    said = {name: answer.json[name] for name in ("type", "line", "field", "theirs", "yours", "by")}
    assert said == {
        "type": "urn:nevefield:CellConflict",
        "line": 44,
        "field": "phone",
        "theirs": "+44 7700 900111",
        "yours": "+44 7700 900222",
        "by": other.get("/api/session")["name"],
    }
    own.post(
        f"{intake}/steps",
        {"step": set_phone(44, "+44 7700 900222"), "seen": own.get(intake)["steps"]},
    )
    fields = {one["field"]: one["value"] for one in own.get(f"{intake}/rows/44")["fields"]}
    assert fields["phone"] == "+44 7700 900222"


@pytest.mark.parametrize(("line", "number"), [(45, "+44 7700 900222"), (44, "+44 7700 900111")])
def test_no_conflict_without_one(own, intake, browser, line, number):
    """Another cell, or the same value, is no conflict; nor is what was undone meanwhile."""
    other = browser(PREPARES)
    seen = own.get(intake)["steps"]
    number_of = other.post(
        f"{intake}/steps", {"step": set_phone(44, "+44 7700 900111"), "seen": seen}
    )["number"]
    own.post(f"{intake}/steps", {"step": set_phone(line, number), "seen": seen})
    other.post(f"{intake}/steps", {"step": {"kind": "undo", "step": number_of}})
    own.post(f"{intake}/steps", {"step": set_phone(44, "+44 7700 900333"), "seen": seen})


def test_pulse_tells_of_steps(own, intake, browser):
    """Whoever may look hears how many steps there are, and the roster's version."""
    other = browser(LOOKS)
    before = other.get(f"{intake}/pulse")
    own.post(f"{intake}/steps", {"step": {"kind": "hold", "lines": [44], "reason": "x"}})
    assert other.get(f"{intake}/pulse") == {
        "steps": before["steps"] + 1,
        "version": before["version"],
    }


def test_replaced_in_a_column(own, intake, truth):
    """Find and replace alters every cell of the column that has the text, as one step; in a
    cause's rows only, if wanted.
    """
    wrong = {one["line"] for one in truth["planted"] if one["field"] == "programme"}
    answer = own.post(
        f"{intake}/replace",
        {"field": "programme", "find": "Deck dept", "put": "DECK", "whole": True},
    )
    assert answer["cells"] < len(wrong)
    own.post(f"{intake}/steps", {"step": {"kind": "undo", "step": answer["number"]}})
    cause = next(
        one
        for one in own.get(f"{intake}/causes")["causes"]
        if one["field"] == "programme" and one["weight"] == "stop"
    )
    asked = {"field": "programme", "find": "eck", "put": "", "cause": cause["id"]}
    assert own.post(f"{intake}/replace", asked)["cells"] == len(wrong)
    assert own.post(f"{intake}/replace", {"field": "programme", "find": "moon", "put": ""}) == {
        "cells": 0,
        "number": None,
    }
    assert (
        own.send(
            "POST", f"{intake}/replace", json={"field": "mariner_number", "find": "x", "put": ""}
        ).status_code
        == 422
    )


def test_unknown_fields_are_refused(own, intake):
    """A step about a field that the roster does not have is refused with what was meant, and not
    kept.
    """
    steps = own.get(intake)["steps"]
    answer = own.send(
        "POST", f"{intake}/steps", json={"step": {"kind": "fill", "field": "wach", "value": "x"}}
    )
    assert (answer.status_code, own.get(intake)["steps"]) == (422, steps)
    assert "did you mean watch" in answer.json["detail"]


def test_whole_file_waits_for_a_yes(own, desk, made):
    """A watch left without its captain holds the applying back until somebody says yes, or the
    cause is settled.
    """
    data = (made / "cadets-full-autumn.csv").read_bytes()
    intake = f"/api/intakes/{own.drop(data, 'autumn.csv', coverage='everybody').json['intake']}"
    causes = own.get(f"{intake}/causes")["causes"]
    code = next(one for one in causes if one["check"] == "code")
    lead = next(one for one in causes if one["check"] == "lead")
    assert (lead["whole"], lead["follows"], lead["rows"]) == (True, [code["id"]], 0)
    plan = {"steps": own.get(intake)["steps"], "roster_version": own.get(intake)["roster_version"]}
    answer = own.send("POST", f"{intake}/apply", json=plan)
    assert answer.status_code == 409
    assert "without its lead" in answer.json["detail"]
    own.post(
        f"{intake}/remedies", {"cause": lead["id"], "kind": "waive", "reason": "named on Monday"}
    )
    plan["steps"] += 1
    assert own.send("POST", f"{intake}/apply", json=plan).status_code == 202


def test_conflict_is_seen_though_both_are_at_it(own, intake, desk):
    """Somebody's step that is written while another one waits for the intake is seen: nothing is
    written over unseen.
    """
    number = int(intake.rsplit("/", 1)[1])
    seen = own.get(intake)["steps"]
    other = Database(desk.settings.database_url)
    raised: list[Exception] = []

    def late() -> None:
        mine = Context(Database(desk.settings.database_url), desk.settings, desk.now)
        try:
            add_step(mine, number, set_phone(44, "+44 7700 900222"), None, seen)
        except CellConflict as error:
            raised.append(error)
        finally:
            mine.database.close()

    with other.transaction() as connection:
        at = store.lock_intake(connection, number) + 1
        store.insert_step(connection, number, at, set_phone(44, "+44 7700 900111"), 1, desk.now())
        waiting = threading.Thread(target=late)
        waiting.start()
        # it stands before the lock by now, or has not begun: either way it must see the step
        waiting.join(1)
    waiting.join()
    other.close()
    assert [error.theirs for error in raised] == ["+44 7700 900111"]
