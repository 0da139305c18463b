"""The rule of two is not taken out by one: what it rests on in a definition is changed by two,
and by no detour.
"""

from __future__ import annotations

import copy

import pytest

from nevefield.accounts import Level, add_account
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.guarding import changes_between, why_two
from nevefield.proposals.approving import approve, propose_definition, send_back
from nevefield.rosters.defining import change_definition
from nevefield.rosters.errors import DefinitionMoved, NeedsApproval, NotApproved
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.snapshots import load_definition, require_roster
from nevefield.store import rosters
from tests.proposals.test_privileges import CODES, DOCUMENT, PEOPLE


@pytest.fixture
def staff(bare):
    with bare.database.transaction() as connection:
        for name, codes in read_codes(CODES).items():
            rosters.replace_code_list(connection, name, codes.codes)
    open_roster_with(bare, DOCUMENT, PEOPLE)
    return bare


@pytest.fixture
def people(staff) -> tuple[int, int]:
    one = add_account(staff, "one", "One", "a-long-password-1", Level.ADMINISTER)
    return one, add_account(staff, "two", "Two", "a-long-password-2", Level.APPROVE)


def altered(**own) -> dict:
    made = copy.deepcopy(DOCUMENT)
    made["nevefield"] |= own
    return made


def in_force(context) -> dict:
    with context.database.transaction() as connection:
        return load_definition(connection, require_roster(connection, "staff")).document


def with_field(place: int, **own) -> dict:
    made = copy.deepcopy(DOCUMENT)
    made["fields"][place] = {**made["fields"][place], **own}
    return made


# Every way by which one person could make the rule hold no more, with what is said of it.
DETOURS = {
    "no rule": (altered(approval={}), "when a second person is needed"),
    "a rule that never bites": (
        altered(approval={"from": 1_000_000}),
        "when a second person is needed",
    ),
    "no privileges": (altered(checks=DOCUMENT["nevefield"]["checks"][1:]), "what gives privileges"),
    "all are the lowest": (
        altered(
            checks=[
                {**DOCUMENT["nevefield"]["checks"][0], "lowest": ["MEMBER", "ARMOUR", "REGIST"]}
            ]
        ),
        "what gives privileges",
    ),
    "the check is off": (
        altered(
            checks=[
                {**DOCUMENT["nevefield"]["checks"][0], "off": True},
                DOCUMENT["nevefield"]["checks"][1],
            ]
        ),
        "what gives privileges",
    ),
    "only asked about": (
        altered(
            checks=[{**DOCUMENT["nevefield"]["checks"][0], "when": {"field": "no", "is": "0"}}]
        ),
        "what gives privileges",
    ),
    "another key": ({**DOCUMENT, "primaryKey": "name"}, "the keys"),
    "a second key": (altered(keys=["no", "name"]), "the keys"),
    "a unique field": (with_field(1, constraints={"unique": True}), "the keys"),
    "kept from others": (
        with_field(1, nevefield={"sensitive": True}),
        "which fields are kept from who may only look",
    ),
}


@pytest.mark.parametrize("way", DETOURS)
def test_not_by_one(staff, people, way):
    """One person alone is refused and nothing is written; with a second person exactly that
    definition is in force.
    """
    document, said = DETOURS[way]
    one, two = people
    before = in_force(staff)
    with pytest.raises(NeedsApproval, match=said):
        change_definition(staff, "staff", document, 1, one)
    assert in_force(staff) == before
    number = propose_definition(staff, "staff", document, 1, one)
    with pytest.raises(NotApproved, match="yourself"):
        approve(staff, number, one)
    assert in_force(staff) == before
    approve(staff, number, two)
    assert in_force(staff) == document
    with pytest.raises(NotApproved):  # once
        approve(staff, number, two)


def test_the_rest_is_done_by_one(staff, people):
    """Titles, new fields, other checks are nobody else's business; nor is anything where a
    roster has no such rule.
    """
    document = altered(
        checks=[
            *DOCUMENT["nevefield"]["checks"],
            {"check": "required-when", "fields": ["name"], "when": {"field": "no", "is": "1"}},
        ]
    )
    document["fields"] = [*document["fields"], {"name": "room", "title": "Room"}]
    assert change_definition(staff, "staff", document, 1, people[0]) == 2
    free = read_definition(altered(approval={}))
    assert why_two(free, read_definition({**altered(approval={}), "primaryKey": "name"})) == ""
    assert why_two(free, read_definition(DOCUMENT)) == ""  # a rule may be begun by one


def test_not_what_was_agreed_to(staff, people):
    """When another definition came in between, what was proposed is put in force by nobody; it
    stays open to be sent back.
    """
    one, two = people
    number = propose_definition(staff, "staff", altered(approval={}), 1, one)
    change_definition(staff, "staff", with_field(1, title="Called"), 1, one)
    with pytest.raises(DefinitionMoved):
        approve(staff, number, two)
    assert in_force(staff)["nevefield"]["approval"] == {"raising": True}
    send_back(staff, number, two, "make it anew")
    with pytest.raises(NotApproved):
        approve(staff, number, two)


def test_what_changes_is_said():
    """What is another is listed in words, what needs the second person first."""
    new = with_field(1, title="Called", nevefield={"sensitive": True})
    new["fields"] = [*new["fields"][:2], {"name": "room", "title": "Room"}]
    new["nevefield"] |= {"checks": [], "approval": {}}
    assert changes_between(read_definition(DOCUMENT), read_definition(new)) == [
        "When a second person is needed: when somebody gains a privilege; then never",
        "Which fields are kept from who may only look",
        "What gives privileges",
        "new field Room",
        "field Roles goes",
        "Called: title and sensitive",
        "checks",
    ]
