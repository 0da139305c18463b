"""Accounts, their levels and sessions."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.store.parts import list_parts

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date, datetime

    from nevefield.store.connection import Connection
    from nevefield.store.sight import Part

__all__ = [
    "Account",
    "Link",
    "Person",
    "Place",
    "Session",
    "count_accounts",
    "count_administrators",
    "delete_link",
    "delete_links",
    "delete_others",
    "delete_session",
    "delete_sessions",
    "get_account",
    "get_account_by_id",
    "get_keys",
    "get_link",
    "get_session",
    "grant",
    "insert_account",
    "insert_link",
    "insert_session",
    "list_accounts",
    "list_levels",
    "list_people",
    "list_places",
    "put_keys",
    "set_account",
    "set_closed",
    "set_levels",
    "set_password",
    "touch_session",
]


@dataclass(frozen=True)
class Account:
    """A person who signs in; `level` holds in every roster."""

    id: int
    sign_in: str
    name: str
    password_hash: str = field(repr=False)  # "" until a password was chosen
    level: int
    closed_at: datetime | None = None
    last_day: date | None = None  # on which somebody may sign in
    kind: str = "person"  # or program: it asks by tokens
    may_uncover: bool = False  # sensitive fields, for a task

    def is_open(self, today: date) -> bool:
        """Tell whether somebody may sign in on a day."""
        return self.closed_at is None and (self.last_day is None or self.last_day >= today)


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


_COLUMNS = "id, sign_in, name, password_hash, level, closed_at, last_day, kind, may_uncover"


def insert_account(
    connection: Connection,
    sign_in: str,
    name: str,
    password_hash: str,
    level: int,
    at: datetime,
    *,
    kind: str = "person",
) -> int:
    """Add an account and return its number."""
    return connection.insert(
        "INSERT INTO account (sign_in, name, password_hash, level, created_at, password_at, kind)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s)",
        (sign_in, name, password_hash, level, at, at if password_hash else None, kind),
    )


def get_account_by_id(
    connection: Connection, account_id: int, *, lock: bool = False
) -> Account | None:
    """Find an account by its number."""
    ending = " FOR UPDATE" if lock else ""
    row = connection.row(
        f"SELECT {_COLUMNS} FROM account WHERE id = %s{ending}",  # noqa: S608
        (account_id,),
    )
    return Account(*row) if row else None


def set_account(
    connection: Connection,
    account_id: int,
    name: str,
    level: int,
    last_day: date | None,
    *,
    may_uncover: bool = False,
) -> None:
    """Write what an account is called, its level everywhere, its last day, and whether it may
    uncover sensitive fields.
    """
    connection.run(
        "UPDATE account SET name = %s, level = %s, last_day = %s, may_uncover = %s WHERE id = %s",
        (name, level, last_day, may_uncover, account_id),
    )


def set_levels(
    connection: Connection, account_id: int, levels: Mapping[int, tuple[int, int | None]]
) -> None:
    """Write all levels of an account in single rosters, each with the part that it is for."""
    connection.run("DELETE FROM access WHERE account_id = %s", (account_id,))
    for roster_id, (level, part_id) in levels.items():
        grant(connection, account_id, roster_id, level, part_id)


def set_password(connection: Connection, account_id: int, password_hash: str, at: datetime) -> None:
    """Write a password's digest."""
    connection.run(
        "UPDATE account SET password_hash = %s, password_at = %s WHERE id = %s",
        (password_hash, at, account_id),
    )


def set_closed(connection: Connection, account_id: int, at: datetime | None) -> None:
    """Close an account, or open it again."""
    connection.run("UPDATE account SET closed_at = %s WHERE id = %s", (at, account_id))


def count_administrators(connection: Connection, today: date) -> int:
    """Count those who can sign in and administer everything, and keep the number until the
    transaction ends.
    """
    rows = connection.rows(
        "SELECT id FROM account"
        " WHERE level = 4 AND closed_at IS NULL AND password_hash <> ''"
        " AND (last_day IS NULL OR last_day >= %s)"
        " FOR UPDATE",
        (today,),
    )
    return len(rows)


def count_accounts(connection: Connection) -> int:
    """Count the accounts, closed ones too."""
    row = connection.row("SELECT COUNT(*) FROM account")
    return int(row[0]) if row else 0


@dataclass(frozen=True)
class Person:
    """Somebody who works here, with what they may do and when they were here."""

    account: Account
    created_at: datetime
    password_at: datetime | None
    seen_at: datetime | None
    levels: dict[int, int]  # by roster
    parts: dict[int, Part]  # by roster, of which they have a part alone
    sessions: int  # browsers in which they are signed in
    invited_until: datetime | None  # by when an invitation or a new password's link is to be used


def list_people(
    connection: Connection, at: datetime, seen_since: datetime, *, kind: str = "person"
) -> list[Person]:
    """List everybody who works here or did, by name; or the programs."""
    levels: dict[int, dict[int, int]] = {}
    for account_id, roster_id, level in connection.rows(
        "SELECT account_id, roster_id, level FROM access"
    ):
        levels.setdefault(account_id, {})[roster_id] = level
    rows = connection.rows(
        "SELECT a.id, a.sign_in, a.name, a.password_hash, a.level, a.closed_at, a.last_day,"
        " a.created_at, a.password_at, a.seen_at,"
        " (SELECT COUNT(*) FROM session s"
        "  WHERE s.account_id = a.id AND s.expires_at >= %s AND s.seen_at >= %s),"
        " (SELECT MAX(l.expires_at) FROM pass_link l"
        "  WHERE l.account_id = a.id AND l.expires_at >= %s), a.kind, a.may_uncover"
        " FROM account a"
        " WHERE a.kind = %s"
        " ORDER BY a.closed_at IS NOT NULL, a.name, a.id",
        (at, seen_since, at, kind),
    )
    parts = list_parts(connection, [row[0] for row in rows])
    return [
        Person(
            account=Account(*row[:7], *row[12:]),
            created_at=row[7],
            password_at=row[8],
            seen_at=row[9],
            levels=levels.get(row[0], {}),
            parts=parts[row[0]],
            sessions=row[10],
            invited_until=row[11],
        )
        for row in rows
    ]


@dataclass(frozen=True)
class Link:
    """A link that sets a password once."""

    kind: str  # first, invite, reset
    account_id: int | None
    expires_at: datetime


def insert_link(
    connection: Connection,
    token_hash: bytes,
    kind: str,
    account_id: int | None,
    made_by: int | None,
    at: datetime,
    expires_at: datetime,
) -> None:
    """Add a link; others of the same account, and those that have run out, go."""
    connection.run(
        "DELETE FROM pass_link WHERE expires_at < %s OR account_id <=> %s", (at, account_id)
    )
    connection.run(
        "INSERT INTO pass_link (token_hash, kind, account_id, made_by, made_at, expires_at)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        (token_hash, kind, account_id, made_by, at, expires_at),
    )


def get_link(
    connection: Connection, token_hash: bytes, at: datetime, *, lock: bool = False
) -> Link | None:
    """Find a link that has not been used and has not run out."""
    statement = (
        "SELECT kind, account_id, expires_at FROM pass_link"
        " WHERE token_hash = %s AND expires_at >= %s"
    )
    row = connection.row(statement + (" FOR UPDATE" if lock else ""), (token_hash, at))
    return Link(*row) if row else None


def delete_link(connection: Connection, token_hash: bytes) -> None:
    """Take out a link: it was used."""
    connection.run("DELETE FROM pass_link WHERE token_hash = %s", (token_hash,))


def delete_links(connection: Connection, account_id: int) -> None:
    """Take out all links of an account."""
    connection.run("DELETE FROM pass_link WHERE account_id = %s", (account_id,))


def delete_sessions(connection: Connection, account_id: int) -> int:
    """End all sessions of an account, and return how many."""
    return connection.run("DELETE FROM session WHERE account_id = %s", (account_id,))


def get_account(connection: Connection, sign_in: str) -> Account | None:
    """Find an account by the name to sign in with."""
    row = connection.row(
        f"SELECT {_COLUMNS} FROM account WHERE sign_in = %s",  # noqa: S608
        (sign_in,),
    )
    return Account(*row) if row else None


def list_accounts(connection: Connection) -> list[Account]:
    """List all accounts."""
    return [
        Account(*row)
        for row in connection.rows(
            f"SELECT {_COLUMNS} FROM account ORDER BY sign_in"  # noqa: S608
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


def grant(
    connection: Connection,
    account_id: int,
    roster_id: int,
    level: int,
    part_id: int | None = None,
) -> None:
    """Give an account a level in one roster, or in a part of it."""
    connection.run(
        "INSERT INTO access (account_id, roster_id, level, part_id)"
        " VALUES (%s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE level = VALUES(level), part_id = VALUES(part_id)",
        (account_id, roster_id, level, part_id),
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
    connection.run("UPDATE account SET seen_at = %s WHERE id = %s", (at, account_id))


def get_session(
    connection: Connection, token_hash: bytes, at: datetime, seen_since: datetime, today: date
) -> Session | None:
    """Find a session that has not run out, in which something was done since a time, of an account
    that is open on a day.
    """
    row = connection.row(
        "SELECT a.id, a.sign_in, a.name, a.password_hash, a.level, a.closed_at, a.last_day, a.kind,"
        " a.may_uncover, s.csrf, s.expires_at, s.seen_at"
        " FROM session s"
        " JOIN account a ON a.id = s.account_id"
        " WHERE s.token_hash = %s AND s.expires_at >= %s AND s.seen_at >= %s",
        (token_hash, at, seen_since),
    )
    if row is None or not (account := Account(*row[:9])).is_open(today):
        return None
    return Session(account, *row[9:])


def touch_session(connection: Connection, token_hash: bytes, at: datetime) -> None:
    """Note that something was done in a session."""
    connection.run("UPDATE session SET seen_at = %s WHERE token_hash = %s", (at, token_hash))
    connection.run(
        "UPDATE account SET seen_at = %s"
        " WHERE id = (SELECT account_id FROM session WHERE token_hash = %s)",
        (at, token_hash),
    )


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
