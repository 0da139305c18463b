"""States of what goes on for longer than a request, and which may become which.

Each kind of thing has an enumeration and a table of its allowed changes; whoever keeps a state
asks `before` from which states it may come, so that what came in between is never put back.
"""

from __future__ import annotations

from enum import StrEnum
from typing import TYPE_CHECKING, TypeVar

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = [
    "JOB_CHANGES",
    "PROPOSAL_CHANGES",
    "ROUND_CHANGES",
    "SCHEDULED_CHANGES",
    "JobKind",
    "JobState",
    "ProposalState",
    "RoundState",
    "ScheduledState",
    "State",
    "before",
]

State = TypeVar("State", bound=StrEnum)


class RoundState(StrEnum):
    """A round of a submission."""

    BUILT = "built"  # to be sent
    SENT = "sent"  # the authority is at work
    BYHAND = "byhand"  # somebody takes it there as a file, and brings the answer
    ANSWERED = "answered"  # the answer is here, and not taken in
    TAKEN = "taken"  # taken in; its numbers go into the roster
    DONE = "done"
    REFUSED = "refused"  # as a whole


ROUND_CHANGES: Mapping[RoundState, frozenset[RoundState]] = {
    RoundState.BUILT: frozenset(
        {RoundState.SENT, RoundState.BYHAND, RoundState.ANSWERED, RoundState.REFUSED}
    ),
    RoundState.SENT: frozenset({RoundState.ANSWERED, RoundState.REFUSED}),
    RoundState.BYHAND: frozenset({RoundState.ANSWERED}),
    RoundState.ANSWERED: frozenset({RoundState.TAKEN}),
    RoundState.TAKEN: frozenset({RoundState.DONE}),
    RoundState.DONE: frozenset(),
    # sent again as it is, or somebody brings an answer after all
    RoundState.REFUSED: frozenset({RoundState.BUILT, RoundState.ANSWERED}),
}


class ProposalState(StrEnum):
    """What somebody wants done, until a second person has decided."""

    OPEN = "open"
    APPROVED = "approved"  # to be done, now or on its day
    DONE = "done"
    SENT_BACK = "sent_back"
    WITHDRAWN = "withdrawn"
    REPLACED = "replaced"  # by a later one of the same intake


PROPOSAL_CHANGES: Mapping[ProposalState, frozenset[ProposalState]] = {
    ProposalState.OPEN: frozenset(
        {
            ProposalState.APPROVED,
            ProposalState.SENT_BACK,
            ProposalState.WITHDRAWN,
            ProposalState.REPLACED,
        }
    ),
    # open again when it could not be done
    ProposalState.APPROVED: frozenset({ProposalState.DONE, ProposalState.OPEN}),
    ProposalState.DONE: frozenset(),
    ProposalState.SENT_BACK: frozenset(),
    ProposalState.WITHDRAWN: frozenset(),
    ProposalState.REPLACED: frozenset(),
}


class ScheduledState(StrEnum):
    """What is put off to a day."""

    WAITING = "waiting"
    DUE = "due"  # its day has come, and a job does it
    DONE = "done"
    STOPPED = "stopped"  # could not be done on its day; waits for somebody
    CALLED_OFF = "called_off"


SCHEDULED_CHANGES: Mapping[ScheduledState, frozenset[ScheduledState]] = {
    ScheduledState.WAITING: frozenset({ScheduledState.DUE, ScheduledState.CALLED_OFF}),
    # waits again when its job was broken off
    ScheduledState.DUE: frozenset(
        {ScheduledState.DONE, ScheduledState.STOPPED, ScheduledState.WAITING}
    ),
    ScheduledState.DONE: frozenset(),
    ScheduledState.STOPPED: frozenset({ScheduledState.CALLED_OFF}),
    ScheduledState.CALLED_OFF: frozenset(),
}


class JobKind(StrEnum):
    """What a worker can be asked for."""

    APPLY = "apply"  # an intake's plan
    END = "end"  # what lasts until a day, put off to that day
    ROUND = "round"  # bring a round of a submission on
    ERASE = "erase"  # take somebody's values out of everything
    TELL = "tell"  # tell a destination what the rosters say


class JobState(StrEnum):
    """Long work."""

    QUEUED = "queued"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"


JOB_CHANGES: Mapping[JobState, frozenset[JobState]] = {
    JobState.QUEUED: frozenset({JobState.RUNNING}),
    # taken over from a worker that has gone
    JobState.RUNNING: frozenset({JobState.RUNNING, JobState.DONE, JobState.FAILED}),
    JobState.DONE: frozenset(),
    JobState.FAILED: frozenset(),
}


def before(changes: Mapping[State, frozenset[State]], after: State) -> tuple[State, ...]:
    """List the states that may become another, in the order of the enumeration.

    >>> [state.value for state in before(SCHEDULED_CHANGES, ScheduledState.CALLED_OFF)]
    ['waiting', 'stopped']
    """
    return tuple(state for state, allowed in changes.items() if after in allowed)
