"""Destinations and their versions, what each holds of which record, what was sent, files made."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any

import orjson

from nevefield.core.passing.outgoing import Content
from nevefield.core.passing.standing import NOTHING, Told

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence

    from nevefield.store.connection import Connection

__all__ = [
    "ActRow",
    "DestinationRow",
    "Known",
    "Learnt",
    "Version",
    "claim",
    "count_doors",
    "count_late",
    "forget_door",
    "forget_passed",
    "get_content",
    "get_destination",
    "insert_destination",
    "insert_version",
    "learn",
    "list_acts",
    "list_destinations",
    "list_groups",
    "list_known",
    "list_there",
    "list_told",
    "list_versions",
    "lock",
    "put_group",
    "read_content",
    "release",
    "set_destination",
    "set_held",
    "set_ref",
    "try_again",
]

BATCH = 1_000
_DESTINATION = (
    "SELECT d.id, d.name, d.roster_id, d.version, d.is_on, d.token, d.taken, d.touched, d.seen,"
    " d.busy_until, d.next_at, d.tries,"
    " COALESCE(NULLIF(d.problem, ''), (SELECT f.trouble FROM passed_file f"
    "  WHERE f.destination_id = d.id AND f.waits AND f.content IS NOT NULL"
    "  ORDER BY f.trouble DESC LIMIT 1), ''),"
    " d.sent_at, d.doors, v.document, v.at,"
    " d.asked_at, d.fetch_digest IS NOT NULL"
    " FROM destination d"
    " JOIN destination_version v ON v.destination_id = d.id AND v.number = d.version"
)
# what was decided is told by itself, where that is so
_AGAIN = "UPDATE destination SET touched = touched + 1, seen = '' WHERE id = %s"
_KEEP = (
    "INSERT INTO passed (destination_id, record_id, roster_id, ref, is_there, digest, content, own,"
    " problem, version, at)"
    " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)"
    " ON DUPLICATE KEY UPDATE ref = VALUES(ref), is_there = VALUES(is_there),"
    " digest = VALUES(digest), content = VALUES(content), own = VALUES(own),"
    " version = VALUES(version), at = VALUES(at), tried = '', code = '',"
    " problem = VALUES(problem)"
)


@dataclass(frozen=True)
class DestinationRow:
    """A destination, with its document in force."""

    id: int
    name: str
    roster_id: int
    version: int
    is_on: bool
    token: bytes | None
    taken: Mapping[str, list[str]]
    touched: int
    seen: str
    busy_until: datetime | None
    next_at: datetime | None
    tries: int
    problem: str  # of telling it, or of laying a file of it in its folder
    sent_at: datetime | None
    doors: list[dict[str, Any]]  # as they said of themselves
    document: Any
    since: datetime
    asked_at: datetime | None  # when they last asked, to the minute
    has_address: bool  # whether a token lets them ask, or fetch


@dataclass(frozen=True)
class Version:
    """A version of a destination's document."""

    number: int
    document: Any
    at: datetime
    by: str


@dataclass(frozen=True)
class Learnt:
    """What became of sending a record: what they hold now; or, with `tried`, that it was refused,
    and then they hold what they held.
    """

    record_id: int
    roster_id: int
    act: str
    ref: str = ""
    is_there: bool = False
    digest: bytes = b""
    content: Content | None = None
    own: Mapping[str, str] | None = None
    tried: bytes = b""
    code: str = ""
    problem: str = ""
    version: int = 0  # of the roster
    moved: tuple[str, ...] = ()
    answer: str = ""
    ms: int | None = None


@dataclass(frozen=True)
class Known:
    """What a destination holds of a record, and by what it knows it."""

    ref: str
    is_there: bool
    content: Content | None
    held_reason: str | None
    problem: str
    version: int
    at: datetime


@dataclass(frozen=True)
class ActRow:
    """Something that was sent."""

    destination_id: int
    record_id: int
    act: str
    moved: str
    answer: str
    ms: int | None
    version: int
    at: datetime
    by: str


def insert_destination(
    connection: Connection,
    name: str,
    roster_id: int,
    document: Any,
    account_id: int | None,
    at: datetime,
) -> int:
    """Add a destination with its first version.

    Raises:
        KeyTaken: There is one of the name.
    """
    number = connection.insert(
        "INSERT INTO destination (name, roster_id, version, taken) VALUES (%s, %s, 1, '{}')",
        (name, roster_id),
    )
    insert_version(connection, number, 1, roster_id, document, account_id, at)
    return number


def insert_version(
    connection: Connection,
    destination_id: int,
    number: int,
    roster_id: int,
    document: Any,
    account_id: int | None,
    at: datetime,
) -> None:
    """Add a version of a destination and put it in force."""
    connection.run(
        "INSERT INTO destination_version (destination_id, number, document, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s)",
        (destination_id, number, json.dumps(document, ensure_ascii=False), account_id, at),
    )
    connection.run(
        "UPDATE destination SET version = %s, roster_id = %s, seen = '', next_at = NULL,"
        " tries = 0, problem = '', touched = touched + 1"
        " WHERE id = %s",
        (number, roster_id, destination_id),
    )


def get_destination(connection: Connection, name: str) -> DestinationRow | None:
    """Find a destination whose first roster may be seen."""
    row = connection.row(f"{_DESTINATION} WHERE d.name = %s", (name,))
    found = _destination(row) if row else None
    return found if found and connection.sight.sees(found.roster_id) else None


def list_destinations(connection: Connection) -> list[DestinationRow]:
    """List the destinations whose first roster may be seen, by name."""
    rows = map(_destination, connection.rows(f"{_DESTINATION} ORDER BY d.name"))
    return [one for one in rows if connection.sight.sees(one.roster_id)]


def list_versions(connection: Connection, destination_id: int) -> list[Version]:
    """List the versions of a destination, the newest first."""
    rows = connection.rows(
        "SELECT v.number, v.document, v.at, COALESCE(a.name, '')"
        " FROM destination_version v"
        " LEFT JOIN account a ON a.id = v.account_id"
        " WHERE v.destination_id = %s"
        " ORDER BY v.number DESC",
        (destination_id,),
    )
    return [Version(number, orjson.loads(text), at, by) for number, text, at, by in rows]


def lock(connection: Connection, destination_id: int) -> tuple[int, int]:
    """Lock a destination and return the number of its version in force, and its count."""
    row = connection.row(
        "SELECT version, touched FROM destination WHERE id = %s FOR UPDATE", (destination_id,)
    )
    return (int(row[0]), int(row[1])) if row else (0, 0)


def set_destination(
    connection: Connection, destination_id: int, *, touches: bool = True, **values: Any
) -> None:
    """Set columns of a destination; `touches` where records may stand otherwise by it."""
    names = ", ".join(f"{name} = %s" for name in values)
    given = [
        json.dumps(one, ensure_ascii=False) if isinstance(one, (dict, list)) else one
        for one in values.values()
    ]
    touched = ", touched = touched + 1" if touches else ""
    connection.run(
        f"UPDATE destination SET {names}{touched} WHERE id = %s",  # noqa: S608
        (*given, destination_id),
    )


def claim(
    connection: Connection, destination_id: int, job_id: int, now: datetime, until: datetime
) -> bool:
    """Let nobody else send to a destination for a while; False when somebody does. A job that is
    run again has what it had.
    """
    connection.run(
        "UPDATE destination SET busy_until = %s, busy_by = %s"
        " WHERE id = %s AND (busy_until IS NULL OR busy_until < %s OR busy_by = %s)",
        (until, job_id, destination_id, now, job_id),
    )
    row = connection.row("SELECT busy_by FROM destination WHERE id = %s", (destination_id,))
    return row is not None and row[0] == job_id


def release(connection: Connection, destination_id: int, job_id: int) -> None:
    """Let others send to a destination again."""
    connection.run(
        "UPDATE destination SET busy_until = NULL, busy_by = NULL WHERE id = %s AND busy_by = %s",
        (destination_id, job_id),
    )


def list_told(connection: Connection, destination_id: int, roster_id: int) -> dict[int, Told]:
    """List what is known of records of a roster at a destination, by record."""
    of = (destination_id, roster_id)
    told: dict[int, Told] = {}
    # many rows in one: the client reads a row in some 10 microseconds, of whatever size
    for (packed,) in connection.rows(
        "SELECT GROUP_CONCAT(CONCAT_WS(0x1f, record_id, is_there, HEX(digest), COALESCE(own, ''))"
        " SEPARATOR 0x1e)"
        " FROM passed WHERE destination_id = %s AND roster_id = %s"
        " GROUP BY record_id DIV 200",
        of,
    ):
        for one in _text(packed).split("\x1e"):
            record, is_there, digest, own = one.split("\x1f")
            told[int(record)] = Told(
                is_there == "1", bytes.fromhex(digest), own=json.loads(own) if own else NOTHING
            )
    # the few of which there is more to know
    for record, tried, code, problem, is_held in connection.rows(
        "SELECT record_id, tried, code, problem, held_reason IS NOT NULL FROM passed"
        " WHERE destination_id = %s AND roster_id = %s"
        " AND (tried <> '' OR held_reason IS NOT NULL)",
        of,
    ):
        told[record] = told[record]._replace(
            tried=tried, code=code, problem=problem, is_held=bool(is_held)
        )
    return told


def list_there(connection: Connection, destination_id: int) -> list[str]:
    """Name the rosters of which somebody is there."""
    rows = connection.rows(
        "SELECT r.name FROM roster r WHERE EXISTS (SELECT 1 FROM passed p"
        " WHERE p.destination_id = %s AND p.is_there AND p.roster_id = r.id)"
        " ORDER BY r.name",
        (destination_id,),
    )
    return [str(row[0]) for row in rows]


def list_known(
    connection: Connection, destination_id: int, records: Collection[int]
) -> dict[int, Known]:
    """Give what a destination holds of some records."""
    found: dict[int, Known] = {}
    chosen = list(records)
    for first in range(0, len(chosen), BATCH):
        some = chosen[first : first + BATCH]
        rows = connection.rows(
            "SELECT record_id, ref, is_there, content, held_reason, problem, version, at"  # noqa: S608
            " FROM passed WHERE destination_id = %s"
            f" AND record_id IN ({', '.join(['%s'] * len(some))})",
            (destination_id, *some),
        )
        for record, ref, is_there, content, reason, problem, version, at in rows:
            found[int(record)] = Known(
                ref, bool(is_there), read_content(content), reason, problem, version, at
            )
    return found


def get_content(connection: Connection, destination_id: int, record_id: int) -> Content | None:
    """Give what a destination holds of a record."""
    found = list_known(connection, destination_id, [record_id]).get(record_id)
    return found.content if found else None


def learn(
    connection: Connection,
    destination_id: int,
    learnt: Sequence[Learnt],
    account_id: int | None,
    at: datetime,
) -> None:
    """Keep what became of sending records: what they hold now, or why it was refused."""
    for first in range(0, len(learnt), BATCH):
        some = learnt[first : first + BATCH]
        connection.run_many(
            _KEEP,
            [_kept(destination_id, one, at) for one in some if not one.tried],
        )
        connection.run_many(
            "INSERT INTO passed (destination_id, record_id, roster_id, tried, code, problem, at)"
            " VALUES (%s, %s, %s, %s, %s, %s, %s)"
            " ON DUPLICATE KEY UPDATE tried = VALUES(tried), code = VALUES(code),"
            " problem = VALUES(problem), at = VALUES(at)",
            [
                (
                    destination_id,
                    one.record_id,
                    one.roster_id,
                    one.tried,
                    one.code[:200],
                    one.problem[:500],
                    at,
                )
                for one in some
                if one.tried
            ],
        )
        connection.run_many(
            "INSERT INTO passed_act"
            " (destination_id, record_id, act, moved, answer, ms, version, account_id, at)"
            " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [
                (
                    destination_id,
                    one.record_id,
                    one.act,
                    ", ".join(one.moved)[:500],
                    one.answer[:60],
                    one.ms,
                    one.version,
                    account_id,
                    at,
                )
                for one in some
            ],
        )
    connection.run("UPDATE destination SET touched = touched + 1 WHERE id = %s", (destination_id,))


def _kept(destination_id: int, one: Learnt, at: datetime) -> tuple[Any, ...]:
    own = json.dumps(one.own, ensure_ascii=False) if one.own else None
    return (
        destination_id,
        one.record_id,
        one.roster_id,
        one.ref[:200],
        one.is_there,
        one.digest,
        _write(one.content),
        own,
        one.problem[:500],
        one.version,
        at,
    )


def list_acts(
    connection: Connection, record_id: int, destination_id: int | None = None, limit: int = 50
) -> list[ActRow]:
    """List what was sent of a record, the newest first."""
    only = "" if destination_id is None else " AND p.destination_id = %s"
    rows = connection.rows(
        "SELECT p.destination_id, p.record_id, p.act, p.moved, p.answer, p.ms, p.version, p.at,"  # noqa: S608
        " COALESCE(a.name, '')"
        " FROM passed_act p"
        " LEFT JOIN account a ON a.id = p.account_id"
        f" WHERE p.record_id = %s{only}"
        " ORDER BY p.id DESC"
        " LIMIT %s",
        (record_id, *(() if destination_id is None else (destination_id,)), limit),
    )
    return [ActRow(*row) for row in rows]


def set_held(
    connection: Connection,
    destination_id: int,
    roster_id: int,
    records: Collection[int],
    reason: str | None,
    at: datetime,
) -> None:
    """Hold records back, or let them go again."""
    connection.run_many(
        "INSERT INTO passed (destination_id, record_id, roster_id, held_reason, at)"
        " VALUES (%s, %s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE held_reason = VALUES(held_reason)",
        [(destination_id, record, roster_id, reason, at) for record in records],
    )
    connection.run(_AGAIN, (destination_id,))


def set_ref(connection: Connection, destination_id: int, record_id: int, ref: str) -> None:
    """Keep by what a record is known there."""
    connection.run(
        "UPDATE passed SET ref = %s WHERE destination_id = %s AND record_id = %s",
        (ref, destination_id, record_id),
    )


def forget_door(connection: Connection, destination_id: int, door: str) -> None:
    """Forget that a door knows any card: it says that it has fewer than it was told."""
    connection.run(
        "UPDATE passed SET digest = '', problem = '',"
        " ref = TRIM(BOTH ' ' FROM REPLACE(CONCAT(' ', ref, ' '), %s, ' '))"
        " WHERE destination_id = %s AND CONCAT(' ', ref, ' ') LIKE %s",
        (f" {door} ", destination_id, f"% {door.replace('%', '').replace('_', chr(92) + '_')} %"),
    )
    connection.run("UPDATE destination SET touched = touched + 1 WHERE id = %s", (destination_id,))


def count_doors(connection: Connection, destination_id: int) -> dict[str, int]:
    """Count the records of which each door knows, as far as it was told."""
    counted: dict[str, int] = {}
    for ref, count in connection.rows(
        "SELECT ref, COUNT(*) FROM passed WHERE destination_id = %s AND is_there GROUP BY ref",
        (destination_id,),
    ):
        for door in str(ref).split()[1:]:  # behind the card itself
            counted[door] = counted.get(door, 0) + int(count)
    return counted


def count_late(connection: Connection, destination_id: int) -> dict[str, int]:
    """Count by the titles of doors the records that they were not told of yet."""
    counted: dict[str, int] = {}
    for problem, count in connection.rows(
        "SELECT problem, COUNT(*) FROM passed"
        " WHERE destination_id = %s AND tried = '' AND problem LIKE 'not told yet: %%'"
        " GROUP BY problem",
        (destination_id,),
    ):
        for title in str(problem).removeprefix("not told yet: ").split(", "):
            counted[title] = counted.get(title, 0) + int(count)
    return counted


def try_again(connection: Connection, destination_id: int, records: Collection[int]) -> None:
    """Forget that records were refused."""
    connection.run_many(
        "UPDATE passed SET tried = '', code = '', problem = ''"
        " WHERE destination_id = %s AND record_id = %s",
        [(destination_id, record) for record in records],
    )
    connection.run(_AGAIN, (destination_id,))


def forget_passed(connection: Connection, record_id: int) -> int:
    """Forget what destinations hold of somebody, but for by what they know them, so that they can
    still be ended there; files in which they may stand go. Return of how many destinations.
    """
    connection.run(
        "UPDATE passed_file f JOIN passed p ON p.destination_id = f.destination_id"
        " SET f.content = NULL WHERE p.record_id = %s",
        (record_id,),
    )
    return connection.run(
        "UPDATE passed SET content = NULL, own = NULL, digest = '', tried = '', problem = '',"
        " held_reason = IF(held_reason IS NULL, NULL, '') WHERE record_id = %s",
        (record_id,),
    )


def list_groups(connection: Connection, destination_id: int) -> dict[str, str]:
    """List the groups that we made or found there: by what they are known there, by name."""
    return dict(
        connection.rows(
            "SELECT name, ref FROM passed_group WHERE destination_id = %s", (destination_id,)
        )
    )


def put_group(connection: Connection, destination_id: int, name: str, ref: str) -> None:
    """Keep by what a group is known there."""
    connection.run(
        "INSERT INTO passed_group (destination_id, digest, name, ref) VALUES (%s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE ref = VALUES(ref)",
        (destination_id, hashlib.blake2b(name.encode(), digest_size=16).digest(), name, ref),
    )


def _text(packed: bytes | str) -> str:
    return packed.decode() if isinstance(packed, bytes) else packed


def _write(content: Content | None) -> str | None:
    if content is None:
        return None
    return json.dumps(
        {"fields": dict(content.fields), "groups": list(content.groups)}, ensure_ascii=False
    )


def read_content(text: str | None) -> Content | None:
    """Read what is held of a record, as it is kept."""
    if not text:
        return None
    found = orjson.loads(text)
    return Content(found.get("fields", {}), tuple(found.get("groups", ())))


def _destination(row: tuple[Any, ...]) -> DestinationRow:
    found = list(row)
    for place in (6, 14, 15):  # taken, doors, document
        found[place] = json.loads(found[place] or "[]")
    found[4], found[18] = bool(found[4]), bool(found[18])
    return DestinationRow(*found)
