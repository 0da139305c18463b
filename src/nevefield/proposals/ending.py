"""Take out again, on its day, what was let in for a time: put off as a plan of its own, that
everybody sees ahead.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import TYPE_CHECKING, Any

from nevefield.core.changes.ending import act_of
from nevefield.core.changes.many import say_act
from nevefield.core.columns.days import say_day
from nevefield.intakes.evaluating import open_intake
from nevefield.proposals.approving import propose_intake
from nevefield.proposals.changing import change_many
from nevefield.proposals.scheduling import schedule_intake
from nevefield.rosters.errors import NeedsApproval, RosterMoved
from nevefield.rosters.snapshots import load_definition
from nevefield.store import rosters as roster_store
from nevefield.store.scheduled import list_scheduled

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["end_later"]


def end_later(
    context: Context, roster_id: int, arguments: dict[str, Any], account_id: int | None
) -> dict[str, int]:
    """Put off what ends: done twice, the second does nothing.

    Args:
        context: Database and clock.
        roster_id: Of the roster.
        arguments: change_set, day (the last one, ISO 8601), field, codes, records.
        account_id: Who let it in.

    Returns:
        The numbers of the intake and of what is put off, or of the proposal where so many need a
        second person.
    """
    last = date.fromisoformat(arguments["day"])
    with context.database.transaction() as connection:
        roster = roster_store.get_roster_by_id(connection, roster_id)
        if roster is None:
            return {}
        definition = load_definition(connection, roster)
        act = act_of(definition, arguments["field"], arguments["codes"])
        title = (
            f"{say_act(definition, act)} after {say_day(last)}, as receipt"
            f" {arguments['change_set']} has it"
        )
        known = [
            scheduled
            for scheduled in list_scheduled(connection, titled=title[:200])
            if scheduled.roster_id == roster_id
        ]
    if known:
        return {"scheduled": known[0].id}
    intake = change_many(context, roster.name, arguments["records"], [act], account_id, title=title)
    day = max(last + timedelta(days=1), context.today() + timedelta(days=1))
    while True:
        opened = open_intake(context, intake)
        fit, typed = (len(opened.steps), opened.roster.version), opened.evaluation.altering
        try:
            return {
                "intake": intake,
                "scheduled": schedule_intake(context, intake, *fit, day, account_id, typed),
            }
        except NeedsApproval:
            return {
                "intake": intake,
                "proposal": propose_intake(context, intake, *fit, account_id, typed, day=day),
            }
        except RosterMoved:
            continue  # it is worked out again on the roster as it stands; an end is never lost
