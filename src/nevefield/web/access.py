"""Who may call which route: one mechanism, which refuses when nothing is declared."""

from __future__ import annotations

import hmac
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, TypeVar, cast
from urllib.parse import urlsplit

from flask import current_app, g, request

from nevefield.accounts import Account, Level, Session, Sight, sight_of, who
from nevefield.accounts.belonging import BELONGING, find_roster, list_rosters
from nevefield.accounts.programs import who_asks

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = [
    "COOKIE",
    "DEVICE_COOKIE",
    "TOKEN_HEADER",
    "Forbidden",
    "SignInNeeded",
    "account",
    "check_access",
    "context",
    "cookie_name",
    "is_masked",
    "level_in",
    "needs",
    "open_to_all",
    "roster_ids",
    "session_token",
    "sight",
]

COOKIE = "nevefield_session"
DEVICE_COOKIE = "nevefield_device"  # by which a device is known again at the next sign-in
TOKEN_HEADER = "X-Nevefield-Token"  # noqa: S105
SAFE = ("GET", "HEAD", "OPTIONS")
View = TypeVar("View", bound=Callable[..., Any])


class SignInNeeded(Exception):
    """Nobody is signed in."""

    def __init__(self, why: str = "Sign in first.") -> None:
        super().__init__(why)


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
    whole: bool = False  # and for all of the roster: a part is not enough
    polled: bool = False  # asked by pages by themselves: that is no use of the session
    is_open: bool = False


def needs(
    level: Level,
    of: str = "",
    *,
    everywhere: bool = False,
    whole: bool = False,
    polled: bool = False,
) -> Callable[[View], View]:
    """Declare the level that a route asks for.

    Args:
        level: The level; NONE for everybody who is signed in.
        of: A kind of `BELONGING`: the thing in the path that leads to the roster in which the level
            must hold; "" for any roster.
        everywhere: Whether it must hold in every roster.
        whole: Whether it must hold for all of the roster.
        polled: Whether pages ask it by themselves, every few seconds.
    """

    if of and of not in BELONGING:
        raise ValueError(
            f"Nothing leads from {of!r} to a roster; known are {', '.join(BELONGING)}."
        )

    def declare(view: View) -> View:
        view.access = Access(level, of, everywhere, whole, polled)  # type: ignore[attr-defined]
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
    return {number for number in list_rosters(context()) if level_in(number) >= level}


def cookie_name(name: str) -> str:
    """Name a cookie of ours: the practice copy, which may answer on another port of the same host,
    has its own.
    """
    return f"{name}_practice" if context().settings.practice else name


def session_token() -> str:
    """Give the token of the session that a request carries; "" for none."""
    return request.cookies.get(cookie_name(COOKIE), "")


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
    session = _program(access) or who(context(), session_token(), is_polled=access.polled)
    if session is None:
        raise SignInNeeded
    g.session = session
    found = sight_of(context(), session.account)
    g.sight = replace(found, address=request.remote_addr or "")
    # a program sends its token itself: no browser does it for another site
    if session.account.kind == "person" and request.method not in SAFE:
        _refuse_without_token(session)
    roster_id = _roster_of(access.of) if access.of else None
    level = (
        sight().everywhere
        if access.everywhere
        else level_in(roster_id)
        if roster_id is not None
        else sight().highest
    )
    if access.whole and roster_id in sight().parts:
        raise Forbidden("This is about all of the roster, and you have a part of it.")
    if level < access.level:
        raise Forbidden(
            f"This needs the level “{access.level.name.lower()}”; yours is “{level.name.lower()}”."
        )


def _program(access: Access) -> Session | None:
    """Find the program that asks by a token; None where none is given.

    Raises:
        SignInNeeded: The token does not count.
        Forbidden: What is asked is for people: their own sessions and passwords.
    """
    kind, _, token = request.headers.get("Authorization", "").partition(" ")
    if kind.lower() != "bearer":
        return None
    session = who_asks(context(), token.strip())
    if session is None:
        raise SignInNeeded(
            "This token does not count: it was ended, its last day is past, or it is none."
        )
    if access.level == Level.NONE:
        raise Forbidden("This is for people who are signed in, not for programs.")
    return session


def _refuse_without_token(session: Session) -> None:
    given = request.headers.get(TOKEN_HEADER, "")
    if not hmac.compare_digest(given.encode(), session.csrf.encode()):
        raise Forbidden("The request does not carry this session's token. Load the page again.")


def _refuse_other_sites() -> None:
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        raise Forbidden("The request came from another site.")
    origin = request.headers.get("Origin")
    if origin and urlsplit(origin).netloc != request.host:
        raise Forbidden("The request came from another site.")


def _roster_of(kind: str) -> int:
    """Follow the path's number or name to its roster; one that may not be seen is not there."""
    given = (request.view_args or {}).get(BELONGING[kind].part)
    return find_roster(context(), kind, given, account().id)
