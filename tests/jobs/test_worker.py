"""The worker as a process of its own: what it does, and what is left when it is killed."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from nevefield.context import Context
from nevefield.intakes.applying import request_apply
from nevefield.intakes.evaluating import open_intake
from nevefield.jobs.worker import BROKEN_OFF, run_one
from nevefield.settings import Settings
from nevefield.store import jobs
from nevefield.store.connection import Database
from nevefield.store.schema import migrate
from tests.crew import contents, drop, open_crew

ROWS = 20_000


@pytest.fixture
def crew(database_url) -> Context:
    """The crew, with the machine's clock: the worker is another process."""
    context = Context(Database(database_url), Settings(database_url=database_url, lease_seconds=2))
    migrate(context.database)
    open_crew(context)
    yield context
    context.database.close()


def start_worker(context: Context) -> subprocess.Popen:
    environment = {
        **os.environ,
        "NEVEFIELD_DATABASE_URL": context.settings.database_url,
        "NEVEFIELD_LEASE_SECONDS": "2",
    }
    program = Path(sys.executable).with_name("nevefield")
    return subprocess.Popen([program, "worker"], env=environment)


def get_job(context: Context, number: int) -> jobs.Job:
    with context.database.transaction() as connection:
        return jobs.get_job(connection, number)


def wait_for(condition, seconds: int = 60):
    """Wait until something holds; a minute is long enough for any machine."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if found := condition():
            return found
        time.sleep(0.01)
    raise AssertionError("it never came to that")


def request(context: Context, intake: int) -> int:
    opened = open_intake(context, intake)
    return request_apply(context, intake, len(opened.steps), opened.roster.version, None)[0]


def test_killed_in_the_middle(crew):
    """Killed while it writes 20,000 rows, it leaves the roster as it was and the intake ready;
    the next one applies it whole.
    """
    intake = drop(
        crew,
        "no,name,mail\n"
        + "".join(
            f"{number},Kit {number},kit{number}@q.example\n" for number in range(100, 100 + ROWS)
        ),
    )
    before, version = contents(crew), open_intake(crew, intake).roster.version
    number = request(crew, intake)
    worker = start_worker(crew)
    wait_for(lambda: get_job(crew, number).doing.startswith("Writing"))
    worker.send_signal(signal.SIGKILL)
    worker.wait()
    assert get_job(crew, number).state == "running"  # nobody could say how it ended
    assert contents(crew) == before

    wait_for(lambda: run_one(crew, "another") or None)  # once the lease has run out
    assert (get_job(crew, number).state, get_job(crew, number).problem) == ("failed", BROKEN_OFF)
    opened = open_intake(crew, intake)
    assert (opened.roster.version, opened.evaluation.tally.new) == (version, ROWS)
    assert contents(crew) == before

    again = request(crew, intake)
    assert run_one(crew, "another")
    assert get_job(crew, again).state == "done"
    assert len(contents(crew)) == len(before) + ROWS


def test_works_and_stops(crew):
    """A worker takes the job, says how it ended, and stops when asked."""
    intake = drop(crew, "no,name\n7,Kit\n")
    number = request(crew, intake)
    assert request(crew, intake) == number  # a second click asks for nothing more
    worker = start_worker(crew)
    job = wait_for(lambda: get_job(crew, number) if get_job(crew, number).state == "done" else None)
    assert job.answer["change_set"]
    worker.send_signal(signal.SIGTERM)
    assert worker.wait(20) == 0
    assert contents(crew)["7"]["name"] == "Kit"


def test_says_why_it_failed(crew):
    """What stood in the way of a job is kept with it in words."""
    intake, other = (
        drop(crew, "no,name\n7,Kit\n"),
        drop(crew, "no,name,mail\n7,Kit,kit@q.example\n"),
    )
    first, second = request(crew, intake), request(crew, other)
    assert run_one(crew, "one")
    assert run_one(crew, "one")
    assert not run_one(crew, "one")
    assert get_job(crew, first).state == "done"
    assert get_job(crew, second).state == "failed"
    assert "changed meanwhile" in get_job(crew, second).problem


def test_unknown_work_is_left_alone(crew):
    """A job of a kind that this worker does not know does nothing, and says so; nothing is taken
    for another kind.
    """
    intake = drop(crew, "no,name\n7,Kit\n")
    opened = open_intake(crew, intake)
    before = contents(crew)
    arguments = {"intake": intake, "steps": len(opened.steps), "version": opened.roster.version}
    with crew.database.transaction() as connection:
        number = jobs.insert_job(
            connection, "applied", opened.roster.id, arguments, None, crew.now()
        )
    assert run_one(crew, "here")
    with crew.database.transaction() as connection:
        job = jobs.get_job(connection, number)
    assert (job.state, "Nobody here knows how to do “applied”" in job.problem) == ("failed", True)
    assert contents(crew) == before
