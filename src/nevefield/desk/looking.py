"""Gather what is open, and what each file did to the rosters."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.passing_on.looking import look_at_all
from nevefield.rosters.parts import name_own
from nevefield.rosters.snapshots import count_records
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.intakes import Intake, list_applied, list_intakes, list_last_hands
from nevefield.store.proposals import Proposal, list_proposals
from nevefield.store.scheduled import Scheduled, list_scheduled
from nevefield.store.submissions import list_submissions
from nevefield.store.unforeseen import Unforeseen, list_unforeseen
from nevefield.submissions.looking import OpenSubmission, open_submission

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.passing_on.looking import Look
    from nevefield.store.rosters import Roster

__all__ = ["Desk", "OpenIntake", "RosterHere", "look_at_desk"]

SETS_SHOWN = 12  # of each roster


@dataclass(frozen=True)
class OpenIntake:
    """An intake in which something is open."""

    intake: Intake
    applied: int | None  # the change set that it stands as
    is_put_off: bool  # it is proposed, or waits for its day
    last_hand: tuple[int, str] | None = None  # who made the last step: account and name


@dataclass(frozen=True)
class RosterHere:
    """A roster, how many records it has, and the last that altered it, the first first; each with
    whether it was taken back.
    """

    roster: Roster
    count: int
    history: list[tuple[record_store.ChangeSet, bool]]
    within: str  # the part of it that alone may be seen, in words; "" for all of it


@dataclass(frozen=True)
class Desk:
    """Everything that is open of what may be seen."""

    proposals: list[Proposal]
    intakes: list[OpenIntake]
    scheduled: list[Scheduled]
    submissions: list[OpenSubmission]
    destinations: list[Look]  # that refused something, or were not told
    unforeseen: list[Unforeseen]
    rosters: list[RosterHere]


def look_at_desk(context: Context, *, with_unforeseen: bool) -> Desk:
    """Look at the desk.

    Args:
        context: As seen by whose desk it is.
        with_unforeseen: Errors that nobody foresaw too.
    """
    with context.database.transaction() as connection:
        proposals, scheduled = list_proposals(connection), list_scheduled(connection)
        put_off = {proposal.intake_id for proposal in proposals} | {
            one.intake_id for one in scheduled
        }
        seen = [roster.id for roster in roster_store.list_seen(connection)]
        intakes = list_intakes(connection, seen, is_open=True)
        standing = list_applied(connection, [intake.id for intake in intakes])
        hands = list_last_hands(connection, [intake.id for intake in intakes])
        rosters = []
        for roster, count in roster_store.list_rosters(connection):
            sets = record_store.list_change_sets(connection, roster.id, most=SETS_SHOWN)
            history = [(change, undone is not None) for change, _, undone in reversed(sets)]
            shown = count_records(connection, roster, count)
            rosters.append(RosterHere(roster, shown, history, name_own(connection, roster)))
        sent = [
            submission.id
            for submission in list_submissions(connection)
            if submission.closed_at is None
        ]
        unforeseen = list_unforeseen(connection) if with_unforeseen else []
    return Desk(
        proposals=proposals,
        intakes=[
            OpenIntake(
                intake,
                standing.get(intake.id, (None, False))[0],
                intake.id in put_off,
                hands.get(intake.id),
            )
            for intake in intakes
        ],
        scheduled=scheduled,
        submissions=[open_submission(context, number) for number in sent],
        destinations=[
            look for look in look_at_all(context) if look.causes or look.opened.row.problem
        ],
        unforeseen=unforeseen,
        rosters=rosters,
    )
