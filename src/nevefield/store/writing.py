"""Write a change plan: everything that alters a roster goes through here, inside the caller's one transaction.

Bulk rows are loaded into temporary staging tables first: `LOAD DATA LOCAL` drops and alters rows with mere warnings, so
the warnings and the counts are looked at before anything is taken from there.
"""

from __future__ import annotations

import os
import tempfile
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.store.errors import LoadRefused

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

    from nevefield.store.connection import Connection

__all__ = ["OutcomeRow", "Write", "Written", "delete_written", "insert_outcomes", "write_records"]

Progress = "Callable[[str, int, int], None]"


@dataclass(frozen=True)
class Write:
    """What becomes of one record: its new content as JSON text, or None when it leaves."""

    record_id: int
    content: str | None
    line: int | None = None
    is_new: bool = False
    keys: Sequence[tuple[str, str]] = field(default_factory=tuple)  # name and normalised content of each key it has now


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
    connection: Connection, roster_id: int, version: int, writes: Sequence[Write], progress: Callable[[str, int, int], None]
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
    progress("Writing records", 0, total)
    _stage(
        connection,
        "staged_record",
        "record_id BIGINT UNSIGNED NOT NULL PRIMARY KEY, line INT UNSIGNED NOT NULL, is_new TINYINT NOT NULL,"
        " leaves TINYINT NOT NULL, content LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL",
        (
            f"{one.record_id}\t{one.line or 0}\t{int(one.is_new)}\t{int(one.content is None)}\t{one.content or '{}'}\n"
            for one in writes
        ),
        total,
    )
    progress("Writing records", total // 3, total)
    connection.run(
        "INSERT INTO record (id, roster_id, created) SELECT record_id, %s, %s FROM staged_record WHERE is_new = 1",
        (roster_id, version),
    )
    if not all(one.is_new for one in writes):
        connection.run(
            "UPDATE record_version v JOIN staged_record s ON s.record_id = v.record_id"
            " SET v.valid_to = %s WHERE v.valid_to IS NULL AND s.is_new = 0",
            (version,),
        )
        connection.run("DELETE k FROM record_key k JOIN staged_record s ON s.record_id = k.record_id WHERE s.is_new = 0")
    connection.run(
        "INSERT INTO record_version (record_id, valid_from, roster_id, line, content)"
        " SELECT record_id, %s, %s, NULLIF(line, 0), content FROM staged_record WHERE leaves = 0 ORDER BY record_id",
        (version, roster_id),
    )
    progress("Writing keys", 2 * total // 3, total)
    count = sum(len(one.keys) for one in writes)
    _stage(
        connection,
        "staged_key",
        "record_id BIGINT UNSIGNED NOT NULL, name VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,"
        " content VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL",
        (f"{one.record_id}\t{name}\t{content}\n" for one in writes for name, content in one.keys),
        count,
    )
    connection.run(
        "INSERT INTO record_key (roster_id, name, content, record_id)"
        " SELECT %s, name, content, record_id FROM staged_key ORDER BY name, content",
        (roster_id,),
    )
    progress("Reading back", total, total)
    return _read_back(connection, roster_id, version)


def _read_back(connection: Connection, roster_id: int, version: int) -> Written:
    joined = connection.row(
        "SELECT COUNT(*) FROM record r JOIN record_version v ON v.record_id = r.id AND v.valid_from = r.created"
        " WHERE r.roster_id = %s AND r.created = %s",
        (roster_id, version),
    )
    written = connection.row("SELECT COUNT(*) FROM record_version WHERE roster_id = %s AND valid_from = %s", (roster_id, version))
    left = connection.row(
        "SELECT COUNT(*) FROM record_version b"
        " LEFT JOIN record_version a ON a.record_id = b.record_id AND a.valid_from = b.valid_to"
        " WHERE b.roster_id = %s AND b.valid_to = %s AND a.record_id IS NULL",
        (roster_id, version),
    )
    numbers = [int(row[0]) if row else 0 for row in (joined, written, left)]
    return Written(numbers[0], numbers[1] - numbers[0], numbers[2])


def insert_outcomes(connection: Connection, change_set_id: int, rows: Sequence[OutcomeRow]) -> dict[str, int]:
    """Keep where every line ended up, and count by outcome what then stands there."""
    _stage(
        connection,
        "staged_row",
        "line INT UNSIGNED NOT NULL, outcome VARCHAR(10) NOT NULL, record_id BIGINT UNSIGNED NOT NULL,"
        " message TEXT CHARACTER SET utf8mb4 NOT NULL",
        (f"{one.line}\t{one.outcome}\t{one.record_id or 0}\t{_flat(one.message)}\n" for one in rows),
        len(rows),
    )
    connection.run(
        "INSERT INTO intake_row (change_set_id, line, outcome, record_id, message)"
        " SELECT %s, line, outcome, NULLIF(record_id, 0), message FROM staged_row ORDER BY line",
        (change_set_id,),
    )
    return dict(
        connection.rows("SELECT outcome, COUNT(*) FROM intake_row WHERE change_set_id = %s GROUP BY outcome", (change_set_id,))
    )


def _flat(text: str) -> str:
    return " ".join(text.split())[:4000]


def delete_written(connection: Connection) -> None:
    """Drop the staging tables."""
    for table in ("staged_record", "staged_key", "staged_row"):
        connection.run(f"DROP TEMPORARY TABLE IF EXISTS {table}")


def _stage(connection: Connection, table: str, columns: str, lines: Iterable[str], count: int) -> None:
    """Load lines into a temporary table; refuse when the database took them otherwise than they are."""
    connection.run(f"DROP TEMPORARY TABLE IF EXISTS {table}")
    connection.run(f"CREATE TEMPORARY TABLE {table} ({columns})")
    if not count:
        return
    handle, path = tempfile.mkstemp(prefix="nevefield-")
    try:
        with os.fdopen(handle, "w", encoding="utf-8", newline="") as out:
            out.writelines(lines)
        # Without an escape character a backslash stays what it is; JSON text has no bare tab or line end.
        loaded = connection.run(
            f"LOAD DATA LOCAL INFILE %s INTO TABLE {table} CHARACTER SET utf8mb4"
            " FIELDS TERMINATED BY '\\t' ESCAPED BY '' LINES TERMINATED BY '\\n'",
            (path,),
        )
        warnings = connection.rows("SHOW WARNINGS")
        if warnings or loaded != count:
            raise LoadRefused(table, count, loaded, str(warnings[0][2]) if warnings else "")
    finally:
        os.unlink(path)
