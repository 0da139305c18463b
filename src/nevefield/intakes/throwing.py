"""Throw an intake away: a file that was dropped by mistake. The trail keeps that it was there,
and it can be taken back.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.states import JobKind, ProposalState, ScheduledState
from nevefield.intakes.errors import NoSuchIntake, NotThrown
from nevefield.store import intakes as store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store.audit import insert_audit
from nevefield.store.proposals import get_proposal_of
from nevefield.store.scheduled import get_scheduled_of

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = ["throw_away"]


def throw_away(
    context: Context, intake_id: int, account_id: int | None, *, back: bool = False
) -> None:
    """Throw an intake away, or take it back.

    Args:
        context: Database and clock.
        intake_id: Which.
        account_id: Who.
        back: Take it back.

    Raises:
        NoSuchIntake: There is none.
        NotThrown: It was applied, is being applied, is proposed or put off.
    """
    with context.database.transaction() as connection:
        store.lock_intake(connection, intake_id)
        intake = store.get_intake(connection, intake_id)
        if intake is None:
            raise NoSuchIntake(intake_id)
        if (intake.thrown_at is None) == back:
            return
        if not back and (why := _why_not(connection, intake_id)):
            raise NotThrown(why)
        at = context.now()
        store.set_thrown(connection, intake_id, None if back else at, None if back else account_id)
        act = "intake-taken-back" if back else "intake-thrown-away"
        insert_audit(
            connection, act, intake.title, account_id, at, intake=intake_id, file=intake.file_name
        )


def _why_not(connection: Connection, intake_id: int) -> str:
    """Say why an intake must stay; "" when nothing keeps it."""
    if (standing := record_store.get_standing(connection, intake_id)) is not None:
        return f"it is in the roster with receipt {standing.id}; take that back first"
    if any(
        job.arguments["intake"] == intake_id
        for job in job_store.list_running(connection, JobKind.APPLY)
    ):
        return "it is being applied"
    proposal = get_proposal_of(connection, intake_id)
    if proposal is not None and proposal.state in (ProposalState.OPEN, ProposalState.APPROVED):
        return "it is proposed to a second person; withdraw that first"
    waiting = get_scheduled_of(connection, intake_id)
    if waiting is not None and waiting.state in (ScheduledState.WAITING, ScheduledState.DUE):
        return "it waits for its day; call that off first"
    return ""
