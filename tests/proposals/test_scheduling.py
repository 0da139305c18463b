"""Put off to a day: kept, shown, done on its day and no other, and nothing else than what was
put off.
"""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from nevefield.accounts import Level, add_account
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.errors import NotAhead
from nevefield.intakes.evaluating import open_intake
from nevefield.jobs.worker import run_one
from nevefield.proposals.approving import approve, propose_intake
from nevefield.proposals.editing import Edit, edit_record
from nevefield.proposals.scheduling import call_off, queue_due, schedule_intake
from nevefield.rosters.errors import NeedsApproval, NotScheduled
from nevefield.store import jobs as job_store
from nevefield.store import proposals as proposal_store
from nevefield.store import records as record_store
from nevefield.store import scheduled as store
from tests.core.world import DOCUMENT
from tests.crew import apply_text, contents, drop, numbers, open_crew

FILE = "no,name,port\n1,Ann Nova,NQ\n7,Kit,CH\n"  # the first changes, the second joins


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


def put_off(context, intake: int, day: date, account=None) -> int:
    opened = open_intake(context, intake)
    return schedule_intake(context, intake, len(opened.steps), opened.roster.version, day, account)


def come(context, clock, day: date) -> None:
    """Let a day come, and the workers do what waits for it."""
    clock.at += timedelta(days=(day - context.today()).days)
    queue_due(context)
    while run_one(context, "w"):
        pass


def get(context, number: int) -> store.Scheduled:
    with context.database.transaction() as connection:
        return store.get_scheduled(connection, number)


def test_kept_and_done_on_its_day(crew, clock):
    """Until its day it is ahead: in the roster as of that day and in the record's life, and not
    in the roster today.
    """
    before, day = contents(crew), crew.today() + timedelta(days=10)
    number = put_off(crew, drop(crew, FILE), day)
    assert contents(crew) == before
    assert contents(crew, day - timedelta(days=1)) == before
    then = contents(crew, day)
    assert then["1"]["name"] == "Ann Nova"
    assert then["7"] == {"no": "7", "name": "Kit", "port": ["CH"]}
    assert {key: value for key, value in then.items() if key not in ("1", "7")} == {
        key: value for key, value in before.items() if key != "1"
    }
    with crew.database.transaction() as connection:
        (ahead,) = store.list_ahead(connection, numbers(crew)["1"])
    assert (ahead.day, ahead.fields["name"][1]) == (day, "Ann Nova")
    come(crew, clock, day - timedelta(days=1))
    assert contents(crew) == before
    come(crew, clock, day)
    assert contents(crew) == then
    done = get(crew, number)
    assert done.state == "done"
    with crew.database.transaction() as connection:
        change_set = record_store.get_change_set(connection, done.change_set_id)
        assert store.list_ahead(connection, numbers(crew)["1"]) == []
    assert (change_set.receipt["tally"]["new"], change_set.receipt["tally"]["changed"]) == (1, 1)
    assert queue_due(crew) == 0


def test_only_what_was_put_off(crew, clock):
    """A roster that moved elsewhere does not stand in its way; one that moved there does, and
    nothing is done.
    """
    day = crew.today() + timedelta(days=3)
    first = put_off(crew, drop(crew, "no,name,port\n1,Ann Nova,NQ\n"), day)
    second = put_off(crew, drop(crew, "no,name,port\n2,Ben Nova,NQ\n"), day)
    edit_record(crew, Edit(numbers(crew)["1"], {"guardian": "Somebody"}), None)
    edit_record(crew, Edit(numbers(crew)["2"], {"name": "Benjamin"}), None)
    come(crew, clock, day)
    assert get(crew, first).state == "done"
    assert contents(crew)["1"]["guardian"] == "Somebody"
    assert contents(crew)["1"]["name"] == "Ann Nova"
    stopped = get(crew, second)
    assert (stopped.state, contents(crew)["2"]["name"]) == ("stopped", "Benjamin")
    assert "not what was put off" in stopped.reason


def test_called_off_or_done_before(crew, clock):
    """What was called off, or applied before its day, is not done on it; a day that is no more
    ahead is refused.
    """
    day, before = crew.today() + timedelta(days=3), contents(crew)
    intake = drop(crew, FILE)
    with pytest.raises(NotAhead):
        put_off(crew, intake, crew.today())
    number = put_off(crew, intake, day)
    call_off(crew, number, None, "not yet")
    with pytest.raises(NotScheduled):
        call_off(crew, number, None, "again")
    come(crew, clock, day)
    assert contents(crew) == before
    later = day + timedelta(days=3)
    number = put_off(crew, intake, later)
    opened = open_intake(crew, intake)
    apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    assert get(crew, number).state == "called_off"
    after = contents(crew)
    come(crew, clock, later)
    assert contents(crew) == after


def test_worker_gone(crew, clock):
    """A worker that is gone in the middle leaves nothing half done: it is tried again."""
    day = crew.today() + timedelta(days=1)
    number = put_off(crew, drop(crew, FILE), day)
    clock.at += timedelta(days=1)
    queue_due(crew)
    job_store.claim_job(crew.database, "gone", crew.now(), crew.now() + timedelta(seconds=1))
    clock.at += timedelta(minutes=5)
    while run_one(crew, "w"):
        pass
    assert get(crew, number).state == "waiting"
    come(crew, clock, crew.today())
    assert (get(crew, number).state, contents(crew)["7"]["name"]) == ("done", "Kit")


def test_a_second_person(bare, clock):
    """Where a second account has to approve, nothing is put off without; approved, it waits for
    its day.
    """
    open_crew(
        bare, document={**DOCUMENT, "nevefield": {**DOCUMENT["nevefield"], "approval": {"from": 2}}}
    )
    one = add_account(bare, "one", "One", "a-long-password-1", Level.APPROVE)
    two = add_account(bare, "two", "Two", "a-long-password-2", Level.APPROVE)
    day, intake = bare.today() + timedelta(days=2), drop(bare, FILE)
    with pytest.raises(NeedsApproval):
        put_off(bare, intake, day, one)
    opened = open_intake(bare, intake)
    proposal = propose_intake(bare, intake, len(opened.steps), opened.roster.version, one, day=day)
    assert approve(bare, proposal, two) == (None, None)
    apply_text(bare, "no,name,guardian\n2,Ben,Somebody\n")
    assert "7" not in contents(bare)
    come(bare, clock, day)
    assert contents(bare)["7"]["name"] == "Kit"
    with bare.database.transaction() as connection:
        assert proposal_store.get_proposal(connection, proposal).state == "done"
