"""Accounts, their levels and sessions."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Account",
    "Place",
    "Session",
    "delete_others",
    "delete_session",
    "get_account",
    "get_keys",
    "get_session",
    "grant",
    "insert_account",
    "insert_session",
    "list_accounts",
    "list_levels",
    "list_places",
    "put_keys",
    "touch_session",
]


@dataclass(frozen=True)
class Account:
    """A person who signs in; `level` holds in every roster."""

    id: int
    sign_in: str
    name: str
    password_hash: str
    level: int


@dataclass(frozen=True)
class Session:
    """A signed-in browser."""

    account: Account
    csrf: str
    expires_at: datetime
    seen_at: datetime


@dataclass(frozen=True)
class Place:
    """Where somebody is signed in."""

    address: str
    at: datetime  # when it was begun
    seen_at: datetime
    is_this: bool


def insert_account(
    connection: Connection, sign_in: str, name: str, password_hash: str, level: int, at: datetime
) -> int:
    """Add an account and return its number."""
    return connection.insert(
        "INSERT INTO account (sign_in, name, password_hash, level, created_at)"
        " VALUES (%s, %s, %s, %s, %s)",
        (sign_in, name, password_hash, level, at),
    )


def get_account(connection: Connection, sign_in: str) -> Account | None:
    """Find an account by the name to sign in with."""
    row = connection.row(
        "SELECT id, sign_in, name, password_hash, level FROM account WHERE sign_in = %s", (sign_in,)
    )
    return Account(*row) if row else None


def list_accounts(connection: Connection) -> list[Account]:
    """List all accounts."""
    return [
        Account(*row)
        for row in connection.rows(
            "SELECT id, sign_in, name, password_hash, level FROM account ORDER BY sign_in"
        )
    ]


def get_keys(connection: Connection, account_id: int) -> tuple[bool, dict[str, str]]:
    """Give whether single keys act for an account, and those pressed in place of ours."""
    single, changed = connection.rows(
        "SELECT single_keys, changed_keys FROM account WHERE id = %s", (account_id,)
    )[0]
    return bool(single), json.loads(changed)


def put_keys(
    connection: Connection, account_id: int, single: bool, changed: dict[str, str]
) -> None:
    """Keep the keys of an account."""
    connection.run(
        "UPDATE account SET single_keys = %s, changed_keys = %s WHERE id = %s",
        (single, json.dumps(changed), account_id),
    )


def grant(connection: Connection, account_id: int, roster_id: int, level: int) -> None:
    """Give an account a level in one roster."""
    connection.run(
        "INSERT INTO access (account_id, roster_id, level)"
        " VALUES (%s, %s, %s)"
        " ON DUPLICATE KEY UPDATE level = VALUES(level)",
        (account_id, roster_id, level),
    )


def list_levels(connection: Connection, account_id: int) -> dict[int, int]:
    """List an account's levels by roster, beside the one it has everywhere."""
    return dict(
        connection.rows("SELECT roster_id, level FROM access WHERE account_id = %s", (account_id,))
    )


def insert_session(
    connection: Connection,
    token_hash: bytes,
    account_id: int,
    csrf: str,
    address: str,
    at: datetime,
    expires_at: datetime,
) -> None:
    """Add a session; sessions that have run out go."""
    connection.run("DELETE FROM session WHERE expires_at < %s", (at,))
    connection.run(
        "INSERT INTO session (token_hash, account_id, csrf, address, created_at, seen_at,"
        " expires_at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s)",
        (token_hash, account_id, csrf, address, at, at, expires_at),
    )


def get_session(
    connection: Connection, token_hash: bytes, at: datetime, seen_since: datetime
) -> Session | None:
    """Find a session that has not run out, and in which something was done since a time."""
    row = connection.row(
        "SELECT a.id, a.sign_in, a.name, a.password_hash, a.level, s.csrf, s.expires_at,"
        " s.seen_at"
        " FROM session s"
        " JOIN account a ON a.id = s.account_id"
        " WHERE s.token_hash = %s AND s.expires_at >= %s AND s.seen_at >= %s",
        (token_hash, at, seen_since),
    )
    return Session(Account(*row[:5]), *row[5:]) if row else None


def touch_session(connection: Connection, token_hash: bytes, at: datetime) -> None:
    """Note that something was done in a session."""
    connection.run("UPDATE session SET seen_at = %s WHERE token_hash = %s", (at, token_hash))


def list_places(
    connection: Connection, account_id: int, token_hash: bytes, at: datetime, seen_since: datetime
) -> list[Place]:
    """List where an account is signed in, the last used first."""
    rows = connection.rows(
        "SELECT address, created_at, seen_at, token_hash = %s"
        " FROM session"
        " WHERE account_id = %s AND expires_at >= %s AND seen_at >= %s"
        " ORDER BY seen_at DESC"
        " LIMIT 20",
        (token_hash, account_id, at, seen_since),
    )
    return [Place(address, began, seen, bool(own)) for address, began, seen, own in rows]


def delete_others(connection: Connection, account_id: int, token_hash: bytes) -> int:
    """End all sessions of an account but one, and return how many."""
    return connection.run(
        "DELETE FROM session WHERE account_id = %s AND token_hash <> %s", (account_id, token_hash)
    )


def delete_session(connection: Connection, token_hash: bytes) -> None:
    """End a session."""
    connection.run("DELETE FROM session WHERE token_hash = %s", (token_hash,))
