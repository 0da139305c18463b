"""Migrations: numbered, forward only, one schema statement a file."""

from __future__ import annotations

import time
from contextlib import contextmanager, suppress
from importlib import resources
from typing import TYPE_CHECKING

from nevefield.store.errors import OtherVersion, StoreError

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.store.connection import Connection, Database

__all__ = ["known_migrations", "limit_account", "migrate", "pending"]

# of the application, by table; to all others the four of every day
RIGHTS = {
    "audit": "SELECT, INSERT",
    "audit_seal": "SELECT, INSERT",
    "migration": "SELECT",
}
CLAIM = "(under way)"  # stands among the names while one start migrates a cluster
CLAIM_SECONDS = 600  # after which it was broken off: longer than any one migration takes


def pending(connection: Connection) -> list[str]:
    """List the migrations that were not applied yet, in their order.

    Raises:
        OtherVersion: The database knows one that this version of the product does not.
    """
    found = connection.row(
        "SELECT COUNT(*)"
        " FROM information_schema.tables"
        " WHERE table_schema = DATABASE() AND table_name = 'migration'"
    )
    done = (
        {row[0] for row in connection.rows("SELECT name FROM migration")}
        if found and found[0]
        else set()
    )
    names = known_migrations()
    if newer := sorted(done - {*names, CLAIM}):
        raise OtherVersion(tuple(newer))
    return [name for name in names if name not in done]


def known_migrations() -> list[str]:
    """List the migrations that this version of the product knows, in their order."""
    return sorted(
        traversable.name
        for traversable in resources.files("nevefield.store.migrations").iterdir()
        if traversable.name.endswith(".sql")
    )


def migrate(database: Database) -> list[str]:
    """Apply what is pending, one at a time; of two starts that meet, one does it and the other
    waits.

    Returns:
        The names applied.

    Raises:
        DatabaseGone: It does not answer.
        OtherVersion: It belongs to a newer version of the product; nothing was touched.
    """
    applied = []
    with database.transaction() as connection:
        connection.run(
            "CREATE TABLE IF NOT EXISTS migration (name VARCHAR(120) NOT NULL PRIMARY KEY,"
            " at TIMESTAMP NOT NULL DEFAULT NOW())"
        )
    with _alone(database), database.transaction() as connection:
        for name in pending(connection):
            # MariaDB commits with every schema statement; the name is written right after it.
            connection.run((resources.files("nevefield.store.migrations") / name).read_text())
            connection.run("INSERT INTO migration (name) VALUES (%s)", (name,))
            connection.raw.commit()
            applied.append(name)
    return applied


def limit_account(owner: Database, account: Database) -> None:
    """Give an account what the application does with each table, and no more: to the trail it may
    add, and read it.

    Args:
        owner: The database through the account that may give rights.
        account: The same through the application's.
    """
    with account.transaction() as connection:
        (whole,) = connection.row("SELECT CURRENT_USER()") or ("",)
        name, _, host = whole.rpartition("@")
    with owner.transaction() as connection:
        rows = connection.rows(
            "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()"
        )
        for (table,) in rows:
            rights = RIGHTS.get(table, "SELECT, INSERT, UPDATE, DELETE")
            connection.run(f"GRANT {rights} ON `{table}` TO %s@%s", (name, host))


@contextmanager
def _alone(database: Database) -> Iterator[None]:
    """Keep other starts from migrating: by a lock of the server, which goes with its connection.

    A lock of one node is none of another (Galera has no common ones), so on several it is a row.
    """
    if not database.nodes.are_several:
        with database.transaction() as connection:
            connection.row("SELECT GET_LOCK('nevefield-migrate', 60)")
        try:
            yield
        finally:
            with suppress(StoreError), database.transaction() as connection:
                connection.row("SELECT RELEASE_LOCK('nevefield-migrate')")
        return
    while not database.again(_claim):
        time.sleep(0.5)
    try:
        yield
    finally:
        database.again(
            lambda connection: connection.run("DELETE FROM migration WHERE name = %s", (CLAIM,))
        )


def _claim(connection: Connection) -> bool:
    connection.run(
        "DELETE FROM migration WHERE name = %s AND at < NOW() - INTERVAL %s SECOND",
        (CLAIM, CLAIM_SECONDS),
    )
    return connection.run("INSERT IGNORE INTO migration (name) VALUES (%s)", (CLAIM,)) == 1
