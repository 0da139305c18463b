"""How far work is that a request does itself, for whoever asked for it."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["delete_work", "get_work", "set_work"]


def set_work(
    connection: Connection,
    token: str,
    account_id: int | None,
    doing: str,
    done: int,
    total: int,
    at: datetime,
) -> None:
    """Say how far it is."""
    connection.run(
        "INSERT INTO work (token, account_id, doing, done, total, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE doing = IF(account_id <=> %s, VALUES(doing), doing),"
        " done = VALUES(done), total = VALUES(total)",
        (token, account_id, doing, done, total, at, account_id),
    )


def get_work(
    connection: Connection, token: str, account_id: int | None
) -> tuple[str, int, int] | None:
    """Return what is being done, how much of it is, and of how much; None for work that is not,
    or somebody else's.
    """
    return connection.row(
        "SELECT doing, done, total FROM work WHERE token = %s AND account_id <=> %s",
        (token, account_id),
    )


def delete_work(connection: Connection, token: str, account_id: int | None) -> None:
    """Forget work that is done; and what was broken off more than a day ago."""
    connection.run("DELETE FROM work WHERE token = %s AND account_id <=> %s", (token, account_id))
    connection.run("DELETE FROM work WHERE at < NOW(6) - INTERVAL 1 DAY")
