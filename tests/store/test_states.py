"""States in the database: its constraints, the enumerations and the tables of allowed changes are
one.
"""

from __future__ import annotations

import re
from datetime import timedelta
from enum import StrEnum

import pytest

from nevefield.core.states import (
    JOB_CHANGES,
    PROPOSAL_CHANGES,
    ROUND_CHANGES,
    SCHEDULED_CHANGES,
    JobKind,
    JobState,
    ProposalState,
    RoundState,
    ScheduledState,
)
from nevefield.jobs.worker import RUNNERS
from nevefield.store import intakes, jobs, proposals, scheduled, submissions
from tests.crew import open_crew

KINDS = {
    "submission_round": (RoundState, ROUND_CHANGES),
    "proposal": (ProposalState, PROPOSAL_CHANGES),
    "scheduled": (ScheduledState, SCHEDULED_CHANGES),
    "job": (JobState, JOB_CHANGES),
}


@pytest.mark.parametrize("table", KINDS)
def test_constraint_knows_the_same_states(bare, table):
    """The database refuses a state that the enumeration has not, and takes each that it has."""
    with bare.database.transaction() as connection:
        (clause,) = (
            text
            for (text,) in connection.rows(
                "SELECT check_clause FROM information_schema.check_constraints"
                " WHERE constraint_schema = DATABASE() AND table_name = %s"
                " AND constraint_name LIKE '%%states'",
                (table,),
            )
        )
    states, changes = KINDS[table]
    assert set(re.findall(r"'(\w+)'", clause)) == set(states)
    assert set(changes) == set(states)
    assert all(set(after) <= set(states) for after in changes.values())


@pytest.mark.parametrize("table", KINDS)
def test_every_state_is_reached_and_ends(table):
    """From the first state every other is reached, and from every state an end."""
    states, changes = KINDS[table]

    def reach(start: StrEnum) -> set[StrEnum]:
        found, ahead = {start}, [start]
        while ahead:
            new = changes[ahead.pop()] - found
            found |= new
            ahead += new
        return found

    assert reach(next(iter(states))) == set(states)
    ends = {state for state in states if not changes[state]}
    assert all(reach(state) & ends for state in states)


def pairs(states):
    return [(old, new) for old in states for new in states if old != new]


@pytest.fixture
def crew(bare) -> int:
    return open_crew(bare)


def test_round_moves_only_as_allowed(bare, crew):
    """Whatever asks: a round becomes only what it may become, and else stays what it is."""
    made = {
        "roster_id": crew,
        "title": "Return",
        "side": "practice",
        "layout": {},
        "published": {},
        "chosen": None,
        "day": bare.today(),
        "due": None,
        "policy": {},
    }
    with bare.database.transaction() as connection:
        of = submissions.insert_submission(connection, made, None, bare.now())
        for place, (old, new) in enumerate(pairs(RoundState), 1):
            number = submissions.insert_round(
                connection,
                submissions.NewRound(
                    submission_id=of,
                    number=place,
                    key=f"{place:032}",
                    body=b"{}",
                    records=1,
                    counts={},
                    account_id=None,
                    at=bare.now(),
                ),
            )
            put(connection, "submission_round", number, old)
            moved = submissions.move_round(connection, number, new, problem="seen")
            now = submissions.get_round(connection, number)
            assert moved == (new in ROUND_CHANGES[old]), (old, new)
            assert (now.state, now.problem) == ((new, "seen") if moved else (old, ""))


def test_round_is_never_asked_for_what_cannot_be(bare):
    """To name a state from which nothing leads there is a mistake of ours, and said at once."""
    with bare.database.transaction() as connection, pytest.raises(ValueError, match="from done"):
        submissions.move_round(connection, 1, RoundState.SENT, only_from=(RoundState.DONE,))


def test_scheduled_moves_only_as_allowed(bare, crew):
    """What was done, or called off, is never brought back by a job that ends late."""
    with bare.database.transaction() as connection:
        for old, new in pairs(ScheduledState):
            intake = an_intake(connection, bare, crew)
            number = put_off(connection, bare, crew, intake)
            put(connection, "scheduled", number, old)
            if new == ScheduledState.CALLED_OFF:
                moved = bool(scheduled.call_off(connection, intake, "seen", None))
            else:
                moved = scheduled.set_state(connection, number, new, "seen")
            found = scheduled.get_scheduled(connection, number)
            assert moved == (new in SCHEDULED_CHANGES[old]), (old, new)
            assert (found.state, found.reason) == ((new, "seen") if moved else (old, ""))


def test_proposal_moves_only_as_allowed(bare, crew):
    """What is decided stays decided."""
    with bare.database.transaction() as connection:
        receipt = alter(connection, crew)
        for old, new in pairs(ProposalState):
            intake = an_intake(connection, bare, crew)
            number = proposals.insert_proposal(
                connection,
                proposals.NewProposal(
                    roster_id=crew,
                    intake_id=intake,
                    act={},
                    digest="",
                    title="Title",
                    why="",
                    counts={},
                    account_id=None,
                    at=bare.now(),
                ),
            )
            put(connection, "proposal", number, old)
            if new == ProposalState.OPEN:
                proposals.reopen_proposal(connection, number)
            elif new == ProposalState.DONE:
                proposals.finish_proposal(connection, number, receipt)
            elif new == ProposalState.REPLACED:
                proposals.replace_open(connection, intake)
            else:
                proposals.decide_proposal(connection, number, new, None, "", bare.now())
            now = proposals.get_proposal(connection, number).state
            assert now == (new if new in PROPOSAL_CHANGES[old] else old), (old, new)


def test_job_ends_once(bare, crew):
    """Only a job that runs ends, and it ends once."""
    with bare.database.transaction() as connection:
        for old in JobState:
            for problem in ("", "It failed."):
                new = JobState.FAILED if problem else JobState.DONE
                number = jobs.insert_job(connection, JobKind.ROUND, crew, {}, None, bare.now())
                put(connection, "job", number, old)
                connection.run("UPDATE job SET worker = 'one' WHERE id = %s", (number,))
                ended = jobs.finish_job(connection, number, "one", {}, problem)
                assert ended == (new in JOB_CHANGES[old]), (old, new)
                assert jobs.get_job(connection, number).state == (new if ended else old)


def test_every_kind_of_job_is_run():
    """The product does not start without somebody who does each kind."""
    assert set(RUNNERS) == set(JobKind)


def put(connection, table: str, number: int, state: str) -> None:
    connection.run(f"UPDATE {table} SET state = %s WHERE id = %s", (state, number))


def alter(connection, crew: int) -> int:
    """A change set, of which nothing else is known."""
    return connection.row("SELECT MAX(id) FROM change_set WHERE roster_id = %s", (crew,))[0]


def an_intake(connection, bare, crew: int) -> int:
    mark = b"m" * 32
    intakes.insert_file(connection, mark, b"no\n1\n", bare.now())
    return intakes.insert_intake(
        connection,
        intakes.NewIntake(
            roster_id=crew,
            title="File",
            file_name="file.csv",
            file_hash=mark,
            source="",
            coverage="",
            account_id=None,
            at=bare.now(),
        ),
    )


def put_off(connection, bare, crew: int, intake: int) -> int:
    return scheduled.insert_scheduled(
        connection,
        scheduled.NewScheduled(
            roster_id=crew,
            intake_id=intake,
            steps=0,
            day=bare.today() + timedelta(days=9),
            digest="",
            title="Later",
            counts={},
            proposal_id=None,
            account_id=None,
            at=bare.now(),
        ),
        [],
    )
