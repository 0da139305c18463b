"""Letters that were written: who has answered, who has not, who is reminded."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING

from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.mailing.template import Template
from nevefield.letters.errors import NoLinks
from nevefield.letters.writing import Letter, may_answer, require_letter
from nevefield.rosters.snapshots import load_definition, load_snapshot, require_roster
from nevefield.store import letters as store
from nevefield.store.audit import insert_audit
from nevefield.store.mails import drop_waiting
from nevefield.store.rosters import get_roster_by_id

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence

    from nevefield.context import Context
    from nevefield.core.snapshot import Snapshot
    from nevefield.letters.writing import Paper
    from nevefield.store.connection import Connection
    from nevefield.store.letters import Addressee, LetterRow, Stand

__all__ = [
    "PARTS",
    "Counted",
    "Followed",
    "OpenLetter",
    "end_letter",
    "list_letters",
    "open_letter",
    "part_of",
    "reminder",
    "still_open",
]

# where those who are written to stand; each stands in one
PARTS = (
    "corrected",
    "confirmed",
    "set",
    "looked",
    "silent",
    "waiting",
    "failed",
    "to print",
    "told",
)


@dataclass(frozen=True)
class Followed:
    """Somebody to whom a letter was written."""

    row: Addressee
    part: str
    key: str  # "" for who has left the roster
    name: str


@dataclass(frozen=True)
class Counted:
    """A letter, and how many stand where."""

    row: LetterRow
    counts: Mapping[str, int]
    untaken: int  # corrections that are in no intake
    over: str  # why its links work no more, or that it has none; "" for that they do


@dataclass(frozen=True)
class OpenLetter:
    """A letter, and where those stand to whom it was written."""

    counted: Counted
    people: list[Followed]

    @property
    def row(self) -> LetterRow:
        """Give the letter."""
        return self.counted.row


def part_of(one: Stand, *, asks: bool) -> str:
    """Tell where somebody stands to whom a letter was written.

    Args:
        one: Who.
        asks: Whether the letter asks something.
    """
    if one.answer:
        return one.answer
    if one.has_looked:
        return "looked"
    if one.mail in ("waiting", "handing"):
        return "waiting"
    if one.on_paper and not one.is_printed:
        return "to print"
    if one.mail in ("refused", "dropped", "unclear") and not one.is_printed:
        return "failed"
    return "silent" if asks else "told"


def list_letters(context: Context, name: str) -> list[Counted]:
    """List the letters to people of a roster, the last first.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        rows = store.list_letters(connection, roster.id)
        return [_count(context, connection, row) for row in rows]


def open_letter(context: Context, number: int) -> OpenLetter:
    """Open a letter.

    Raises:
        NoSuchLetter: There is none.
    """
    with context.database.transaction() as connection:
        row = require_letter(connection, number)
        roster = get_roster_by_id(connection, row.roster_id)
        found = store.list_addressees(connection, row.id)
        names = {}
        if roster is not None:
            snapshot = load_snapshot(connection, roster)
            names = _names(snapshot, {one.record_id for one in found})
        asks = row.asks is not None
        people = [
            Followed(one, part_of(one.stand, asks=asks), *names.get(one.record_id, ("", "")))
            for one in found
        ]
        return OpenLetter(_count(context, connection, row), people)


def _count(context: Context, connection: Connection, row: LetterRow) -> Counted:
    """Count who stands where; each part that there is, is named."""
    stands, untaken = store.count_stands(connection, row.id)
    counts = dict.fromkeys(PARTS, 0)
    for stand, count in stands.items():
        counts[part_of(stand, asks=row.asks is not None)] += count
    try:
        may_answer(row, context.today())
    except NoLinks as error:
        return Counted(row, counts, untaken, str(error))
    return Counted(row, counts, untaken, "")


def _names(snapshot: Snapshot, records: Collection[int]) -> dict[int, tuple[str, str]]:
    """Name records by number and name; those that have left the roster have none."""
    definition = snapshot.definition
    found = {}
    for place, record in enumerate(snapshot.ids.tolist()):
        if record not in records:
            continue
        value = partial(_value, snapshot, place)
        key = person_key(definition, {one: value(one) for one in definition.primary_key})
        found[int(record)] = (key, name_person(definition, value))
    return found


def _value(snapshot: Snapshot, place: int, name: str) -> str | None:
    return snapshot.columns[name].at(place)


def still_open(opened: OpenLetter) -> list[Followed]:
    """List who has not answered, and is in the roster."""
    return [one for one in opened.people if not one.row.answer and one.key]


def reminder(context: Context, number: int, template: Template, paper: Paper) -> Letter:
    """Make the letter that reminds those who have not answered.

    Raises:
        NoSuchLetter: There is none.
        NoLinks: Nobody can answer it any more.
    """
    opened = open_letter(context, number)
    asks = may_answer(opened.row, context.today())
    with context.database.transaction() as connection:
        roster = get_roster_by_id(connection, opened.row.roster_id)
        definition = load_definition(connection, roster) if roster else None
    fields = definition.fields if definition is not None else ()
    # a letter that went on paper alone says of no field that it has their addresses
    field = opened.row.field or next((one.name for one in fields if one.is_mail), "")
    records = [one.row.record_id for one in still_open(opened)]
    letter = Letter(roster.name if roster else "", records, field, template, asks, reminds=number)
    return replace(letter, paper=paper)


def end_letter(context: Context, number: int, account_id: int | None) -> None:
    """Withdraw the links of a letter.

    Raises:
        NoSuchLetter: There is none.
        NoLinks: They work no more.
    """
    with context.database.transaction() as connection:
        store.lock_letter(connection, number)
        row = require_letter(connection, number)
        may_answer(row, context.today())
        store.end_letter(connection, number, context.now())
        drop_waiting(connection, number, context.now())
        insert_audit(
            connection, "letter-ended", row.title, account_id, context.now(), letter=number
        )


def list_of_record(context: Context, record_id: int) -> Sequence[tuple[LetterRow, Addressee]]:
    """List the letters to one person, the last first."""
    with context.database.transaction() as connection:
        return store.list_of_record(connection, record_id)
