"""Privileges: raised by no way without a reason and a second person; two that must not meet do
not, whoever grants them when.
"""

from __future__ import annotations

import json
from datetime import date, timedelta

import pytest

from nevefield.accounts import Level, add_account
from nevefield.core.changes.many import Act
from nevefield.core.codes import read_codes
from nevefield.core.errors import WrongStep
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.errors import NothingToApply, WrongEdit
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.jobs.worker import run_one
from nevefield.proposals.approving import approve, propose_intake, propose_take_back
from nevefield.proposals.changing import change_many
from nevefield.proposals.editing import Edit, edit_record
from nevefield.proposals.ending import end_later
from nevefield.proposals.scheduling import queue_due, schedule_intake
from nevefield.rosters.errors import NeedsApproval, NeverTogether, RosterMoved
from nevefield.rosters.looking import open_roster
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.undoing import Choice
from nevefield.rosters.uniting import merge_records
from nevefield.store import rosters as roster_store
from nevefield.store.scheduled import list_ahead, list_scheduled

CODES = "list,code,label\nrole,MEMBER,Member\nrole,REGIST,Registrar\nrole,ARMOUR,Keyholder\n"
DOCUMENT = {
    "name": "staff",
    "primaryKey": "no",
    "fields": [
        {"name": "no"},
        {"name": "name"},
        {"name": "roles", "nevefield": {"codeList": "role", "several": ";"}},
    ],
    "nevefield": {
        "likeness": {"off": True},
        "approval": {"raising": True},
        "checks": [
            {"check": "raised", "fields": ["roles"], "lowest": ["MEMBER"]},
            {"check": "never-together", "fields": ["roles"], "codes": ["REGIST", "ARMOUR"]},
        ],
    },
}
PEOPLE = [
    {"no": "1", "name": "Ada", "roles": ["MEMBER"]},
    {"no": "2", "name": "Ben", "roles": ["MEMBER", "REGIST"]},
    {"no": "3", "name": "Ben B", "roles": ["ARMOUR"]},
]


@pytest.fixture
def staff(bare):
    with bare.database.transaction() as connection:
        for name, codes in read_codes(CODES).items():
            roster_store.replace_code_list(connection, name, codes.codes)
    open_roster_with(bare, DOCUMENT, PEOPLE)
    return bare


@pytest.fixture
def people(staff) -> tuple[int, int]:
    one = add_account(staff, "one", "One", "a-long-password-1", Level.APPROVE)
    return one, add_account(staff, "two", "Two", "a-long-password-2", Level.APPROVE)


def roles(context) -> dict[str, list[str]]:
    _, snapshot = open_roster(context, "staff")
    return {
        (one := snapshot.values(place))["no"]: one.get("roles", [])
        for place in range(len(snapshot))
    }


def number(context, key: str) -> int:
    _, snapshot = open_roster(context, "staff")
    return int(snapshot.ids[snapshot.columns["no"].texts().index(key)])


def drop(context, text: str) -> int:
    return receive_file(context, "staff.csv", text.encode(), Claims(roster="staff"))


def looked_at(context, intake: int) -> tuple[int, int]:
    opened = open_intake(context, intake)
    return len(opened.steps), opened.roster.version


def let_in(context, intake: int, lines: list[int], **more: str) -> None:
    step = {
        "kind": "waive",
        "check": "raised",
        "field": "roles",
        "lines": lines,
        "reason": "the board",
    }
    add_step(context, intake, step | more, None)


def approved(context, intake: int, people: tuple[int, int]) -> None:
    """Propose an intake's plan, approve it, and let it be done."""
    approve(
        context, propose_intake(context, intake, *looked_at(context, intake), people[0]), people[1]
    )
    while run_one(context, "w"):
        pass


def test_no_way_round(staff, people):
    """File, many at once, by hand, put off to a day, taken back, merged: none of them raises
    anybody without a second person.
    """
    before = roles(staff)
    file = drop(staff, "no,roles\n1,MEMBER;ARMOUR\n")
    many = change_many(
        staff, "staff", [number(staff, "1")], [Act("roles", "add", "REGIST")], people[0]
    )
    for intake, line in ((file, 2), (many, 1)):
        with pytest.raises(NothingToApply):  # without a reason it waits
            apply_intake(staff, intake, *looked_at(staff, intake), people[0])
        let_in(staff, intake, [line])
        with pytest.raises(NeedsApproval):
            apply_intake(staff, intake, *looked_at(staff, intake), people[0])
        with pytest.raises(NeedsApproval):
            later = staff.today().replace(year=2030)
            schedule_intake(staff, intake, *looked_at(staff, intake), later, people[0])
    with pytest.raises(WrongEdit):
        edit_record(staff, Edit(number(staff, "1"), {"roles": "MEMBER;REGIST"}), people[0])
    assert edit_record(
        staff, Edit(number(staff, "1"), {"roles": "MEMBER;REGIST"}, reason="the board"), people[0]
    ).proposal
    with pytest.raises((NeedsApproval, NeverTogether)):
        merge_records(staff, "staff", number(staff, "1"), number(staff, "2"), people[0])
    assert roles(staff) == before

    # What was lowered is raised again by taking the lowering back: that needs somebody too.
    lowered = edit_record(
        staff, Edit(number(staff, "2"), {"roles": "MEMBER"}), people[0]
    ).change_set
    with pytest.raises(NeedsApproval, match="gains a privilege"):
        take_back(staff, lowered, people[0])
    approve(staff, propose_take_back(staff, lowered, Choice(), False, people[0]), people[1])
    assert roles(staff) == before


def test_never_together_at_one_moment(staff, people):
    """Two people grant two roles to one person on the same roster: the second finds it moved,
    and then it is stopped.
    """
    first = drop(staff, "no,roles\n1,MEMBER;REGIST\n")
    second = drop(staff, "no,name,roles\n1,Ada,MEMBER;ARMOUR\n")
    for intake in (first, second):
        add_step(staff, intake, {"kind": "update", "field": "roles", "rule": "add"}, None)
        let_in(staff, intake, [2])
    seen = looked_at(staff, second)
    approved(staff, first, people)
    assert roles(staff)["1"] == ["MEMBER", "REGIST"]
    with pytest.raises(RosterMoved):
        apply_intake(staff, second, *seen, people[1])
    opened = open_intake(staff, second)
    assert opened.evaluation.tally.stopped == 1
    with pytest.raises(NothingToApply):
        apply_intake(staff, second, *looked_at(staff, second), people[1])


def test_merging_makes_none_meet(staff):
    """Making two records one whose roles must not meet is refused, with what to do first."""
    with pytest.raises(NeverTogether, match="REGIST and ARMOUR in Roles"):
        merge_records(staff, "staff", number(staff, "2"), number(staff, "3"), None)
    assert json.dumps(roles(staff)).count("ARMOUR") == 1


def work_off(context) -> None:
    """Let the workers do what there is to do today."""
    queue_due(context)
    while run_one(context, "w"):
        pass


def test_until_a_day(staff, people, clock):
    """What is let in until a day stands ahead with its end, and is taken out after that day, and
    nothing else of the person.
    """
    last = staff.today() + timedelta(days=30)
    with pytest.raises(WrongStep, match="is over already"):
        let_in(staff, drop(staff, "no,roles\n1,MEMBER;REGIST\n"), [2], until="2020-01-01")
    intake = drop(staff, "no,roles\n1,MEMBER;REGIST\n")
    let_in(staff, intake, [2], until=last.isoformat())
    approved(staff, intake, people)
    assert roles(staff)["1"] == ["MEMBER", "REGIST"]
    with staff.database.transaction() as connection:
        (ahead,) = list_ahead(connection, number(staff, "1"))
    assert (ahead.day, ahead.fields) == (
        last + timedelta(days=1),
        {"roles": [["MEMBER", "REGIST"], ["MEMBER"]]},
    )
    clock.at += timedelta(days=30)
    work_off(staff)
    assert roles(staff)["1"] == ["MEMBER", "REGIST"], "the last day is inclusive"
    clock.at += timedelta(days=1)
    work_off(staff)
    assert roles(staff) == {"1": ["MEMBER"], "2": ["MEMBER", "REGIST"], "3": ["ARMOUR"]}


def test_end_once(staff, people):
    """Work that was broken off after putting off an end and is done again puts it off once."""
    intake = drop(staff, "no,roles\n1,MEMBER;REGIST\n")
    let_in(staff, intake, [2], until=(staff.today() + timedelta(days=9)).isoformat())
    approved(staff, intake, people)
    with staff.database.transaction() as connection:
        (had,) = list_scheduled(connection)
        arguments = {
            "change_set": 2,
            "day": (had.day - timedelta(days=1)).isoformat(),
            "field": "roles",
            "codes": ["REGIST"],
        }
        arguments["change_set"] = int(had.title.split("receipt ")[1].split(" ")[0])
    assert end_later(staff, had.roster_id, arguments | {"records": [number(staff, "1")]}, None) == {
        "scheduled": had.id
    }
    with staff.database.transaction() as connection:
        assert [one.id for one in list_scheduled(connection)] == [had.id]


def test_end_day_needed(bare):
    """Where a definition lets privileges in for a time only, no way lets one in for good."""
    document = json.loads(json.dumps(DOCUMENT))
    document["nevefield"]["checks"][0]["ends"] = True
    document["nevefield"].pop("approval")
    with bare.database.transaction() as connection:
        for name, codes in read_codes(CODES).items():
            roster_store.replace_code_list(connection, name, codes.codes)
    open_roster_with(bare, document, PEOPLE)
    with pytest.raises(WrongStep, match="say until which day"):
        let_in(bare, drop(bare, "no,roles\n1,MEMBER;REGIST\n"), [2])
    with pytest.raises(WrongStep, match="say until which day"):
        edit_record(
            bare, Edit(number(bare, "1"), {"roles": "MEMBER;REGIST"}, reason="the board"), None
        )
    until: date = bare.today() + timedelta(days=5)
    edit_record(
        bare,
        Edit(number(bare, "1"), {"roles": "MEMBER;REGIST"}, reason="the board", until=until),
        None,
    )
    work_off(bare)
    with bare.database.transaction() as connection:
        assert [one.day for one in list_ahead(connection, number(bare, "1"))] == [
            until + timedelta(days=1)
        ]
