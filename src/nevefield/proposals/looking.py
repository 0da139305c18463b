"""What waits: for a second person, or for its day; each with its roster, and whether it still is
what it was.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.states import ProposalState, ScheduledState
from nevefield.rosters.errors import NoSuchProposal
from nevefield.store import intakes as intake_store
from nevefield.store import proposals as store
from nevefield.store import rosters as roster_store
from nevefield.store import scheduled as scheduled_store

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = [
    "Proposed",
    "Waiting",
    "list_proposed",
    "list_waiting",
    "look_at_intake",
    "look_at_proposal",
    "look_at_scheduled",
    "open_proposal",
]


@dataclass(frozen=True)
class Proposed:
    """A proposal, and the roster that it is about."""

    proposal: store.Proposal
    roster: roster_store.Roster | None
    is_stale: bool  # what it is about was worked on since


@dataclass(frozen=True)
class Waiting:
    """What was put off to a day, and the roster that it is about."""

    scheduled: scheduled_store.Scheduled
    roster: roster_store.Roster | None
    is_stale: bool


def list_proposed(context: Context) -> list[Proposed]:
    """List what waits for a second person, the oldest first."""
    with context.database.transaction() as connection:
        return [
            look_at_proposal(connection, proposal) for proposal in store.list_proposals(connection)
        ]


def open_proposal(context: Context, proposal_id: int) -> Proposed:
    """Open a proposal.

    Raises:
        NoSuchProposal: There is none.
    """
    with context.database.transaction() as connection:
        proposal = store.get_proposal(connection, proposal_id)
        if proposal is None:
            raise NoSuchProposal(proposal_id)
        return look_at_proposal(connection, proposal)


def list_waiting(context: Context) -> list[Waiting]:
    """List what waits for its day, and what could not be done on it."""
    with context.database.transaction() as connection:
        listed = scheduled_store.list_scheduled(connection)
        return [look_at_scheduled(connection, scheduled) for scheduled in listed]


def look_at_intake(context: Context, intake_id: int) -> tuple[Proposed | None, Waiting | None]:
    """Look at what is proposed of an intake, and at what of it waits for its day or could not be
    done on it.
    """
    with context.database.transaction() as connection:
        proposal = store.get_proposal_of(connection, intake_id)
        scheduled = scheduled_store.get_scheduled_of(connection, intake_id)
        waits = scheduled is not None and scheduled.state != ScheduledState.DONE
        return (
            look_at_proposal(connection, proposal) if proposal else None,
            look_at_scheduled(connection, scheduled) if scheduled and waits else None,
        )


def look_at_proposal(connection: Connection, proposal: store.Proposal) -> Proposed:
    """Look at a proposal in a transaction that is open."""
    roster = roster_store.get_roster_by_id(connection, proposal.roster_id)
    number = proposal.intake_id
    intake = intake_store.get_intake(connection, number) if number else None
    if proposal.act["kind"] == "definition":
        moved = roster is not None and roster.definition != proposal.act["seen"]
    else:
        moved = intake is not None and intake.steps != proposal.act["steps"]
    return Proposed(proposal, roster, proposal.state == ProposalState.OPEN and moved)


def look_at_scheduled(connection: Connection, scheduled: scheduled_store.Scheduled) -> Waiting:
    """Look at what waits for its day in a transaction that is open."""
    roster = roster_store.get_roster_by_id(connection, scheduled.roster_id)
    intake = intake_store.get_intake(connection, scheduled.intake_id)
    moved = intake is not None and intake.steps != scheduled.steps
    return Waiting(scheduled, roster, scheduled.state == ScheduledState.WAITING and moved)
