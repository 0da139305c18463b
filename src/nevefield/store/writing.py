"""Write a change plan: everything that alters a roster goes through here, inside the caller's one
transaction.

`LOAD DATA LOCAL` drops and alters rows with mere warnings, strict mode or not: after each load the
warnings and the count are looked at, and anything but the rows as they are ends the transaction.
"""

from __future__ import annotations

import os
import tempfile
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.store.connection import DUPLICATE
from nevefield.store.errors import KeyTaken, LoadRefused

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from nevefield.store.connection import Connection

__all__ = ["OutcomeRow", "Write", "Written", "insert_outcomes", "replace_keys", "write_records"]

Progress = "Callable[[str, int, int], None]"


@dataclass(frozen=True)
class Write:
    """What becomes of one record: its new content as JSON text, or None when it leaves."""

    record_id: int
    content: str | None
    line: int | None = None
    is_new: bool = False
    # name and normalised content of each key it has now
    keys: Sequence[tuple[str, str]] = field(default_factory=tuple)


@dataclass(frozen=True)
class Written:
    """What was read back after writing."""

    joined: int
    changed: int
    left: int


@dataclass(frozen=True)
class OutcomeRow:
    """Where one line of the file ended up, and why."""

    line: int
    outcome: str
    record_id: int | None
    message: str


def write_records(
    connection: Connection,
    roster_id: int,
    version: int,
    writes: Sequence[Write],
    progress: Callable[[str, int, int], None],
) -> Written:
    """Write records, versions and keys, and read back what then stands there.

    Args:
        connection: Inside the transaction that holds the roster's lock.
        roster_id: The roster.
        version: Its new version.
        writes: One for each record that is altered.
        progress: Called with what is being done, how many are done, and of how many.

    Raises:
        KeyTaken: A key is another record's already.
        LoadRefused: The database lost or altered a row.
    """
    total = len(writes)
    staying = [write for write in writes if write.content is not None]
    progress("Writing records", 0, total)
    _load(
        connection,
        "record (id) SET roster_id = %s, created = %s",
        (roster_id, version),
        [f"{write.record_id}\n" for write in writes if write.is_new],
    )
    _close_versions(connection, version, [write.record_id for write in writes if not write.is_new])
    progress("Writing records", total // 5, total)
    _load(
        connection,
        "record_version (record_id, @line, content) SET valid_from = %s, roster_id = %s, line ="
        " NULLIF(@line, 0)",
        (version, roster_id),
        [f"{one.record_id}\t{one.line or 0}\t{one.content}\n" for one in staying],
    )
    progress("Writing keys", total * 3 // 5, total)
    # In the order of the primary key: the database then fills its pages one after the other.
    keys = sorted(
        (name, content, write.record_id) for write in staying for name, content in write.keys
    )
    _load(
        connection,
        "record_key (name, content, record_id) SET roster_id = %s",
        (roster_id,),
        [f"{name}\t{content}\t{record_id}\n" for name, content, record_id in keys],
    )
    progress("Reading back", total, total)
    return _read_back(connection, roster_id, version)


def replace_keys(
    connection: Connection, roster_id: int, keys: Sequence[tuple[str, str, int]]
) -> None:
    """Write the keys of a roster's records anew: name, content, record.

    Raises:
        KeyTaken: Two records share one.
    """
    connection.run("DELETE FROM record_key WHERE roster_id = %s", (roster_id,))
    _load(
        connection,
        "record_key (name, content, record_id) SET roster_id = %s",
        (roster_id,),
        [f"{name}\t{content}\t{record_id}\n" for name, content, record_id in sorted(keys)],
    )


def _read_back(connection: Connection, roster_id: int, version: int) -> Written:
    joined = connection.row(
        "SELECT COUNT(*) FROM record WHERE roster_id = %s AND created = %s", (roster_id, version)
    )
    written = connection.row(
        "SELECT COUNT(*) FROM record_version WHERE roster_id = %s AND valid_from = %s",
        (roster_id, version),
    )
    left = connection.row(
        "SELECT COUNT(*)"
        " FROM record_version b"
        " LEFT JOIN record_version a ON a.record_id = b.record_id AND a.valid_from = b.valid_to"
        " WHERE b.roster_id = %s AND b.valid_to = %s AND a.record_id IS NULL",
        (roster_id, version),
    )
    numbers = [int(row[0]) if row else 0 for row in (joined, written, left)]
    return Written(numbers[0], numbers[1] - numbers[0], numbers[2])


def insert_outcomes(
    connection: Connection, change_set_id: int, rows: Sequence[OutcomeRow]
) -> dict[str, int]:
    """Keep where every line ended up, and count by outcome what then stands there."""
    _load(
        connection,
        "intake_row (line, outcome, @record, message) SET change_set_id = %s, record_id ="
        " NULLIF(@record, 0)",
        (change_set_id,),
        [
            f"{row.line}\t{row.outcome}\t{row.record_id or 0}\t{_flat(row.message)}\n"
            for row in rows
        ],
    )
    return dict(
        connection.rows(
            "SELECT outcome, COUNT(*) FROM intake_row WHERE change_set_id = %s GROUP BY outcome",
            (change_set_id,),
        )
    )


def _flat(text: str) -> str:
    return " ".join(text.split())[:4000]


def _close_versions(connection: Connection, version: int, record_ids: list[int]) -> None:
    """End the current version of records, and take their keys away."""
    if not record_ids:
        return
    with _staged(connection, record_ids):
        connection.run(
            "UPDATE record_version v"
            " JOIN staged_record s ON s.record_id = v.record_id"
            " SET v.valid_to = %s"
            " WHERE v.valid_to IS NULL",
            (version,),
        )
        connection.run(
            "DELETE k FROM record_key k JOIN staged_record s ON s.record_id = k.record_id"
        )


@contextmanager
def _staged(connection: Connection, record_ids: list[int]) -> Iterator[None]:
    """Put the numbers of records into a table of this connection's own; the only place where
    there is such a table.
    """
    connection.run("DROP TEMPORARY TABLE IF EXISTS staged_record")
    connection.run(
        "CREATE TEMPORARY TABLE staged_record (record_id BIGINT UNSIGNED NOT NULL PRIMARY KEY)"
    )
    _load(connection, "staged_record (record_id)", (), [f"{number}\n" for number in record_ids])
    yield  # when that fails the connection is thrown away, and the table with it
    connection.run("DROP TEMPORARY TABLE staged_record")


def _load(
    connection: Connection, target: str, values: Sequence[object], lines: Sequence[str]
) -> None:
    """Load lines into a table; raise when the database took them otherwise than they are."""
    if not lines:
        return
    handle, path = tempfile.mkstemp(prefix="nevefield-")
    try:
        with os.fdopen(handle, "w", encoding="utf-8", newline="") as out:
            out.writelines(lines)
        table, _, columns = target.partition(" ")
        # Without an escape character a backslash stays what it is; JSON text has no bare tab or
        # line end.
        loaded = connection.run(
            f"LOAD DATA LOCAL INFILE %s INTO TABLE {table} CHARACTER"
            " SET utf8mb4 FIELDS TERMINATED BY '\\t' ESCAPED BY '' LINES TERMINATED BY '\\n'"
            f" {columns}",
            (path, *values),
        )
        warnings = connection.rows("SHOW WARNINGS")
        if any(int(code) == DUPLICATE for _, code, _ in warnings):
            raise KeyTaken(str(next(said for _, code, said in warnings if int(code) == DUPLICATE)))
        if warnings or loaded != len(lines):
            raise LoadRefused(table, len(lines), loaded, str(warnings[0][2]) if warnings else "")
    finally:
        os.unlink(path)
