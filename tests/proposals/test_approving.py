"""A second person: nobody goes round it, nobody approves their own, and what is done is exactly
what was approved.
"""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, add_account
from nevefield.intakes.applying import apply_agreed, apply_intake, request_apply, take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step
from nevefield.jobs.worker import run_one
from nevefield.proposals.approving import (
    approve,
    propose_intake,
    propose_take_back,
    send_back,
    withdraw,
)
from nevefield.rosters.errors import NeedsApproval, NotApproved
from nevefield.rosters.undoing import Choice
from nevefield.store import jobs as job_store
from nevefield.store import proposals as store
from nevefield.store import rosters as roster_store
from tests.core.world import DOCUMENT
from tests.crew import contents, drop, open_crew

GUARDED = {**DOCUMENT, "nevefield": {**DOCUMENT["nevefield"], "approval": {"from": 2}}}
TWO = "no,name,mail\n7,Kit,kit@q.example\n8,Kim,kim@q.example\n"
OTHER = "no,name\n9,Liv\n"


@pytest.fixture
def crew(bare):
    open_crew(bare, document=GUARDED)
    return bare


@pytest.fixture
def people(crew) -> tuple[int, int]:
    """Two accounts that may approve."""
    one = add_account(crew, "one", "One", "a-long-password-1", Level.APPROVE)
    return one, add_account(crew, "two", "Two", "a-long-password-2", Level.APPROVE)


def looked_at(context, intake: int) -> tuple[int, int]:
    opened = open_intake(context, intake)
    return len(opened.steps), opened.roster.version


def propose(context, intake: int, account: int) -> int:
    return propose_intake(context, intake, *looked_at(context, intake), account)


def get(context, number: int) -> store.Proposal:
    with context.database.transaction() as connection:
        return store.get_proposal(connection, number)


def run(context) -> None:
    while run_one(context, "w"):
        pass


def test_proposed_agreed_done(crew, people):
    """A change as large as the limit is done once another account approves; a smaller one needs
    nobody.
    """
    intake = drop(crew, TWO)
    with pytest.raises(NeedsApproval, match="2 records or more"):
        request_apply(crew, intake, *looked_at(crew, intake), people[0])
    number = propose(crew, intake, people[0])
    assert "7" not in contents(crew)
    approve(crew, number, people[1])
    run(crew)
    assert {"7", "8"} <= set(contents(crew))
    done = get(crew, number)
    assert (done.state, done.decided_by, done.by, done.decider) == ("done", people[1], "One", "Two")
    assert done.change_set_id is not None
    small = drop(crew, OTHER)
    apply_intake(crew, small, *looked_at(crew, small), people[0])
    assert "9" in contents(crew)


def test_nobody_agrees_to_their_own(crew, people):
    """Who proposed it cannot approve it; nor can it be approved twice, or after it was sent
    back or withdrawn.
    """
    intake = drop(crew, TWO)
    number = propose(crew, intake, people[0])
    with pytest.raises(NotApproved, match="yourself"):
        approve(crew, number, people[0])
    with pytest.raises(NotApproved, match="Only who proposed"):
        withdraw(crew, number, people[1])
    with pytest.raises(NotApproved, match="why"):
        send_back(crew, number, people[1], " ")
    send_back(crew, number, people[1], "line 2 is a test")
    with pytest.raises(NotApproved, match="not open"):
        approve(crew, number, people[1])
    again = propose(crew, intake, people[0])
    withdraw(crew, again, people[0])
    with pytest.raises(NotApproved, match="not open"):
        approve(crew, again, people[1])
    assert "7" not in contents(crew)


def test_edited_after_is_another_plan(crew, people):
    """A step after the proposal makes it another plan: it is not done, whether it was approved
    before the step or after.
    """
    intake = drop(crew, TWO)
    number = propose(crew, intake, people[0])
    add_step(
        crew,
        intake,
        {"kind": "set", "cells": [{"line": 2, "field": "name", "value": "Mallory"}]},
        people[0],
    )
    with pytest.raises(NotApproved, match="worked on"):
        approve(crew, number, people[1])
    number = propose(crew, intake, people[0])
    approve(crew, number, people[1])
    add_step(
        crew,
        intake,
        {"kind": "set", "cells": [{"line": 2, "field": "name", "value": "Trudy"}]},
        people[0],
    )
    run(crew)
    assert "7" not in contents(crew)
    # approved, and not done: it waits again, and is stale
    assert get(crew, number).state == "open"


def test_a_job_by_hand_goes_nowhere(crew, people):
    """A job or a call that names no approved proposal, or another's, is refused inside the
    transaction that would write.
    """
    intake, other = drop(crew, TWO), drop(crew, "no,name\n5,Eve\n6,Evil\n")
    number = propose(crew, intake, people[0])
    steps, version = looked_at(crew, other)
    with pytest.raises(NeedsApproval):
        apply_intake(crew, other, steps, version, people[0])
    with pytest.raises(NotApproved):
        apply_agreed(crew, other, steps, version, people[0], number)
    with crew.database.transaction() as connection:
        arguments = {"intake": other, "steps": steps, "version": version, "proposal": number}
        job = job_store.insert_job(connection, "apply", 1, arguments, people[0], crew.now())
    run(crew)
    with crew.database.transaction() as connection:
        assert job_store.get_job(connection, job).state == "failed"
    approve(crew, number, people[1])
    with pytest.raises(NotApproved, match="not what would be done"):
        apply_agreed(crew, other, steps, version, people[0], number)
    assert set(contents(crew)) == {"1", "2", "3"}


def test_roster_moved_meanwhile(crew, people):
    """What leaves the plan as it was is no matter; what alters the plan sends it back to be
    proposed again.
    """
    intake = drop(crew, TWO)
    number = propose(crew, intake, people[0])
    small = drop(crew, OTHER)
    apply_intake(crew, small, *looked_at(crew, small), None)
    approve(crew, number, people[1])
    run(crew)
    assert {"7", "8", "9"} <= set(contents(crew))
    intake = drop(crew, "no,name\n7,Kit Marie\n8,Kim Marie\n")
    number = propose(crew, intake, people[0])
    small = drop(crew, "no,name\n7,Kit Marie\n")
    apply_intake(crew, small, *looked_at(crew, small), None)
    with pytest.raises(NotApproved, match="roster was changed"):
        approve(crew, number, people[1])


def test_taking_back_needs_two_as_well(crew, people):
    """Taking back is a change like any other: of so many records it needs a second person too."""
    intake = drop(crew, TWO)
    approve(crew, propose(crew, intake, people[0]), people[1])
    run(crew)
    with crew.database.transaction() as connection:
        done = store.get_proposal_of(connection, intake).change_set_id
    with pytest.raises(NeedsApproval):
        take_back(crew, done, people[0])
    assert "7" in contents(crew)
    number = propose_take_back(crew, done, Choice(), False, people[0])
    with pytest.raises(NotApproved, match="yourself"):
        approve(crew, number, people[0])
    _, undone = approve(crew, number, people[1])
    assert get(crew, number).change_set_id == undone
    assert set(contents(crew)) == {"1", "2", "3"}


def test_two_people_in_the_database_itself(crew, people):
    """The database refuses a proposal that its own proposer approved."""
    number = propose(crew, drop(crew, TWO), people[0])
    with (
        pytest.raises(Exception, match="proposal_two_people"),
        crew.database.transaction() as connection,
    ):
        store.decide_proposal(connection, number, "approved", people[0], "", crew.now())
    with crew.database.transaction() as connection:
        assert roster_store.get_roster_by_id(connection, 1).version == 1
