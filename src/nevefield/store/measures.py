"""Numbers by which a machine tells whether all goes on: nothing of anybody."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["count_jobs", "count_records", "find_ages", "sum_unforeseen"]


def count_jobs(connection: Connection) -> dict[tuple[str, str], int]:
    """Count the jobs by kind and state."""
    rows = connection.rows("SELECT kind, state, COUNT(*) FROM job GROUP BY kind, state")
    return {(kind, state): int(count) for kind, state, count in rows}


def count_records(connection: Connection) -> dict[str, int]:
    """Count the records by roster's name."""
    rows = connection.rows(
        "SELECT r.name, COUNT(v.record_id)"
        " FROM roster r"
        " LEFT JOIN record_version v ON v.roster_id = r.id AND v.valid_to IS NULL"
        " GROUP BY r.name"
    )
    return {name: int(count) for name, count in rows}


def find_ages(connection: Connection, now: datetime) -> dict[str, float]:
    """Find for how many seconds the oldest job waits, and how old the last good copy and the last
    seal of the trail are; what there is none of is left out.
    """
    row = connection.row(
        "SELECT TIMESTAMPDIFF(MICROSECOND,"
        "  (SELECT MIN(at) FROM job WHERE state = 'queued'), %s) / 1000000,"
        " TIMESTAMPDIFF(MICROSECOND,"
        "  (SELECT MAX(ended_at) FROM copy_made WHERE state = 'good'), %s) / 1000000,"
        " TIMESTAMPDIFF(MICROSECOND, (SELECT MAX(at) FROM audit_seal), %s) / 1000000",
        (now, now, now),
    )
    names = ("oldest_job", "last_copy", "last_seal")
    return {
        name: float(age) for name, age in zip(names, row or (), strict=False) if age is not None
    }


def sum_unforeseen(connection: Connection) -> int:
    """Count the errors that nobody foresaw and that are not settled."""
    row = connection.row("SELECT COALESCE(SUM(times), 0) FROM unforeseen WHERE settled_at IS NULL")
    return int(row[0]) if row else 0
