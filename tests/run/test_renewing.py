"""After somebody was erased, no file of the database has a word of them, once its files were
written anew; wherever that is broken off, all that there was is there.
"""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from nevefield.accounts import Level, add_account
from nevefield.context import Context
from nevefield.core.codes import Code
from nevefield.keeping.erasing import erase
from nevefield.rosters.looking import open_roster
from nevefield.rosters.opening import open_roster_with
from nevefield.run.renewing import renew, wants_renewing
from nevefield.run.server import PrivateServer
from nevefield.run.swapping import BESIDE, OLD, WHOLE, recover
from nevefield.settings import Settings
from nevefield.store import records, rosters
from nevefield.store.connection import Database
from nevefield.store.schema import limit_account, migrate
from tests.keeping.test_erasing import MARKED, Marked, words_of
from tests.web.houses import PEOPLE, fill, submit
from tests.web.wings import LAYOUT


def found_in(home: Path, words: list[str]) -> dict[str, list[str]]:
    """The files under a directory that have one of some words, in any usual encoding."""
    found = {}
    for path in home.rglob("*"):
        if path.is_file() and not path.is_socket():
            data = path.read_bytes()
            has = [
                word
                for word in words
                if any(word.encode(name) in data for name in ("utf-8", "utf-16-le", "cp1252"))
            ]
            if has:
                found[str(path.relative_to(home))] = has
    return found


def context_of(url: str) -> Context:
    return Context(Database(url), Settings(database_url=url))


@pytest.mark.parametrize("place", MARKED[:2])
def test_no_file_has_a_word_of_them(tmp_path, place):
    """Of somebody in files, steps, receipts and a submission no file of the data directory, no log
    and no kept file has a value, looked for byte by byte; everybody else is there.
    """
    server = PrivateServer(tmp_path / "home")
    owner = server.start()
    try:
        migrate(Database(owner))
        context = context_of(server.account_url)
        limit_account(Database(owner), context.database)
        keeper = add_account(context, "keeper", "Keeper", "a-long-password-1", Level.ADMINISTER)
        maker = Marked("ownfolk", "", "zsxa", None, False)
        with context.database.transaction() as connection:
            for kind, word in (("team", "o"), ("creed", "zsxa")):
                codes = [Code(f"{word}{kind[0]}{at}", f"{kind} {at}") for at in range(1, 5)]
                rosters.replace_code_list(connection, f"ownfolk{kind}", codes)
        people = [maker.person(at) for at in range(PEOPLE)]
        roster = open_roster_with(context, maker.document(), people)
        with context.database.transaction() as connection:
            first = records.list_current(connection, roster)[0][0]
        fill(context, maker, keeper, roster, first)
        submit(context, maker, keeper, LAYOUT)
        with context.database.transaction() as connection:
            (number,) = [
                one
                for one, text in records.list_current(connection, roster)
                if json.loads(text)["nr"] == maker.person(place)["nr"]
            ]
        assert wants_renewing(context) == 0
        erase(context, number, "the person", "they asked", keeper)
        left = len(open_roster(context, "ownfolk")[1])
        words = words_of(maker, place)
        last = wants_renewing(context)
        assert last == 1
        context.database.close()
        owner = renew(server, PrivateServer, owner, last)
        again = context_of(server.account_url)
        limit_account(Database(owner), again.database)
        assert wants_renewing(again) == 0
        assert len(open_roster(again, "ownfolk")[1]) == left
        again.database.close()
    finally:
        server.stop()
    others = [word for at in MARKED if at != place for word in words_of(maker, at)]
    assert found_in(server.home, others)  # the search finds what is there
    assert found_in(server.home, words) == {}


@pytest.mark.parametrize(
    ("there", "kept"),
    [
        (("data", BESIDE), "old"),  # while it is being filled
        (("data", BESIDE, WHOLE), "old"),  # filled, and nothing moved yet
        ((OLD, BESIDE, WHOLE), "new"),  # the old one stepped aside
        ((OLD, BESIDE), "old"),
        ((OLD,), "old"),
        (("data", OLD, BESIDE, WHOLE), "old"),  # the new one is in its place: here it is "old"
        (("data",), "old"),
    ],
)
def test_wherever_it_is_broken_off(tmp_path, there, kept):
    """One whole directory is in its place, and nothing beside it."""
    for name in ("data", OLD):
        if name in there:
            (tmp_path / name).mkdir()
            (tmp_path / name / "what").write_text("old")
    if BESIDE in there:
        (tmp_path / BESIDE / "data").mkdir(parents=True)
        (tmp_path / BESIDE / "data" / "what").write_text("new")
        if WHOLE in there:
            (tmp_path / BESIDE / WHOLE).touch()
    recover(tmp_path)
    assert [path.name for path in tmp_path.iterdir()] == ["data"]
    assert (tmp_path / "data" / "what").read_text() == kept
