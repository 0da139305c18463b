"""What is kept for some days goes by itself, and nothing else does: work that is not done, people
who are there again, what nobody set.
"""

from __future__ import annotations

import json
from datetime import timedelta

import pytest

from nevefield.accounts import Level, add_account
from nevefield.core.trailing import Line, check_chain
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.errors import FileGone
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.intakes.throwing import throw_away
from nevefield.keeping.erasing import hold_back, how_erased
from nevefield.keeping.errors import WrongTerm
from nevefield.keeping.lapsing import is_time, lapse, list_lapses, look_at_term, set_term
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.receipts import list_receipts
from nevefield.setup.trailing import check_trail, seal_trail
from nevefield.store import audit, records, rosters
from tests.keeping.test_outlasting import numbers

DOCUMENT = {
    "name": "guild",
    "primaryKey": ["no"],
    "fields": [
        {"name": "no"},
        {"name": "family", "nevefield": {"means": "family-name"}},
        {"name": "given", "nevefield": {"means": "given-name"}},
        {"name": "mail", "type": "string", "format": "email"},
    ],
}


def member(place: int, **changes: str) -> dict[str, str]:
    one = {
        "no": f"G-{place:04d}",
        "family": f"Şahin{place}",
        "given": f"Çağla{place}",
        "mail": f"c{place}@loca.example",
    }
    return one | changes


@pytest.fixture
def guild(bare):
    """A guild of eight, and who keeps it."""
    keeper = add_account(bare, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    open_roster_with(bare, DOCUMENT, [member(place) for place in range(8)])
    return bare, keeper


def bring(context, keeper, name, members, *, coverage="listed", leave=()):
    rows = "".join(";".join(one.values()) + "\n" for one in members)
    data = f"no;family;given;mail\n{rows}".encode()
    intake = receive_file(
        context, name, data, Claims("guild", coverage=coverage), account_id=keeper
    )
    if leave:
        add_step(context, intake, {"kind": "absent", "act": "leave"}, keeper)
    return intake


def apply(context, keeper, intake):
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, keeper)


def goes(context) -> dict[str, int]:
    return lapse(context, context.database)


def test_files_that_are_done_with(guild, clock):
    """Of an applied file, one thrown away, one that nobody applied, one taken back, one on which
    somebody worked lately: the first two go, and say so; the others open as before. The same bytes
    that come again are there again.
    """
    context, keeper = guild
    files = {
        name: bring(context, keeper, f"{name}.csv", [member(place, given=f"New{place}")])
        for place, name in enumerate(("applied", "thrown", "open", "undone", "worked"))
    }
    apply(context, keeper, files["applied"])
    throw_away(context, files["thrown"], keeper)
    undone = apply(context, keeper, files["undone"])
    take_back(context, undone, keeper)
    apply(context, keeper, files["worked"])
    assert look_at_term(context, "files", 30) == (0, 3)
    clock.move(days=40)
    step = {"kind": "limits", "certain": 99, "nobody": 1}
    add_step(context, files["worked"], step, keeper)
    set_term(context, "files", 30, keeper)
    told = {one.kind: (one.days, one.tonight, one.soon) for one in list_lapses(context)}
    assert told == {
        "files": (30, 2, 3),
        "rows": (None, 0, 0),
        "left": (None, 0, 0),
        "trail": (None, 0, 0),
        "looked": (None, 0, 0),
        "letters": (None, 0, 0),
        "passed": (None, 0, 0),
    }
    assert goes(context) == {"files": 2}
    for name in ("applied", "thrown"):
        with pytest.raises(FileGone, match="was deleted on"):
            open_intake(context, files[name])
    for name in ("open", "undone", "worked"):
        assert len(open_intake(context, files[name]).evaluation.table) == 1
    with context.database.transaction() as connection:
        left = connection.rows("SELECT content FROM intake_file WHERE gone_at IS NOT NULL")
    assert left == [(b"",), (b"",)]
    again = bring(context, keeper, "again.csv", [member(0, given="New0")])
    assert len(open_intake(context, again).evaluation.table) == 1
    assert goes(context) == {}


def test_rows_go_and_counts_stay(guild, clock):
    """Rows of receipts go; the receipt says the same as before, and can still be taken back."""
    context, keeper = guild
    number = apply(
        context, keeper, bring(context, keeper, "a.csv", [member(1, given="Other"), member(2)])
    )
    before = [one.change_set.receipt for one in list_receipts(context, "guild")]
    clock.move(days=31)
    set_term(context, "rows", 30, keeper)
    assert goes(context) == {"rows": 2}
    assert [one.change_set.receipt for one in list_receipts(context, "guild")] == before
    take_back(context, number, keeper)
    with context.database.transaction() as connection:
        roster = rosters.get_roster(connection, "guild")
        contents = [json.loads(text) for _, text in records.list_current(connection, roster.id)]
    assert member(1) in contents


def test_people_who_left_for_good(guild, clock):
    """Of four who left, one is held, one is back under another number, and one left lately: one
    alone is erased.
    """
    context, keeper = guild
    known = numbers(context)
    first = bring(
        context,
        keeper,
        "spring.csv",
        [member(place) for place in range(3, 8)],
        coverage="everybody",
        leave=(0, 1, 2),
    )
    apply(context, keeper, first)
    hold_back(context, known["G-0000"], "a court asked for it", keeper)
    back = member(1, no="H-0001")
    other = bring(context, keeper, "back.csv", [back])
    step = {"kind": "person", "choices": [{"line": 2, "record": None}]}
    add_step(context, other, step, keeper)
    apply(context, keeper, other)
    clock.move(days=100)
    second = bring(
        context,
        keeper,
        "summer.csv",
        [back, *(member(place) for place in range(4, 8))],
        coverage="everybody",
        leave=(3,),
    )
    apply(context, keeper, second)
    clock.move(days=20)
    assert look_at_term(context, "left", 90) == (1, 1)
    assert look_at_term(context, "left", 45) == (1, 2)
    set_term(context, "left", 90, keeper)
    assert goes(context) == {"left": 1}
    erased = {no: how_erased(context, number)[0] is not None for no, number in known.items()}
    assert [no for no, one in erased.items() if one] == ["G-0002"]
    assert goes(context) == {}


def test_the_trail_is_cut_and_still_checked(guild, clock):
    """The beginning of the trail goes, and it says so itself; what stays is found whole, and a line
    that is altered or removed afterwards is found as before.
    """
    context, keeper = guild
    for name in ("old.csv", "older.csv"):
        bring(context, keeper, name, [member(1)])
    seal_trail(context)
    clock.move(days=400)
    bring(context, keeper, "new.csv", [member(2, given="Else")])
    seal_trail(context)
    set_term(context, "trail", 365, keeper)
    with context.database.transaction() as connection:
        before = audit.list_lines(connection)
    gone = goes(context)["trail"]
    assert gone > 2
    with context.database.transaction() as connection:
        after = audit.list_lines(connection)
        assert [line.id for line in after[: len(before) - gone]] == [
            line.id for line in before[gone:]
        ]
    assert check_trail(context).broken == []
    clock.move(days=400)
    assert goes(context)["trail"] > 0  # once more, behind what was cut before
    assert check_trail(context).broken == []
    with context.database.transaction() as connection:
        seals = audit.list_seals(connection)
        lines = {line.id: line for line in audit.list_lines(connection)}
    victim = lines[seals[-1].audit_id]
    altered = Line(**{**vars(victim), "subject": "somebody else"})
    assert [one.kind for one in check_chain(seals, {**lines, victim.id: altered})] == ["altered"]
    # a line that says so and is not sealed hides nothing
    forged = Line(
        9_999_999,
        victim.at,
        None,
        "trail-cut",
        "",
        json.dumps({"through": seals[1].number, "digest": seals[1].digest.hex()}),
        "",
    )
    assert check_chain(seals[2:], {**lines, forged.id: forged}) != []
    # who deletes more than the trail says is found: with the line, and with its seal
    assert check_chain(seals[1:], lines) != []
    first = seals[0].audit_id
    assert check_chain(seals, {key: one for key, one in lines.items() if key != first}) != []


def test_once_a_night_and_only_what_was_set(guild, clock):
    """Nothing goes while nothing is set; after the hour of copies once a day; wrong numbers and
    kinds are refused; for ever stops it.
    """
    context, keeper = guild
    assert is_time(context)
    assert goes(context) == {}
    assert not is_time(context)
    clock.move(days=1)
    assert is_time(context)
    for kind, days in (("files", 29), ("trail", 300), ("left", 40_000), ("songs", 400)):
        with pytest.raises(WrongTerm):
            set_term(context, kind, days, keeper)
    set_term(context, "looked", 60, keeper)
    assert [one.days for one in list_lapses(context) if one.days] == [60]
    set_term(context, "looked", None, keeper)
    assert [one.days for one in list_lapses(context) if one.days] == []
    assert clock.at.hour >= context.settings.copy_hour
    clock.at = (clock.at + timedelta(days=1)).replace(hour=1)
    assert not is_time(context)
