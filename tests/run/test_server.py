"""The private server's own directory: nobody else's, and never emptied when it is not ours."""

from __future__ import annotations

import stat

import pymysql
import pytest

from nevefield.context import Context
from nevefield.intakes.applying import take_back
from nevefield.run.server import PrivateServer, ServerFailed
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.store.schema import limit_account, migrate
from tests.conftest import Clock
from tests.crew import apply_text, open_crew


def test_what_is_not_ours_is_not_touched(tmp_path):
    """A folder of somebody's that happens to stand where the data would be: refused, and every
    file is there.
    """
    home = tmp_path / "home"
    (home / "data" / "letters").mkdir(parents=True)
    (home / "data" / "letters" / "dear.txt").write_text("mine")
    server = PrivateServer(home, durable=False)
    with pytest.raises(ServerFailed, match="nothing of it was touched"):
        server.start()
    server.stop()
    assert (home / "data" / "letters" / "dear.txt").read_text() == "mine"


def test_what_was_not_finished_is_made_anew(tmp_path):
    """A first start that was broken off leaves a part of a database: the next one begins again,
    where nobody else may look.
    """
    home = tmp_path / "home"
    PrivateServer(home)._clear(home / "data")
    (home / "data").mkdir()
    (home / "data" / "ibdata1").write_bytes(b"half")
    server = PrivateServer(home, durable=False)
    try:
        assert server.start().startswith("mysql://nevefield_owner:")
        assert stat.S_IMODE(home.stat().st_mode) == 0o700
        assert not (home / "begun").exists()
    finally:
        server.stop()


REFUSED = [
    "UPDATE audit SET act = 'nothing'",
    "DELETE FROM audit",
    "TRUNCATE TABLE audit",
    "DROP TABLE audit",
    "ALTER TABLE audit ADD COLUMN more INT",
    "RENAME TABLE audit TO other",
    "CREATE TRIGGER t BEFORE INSERT ON audit FOR EACH ROW SET NEW.act = ''",
    "CREATE TABLE other (a INT)",
    "DELETE FROM migration",
    "GRANT DELETE ON audit TO nevefield@'%%'",
    "SELECT * FROM mysql.user",
]


def test_the_trail_is_only_added_to(tmp_path):
    """The application's account works as ever and adds to the trail, and may do nothing else to it,
    nor to the schema.

    A database of before, in which it had all rights, is put right by the next start.
    """
    server = PrivateServer(tmp_path / "home", durable=False)
    try:
        owner = Database(server.start())
        migrate(owner)
        account = Database(server.account_url)
        with owner.transaction() as connection:  # as it was made before there was an owner
            connection.run("GRANT ALL ON `nevefield%%`.* TO nevefield@'%%'")
        account.close()
        owner.close()
        server.stop()
        owner = Database(server.start())
        account = Database(server.account_url)
        limit_account(owner, account)
        context = Context(account, Settings(database_url=server.account_url), Clock())
        open_crew(context)
        change_set = apply_text(context, "no,name\n1,Ines Marie\n7,Kit\n")
        take_back(context, change_set, None)
        with account.transaction() as connection:
            (before,) = connection.row("SELECT COUNT(*) FROM audit")
        assert before >= 3
        for statement in REFUSED:
            with (
                pytest.raises(pymysql.err.MySQLError, match="denied"),
                account.transaction() as connection,
            ):
                connection.run(statement)
        with account.transaction() as connection:
            assert connection.row("SELECT COUNT(*) FROM audit") == (before,)
        account.close()
        owner.close()
    finally:
        server.stop()
