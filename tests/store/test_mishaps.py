"""Whatever goes wrong at whichever statement: nothing is kept of it, and the next one on the
same worker goes through.
"""

from __future__ import annotations

import contextlib
import threading
from collections.abc import Callable

import pymysql
import pytest

from nevefield.intakes.applying import apply_intake, request_apply, take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.jobs import worker
from nevefield.store.connection import Connection, Database
from nevefield.store.errors import Contended, DatabaseGone, LoadRefused, StoreError
from tests.crew import contents, drop, open_crew

FILE = (
    "no,name,mail,dept\n1,Ines"
    " Marie,ines@q.example,NAV\n2,Tove,tove@q.example,MEN\n7,Kit,kit@q.example,NAV\n"
)
WAYS = ("run", "run_many", "insert", "rows", "row")


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


class Mishap:
    """Lets something go wrong before the nth statement of this process, once."""

    def __init__(self, monkeypatch, happen: Callable[[Connection], None]) -> None:
        self.left: int | None = None
        self.seen: list[str] = []
        for way in WAYS:
            real = getattr(Connection, way)

            def wrong(connection, statement, *values, real=real):
                self.seen.append(statement)
                if self.left is not None:
                    self.left -= 1
                    if self.left == 0:
                        self.left = None
                        happen(connection)
                return real(connection, statement, *values)

            monkeypatch.setattr(Connection, way, wrong)


def deadlock(connection: Connection) -> None:
    """The server has rolled the transaction back; what is no part of it, as temporary tables,
    still stands.
    """
    connection.raw.rollback()
    raise pymysql.err.OperationalError(
        1213, "Deadlock found when trying to get lock; try restarting transaction"
    )


def waited_too_long(connection: Connection) -> None:
    raise pymysql.err.OperationalError(
        1205, "Lock wait timeout exceeded; try restarting transaction"
    )


def load_refused(connection: Connection) -> None:
    raise LoadRefused("record_version", 3, 2, "Data truncated")


def killed(url: str) -> Callable[[Connection], None]:
    def kill(connection: Connection) -> None:
        other = Database(url)
        with other.transaction() as strong:
            strong.run(f"KILL CONNECTION {connection.raw.thread_id()}")
        other.close()

    return kill


def all_rows(context) -> dict[str, list[str]]:
    """Everything that is in the database, but for counters: numbers that were drawn are not
    given back.
    """
    with context.database.transaction() as connection:
        tables = [name for (name,) in connection.rows("SHOW TABLES") if name != "counter"]
        return {
            name: sorted(map(repr, connection.rows(f"SELECT * FROM {name}"))) for name in tables
        }


def go_on_until_done(
    crew, mishap: Mishap, work: Callable[[], int], expected: type[StoreError]
) -> int:
    """Let one statement after another go wrong, until there is none left that could."""
    before = all_rows(crew)
    for number in range(1, 500):
        mishap.left = number
        try:
            done = work()
        except expected:
            mishap.left = None
            assert all_rows(crew) == before, (
                f"something of it was kept when statement {number} went wrong"
            )
            continue
        assert mishap.left is not None, "a statement went wrong, and nobody was told"
        mishap.left = None
        assert number > 10
        return done
    raise AssertionError("it never went through")


@pytest.mark.parametrize("kind", ["deadlock", "waited too long", "load refused", "killed"])
def test_at_every_statement(crew, database_url, monkeypatch, kind):
    """Of an apply, and of taking it back."""
    happen, expected = {
        "deadlock": (deadlock, Contended),
        "waited too long": (waited_too_long, Contended),
        "load refused": (load_refused, LoadRefused),
        "killed": (killed(database_url), DatabaseGone),
    }[kind]
    as_it_was = contents(crew)
    intake = drop(crew, FILE)
    opened = open_intake(crew, intake)
    version = opened.roster.version
    mishap = Mishap(monkeypatch, happen)
    change_set = go_on_until_done(
        crew, mishap, lambda: apply_intake(crew, intake, len(opened.steps), version, None), expected
    )
    assert contents(crew)["7"]["name"] == "Kit"
    go_on_until_done(crew, mishap, lambda: take_back(crew, change_set, None), expected)
    assert contents(crew) == as_it_was


def test_what_stood_on_a_connection_is_gone(bare):
    """Temporary tables, settings and locks of a transaction that failed are nobody else's."""
    with contextlib.suppress(ZeroDivisionError), bare.database.transaction() as connection:
        connection.run("CREATE TEMPORARY TABLE staged_record (record_id INT)")
        connection.run("SET SESSION foreign_key_checks = 0")
        connection.row("SELECT GET_LOCK('mine', 0)")
        raise ZeroDivisionError
    with bare.database.transaction() as connection:
        connection.run("CREATE TEMPORARY TABLE staged_record (record_id INT)")
        assert connection.row("SELECT @@SESSION.foreign_key_checks, IS_USED_LOCK('mine')") == (
            1,
            None,
        )
        connection.run("DROP TEMPORARY TABLE staged_record")


def test_a_real_deadlock_is_told(bare, database_url):
    """Two transactions that wait for each other: one of them is told, and nothing of it is kept."""
    other = Database(database_url)
    with bare.database.transaction() as connection:
        connection.run("CREATE TABLE probe (id INT PRIMARY KEY, value INT) ENGINE=InnoDB")
        connection.run("INSERT INTO probe VALUES (1, 0), (2, 0)")
    meet = threading.Barrier(2, timeout=30)
    told = []

    def write(database: Database, first: int, second: int) -> None:
        try:
            with database.transaction() as connection:
                connection.run("UPDATE probe SET value = value + 1 WHERE id = %s", (first,))
                meet.wait()
                connection.run("UPDATE probe SET value = value + 1 WHERE id = %s", (second,))
        except Contended as error:
            told.append(error)
        finally:
            database.close()

    thread = threading.Thread(target=write, args=(other, 1, 2))
    thread.start()
    write(bare.database, 2, 1)
    thread.join()
    assert len(told) == 1
    with bare.database.transaction() as connection:
        assert connection.rows("SELECT value FROM probe") == [(1,), (1,)]


def test_a_job_is_run_again_when_others_were_writing(crew, monkeypatch):
    """And goes through, without anybody having to ask again."""
    intake = drop(crew, FILE)
    opened = open_intake(crew, intake)
    job, _ = request_apply(crew, intake, len(opened.steps), opened.roster.version, None)
    monkeypatch.setattr(worker, "REPEATS", (0, 0, 0))
    met = []
    real = worker.apply_intake

    def contended(*given):
        if len(met) < 2:
            met.append(1)
            raise Contended
        return real(*given)

    monkeypatch.setattr(worker, "apply_intake", contended)
    assert worker.run_one(crew, "probe")
    with crew.database.transaction() as connection:
        assert connection.row("SELECT state, problem FROM job WHERE id = %s", (job,)) == (
            "done",
            "",
        )
    assert contents(crew)["7"]["name"] == "Kit"
