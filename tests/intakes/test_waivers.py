"""A yes lasts for its person, check and value: not asked again, listed, withdrawn, over with its
day.
"""

from __future__ import annotations

import copy
from datetime import date

import pytest

from nevefield.accounts import add_account
from nevefield.core.errors import WrongStep
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.errors import NoSuchWaiver
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.intakes.waivers import withdraw
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.defining import change_definition
from nevefield.rosters.errors import RosterMoved
from nevefield.rosters.looking import open_roster
from nevefield.run.supervise import DEMO_ACCOUNTS
from nevefield.store.waivers import list_standing, list_waivers
from tests.conftest import LOOKS, PREPARES, Browser
from tests.core.world import outcomes
from tests.institutions import hospital
from tests.institutions.opened import open_institution

MOST = 60  # years; of those used here all but 20 are older
NEW = 160  # is not in the roster


def document(**options) -> dict:
    made = copy.deepcopy(hospital.DOCUMENT)
    check = {
        "check": "age",
        "fields": ["urodzony"],
        "on": "today",
        "most": MOST,
        "weight": "ask",
        **options,
    }
    made["nevefield"]["checks"] = [check]
    return made


@pytest.fixture
def ward(bare):
    """The hospital, which asks about people who are over an age."""
    made = hospital.make()
    made.document = document()
    open_institution(bare, made)
    return bare


def sheet(*people: int | tuple[int, dict[str, str]]) -> bytes:
    pairs = [one if isinstance(one, tuple) else (one, {}) for one in people]
    rows = [
        hospital.written({"do": "", **hospital.person(place)}, **changes)
        for place, changes in pairs
    ]
    names = [
        "numer",
        "nazwisko",
        "imie",
        "urodzony",
        "poczta",
        "klinika",
        "oddzial",
        "od",
        "do",
        "etat",
    ]
    return "\n".join(
        ";".join(row) for row in [names, *([row[name] for name in names] for row in rows)]
    ).encode()


def take(context, *people: int | tuple[int, dict[str, str]]) -> int:
    return receive_file(context, "umowy.csv", sheet(*people), Claims(roster="pracownicy"))


def let_in(context, intake: int, *lines: int, reason: str = "aneks w drodze", **more: str) -> None:
    step = {
        "kind": "waive",
        "check": "age",
        "field": "urodzony",
        "lines": list(lines),
        "reason": reason,
        **more,
    }
    add_step(context, intake, step, None)


def apply(context, intake: int) -> int:
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def ends(context, *people: int | tuple[int, dict[str, str]]) -> list[str]:
    """What becomes of rows of a new file, line by line."""
    return list(outcomes(open_intake(context, take(context, *people)).evaluation).values())


@pytest.fixture
def given(ward) -> int:
    """Two people were let in and applied, one of them new; the change set."""
    intake = take(ward, (3, {"etat": "0,3"}), NEW, 5)
    let_in(ward, intake, 2, 3)
    return apply(ward, intake)


def test_not_asked_again(ward, given):
    """The next file with the same person and value is not asked about; another value, and
    another person, are.
    """
    assert ends(ward, (3, {"etat": "0,3"}), NEW, 5) == ["same", "same", "waiting"]
    assert ends(ward, (3, {"urodzony": "05.04.1961"})) == ["waiting"]
    # what the check does not read may alter
    assert ends(ward, (3, {"etat": "0,25"})) == ["changed"]


def test_what_was_written_otherwise_is_the_same(ward, given):
    """A day written in another manner is the same value."""
    data = sheet((3, {"urodzony": "1961-04-04"}))
    evaluation = open_intake(
        ward, receive_file(ward, "b.csv", data, Claims(roster="pracownicy"))
    ).evaluation
    assert evaluation.tally.waiting == 0


def test_counted_apart(ward, given):
    """Let in here, let in earlier and left out are three numbers, and each row says with which
    reason.
    """
    intake = take(ward, 3, 4, 5, 6)
    let_in(ward, intake, 3, reason="pismo z 1.09.")
    add_step(ward, intake, {"kind": "leave_out", "lines": [4], "reason": "nie nasz"}, None)
    evaluation = open_intake(ward, intake).evaluation
    (cause,) = [one for one in evaluation.causes if one.hit.check == "age"]
    assert (len(cause.waived_before), evaluation.table.lines[cause.open_rows].tolist()) == (1, [5])
    own = browser_of(ward)
    (answer,) = [
        one for one in own.get(f"/api/intakes/{intake}/causes")["causes"] if one["check"] == "age"
    ]
    assert (answer["rows"], answer["waived"], answer["waived_before"]) == (1, 1, 1)
    rows = own.get(f"/api/intakes/{intake}/rows", outcome="approved")["rows"]
    assert [row["line"] for row in rows] == [2, 3]
    approvals = [finding["approval"] for row in rows for finding in row["findings"]]
    said = [one for one in approvals if one]
    assert said == ["Approved on 1 Sep 2026 by somebody: aneks w drodze", "Approved: pismo z 1.09."]


def browser_of(context, name: str = PREPARES) -> Browser:
    for sign_in, title, password, level in DEMO_ACCOUNTS:
        if sign_in == name:
            add_account(context, sign_in, title, password, level)
    return Browser(context, name)


def test_over_with_its_day(ward, clock):
    """A yes until a day counts through that day."""
    intake = take(ward, (3, {"etat": "0,3"}))
    let_in(ward, intake, 2, until="2026-09-10")
    apply(ward, intake)
    clock.move(days=9)
    assert ends(ward, (3, {"etat": "0,3"})) == ["same"]
    clock.move(days=1)
    assert ends(ward, (3, {"etat": "0,3"})) == ["waiting"]


def test_withdrawn(ward, given):
    """Withdrawn it is asked again; it stays listed with who withdrew it, and is withdrawn once
    only.
    """
    with ward.database.transaction() as connection:
        first, second = sorted(
            list_standing(connection, 1, date(2026, 9, 1)), key=lambda one: one.line
        )
    withdraw(ward, first.id, None)
    assert ends(ward, (3, {"etat": "0,3"}), NEW) == ["waiting", "same"]
    with pytest.raises(NoSuchWaiver):
        withdraw(ward, first.id, None)
    with ward.database.transaction() as connection:
        total, found = list_waivers(connection, 1)
    assert (total, {one.id: one.withdrawn_at is not None for one in found}) == (
        2,
        {first.id: True, second.id: False},
    )


def test_gone_with_its_load(ward, given):
    """What is taken back takes its yeses with it."""
    take_back(ward, given, None)
    assert ends(ward, (3, {"etat": "0,3"}), NEW) == ["waiting", "waiting"]


@pytest.mark.parametrize("way", ["withdrawn", "taken back"])
def test_gone_between_looking_and_applying(ward, given, way):
    """A row was to go in by a yes that went meanwhile, with the roster moved elsewhere: not
    applied without it, in silence.
    """
    intake = take(ward, (3, {"etat": "0,25"}), (20, {"etat": "0,3"}))
    opened = open_intake(ward, intake)
    assert opened.evaluation.altering == 2
    if way == "withdrawn":
        with ward.database.transaction() as connection:
            first = min(list_standing(connection, 1, date(2026, 9, 1)), key=lambda one: one.line)
        withdraw(ward, first.id, None)
        _, snapshot = open_roster(ward, "pracownicy")
        edit_record(ward, Edit(int(snapshot.ids[20]), {"poczta": "inna@szpital.example"}), None)
    else:
        take_back(ward, given, None)
    with pytest.raises(RosterMoved):
        apply_intake(ward, intake, 0, opened.roster.version, None)


def test_listed_with_what_became_of_it(ward, given):
    """The list says who, what, why, and whether it counts; sensitive values are kept from who
    may only look.
    """
    own = browser_of(ward)
    listed = own.get("/api/rosters/pracownicy/waivers")
    assert (listed["total"], listed["standing"]) == (2, 2)
    old = next(one for one in listed["waivers"] if one["key"] == hospital.number(3))
    assert (old["reason"], old["state"], old["line"], old["values"]) == (
        "aneks w drodze",
        "stands",
        2,
        ["Urodzony 4 Apr 1961"],
    )
    edit_record(ward, Edit(old["record"], {"urodzony": "1981-04-04"}), None)
    states = {
        one["key"]: one["state"] for one in own.get("/api/rosters/pracownicy/waivers")["waivers"]
    }
    assert states == {hospital.number(3): "changed", hospital.number(NEW): "stands"}
    number = next(one["id"] for one in listed["waivers"] if one["key"] == hospital.number(NEW))
    looker = browser_of(ward, LOOKS)
    assert looker.send("POST", f"/api/waivers/{number}/withdraw").status_code == 403
    assert own.send("POST", f"/api/waivers/{number}/withdraw").status_code == 204
    assert own.send("POST", f"/api/waivers/{number}/withdraw").status_code == 404


def test_another_wording_is_asked_anew(ward, given):
    """A check that is declared otherwise asks again: the yes was to the other question."""
    change_definition(ward, "pracownicy", document(most=MOST - 1), 1, None)
    assert ends(ward, (3, {"etat": "0,3"})) == ["waiting"]


def test_yes_by_hand_lasts_too(ward):
    """A yes that was said while one record was edited counts for files that come later."""
    _, snapshot = open_roster(ward, "pracownicy")
    edit_record(ward, Edit(int(snapshot.ids[3]), {"etat": "0.3"}, reason="tak uzgodniono"), None)
    assert ends(ward, (3, {"etat": "0,3"}), 4) == ["same", "waiting"]


def test_only_what_lasts_has_a_last_day(ward):
    """A yes to a question that is asked once, such as about the whole file, takes no last day."""
    intake = take(ward, 3)
    with pytest.raises(WrongStep, match="for this file alone"):
        step = {
            "kind": "waive",
            "check": "who",
            "field": None,
            "lines": [2],
            "reason": "x",
            "until": "2026-12-01",
        }
        add_step(ward, intake, step, None)
