"""A copy is brought back by a click: what was there is there again, who was erased is not, and the
copies that lie there are known as before.
"""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, add_account
from nevefield.copies.errors import NoSuchCopy
from nevefield.copies.ordering import list_orders, order, work_off
from nevefield.keeping.erasing import erase
from nevefield.keeping.returning import MARK, look_at_return, order_return, work_off_return
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters
from tests.keeping.test_outlasting import DOCUMENT, GUILD, numbers


@pytest.fixture
def guild(bare, place):
    """A guild, who keeps it, and a good copy of it."""
    keeper = add_account(bare, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    open_roster_with(bare, DOCUMENT, GUILD)
    order(bare, keeper)
    assert work_off(bare, place)
    return bare, keeper, list_orders(bare)[0].file_name


def titles(context) -> set[str]:
    with context.database.transaction() as connection:
        return {one.name for one in rosters.list_seen(connection)}


def test_brought_back_by_a_click(guild, place, clock):
    """What came since goes aside, who was erased since stays erased; all copies that were good are
    listed, the one that was brought back too; nothing is ordered any more, so that it is done once.
    """
    context, keeper, copy = guild
    known = numbers(context)
    clock.move(minutes=5)
    open_roster_with(context, {**DOCUMENT, "name": "later"}, [])
    erase(context, known["G-0003"], "herself", "asked for it", keeper)
    order(context, keeper)
    assert work_off(context, place)
    later = list_orders(context)[0].file_name
    assert work_off_return(context, place) is False
    order_return(context, copy, keeper)
    assert look_at_return(context).by == "The keeper"
    assert work_off_return(context, place) is True
    assert titles(context) == {"guild"}
    assert numbers(context).keys() == known.keys() - {"G-0003"}
    assert {one.file_name: one.state for one in list_orders(context)} == {
        copy: "good",
        later: "good",
    }
    assert (place.folder.parent / MARK).read_text() == copy
    assert work_off_return(context, place) is False
    clock.move(minutes=5)
    # and forward again, by the copy that was made before it
    order_return(context, later, keeper)
    assert work_off_return(context, place) is True
    assert look_at_return(context) is None
    assert titles(context) == {"guild", "later"}
    assert "G-0003" not in numbers(context)


def test_what_is_not_good_is_not_brought_back(guild, place):
    """A file that is none, or not known, is refused; one that was cut short alters nothing, says
    why, and is not tried again.
    """
    context, keeper, copy = guild
    with pytest.raises(NoSuchCopy):
        order_return(context, "nevefield-else.copy", keeper)
    whole = (place.folder / copy).read_bytes()
    (place.folder / copy).write_bytes(whole[: len(whole) // 2])
    order_return(context, copy, keeper)
    assert work_off_return(context, place) is True
    assert look_at_return(context).said != ""
    assert numbers(context).keys() == {one["no"] for one in GUILD}
    assert not (place.folder.parent / MARK).exists()
    assert work_off_return(context, place) is False
    (place.folder / copy).write_bytes(whole)
    order_return(context, copy, keeper)
    assert work_off_return(context, place) is True
