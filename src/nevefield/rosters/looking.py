"""Look at a roster: pages of records on any day, a record's life, people by a text, files to
take along.
"""

from __future__ import annotations

import csv
import io
import json
import re
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from typing import TYPE_CHECKING, Any

import numpy as np
import xlsxwriter

from nevefield.core.columns.titles import name_fields, name_member
from nevefield.core.ended import ENDED, find_ended
from nevefield.core.masking import cover_values
from nevefield.core.snapshot import Snapshot, to_json
from nevefield.core.texts import fold, holding, safe_cell
from nevefield.rosters.ahead import look_ahead
from nevefield.rosters.errors import NoSuchRecord
from nevefield.rosters.parts import name_own
from nevefield.rosters.snapshots import (
    as_seen,
    count_records,
    load_definition,
    load_others,
    load_snapshot,
    require_roster,
    unnamed_of,
)
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.scheduled import list_acts, list_ahead

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.scheduled import Ahead as ActAhead

__all__ = [
    "Ahead",
    "Export",
    "Life",
    "LifeVersion",
    "Move",
    "came_from",
    "choose_records",
    "code_users",
    "count_uses",
    "export_roster",
    "find_people",
    "list_described",
    "list_seen",
    "namer",
    "open_life",
    "open_roster",
]


@dataclass(frozen=True)
class Export:
    """A roster as a file."""

    content: bytes
    media_type: str
    file_name: str


def list_seen(context: Context) -> list[Roster]:
    """List the rosters that may be seen."""
    with context.database.transaction() as connection:
        return roster_store.list_seen(connection)


def list_described(context: Context) -> list[tuple[Roster, Definition, int, str]]:
    """List the rosters that may be seen, each with its definition, how many records it has, and
    the part of it that alone may be seen, in words.
    """
    with context.database.transaction() as connection:
        return [
            (
                roster,
                load_definition(connection, roster),
                count_records(connection, roster, count),
                name_own(connection, roster),
            )
            for roster, count in roster_store.list_rosters(connection)
        ]


def namer(context: Context, snapshot: Snapshot) -> Callable[[int], str]:
    """Make what names the person of a record, by its place, through another roster; nothing where
    records have names of their own, or where the other's may not be seen.
    """
    definition = snapshot.definition
    if name_fields(definition) or not any(key.resource for key in definition.foreign_keys):
        return lambda place: ""
    with context.database.transaction() as connection:
        others = load_others(connection, definition)
        hidden = unnamed_of(connection, definition) - {
            name for name, other in others.items() if other.part is not None
        }
    seen = {name: snapshot for name, snapshot in others.items() if name not in hidden}
    return lambda place: name_member(
        definition, lambda field: snapshot.columns[field].at(place), seen
    )


def open_roster(context: Context, name: str, as_of: date | None = None) -> tuple[Roster, Snapshot]:
    """Return a roster's records, today, at the end of another day (UTC), or as they will be on a
    day ahead.

    Of a day ahead, what waits for it or an earlier day is put in; those who are to join then have
    numbers under 0.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        version = None
        if as_of is not None and as_of > context.today():
            # what waits may bring people in from beyond a part, so it is put in first
            now = load_snapshot(connection.seeing({}), roster)
            return roster, as_seen(
                connection, roster, look_ahead(now, list_acts(connection, roster.id, as_of))
            )
        if as_of is not None:
            end = datetime.combine(as_of, time(), UTC).replace(tzinfo=None) + timedelta(days=1)
            version = store.get_version_on(connection, roster.id, end)
        return roster, load_snapshot(connection, roster, version)


@dataclass(frozen=True)
class Life:
    """A record's life, as it may be seen."""

    record_id: int
    roster: Roster
    definition: Definition
    snapshot: Snapshot  # its roster today
    versions: list[LifeVersion]
    leavings: list[tuple[store.ChangeSet, str]]  # with which it left, and by whom
    ahead: list[Ahead]  # what waits for it

    @property
    def values(self) -> dict[str, Any]:
        """The record's last values."""
        return self.versions[-1].values if self.versions else {}


@dataclass(frozen=True)
class LifeVersion:
    """What a record became at one time."""

    version: store.Version
    change_set: store.ChangeSet
    file: str
    by: str
    values: dict[str, Any]
    moves: list[Move]


@dataclass(frozen=True)
class Move:
    """A field that became something else; that it did is told also of what is covered."""

    field: str
    old: Any
    new: Any


def open_life(context: Context, record_id: int) -> Life:
    """Open a record's life: every version, with the file and line that it came from.

    Raises:
        NoSuchRecord: There is none.
    """
    with context.database.transaction() as connection:
        roster_id = store.get_record_roster(connection, record_id)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        if roster is None:
            raise NoSuchRecord(record_id)
        definition = load_definition(connection, roster)
        life = store.list_life(connection, record_id)
        leavings = store.list_leavings(connection, record_id)
        ahead = list_ahead(connection, record_id)
        snapshot = load_snapshot(connection, roster)
        covers = connection.sight.covers(roster.id)

    def moves(old: dict[str, Any], new: dict[str, Any]) -> list[Move]:
        before, after = (cover_values(definition, one) if covers else one for one in (old, new))
        names = [
            field.name for field in definition.fields if old.get(field.name) != new.get(field.name)
        ]
        return [Move(name, before.get(name), after.get(name)) for name in names]

    contents = [json.loads(version.content) for version, _, _, _ in life]
    versions = [
        LifeVersion(*one, cover_values(definition, now) if covers else now, moves(was, now))
        for one, was, now in zip(life, [{}, *contents], contents, strict=False)
    ]
    return Life(
        record_id,
        roster,
        definition,
        snapshot,
        versions,
        leavings,
        [_ahead(one, moves) for one in ahead],
    )


def came_from(context: Context, records: Sequence[int]) -> dict[int, str]:
    """Say of some records, by number, since when they are in the roster and from which file."""
    found = {}
    with context.database.transaction() as connection:
        for number in records:
            if life := store.list_life(connection, number):
                _, change_set, file, _ = life[0]
                found[number] = (
                    f"{context.day_of(change_set.at).isoformat()}, {file or change_set.title}"
                )
    return found


@dataclass(frozen=True)
class Ahead:
    """What waits for a record's day."""

    act: ActAhead
    moves: list[Move]


def _ahead(
    act_ahead: ActAhead, moves: Callable[[dict[str, Any], dict[str, Any]], list[Move]]
) -> Ahead:
    was, becomes = (
        {name: pair[side] for name, pair in (act_ahead.fields or {}).items()} for side in (0, 1)
    )
    return Ahead(act_ahead, moves(was, becomes))


def choose_records(
    snapshot: Snapshot,
    *,
    text: str = "",
    filters: Sequence[str] = (),
    sort: str = "",
    down: bool = False,
    today: date | None = None,
) -> NDArray[np.intp]:
    """Choose records, in order.

    Args:
        snapshot: The roster.
        text: Must stand in some field; "" for all.
        filters: `field:value`, the value as stored; `field:` for empty; `~ended:true` and
            `~ended:false`.
        sort: A field; "" by the primary key.
        down: Greatest first; empty ones stand last either way.
        today: For which day it is asked who has ended.
    """
    chosen = np.ones(len(snapshot), bool)
    if text.strip():
        chosen &= _with_text(snapshot, text)
    for one in filters:
        name, _, value = one.partition(":")
        if name == ENDED and today is not None:
            chosen &= find_ended(snapshot, today) == (value == "true")
        elif name in snapshot.columns:
            chosen &= _with_value(snapshot, name, value)
    key = sort if sort in snapshot.columns else next(iter(snapshot.definition.primary_key), "")
    if not key:
        return np.flatnonzero(chosen)
    order = snapshot.order(key, down=down)
    return order[chosen[order]]


def _with_text(snapshot: Snapshot, text: str, names: Sequence[str] = ()) -> NDArray[np.bool_]:
    """Tell which records have every word of a text in some field, of all or of those named."""
    found = np.ones(len(snapshot), bool)
    columns = [snapshot.columns[name] for name in names or snapshot.columns]
    for word in text.replace(",", " ").split():
        has_word = np.zeros(len(snapshot), bool)
        for column in columns:
            # the last one for -1: nothing there
            has_word |= np.append(holding(column.values, word), False)[column.codes].astype(bool)
        found &= has_word
    return found


def _with_value(snapshot: Snapshot, name: str, value: str) -> NDArray[np.bool_]:
    column = snapshot.columns[name]
    if not value:
        return column.codes < 0
    several = snapshot.definition.by_name[name].several
    wanted = fold(value)
    codes = [
        code
        for code, text in enumerate(column.texts())
        if (
            wanted in [fold(part) for part in text.split("\x1f")]
            if several
            else wanted == fold(text)
        )
    ]
    return np.isin(column.codes, codes) if codes else np.zeros(len(snapshot), bool)


def find_people(snapshot: Snapshot, text: str, most: int) -> list[int]:
    """Find records whose key, names or mail have every word of a text."""
    definition = snapshot.definition
    names = [
        *definition.primary_key,
        *name_fields(definition),
        *(field.name for field in definition.fields if field.is_mail),
    ]
    found = _with_text(snapshot, text, list(dict.fromkeys(names)))
    return [int(place) for place in np.flatnonzero(found)[:most]]


def export_roster(roster: Roster, snapshot: Snapshot, kind: str) -> Export:
    """Write a roster as CSV, XLSX or JSON; no cell of it is a formula when a spreadsheet opens
    it.
    """
    definition = snapshot.definition
    names = [field.name for field in definition.fields]
    everyone = choose_records(snapshot)
    if kind == "json":
        records = [snapshot.values(int(place)) for place in everyone]
        content = json.dumps(
            {"definition": definition.document, "records": records}, ensure_ascii=False
        ).encode()
        return Export(content, "application/json", f"{roster.name}.json")
    columns = [snapshot.columns[name].rows(everyone) for name in names]
    rows = [
        [(text or "").replace("\x1f", ";") for text in row] for row in zip(*columns, strict=True)
    ]
    if kind == "xlsx":
        return Export(
            _workbook(roster.title, names, rows),
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            f"{roster.name}.xlsx",
        )
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(names)
    writer.writerows([safe_cell(text) for text in row] for row in rows)
    return Export(
        b"\xef\xbb\xbf" + out.getvalue().encode(), "text/csv; charset=utf-8", f"{roster.name}.csv"
    )


def _workbook(title: str, names: list[str], rows: list[list[str]]) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out,
        {
            "in_memory": True,
            "strings_to_formulas": False,
            "strings_to_urls": False,
            "strings_to_numbers": False,
        },
    )
    sheet = book.add_worksheet(re.sub(r"[\[\]:*?/\\]", " ", title)[:31])
    bold: Any = book.add_format({"bold": True})
    for column, name in enumerate(names):
        sheet.write_string(0, column, name, bold)
    for number, row in enumerate(rows, 1):
        for column, text in enumerate(row):
            if text:
                sheet.write_string(number, column, text)
    sheet.freeze_panes(1, 0)
    book.close()
    return out.getvalue()


def code_users(connection: Connection) -> dict[str, list[tuple[str, str, Snapshot]]]:
    """Find where each code list is used: words for the place, the field, the roster."""
    found: dict[str, list[tuple[str, str, Snapshot]]] = {}
    for roster in roster_store.list_seen(connection):
        snapshot = load_snapshot(connection, roster)
        for field in snapshot.definition.fields:
            if field.code_list:
                found.setdefault(field.code_list, []).append(
                    (f"{roster.title}, {field.title}", field.name, snapshot)
                )
    return found


def count_uses(connection: Connection, name: str) -> dict[str, int]:
    """Count the records that have each code of a list."""
    used: dict[str, int] = {}
    for _, field, snapshot in code_users(connection).get(name, []):
        column = snapshot.columns[field]
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values)).tolist()
        for text, count in zip(column.texts(), counts, strict=True):
            value = to_json(snapshot.definition, field, text)
            for code in value if isinstance(value, list) else [value]:
                used[code] = used.get(code, 0) + count
    return used
