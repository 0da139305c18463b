"""The queue: a job is claimed by a conditional UPDATE with a lease, which holds on a cluster
too.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.states import JOB_CHANGES, JobKind, JobState, before
from nevefield.store.errors import Contended
from nevefield.store.parts import find_part
from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection, Database

__all__ = [
    "Job",
    "claim_job",
    "finish_job",
    "get_job",
    "insert_job",
    "list_running",
    "renew_lease",
    "set_progress",
]

_COLUMNS = (
    "id, kind, roster_id, arguments, state, done, total, doing, answer, problem, account_id, at,"
    " part_id"
)


@dataclass(frozen=True)
class Job:
    """Long work, its progress and its answer."""

    id: int
    kind: str  # a newer worker may know more than `JobKind` does
    roster_id: int
    arguments: dict[str, Any]
    state: JobState
    done: int
    total: int
    doing: str
    answer: dict[str, Any] | None
    problem: str
    account_id: int | None
    at: datetime
    part_id: int | None = None  # of the roster, within which it is


def insert_job(
    connection: Connection,
    kind: JobKind,
    roster_id: int,
    arguments: dict[str, Any],
    account_id: int | None,
    at: datetime,
) -> int:
    """Queue a job, within the part of its roster that its intake or change set is of, or that
    whoever asks has, and return its number.
    """
    part_id = find_part(
        connection,
        roster_id,
        intake_id=arguments.get("intake"),
        change_set_id=arguments.get("change_set"),
    )
    return connection.insert(
        "INSERT INTO job (kind, roster_id, arguments, account_id, at, part_id)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        (kind, roster_id, json.dumps(arguments), account_id, at, part_id),
    )


def get_job(connection: Connection, job_id: int) -> Job | None:
    """Find a job."""
    row = connection.row(f"SELECT {_COLUMNS} FROM job WHERE id = %s", (job_id,))  # noqa: S608
    return only_seen(connection.sight, _job(row) if row else None)


def list_running(connection: Connection, kind: JobKind) -> list[Job]:
    """List the jobs of a kind that wait or run."""
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM job WHERE kind = %s AND state IN ('queued', 'running')",  # noqa: S608
        (kind,),
    )
    seen = connection.sight.shows
    return [job for job in map(_job, rows) if seen(job.roster_id, job.part_id)]


def claim_job(
    database: Database, worker: str, now: datetime, lease_until: datetime
) -> tuple[Job, bool] | None:
    """Claim a waiting job, or one whose worker has gone.

    Returns:
        The job and whether another worker had begun it; None when there is nothing to do or
        somebody else was faster.
    """
    try:
        with database.transaction() as connection:
            row = connection.row(
                "SELECT id, state"
                " FROM job"
                " WHERE state = 'queued' OR (state = 'running' AND lease_until < %s)"
                " ORDER BY id"
                " LIMIT 1",
                (now,),
            )
            if row is None:
                return None
            job_id, state = row
            claimed = connection.run(
                "UPDATE job"
                " SET state = 'running', worker = %s, lease_until = %s"
                " WHERE id = %s AND (state = 'queued' OR (state = 'running'"
                " AND lease_until < %s))",
                (worker, lease_until, job_id, now),
            )
            if claimed != 1:
                return None
            job = get_job(connection, job_id)
        return (job, state == JobState.RUNNING) if job else None
    except Contended:
        return None


def renew_lease(connection: Connection, job_id: int, worker: str, lease_until: datetime) -> bool:
    """Keep a job for longer; False when it is another's by now."""
    return (
        connection.run(
            "UPDATE job SET lease_until = %s WHERE id = %s AND worker = %s AND state = 'running'",
            (lease_until, job_id, worker),
        )
        == 1
    )


def set_progress(connection: Connection, job_id: int, doing: str, done: int, total: int) -> None:
    """Say how far a job is."""
    connection.run(
        "UPDATE job SET doing = %s, done = %s, total = %s WHERE id = %s",
        (doing, done, total, job_id),
    )


def finish_job(
    connection: Connection, job_id: int, worker: str, answer: dict[str, Any] | None, problem: str
) -> bool:
    """End a job with its answer or its problem; False when it is another's by now."""
    state = JobState.FAILED if problem else JobState.DONE
    allowed = before(JOB_CHANGES, state)
    ended = connection.run(
        "UPDATE job"
        " SET state = %s, answer = %s, problem = %s, lease_until = NULL"
        " WHERE id = %s AND worker = %s AND state IN %s",
        (
            state,
            json.dumps(answer) if answer is not None else None,
            problem[:1000],
            job_id,
            worker,
            allowed,
        ),
    )
    return ended == 1


def _job(row: tuple[Any, ...]) -> Job:
    values = list(row)
    values[4] = JobState(values[4])
    values[3] = json.loads(values[3])
    values[8] = json.loads(values[8]) if values[8] else None
    return Job(*values)
