"""What outside systems wrote, as long as nobody decided of it here."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime

    from nevefield.core.passing.outgoing import Content
    from nevefield.store.connection import Connection

from nevefield.store.passing import read_content

__all__ = [
    "NewProposed",
    "Proposed",
    "count_waiting",
    "forget_proposed",
    "get_asked",
    "insert_proposed",
    "list_became",
    "list_externals",
    "list_held",
    "list_intakes",
    "list_marks",
    "list_proposed",
    "list_waiting",
    "note_asked",
    "put_external",
    "put_proposed",
    "set_idle",
    "settle",
    "take_in",
    "withdraw",
]

_COLUMNS = (
    "id, kind, is_new, record_id, group_name, content, is_gone, version, intake_id, line, made_at,"
    " at"
)


@dataclass(frozen=True)
class Proposed:
    """What they wrote of somebody, or of a group."""

    id: int
    kind: str  # User or Group
    is_new: bool
    record_id: int | None
    group_name: str
    content: Mapping[str, Any]
    is_gone: bool
    version: int
    intake_id: int | None
    line: int | None
    made_at: datetime
    at: datetime


def get_asked(connection: Connection, digest: bytes) -> str | None:
    """Name the destination of which a token's digest is kept."""
    row = connection.row("SELECT name FROM destination WHERE fetch_digest = %s", (digest,))
    return str(row[0]) if row else None


def note_asked(connection: Connection, destination_id: int, at: datetime) -> None:
    """Keep when they last asked."""
    connection.run("UPDATE destination SET asked_at = %s WHERE id = %s", (at, destination_id))


def list_held(
    connection: Connection, destination_id: int
) -> list[tuple[int, int, Content, str, datetime]]:
    """List what a destination holds: record, roster, content, digest in hexadecimal, and since
    when; in the order of the records.
    """
    rows = connection.rows(
        "SELECT record_id, roster_id, content, HEX(digest), at FROM passed"
        " WHERE destination_id = %s AND is_there AND content IS NOT NULL ORDER BY record_id",
        (destination_id,),
    )
    return [
        (int(record), int(roster), found, digest, at)
        for record, roster, content, digest, at in rows
        if (found := read_content(content)) is not None
    ]


def list_marks(connection: Connection, destination_id: int) -> list[tuple[int, int, int]]:
    """List by what it is seen whether something that nobody decided of yet is what it was: number,
    version, and the intake in which it is, or 0.
    """
    marks = []
    # many rows in one: the client reads a row in some 10 microseconds, of whatever size
    for (packed,) in connection.rows(
        "SELECT GROUP_CONCAT(CONCAT_WS(' ', id, version, COALESCE(intake_id, 0)) ORDER BY id)"
        " FROM proposed_resource WHERE destination_id = %s AND NOT is_settled"
        " GROUP BY id DIV 1000 ORDER BY id DIV 1000",
        (destination_id,),
    ):
        text = packed.decode() if isinstance(packed, bytes) else packed
        for mark in text.split(","):
            number, version, intake = mark.split()
            marks.append((int(number), int(version), int(intake)))
    return marks


def list_proposed(
    connection: Connection, destination_id: int, numbers: Sequence[int]
) -> list[Proposed]:
    """Give of what nobody decided of yet these."""
    if not numbers:
        return []
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM proposed_resource"  # noqa: S608
        " WHERE destination_id = %s AND NOT is_settled"
        f" AND id IN ({', '.join(['%s'] * len(numbers))}) ORDER BY id",
        (destination_id, *numbers),
    )
    return [_proposed(row) for row in rows]


def list_became(connection: Connection, destination_id: int) -> dict[int, int]:
    """List whom they made and who is in the roster by now: the number they know, by record."""
    return {
        int(record): int(number)
        for number, record in connection.rows(
            "SELECT id, record_id FROM proposed_resource"
            " WHERE destination_id = %s AND is_new AND is_settled AND record_id IS NOT NULL",
            (destination_id,),
        )
    }


def count_waiting(connection: Connection, destination_id: int) -> int:
    """Count what is in no intake yet."""
    row = connection.row(
        "SELECT COUNT(*) FROM proposed_resource"
        " WHERE destination_id = %s AND NOT is_settled AND intake_id IS NULL AND NOT is_idle",
        (destination_id,),
    )
    return int(row[0]) if row else 0


def list_intakes(connection: Connection, destination_id: int) -> list[tuple[int, str]]:
    """List the intakes in which something is looked at that nobody decided of: number and title."""
    return [
        (int(number), str(title))
        for number, title in connection.rows(
            "SELECT DISTINCT i.id, i.title FROM proposed_resource p"
            " JOIN intake i ON i.id = p.intake_id"
            " WHERE p.destination_id = %s AND NOT p.is_settled AND i.thrown_at IS NULL"
            " ORDER BY i.id",
            (destination_id,),
        )
    ]


def list_waiting(connection: Connection) -> list[tuple[str, datetime, datetime]]:
    """List destinations of which something is in no intake yet: name, when the first of it and
    when the last was written.
    """
    return connection.rows(
        "SELECT d.name, MIN(p.at), MAX(p.at) FROM proposed_resource p"
        " JOIN destination d ON d.id = p.destination_id"
        " WHERE NOT p.is_settled AND p.intake_id IS NULL AND NOT p.is_idle GROUP BY d.id, d.name"
    )


@dataclass(frozen=True)
class NewProposed:
    """What they wrote: of a record, of a group that is known, or else of something new."""

    destination_id: int
    kind: str  # User or Group
    at: datetime
    content: Mapping[str, Any]
    record_id: int | None = None
    group_name: str = ""
    is_gone: bool = False


def insert_proposed(connection: Connection, new: NewProposed) -> int:
    """Keep what they wrote, and return its number."""
    return connection.insert(
        "INSERT INTO proposed_resource (destination_id, kind, is_new, record_id, group_name,"
        " content, is_gone, made_at, at) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            new.destination_id,
            new.kind,
            new.record_id is None and not new.group_name,
            new.record_id,
            new.group_name,
            json.dumps(new.content, ensure_ascii=False),
            new.is_gone,
            new.at,
            new.at,
        ),
    )


def put_proposed(
    connection: Connection,
    number: int,
    content: Mapping[str, Any],
    at: datetime,
    *,
    is_gone: bool = False,
) -> None:
    """Keep what they wrote since; it is looked at anew."""
    connection.run(
        "UPDATE proposed_resource SET content = %s, at = %s, is_gone = %s, version = version + 1,"
        " intake_id = NULL, line = NULL, is_idle = FALSE WHERE id = %s",
        (json.dumps(content, ensure_ascii=False), at, is_gone, number),
    )


def withdraw(connection: Connection, number: int) -> None:
    """Forget what they took back before anybody decided of it."""
    connection.run(
        "UPDATE proposed_resource SET is_settled = TRUE, content = NULL, group_name = ''"
        " WHERE id = %s",
        (number,),
    )


def set_idle(connection: Connection, number: int) -> None:
    """Keep that something was looked at and nothing came of it, until they write it anew."""
    connection.run("UPDATE proposed_resource SET is_idle = TRUE WHERE id = %s", (number,))


def take_in(connection: Connection, intake_id: int, lines: Mapping[int, int | None]) -> None:
    """Keep in which intake, and in which line of it, something is looked at."""
    connection.run_many(
        "UPDATE proposed_resource SET intake_id = %s, line = %s WHERE id = %s",
        [(intake_id, line, number) for number, line in lines.items()],
    )


_GONE = "p.is_settled = TRUE, p.content = NULL, p.group_name = ''"


def settle(
    connection: Connection, destination_id: int, told: Mapping[int, int] | None = None
) -> int:
    """Settle what was decided of: its intake was put away, or its line went into the roster.

    Args:
        connection: The transaction.
        destination_id: Of the destination.
        told: By roster the version of which everything is held for them by now: until it is, what
            they wrote of whom the roster has taken stays what they read.

    Returns:
        How much was settled.
    """
    went, given = "r.outcome IN ('same', 'left_out')", []
    for roster_id, version in (told or {}).items():
        went += " OR (c.roster_id = %s AND c.version <= %s AND r.outcome IN ('new', 'changed'))"
        given += [roster_id, version]
    done = connection.run(
        "UPDATE proposed_resource p"  # noqa: S608
        " JOIN change_set c ON c.intake_id = p.intake_id"
        " JOIN intake_row r ON r.change_set_id = c.id AND r.line = p.line"
        f" SET p.record_id = COALESCE(p.record_id, r.record_id), {_GONE}"
        f" WHERE p.destination_id = %s AND NOT p.is_settled AND ({went})"
        " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)",
        (destination_id, *given),
    )
    done += connection.run(
        f"UPDATE proposed_resource p JOIN intake i ON i.id = p.intake_id SET {_GONE}"  # noqa: S608
        " WHERE p.destination_id = %s AND NOT p.is_settled AND i.thrown_at IS NOT NULL",
        (destination_id,),
    )
    for roster_id, version in (told or {}).items():
        # a group has no line of its own: it goes with what came in with it
        done += connection.run(
            "UPDATE proposed_resource p JOIN change_set c ON c.intake_id = p.intake_id"  # noqa: S608
            f" SET {_GONE}"
            " WHERE p.destination_id = %s AND NOT p.is_settled AND p.line IS NULL"
            " AND c.roster_id = %s AND c.version <= %s",
            (destination_id, roster_id, version),
        )
    return done


def list_externals(connection: Connection, destination_id: int) -> dict[str, str]:
    """List by what they know things themselves, by what they know them here."""
    return dict(
        connection.rows(
            "SELECT number, external FROM asked_external WHERE destination_id = %s",
            (destination_id,),
        )
    )


def put_external(
    connection: Connection, destination_id: int, number: str, external: str, record_id: int | None
) -> None:
    """Keep by what they know something themselves; "" for nothing any more."""
    if not external:
        connection.run(
            "DELETE FROM asked_external WHERE destination_id = %s AND number = %s",
            (destination_id, number),
        )
        return
    connection.run(
        "INSERT INTO asked_external (destination_id, number, external, record_id)"
        " VALUES (%s, %s, %s, %s) ON DUPLICATE KEY UPDATE external = VALUES(external)",
        (destination_id, number, external, record_id),
    )


def forget_proposed(connection: Connection, record_id: int) -> int:
    """Forget what was written of somebody; return how much."""
    connection.run(
        "DELETE e FROM asked_external e JOIN proposed_resource p ON p.destination_id ="
        " e.destination_id AND e.number = CONCAT('p', p.id) WHERE p.record_id = %s",
        (record_id,),
    )
    connection.run("DELETE FROM asked_external WHERE record_id = %s", (record_id,))
    return connection.run(
        "UPDATE proposed_resource SET is_settled = TRUE, content = NULL, group_name = ''"
        " WHERE record_id = %s",
        (record_id,),
    )


def _proposed(row: Sequence[Any]) -> Proposed:
    found = list(row)
    found[2], found[6] = bool(found[2]), bool(found[6])
    found[5] = json.loads(found[5] or "{}")
    return Proposed(*found)
