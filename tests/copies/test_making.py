"""Copies of a real database: made while it is written to, tried, brought back."""

from __future__ import annotations

import threading
from datetime import datetime, timedelta

import pytest

from nevefield.copies import making
from nevefield.copies.errors import CopyFailed, NoSuchCopy
from nevefield.copies.making import (
    Copy,
    Place,
    bring_back,
    list_copies,
    make_copy,
    outdated,
    try_copy,
)
from nevefield.core.copying import CopyHead
from nevefield.core.errors import WrongCopy
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.rosters.opening import open_empty
from nevefield.store.schema import known_migrations

ROWS = 20_000
CROWD = {
    "name": "crowd",
    "primaryKey": "no",
    "fields": [{"name": "no", "constraints": {"required": True}}, {"name": "name"}],
}


@pytest.fixture
def place(desk, database_url, tmp_path) -> Place:
    return Place(database_url, database_url, tmp_path / "copies", "a key")


def test_made_tried_and_brought_back(desk, place, clock):
    """What was there when it was made is there again; what came later is kept beside it."""
    name, trailer = make_copy(place, clock())
    assert try_copy(place, name) == trailer
    with desk.database.transaction() as connection:
        before = connection.row("SELECT COUNT(*) FROM account")[0]
        connection.run("UPDATE account SET name = 'somebody else'")
        connection.run("DELETE FROM session")
    kept = bring_back(place, name, clock())
    with desk.database.transaction() as connection:
        assert trailer.rows["account"] == before
        found = connection.row("SELECT COUNT(*) FROM account WHERE name = 'somebody else'")
        assert found == (0,)
        later = connection.row(
            f"SELECT COUNT(*) FROM `{kept}`.account WHERE name = 'somebody else'"
        )
        assert later == (before,)
        connection.run(f"DROP DATABASE `{kept}`")


def test_made_while_much_is_applied(desk, place, clock):
    """Copies made while 20,000 records are applied each hold the state before or after, never one
    between.
    """
    with desk.database.transaction() as connection:
        before = connection.row("SELECT COUNT(*) FROM record")[0]
    open_empty(desk, CROWD, None)
    text = "No,Name\n" + "".join(f"{row:06},Name {row}\n" for row in range(ROWS))
    intake = receive_file(desk, "new.csv", text.encode(), Claims(roster="crowd"))
    state = open_intake(desk, intake)
    going = state.evaluation.altering
    assert going == ROWS
    ended = threading.Event()

    def apply() -> None:
        try:
            apply_intake(desk, intake, len(state.steps), state.roster.version, None)
        finally:
            ended.set()

    thread = threading.Thread(target=apply)
    thread.start()
    counts = []
    while not ended.is_set() or not counts:
        name, trailer = make_copy(place, clock() + timedelta(seconds=len(counts)))
        counts.append(trailer.rows["record"])
    thread.join()
    name, trailer = make_copy(place, clock() + timedelta(hours=1))
    counts.append(trailer.rows["record"])
    assert set(counts) <= {before, before + going}
    assert counts[-1] == before + going
    assert try_copy(place, name).rows["record"] == before + going


def test_a_damaged_copy_is_not_brought_back(desk, place, clock):
    """A flipped byte, a copy cut short, one of a newer version, no copy at all: nothing is altered,
    and nothing is left beside the database.
    """
    name, _ = make_copy(place, clock())
    path = place.folder / name
    whole = path.read_bytes()
    spoilt = whole[:9000] + bytes([whole[9000] ^ 4]) + whole[9001:]
    for data, said in ((spoilt, "damaged"), (whole[:-40], "cut short"), (b"PK\x03\x04", "no copy")):
        path.write_bytes(data)
        for act in (lambda: try_copy(place, name), lambda: bring_back(place, name, clock())):
            with pytest.raises(WrongCopy, match=said):
                act()
    last = known_migrations()[-1].removesuffix(".sql").encode()
    path.write_bytes(whole.replace(last, b"99" + last[2:], 1))
    with pytest.raises(CopyFailed, match="newer version"):
        try_copy(place, name)
    with pytest.raises(NoSuchCopy):
        try_copy(place, "../../etc/passwd")
    with desk.database.transaction() as connection:
        names = [row[0] for row in connection.rows("SHOW DATABASES")]
    assert [one for one in names if one.startswith("nevefield_try")] == []


def test_a_full_disk(place, clock, monkeypatch):
    """Where no room is left it is told with what to do, and nothing half done lies there."""

    def full(*_, **__):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(making, "write_copy", full)
    with pytest.raises(CopyFailed, match="No space left on device"):
        make_copy(place, clock())
    assert list(place.folder.iterdir()) == []


def test_only_its_owner_reads_a_copy(place, clock):
    """The file is for the eyes of the account that runs the product."""
    name, _ = make_copy(place, clock())
    assert (place.folder / name).stat().st_mode & 0o077 == 0
    assert [one.name for one in list_copies(place.folder)] == [name]


def test_which_are_kept():
    """All of the last days, one of each week before, and the newest whatever its age."""
    now = datetime(2026, 11, 30, 12)
    copies = [
        Copy(f"{back}", 1, CopyHead((now - timedelta(days=back)).isoformat(), "0", "x"))
        for back in range(0, 60)
    ]
    gone = {one.name for one in outdated(copies, now, days=14, weeks=4)}
    kept = [one for one in copies if one.name not in gone]
    assert [one.name for one in kept][:15] == [str(back) for back in range(15)]
    weeks = [one.at.isocalendar()[:2] for one in kept[15:]]
    assert len(weeks) == len(set(weeks))
    assert 4 <= len(weeks) <= 5
    assert outdated(copies[59:], now, days=14, weeks=4) == []
