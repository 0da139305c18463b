"""See that a plan is what was looked at, that it does something, and who has to approve it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.changes.guards import guards_of
from nevefield.core.states import ProposalState
from nevefield.intakes.errors import NeedsNumber, NeedsWaiver, NothingToApply, NotThrown, OutOfDate
from nevefield.intakes.evaluating import Opened
from nevefield.intakes.moving import does_the_same
from nevefield.rosters.errors import (
    NotApproved,
    RosterMoved,
)
from nevefield.store.proposals import get_proposal

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation
    from nevefield.store.connection import Connection

__all__ = ["altered_by", "raised_by", "require_approved", "require_fit", "require_same", "waits_of"]


def require_fit(
    context: Context, opened: Opened, steps: int, roster_version: int, typed: int | None
) -> None:
    """See that an intake's plan does what was looked at, that this is something, and that it is
    meant.

    Raises:
        OutOfDate, RosterMoved, NothingToApply, NeedsWaiver, NeedsNumber: When not.
    """
    require_same(context, opened, steps, roster_version)
    number = opened.evaluation.altering
    if not number:
        raise NothingToApply
    if typed != number and (messages := guards_of(opened.evaluation)):
        raise NeedsNumber(messages, number)


def require_same(context: Context, opened: Opened, steps: int, version: int | None) -> None:
    if opened.intake.thrown_at is not None:
        raise NotThrown("this file was thrown away; take it back first")
    if len(opened.steps) != steps:
        raise OutOfDate(steps, len(opened.steps))
    moved = version is not None and opened.roster.version != version
    if version is not None and moved and not does_the_same(context, opened.intake.id, version):
        raise RosterMoved(version, opened.roster.version)
    if whole := waits_of(opened.evaluation):
        raise NeedsWaiver([cause.hit.title for cause in whole])


def waits_of(evaluation: Evaluation) -> list[Cause]:
    """List what about groups and the whole file is not settled: nothing is applied before."""
    return [
        cause
        for cause in evaluation.causes
        if cause.hit.whole and cause.is_open and cause.hit.weight != "note"
    ]


def raised_by(evaluation: Evaluation) -> int:
    """Count the rows that go in with a privilege above the lowest that their record did not
    have.
    """
    rows = [cause.hit.rows for cause in evaluation.causes if cause.hit.check == "raised"]
    going = np.unique(np.concatenate(rows)) if rows else np.zeros(0, np.intp)
    return int(evaluation.going[going].sum())


def altered_by(evaluation: Evaluation) -> dict[str, int]:
    """Count what applying would do to the roster."""
    absences = evaluation.absences.counts()
    tally = evaluation.ready
    ended = absences["end"] + len(evaluation.absences.beside)
    return {
        "joined": tally.new,
        "changed": tally.changed,
        "ended": ended,
        "left": absences["leave"],
    }


def require_approved(connection: Connection, proposal_id: int, digest: str) -> None:
    """See, inside the transaction that does it, that a second account has approved exactly this.

    Raises:
        NotApproved: It has not.
    """
    proposal = get_proposal(connection, proposal_id)
    if (
        proposal is None
        or proposal.state != ProposalState.APPROVED
        or proposal.decided_by == proposal.account_id
    ):
        raise NotApproved("Nobody else has approved this. Nothing was changed.")
    if proposal.digest != digest:
        raise NotApproved(
            "What was approved is not what would be done by now. Nothing was changed; it has to be"
            " proposed again."
        )
