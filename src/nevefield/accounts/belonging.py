"""What belongs to which roster: from it follows who may see a thing, and what they may do with
it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.cards.errors import NoSuchDesign
from nevefield.intakes.errors import NoSuchIntake, NoSuchSource, NoSuchWaiver
from nevefield.letters.errors import NoSuchLetter
from nevefield.passing_on.errors import NoSuchDestination
from nevefield.rosters.errors import (
    NoSuchChangeSet,
    NoSuchJob,
    NoSuchProposal,
    NoSuchRecord,
    NoSuchRoster,
    NotScheduled,
)
from nevefield.rosters.shortlists import require_shortlist
from nevefield.store import cards as card_store
from nevefield.store import intakes as intake_store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store import sources as source_store
from nevefield.store.letters import get_letter
from nevefield.store.passing import get_destination
from nevefield.store.proposals import get_proposal
from nevefield.store.scheduled import get_scheduled
from nevefield.store.submissions import get_round, get_submission
from nevefield.store.waivers import get_waiver_roster
from nevefield.submissions.errors import NoSuchRound, NoSuchSubmission

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = ["BELONGING", "Lead", "find_roster", "list_rosters"]

# A connection, the thing's number or name, and the account that asks -> the roster's number.
Find = Callable[["Connection", Any, int], int | None]


@dataclass(frozen=True)
class Lead:
    """How a thing leads to its roster."""

    part: str  # of a path: what names the thing there
    find: Find
    missing: Callable[[Any], Exception]  # what to say when there is none


def find_roster(context: Context, kind: str, given: Any, account_id: int) -> int:
    """Follow a thing to the number of its roster; one that may not be seen is not there.

    Args:
        context: As seen by who asks.
        kind: Of the thing, one of `BELONGING`.
        given: Its number or name.
        account_id: Who asks.

    Raises:
        Exception: That of the kind: there is none.
    """
    lead = BELONGING[kind]
    with context.database.transaction() as connection:
        roster_id = lead.find(connection, given, account_id)
    if roster_id is None:
        raise lead.missing(given)
    return roster_id


def list_rosters(context: Context) -> list[int]:
    """List the rosters that may be seen, by number."""
    with context.database.transaction() as connection:
        return [roster.id for roster in roster_store.list_seen(connection)]


def _by_get(get: Callable[[Connection, Any], Any]) -> Find:
    """Find the roster of what a query gives."""

    def find(connection: Connection, given: Any, _: int) -> int | None:
        thing = get(connection, given)
        return None if thing is None else int(thing.roster_id)

    return find


def _by_name(connection: Connection, name: Any, _: int) -> int | None:
    roster = roster_store.get_roster(connection, str(name))
    return None if roster is None else roster.id


def _by_design(connection: Connection, name: Any, _: int) -> int | None:
    found = card_store.get_design(connection, str(name))
    return None if found is None else found.register_id


def _by_round(connection: Connection, number: Any, account_id: int) -> int | None:
    found = get_round(connection, number)
    if found is None:
        return None
    return _by_get(get_submission)(connection, found.submission_id, account_id)


def _by_shortlist(connection: Connection, number: Any, account_id: int) -> int:
    return require_shortlist(connection, number, account_id).roster_id


def _not_scheduled(number: Any) -> Exception:
    return NotScheduled(f"Nothing waits for its day under the number {number}.")


BELONGING: dict[str, Lead] = {
    "roster": Lead("name", _by_name, lambda name: NoSuchRoster(str(name))),
    "intake": Lead("intake_id", _by_get(intake_store.get_intake), NoSuchIntake),
    "record": Lead(
        "record_id",
        lambda connection, number, _: record_store.get_record_roster(connection, number),
        NoSuchRecord,
    ),
    "change_set": Lead("change_set_id", _by_get(record_store.get_change_set), NoSuchChangeSet),
    "waiver": Lead(
        "waiver_id",
        lambda connection, number, _: get_waiver_roster(connection, number),
        NoSuchWaiver,
    ),
    "source": Lead("source_id", _by_get(source_store.get_source), NoSuchSource),
    "scheduled": Lead("scheduled_id", _by_get(get_scheduled), _not_scheduled),
    "shortlist": Lead("shortlist_id", _by_shortlist, NoSuchRecord),
    "submission": Lead("submission_id", _by_get(get_submission), NoSuchSubmission),
    "round": Lead("round_id", _by_round, NoSuchRound),
    "design": Lead("design", _by_design, lambda name: NoSuchDesign(str(name))),
    "destination": Lead(
        "destination", _by_get(get_destination), lambda name: NoSuchDestination(str(name))
    ),
    "letter": Lead("letter_id", _by_get(get_letter), NoSuchLetter),
    "proposal": Lead("proposal_id", _by_get(get_proposal), NoSuchProposal),
    "job": Lead("job_id", _by_get(job_store.get_job), NoSuchJob),
}
