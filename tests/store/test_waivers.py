"""Waivers in the database: which stand on a day, pages of all, withdrawn once."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from nevefield.core.checking.waiving import Waiver
from nevefield.rosters.opening import open_roster_with
from nevefield.store import records as record_store
from nevefield.store.waivers import (
    get_waiver_roster,
    insert_waivers,
    list_standing,
    list_waivers,
    withdraw_waiver,
)
from tests.conftest import NOW

TODAY = NOW.date()
DOCUMENT = {"name": "chór", "primaryKey": "nr", "fields": [{"name": "nr"}, {"name": "głos"}]}


@pytest.fixture
def choir(bare):
    """A roster of three, and the number of its opening's change set."""
    roster = open_roster_with(
        bare, DOCUMENT, [{"nr": str(place), "głos": "alt"} for place in range(3)]
    )
    with bare.database.transaction() as connection:
        records = [number for number, _ in record_store.list_current(connection, roster)]
        change_set = record_store.list_change_sets(connection, roster)[0][0].id
    return bare, roster, change_set, records


def waiver(line: int, until: date | None = None, field: str = "głos") -> Waiver:
    return Waiver(
        0,
        line,
        "home-area",
        field,
        bytes([line]) * 16,
        f"Głos {line} is odd",
        {"głos": "„bas”", "nr": None},
        "tak ",
        until,
    )


def put(choir, *waivers: tuple[Waiver, int]) -> None:
    context, roster, change_set, records = choir
    with context.database.transaction() as connection:
        kept = [(one, records[place], None, NOW) for one, place in waivers]
        insert_waivers(connection, roster, change_set, kept)


def test_kept_as_it_was(choir):
    """Everything comes back: odd letters, what was empty, the digest."""
    put(choir, (waiver(7, TODAY), 1))
    context, roster, change_set, records = choir
    with context.database.transaction() as connection:
        (one,) = list_standing(connection, roster, TODAY)
    assert (one.record_id, one.check, one.field, one.line, one.change_set) == (
        records[1],
        "home-area",
        "głos",
        7,
        change_set,
    )
    assert (one.values, one.digest, one.reason, one.until) == (
        {"głos": "„bas”", "nr": None},
        bytes([7]) * 16,
        "tak ",
        TODAY,
    )
    assert (one.taken_back, one.withdrawn_at, one.intake) == (False, None, None)


@pytest.mark.parametrize(("days", "stands"), [(-1, [1, 2]), (0, [1, 2]), (1, [1])])
def test_stands_through_its_day(choir, days, stands):
    """One without a day stands always, one with a day through that day."""
    put(choir, (waiver(1), 0), (waiver(2, TODAY), 1))
    context, roster, *_ = choir
    with context.database.transaction() as connection:
        found = list_standing(connection, roster, TODAY + timedelta(days=days))
    assert [one.line for one in found] == stands


def test_pages_the_last_first(choir):
    """All are listed, of one record or of all, a page at a time, with how many there are."""
    put(choir, *((waiver(line), line % 3) for line in range(1, 8)))
    context, roster, _, records = choir
    with context.database.transaction() as connection:
        total, first = list_waivers(connection, roster, limit=3)
        _, second = list_waivers(connection, roster, start=3, limit=3)
        of_one, some = list_waivers(connection, roster, records=[records[1]])
    assert (total, [one.line for one in first], [one.line for one in second]) == (
        7,
        [7, 6, 5],
        [4, 3, 2],
    )
    assert (of_one, [one.line for one in some]) == (3, [7, 4, 1])


def test_withdrawn_once(choir):
    """Withdrawn it stands no more, is listed still, and cannot be withdrawn again."""
    put(choir, (waiver(1), 0), (waiver(2), 1))
    context, roster, *_ = choir
    with context.database.transaction() as connection:
        first, second = list_standing(connection, roster, TODAY)
        assert get_waiver_roster(connection, first.id) == roster
        assert withdraw_waiver(connection, first.id, None, NOW)
        assert not withdraw_waiver(connection, first.id, None, NOW)
        assert [one.id for one in list_standing(connection, roster, TODAY)] == [second.id]
        assert list_waivers(connection, roster)[0] == 2
        assert get_waiver_roster(connection, 999) is None


def test_long_and_odd_texts(choir):
    """A title of any length and values of any letters are kept; the title's end may be cut."""
    odd = Waiver(
        0,
        1,
        "age",
        "głos",
        b"x" * 16,
        "Ж" * 900,
        {"głos": "a\"b\\c\n'; DROP TABLE waiver; --"},
        "ok",
        None,
    )
    put(choir, (odd, 0))
    context, roster, *_ = choir
    with context.database.transaction() as connection:
        (one,) = list_standing(connection, roster, TODAY)
    assert (one.title, one.values) == ("Ж" * 500, odd.values)
