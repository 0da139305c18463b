"""A database that is lent again is as it was made, whatever a test did to it."""

from __future__ import annotations

import pytest

from nevefield.store.connection import Database
from tests.shelf import COUNTER, make_database

SPOIL = {
    "a row more": "INSERT INTO one (word) VALUES ('c')",
    "a row more, and none of it left": "INSERT INTO one (word) VALUES ('c'); DELETE FROM one"
    " WHERE word = 'c'",
    "a value": "UPDATE two SET at = at + 1",
    "all gone": "DELETE FROM two; DELETE FROM one",
    "another column": "ALTER TABLE one ADD COLUMN more INT",
    "another table": "CREATE TABLE three (id INT)",
    "a table less": "DROP TABLE two",
}


@pytest.fixture
def source(server, shelf):
    """A source with two tables, one of which leads to the other."""
    make_database(server, "nevefield_source")
    database = Database(f"{server.rsplit('/', 1)[0]}/nevefield_source")
    with database.transaction() as connection:
        connection.run(
            "CREATE TABLE one (id INT AUTO_INCREMENT PRIMARY KEY, word VARCHAR(9) NOT NULL)"
        )
        connection.run(
            "CREATE TABLE two (at INT PRIMARY KEY, one_id INT,"
            " CONSTRAINT leads FOREIGN KEY (one_id) REFERENCES one (id))"
        )
        connection.run("INSERT INTO one (word) VALUES ('a'), ('b')")
        connection.run("INSERT INTO two VALUES (5, 1)")
    yield "nevefield_source"
    with database.transaction() as connection:
        connection.run("DROP DATABASE nevefield_source")
    database.close()


def look(server: str, name: str) -> dict[str, tuple]:
    """What a database has: each table as it is made, and its rows."""
    database = Database(f"{server.rsplit('/', 1)[0]}/{name}")
    with database.transaction() as connection:
        found = {
            table: (
                connection.row(f"SHOW CREATE TABLE {table}")[1],
                connection.rows(f"SELECT * FROM {table} ORDER BY 1"),
            )
            for (table,) in connection.rows("SHOW TABLES")
        }
    database.close()
    return found


def test_as_it_was_made(server, shelf, source):
    """Rows, counters and tables are those of the source each time, and one that is no more like it
    is not lent again.
    """
    expected = look(server, source)
    assert COUNTER.search(expected["one"][0])[1] == "3"
    for what, spoil in SPOIL.items():
        name = shelf.take(source)
        assert look(server, name) == expected, what
        database = Database(f"{server.rsplit('/', 1)[0]}/{name}")
        with database.transaction() as connection:
            connection.run("SET foreign_key_checks = 0")
            for statement in spoil.split("; "):
                connection.run(statement)
        database.close()
        shelf.give_back(source, name)
    first, second = shelf.take(source), shelf.take(source)
    assert first != second
    assert look(server, first) == look(server, second) == expected
    for name in (first, second):
        shelf.give_back(source, name)
