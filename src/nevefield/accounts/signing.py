"""Signing in and out, and levels.

Tries are counted before they are made, and after some that do not fit each one makes the next wait
longer: nobody is locked out. On a device on which somebody signed in before, only the tries on it
count, so that nobody else makes them wait.

Source: OWASP, "Slow down online guessing attacks with device cookies"; OWASP ASVS 4.0, 2.2.1 and
3.3.
"""

from __future__ import annotations

import hashlib
import ipaddress
import math
import secrets
import threading
from dataclasses import dataclass
from datetime import timedelta
from functools import cache
from typing import TYPE_CHECKING

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

from nevefield.store import accounts as store
from nevefield.store import door
from nevefield.store.audit import insert_audit
from nevefield.store.looked import list_uncovered
from nevefield.store.parts import list_parts
from nevefield.store.sight import Level, Sight

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = [
    "SHORTEST",
    "CodeNeeded",
    "Level",
    "SignedIn",
    "Throttled",
    "WrongSignIn",
    "add_account",
    "digest_of",
    "end_others",
    "fits",
    "hash_password",
    "idle_time",
    "places_of",
    "sight_of",
    "sign_in",
    "sign_out",
    "take_try_of",
    "who",
]

FROM_ONE_ADDRESS = 30  # tries from one address without a wait, whatever the names
LONGEST_WAIT = 900  # seconds
LONGEST_FOR_NAME = 30  # seconds that a name waits for tries made elsewhere
AT_ONCE = 2  # passwords that are checked at once by a process: each takes 64 MB and a core
SEEN_EACH = timedelta(minutes=1)  # how exactly it is kept when a session was used last
SHORTEST = 10  # characters of a password
_HASHER = PasswordHasher()
_CHECKING = threading.BoundedSemaphore(AT_ONCE)


@dataclass(frozen=True)
class SignedIn:
    """A session that was begun, with the tokens for the cookies, of which only digests are
    stored.
    """

    token: str
    device: str
    session: store.Session


class WrongSignIn(Exception):
    """Name and password do not fit together."""

    def __init__(self) -> None:
        super().__init__("Name and password do not fit together.")


class CodeNeeded(Exception):
    """Name and password fit, and the account signs in with a code too; `is_wrong` tells whether
    one was given.
    """

    def __init__(self, *, is_wrong: bool) -> None:
        self.is_wrong = is_wrong
        super().__init__(
            "That code does not fit, or was used already. Take the one that the app shows now."
            if is_wrong
            else "Type the code that your app shows, or one of your recovery codes."
        )


class Throttled(Exception):
    """Too many tries did not fit; `seconds` tells how long to wait."""

    def __init__(self, seconds: int) -> None:
        self.seconds = max(seconds, 1)
        wait = (
            f"{self.seconds} second{'s' * (self.seconds > 1)}"
            if self.seconds < 120
            else f"{-(-self.seconds // 60)} minutes"
        )
        super().__init__(f"Too many tries did not fit. Try again in {wait}.")


def add_account(
    context: Context,
    sign_in_name: str,
    name: str,
    password: str,
    level: Level,
    rosters: dict[int, Level] | None = None,
    parts: dict[int, int] | None = None,
) -> int:
    """Add an account with a level everywhere, and other levels in single rosters or parts of them.

    Raises:
        ValueError: The password is too short, or the name is taken or empty.
    """
    if not sign_in_name.strip() or len(sign_in_name) > 80:
        raise ValueError("A sign-in name has 1 to 80 characters.")
    if len(password) < SHORTEST:
        raise ValueError(f"The password is too short; it needs at least {SHORTEST} characters.")
    hashed = hash_password(password)
    with context.database.transaction() as connection:
        if store.get_account(connection, sign_in_name):
            raise ValueError(f"{sign_in_name!r} is the name of another account.")
        account_id = store.insert_account(
            connection, sign_in_name, name or sign_in_name, hashed, level, context.now()
        )
        for roster_id, roster in (rosters or {}).items():
            part_id = (parts or {}).get(roster_id)
            store.grant(connection, account_id, roster_id, roster, part_id)
        insert_audit(
            connection, "account-added", sign_in_name, None, context.now(), level=int(level)
        )
    return account_id


def hash_password(password: str) -> str:
    """Make what is stored of a password."""
    with _CHECKING:
        return _HASHER.hash(password)


@cache
def _nobody() -> str:
    """What is checked for unknown names, so that they take as long as known ones."""
    return hash_password("nobody has this password")


def sign_in(
    context: Context,
    name: str,
    password: str,
    address: str,
    device: str = "",
    *,
    second: Callable[[Connection, int], bool | None] = lambda connection, account_id: None,
    code: str = "",
) -> SignedIn:
    """Check name and password, and a code where the account has a second step, and begin a
    session.

    Args:
        context: Database and clock.
        name: To sign in with.
        password: The password.
        address: From where.
        device: The token that this device was given at an earlier sign-in; "" for none.
        second: Takes the code: see `second.take_code`.
        code: As it was given; "" for none.

    Raises:
        Throttled: Too many tries did not fit, on this device, for this name or from this address.
        WrongSignIn: They do not fit.
        CodeNeeded: They do, and the code is missing or wrong. It stays a try that did not fit.
    """
    now, name, nobody = context.now(), name[:80], _nobody()
    with context.database.transaction() as connection:
        account = store.get_account(connection, name)
        if account is not None and not (account.is_open(context.today()) and account.password_hash):
            account = None  # told nothing else than of a name that nobody has
        is_known = (
            account is not None
            and bool(device)
            and door.get_device(connection, digest_of(device), account.id, now)
        )
    gates = _gates(context, account, name, address, digest_of(device) if is_known else None)
    closed = context.database.again(lambda connection: door.take_try(connection, gates, now))
    if closed is not None:
        raise Throttled(math.ceil((closed - now).total_seconds()))
    if not fits(account.password_hash if account else nobody, password) or account is None:
        with context.database.transaction() as connection:
            insert_audit(connection, "sign-in-failed", name, None, now, address=address)
        raise WrongSignIn
    with context.database.transaction() as connection:
        fitting = second(connection, account.id)
        if fitting is False:
            why = {"address": address, "why": "the code"}
            insert_audit(connection, "sign-in-failed", name, None, now, **why)
    if fitting is False:
        raise CodeNeeded(is_wrong=bool(code.strip()))
    token, csrf = secrets.token_urlsafe(32), secrets.token_urlsafe(32)
    device = device if is_known else secrets.token_urlsafe(32)
    expires = now + timedelta(hours=context.settings.session_hours)
    with context.database.transaction() as connection:
        door.forgive(connection, gates, now)
        door.keep_device(connection, digest_of(device), account.id, now)
        if context.settings.one_session:
            store.delete_others(connection, account.id, digest_of(token))
        store.insert_session(
            connection, digest_of(token), account.id, csrf, address[:45], now, expires
        )
        insert_audit(connection, "signed-in", account.sign_in, account.id, now, address=address)
    return SignedIn(token, device, store.Session(account, csrf, expires, now))


def take_try_of(
    context: Context, account: store.Account, address: str
) -> Callable[[Connection], None]:
    """Count a try of who is signed in to give their password again.

    Returns:
        What takes the count back, once it fitted.

    Raises:
        Throttled: Too many tries did not fit.
    """
    gates = _gates(context, account, account.sign_in, address, None)
    now = context.now()
    closed = context.database.again(lambda connection: door.take_try(connection, gates, now))
    if closed is not None:
        raise Throttled(math.ceil((closed - now).total_seconds()))
    return lambda connection: door.forgive(connection, gates, now)


def _gates(
    context: Context, account: store.Account | None, name: str, address: str, device: bytes | None
) -> list[door.Gate]:
    """List by what a try is counted: by the device where it is known, else by name and address."""
    few = context.settings.attempts
    if device is not None:
        return [door.Gate(f"device {device.hex()}", few, LONGEST_WAIT)]
    # However a name is written, it is one account's; of a name that nobody has, not even that is to
    # be told.
    who = f"account {account.id}" if account else f"name {digest_of(name.casefold()).hex()[:32]}"
    where = _network(address)
    return [
        door.Gate(f"{who} from {where}", few, LONGEST_WAIT),
        door.Gate(who, 4 * few, LONGEST_FOR_NAME),
        door.Gate(f"address {where}", FROM_ONE_ADDRESS, LONGEST_WAIT),
    ]


def _network(address: str) -> str:
    """Tell whose an address is: of IPv6 the first 64 bits, which one customer has."""
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return "unknown"
    return (
        str(ipaddress.ip_network((found, 64), strict=False)) if found.version == 6 else str(found)
    )


def who(context: Context, token: str, *, is_polled: bool = False) -> store.Session | None:
    """Find the session of a token, if it has neither run out nor been idle for too long.

    Args:
        context: Database and clock.
        token: Of the cookie.
        is_polled: Whether a page asks by itself: that is no use of the session.
    """
    if not token:
        return None
    now = context.now()
    with context.database.transaction() as connection:
        session = store.get_session(
            connection, digest_of(token), now, now - idle_time(context), context.today()
        )
        if session is not None and not is_polled and session.seen_at < now - SEEN_EACH:
            store.touch_session(connection, digest_of(token), now)
    return session


def idle_time(context: Context) -> timedelta:
    """Tell after how long without any act a session ends."""
    return timedelta(minutes=context.settings.idle_minutes or 60 * context.settings.session_hours)


def places_of(context: Context, account: store.Account, token: str) -> list[store.Place]:
    """List where an account is signed in, the last used first."""
    now = context.now()
    with context.database.transaction() as connection:
        return store.list_places(
            connection, account.id, digest_of(token), now, now - idle_time(context)
        )


def end_others(context: Context, account: store.Account, token: str) -> int:
    """End all sessions of an account but the one of a token, and return how many."""
    with context.database.transaction() as connection:
        ended = store.delete_others(connection, account.id, digest_of(token))
        insert_audit(
            connection,
            "signed-out-elsewhere",
            account.sign_in,
            account.id,
            context.now(),
            sessions=ended,
        )
    return ended


def sign_out(context: Context, token: str) -> None:
    """End the session of a token."""
    with context.database.transaction() as connection:
        store.delete_session(connection, digest_of(token))


def sight_of(context: Context, account: store.Account) -> Sight:
    """Tell what an account may see and do."""
    with context.database.transaction() as connection:
        levels = store.list_levels(connection, account.id)
        parts = list_parts(connection, [account.id])[account.id]
        uncovered = frozenset(list_uncovered(connection, account.id, context.now()))
    return Sight(
        Level(account.level),
        {roster: Level(level) for roster, level in levels.items()},
        parts=parts,
        uncovered=uncovered,
    )


def fits(hashed: str, password: str) -> bool:
    """Tell whether a password is the one of a digest."""
    try:
        with _CHECKING:
            return _HASHER.verify(hashed, password)
    except (Argon2Error, InvalidHashError):
        return False


def digest_of(token: str) -> bytes:
    """Give what is stored of a token."""
    return hashlib.sha256(token.encode()).digest()
