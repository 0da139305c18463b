"""What may not be seen takes no place in a list that is cut off: however much there is of
others, one's own is all there.
"""

from __future__ import annotations

from datetime import date, datetime

import pytest

from nevefield.rosters.opening import open_roster_with
from nevefield.store import intakes, proposals, scheduled, submissions
from nevefield.store.parts import ensure_part
from nevefield.store.sight import ALL, Level, Part, Sight
from tests.core.world import DOCUMENT
from tests.crew import open_crew

AT = datetime(2026, 9, 1)
DAY = date(2026, 9, 20)
SUBMISSION = {
    "side": "live",
    "layout": {},
    "published": {},
    "chosen": None,
    "day": DAY,
    "due": DAY,
    "policy": {},
}
OTHERS = 501
OWN = "Own"


@pytest.fixture
def two(bare) -> tuple[int, int]:
    """A roster of others, of which there is more than is listed at once, and one's own with one
    of each, in between.
    """
    theirs = open_crew(bare)
    own = open_roster_with(bare, {**DOCUMENT, "name": "guests"}, [])
    with bare.database.transaction() as connection:
        intakes.insert_file(connection, b"x" * 32, b"no\n", AT)

        def add(roster: int, title: str) -> None:
            intake = intakes.insert_intake(
                connection,
                intakes.NewIntake(
                    roster_id=roster,
                    title=title,
                    file_name="f",
                    file_hash=b"x" * 32,
                    source="",
                    coverage="listed",
                    account_id=None,
                    at=AT,
                ),
            )
            proposals.insert_proposal(
                connection,
                proposals.NewProposal(
                    roster_id=roster,
                    intake_id=intake,
                    act={"kind": "intake"},
                    digest="d",
                    title=title,
                    why="",
                    counts={},
                    account_id=None,
                    at=AT,
                ),
            )
            scheduled.insert_scheduled(
                connection,
                scheduled.NewScheduled(
                    roster_id=roster,
                    intake_id=intake,
                    steps=0,
                    day=DAY,
                    digest="d",
                    title=title,
                    counts={},
                    proposal_id=None,
                    account_id=None,
                    at=AT,
                ),
                [],
            )
            submissions.insert_submission(
                connection, {**SUBMISSION, "roster_id": roster, "title": title}, None, AT
            )

        for number in range(OTHERS):
            add(theirs, f"Theirs {number}")
        add(own, OWN)
        for number in range(OTHERS):
            add(theirs, f"Theirs again {number}")
    return theirs, own


LISTS = (proposals.list_proposals, scheduled.list_scheduled, submissions.list_submissions)


def test_others_take_no_place(bare, two):
    """By level in one roster, whatever there is of the other; with none, nothing; the whole sees
    all there is room for.
    """
    theirs, own = two
    for sight, expected in [
        (Sight(Level.NONE, {own: Level.LOOK}), [OWN]),
        (Sight(Level.NONE, {own: Level.ADMINISTER}), [OWN]),
        (Sight(Level.NONE, {}), []),
        (Sight(Level.NONE, {own: Level.NONE}), []),
    ]:
        with bare.database.seen_by(sight).transaction() as connection:
            assert [[one.title for one in lists(connection)] for lists in LISTS] == [expected] * 3
    with bare.database.seen_by(ALL).transaction() as connection:
        assert [len(lists(connection)) for lists in LISTS] == [500] * 3
        # By its title it is found however many there are: so an end that is worked out twice is
        # kept once.
        assert [one.title for one in scheduled.list_scheduled(connection, titled=OWN)] == [OWN]
        assert scheduled.list_scheduled(connection, titled="nobody's") == []
        for everywhere in Level:
            for level in Level:
                sight = Sight(everywhere, {own: level})
                condition, values = sight.where("id", "NULL")
                found = {
                    row[0]
                    for row in connection.rows(f"SELECT id FROM roster WHERE {condition}", values)
                }
                assert found == {number for number in (theirs, own) if sight.sees(number)}


def test_a_part_shows_what_is_of_it(bare, two):
    """Who has a part sees what was made within it, and nothing of all of the roster: not that, and
    not of another part; of other rosters as before.
    """
    theirs, own = two
    with bare.database.transaction() as connection:
        hill, quay = (
            ensure_part(connection, own, {"field": "port", "is": name}) for name in ("hill", "quay")
        )
        assert ensure_part(connection, own, {"is": "hill", "field": "port"}) == hill
        (intake,) = [one.id for one in intakes.list_intakes(connection, [own]) if one.title == OWN]
    for of, expected in ((None, []), (hill, [OWN]), (quay, [])):
        with bare.database.transaction() as connection:
            for table in ("intake", "proposal"):
                connection.run(f"UPDATE {table} SET part_id = %s WHERE roster_id = %s", (of, own))
        part = Part(hill, {"field": "port", "is": "hill"})
        with bare.database.seen_by(
            Sight(Level.NONE, {own: Level.PREPARE}, parts={own: part})
        ).transaction() as connection:
            shown = [[one.title for one in lists(connection)] for lists in LISTS]
            assert shown == [expected, expected, []]
        # by its own eyes the product sees no more, but for other rosters
        with bare.database.seen_by(
            Sight(Level.ADMINISTER, parts={own: part})
        ).transaction() as all_:
            for connection in (all_, all_.whole()):
                assert [one.title for one in intakes.list_intakes(connection, [own])] == expected
                assert (intakes.get_intake(connection, intake) is None) == (not expected)
                assert len(intakes.list_intakes(connection, [theirs])) == 2 * OTHERS
