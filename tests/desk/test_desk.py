"""The desk and its finding, on two institutions of different alphabets at once."""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, Sight, add_account
from nevefield.desk.looking import look_at_desk
from nevefield.desk.searching import search
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.proposals.approving import propose_intake
from nevefield.rosters.opening import open_roster_with
from tests.crew import apply_text, drop, numbers, open_crew

CHOIR = {
    "name": "хор",
    "title": "Хор",
    "primaryKey": "номер",
    "fields": [
        "номер",
        {"name": "фамилия", "nevefield": {"means": "family-name"}},
        {"name": "имя", "nevefield": {"means": "given-name"}},
    ],
}
SINGERS = [
    {"номер": "Х-1", "фамилия": "Ёлкина", "имя": "Анна"},
    {"номер": "Х-2", "фамилия": "Гусь", "имя": "Пётр"},
]


@pytest.fixture
def both(bare):
    """A crew and a choir; the numbers of their rosters."""
    return open_crew(bare), open_roster_with(bare, CHOIR, SINGERS)


def names(context, text: str) -> list[str]:
    return [person.name for person in search(context, text).people]


def test_people_are_found_in_any_letters(bare, both):
    """By name, by parts of it, by key, whatever the case; nobody by what nobody has."""
    assert names(bare, "ines") == ["Ines"]
    assert names(bare, "гусь") == names(bare, "Х-2") == ["Гусь, Пётр"]
    assert names(bare, "анна ёлк") == ["Ёлкина, Анна"]
    assert names(bare, "nobody at all") == names(bare, "  ") == []


def test_a_line_is_found_in_every_file_that_is_meant(bare, both):
    """As people say it, with words of the file or without; a number alone is any file's line."""
    crew = drop(bare, "no,name\n7,Kit\n")
    choir = receive_file(
        bare, "спевка.csv", "номер;фамилия\nХ-1;Ёлкина\n".encode(), Claims(roster="хор")
    )
    for text, expected in [
        ("line 2 crew", [crew]),
        ("2 спевка", [choir]),
        ("line 2 of спевка", [choir]),
        ("2", [choir, crew]),
        ("line crew", []),
    ]:
        found = search(bare, text)
        assert [intake.id for intake in found.lines] == expected, text
        assert found.line == ("2" if expected else ""), text


def test_nothing_of_others_is_found_or_open(bare, both):
    """Of a roster that may not be seen there is neither a person nor a file, nor anything open."""
    crew, choir = both
    open_intake(bare, drop(bare, "no,name\n7,Kit\n8,\n"))
    there = bare.seen_by(Sight(Level.NONE, {choir: Level.APPROVE}))
    assert names(there, "ines") == []
    assert search(there, "crew").intakes == []
    desk = look_at_desk(there, with_unforeseen=False)
    assert desk.intakes == []
    assert [here.roster.id for here in desk.rosters] == [choir]
    here = bare.seen_by(Sight(Level.NONE, {crew: Level.LOOK}))
    assert names(here, "ines") == ["Ines"]
    assert len(look_at_desk(here, with_unforeseen=False).intakes) == 1


def test_what_is_open_is_open_until_it_is_not(bare, both):
    """A file that is ready is open; proposed it is said to be so; applied it is gone, and stands
    in the roster's history, the last last.
    """
    account = add_account(bare, "keeper", "Keeper", "a-long-password-1", Level.PREPARE)
    intake = drop(bare, "no,name\n7,Kit\n")
    opened = open_intake(bare, intake)
    (here,) = look_at_desk(bare, with_unforeseen=False).intakes
    assert (here.intake.id, here.applied, here.is_put_off) == (intake, None, False)
    propose_intake(bare, intake, len(opened.steps), opened.roster.version, account)
    desk = look_at_desk(bare, with_unforeseen=False)
    assert [proposal.intake_id for proposal in desk.proposals] == [intake]
    assert [here.is_put_off for here in desk.intakes] == [True]
    apply_text(bare, "no,name\n8,Liv\n")
    desk = look_at_desk(bare, with_unforeseen=False)
    assert [here.intake.id for here in desk.intakes] == [intake]
    history = {here.roster.name: here for here in desk.rosters}["crew"].history
    assert [(change.kind, undone) for change, undone in history] == [
        ("opening", False),
        ("intake", False),
    ]
    assert {"8"} <= set(numbers(bare))
