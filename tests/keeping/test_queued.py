"""An erasure is a job: asked for twice it is one, run twice it is done once, and what stands in its
way is said.
"""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, add_account
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.jobs.worker import run_one
from nevefield.keeping.erasing import erase, hold_back, how_erased, queue_erasure
from nevefield.keeping.errors import Erased, HeldBack, WrongErasure
from nevefield.rosters.errors import NoSuchRecord
from nevefield.rosters.opening import open_roster_with
from nevefield.store import jobs
from tests.keeping.test_outlasting import DOCUMENT, GUILD, numbers


@pytest.fixture
def guild(bare):
    """A guild with two files, who keeps it, and its records by number."""
    keeper = add_account(bare, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    open_roster_with(bare, DOCUMENT, GUILD)
    for place in range(2):
        rows = "".join(f"{one['no']};{one['family']};{one['given']}\n" for one in GUILD[place:])
        data = f"no;family;given\n{rows}".encode("cp1250" if place else "utf-16")
        receive_file(bare, f"guild-{place}.csv", data, Claims("guild"), account_id=keeper)
    return bare, keeper, numbers(bare)


def job_of(context, number) -> jobs.Job:
    with context.database.transaction() as connection:
        return jobs.get_job(connection, number)


def test_one_job_however_often_it_is_asked_for(guild):
    """The second click finds the first one's job; its answer says what was taken out; afterwards
    there is nobody to erase.
    """
    context, keeper, known = guild
    number = queue_erasure(context, known["G-0002"], "herself", "asked for it", keeper)
    assert queue_erasure(context, known["G-0002"], "him", "asked again", keeper) == number
    other = queue_erasure(context, known["G-0003"], "his office", "moved away", keeper)
    assert other != number
    assert run_one(context, "a worker")
    assert run_one(context, "a worker")
    job = job_of(context, number)
    assert (job.state, job.problem) == ("done", "")
    assert (job.answer["counts"]["files"], job.answer["counts"]["rows"]) == (2, 2)
    assert numbers(context).keys() == {"G-0000", "G-0001", "G-0004", "G-0005"}
    assert how_erased(context, known["G-0002"])[0].asked_by == "herself"
    with pytest.raises(Erased):
        queue_erasure(context, known["G-0002"], "herself", "asked for it", keeper)


def test_a_worker_that_went_away_after_it_was_done(guild):
    """Its lease runs out, another finds it done and says so."""
    context, keeper, known = guild
    number = queue_erasure(context, known["G-0001"], "himself", "asked for it", keeper)
    erase(context, known["G-0001"], "himself", "asked for it", keeper)
    assert run_one(context, "another")
    assert job_of(context, number).state == "done"
    assert job_of(context, number).answer["counts"]["rows"] == 2


def test_what_stands_in_its_way(guild):
    """Who is not there, must stay, or was asked for by nobody is refused at once; who must stay
    since it was asked for is not erased, and the job says why.
    """
    context, keeper, known = guild
    with pytest.raises(NoSuchRecord):
        queue_erasure(context, 999_999, "herself", "asked for it", keeper)
    with pytest.raises(WrongErasure):
        queue_erasure(context, known["G-0004"], " ", "asked for it", keeper)
    number = queue_erasure(context, known["G-0004"], "herself", "asked for it", keeper)
    hold_back(context, known["G-0004"], "a court asked for it", keeper)
    with pytest.raises(HeldBack):
        queue_erasure(context, known["G-0004"], "herself", "asked for it", keeper)
    assert run_one(context, "a worker")
    job = job_of(context, number)
    assert job.state == "failed"
    assert "a court asked for it" in job.problem
    assert "G-0004" in numbers(context)
