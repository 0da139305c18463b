"""Accounts, their levels, sessions and failed attempts to sign in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Account",
    "Session",
    "count_attempts",
    "delete_attempts",
    "delete_session",
    "get_account",
    "get_session",
    "grant",
    "insert_account",
    "insert_attempt",
    "insert_session",
    "list_accounts",
    "list_levels",
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


def insert_account(connection: Connection, sign_in: str, name: str, password_hash: str, level: int, at: datetime) -> int:
    """Add an account and return its number."""
    return connection.insert(
        "INSERT INTO account (sign_in, name, password_hash, level, created_at) VALUES (%s, %s, %s, %s, %s)",
        (sign_in, name, password_hash, level, at),
    )


def get_account(connection: Connection, sign_in: str) -> Account | None:
    """Find an account by the name to sign in with."""
    row = connection.row("SELECT id, sign_in, name, password_hash, level FROM account WHERE sign_in = %s", (sign_in,))
    return Account(*row) if row else None


def list_accounts(connection: Connection) -> list[Account]:
    """List all accounts."""
    return [
        Account(*row) for row in connection.rows("SELECT id, sign_in, name, password_hash, level FROM account ORDER BY sign_in")
    ]


def grant(connection: Connection, account_id: int, roster_id: int, level: int) -> None:
    """Give an account a level in one roster."""
    connection.run(
        "INSERT INTO access (account_id, roster_id, level) VALUES (%s, %s, %s) ON DUPLICATE KEY UPDATE level = VALUES(level)",
        (account_id, roster_id, level),
    )


def list_levels(connection: Connection, account_id: int) -> dict[int, int]:
    """List an account's levels by roster, beside the one it has everywhere."""
    return dict(connection.rows("SELECT roster_id, level FROM access WHERE account_id = %s", (account_id,)))


def insert_session(
    connection: Connection, token_hash: bytes, account_id: int, csrf: str, at: datetime, expires_at: datetime
) -> None:
    """Add a session; sessions that have run out go."""
    connection.run("DELETE FROM session WHERE expires_at < %s", (at,))
    connection.run(
        "INSERT INTO session (token_hash, account_id, csrf, created_at, expires_at) VALUES (%s, %s, %s, %s, %s)",
        (token_hash, account_id, csrf, at, expires_at),
    )


def get_session(connection: Connection, token_hash: bytes, at: datetime) -> Session | None:
    """Find a session that has not run out."""
    row = connection.row(
        "SELECT a.id, a.sign_in, a.name, a.password_hash, a.level, s.csrf, s.expires_at"
        " FROM session s JOIN account a ON a.id = s.account_id"
        " WHERE s.token_hash = %s AND s.expires_at >= %s",
        (token_hash, at),
    )
    return Session(Account(*row[:5]), row[5], row[6]) if row else None


def delete_session(connection: Connection, token_hash: bytes) -> None:
    """End a session."""
    connection.run("DELETE FROM session WHERE token_hash = %s", (token_hash,))


def insert_attempt(connection: Connection, sign_in: str, address: str, at: datetime) -> None:
    """Note a failed attempt to sign in."""
    connection.run("INSERT INTO sign_in_attempt (sign_in, address, at) VALUES (%s, %s, %s)", (sign_in, address, at))


def count_attempts(connection: Connection, sign_in: str, address: str, since: datetime) -> tuple[int, int]:
    """Count failed attempts since a time: for a name, and from an address."""
    who = connection.row("SELECT COUNT(*) FROM sign_in_attempt WHERE sign_in = %s AND at >= %s", (sign_in, since))
    where = connection.row("SELECT COUNT(*) FROM sign_in_attempt WHERE address = %s AND at >= %s", (address, since))
    return (who[0] if who else 0, where[0] if where else 0)


def delete_attempts(connection: Connection, sign_in: str) -> None:
    """Forget failed attempts for a name."""
    connection.run("DELETE FROM sign_in_attempt WHERE sign_in = %s", (sign_in,))
