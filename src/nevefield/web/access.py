"""Who may call which route: one mechanism, which refuses when nothing is declared."""

from __future__ import annotations

import hmac
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeVar, cast
from urllib.parse import urlsplit

from flask import current_app, g, request

from nevefield.accounts import Level, sight_of, who
from nevefield.intakes.errors import NoSuchIntake, NoSuchSource, NoSuchWaiver
from nevefield.rosters.errors import (
    NoSuchChangeSet,
    NoSuchJob,
    NoSuchProposal,
    NoSuchRecord,
    NoSuchRoster,
    NotScheduled,
)
from nevefield.rosters.shortlists import require_shortlist
from nevefield.store import intakes as intake_store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store import sources as source_store
from nevefield.store.proposals import get_proposal
from nevefield.store.scheduled import get_scheduled
from nevefield.store.submissions import get_round, get_submission
from nevefield.store.waivers import get_waiver_roster
from nevefield.submissions.errors import NoSuchRound, NoSuchSubmission

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.accounts import Account
    from nevefield.store.connection import Connection
    from nevefield.store.sight import Sight

__all__ = [
    "COOKIE",
    "DEVICE_COOKIE",
    "TOKEN_HEADER",
    "Forbidden",
    "SignInNeeded",
    "account",
    "check_access",
    "context",
    "is_masked",
    "level_in",
    "needs",
    "open_to_all",
    "roster_ids",
    "sight",
]

COOKIE = "nevefield_session"
DEVICE_COOKIE = "nevefield_device"  # by which a device is known again at the next sign-in
TOKEN_HEADER = "X-Nevefield-Token"  # noqa: S105
SAFE = ("GET", "HEAD", "OPTIONS")
View = TypeVar("View", bound=Callable[..., Any])


class SignInNeeded(Exception):
    """Nobody is signed in."""

    def __init__(self) -> None:
        super().__init__("Sign in first.")


class Forbidden(Exception):
    """The account has not the level for it, or the request came from elsewhere."""


@dataclass(frozen=True)
class Access:
    """What a route asks for: a session, unless it is open, and a level.

    `of` names the part of its path that leads to a roster; "" asks for the level anywhere.
    """

    level: Level
    of: str = ""
    everywhere: bool = False  # the level must hold in every roster
    polled: bool = False  # asked by pages by themselves: that is no use of the session
    is_open: bool = False


def needs(
    level: Level, of: str = "", *, everywhere: bool = False, polled: bool = False
) -> Callable[[View], View]:
    """Declare the level that a route asks for.

    Args:
        level: The level; NONE for everybody who is signed in.
        of: roster, intake, record, change_set, source, waiver, proposal, scheduled, shortlist,
            submission, round or job: the part of the path that leads to the roster in which the
                level must hold; "" for any roster.
        everywhere: Whether it must hold in every roster.
        polled: Whether pages ask it by themselves, every few seconds.
    """

    if of and of not in LEADS:
        raise ValueError(f"Nothing leads from {of!r} to a roster; known are {', '.join(LEADS)}.")

    def declare(view: View) -> View:
        view.access = Access(level, of, everywhere, polled)  # type: ignore[attr-defined]
        return view

    return declare


def open_to_all(view: View) -> View:
    """Declare that a route asks for no session."""
    view.access = Access(Level.NONE, is_open=True)  # type: ignore[attr-defined]
    return view


def context() -> Context:
    """Return what services need, in a request: they load no more than who is signed in may see."""
    found = cast("Context", current_app.extensions["nevefield"])
    return found.seen_by(g.sight) if "sight" in g else found


def account() -> Account:
    """Return who is signed in, in a request."""
    return cast("Account", g.session.account)


def sight() -> Sight:
    """Return what who is signed in may see."""
    return cast("Sight", g.sight)


def level_in(roster_id: int) -> Level:
    """Return the level of who is signed in, in a roster."""
    return sight().level(roster_id)


def is_masked(roster_id: int) -> bool:
    """Tell whether sensitive fields of a roster are kept from who is signed in: they may look,
    and no more.
    """
    return sight().covers(roster_id)


def roster_ids(level: Level) -> set[int]:
    """List the rosters in which who is signed in has a level."""
    with context().database.transaction() as connection:
        rosters = roster_store.list_seen(connection)
    return {roster.id for roster in rosters if level_in(roster.id) >= level}


def check_access() -> None:
    """Let a request through or refuse it; runs before every route.

    Raises:
        SignInNeeded: No session.
        Forbidden: Nothing is declared, the level is too low, or a post came from another site.
    """
    if request.endpoint is None or request.endpoint == "static":
        return
    view = current_app.view_functions[request.endpoint]
    access: Access | None = getattr(view, "access", None)
    if access is None:
        raise Forbidden("This route declares nobody who may use it, so nobody may.")
    if request.method not in SAFE:
        _refuse_other_sites()
    if access.is_open:
        return
    session = who(context(), request.cookies.get(COOKIE, ""), is_polled=access.polled)
    if session is None:
        raise SignInNeeded
    g.session = session
    g.sight = sight_of(context(), session.account)
    if request.method not in SAFE and not hmac.compare_digest(
        request.headers.get(TOKEN_HEADER, "").encode(), session.csrf.encode()
    ):
        raise Forbidden("The request does not carry this session's token. Load the page again.")
    level = (
        sight().everywhere
        if access.everywhere
        else level_in(_roster_of(access.of))
        if access.of
        else sight().highest
    )
    if level < access.level:
        raise Forbidden(
            f"This needs the level “{access.level.name.lower()}”; yours is “{level.name.lower()}”."
        )


def _refuse_other_sites() -> None:
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        raise Forbidden("The request came from another site.")
    origin = request.headers.get("Origin")
    if origin and urlsplit(origin).netloc != request.host:
        raise Forbidden("The request came from another site.")


def _roster_of(kind: str) -> int:
    """Follow the path's number or name to its roster; one that may not be seen is not there."""
    find, name, missing = LEADS[kind]
    given = (request.view_args or {}).get(name)
    with context().database.transaction() as connection:
        found = find(connection, given)
    if found is None:
        raise missing(given)
    return found


def _of_shortlist(connection: Connection, number: Any) -> int:
    return require_shortlist(connection, number, g.session.account.id).roster_id


def _of_round(connection: Connection, number: Any) -> int | None:
    found = get_round(connection, number)
    return _roster_id(get_submission(connection, found.submission_id)) if found else None


def _roster_id(found: Any) -> int | None:
    return None if found is None else int(found.roster_id)


def _roster_named(connection: Connection, name: Any) -> int | None:
    found = roster_store.get_roster(connection, str(name))
    return found.id if found is not None else None


# What a route may be about: how its roster is found, the part of the path that says which, and what
# to say when there is none.
LEADS: dict[
    str, tuple[Callable[[Connection, Any], int | None], str, Callable[[Any], Exception]]
] = {
    "roster": (_roster_named, "name", lambda name: NoSuchRoster(str(name))),
    "intake": (
        lambda connection, number: _roster_id(intake_store.get_intake(connection, number)),
        "intake_id",
        NoSuchIntake,
    ),
    "record": (record_store.get_record_roster, "record_id", NoSuchRecord),
    "change_set": (
        lambda connection, number: _roster_id(record_store.get_change_set(connection, number)),
        "change_set_id",
        NoSuchChangeSet,
    ),
    "waiver": (get_waiver_roster, "waiver_id", NoSuchWaiver),
    "source": (
        lambda connection, number: _roster_id(source_store.get_source(connection, number)),
        "source_id",
        NoSuchSource,
    ),
    "scheduled": (
        lambda connection, number: _roster_id(get_scheduled(connection, number)),
        "scheduled_id",
        lambda number: NotScheduled(f"Nothing waits for its day under the number {number}."),
    ),
    "shortlist": (_of_shortlist, "shortlist_id", NoSuchRecord),
    "submission": (
        lambda connection, number: _roster_id(get_submission(connection, number)),
        "submission_id",
        NoSuchSubmission,
    ),
    "round": (_of_round, "round_id", NoSuchRound),
    "proposal": (
        lambda connection, number: _roster_id(get_proposal(connection, number)),
        "proposal_id",
        NoSuchProposal,
    ),
    "job": (
        lambda connection, number: _roster_id(job_store.get_job(connection, number)),
        "job_id",
        NoSuchJob,
    ),
}
