"""Tokens by which programs ask: kept as digests."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.store.accounts import Account

if TYPE_CHECKING:
    from datetime import date, datetime

    from nevefield.store.connection import Connection

__all__ = ["Token", "end_token", "get_holder", "insert_token", "list_tokens", "touch_token"]


@dataclass(frozen=True)
class Token:
    """A token of a program."""

    id: int
    account_id: int
    made_at: datetime
    last_day: date | None
    used_at: datetime | None
    ended_at: datetime | None
    by: str  # who made it


def insert_token(
    connection: Connection,
    account_id: int,
    digest: bytes,
    last_day: date | None,
    made_by: int | None,
    at: datetime,
) -> int:
    """Add a token and return its number."""
    return connection.insert(
        "INSERT INTO program_token (account_id, digest, last_day, made_by, made_at)"
        " VALUES (%s, %s, %s, %s, %s)",
        (account_id, digest, last_day, made_by, at),
    )


def list_tokens(connection: Connection) -> list[Token]:
    """List all tokens, the last made first."""
    rows = connection.rows(
        "SELECT t.id, t.account_id, t.made_at, t.last_day, t.used_at, t.ended_at,"
        " COALESCE(a.name, '')"
        " FROM program_token t"
        " LEFT JOIN account a ON a.id = t.made_by"
        " ORDER BY t.id DESC"
    )
    return [Token(*row) for row in rows]


def end_token(connection: Connection, account_id: int, token_id: int, at: datetime) -> bool:
    """End a token of a program; tell whether it counted until now."""
    ended = connection.run(
        "UPDATE program_token"
        " SET ended_at = %s"
        " WHERE id = %s AND account_id = %s AND ended_at IS NULL",
        (at, token_id, account_id),
    )
    return ended == 1


def get_holder(
    connection: Connection, digest: bytes, today: date
) -> tuple[int, datetime | None, Account] | None:
    """Find the program that a token lets in on a day: the token's number, when it was used last,
    and the account.
    """
    row = connection.row(
        "SELECT t.id, t.used_at, a.id, a.sign_in, a.name, a.password_hash, a.level, a.closed_at,"
        " a.last_day, a.kind"
        " FROM program_token t"
        " JOIN account a ON a.id = t.account_id"
        " WHERE t.digest = %s AND t.ended_at IS NULL"
        " AND (t.last_day IS NULL OR t.last_day >= %s)",
        (digest, today),
    )
    if row is None or not (account := Account(*row[2:])).is_open(today):
        return None
    return row[0], row[1], account


def touch_token(connection: Connection, token_id: int, at: datetime) -> None:
    """Note that a token was used."""
    connection.run("UPDATE program_token SET used_at = %s WHERE id = %s", (at, token_id))
    connection.run(
        "UPDATE account SET seen_at = %s"
        " WHERE id = (SELECT account_id FROM program_token WHERE id = %s)",
        (at, token_id),
    )
