"""The second step of signing in: secrets, encrypted, and recovery codes, by digest."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "SecondStep",
    "confirm_second",
    "count_codes",
    "delete_second",
    "get_second",
    "list_second",
    "put_codes",
    "put_second",
    "set_counter",
    "use_code",
]


@dataclass(frozen=True)
class SecondStep:
    """An account's second step."""

    secret: bytes  # encrypted
    confirmed_at: datetime | None  # None: it was begun, and no code has fitted yet
    last_counter: int  # of the last code that fitted


def put_second(connection: Connection, account_id: int, secret: bytes, at: datetime) -> None:
    """Begin an account's second step anew; it counts once it is confirmed."""
    connection.run(
        "INSERT INTO second_step (account_id, secret, begun_at)"
        " VALUES (%s, %s, %s)"
        " ON DUPLICATE KEY UPDATE secret = VALUES(secret), begun_at = VALUES(begun_at),"
        " confirmed_at = NULL, last_counter = 0",
        (account_id, secret, at),
    )


def get_second(connection: Connection, account_id: int, *, lock: bool = False) -> SecondStep | None:
    """Find an account's second step."""
    statement = "SELECT secret, confirmed_at, last_counter FROM second_step WHERE account_id = %s"
    row = connection.row(statement + (" FOR UPDATE" if lock else ""), (account_id,))
    return SecondStep(bytes(row[0]), row[1], row[2]) if row else None


def list_second(connection: Connection) -> set[int]:
    """List the accounts that sign in with a second step."""
    rows = connection.rows("SELECT account_id FROM second_step WHERE confirmed_at IS NOT NULL")
    return {row[0] for row in rows}


def confirm_second(connection: Connection, account_id: int, at: datetime) -> None:
    """Let a second step count from now on."""
    connection.run(
        "UPDATE second_step SET confirmed_at = %s WHERE account_id = %s", (at, account_id)
    )


def set_counter(connection: Connection, account_id: int, counter: int) -> None:
    """Note which code was used last."""
    connection.run(
        "UPDATE second_step SET last_counter = %s WHERE account_id = %s", (counter, account_id)
    )


def delete_second(connection: Connection, account_id: int) -> bool:
    """Take an account's second step away, with its recovery codes; tell whether there was one."""
    connection.run("DELETE FROM recovery_code WHERE account_id = %s", (account_id,))
    return connection.run("DELETE FROM second_step WHERE account_id = %s", (account_id,)) == 1


def put_codes(connection: Connection, account_id: int, digests: Iterable[bytes]) -> None:
    """Put recovery codes in the place of those that an account has."""
    connection.run("DELETE FROM recovery_code WHERE account_id = %s", (account_id,))
    connection.run_many(
        "INSERT INTO recovery_code (account_id, digest) VALUES (%s, %s)",
        [(account_id, digest) for digest in digests],
    )


def use_code(connection: Connection, account_id: int, digest: bytes, at: datetime) -> bool:
    """Use a recovery code; tell whether there was one that had not been used."""
    used = connection.run(
        "UPDATE recovery_code"
        " SET used_at = %s"
        " WHERE account_id = %s AND digest = %s AND used_at IS NULL",
        (at, account_id, digest),
    )
    return used == 1


def count_codes(connection: Connection, account_id: int) -> int:
    """Count the recovery codes that an account has left."""
    row = connection.row(
        "SELECT COUNT(*) FROM recovery_code WHERE account_id = %s AND used_at IS NULL",
        (account_id,),
    )
    return int(row[0]) if row else 0
