"""What can go wrong with rosters.

RosterError
├── NoSuchRoster
├── NoSuchList
├── NoSuchRecord
├── NoSuchChangeSet
├── NoSuchJob
├── NoSuchVersion    of a definition
├── UnknownFields    fields are named that the roster does not have
├── DefinitionMoved  another one was written meanwhile
├── CodesMoved       the code list was written meanwhile
├── RosterMoved      it was changed since the plan was worked out
├── NeedsApproval   a second account has to approve first
├── NotApproved      a proposal cannot be approved, sent back or withdrawn
├── NoSuchProposal
├── NoSuchShortlist
├── NeverTogether   values that must never meet in one record would
├── NotUncovered    sensitive fields stay covered
├── BeyondPart      somebody outside of a part of the roster would be altered
├── NotScheduled     nothing waits for its day, or it would do another thing by now
├── NotTakenBack     a change set cannot be taken back
└── NotReconciled    what was read back is not what was planned; nothing was kept
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.definition import Definition

__all__ = [
    "BeyondPart",
    "DefinitionMoved",
    "NeedsApproval",
    "NeverTogether",
    "NoSuchChangeSet",
    "NoSuchJob",
    "NoSuchList",
    "NoSuchProposal",
    "NoSuchRecord",
    "NoSuchRoster",
    "NoSuchShortlist",
    "NoSuchVersion",
    "NotApproved",
    "NotReconciled",
    "NotScheduled",
    "NotTakenBack",
    "NotUncovered",
    "RosterError",
    "RosterMoved",
    "UnknownFields",
]


class RosterError(Exception):
    """Base of everything that services of rosters raise."""


class NoSuchRoster(RosterError):
    """There is no roster of that name."""

    def __init__(self, name: str) -> None:
        self.name = name
        super().__init__(f"There is no roster “{name}”.")


class NoSuchList(RosterError):
    """There is no code list of that name."""

    def __init__(self, name: str) -> None:
        self.name = name
        super().__init__(f"There is no code list “{name}”.")


class NoSuchRecord(RosterError):
    """There is no record with that number."""

    def __init__(self, record_id: int) -> None:
        self.record_id = record_id
        super().__init__(f"There is no record {record_id}.")


class UnknownFields(RosterError):
    """Fields are named that the roster does not have."""

    def __init__(self, names: Sequence[str], definition: Definition) -> None:
        self.names = tuple(names)
        super().__init__(
            f"There is no field “{names[0]}” in {definition.title};"
            f" {near(names[0], definition.by_name)}"
        )


class NotScheduled(RosterError):
    """Nothing waits for its day under this number, or it would do another thing by now."""


class NeverTogether(RosterError):
    """Values that must never meet in one record would."""

    def __init__(self, texts: list[str]) -> None:
        self.said = texts
        super().__init__(
            f"{'; '.join(texts)} must never meet in one record. Nothing was changed; take one of"
            " them out first."
        )


class NotUncovered(RosterError):
    """Sensitive fields stay covered; the text says why."""


class BeyondPart(RosterError):
    """Somebody outside of the part of the roster within which it is done would be altered."""

    def __init__(self, count: int) -> None:
        self.count = count
        super().__init__(
            f"{count:,} {'record is' if count == 1 else 'records are'} outside of the part of the"
            " roster that you have, or would be afterwards. Nothing was changed; ask somebody who"
            " has all of the roster."
        )


class NoSuchShortlist(RosterError):
    """There is no shortlist with that number, or it is another's own."""

    def __init__(self, shortlist_id: int) -> None:
        self.shortlist_id = shortlist_id
        super().__init__(f"There is no shortlist {shortlist_id} for you.")


class NoSuchVersion(RosterError):
    """A definition never had this version."""

    def __init__(self, number: int) -> None:
        self.number = number
        super().__init__(f"There is no version {number} of this definition.")


class NoSuchJob(RosterError):
    """There is no job with that number."""

    def __init__(self, job_id: int) -> None:
        self.job_id = job_id
        super().__init__(f"There is no job {job_id}.")


class NoSuchChangeSet(RosterError):
    """There is no change set with that number."""

    def __init__(self, change_set_id: int) -> None:
        self.change_set_id = change_set_id
        super().__init__(f"There is no receipt {change_set_id}.")


class RosterMoved(RosterError):
    """The roster was changed since the plan was worked out."""

    def __init__(self, seen: int, now: int) -> None:
        self.seen, self.now = seen, now
        super().__init__(
            "The roster was changed meanwhile, so nothing was applied."
            " The changes are worked out again: look at them, then apply."
        )


class DefinitionMoved(RosterError):
    """Somebody else has written another definition meanwhile."""

    def __init__(self, seen: int, now: int) -> None:
        self.seen, self.now = seen, now
        super().__init__(
            f"The definition was changed meanwhile (version {now}; yours was made of {seen})."
            " Look at it again; nothing was written."
        )


class CodesMoved(RosterError):
    """Somebody else has written the code list meanwhile."""

    def __init__(self) -> None:
        super().__init__(
            "The code list was changed meanwhile. Look at it again; nothing was written."
        )


class NeedsApproval(RosterError):
    """A second account has to approve before this is done."""

    def __init__(self, why: str) -> None:
        self.why = why
        super().__init__(
            f"Here {why}. Propose it, and somebody else can approve it. Nothing was changed."
        )


class NoSuchProposal(RosterError):
    """There is no proposal with that number."""

    def __init__(self, proposal_id: int) -> None:
        self.proposal_id = proposal_id
        super().__init__(f"There is no proposal {proposal_id}.")


class NotApproved(RosterError):
    """A proposal cannot be approved, sent back or withdrawn as it stands, or by this account."""

    def __init__(self, reason: str) -> None:
        self.reason = reason
        super().__init__(reason)


class NotTakenBack(RosterError):
    """A change set cannot be taken back."""

    def __init__(self, reason: str, people: list[str] | None = None) -> None:
        self.reason = reason
        self.people = people or []
        super().__init__(reason)


class NotReconciled(RosterError):
    """What was read back is not what was planned."""

    def __init__(self, planned: dict[str, int], found: dict[str, int]) -> None:
        self.planned, self.found = planned, found
        super().__init__(f"Planned was {planned}, read back was {found}. Nothing was changed.")
