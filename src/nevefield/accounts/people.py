"""People who work here: invited, let do more or less, closed and opened again. What somebody did
stays, whoever may do what now.
"""

from __future__ import annotations

import re
import secrets
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING, Any

from nevefield.accounts.errors import (
    LastAdministrator,
    LinkGone,
    NoSuchAccount,
    WrongAccount,
)
from nevefield.accounts.passwords import refuse_weak
from nevefield.accounts.signing import digest_of, hash_password, idle_time
from nevefield.rosters.errors import NoSuchRoster
from nevefield.rosters.parts import keep_part
from nevefield.store import accounts as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.context import Context
    from nevefield.store.accounts import Account, Link, Person
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "LinkMade",
    "May",
    "alter",
    "close",
    "find_account",
    "first_link",
    "invite",
    "list_people",
    "look_at_link",
    "make_link",
    "needs_first",
    "read_names",
    "refuse_administering",
    "reopen",
    "require_part",
    "sign_out_everywhere",
    "use_link",
    "write_levels",
]

FIRST_HOURS, INVITED_DAYS, RESET_DAYS = 24, 14, 2
LONGEST_NAME = 120
_SIGN_IN = re.compile(r"[^\s/\\<>\"']{2,80}")


@dataclass(frozen=True)
class May:
    """What somebody may do, and until when.

    Args:
        level: In every roster.
        rosters: Higher levels in single ones, by roster's name.
        last_day: On which they may sign in; None for no end.
        parts: By roster's name the condition of the part that their level there is for.
        may_uncover: Whether they may uncover sensitive fields for a task, where they may only look.
    """

    level: Level
    rosters: Mapping[str, Level]
    last_day: date | None = None
    parts: Mapping[str, Any] = field(default_factory=dict)
    may_uncover: bool = False

    def note(self) -> dict[str, object]:
        """Say for the trail what somebody may do."""
        return {
            "level": self.level.name.lower(),
            "rosters": {name: level.name.lower() for name, level in self.rosters.items()},
            "last_day": self.last_day.isoformat() if self.last_day else None,
            "parts": {name: when for name, when in self.parts.items() if name in self.rosters},
            "may_uncover": self.may_uncover,
        }


@dataclass(frozen=True)
class LinkMade:
    """A link that sets a password once: shown once, kept as a digest.

    Args:
        account_id: Whose password; None for the first administrator's account, which it makes.
        token: To be put behind `/join#`.
        expires_at: When it ends.
    """

    account_id: int | None
    token: str
    expires_at: datetime


def list_people(context: Context) -> list[Person]:
    """List everybody who works here or did."""
    now = context.now()
    with context.database.transaction() as connection:
        return store.list_people(connection, now, now - idle_time(context))


def needs_first(context: Context) -> bool:
    """Tell whether nobody can sign in yet."""
    with context.database.transaction() as connection:
        return store.count_accounts(connection) == 0


def first_link(context: Context) -> LinkMade | None:
    """Make the link that makes the first administrator; None where there are accounts. An earlier
    one counts no more.
    """
    with context.database.transaction() as connection:
        if store.count_accounts(connection):
            return None
        return _link(context, connection, "first", None, None, timedelta(hours=FIRST_HOURS))


def _link(
    context: Context,
    connection: Connection,
    kind: str,
    account_id: int | None,
    made_by: int | None,
    lasts: timedelta,
) -> LinkMade:
    token, now = secrets.token_urlsafe(32), context.now()
    store.insert_link(connection, digest_of(token), kind, account_id, made_by, now, now + lasts)
    return LinkMade(account_id, token, now + lasts)


def invite(context: Context, sign_in: str, name: str, may: May, by: Account) -> LinkMade:
    """Add an account without a password, and make the link by which its owner chooses one.

    Raises:
        WrongAccount: The name is taken, or none.
        NoSuchRoster: A roster is named that there is not.
        WrongDefinition: A part's condition is none.
    """
    sign_in, name = read_names(sign_in, name)
    with context.database.transaction() as connection:
        if store.get_account(connection, sign_in):
            raise WrongAccount(f"“{sign_in}” is the sign-in name of another account.")
        account_id = store.insert_account(connection, sign_in, name, "", may.level, context.now())
        write_levels(connection, account_id, name, may)
        insert_audit(connection, "account-invited", sign_in, by.id, context.now(), **may.note())
        lasts = timedelta(days=INVITED_DAYS)
        return _link(context, connection, "invite", account_id, by.id, lasts)


def read_names(sign_in: str, name: str) -> tuple[str, str]:
    """Read the names of an account.

    Raises:
        WrongAccount: They cannot be so.
    """
    sign_in, name = sign_in.strip(), " ".join(name.split())
    if not _SIGN_IN.fullmatch(sign_in):
        raise WrongAccount(
            "A sign-in name has 2 to 80 characters, without spaces, slashes and quotation marks."
        )
    if len(name) > LONGEST_NAME or not name.isprintable():
        raise WrongAccount(f"A name has at most {LONGEST_NAME} letters, in one line.")
    return sign_in, name or sign_in


def refuse_administering(may: May) -> None:
    """See that a program administers nothing.

    Raises:
        WrongAccount: When not.
    """
    if max(may.level, *may.rosters.values(), Level.NONE) >= Level.ADMINISTER:
        raise WrongAccount(
            "A program administers nothing: whoever learns its token could let others in. Let it"
            " look, prepare or approve."
        )


def write_levels(connection: Connection, account_id: int, name: str, may: May) -> None:
    """Write what an account is called and may do.

    Raises:
        NoSuchRoster, WrongAccount, WrongDefinition: When it cannot be.
    """
    store.set_account(
        connection, account_id, name, may.level, may.last_day, may_uncover=may.may_uncover
    )
    store.set_levels(connection, account_id, _levels(connection, may))


def _levels(connection: Connection, may: May) -> dict[int, tuple[int, int | None]]:
    levels = {}
    for name, level in may.rosters.items():
        roster = roster_store.get_roster(connection, name)
        if roster is None:
            raise NoSuchRoster(name)
        if level > Level.NONE:
            part = may.parts.get(name)
            number = None if part is None else require_part(connection, may, roster, part)
            levels[roster.id] = (int(level), number)
    return levels


def require_part(connection: Connection, may: May, roster: Roster, when: Any) -> int:
    """Return the number of the part of a roster that somebody's level there is for.

    Raises:
        WrongAccount: Their level is for all of the roster.
        WrongDefinition: The condition is none.
    """
    if may.level > Level.NONE:
        raise WrongAccount(
            f"Who may {may.level.name.lower()} in every roster has all of {roster.title}; let them"
            " do nothing everywhere first."
        )
    if may.rosters.get(roster.name, Level.NONE) >= Level.ADMINISTER:
        raise WrongAccount(
            f"Who administers {roster.title} has all of it; a part is to look at, prepare or"
            " approve."
        )
    return keep_part(connection, roster, when)


def alter(context: Context, account_id: int, name: str, may: May, by: Account) -> None:
    """Write what somebody is called and may do; it counts from their next request on.

    Raises:
        NoSuchAccount, WrongAccount, NoSuchRoster, WrongDefinition: When it cannot be.
        LastAdministrator: Nobody would be left who administers.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        _, name = read_names(account.sign_in, name)
        _keep_one(context, connection, account, stays=_administers(context, may))
        if account.kind == "program":
            refuse_administering(may)
        write_levels(connection, account_id, name, may)
        insert_audit(
            connection, "account-altered", account.sign_in, by.id, context.now(), **may.note()
        )


def _administers(context: Context, may: May) -> bool:
    return may.level == Level.ADMINISTER and (
        may.last_day is None or may.last_day >= context.today()
    )


def _keep_one(context: Context, connection: Connection, account: Account, *, stays: bool) -> None:
    """See that somebody is left who administers everything."""
    today = context.today()
    is_one = account.level == Level.ADMINISTER and account.is_open(today) and account.password_hash
    if is_one and not stays and store.count_administrators(connection, today) <= 1:
        raise LastAdministrator(account.name)


def _require(connection: Connection, account_id: int) -> Account:
    account = store.get_account_by_id(connection, account_id, lock=True)
    if account is None:
        raise NoSuchAccount(account_id)
    return account


def _who(by: Account | None) -> int | None:
    """Say for the trail who does it; nobody of those who sign in, where it is done from a shell."""
    return by.id if by is not None else None


def find_account(context: Context, account_id: int) -> Account:
    """Find an account by its number.

    Raises:
        NoSuchAccount: There is none.
    """
    with context.database.transaction() as connection:
        return _require(connection, account_id)


def make_link(context: Context, account_id: int, by: Account | None) -> LinkMade:
    """Make a link by which somebody chooses a new password; earlier ones count no more. The old
    password counts until then.

    Raises:
        NoSuchAccount: There is none.
        WrongAccount: It is closed.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        if account.kind == "program":
            raise WrongAccount(f"{account.name} is a program: it has tokens and no password.")
        if account.closed_at is not None:
            raise WrongAccount(f"The account of {account.name} is closed; open it again first.")
        kind, days = ("reset", RESET_DAYS) if account.password_hash else ("invite", INVITED_DAYS)
        insert_audit(
            connection, "password-link-made", account.sign_in, _who(by), context.now(), kind=kind
        )
        return _link(context, connection, kind, account_id, _who(by), timedelta(days=days))


def close(context: Context, account_id: int, by: Account | None) -> None:
    """Close an account: its browsers are signed out, its links count no more, what it did stays.

    Raises:
        NoSuchAccount: There is none.
        LastAdministrator: Nobody would be left who administers.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        _keep_one(context, connection, account, stays=False)
        store.set_closed(connection, account_id, context.now())
        store.delete_sessions(connection, account_id)
        store.delete_links(connection, account_id)
        insert_audit(connection, "account-closed", account.sign_in, _who(by), context.now())


def reopen(context: Context, account_id: int, by: Account | None) -> None:
    """Open a closed account again, with what it might do before.

    Raises:
        NoSuchAccount: There is none.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        store.set_closed(connection, account_id, None)
        insert_audit(connection, "account-opened-again", account.sign_in, _who(by), context.now())


def sign_out_everywhere(context: Context, account_id: int, by: Account) -> int:
    """End all of somebody's sessions, and return how many.

    Raises:
        NoSuchAccount: There is none.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        ended = store.delete_sessions(connection, account_id)
        insert_audit(
            connection, "signed-out-by", account.sign_in, by.id, context.now(), sessions=ended
        )
    return ended


def look_at_link(context: Context, token: str) -> tuple[Link, Account | None]:
    """Say what a link is for.

    Raises:
        LinkGone: It was used, replaced or ran out, or its account is closed.
    """
    with context.database.transaction() as connection:
        return _find_link(context, connection, token)


def _find_link(
    context: Context, connection: Connection, token: str, *, lock: bool = False
) -> tuple[Link, Account | None]:
    link = store.get_link(connection, digest_of(token), context.now(), lock=lock)
    if link is None:
        raise LinkGone
    if link.account_id is None:
        return link, None
    account = store.get_account_by_id(connection, link.account_id)
    if account is None or not account.is_open(context.today()):
        raise LinkGone
    return link, account


def use_link(
    context: Context, token: str, password: str, *, sign_in: str = "", name: str = ""
) -> str:
    """Choose a password by a link, which counts no more then.

    Args:
        context: Database and clock.
        token: Of the link.
        password: The password.
        sign_in: Of the first administrator, whose account is made.
        name: Of the first administrator.

    Returns:
        The name to sign in with.

    Raises:
        LinkGone: It was used, replaced or ran out.
        WeakPassword: The password is guessed soon.
        WrongAccount: The first administrator's names cannot be so.
    """
    link, account = look_at_link(context, token)
    if account is None:
        sign_in, name = read_names(sign_in, name)
    else:
        sign_in, name = account.sign_in, account.name
    refuse_weak(password, sign_in, name)
    hashed = hash_password(password)
    with context.database.transaction() as connection:
        link, account = _find_link(context, connection, token, lock=True)
        store.delete_link(connection, digest_of(token))
        if account is None:
            if store.count_accounts(connection):
                raise LinkGone
            account_id = store.insert_account(
                connection, sign_in, name, hashed, Level.ADMINISTER, context.now()
            )
        else:
            account_id = account.id
            store.set_password(connection, account_id, hashed, context.now())
            store.delete_sessions(connection, account_id)
        insert_audit(
            connection, "password-chosen", sign_in, account_id, context.now(), kind=link.kind
        )
    return sign_in
