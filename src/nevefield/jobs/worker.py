"""A worker: claims jobs, runs them, renews its lease, and says how far it is."""

from __future__ import annotations

import os
import signal
import threading
import time
import uuid
from contextlib import contextmanager, suppress
from datetime import timedelta
from typing import TYPE_CHECKING, Any

import structlog

from nevefield.asked.proposing import take_in_due as take_in_proposed
from nevefield.core.errors import CoreError
from nevefield.core.states import JobKind, ScheduledState
from nevefield.destinations.errors import DestinationError
from nevefield.intakes.applying import apply_agreed, apply_intake, apply_scheduled
from nevefield.intakes.errors import IntakeError
from nevefield.keeping.erasing import erase_queued
from nevefield.keeping.errors import KeepingError
from nevefield.letters.taking import take_in_due as take_in_answers
from nevefield.mailing.sending import keep_sending
from nevefield.passing_on.errors import PassingError
from nevefield.passing_on.laying import lay_due
from nevefield.passing_on.sending import do_job
from nevefield.passing_on.sending import queue_due as queue_telling
from nevefield.proposals.ending import end_later
from nevefield.proposals.scheduling import queue_due
from nevefield.rosters.errors import RosterError, RosterMoved
from nevefield.setup.trailing import seal_trail
from nevefield.setup.unforeseen import note
from nevefield.store import jobs as store
from nevefield.store.again import do_again
from nevefield.store.connection import Database
from nevefield.store.errors import DatabaseGone, StoreError
from nevefield.store.parts import get_part
from nevefield.store.proposals import reopen_proposal
from nevefield.store.records import get_change_set_of
from nevefield.store.scheduled import set_state
from nevefield.submissions.errors import SubmissionError
from nevefield.submissions.sending import advance, queue_rounds
from nevefield.timing import JOBS

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = ["run_one", "work"]

PAUSE_SECONDS = 0.2
DAY_SECONDS = 20.0  # between looks at what waits for its day
LAST_SECONDS = 8.0  # that a mail has which is just being handed over
TELL_SECONDS = 2.0  # between looks at which destinations are to be told
# seconds before a job is run again that met others writing the same, or lost its node
REPEATS = (0.1, 0.4, 1.6, 3.2)
BROKEN_OFF = (
    "The work was broken off before it was done, so nothing was changed. It can be started again."
)
_log = structlog.get_logger()


def work(context: Context) -> None:
    """Work until a signal says stop."""
    stop = threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: stop.set())
    worker = f"{os.getpid()}-{uuid.uuid4().hex[:12]}"
    parent = os.getppid()
    looked = told = -DAY_SECONDS
    sender = threading.Thread(target=keep_sending, args=(context, stop), daemon=True)
    sender.start()
    # without the one who started it, nobody would stop it
    while not stop.is_set() and os.getppid() == parent:
        try:
            if time.monotonic() - looked >= DAY_SECONDS:
                looked = time.monotonic()
                queue_due(context)
                seal_trail(context)
            queue_rounds(context)
            if time.monotonic() - told >= TELL_SECONDS:
                told = time.monotonic()
                queue_telling(context)
                lay_due(context)
                take_in_proposed(context)
                take_in_answers(context)
            if not run_one(context, worker):
                stop.wait(PAUSE_SECONDS)
        except StoreError as error:
            _log.warning("database", problem=str(error))
            stop.wait(1)
        except Exception as error:  # beside the jobs: what is due, the rounds; the worker goes on
            note(context, "worker", error)
            stop.wait(1)
    stop.set()
    sender.join(LAST_SECONDS)  # of a mail that is cut off nobody knows whether it went


def run_one(context: Context, worker: str) -> bool:
    """Claim one job and run it.

    Returns:
        Whether there was one.
    """
    lease = timedelta(seconds=context.settings.lease_seconds)
    claimed = store.claim_job(context.database, worker, context.now(), context.now() + lease)
    if claimed is None:
        return False
    job, was_begun = claimed
    if was_begun and job.kind == JobKind.APPLY:
        # Its worker is gone, and with it the transaction. Whoever asked decides whether to ask
        # again.
        answer = _done_before(context, job)
        _finish(context, job, worker, answer, "" if answer else BROKEN_OFF, again=True)
        return True
    done = threading.Event()
    renewing = threading.Thread(target=_renew, args=(context, job.id, worker, done), daemon=True)
    renewing.start()
    try:
        # Every kind of job may be run twice: of what was lost nothing was kept, or it is found to
        # be done.
        with JOBS.labels(job.kind).time():
            answer = do_again(lambda: _run(context, job), pauses=REPEATS)
        _finish(context, job, worker, answer, "")
    except DatabaseGone as error:
        # Its lease runs out, and then it is done again, or found to be done.
        _log.warning("database", job=job.id, kind=job.kind, problem=str(error))
    except (
        CoreError,
        DestinationError,
        IntakeError,
        KeepingError,
        PassingError,
        RosterError,
        StoreError,
        SubmissionError,
    ) as error:
        _finish(
            context,
            job,
            worker,
            None,
            str(error),
            again=isinstance(error, (RosterMoved, StoreError)),
        )
    except Exception as error:
        mark = note(context, f"job: {job.kind}", error)
        _finish(
            context,
            job,
            worker,
            None,
            "Something went wrong that we did not foresee, so nothing was changed. It stands in"
            f" the log as {mark}.",
        )
    finally:
        done.set()
        renewing.join()
    return True


def _done_before(context: Context, job: store.Job) -> dict[str, Any] | None:
    """Find what an apply has done whose worker, or whose database node, went away before anybody
    was told.
    """
    with context.database.transaction() as connection:
        change_set = get_change_set_of(connection, job.arguments["intake"], job.arguments["steps"])
    return {"change_set": change_set.id} if change_set else None


def _run(context: Context, job: store.Job) -> dict[str, Any]:
    if job.kind not in RUNNERS:
        raise CoreError(
            f"Nobody here knows how to do “{job.kind}”; a newer worker may. Nothing was changed."
        )
    with context.database.transaction() as connection:
        part = get_part(connection, job.part_id)
    within = context if part is None else context.within({job.roster_id: part})
    return RUNNERS[JobKind(job.kind)](within, job)


def _end(context: Context, job: store.Job) -> dict[str, Any]:
    return end_later(context, job.roster_id, job.arguments, job.account_id)


def _advance_round(context: Context, job: store.Job) -> dict[str, Any]:
    return {"state": advance(context, job.arguments["round"])}


def _erase(context: Context, job: store.Job) -> dict[str, Any]:
    with _saying(context, job) as progress:
        return erase_queued(context, job.arguments, job.account_id, progress)


def _tell(context: Context, job: store.Job) -> dict[str, Any]:
    with _saying(context, job) as progress:
        return do_job(context, job.arguments, job.id, job.account_id, progress)


@contextmanager
def _saying(context: Context, job: store.Job) -> Iterator[Callable[[str, int, int], None]]:
    """Give what writes down how far a job is."""
    said = [0.0]
    # progress is seen by others before the work commits
    own = Database(context.settings.database_url)

    def progress(doing: str, done: int, total: int) -> None:
        if done not in (0, total) and time.monotonic() - said[0] < 0.2:
            return
        said[0] = time.monotonic()
        # the work does not stand or fall by it
        with suppress(StoreError), own.transaction() as connection:
            store.set_progress(connection, job.id, doing, done, total)

    try:
        yield progress
    finally:
        own.close()


def _apply(context: Context, job: store.Job) -> dict[str, Any]:
    arguments = job.arguments
    with _saying(context, job) as progress:
        intake, steps = arguments["intake"], arguments["steps"]
        if number := arguments.get("scheduled"):
            change_set = apply_scheduled(context, intake, steps, job.account_id, number, progress)
        elif number := arguments.get("proposal"):
            change_set = apply_agreed(
                context, intake, steps, arguments["version"], job.account_id, number, progress
            )
        else:
            change_set = apply_intake(
                context, intake, steps, arguments["version"], job.account_id, progress
            )
        return {"change_set": change_set}


# By kind of job, what does it.
RUNNERS: dict[JobKind, Callable[[Context, store.Job], dict[str, Any]]] = {
    JobKind.APPLY: _apply,
    JobKind.END: _end,
    JobKind.ROUND: _advance_round,
    JobKind.ERASE: _erase,
    JobKind.TELL: _tell,
}
if missing := set(JobKind) - set(RUNNERS):
    raise NotImplementedError(f"Nothing runs jobs of the kinds {', '.join(sorted(missing))}.")


def _renew(context: Context, job_id: int, worker: str, done: threading.Event) -> None:
    own = Database(context.settings.database_url)
    lease = timedelta(seconds=context.settings.lease_seconds)
    while not done.wait(context.settings.lease_seconds / 4):
        with suppress(StoreError):  # the work itself will find the database gone
            own.again(
                lambda connection: store.renew_lease(
                    connection, job_id, worker, context.now() + lease
                )
            )
    own.close()


def _finish(
    context: Context,
    job: store.Job,
    worker: str,
    answer: dict[str, Any] | None,
    problem: str,
    *,
    again: bool = False,
) -> None:
    def finish(connection: Connection) -> None:
        if not store.finish_job(connection, job.id, worker, answer, problem):
            return  # its lease ran out, and somebody else has it
        if problem and job.arguments.get("proposal"):
            reopen_proposal(connection, job.arguments["proposal"])  # it was approved, and not done
        if problem and job.arguments.get("scheduled"):
            # What was broken off is tried again; what cannot be done waits on the desk for
            # somebody.
            set_state(
                connection,
                job.arguments["scheduled"],
                ScheduledState.WAITING if again else ScheduledState.STOPPED,
                "" if again else problem,
            )

    context.database.again(finish)
