"""Migrations: numbered, forward only, one schema statement a file."""

from __future__ import annotations

from importlib import resources
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nevefield.store.connection import Connection, Database

__all__ = ["migrate", "pending"]


def pending(connection: Connection) -> list[str]:
    """List the migrations that were not applied yet, in their order."""
    found = connection.row(
        "SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'migration'"
    )
    done = {row[0] for row in connection.rows("SELECT name FROM migration")} if found and found[0] else set()
    names = sorted(one.name for one in resources.files("nevefield.store.migrations").iterdir() if one.name.endswith(".sql"))
    return [name for name in names if name not in done]


def migrate(database: Database) -> list[str]:
    """Apply what is pending, one at a time under a lock, so that two starts do not meet.

    Returns:
        The names applied.
    """
    applied = []
    with database.transaction() as connection:
        connection.row("SELECT GET_LOCK('nevefield-migrate', 60)")
        connection.run(
            "CREATE TABLE IF NOT EXISTS migration (name VARCHAR(120) NOT NULL PRIMARY KEY, at TIMESTAMP NOT NULL DEFAULT NOW())"
        )
        for name in pending(connection):
            # MariaDB commits with every schema statement; the name is written right after it.
            connection.run((resources.files("nevefield.store.migrations") / name).read_text())
            connection.run("INSERT INTO migration (name) VALUES (%s)", (name,))
            connection.raw.commit()
            applied.append(name)
        connection.row("SELECT RELEASE_LOCK('nevefield-migrate')")
    return applied
