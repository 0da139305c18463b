"""Databases that tests use one after another: each is put back to what its source has, which takes
a fraction of making it anew.
"""

from __future__ import annotations

import itertools
import re
import sys
from collections import defaultdict

from nevefield.rosters.snapshots import Cache
from nevefield.store.connection import Connection, Database

__all__ = ["Shelf", "make_database"]

COUNTER = re.compile(r" AUTO_INCREMENT=(\d+)")


def make_database(server: str, name: str) -> None:
    maker = Database(server)
    with maker.transaction() as connection:
        connection.run(f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
    maker.close()


class Shelf:
    """Lends copies of databases of a server.

    Args:
        server: The address of a database on it.
    """

    def __init__(self, server: str) -> None:
        self._maker = Database(server)
        self._server = server
        self._numbers = itertools.count(1)
        self._free: dict[str, list[str]] = defaultdict(list)
        self._made: dict[str, tuple[dict[str, str], dict[str, int]]] = {}

    def take(self, source: str) -> str:
        """Give the name of a database that has what its source has; of "" nothing."""
        if self._free[source]:
            return self._free[source].pop()
        name = f"nevefield_{next(self._numbers)}"
        make_database(self._server, name)
        if source:
            with self._maker.transaction() as connection:
                _unchecked(connection)
                connection.run(f"USE {name}")
                tables, _ = self._as_made(connection, source)
                for table, text in tables.items():
                    connection.run(text)
                    connection.run(f"INSERT INTO {table} SELECT * FROM {source}.{table}")
        return name

    def give_back(self, source: str, name: str) -> None:
        """Put a database back to what its source has."""
        forget()
        with self._maker.transaction() as connection:
            _end_others(connection, name)
            if source and self._put_back(connection, source, name):
                self._free[source].append(name)
            else:
                connection.run(f"DROP DATABASE {name}")

    def close(self) -> None:
        self._maker.close()

    def _as_made(
        self, connection: Connection, source: str
    ) -> tuple[dict[str, str], dict[str, int]]:
        """The tables of a source as they are made, and the sum of what is in each."""
        if source not in self._made:
            tables = _tables(connection, source)
            self._made[source] = tables, _sums(connection, source, tables)
        return self._made[source]

    def _put_back(self, connection: Connection, source: str, name: str) -> bool:
        """Put back what was altered; False where a table is another than it was made."""
        made, sums = self._as_made(connection, source)
        tables = _tables(connection, name)
        if {table: COUNTER.sub("", text) for table, text in tables.items()} != {
            table: COUNTER.sub("", text) for table, text in made.items()
        }:
            return False
        found = _sums(connection, name, tables)
        _unchecked(connection)
        for table, text in tables.items():
            if found[table] != sums[table]:
                connection.run(f"DELETE FROM {name}.{table}")
                connection.run(f"INSERT INTO {name}.{table} SELECT * FROM {source}.{table}")
            if text != made[table]:
                counter = COUNTER.search(made[table])
                connection.run(
                    f"ALTER TABLE {name}.{table} AUTO_INCREMENT = {counter[1] if counter else 1}"
                )
        return True


def forget() -> None:
    """Forget what the product remembers of databases: another one has the same name soon."""
    for name, module in list(sys.modules.items()):
        if name.startswith("nevefield."):
            for value in vars(module).values():
                if isinstance(value, Cache):
                    value.empty()


def _unchecked(connection: Connection) -> None:
    connection.run("SET foreign_key_checks = 0, unique_checks = 0")


def _end_others(connection: Connection, name: str) -> None:
    """End what a test left behind: it writes no more."""
    for (number,) in connection.rows(
        "SELECT id FROM information_schema.processlist WHERE db = %s AND id <> CONNECTION_ID()",
        (name,),
    ):
        connection.run(f"KILL {number}")


def _tables(connection: Connection, name: str) -> dict[str, str]:
    return {
        table: connection.row(f"SHOW CREATE TABLE {name}.{table}")[1]
        for (table,) in connection.rows(f"SHOW TABLES FROM {name}")
    }


def _sums(connection: Connection, name: str, tables: dict[str, str]) -> dict[str, int]:
    """A sum of what is in each table."""
    names = ", ".join(f"{name}.{table}" for table in tables)
    return {
        table.split(".")[1]: number for table, number in connection.rows(f"CHECKSUM TABLE {names}")
    }
