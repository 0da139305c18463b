"""Files that were made for destinations: the last ones are kept with their content."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nevefield.store.connection import Connection

__all__ = [
    "FileRow",
    "NewFile",
    "Waiting",
    "claim_waiting",
    "end_waiting",
    "fetch_file",
    "get_file",
    "insert_file",
    "list_files",
    "list_waiting",
    "note_laid",
    "put_off",
]

KEPT_FILES = 10  # with their content, of each destination


@dataclass(frozen=True)
class FileRow:
    """A file that was made."""

    id: int
    file_name: str
    records: int
    has_content: bool
    at: datetime
    by: str
    fetched_at: datetime | None
    waits: bool  # to be laid in a folder
    laid_at: datetime | None
    laid_as: str
    trouble: str  # why it does not lie there yet


@dataclass(frozen=True)
class NewFile:
    """A file as it was made."""

    name: str
    records: int
    content: bytes
    into_folder: bool
    only_changes: bool  # it does not stand for the ones before it


@dataclass(frozen=True)
class Waiting:
    """A file that is to be laid in a folder."""

    id: int
    file_name: str
    content: bytes
    tries: int


def insert_file(
    connection: Connection,
    destination_id: int,
    made: NewFile,
    account_id: int | None,
    at: datetime,
) -> int:
    """Keep a file that was made; of older ones the content goes, unless they wait to be laid in a
    folder, which a file of everything does in their place.
    """
    if not made.only_changes:
        end_waiting(connection, destination_id)
    number = connection.insert(
        "INSERT INTO passed_file"
        " (destination_id, file_name, records, content, account_id, at, waits)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s)",
        (
            destination_id,
            made.name[:200],
            made.records,
            made.content,
            account_id,
            at,
            made.into_folder,
        ),
    )
    rows = connection.rows(
        "SELECT id FROM passed_file"
        " WHERE destination_id = %s AND content IS NOT NULL AND NOT waits"
        " ORDER BY id DESC LIMIT 1000 OFFSET %s",
        (destination_id, KEPT_FILES),
    )
    connection.run_many("UPDATE passed_file SET content = NULL WHERE id = %s", rows)
    return number


def list_files(connection: Connection, destination_id: int, limit: int = 20) -> list[FileRow]:
    """List the files of a destination, the newest first."""
    rows = connection.rows(
        "SELECT f.id, f.file_name, f.records, f.content IS NOT NULL, f.at,"
        " COALESCE(a.name, ''), f.fetched_at,"
        " f.waits AND f.content IS NOT NULL, f.laid_at, f.laid_as, f.trouble"
        " FROM passed_file f"
        " LEFT JOIN account a ON a.id = f.account_id"
        " WHERE f.destination_id = %s"
        " ORDER BY f.id DESC"
        " LIMIT %s",
        (destination_id, limit),
    )
    return [
        FileRow(number, name, records, bool(has_content), at, by, fetched_at, bool(waits), *laid)
        for number, name, records, has_content, at, by, fetched_at, waits, *laid in rows
    ]


def fetch_file(
    connection: Connection, digest: bytes, at: datetime
) -> tuple[str, str, bytes] | None:
    """Give the newest file to whoever has the token of a digest: the destination's name, the
    file's, and its content; it is kept when it was fetched.
    """
    row = connection.row(
        "SELECT d.name, f.id, f.file_name, f.content"
        " FROM destination d"
        " JOIN passed_file f ON f.destination_id = d.id AND f.content IS NOT NULL"
        " WHERE d.fetch_digest = %s"
        " ORDER BY f.id DESC"
        " LIMIT 1",
        (digest,),
    )
    if row is None:
        return None
    connection.run("UPDATE passed_file SET fetched_at = %s WHERE id = %s", (at, row[1]))
    return row[0], row[2], row[3]


def list_waiting(connection: Connection) -> set[int]:
    """List the destinations of which a file waits to be laid in a folder."""
    rows = connection.rows(
        "SELECT DISTINCT destination_id FROM passed_file WHERE waits AND content IS NOT NULL"
    )
    return {number for (number,) in rows}


def claim_waiting(
    connection: Connection, destination_id: int, at: datetime, until: datetime
) -> Waiting | None:
    """Claim the oldest file of a destination that waits to be laid in a folder; None when there is
    none, or it is not to be tried yet.
    """
    row = connection.row(
        "SELECT id, file_name, content, tries, next_at FROM passed_file"
        " WHERE destination_id = %s AND waits AND content IS NOT NULL"
        " ORDER BY id LIMIT 1"
        " FOR UPDATE",
        (destination_id,),
    )
    if row is None or (row[4] is not None and row[4] > at):
        return None
    connection.run("UPDATE passed_file SET next_at = %s WHERE id = %s", (until, row[0]))
    return Waiting(*row[:4])


def put_off(connection: Connection, file_id: int, trouble: str, until: datetime) -> None:
    """Keep why a file could not be laid, and until when it is left alone."""
    connection.run(
        "UPDATE passed_file SET trouble = %s, next_at = %s, tries = LEAST(tries + 1, 1000)"
        " WHERE id = %s",
        (trouble[:500], until, file_id),
    )


def note_laid(connection: Connection, file_id: int, name: str, at: datetime) -> None:
    """Keep that a file lies in its folder, and under which name."""
    connection.run(
        "UPDATE passed_file SET waits = 0, laid_at = %s, laid_as = %s, trouble = '' WHERE id = %s",
        (at, name[:255], file_id),
    )


def end_waiting(connection: Connection, destination_id: int) -> None:
    """Let no file of a destination wait to be laid any more."""
    connection.run(
        "UPDATE passed_file SET waits = 0, trouble = '' WHERE destination_id = %s AND waits",
        (destination_id,),
    )


def get_file(connection: Connection, destination_id: int, file_id: int) -> tuple[str, bytes] | None:
    """Give a file of a destination by its name, and its content; None when that is gone."""
    row = connection.row(
        "SELECT file_name, content FROM passed_file"
        " WHERE destination_id = %s AND id = %s AND content IS NOT NULL",
        (destination_id, file_id),
    )
    return (row[0], row[1]) if row else None
