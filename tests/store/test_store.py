"""The store on a real MariaDB: migrations, transactions, keys, bulk loads, the queue."""

from __future__ import annotations

from datetime import timedelta

import pymysql
import pytest

from nevefield.store import jobs
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.connection import Database
from nevefield.store.errors import DatabaseGone, KeyTaken, LoadRefused, OtherVersion
from nevefield.store.schema import migrate, pending
from nevefield.store.writing import OutcomeRow, Write, insert_outcomes, write_records
from tests.crew import open_crew

QUIET = lambda *_: None  # noqa: E731


def test_migrates_once(bare):
    """All migrations are applied, and a second run finds nothing to do."""
    with bare.database.transaction() as connection:
        assert pending(connection) == []
    assert migrate(bare.database) == []


def test_rolls_back_on_any_exception(bare):
    """What a transaction did is gone when anything is raised in it."""
    with pytest.raises(KeyboardInterrupt), bare.database.transaction() as connection:
        roster_store.insert_roster(connection, "crew", "Crew", {}, bare.now())
        raise KeyboardInterrupt
    with bare.database.transaction() as connection:
        assert roster_store.list_rosters(connection) == []


def test_reconnects(bare):
    """A connection that the server has closed is made anew for the next transaction."""
    with bare.database.transaction() as connection:
        number = connection.row("SELECT CONNECTION_ID()")[0]
    other = Database(bare.settings.database_url)
    with other.transaction() as connection:
        connection.run("KILL %s", (number,))
    other.close()
    with bare.database.transaction() as connection:
        assert connection.row("SELECT 1") == (1,)


def test_says_when_database_is_gone():
    """Without a server the error is the store's own, in words."""
    with (
        pytest.raises(DatabaseGone, match="does not answer"),
        Database("mysql://x:y@127.0.0.1:1/none").transaction(),
    ):
        pass


def write(context, roster_id: int, *writes: Write):
    with context.database.transaction() as connection:
        version = roster_store.lock_roster(connection, roster_id) + 1
        record_store.insert_change_set(
            connection,
            roster_id,
            version,
            record_store.NewChangeSet(
                kind="intake",
                title="x",
                intake_id=None,
                steps=None,
                undoes=None,
                account_id=None,
                at=context.now(),
            ),
        )
        found = write_records(connection, roster_id, version, writes, QUIET)
        roster_store.set_version(connection, roster_id, version)
        return found


@pytest.fixture
def crew(bare) -> int:
    return open_crew(bare, [])


def test_database_refuses_doubled_keys(bare, crew):
    """The database itself refuses a second record with a key, and nothing of the write stays."""
    write(bare, crew, Write(1, '{"no":"1"}', is_new=True, keys=[("no", "1")]))
    with pytest.raises(KeyTaken):
        write(
            bare,
            crew,
            Write(2, '{"no":"2"}', is_new=True, keys=[("no", "2")]),
            Write(3, '{"no":"1"}', is_new=True, keys=[("no", "1")]),
        )
    with bare.database.transaction() as connection:
        assert [row[0] for row in record_store.list_current(connection, crew)] == [1]


@pytest.mark.parametrize(
    "text",
    [
        '{"name":"O\'Brien \\\\ \\"Kit\\""}',
        '{"name":"tab\\tand\\nline"}',
        '{"name":"Siân 🐦"}',
        '{"name":"\\u0000"}',
        '{"name":"' + "x" * 200_000 + '"}',
    ],
)
def test_keeps_any_text(bare, crew, text):
    """Backslashes, quotes, line ends, letters outside Latin and long texts come back as they
    were.
    """
    write(bare, crew, Write(1, text, is_new=True))
    with bare.database.transaction() as connection:
        assert record_store.list_current(connection, crew) == [(1, text)]


def test_bulk_load_refuses_what_it_would_alter(bare, crew):
    """What the server would cut or drop with a mere warning is refused whole."""
    with pytest.raises((LoadRefused, KeyTaken), match="Nothing was changed"):
        write(bare, crew, Write(1, '{"no":"1"}', is_new=True), Write(1, '{"no":"1"}', is_new=True))
    with pytest.raises(LoadRefused):
        write(bare, crew, Write(2, "{}", is_new=True, keys=[("no", "x" * 300)]))
    with pytest.raises((LoadRefused, pymysql.err.Error)):
        write(bare, crew, Write(3, "no json", is_new=True))
    with bare.database.transaction() as connection:
        assert record_store.list_current(connection, crew) == []


def test_versions_follow_each_other(bare, crew):
    """A change ends the version before it; leaving ends it without a new one; each roster
    version can be read back.
    """
    write(bare, crew, Write(1, '{"no":"1"}', is_new=True), Write(2, '{"no":"2"}', is_new=True))
    found = write(bare, crew, Write(1, '{"no":"1","name":"Ines"}'), Write(2, None))
    assert (found.joined, found.changed, found.left) == (0, 1, 1)
    with bare.database.transaction() as connection:
        assert record_store.list_versions_at(connection, crew, 1) == [
            (1, '{"no":"1"}'),
            (2, '{"no":"2"}'),
        ]
        assert record_store.list_versions_at(connection, crew, 2) == [
            (1, '{"no":"1","name":"Ines"}')
        ]
        assert record_store.list_current(connection, crew) == [(1, '{"no":"1","name":"Ines"}')]


def test_outcomes_are_counted_back(bare, crew):
    """Where every line ended up is kept and counted as it then stands there."""
    write(bare, crew)
    with bare.database.transaction() as connection:
        (one, _, _), *_ = record_store.list_change_sets(connection, crew)
        rows = [
            OutcomeRow(6, "new", None, ""),
            OutcomeRow(7, "stopped", None, "tab\there"),
            OutcomeRow(8, "stopped", None, ""),
        ]
        assert insert_outcomes(connection, one.id, rows) == {"new": 1, "stopped": 2}


def test_job_is_claimed_once(bare, crew):
    """Of two workers one has the job; it is another's only once its lease has run out."""
    with bare.database.transaction() as connection:
        number = jobs.insert_job(connection, "apply", crew, {"intake": 1}, None, bare.now())
    now = bare.now()
    lease = now + timedelta(seconds=20)
    first = jobs.claim_job(bare.database, "one", now, lease)
    assert (first[0].id, first[1]) == (number, False)
    assert jobs.claim_job(bare.database, "two", now, lease) is None
    later = jobs.claim_job(
        bare.database, "two", now + timedelta(seconds=21), lease + timedelta(seconds=21)
    )
    assert (later[0].id, later[1]) == (number, True)
    with bare.database.transaction() as connection:
        assert not jobs.renew_lease(connection, number, "one", lease)
        # its job no more: says nothing
        jobs.finish_job(connection, number, "one", {"change_set": 1}, "")
        assert jobs.get_job(connection, number).state == "running"
        jobs.finish_job(connection, number, "two", None, "Broken off.")
        assert (
            jobs.get_job(connection, number).state,
            jobs.get_job(connection, number).problem,
        ) == ("failed", "Broken off.")


def test_a_newer_database_is_refused(bare):
    """A database that knows a migration which this version does not is touched by nothing, and
    told with what to do.
    """
    with bare.database.transaction() as connection:
        connection.run("INSERT INTO migration (name) VALUES ('9000_of_tomorrow.sql')")
    with pytest.raises(OtherVersion, match=r"9000_of_tomorrow.sql is not known here"):
        migrate(bare.database)
