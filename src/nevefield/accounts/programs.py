"""Programs: accounts that ask by tokens, with rights as people have them. A token is shown once and
kept as a digest.

Source: RFC 6750 (the header); OWASP ASVS 4.0, 2.10 (service authentication).
"""

from __future__ import annotations

import re
import secrets
from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.accounts.errors import NoSuchAccount, WrongAccount
from nevefield.accounts.people import May, read_names, refuse_administering, write_levels
from nevefield.accounts.signing import digest_of
from nevefield.store import accounts as account_store
from nevefield.store import tokens as store
from nevefield.store.accounts import Session
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from datetime import date

    from nevefield.context import Context
    from nevefield.store.accounts import Account, Person
    from nevefield.store.connection import Connection
    from nevefield.store.tokens import Token

__all__ = [
    "MARK",
    "Program",
    "TokenMade",
    "add_program",
    "end",
    "list_programs",
    "make_token",
    "who_asks",
]

MARK = "nvf_"  # by which people and scanners know a token for one
USED_EACH = timedelta(minutes=1)  # how exactly it is kept when a token was used last


@dataclass(frozen=True)
class Program:
    """A program with its tokens, the last made first."""

    person: Person
    tokens: list[Token]


@dataclass(frozen=True)
class TokenMade:
    """A token, which is shown once."""

    account_id: int
    token: str


def list_programs(context: Context) -> list[Program]:
    """List the programs, by name."""
    now = context.now()
    with context.database.transaction() as connection:
        tokens: dict[int, list[Token]] = {}
        for token in store.list_tokens(connection):
            tokens.setdefault(token.account_id, []).append(token)
        return [
            Program(person, tokens.get(person.account.id, []))
            for person in account_store.list_people(connection, now, now, kind="program")
        ]


def add_program(
    context: Context, name: str, may: May, token_until: date | None, by: Account
) -> TokenMade:
    """Add a program with what it may do, and make its first token.

    Raises:
        WrongAccount: The name is taken or none, or it would administer.
        NoSuchRoster, WrongDefinition: What it may do is about none.
    """
    sign_in = re.sub(r"[^\w.-]+", "-", name.strip().lower()).strip("-")[:60]
    sign_in, name = read_names(f"program-{sign_in}", name)
    refuse_administering(may)
    with context.database.transaction() as connection:
        if account_store.get_account(connection, sign_in):
            raise WrongAccount(f"There is a program called “{name}” already.")
        number = account_store.insert_account(
            connection, sign_in, name, "", may.level, context.now(), kind="program"
        )
        write_levels(connection, number, name, may)
        insert_audit(connection, "program-added", name, by.id, context.now(), **may.note())
        return _make(context, connection, number, name, token_until, by)


def make_token(
    context: Context, account_id: int, token_until: date | None, by: Account
) -> TokenMade:
    """Make another token for a program; earlier ones count until they are ended.

    Raises:
        NoSuchAccount: There is no such program.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        return _make(context, connection, account_id, account.name, token_until, by)


def _make(
    context: Context,
    connection: Connection,
    account_id: int,
    name: str,
    token_until: date | None,
    by: Account,
) -> TokenMade:
    token = MARK + secrets.token_urlsafe(32)
    number = store.insert_token(
        connection, account_id, digest_of(token), token_until, by.id, context.now()
    )
    insert_audit(connection, "token-made", name, by.id, context.now(), token=number)
    return TokenMade(account_id, token)


def end(context: Context, account_id: int, token_id: int, by: Account) -> None:
    """End a token: it counts no more.

    Raises:
        NoSuchAccount: There is no such program.
    """
    with context.database.transaction() as connection:
        account = _require(connection, account_id)
        if store.end_token(connection, account_id, token_id, context.now()):
            insert_audit(
                connection, "token-ended", account.name, by.id, context.now(), token=token_id
            )


def _require(connection: Connection, account_id: int) -> Account:
    account = account_store.get_account_by_id(connection, account_id)
    if account is None or account.kind != "program":
        raise NoSuchAccount(account_id)
    return account


def who_asks(context: Context, token: str) -> Session | None:
    """Find the program that a token lets in, as a session without cookies."""
    if not token.startswith(MARK):
        return None
    now = context.now()
    with context.database.transaction() as connection:
        found = store.get_holder(connection, digest_of(token), context.today())
        if found is None:
            return None
        number, used_at, account = found
        if used_at is None or used_at < now - USED_EACH:
            store.touch_token(connection, number, now)
    return Session(account, "", now, now)
