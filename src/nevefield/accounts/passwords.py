"""Passwords: long enough, not soon guessed, changed by who knows the old one.

Source: NIST SP 800-63B, 5.1.1.2 (length, and what is commonly used); D. Wheeler, "zxcvbn:
Low-Budget Password Strength Estimation", USENIX Security 2016.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.accounts.errors import WeakPassword, WrongPassword
from nevefield.accounts.signing import (
    SHORTEST,
    digest_of,
    fits,
    hash_password,
    take_try_of,
)
from nevefield.store import accounts as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.accounts import Account

__all__ = ["change_password", "refuse_weak"]

LONGEST = 200  # characters
LOOKED_AT = 72  # characters: more of them take the estimate long, and say nothing new
GUESSED_SOON = 2  # of the estimate's 0 to 4: fewer than 10⁸ guesses


def refuse_weak(password: str, *own: str, shortest: int = SHORTEST) -> None:
    """See that a password is not soon guessed.

    Args:
        password: The password.
        own: Words that others know of its owner: names, the institution's.
        shortest: Characters that it needs.

    Raises:
        WeakPassword: It is too short, too long, or one that is tried first.
    """
    if len(password) < shortest:
        raise WeakPassword(
            f"The password is too short: it has {len(password)} characters and needs at least"
            f" {shortest}."
        )
    if len(password) > LONGEST:
        raise WeakPassword(f"The password is too long; {LONGEST} characters are enough.")
    # what it is estimated by is large, and needed for this alone
    from zxcvbn import zxcvbn

    found = zxcvbn(password[:LOOKED_AT], user_inputs=[word for word in own if word])
    if found["score"] < GUESSED_SOON:
        raise WeakPassword(
            "This password is guessed soon: it is made of a common word, a name or a row of keys."
            " Four words that have nothing to do with each other are a good one."
        )


def change_password(
    context: Context, account: Account, old: str, new: str, token: str, address: str
) -> None:
    """Change one's own password; everywhere else one is signed out.

    Args:
        context: Database and clock.
        account: Whose.
        old: The password so far.
        new: The new one.
        token: Of the session that stays.
        address: From where.

    Raises:
        Throttled: Too many tries did not fit.
        WrongPassword: The old one does not fit.
        WeakPassword: The new one is guessed soon.
    """
    refuse_weak(new, account.sign_in, account.name)
    forgive = take_try_of(context, account, address)
    if not fits(account.password_hash, old):
        raise WrongPassword
    hashed = hash_password(new)
    with context.database.transaction() as connection:
        forgive(connection)
        store.set_password(connection, account.id, hashed, context.now())
        store.delete_others(connection, account.id, digest_of(token))
        store.delete_links(connection, account.id)
        insert_audit(
            connection,
            "password-changed",
            account.sign_in,
            account.id,
            context.now(),
            address=address,
        )
