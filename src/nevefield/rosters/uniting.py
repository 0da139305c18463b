"""Records that may be one person: shown, said to be two, or made one."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.columns.titles import name_openly
from nevefield.core.people.doubles import Doubles, find_doubles
from nevefield.core.people.recognising import likeness_of_record
from nevefield.rosters.errors import NoSuchRecord, RosterMoved
from nevefield.rosters.snapshots import load_definition, load_snapshot, require_roster
from nevefield.rosters.writing import alter_roster, make_writes
from nevefield.store import cards as card_store
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.records import NewChangeSet
from nevefield.store.said import list_said, replace_said

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = ["OpenDoubles", "merge_records", "open_doubles", "say_two"]


@dataclass(frozen=True)
class OpenDoubles:
    """The records of a roster that may be one person."""

    snapshot: Snapshot  # as it may be seen
    doubles: Doubles
    _whole: Snapshot

    def same(self, name: str, records: Sequence[int]) -> bool | None:
        """Tell whether two records agree in a field, also where its values are covered; None
        when neither has one.
        """
        text, other = (self._whole.folded(name).at(record) for record in records)
        return None if text is other is None else text == other


def open_doubles(context: Context, name: str) -> OpenDoubles:
    """Find the records of a roster that may be one person, but for those that somebody said are
    two.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        # Who may be one person is found in what is kept from somebody, too.
        snapshot, shown = (
            load_snapshot(connection.whole(), roster),
            load_snapshot(connection, roster),
        )
        two = {
            (likeness, record)
            for likeness, record, is_same in list_said(connection, roster.id)
            if not is_same
        }
    doubles: Doubles = snapshot.keep("doubles", lambda: find_doubles(snapshot.definition, snapshot))

    def is_said(place: int) -> bool:
        one, other = doubles.records[place].tolist()
        numbers = snapshot.ids
        return (likeness_of_record(snapshot, one), int(numbers[other])) in two or (
            likeness_of_record(snapshot, other),
            int(numbers[one]),
        ) in two

    kept = doubles.keep([place for place in range(len(doubles)) if not (two and is_said(place))])
    return OpenDoubles(shown, kept, snapshot)


def say_two(context: Context, name: str, one: int, other: int, account_id: int | None) -> None:
    """Say that two records are two people: they are not shown again, and no row that says the same
    is asked about.

    Raises:
        NoSuchRoster, NoSuchRecord: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        snapshot = load_snapshot(connection, roster)
        places = _places(snapshot, one, other)
        said = [
            (likeness_of_record(snapshot, place), number, False)
            for place, number in zip(places, (other, one), strict=True)
        ]
        replace_said(connection, roster.id, said, None, context.now())
        insert_audit(
            connection, "two-people", roster.name, account_id, context.now(), records=[one, other]
        )


def merge_records(
    context: Context,
    name: str,
    keep: int,
    gone: int,
    account_id: int | None,
    *,
    take: Collection[str] = (),
    version: int | None = None,
) -> int:
    """Make two records one: the one that stays takes over what it lacks, several values together;
    the other leaves.

    Args:
        context: Database and clock.
        name: Of the roster.
        keep: The record that stays.
        gone: The record that leaves; its life stays readable, and the merging can be taken back.
        account_id: Who.
        take: Fields of which the value of the one that leaves is taken.
        version: Of the roster as it was looked at.

    Returns:
        The change set's number. Records that refer to the one that leaves refer to the one that
        stays afterwards, and its photograph is the other's where that has none.

    Raises:
        NoSuchRoster, NoSuchRecord: There is none.
        RosterMoved: The roster has another version by now.
        NeedsApproval: A second account has to approve first.
    """
    with context.database.transaction() as connection:
        number = require_roster(connection, name).id
    with context.database.transaction() as connection:
        now = roster_store.lock_roster(connection, number)
        roster = require_roster(connection, name)
        if version is not None and version != now:
            raise RosterMoved(version, now)
        definition = load_definition(connection, roster)
        _places(load_snapshot(connection.whole(), roster), keep, gone)  # both may be seen
        contents = {
            number: json.loads(text)
            for number, text in store.list_contents(connection, roster.id, [keep, gone])
        }
        if keep == gone or len(contents) != 2:
            raise NoSuchRecord(gone if keep in contents else keep)
        united = _unite(definition, contents[keep], contents[gone], take)
        altered: list[tuple[int, str | None, int | None, bool]] = [
            (keep, _write(united), None, False),
            (gone, None, None, False),
        ]
        altered += _referring(connection, roster, definition, contents[gone], united, {keep, gone})
        title = f"Merged: {name_openly(definition, united.get)}"
        change_set, _, receipt = alter_roster(
            connection,
            roster,
            make_writes(definition, altered),
            NewChangeSet(kind="merge", title=title[:200], account_id=account_id, at=context.now()),
            seen=now,
        )
        card_store.copy_photo(connection, keep, gone, account_id, context.now())
        store.set_receipt(
            connection, change_set, {**receipt, "merged": {"kept": keep, "gone": gone}}
        )
    return change_set


def _places(snapshot: Snapshot, *numbers: int) -> list[int]:
    places = []
    for number in numbers:
        place = np.flatnonzero(snapshot.ids == number)
        if not len(place):
            raise NoSuchRecord(number)
        places.append(int(place[0]))
    return places


def _unite(
    definition: Definition, kept: dict[str, Any], gone: dict[str, Any], take: Collection[str]
) -> dict[str, Any]:
    united = {**gone, **kept}
    for field in definition.fields:
        if field.name in take and field.name in gone:
            united[field.name] = gone[field.name]
        elif field.several and field.name in gone and field.name in kept:
            united[field.name] = list(dict.fromkeys([*kept[field.name], *gone[field.name]]))
    return united


def _referring(
    connection: Connection,
    roster: Roster,
    definition: Definition,
    gone: dict[str, Any],
    united: dict[str, Any],
    but: set[int],
) -> list[tuple[int, str | None, int | None, bool]]:
    """Let those who refer to the record that leaves, within the roster, refer to the one that
    stays.
    """
    own = [key for key in definition.foreign_keys if not key.resource and len(key.fields) == 1]
    moves = [(one.fields[0], gone.get(one.target[0]), united.get(one.target[0])) for one in own]
    moves = [move for move in moves if move[1] is not None and move[1] != move[2]]
    if not moves:
        return []
    found: list[tuple[int, str | None, int | None, bool]] = []
    for number, text in store.list_current(connection, roster.id):
        values = json.loads(text)
        turned = {
            field: now
            for field, was, now in moves
            if number not in but and values.get(field) == was
        }
        if turned:
            filled = {name: one for name, one in {**values, **turned}.items() if one is not None}
            found.append((number, _write(filled), None, False))
    return found


def _write(values: dict[str, Any]) -> str:
    return json.dumps(values, ensure_ascii=False, separators=(",", ":"))
