"""Proposals: what somebody wants done to a roster, until a second person approves."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.states import PROPOSAL_CHANGES, ProposalState, before
from nevefield.store.parts import find_part
from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "NewProposal",
    "Proposal",
    "decide_proposal",
    "finish_proposal",
    "get_proposal",
    "get_proposal_of",
    "insert_proposal",
    "list_proposals",
    "reopen_proposal",
    "replace_open",
]

_COLUMNS = (
    "p.id, p.roster_id, p.intake_id, p.act, p.digest, p.title, p.why, p.counts, p.state,"
    " p.account_id, p.at, p.decided_by, p.decided_at, p.reason, p.change_set_id, p.part_id,"
    " COALESCE(a.name, ''), COALESCE(d.name, '')"
)
MOST = 500  # listed at once
_FROM = (
    " FROM proposal p LEFT JOIN account a ON a.id = p.account_id LEFT JOIN account d ON d.id ="
    " p.decided_by"
)


@dataclass(frozen=True)
class Proposal:
    """What somebody wants done, and what became of it."""

    id: int
    roster_id: int
    intake_id: int | None
    act: dict[str, Any]
    digest: str
    title: str
    why: str
    counts: dict[str, int]
    state: ProposalState
    account_id: int | None
    at: datetime
    decided_by: int | None
    decided_at: datetime | None
    reason: str
    change_set_id: int | None
    part_id: int | None
    by: str
    decider: str


@dataclass(frozen=True)
class NewProposal:
    """What is to be kept of a new proposal."""

    roster_id: int
    intake_id: int | None
    act: dict[str, Any]
    digest: str
    title: str
    why: str
    counts: dict[str, int]
    account_id: int | None
    at: datetime


def insert_proposal(connection: Connection, new: NewProposal) -> int:
    """Add an open proposal, within the part of its roster that what it is about is of, and return
    its number.
    """
    part_id = find_part(
        connection,
        new.roster_id,
        intake_id=new.intake_id,
        change_set_id=new.act.get("change_set"),
    )
    return connection.insert(
        "INSERT INTO proposal (roster_id, intake_id, act, digest, title, why, counts, account_id,"
        " at, part_id)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            new.roster_id,
            new.intake_id,
            json.dumps(new.act),
            new.digest,
            new.title[:200],
            new.why[:1000],
            json.dumps(new.counts),
            new.account_id,
            new.at,
            part_id,
        ),
    )


def get_proposal(connection: Connection, proposal_id: int) -> Proposal | None:
    """Find a proposal."""
    row = connection.row(f"SELECT {_COLUMNS}{_FROM} WHERE p.id = %s", (proposal_id,))
    return only_seen(connection.sight, _proposal(row) if row else None)


def get_proposal_of(connection: Connection, intake_id: int) -> Proposal | None:
    """Find the last proposal of an intake's plan that was not replaced or withdrawn."""
    row = connection.row(
        f"SELECT {_COLUMNS}{_FROM}"
        " WHERE p.intake_id = %s AND p.state NOT IN ('replaced', 'withdrawn')"
        " ORDER BY p.id DESC"
        " LIMIT 1",
        (intake_id,),
    )
    return only_seen(connection.sight, _proposal(row) if row else None)


def list_proposals(connection: Connection) -> list[Proposal]:
    """List the open proposals, the oldest first."""
    seen, values = connection.sight.where("p.roster_id", "p.part_id")
    rows = connection.rows(
        f"SELECT {_COLUMNS}{_FROM} WHERE p.state = 'open' AND {seen} ORDER BY p.id LIMIT {MOST}",
        values,
    )
    return [_proposal(row) for row in rows]


def replace_open(connection: Connection, intake_id: int) -> None:
    """Let a new proposal take the place of an intake's open ones."""
    allowed = before(PROPOSAL_CHANGES, ProposalState.REPLACED)
    connection.run(
        "UPDATE proposal SET state = 'replaced' WHERE intake_id = %s AND state IN %s",
        (intake_id, allowed),
    )


def decide_proposal(
    connection: Connection,
    proposal_id: int,
    state: ProposalState,
    account_id: int | None,
    reason: str,
    at: datetime,
) -> bool:
    """Decide an open proposal; tell whether it still was open."""
    allowed = before(PROPOSAL_CHANGES, state)
    done = connection.run(
        "UPDATE proposal"
        " SET state = %s, decided_by = %s, decided_at = %s, reason = %s"
        " WHERE id = %s AND state IN %s",
        (state, account_id, at, reason[:1000], proposal_id, allowed),
    )
    return done == 1


def finish_proposal(connection: Connection, proposal_id: int, change_set_id: int) -> bool:
    """Say as which change set an approved proposal was done; tell whether it was approved and not
    done yet.
    """
    allowed = before(PROPOSAL_CHANGES, ProposalState.DONE)
    done = connection.run(
        "UPDATE proposal SET state = 'done', change_set_id = %s WHERE id = %s AND state IN %s",
        (change_set_id, proposal_id, allowed),
    )
    return done == 1


def reopen_proposal(connection: Connection, proposal_id: int) -> None:
    """Open an approved proposal again, which could not be done."""
    allowed = before(PROPOSAL_CHANGES, ProposalState.OPEN)
    connection.run(
        "UPDATE proposal"
        " SET state = 'open', decided_by = NULL, decided_at = NULL"
        " WHERE id = %s AND state IN %s",
        (proposal_id, allowed),
    )


def _proposal(row: tuple[Any, ...]) -> Proposal:
    values = list(row)
    values[8] = ProposalState(values[8])
    values[3], values[7] = json.loads(values[3]), json.loads(values[7])
    return Proposal(*values)
