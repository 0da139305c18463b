"""Find what somebody types: people, files, lines of files, submissions, codes."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.cards.holding import CardFound, find_cards
from nevefield.core.columns.titles import name_person, person_key
from nevefield.rosters.looking import find_people
from nevefield.rosters.snapshots import load_codes, load_snapshot
from nevefield.store import rosters as roster_store
from nevefield.store.intakes import Intake, list_intakes
from nevefield.store.submissions import Submission, list_submissions

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.codes import Code
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = ["Found", "PersonFound", "search"]

PEOPLE_FOUND = 8
FILES_FOUND = 6


@dataclass(frozen=True)
class PersonFound:
    """A record that has what was looked for."""

    roster: Roster
    record: int
    name: str
    key: str


@dataclass(frozen=True)
class Found:
    """What was found, by kind."""

    intakes: list[Intake]
    line: str  # of each of `lines`, when a line was looked for
    lines: list[Intake]
    submissions: list[Submission]
    people: list[PersonFound]
    codes: list[tuple[str, Code]]  # with the name of their list
    cards: list[CardFound]


def search(context: Context, text: str) -> Found:
    """Find what has a text, among what may be seen; nothing for an empty one."""
    if not text.strip():
        return Found([], "", [], [], [], [], [])
    text = text.strip()
    line, named = _line_in(text)
    cards = find_cards(context, text)
    with context.database.transaction() as connection:
        rosters = roster_store.list_seen(connection)
        seen = [roster.id for roster in rosters]

        def files(words: str) -> list[Intake]:
            return list_intakes(connection, seen, text=words, limit=FILES_FOUND)

        wanted = text.casefold()
        return Found(
            intakes=files(text),
            line=line,
            lines=files(named) if line else [],
            submissions=[
                submission
                for submission in list_submissions(connection)
                if wanted in submission.title.casefold()
            ],
            people=[person for roster in rosters for person in _people(connection, roster, text)],
            codes=[
                (name, code)
                for name, codes in load_codes(connection).items()
                for code in codes.codes
                if wanted in (code.code.casefold(), code.label.casefold())
            ],
            cards=cards,
        )


def _people(connection: Connection, roster: Roster, text: str) -> list[PersonFound]:
    snapshot = load_snapshot(connection, roster)
    people = []
    for place in find_people(snapshot, text, PEOPLE_FOUND):
        values = snapshot.values(place)
        name = name_person(snapshot.definition, values.get)
        key = person_key(snapshot.definition, values)
        people.append(PersonFound(roster, int(snapshot.ids[place]), name, key))
    return people


def _line_in(text: str) -> tuple[str, str]:
    """Read which line is looked for, and words of the file's name: "line 4 mentoring",
    "mentoring 4", "4".
    """
    matched = re.search(r"\bline\s+(\d{1,7})\b", text, re.IGNORECASE) or re.search(
        r"(?:^|\s)(\d{1,7})(?=\s|$)", text
    )
    if matched is None:
        return "", ""
    rest = f"{text[: matched.start()]} {text[matched.end() :]}"
    return matched[1], " ".join(
        word for word in rest.split() if word.casefold() not in ("of", "in", "line")
    )
