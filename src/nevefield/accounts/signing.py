"""Signing in and out, and levels."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import TYPE_CHECKING

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

from nevefield.store import accounts as store
from nevefield.store.audit import insert_audit
from nevefield.store.sight import Level, Sight

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["Level", "Throttled", "WrongSignIn", "add_account", "sight_of", "sign_in", "sign_out", "who"]

WINDOW = timedelta(minutes=15)
FROM_ONE_ADDRESS = 30  # failed attempts from one address within the window, whatever the names
SHORTEST = 10  # characters of a password
_HASHER = PasswordHasher()
_NOBODY = _HASHER.hash("nobody has this password")  # checked for unknown names, so that they take as long as known ones


class WrongSignIn(Exception):
    """Name and password do not fit together."""

    def __init__(self) -> None:
        super().__init__("Name and password do not fit together.")


class Throttled(Exception):
    """Too many attempts failed."""

    def __init__(self) -> None:
        super().__init__("Too many attempts failed. Try again in a quarter of an hour.")


def add_account(
    context: Context, sign_in_name: str, name: str, password: str, level: Level, rosters: dict[int, Level] | None = None
) -> int:
    """Add an account with a level everywhere, and other levels in single rosters.

    Raises:
        ValueError: The password is too short, or the name is taken or empty.
    """
    if not sign_in_name.strip() or len(sign_in_name) > 80:
        raise ValueError("A sign-in name has 1 to 80 characters.")
    if len(password) < SHORTEST:
        raise ValueError(f"The password is too short; it needs at least {SHORTEST} characters.")
    hashed = _HASHER.hash(password)
    with context.database.transaction() as connection:
        if store.get_account(connection, sign_in_name):
            raise ValueError(f"{sign_in_name!r} is the name of another account.")
        account_id = store.insert_account(connection, sign_in_name, name or sign_in_name, hashed, level, context.now())
        for roster_id, one in (rosters or {}).items():
            store.grant(connection, account_id, roster_id, one)
        insert_audit(connection, "account-added", sign_in_name, None, context.now(), level=int(level))
    return account_id


def sign_in(context: Context, name: str, password: str, address: str) -> tuple[str, store.Session]:
    """Check name and password and begin a session.

    Returns:
        The token for the cookie, of which only a digest is stored, and the session.

    Raises:
        Throttled: Too many attempts failed, for this name or from this address.
        WrongSignIn: They do not fit.
    """
    now = context.now()
    name = name[:80]
    with context.database.transaction() as connection:
        for_name, from_address = store.count_attempts(connection, name, address, now - WINDOW)
        account = store.get_account(connection, name)
    if for_name >= context.settings.attempts or from_address >= FROM_ONE_ADDRESS:
        raise Throttled
    if not _fits(account.password_hash if account else _NOBODY, password) or account is None:
        with context.database.transaction() as connection:
            store.insert_attempt(connection, name, address, now)
            insert_audit(connection, "sign-in-failed", name, None, now, address=address)
        raise WrongSignIn
    token, csrf = secrets.token_urlsafe(32), secrets.token_urlsafe(32)
    expires = now + timedelta(hours=context.settings.session_hours)
    with context.database.transaction() as connection:
        store.delete_attempts(connection, name)
        store.insert_session(connection, _digest(token), account.id, csrf, now, expires)
        insert_audit(connection, "signed-in", account.sign_in, account.id, now, address=address)
    return token, store.Session(account, csrf, expires)


def who(context: Context, token: str) -> store.Session | None:
    """Find the session of a token."""
    if not token:
        return None
    with context.database.transaction() as connection:
        return store.get_session(connection, _digest(token), context.now())


def sign_out(context: Context, token: str) -> None:
    """End the session of a token."""
    with context.database.transaction() as connection:
        store.delete_session(connection, _digest(token))


def sight_of(context: Context, account: store.Account) -> Sight:
    """Tell what an account may see and do."""
    with context.database.transaction() as connection:
        levels = store.list_levels(connection, account.id)
    return Sight(Level(account.level), {roster: Level(level) for roster, level in levels.items()})


def _fits(hashed: str, password: str) -> bool:
    try:
        return _HASHER.verify(hashed, password)
    except (Argon2Error, InvalidHashError):
        return False


def _digest(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()
