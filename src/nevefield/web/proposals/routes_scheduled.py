"""What waits for its day."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.proposals.looking import Waiting, list_waiting
from nevefield.proposals.scheduling import call_off, schedule_intake
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.proposals import shapes

__all__ = ["scheduled_answer", "scheduled_api"]

scheduled_api = Api("scheduled", __name__)


def scheduled_answer(waiting: Waiting) -> shapes.ScheduledOut:
    """Give what waits for its day."""
    scheduled, roster = waiting.scheduled, waiting.roster
    return shapes.ScheduledOut(
        id=scheduled.id,
        intake=scheduled.intake_id,
        title=scheduled.title,
        roster=roster.name if roster else "",
        roster_title=roster.title if roster else "",
        day=scheduled.day,
        counts=scheduled.counts,
        state=scheduled.state,
        by=scheduled.by,
        at=scheduled.at,
        reason=scheduled.reason,
        is_stale=waiting.is_stale,
        change_set=scheduled.change_set_id,
    )


@scheduled_api.get("/scheduled", responses={200: shapes.ScheduledList})
@needs(Level.LOOK)
def get_waiting() -> Any:
    """List what waits for its day, and what could not be done on it."""
    scheduled = [scheduled_answer(waiting) for waiting in list_waiting(context())]
    return answer(shapes.ScheduledList(scheduled=scheduled))


@scheduled_api.post("/intakes/<int:intake_id>/schedule", responses={201: shapes.ScheduledDone})
@needs(Level.APPROVE, of="intake")
def post_schedule(path: common.IntakePath, body: shapes.ScheduleIn) -> Any:
    """Put the plan that was looked at off to a day."""
    number = schedule_intake(
        context(),
        path.intake_id,
        body.steps,
        body.roster_version,
        body.day,
        account().id,
        body.typed,
    )
    return answer(shapes.ScheduledDone(scheduled=number), 201)


@scheduled_api.post("/scheduled/<int:scheduled_id>/call-off", responses={200: shapes.ScheduledDone})
@needs(Level.APPROVE, of="scheduled")
def post_call_off(path: shapes.ScheduledPath, body: common.ReasonIn) -> Any:
    """Call off what waits for its day."""
    call_off(context(), path.scheduled_id, account().id, body.reason)
    return answer(shapes.ScheduledDone(scheduled=path.scheduled_id))
