"""What is kept for some days: for how long, what is older, and its deletion."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.trailing import CUT
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Collection
    from datetime import date, datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Left",
    "Term",
    "count_letters",
    "count_looked",
    "count_passed",
    "count_rows",
    "count_trail",
    "cut_trail",
    "delete_files",
    "delete_letters",
    "delete_looked",
    "delete_passed",
    "delete_rows",
    "delete_term",
    "last_lapsed",
    "list_files",
    "list_last",
    "list_left",
    "list_terms",
    "put_term",
    "set_lapsed",
]

AT_ONCE = 1_000  # records asked for in one query
# A file whose every intake was applied or thrown away, and of which nothing was done since.
_FILES = """
FROM intake_file f
WHERE f.gone_at IS NULL
  AND EXISTS (SELECT 1 FROM intake i WHERE i.file_hash = f.hash)
  AND NOT EXISTS (
    SELECT 1
    FROM intake i
    WHERE i.file_hash = f.hash AND (
      COALESCE(
        (SELECT MAX(c.at) FROM change_set c WHERE c.intake_id = i.id
          AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id)),
        i.thrown_at, %(before)s) >= %(before)s
      OR i.thrown_at >= %(before)s
      OR EXISTS (SELECT 1 FROM intake_step s WHERE s.intake_id = i.id AND s.at >= %(before)s)
      OR EXISTS (SELECT 1 FROM proposal p
        WHERE p.intake_id = i.id AND p.state IN ('open', 'approved'))
      OR EXISTS (SELECT 1 FROM scheduled d
        WHERE d.intake_id = i.id AND d.state IN ('waiting', 'due', 'stopped'))
    )
  )
"""


@dataclass(frozen=True)
class Term:
    """For how long something is kept."""

    kind: str
    days: int
    by: str
    at: datetime


@dataclass(frozen=True)
class Left:
    """Somebody who left a roster."""

    record_id: int
    roster_id: int
    at: datetime


def list_terms(connection: Connection) -> list[Term]:
    """List for how long things are kept; what is not among them is kept for ever."""
    rows = connection.rows(
        "SELECT t.kind, t.days, COALESCE(a.name, ''), t.at"
        " FROM keeping_term t"
        " LEFT JOIN account a ON a.id = t.account_id"
        " ORDER BY t.kind"
    )
    return [Term(*row) for row in rows]


def put_term(
    connection: Connection, kind: str, days: int, account_id: int | None, at: datetime
) -> None:
    """Say for how many days something is kept."""
    connection.run(
        "INSERT INTO keeping_term (kind, days, account_id, at) VALUES (%s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE days = VALUES(days), account_id = VALUES(account_id),"
        " at = VALUES(at)",
        (kind, days, account_id, at),
    )


def delete_term(connection: Connection, kind: str) -> None:
    """Keep something for ever."""
    connection.run("DELETE FROM keeping_term WHERE kind = %s", (kind,))


def last_lapsed(connection: Connection) -> int:
    """Tell the day, as an ordinal, on which what was too old was last deleted; 0 for never."""
    row = connection.row("SELECT next FROM counter WHERE name = 'lapsed'")
    return int(row[0]) if row else 0


def set_lapsed(connection: Connection, day: date) -> None:
    """Keep on which day what was too old was last deleted."""
    connection.run(
        "INSERT INTO counter (name, next) VALUES ('lapsed', %s)"
        " ON DUPLICATE KEY UPDATE next = VALUES(next)",
        (day.toordinal(),),
    )


def list_files(connection: Connection, before: datetime) -> list[bytes]:
    """List the files of which nothing was done since a moment, and nothing is left to do."""
    rows = connection.rows(f"SELECT f.hash {_FILES}", {"before": before})  # type: ignore[arg-type]
    return [bytes(row[0]) for row in rows]


def delete_files(connection: Connection, before: datetime, at: datetime) -> int:
    """Delete the content of such files; that they were there stays."""
    hashes = list_files(connection, before)
    for one in hashes:
        connection.run(
            "UPDATE intake_file SET content = '', gone_at = %s WHERE hash = %s", (at, one)
        )
    return len(hashes)


_ROWS = "FROM intake_row WHERE change_set_id IN (SELECT id FROM change_set WHERE at < %s)"


def count_rows(connection: Connection, before: datetime) -> int:
    """Count the rows of files that were applied before a moment."""
    row = connection.row(f"SELECT COUNT(*) {_ROWS}", (before,))
    return int(row[0]) if row else 0


def delete_rows(connection: Connection, before: datetime) -> int:
    """Delete such rows; receipts keep their counts."""
    return connection.run(f"DELETE {_ROWS}", (before,))


def list_left(connection: Connection, before: datetime) -> list[Left]:
    """List who left a roster before a moment, and is neither erased nor kept from it."""
    rows = connection.rows(
        "SELECT v.record_id, v.roster_id, MAX(c.at)"
        " FROM record_version v"
        " JOIN record r ON r.id = v.record_id"
        " JOIN change_set c ON c.roster_id = v.roster_id AND c.version = v.valid_to"
        " WHERE r.kept_for IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM record_version w"
        "   WHERE w.record_id = v.record_id AND w.valid_to IS NULL)"
        " AND NOT EXISTS (SELECT 1 FROM erasure e WHERE e.record_id = v.record_id)"
        " GROUP BY v.record_id, v.roster_id"
        " HAVING MAX(c.at) < %s"
        " ORDER BY v.record_id",
        (before,),
    )
    return [Left(*row) for row in rows]


def list_last(connection: Connection, records: Collection[int]) -> dict[int, str]:
    """List the last content of records, as JSON text on one line, by number."""
    found: dict[int, str] = {}
    numbers = sorted(records)
    for start in range(0, len(numbers), AT_ONCE):
        rows = connection.rows(
            "SELECT v.record_id, v.content"
            " FROM record_version v"
            " JOIN (SELECT record_id, MAX(valid_from) AS last FROM record_version"
            "   WHERE record_id IN %s GROUP BY record_id) l"
            "   ON l.record_id = v.record_id AND l.last = v.valid_from",
            (tuple(numbers[start : start + AT_ONCE]),),
        )
        found |= {number: json.dumps(json.loads(text), ensure_ascii=False) for number, text in rows}
    return found


def count_looked(connection: Connection, before: datetime) -> int:
    """Count the notes of who looked at sensitive fields before a moment, and uncovered them."""
    row = connection.row(
        "SELECT (SELECT COUNT(*) FROM looked WHERE hour < %s)"
        " + (SELECT COUNT(*) FROM uncovered WHERE until < %s)",
        (before, before),
    )
    return int(row[0]) if row else 0


def delete_looked(connection: Connection, before: datetime) -> int:
    """Delete such notes."""
    return connection.run("DELETE FROM looked WHERE hour < %s", (before,)) + connection.run(
        "DELETE FROM uncovered WHERE until < %s", (before,)
    )


# A letter that nobody can answer since a moment, with nothing of it that waits.
_LETTERS = """
FROM mail_batch b
WHERE b.reminds IS NULL AND b.at < %(before)s
  AND (b.asks IS NULL OR b.ended_at < %(before)s
    OR JSON_VALUE(b.asks, '$.last_day') < DATE(%(before)s))
  AND NOT EXISTS (
    SELECT 1
    FROM mail_batch x
    LEFT JOIN mail m ON m.batch_id = x.id
    WHERE (x.id = b.id OR x.reminds = b.id)
      AND (x.at >= %(before)s
        OR (m.id IS NOT NULL AND COALESCE(m.done_at, %(before)s) >= %(before)s))
  )
  AND NOT EXISTS (
    SELECT 1
    FROM letter_addressee p
    WHERE p.batch_id = b.id
      AND (p.said IS NOT NULL OR p.answered_at >= %(before)s OR p.printed_at >= %(before)s)
  )
"""
_MAILS = "FROM mail WHERE batch_id IS NULL AND done_at < %s"


def count_letters(connection: Connection, before: datetime) -> int:
    """Count the mails of no letter that went or were given up before a moment, and to how many the
    letters were written that are over since.
    """
    row = connection.row(f"SELECT COUNT(*) {_MAILS}", (before,))
    written = connection.row(
        "SELECT COUNT(*) FROM letter_addressee p JOIN"  # noqa: S608
        f" (SELECT b.id {_LETTERS}) o ON o.id = p.batch_id",
        {"before": before},  # type: ignore[arg-type]
    )
    return (int(row[0]) if row else 0) + (int(written[0]) if written else 0)


def delete_letters(connection: Connection, before: datetime) -> int:
    """Delete them, with their links, their texts, and what was answered to them."""
    gone = count_letters(connection, before)
    connection.run(f"DELETE {_MAILS}", (before,))
    rows = connection.rows(f"SELECT b.id {_LETTERS}", {"before": before})  # type: ignore[arg-type]
    for (letter,) in rows:
        connection.run("DELETE FROM letter_addressee WHERE batch_id = %s", (letter,))
        connection.run(
            "DELETE m FROM mail m JOIN mail_batch b ON b.id = m.batch_id"
            " WHERE b.id = %s OR b.reminds = %s",
            (letter, letter),
        )
        connection.run("DELETE FROM mail_batch WHERE reminds = %s", (letter,))
        connection.run("DELETE FROM mail_batch WHERE id = %s", (letter,))
    return gone


def count_passed(connection: Connection, before: datetime) -> int:
    """Count what was sent to destinations before a moment."""
    row = connection.row("SELECT COUNT(*) FROM passed_act WHERE at < %s", (before,))
    return int(row[0]) if row else 0


def delete_passed(connection: Connection, before: datetime) -> int:
    """Delete that it was sent; what they hold stays known."""
    return connection.run("DELETE FROM passed_act WHERE at < %s", (before,))


def _last_old_seal(connection: Connection, before: datetime) -> int:
    """Find the last seal before the first one of a line that is not older; 0 for none. The last
    seal of all stays in any case.
    """
    row = connection.row(
        "SELECT COALESCE(MIN(IF(a.at >= %s, s.number, NULL)), MAX(s.number))"
        " FROM audit_seal s JOIN audit a ON a.id = s.audit_id",
        (before,),
    )
    return int(row[0]) - 1 if row and row[0] else 0


def count_trail(connection: Connection, before: datetime) -> int:
    """Count the lines at the beginning of the trail that are all older than a moment."""
    row = connection.row(
        "SELECT COUNT(*) FROM audit_seal WHERE number <= %s", (_last_old_seal(connection, before),)
    )
    return int(row[0]) if row else 0


def cut_trail(connection: Connection, before: datetime, at: datetime) -> int:
    """Delete the beginning of the trail, up to the first line that is not older than a moment, and
    say so in the trail: with the last seal that went, by which what stays is still checked.

    Args:
        connection: Of an account that may delete lines, inside a transaction.
        before: The moment.
        at: Now, in UTC and without a zone.

    Returns:
        How many lines went.
    """
    through = _last_old_seal(connection, before)
    row = connection.row("SELECT digest FROM audit_seal WHERE number = %s", (through,))
    if row is None:
        return 0
    digest = bytes(row[0]).hex()
    gone = connection.run(
        "DELETE a FROM audit a JOIN audit_seal s ON s.audit_id = a.id WHERE s.number <= %s",
        (through,),
    )
    connection.run("DELETE FROM audit_seal WHERE number <= %s", (through,))
    insert_audit(connection, CUT, "", None, at, lines=gone, through=through, digest=digest)
    return gone
