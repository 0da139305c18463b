"""A newer version on a database that people worked with: a copy of before, then the alteration."""

from __future__ import annotations

import pytest

from nevefield.copies.errors import CopyFailed
from nevefield.copies.making import Place, bring_back, list_copies, try_copy
from nevefield.rosters.opening import open_roster_with
from nevefield.run.upgrading import copy_before
from nevefield.store.connection import Database
from nevefield.store.schema import known_migrations, migrate, pending
from tests.keeping.test_outlasting import DOCUMENT, GUILD, numbers

LAST = "keeping_term"  # the table of a migration that the older version does not know


@pytest.fixture
def place(database_url, tmp_path):
    return Place(database_url, database_url, tmp_path / "copies")


@pytest.fixture
def older(bare):
    """A guild in a database that lacks a table of this version."""
    open_roster_with(bare, DOCUMENT, GUILD)
    last = next(name for name in reversed(known_migrations()) if name.endswith(f"{LAST}.sql"))
    with bare.database.transaction() as connection:
        connection.run(f"DROP TABLE {LAST}")
        connection.run("DELETE FROM migration WHERE name = %s", (last,))
    return bare


def test_copy_of_before(older, place, clock):
    """It says what becomes another, the copy is there before anything is, it is good, and it brings
    the older state back.
    """
    heard = []
    name = copy_before(older.database, place, clock(), heard.append)
    assert "keeping term" in heard[0]
    assert name in heard[-1]
    with older.database.transaction() as connection:
        assert pending(connection) != []  # nothing was altered yet
    migrate(older.database)
    try_copy(place, name)
    assert copy_before(older.database, place, clock(), heard.append) is None
    assert [one.name for one in list_copies(place.folder)] == [name]
    kept = bring_back(place, name, clock())
    with older.database.transaction() as connection:
        assert pending(connection) != []
        connection.run(f"DROP DATABASE `{kept}`")
    assert len(numbers(older)) == len(GUILD)


def test_nothing_without_a_copy(older, place, clock):
    """Where it cannot be made, the reason is said and the database is as it was."""
    place.folder.parent.mkdir(exist_ok=True)
    place.folder.write_text("somebody's file")
    with pytest.raises(CopyFailed, match="cannot be made"):
        copy_before(older.database, place, clock(), lambda _: None)
    with older.database.transaction() as connection:
        assert pending(connection) != []


def test_a_new_database_has_nothing_to_lose(database_url, place, clock):
    """Where nobody worked yet, nothing is copied and nothing is said."""
    heard = []
    new = Database(database_url)
    assert copy_before(new, place, clock(), heard.append) is None
    assert heard == []
    new.close()
