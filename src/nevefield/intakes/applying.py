"""Apply an intake: the plan that was looked at, in one transaction, with a receipt read back
from the database.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.changes.acts import acts_of, digest_acts
from nevefield.core.changes.ending import find_ends
from nevefield.core.changes.plan import plan_changes
from nevefield.core.keeping import keep_moment
from nevefield.core.states import JobKind, ProposalState, ScheduledState
from nevefield.intakes.errors import NothingToApply
from nevefield.intakes.evaluating import Opened, open_intake
from nevefield.intakes.fitting import raised_by, require_approved, require_fit, require_same
from nevefield.intakes.recording import (
    joined_without_key,
    keep_receipt,
    list_counted,
    number_rows,
    writes_of,
)
from nevefield.rosters.errors import (
    NeedsApproval,
    NoSuchChangeSet,
    NotApproved,
    NotScheduled,
    RosterMoved,
)
from nevefield.rosters.undoing import take_back_records
from nevefield.rosters.writing import alter_roster
from nevefield.store import intakes as store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store.proposals import decide_proposal, finish_proposal, get_proposal
from nevefield.store.records import NewChangeSet
from nevefield.store.scheduled import call_off, finish_scheduled, get_scheduled, lock_scheduled

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.changes.plan import Plan
    from nevefield.core.evaluate import Evaluation
    from nevefield.rosters.undoing import Choice
    from nevefield.store.connection import Connection

__all__ = ["apply_agreed", "apply_intake", "apply_scheduled", "request_apply", "take_back"]

BEFORE_ITS_DAY = "It was applied before its day."
# seconds before it is worked out again on a roster that does not stand still
REPEATS = (0.0, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 3.2)


Progress = Callable[[str, int, int], None]


def quiet(doing: str, done: int, total: int) -> None:
    """Hear how far work is, and say nothing of it."""


def request_apply(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int,
    account_id: int | None,
    typed: int | None = None,
) -> tuple[int, int]:
    """Queue the applying of a plan that somebody looked at.

    Args:
        context: Database and clock.
        intake_id: The intake.
        steps: Its number of steps as looked at.
        roster_version: The roster's version as looked at.
        account_id: Who.
        typed: The number of rows as somebody typed it, where so much changes that it is asked for.

    Returns:
        The job's number, or 0 and the change set's number when exactly this was applied before.

    Raises:
        OutOfDate, RosterMoved, NothingToApply: The plan is another by now, or does nothing.
        NeedsNumber: So much changes that the number must be typed.
        NeedsApproval: A second account has to approve first.
    """
    with context.database.transaction() as connection:
        done = record_store.get_change_set_of(connection, intake_id, steps)
    if done is not None:
        return 0, done.id
    opened = open_intake(context, intake_id)
    require_fit(context, opened, steps, roster_version, typed)
    if why := opened.evaluation.definition.approval.why(
        opened.evaluation.altering, raised_by(opened.evaluation)
    ):
        raise NeedsApproval(why)
    with context.database.transaction() as connection:
        store.lock_intake(connection, intake_id)  # so that two clicks at once queue one job
        for job in job_store.list_running(connection, JobKind.APPLY):
            if job.arguments["intake"] == intake_id:
                return job.id, 0
        arguments = {"intake": intake_id, "steps": steps, "version": roster_version}
        return (
            job_store.insert_job(
                connection, JobKind.APPLY, opened.roster.id, arguments, account_id, context.now()
            ),
            0,
        )


@dataclass(frozen=True)
class _Leave:
    """By what right a plan is applied."""

    version: int | None  # of the roster as it was looked at; None for the one that it has now
    # Sees, inside the transaction, that exactly this may be done, given why a second person would
    # have to approve; returns the proposal that somebody approved.
    grant: Callable[[Connection, Evaluation, Plan, str], int | None]
    # Keeps, inside the transaction, that it was done, as which change set.
    settle: Callable[[Connection, int], None]


def apply_intake(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int,
    account_id: int | None,
    progress: Progress = quiet,
) -> int:
    """Apply an intake now: all of its plan or nothing; doing it twice does nothing the second time.

    Where the roster moved since the plan was looked at, it is worked out again: when it does the
    same to the same records, it is applied to the roster as it is, and the receipt says so.

    Args:
        context: Database and clock.
        intake_id: The intake.
        steps: Its number of steps as looked at.
        roster_version: The roster's version as looked at.
        account_id: Who.
        progress: Hears how far it is.

    Returns:
        The change set's number.

    Raises:
        RosterMoved: It does something else by now, or the roster does not stand still.
        NeedsApproval: A second account has to approve first.
    """

    def grant(connection: Connection, evaluation: Evaluation, plan: Plan, why: str) -> None:
        if why:
            raise NeedsApproval(why)

    def settle(connection: Connection, change_set_id: int) -> None:
        call_off(connection, intake_id, BEFORE_ITS_DAY, account_id)

    leave = _Leave(roster_version, grant, settle)
    return _apply_as(context, intake_id, steps, account_id, progress, leave)


def apply_agreed(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int,
    account_id: int | None,
    proposal_id: int,
    progress: Progress = quiet,
) -> int:
    """Apply what a second account has approved: as `apply_intake`.

    Raises:
        NotApproved: They did not approve this, or somebody decided otherwise meanwhile.
    """

    def grant(connection: Connection, evaluation: Evaluation, plan: Plan, why: str) -> int:
        require_approved(connection, proposal_id, plan.digest(evaluation.snapshot))
        return proposal_id

    def settle(connection: Connection, change_set_id: int) -> None:
        _finish_proposal(connection, proposal_id, change_set_id)
        call_off(connection, intake_id, BEFORE_ITS_DAY, account_id)

    leave = _Leave(roster_version, grant, settle)
    return _apply_as(context, intake_id, steps, account_id, progress, leave)


def apply_scheduled(
    context: Context,
    intake_id: int,
    steps: int,
    account_id: int | None,
    scheduled_id: int,
    progress: Progress = quiet,
) -> int:
    """Apply on its day what was put off to it, on the roster as it is: as `apply_intake`.

    Raises:
        NotScheduled: It was called off, or would do another thing today.
        NeedsApproval, NotApproved: A second account has to approve, and has not.
    """
    approved: list[int] = []

    def grant(connection: Connection, evaluation: Evaluation, plan: Plan, why: str) -> int | None:
        digest = digest_acts(acts_of(evaluation, plan))
        proposal_id = _require_scheduled(connection, scheduled_id, digest)
        if why and proposal_id is None:
            raise NeedsApproval(why)
        approved[:] = [proposal_id] if proposal_id is not None else []
        return proposal_id

    def settle(connection: Connection, change_set_id: int) -> None:
        for proposal_id in approved:
            _finish_proposal(connection, proposal_id, change_set_id)
        finish_scheduled(connection, scheduled_id, change_set_id)

    leave = _Leave(None, grant, settle)
    return _apply_as(context, intake_id, steps, account_id, progress, leave)


def _finish_proposal(connection: Connection, proposal_id: int, change_set_id: int) -> None:
    if not finish_proposal(connection, proposal_id, change_set_id):
        raise NotApproved("Somebody else has decided on this proposal meanwhile.")


def _apply_as(
    context: Context,
    intake_id: int,
    steps: int,
    account_id: int | None,
    progress: Progress,
    leave: _Leave,
) -> int:
    """Apply an intake by some right, again and again while the roster moves under it."""
    with context.database.transaction() as connection:
        done = record_store.get_change_set_of(connection, intake_id, steps)
    if done is not None:
        return done.id
    last: RosterMoved | None = None
    for pause in REPEATS:
        time.sleep(pause)
        progress("Working out the changes", 0, 0)
        opened = open_intake(context, intake_id)
        require_same(context, opened, steps, leave.version)
        try:
            return _apply_once(context, opened, account_id, progress, leave)
        except RosterMoved as moved:  # between looking at it and locking it
            last = moved
    raise last or RosterMoved(leave.version or 0, 0)


def _apply_once(
    context: Context, opened: Opened, account_id: int | None, progress: Progress, leave: _Leave
) -> int:
    evaluation, intake = opened.evaluation, opened.intake
    plan = plan_changes(evaluation)
    if not len(plan):
        raise NothingToApply
    why = evaluation.definition.approval.why(len(plan), raised_by(evaluation))
    record_of_row = number_rows(context, evaluation, plan)
    with context.database.transaction() as connection:
        proposal_id = leave.grant(connection, evaluation, plan, why)
        change_set_id, version, receipt = alter_roster(
            connection,
            opened.roster,
            writes_of(evaluation, plan, record_of_row),
            NewChangeSet(
                kind="intake" if intake.kind in ("file", "rules") else "hand",
                title=intake.title,
                account_id=account_id,
                intake_id=intake.id,
                steps=len(opened.steps),
                at=context.now(),
            ),
            seen=opened.roster.version,
            approved=proposal_id is not None,
            progress=progress,
        )
        leave.settle(connection, change_set_id)
        _queue_ends(context, connection, opened, change_set_id, record_of_row, account_id)
        receipt["version"] = version
        if leave.version is not None and opened.roster.version != leave.version:
            receipt["looked_at"] = leave.version
        keep_receipt(context, connection, opened, change_set_id, receipt, record_of_row, account_id)
        after = store.lock_intake(connection, intake.id) + 1
        step: dict[str, Any] = {
            "kind": "applied",
            "change_set": change_set_id,
            "records": joined_without_key(evaluation, plan, record_of_row),
            "counted": list_counted(evaluation),
        }
        step |= keep_moment(evaluation)
        store.insert_step(connection, intake.id, after, step, account_id, context.now())
    return change_set_id


def _queue_ends(
    context: Context,
    connection: Connection,
    opened: Opened,
    change_set_id: int,
    record_of_row: np.ndarray,
    account_id: int | None,
) -> None:
    """Queue what puts the ends of what was gained for some time off to their days."""
    for end in find_ends(opened.evaluation):
        arguments = {
            "change_set": change_set_id,
            "day": end.day.isoformat(),
            "field": end.field,
            "codes": end.codes,
            "records": sorted({int(record_of_row[row]) for row in end.rows}),
        }
        job_store.insert_job(
            connection, JobKind.END, opened.roster.id, arguments, account_id, context.now()
        )


def _require_scheduled(connection: Connection, scheduled_id: int, digest: str) -> int | None:
    """See, inside the transaction that does it, that exactly this was put off; return the proposal
    that was approved.

    Raises:
        NotScheduled: It was called off, or what would be done today is another thing.
        NotApproved: It was put off with a proposal that nobody else approved.
    """
    state = lock_scheduled(connection, scheduled_id)
    scheduled = get_scheduled(connection, scheduled_id)
    if scheduled is None or state != ScheduledState.DUE:
        raise NotScheduled("This does not wait any more: it was done, or called off.")
    if scheduled.digest != digest:
        raise NotScheduled(
            "What it would do today is not what was put off to today: the roster, the codes or the"
            " definition changed meanwhile. Nothing was changed. Look at what it would do now, and"
            " apply it or put it off again."
        )
    if scheduled.proposal_id is not None:
        proposal = get_proposal(connection, scheduled.proposal_id)
        if (
            proposal is None
            or proposal.state != ProposalState.APPROVED
            or proposal.decided_by == proposal.account_id
        ):
            raise NotApproved("Nobody else has approved this. Nothing was changed.")
    return scheduled.proposal_id


def take_back(
    context: Context,
    change_set_id: int,
    account_id: int | None,
    *,
    choice: Choice | None = None,
    as_far: bool = False,
    proposal: int | None = None,
    digest: str = "",
) -> int:
    """Take a change set, or a part of it, back; the intake that it came from can be worked on and
    applied again.

    Args:
        context: Database and clock.
        change_set_id: Which.
        account_id: Who.
        choice: What of it.
        as_far: Whether what later changes rest on may be left as it is.
        proposal: The proposal that is approved with this.
        digest: Of its plan.

    Returns:
        The new change set's number.

    Raises:
        NoSuchChangeSet, NotTakenBack, NeedsApproval: See `take_back_records`.
        NotApproved: The proposal was decided on meanwhile.
    """
    with context.database.transaction() as connection:
        change_set = record_store.get_change_set(connection, change_set_id)
    if change_set is None:
        raise NoSuchChangeSet(change_set_id)
    with context.database.transaction() as connection:
        number, is_whole = take_back_records(
            context, connection, change_set, account_id, choice=choice, as_far=as_far, digest=digest
        )
        if proposal is not None:
            is_open = decide_proposal(
                connection, proposal, ProposalState.APPROVED, account_id, "", context.now()
            )
            if not is_open or not finish_proposal(connection, proposal, number):
                raise NotApproved("Somebody else has decided on this proposal meanwhile.")
        if change_set.intake_id is not None and is_whole:
            # In the same transaction: without the step, the intake would count as applied for good.
            after = store.lock_intake(connection, change_set.intake_id) + 1
            step: dict[str, Any] = {"kind": "taken_back", "change_set": change_set_id}
            store.insert_step(
                connection, change_set.intake_id, after, step, account_id, context.now()
            )
            tally = change_set.receipt["tally"]
            store.set_tally(
                connection, change_set.intake_id, tally | {"ready": tally["new"] + tally["changed"]}
            )
    return number
