"""The second step of signing in: a code of six digits from an app, or a recovery code.

Secrets are kept encrypted, by a key that is not in the database; of recovery codes only digests are
kept. No code counts twice.

Source: RFC 6238 (time-based codes: SHA-1, six digits, 30 seconds; one step either way, 5.2), RFC
4226 (7.3: throttling is that of the sign-in).
"""

from __future__ import annotations

import hashlib
import hmac
import io
import re
import secrets
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING

import pyotp
import segno
from cryptography.fernet import Fernet, InvalidToken

from nevefield.accounts.errors import NoStepKey, NotBegun, WrongCode, WrongPassword
from nevefield.accounts.signing import digest_of, fits, sign_in, take_try_of
from nevefield.store import accounts as account_store
from nevefield.store import second as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.accounts.signing import SignedIn
    from nevefield.context import Context
    from nevefield.store.accounts import Account
    from nevefield.store.connection import Connection

__all__ = [
    "Begun",
    "Standing",
    "begin_second",
    "confirm",
    "enter",
    "how_it_stands",
    "new_codes",
    "take_code",
    "turn_off",
    "turn_off_of",
    "with_second",
]

STEP_SECONDS = 30
STEPS_AROUND = (0, -1, 1)  # clocks differ
RECOVERY_CODES = 10
ALPHABET = "23456789abcdefghjkmnpqrstuvwxyz"  # nothing that is taken for another
_DIGITS = re.compile(r"\d{6}")


@dataclass(frozen=True)
class Begun:
    """What an app needs to know; shown once.

    Args:
        secret: In base 32, to be typed.
        address: The same as an address that apps read.
        picture: That as a square code, SVG.
    """

    secret: str
    address: str
    picture: str


@dataclass(frozen=True)
class Standing:
    """How it stands with somebody's second step."""

    is_on: bool
    since: datetime | None
    codes_left: int
    can_be: bool  # whether this installation has a key for the secrets


def how_it_stands(context: Context, account: Account) -> Standing:
    """Tell how it stands with somebody's second step."""
    with context.database.transaction() as connection:
        second = store.get_second(connection, account.id)
        left = store.count_codes(connection, account.id)
    since = second.confirmed_at if second else None
    return Standing(since is not None, since, left, bool(context.settings.step_key))


def begin_second(context: Context, account: Account, institution: str) -> Begun:
    """Make a secret for somebody's app; it counts once a code from it has fitted.

    Args:
        context: Database, clock, key.
        account: Whose.
        institution: As the app is to name it.

    Raises:
        NoStepKey: The installation has no key.
        NotBegun: There is a second step already.
    """
    secret = pyotp.random_base32()
    kept = _lock(context, secret)
    with context.database.transaction() as connection:
        second = store.get_second(connection, account.id, lock=True)
        if second is not None and second.confirmed_at is not None:
            raise NotBegun("There is a second step already; take it away first.")
        store.put_second(connection, account.id, kept, context.now())
    address = pyotp.TOTP(secret).provisioning_uri(
        name=account.sign_in, issuer_name=institution or "Nevefield"
    )
    out = io.BytesIO()
    segno.make(address, error="m").save(out, kind="svg", scale=4, border=3, xmldecl=False)
    return Begun(secret, address, out.getvalue().decode())


def confirm(context: Context, account: Account, code: str, token: str) -> list[str]:
    """Let somebody's second step count, given a first code from their app; everywhere else they
    are signed out.

    Returns:
        Recovery codes, which are shown this once.

    Raises:
        NotBegun: Nothing was begun.
        WrongCode: It does not fit.
        Throttled: Too many did not.
    """
    forgive = take_try_of(context, account, context.database.sight.address)
    with context.database.transaction() as connection:
        second = store.get_second(connection, account.id, lock=True)
        if second is None or second.confirmed_at is not None:
            raise NotBegun("No second step was begun; begin it first.")
        counter = _counter_of(context, second, code)
        if counter is None:
            raise WrongCode
        forgive(connection)
        store.set_counter(connection, account.id, counter)
        store.confirm_second(connection, account.id, context.now())
        codes = _make_codes(connection, account.id)
        account_store.delete_others(connection, account.id, digest_of(token))
        insert_audit(connection, "second-step-on", account.sign_in, account.id, context.now())
    return codes


def new_codes(context: Context, account: Account, password: str) -> list[str]:
    """Make new recovery codes; the old ones count no more.

    Raises:
        WrongPassword, Throttled: Whoever asks does not know the password.
        NotBegun: There is no second step.
    """
    with _asked_again(context, account, password) as connection:
        second = store.get_second(connection, account.id, lock=True)
        if second is None or second.confirmed_at is None:
            raise NotBegun("There is no second step, and so no recovery codes.")
        codes = _make_codes(connection, account.id)
        insert_audit(connection, "recovery-codes-made", account.sign_in, account.id, context.now())
    return codes


def turn_off(context: Context, account: Account, password: str) -> None:
    """Take one's own second step away.

    Raises:
        WrongPassword, Throttled: Whoever asks does not know the password.
    """
    with _asked_again(context, account, password) as connection:
        if store.delete_second(connection, account.id):
            insert_audit(connection, "second-step-off", account.sign_in, account.id, context.now())


def turn_off_of(context: Context, account: Account, by: Account | None) -> bool:
    """Take the second step of somebody away who lost their app and their codes; tell whether there
    was one.
    """
    with context.database.transaction() as connection:
        had = store.delete_second(connection, account.id)
        if had:
            who = by.id if by is not None else None
            insert_audit(connection, "second-step-off", account.sign_in, who, context.now())
    return had


def enter(
    context: Context, name: str, password: str, address: str, device: str = "", code: str = ""
) -> SignedIn:
    """Sign in, with a code where the account has a second step.

    Raises:
        Throttled, WrongSignIn, CodeNeeded: See `sign_in`.
        NoStepKey: The installation has not the key by which the secret is kept.
    """

    def second(connection: Connection, account_id: int) -> bool | None:
        return take_code(context, connection, account_id, code)

    return sign_in(context, name, password, address, device, second=second, code=code)


def with_second(context: Context) -> set[int]:
    """List the accounts that sign in with a second step, by number."""
    with context.database.transaction() as connection:
        return store.list_second(connection)


def take_code(context: Context, connection: Connection, account_id: int, code: str) -> bool | None:
    """Take the code of a sign-in.

    Returns:
        Whether it fits; None where the account signs in without one.
    """
    second = store.get_second(connection, account_id, lock=True)
    if second is None or second.confirmed_at is None:
        return None
    plain = re.sub(r"[\s-]", "", code).lower()
    if _DIGITS.fullmatch(plain):
        counter = _counter_of(context, second, plain)
        if counter is not None:
            store.set_counter(connection, account_id, counter)
        return counter is not None
    digest = _digest(account_id, plain)
    return bool(plain) and store.use_code(connection, account_id, digest, context.now())


@contextmanager
def _asked_again(context: Context, account: Account, password: str) -> Iterator[Connection]:
    """Open a transaction of somebody who gave their password again."""
    forgive = take_try_of(context, account, context.database.sight.address)
    if not fits(account.password_hash, password):
        raise WrongPassword
    with context.database.transaction() as connection:
        forgive(connection)
        yield connection


def _counter_of(context: Context, second: store.SecondStep, code: str) -> int | None:
    """Find of which half minute a code is; None where it is of none around now, or was used."""
    otp = pyotp.TOTP(_unlock(context, second.secret))
    now = int(context.now().replace(tzinfo=UTC).timestamp()) // STEP_SECONDS
    plain = re.sub(r"\s", "", code)
    for around in STEPS_AROUND:
        counter = now + around
        fitting = hmac.compare_digest(otp.generate_otp(counter).encode(), plain.encode())
        if fitting and counter > second.last_counter:
            return counter
    return None


def _make_codes(connection: Connection, account_id: int) -> list[str]:
    plain = ["".join(secrets.choice(ALPHABET) for _ in range(10)) for _ in range(RECOVERY_CODES)]
    store.put_codes(connection, account_id, [_digest(account_id, code) for code in plain])
    return [f"{code[:5]}-{code[5:]}" for code in plain]


def _digest(account_id: int, code: str) -> bytes:
    return hashlib.sha256(f"{account_id} {code}".encode()).digest()


def _cipher(context: Context) -> Fernet:
    cipher = context.cipher()
    if cipher is None:
        raise NoStepKey
    return cipher


def _lock(context: Context, secret: str) -> bytes:
    return _cipher(context).encrypt(secret.encode())


def _unlock(context: Context, kept: bytes) -> str:
    try:
        return _cipher(context).decrypt(kept).decode()
    except InvalidToken as error:
        raise NoStepKey from error
