"""Records, their versions and keys; change sets."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.parts import is_in_part
from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection
    from nevefield.store.sight import Part

__all__ = [
    "AsOf",
    "ChangeSet",
    "NewChangeSet",
    "Version",
    "count_later",
    "find_change_set",
    "get_as_of",
    "get_change_set",
    "get_change_set_of",
    "get_last_of",
    "get_record_roster",
    "get_standing",
    "get_version_on",
    "insert_change_set",
    "list_absent",
    "list_by_hand",
    "list_change_sets",
    "list_contents",
    "list_current",
    "list_later",
    "list_leavings",
    "list_life",
    "list_touched",
    "list_versions_at",
    "reserve_numbers",
    "set_receipt",
]

_SET = (
    "id, roster_id, version, kind, title, intake_id, steps, undoes, receipt, account_id, at,"
    " part_of, part_id"
)


FEW_RECORDS = 500  # of more, all of the roster are read


@dataclass(frozen=True)
class AsOf:
    """From where a roster is seen: one of its versions, and the moment when the next one came;
    None when it is the last.
    """

    version: int
    until: datetime | None = None


@dataclass(frozen=True)
class ChangeSet:
    """One alteration of a roster, and its receipt."""

    id: int
    roster_id: int
    version: int
    kind: str
    title: str
    intake_id: int | None
    steps: int | None
    undoes: int | None
    receipt: dict[str, Any]
    account_id: int | None
    at: datetime
    part_of: int | None = None
    part_id: int | None = None  # of the roster, within which it is; None for all of it


@dataclass(frozen=True)
class Version:
    """What a record was from one roster version to another; `content` is JSON text."""

    record_id: int
    valid_from: int
    valid_to: int | None
    line: int | None
    content: str


def reserve_numbers(connection: Connection, count: int) -> int:
    """Set numbers for new records aside and return the first; numbers that are not used in the
    end leave a gap.
    """
    connection.run(
        "INSERT INTO counter (name, next)"
        " VALUES ('record', 1 + %s)"
        " ON DUPLICATE KEY UPDATE next = next + %s",
        (count, count),
    )
    row = connection.row("SELECT next FROM counter WHERE name = 'record'")
    return int(row[0]) - count if row else 1


def list_current(connection: Connection, roster_id: int) -> list[tuple[int, str]]:
    """List the current records of a roster: number and JSON text, by number."""
    return connection.rows(
        "SELECT record_id, content"
        " FROM record_version"
        " WHERE roster_id = %s AND valid_to IS NULL"
        " ORDER BY record_id",
        (roster_id,),
    )


def list_versions_at(connection: Connection, roster_id: int, version: int) -> list[tuple[int, str]]:
    """List the records as they were at a roster version: number and JSON text, by number."""
    return connection.rows(
        "SELECT record_id, content"
        " FROM record_version"
        " WHERE roster_id = %s AND valid_from <= %s AND (valid_to IS NULL OR valid_to > %s)"
        " ORDER BY record_id",
        (roster_id, version, version),
    )


def get_version_on(connection: Connection, roster_id: int, before: datetime) -> int:
    """Find the roster's version at a moment; 0 before its first change set."""
    row = connection.row(
        "SELECT MAX(version) FROM change_set WHERE roster_id = %s AND at < %s", (roster_id, before)
    )
    return int(row[0]) if row and row[0] is not None else 0


def get_record_roster(connection: Connection, record_id: int) -> int | None:
    """Find the roster of a record; of a roster of which a part may be seen alone, the record is in
    it, or was when it left.
    """
    row = connection.row("SELECT roster_id FROM record WHERE id = %s", (record_id,))
    if row is None or not connection.sight.sees(int(row[0])):
        return None
    part = connection.sight.parts.get(int(row[0]))
    if part is not None and not _is_in(connection, part, int(row[0]), record_id):
        return None
    return int(row[0])


def _is_in(connection: Connection, part: Part, roster_id: int, record_id: int) -> bool:
    content = connection.row(
        "SELECT content FROM record_version WHERE record_id = %s ORDER BY valid_from DESC LIMIT 1",
        (record_id,),
    )
    definition = connection.row(
        "SELECT d.document"
        " FROM roster r"
        " JOIN definition d ON d.roster_id = r.id AND d.number = r.definition"
        " WHERE r.id = %s",
        (roster_id,),
    )
    if content is None or definition is None:
        return False
    names = {field["name"] for field in json.loads(definition[0])["fields"]}
    return bool(is_in_part(part.when, names, [json.loads(content[0])])[0])


def list_life(connection: Connection, record_id: int) -> list[tuple[Version, ChangeSet, str, str]]:
    """List a record's versions, the first first, each with its change set, the file it came from
    and who did it.
    """
    rows = connection.rows(
        "SELECT v.record_id, v.valid_from, v.valid_to, v.line, v.content, c.id, c.roster_id,"
        " c.version, c.kind, c.title, c.intake_id, c.steps, c.undoes, '{}', c.account_id, c.at,"
        " c.part_of, c.part_id, COALESCE(i.file_name, ''), COALESCE(a.name, '')"
        " FROM record_version v"
        " JOIN change_set c ON c.roster_id = v.roster_id AND c.version = v.valid_from"
        " LEFT JOIN intake i ON i.id = c.intake_id"
        " LEFT JOIN account a ON a.id = c.account_id"
        " WHERE v.record_id = %s"
        " ORDER BY v.valid_from",
        (record_id,),
    )
    return [(Version(*row[:5]), _change_set(row[5:18]), row[18], row[19]) for row in rows]


def list_leavings(connection: Connection, record_id: int) -> list[tuple[ChangeSet, str]]:
    """List the change sets with which a record left the roster, the first first, each with who
    did it.
    """
    rows = connection.rows(
        "SELECT c.id, c.roster_id, c.version, c.kind, c.title, c.intake_id, c.steps, c.undoes,"
        " '{}', c.account_id, c.at, c.part_of, c.part_id, COALESCE(a.name, '')"
        " FROM record_version v"
        " JOIN change_set c ON c.roster_id = v.roster_id AND c.version = v.valid_to"
        " LEFT JOIN record_version next ON next.record_id = v.record_id"
        " AND next.valid_from = v.valid_to"
        " LEFT JOIN account a ON a.id = c.account_id"
        " WHERE v.record_id = %s AND v.valid_to IS NOT NULL AND next.record_id IS NULL"
        " ORDER BY c.version",
        (record_id,),
    )
    return [(_change_set(row[:13]), row[13]) for row in rows]


@dataclass(frozen=True)
class NewChangeSet:
    """What is to be kept of a change set, but for what it does."""

    kind: str  # opening, intake, hand, undo, merge, codes
    title: str  # for people
    account_id: int | None  # who does it
    at: datetime
    intake_id: int | None = None  # that it comes from
    steps: int | None = None  # of the intake, as it was looked at
    undoes: int | None = None  # the change set that it takes back
    part_of: int | None = None  # the change set of which it takes a part back


def insert_change_set(
    connection: Connection,
    roster_id: int,
    version: int,
    new: NewChangeSet,
    part_id: int | None = None,
) -> int:
    """Add a change set without its receipt, within a part of its roster or all of it, and return
    its number.
    """
    return connection.insert(
        "INSERT INTO change_set (roster_id, version, kind, title, intake_id, steps, undoes,"
        " part_of, receipt, account_id, at, part_id)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, '{}', %s, %s, %s)",
        (
            roster_id,
            version,
            new.kind,
            new.title,
            new.intake_id,
            new.steps,
            new.undoes,
            new.part_of,
            new.account_id,
            new.at,
            part_id,
        ),
    )


def set_receipt(connection: Connection, change_set_id: int, receipt: dict[str, Any]) -> None:
    """Write a change set's receipt."""
    connection.run(
        "UPDATE change_set SET receipt = %s WHERE id = %s",
        (json.dumps(receipt, ensure_ascii=False), change_set_id),
    )


def get_change_set(connection: Connection, change_set_id: int) -> ChangeSet | None:
    """Find a change set."""
    row = connection.row(f"SELECT {_SET} FROM change_set WHERE id = %s", (change_set_id,))  # noqa: S608
    return only_seen(connection.sight, _change_set(row) if row else None)


def get_change_set_of(
    connection: Connection, intake_id: int, steps: int | None = None
) -> ChangeSet | None:
    """Find the change set that an intake was applied as: the last one, or the one at a number of
    steps.
    """
    wanted = "" if steps is None else " AND steps = %s"
    values = (intake_id,) if steps is None else (intake_id, steps)
    row = connection.row(
        f"SELECT {_SET} FROM change_set WHERE intake_id = %s{wanted} ORDER BY id DESC LIMIT 1",  # noqa: S608
        values,
    )
    return only_seen(connection.sight, _change_set(row) if row else None)


def get_standing(connection: Connection, intake_id: int) -> ChangeSet | None:
    """Find the last change set that an intake was applied as and that was not taken back."""
    row = connection.row(
        f"SELECT {_SET}"  # noqa: S608
        " FROM change_set c"
        " WHERE intake_id = %s AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)"
        " ORDER BY id DESC"
        " LIMIT 1",
        (intake_id,),
    )
    return only_seen(connection.sight, _change_set(row) if row else None)


def count_later(connection: Connection, roster_id: int, version: int) -> int:
    """Count the change sets after a roster version that were neither taken back nor take
    something back.
    """
    row = connection.row(
        "SELECT COUNT(*)"
        " FROM change_set c"
        " WHERE roster_id = %s AND version > %s AND kind <> 'undo'"
        " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)",
        (roster_id, version),
    )
    return int(row[0]) if row else 0


def list_absent(
    connection: Connection, roster_id: int, but_intake: int, most: int = 5
) -> list[int]:
    """List how many were absent from the last files that claimed everybody, the last first, but
    for what was taken back.
    """
    rows = connection.rows(
        "SELECT JSON_VALUE(c.receipt, '$.tally.absent')"
        " FROM change_set c"
        " WHERE c.roster_id = %s AND c.kind = 'intake' AND c.intake_id <> %s"
        " AND c.part_id <=> (SELECT part_id FROM intake WHERE id = %s)"
        " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)"
        " AND (JSON_VALUE(c.receipt, '$.coverage') = 'everybody'"
        " OR JSON_VALUE(c.receipt, '$.tally.absent') > 0)"
        " ORDER BY c.version DESC"
        " LIMIT %s",
        (roster_id, but_intake, but_intake, most),
    )
    return [int(row[0]) for row in rows]


def get_as_of(connection: Connection, roster_id: int, version: int) -> AsOf:
    """Find until when a roster had a version."""
    row = connection.row(
        "SELECT at FROM change_set WHERE roster_id = %s AND version = %s", (roster_id, version + 1)
    )
    return AsOf(version, row[0] if row else None)


def get_last_of(
    connection: Connection, roster_id: int, source: str, but_intake: int, version: int
) -> int:
    """Find the version after the last file of a source was applied, within the same part of the
    roster, seen from a version; of any file where it has no name.
    """
    row = connection.row(
        "SELECT MAX(c.version)"
        " FROM change_set c"
        " JOIN intake i ON i.id = c.intake_id"
        " WHERE c.roster_id = %s AND c.kind = 'intake' AND i.id <> %s AND (%s = ''"
        " OR i.source = %s) AND c.version <= %s"
        " AND i.part_id <=> (SELECT part_id FROM intake WHERE id = %s)"
        " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id AND u.version <= %s)",
        (roster_id, but_intake, source, source, version, but_intake, version),
    )
    return int(row[0]) if row and row[0] is not None else 0


def list_by_hand(
    connection: Connection, roster_id: int, since: int, version: int
) -> list[tuple[int, str, str | None, str, str, datetime]]:
    """List what was altered by hand after a version, seen from another: record, content after,
    before and then, who, when.
    """
    return connection.rows(
        "SELECT v.record_id, v.content, b.content, now.content, COALESCE(a.name, ''), c.at"
        " FROM change_set c"
        " JOIN record_version v ON v.roster_id = c.roster_id AND v.valid_from = c.version"
        " LEFT JOIN record_version b ON b.record_id = v.record_id AND b.valid_to = v.valid_from"
        " JOIN record_version now ON now.record_id = v.record_id AND now.valid_from <= %s"
        " AND (now.valid_to IS NULL OR now.valid_to > %s)"
        " LEFT JOIN account a ON a.id = c.account_id"
        " WHERE c.roster_id = %s AND c.kind = 'hand' AND c.version > %s AND c.version <= %s"
        " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id AND u.version <= %s)"
        " ORDER BY c.version",
        (version, version, roster_id, since, version, version),
    )


def list_change_sets(
    connection: Connection, roster_id: int, most: int = 100
) -> list[tuple[ChangeSet, str, int | None]]:
    """List a roster's change sets, the last first, each with who did it and the one that undid
    it.
    """
    seen, parts = connection.sight.where("c.roster_id", "c.part_id")
    rows = connection.rows(
        "SELECT c.id, c.roster_id, c.version, c.kind, c.title, c.intake_id, c.steps, c.undoes,"  # noqa: S608
        " c.receipt, c.account_id, c.at, c.part_of, c.part_id, COALESCE(a.name, ''), u.id"
        " FROM change_set c"
        " LEFT JOIN account a ON a.id = c.account_id"
        " LEFT JOIN change_set u ON u.undoes = c.id"
        f" WHERE c.roster_id = %s AND {seen}"
        " ORDER BY c.version DESC"
        " LIMIT %s",
        (roster_id, *parts, most),
    )
    return [(_change_set(row[:13]), row[13], row[14]) for row in rows]


def find_change_set(
    connection: Connection, change_set_id: int
) -> tuple[ChangeSet, str, int | None] | None:
    """Find a change set with who did it and the one that undid it."""
    row = connection.row(
        "SELECT c.id, c.roster_id, c.version, c.kind, c.title, c.intake_id, c.steps, c.undoes,"
        " c.receipt, c.account_id, c.at, c.part_of, c.part_id, COALESCE(a.name, ''), u.id"
        " FROM change_set c"
        " LEFT JOIN account a ON a.id = c.account_id"
        " LEFT JOIN change_set u ON u.undoes = c.id"
        " WHERE c.id = %s",
        (change_set_id,),
    )
    change_set = only_seen(connection.sight, _change_set(row[:13]) if row else None)
    return (change_set, row[13], row[14]) if change_set and row else None


def list_touched(
    connection: Connection, roster_id: int, version: int
) -> list[tuple[int, str | None, str | None]]:
    """List the records that a roster version altered: number, JSON text before and after (None:
    not in the roster).
    """
    return connection.rows(
        "SELECT a.record_id, b.content, a.content"
        " FROM record_version a"
        " LEFT JOIN record_version b ON b.record_id = a.record_id AND b.valid_to = a.valid_from"
        " WHERE a.roster_id = %s AND a.valid_from = %s"
        " UNION ALL"
        " SELECT b.record_id, b.content, NULL"
        " FROM record_version b"
        " LEFT JOIN record_version a ON a.record_id = b.record_id AND a.valid_from = b.valid_to"
        " WHERE b.roster_id = %s AND b.valid_to = %s AND a.record_id IS NULL",
        (roster_id, version, roster_id, version),
    )


def list_contents(
    connection: Connection, roster_id: int, record_ids: list[int]
) -> list[tuple[int, str]]:
    """List the current contents of chosen records of a roster: number and JSON text; those that
    left are not in it.
    """
    if len(record_ids) > FEW_RECORDS:
        wanted = set(record_ids)
        return [one for one in list_current(connection, roster_id) if one[0] in wanted]
    if not record_ids:
        return []
    marks = ", ".join(["%s"] * len(record_ids))
    return connection.rows(
        "SELECT record_id, content"  # noqa: S608
        " FROM record_version"
        f" WHERE roster_id = %s AND valid_to IS NULL AND record_id IN ({marks})",
        (roster_id, *record_ids),
    )


def list_later(
    connection: Connection, record_ids: list[int], version: int
) -> dict[int, list[tuple[int, str]]]:
    """List by record the change sets after a roster version that altered it or took it out:
    number and title.
    """
    found: dict[int, list[tuple[int, str]]] = {}
    if not record_ids:
        return found
    marks = ", ".join(["%s"] * len(record_ids))
    for record, number, title in connection.rows(
        "SELECT DISTINCT v.record_id, c.id, c.title"  # noqa: S608
        " FROM record_version v"
        " JOIN change_set c ON c.roster_id = v.roster_id"
        " AND c.version IN (v.valid_from, v.valid_to)"
        f" WHERE v.record_id IN ({marks}) AND c.version > %s"
        " ORDER BY c.id",
        (*record_ids, version),
    ):
        found.setdefault(int(record), []).append((int(number), str(title)))
    return found


def _change_set(row: tuple[Any, ...]) -> ChangeSet:
    values = list(row)
    values[8] = json.loads(values[8])
    return ChangeSet(*values)
