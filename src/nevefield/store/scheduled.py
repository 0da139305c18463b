"""What is put off to a day."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.states import SCHEDULED_CHANGES, ScheduledState, before
from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import date, datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Ahead",
    "NewScheduled",
    "Scheduled",
    "call_off",
    "claim_due",
    "finish_scheduled",
    "get_scheduled",
    "get_scheduled_of",
    "insert_scheduled",
    "list_acts",
    "list_ahead",
    "list_scheduled",
    "lock_scheduled",
    "set_state",
]

_COLUMNS = (
    "s.id, s.roster_id, s.intake_id, s.steps, s.day, s.digest, s.title, s.counts, s.state,"
    " s.proposal_id, s.account_id, s.at, s.reason, s.change_set_id, i.part_id, COALESCE(a.name, '')"
)
MOST = 500  # listed at once
_FROM = (
    " FROM scheduled s JOIN intake i ON i.id = s.intake_id"
    " LEFT JOIN account a ON a.id = s.account_id"
)


@dataclass(frozen=True)
class Scheduled:
    """An intake's plan that is put off to a day."""

    id: int
    roster_id: int
    intake_id: int
    steps: int
    day: date
    digest: str
    title: str
    counts: dict[str, int]
    state: ScheduledState
    proposal_id: int | None
    account_id: int | None
    at: datetime
    reason: str
    change_set_id: int | None
    part_id: int | None  # of the roster, within which its intake is
    by: str


@dataclass(frozen=True)
class Ahead:
    """What is put off for one record."""

    scheduled: int
    intake: int
    day: date
    title: str
    by: str
    fields: dict[str, list[Any]] | None  # None: it leaves


@dataclass(frozen=True)
class NewScheduled:
    """What is to be kept of a plan that is put off."""

    roster_id: int
    intake_id: int
    steps: int
    day: date
    digest: str
    title: str
    counts: dict[str, int]
    proposal_id: int | None
    account_id: int | None
    at: datetime


def insert_scheduled(
    connection: Connection,
    new: NewScheduled,
    acts: Sequence[tuple[int | None, dict[str, list[Any]] | None]],
) -> int:
    """Put an intake's plan off; it takes the place of what was put off of it before.

    Args:
        connection: Inside a transaction.
        new: The plan.
        acts: What it does: the record, and by field what it had and what it becomes; None where it
            leaves.

    Returns:
        Its number.
    """
    call_off(connection, new.intake_id, "Another took its place.", None)
    number = connection.insert(
        "INSERT INTO scheduled (roster_id, intake_id, steps, day, digest, title, counts,"
        " proposal_id, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            new.roster_id,
            new.intake_id,
            new.steps,
            new.day,
            new.digest,
            new.title[:200],
            json.dumps(new.counts),
            new.proposal_id,
            new.account_id,
            new.at,
        ),
    )
    connection.run_many(
        "INSERT INTO scheduled_act (scheduled_id, place, record_id, fields)"
        " VALUES (%s, %s, %s, %s)",
        [
            (
                number,
                place,
                record,
                None if fields is None else json.dumps(fields, ensure_ascii=False),
            )
            for place, (record, fields) in enumerate(acts)
        ],
    )
    return number


def get_scheduled(connection: Connection, scheduled_id: int) -> Scheduled | None:
    """Find what is put off by its number."""
    row = connection.row(f"SELECT {_COLUMNS}{_FROM} WHERE s.id = %s", (scheduled_id,))
    return only_seen(connection.sight, _scheduled(row) if row else None)


def get_scheduled_of(connection: Connection, intake_id: int) -> Scheduled | None:
    """Find what was put off of an intake last and not called off since."""
    row = connection.row(
        f"SELECT {_COLUMNS}{_FROM}"
        " WHERE s.intake_id = %s AND s.state <> 'called_off'"
        " ORDER BY s.id DESC"
        " LIMIT 1",
        (intake_id,),
    )
    return only_seen(connection.sight, _scheduled(row) if row else None)


def list_scheduled(connection: Connection, *, titled: str | None = None) -> list[Scheduled]:
    """List what waits for its day, and what could not be done on it, the next day first; with a
    certain title, or all.
    """
    seen, values = connection.sight.where("s.roster_id", "i.part_id")
    rows = connection.rows(
        f"SELECT {_COLUMNS}{_FROM}"
        f" WHERE s.state IN ('waiting', 'due', 'stopped') AND {seen} AND (%s IS NULL"
        " OR s.title = %s)"
        " ORDER BY s.day, s.id"
        f" LIMIT {MOST}",
        (*values, titled, titled),
    )
    return [_scheduled(row) for row in rows]


def lock_scheduled(connection: Connection, scheduled_id: int) -> ScheduledState | None:
    """Hold what is put off until the transaction ends, and return its state."""
    row = connection.row("SELECT state FROM scheduled WHERE id = %s FOR UPDATE", (scheduled_id,))
    return ScheduledState(row[0]) if row else None


def claim_due(connection: Connection, day: date) -> list[Scheduled]:
    """Claim what waits for a day or an earlier one: nobody else claims it too."""
    rows = connection.rows(
        f"SELECT {_COLUMNS}{_FROM}"
        " WHERE s.state = 'waiting' AND s.day <= %s"
        " ORDER BY s.day, s.id"
        " FOR UPDATE SKIP LOCKED",
        (day,),
    )
    scheduleds = [_scheduled(row) for row in rows]
    for scheduled in scheduleds:
        set_state(connection, scheduled.id, ScheduledState.DUE)
    return scheduleds


def set_state(
    connection: Connection, scheduled_id: int, state: ScheduledState, reason: str = ""
) -> bool:
    """Say how it stands with what is put off; tell whether it was in a state that may become
    this one.
    """
    allowed = before(SCHEDULED_CHANGES, state)
    done = connection.run(
        "UPDATE scheduled SET state = %s, reason = %s WHERE id = %s AND state IN %s",
        (state, reason[:1000], scheduled_id, allowed),
    )
    return done == 1


def finish_scheduled(connection: Connection, scheduled_id: int, change_set_id: int) -> bool:
    """Say as which change set it was done; tell whether its day had come and it was not done."""
    if not set_state(connection, scheduled_id, ScheduledState.DONE):
        return False
    connection.run(
        "UPDATE scheduled SET change_set_id = %s WHERE id = %s", (change_set_id, scheduled_id)
    )
    return True


def call_off(connection: Connection, intake_id: int, reason: str, account_id: int | None) -> int:
    """Call off what waits of an intake, or could not be done; return how many."""
    allowed = before(SCHEDULED_CHANGES, ScheduledState.CALLED_OFF)
    return connection.run(
        "UPDATE scheduled"
        " SET state = 'called_off', reason = %s, ended_by = %s"
        " WHERE intake_id = %s AND state IN %s",
        (reason[:1000], account_id, intake_id, allowed),
    )


def list_acts(
    connection: Connection, roster_id: int, day: date
) -> list[tuple[int | None, dict[str, list[Any]] | None]]:
    """List what waits for a day or an earlier one in a roster, in the order in which it will be
    done: record, fields.
    """
    rows = connection.rows(
        "SELECT t.record_id, t.fields"
        " FROM scheduled_act t"
        " JOIN scheduled s ON s.id = t.scheduled_id"
        " WHERE s.roster_id = %s AND s.state IN ('waiting', 'due') AND s.day <= %s"
        " ORDER BY s.day, s.id, t.place",
        (roster_id, day),
    )
    return [(record, None if fields is None else json.loads(fields)) for record, fields in rows]


def list_ahead(connection: Connection, record_id: int) -> list[Ahead]:
    """List what waits for one record, the next day first."""
    rows = connection.rows(
        f"SELECT s.id, s.intake_id, s.day, s.title, COALESCE(a.name, ''), t.fields{_FROM}"
        " JOIN scheduled_act t ON t.scheduled_id = s.id"
        " WHERE t.record_id = %s AND s.state IN ('waiting', 'due')"
        " ORDER BY s.day, s.id",
        (record_id,),
    )
    return [
        Ahead(number, intake, day, title, by, None if fields is None else json.loads(fields))
        for number, intake, day, title, by, fields in rows
    ]


def _scheduled(row: tuple[Any, ...]) -> Scheduled:
    values = list(row)
    values[8] = ScheduledState(values[8])
    values[7] = json.loads(values[7])
    return Scheduled(*values)
