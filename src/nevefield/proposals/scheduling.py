"""Put a plan off to a day, call it off, and do on its day what waits for it.

What is done on the day is what was put off and nothing else: the file is worked out again on the
roster as it stands, and where that would do another thing, nothing is done and the desk says so.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.changes.acts import acts_of, digest_acts
from nevefield.core.changes.plan import plan_changes
from nevefield.core.columns.days import say_day
from nevefield.core.states import JobKind
from nevefield.intakes.errors import NotAhead
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.fitting import altered_by, raised_by, require_fit
from nevefield.rosters.errors import NeedsApproval, NotScheduled
from nevefield.store import intakes as intake_store
from nevefield.store import jobs as job_store
from nevefield.store import scheduled as store
from nevefield.store.audit import insert_audit, nameless

if TYPE_CHECKING:
    from datetime import date

    from nevefield.context import Context
    from nevefield.intakes.evaluating import Opened
    from nevefield.store.connection import Connection

__all__ = ["call_off", "keep_for_day", "queue_due", "require_ahead", "schedule_intake"]


def schedule_intake(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int,
    day: date,
    account_id: int | None,
    typed: int | None = None,
) -> int:
    """Put the plan off that somebody looked at.

    Args:
        context: Database and clock.
        intake_id: The intake.
        steps: Its number of steps as looked at.
        roster_version: The roster's version as looked at.
        day: From which it is to hold.
        account_id: Who.
        typed: The number of rows as somebody typed it, where so much changes that it is asked for.

    Returns:
        The number of what is put off.

    Raises:
        NotAhead: The day is today or over.
        OutOfDate, RosterMoved, NothingToApply, NeedsWaiver, NeedsNumber: As for applying.
        NeedsApproval: A second account has to approve first.
    """
    require_ahead(context, day)
    opened = open_intake(context, intake_id)
    require_fit(context, opened, steps, roster_version, typed)
    if why := opened.evaluation.definition.approval.why(
        opened.evaluation.altering, raised_by(opened.evaluation)
    ):
        raise NeedsApproval(why)
    with context.database.transaction() as connection:
        intake_store.lock_intake(connection, intake_id)
        return keep_for_day(context, connection, opened, day, account_id)


def require_ahead(context: Context, day: date) -> None:
    """See that a day is ahead.

    Raises:
        NotAhead: It is today or over.
    """
    if day <= context.today():
        raise NotAhead(day)


def keep_for_day(
    context: Context,
    connection: Connection,
    opened: Opened,
    day: date,
    account_id: int | None,
    proposal: int | None = None,
) -> int:
    """Keep an intake's plan for its day, inside the caller's transaction; return its number."""
    evaluation = opened.evaluation
    acts = acts_of(evaluation, plan_changes(evaluation))
    counts = altered_by(evaluation)
    number = store.insert_scheduled(
        connection,
        store.NewScheduled(
            roster_id=opened.roster.id,
            intake_id=opened.intake.id,
            steps=len(opened.steps),
            day=day,
            digest=digest_acts(acts),
            title=opened.intake.title,
            counts=counts,
            proposal_id=proposal,
            account_id=account_id,
            at=context.now(),
        ),
        [(act.record, None if act.leaves else act.fields) for act in acts],
    )
    title = f"{nameless(opened.intake.title, opened.intake.id)}, {say_day(day)}"
    insert_audit(
        connection, "put-off", title, account_id, context.now(), scheduled=number, **counts
    )
    return number


def call_off(context: Context, scheduled_id: int, account_id: int | None, reason: str) -> None:
    """Call off what waits for its day; the intake can be worked on and applied as before.

    Raises:
        NotScheduled: There is nothing that waits under this number.
    """
    with context.database.transaction() as connection:
        scheduled = store.get_scheduled(connection, scheduled_id)
        if scheduled is None or not store.call_off(
            connection, scheduled.intake_id, reason.strip(), account_id
        ):
            raise NotScheduled("This does not wait any more: it was done, or called off.")
        insert_audit(
            connection,
            "called-off",
            nameless(scheduled.title, scheduled.intake_id),
            account_id,
            context.now(),
            scheduled=scheduled_id,
        )


def queue_due(context: Context) -> int:
    """Queue what waits for today or an earlier day; done twice, the second does nothing. Return
    how many.
    """
    with context.database.transaction() as connection:
        due = store.claim_due(connection, context.today())
        for scheduled in due:
            arguments = {
                "intake": scheduled.intake_id,
                "steps": scheduled.steps,
                "scheduled": scheduled.id,
            }
            job_store.insert_job(
                connection,
                JobKind.APPLY,
                scheduled.roster_id,
                arguments,
                scheduled.account_id,
                context.now(),
            )
    return len(due)
