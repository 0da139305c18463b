"""By which change sets records were last altered, and what they were when they left."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["Reason", "list_last_contents", "list_reasons"]

BATCH = 500


@dataclass(frozen=True)
class Reason:
    """A change set that altered a record."""

    change_set: int
    kind: str
    title: str
    by: str
    at: datetime


def list_reasons(
    connection: Connection, roster_id: int, since: Mapping[int, int]
) -> dict[int, Reason]:
    """Give the last change set that altered each of some records after a version of the roster.

    Args:
        connection: Inside a transaction.
        roster_id: Whose records they are.
        since: By record, the version after which it counts.
    """
    found: dict[int, Reason] = {}
    records = list(since)
    for first in range(0, len(records), BATCH):
        some = records[first : first + BATCH]
        marks = ", ".join(["%s"] * len(some))
        rows = connection.rows(
            "SELECT v.record_id, c.version, c.id, c.kind, c.title, COALESCE(a.name, ''), c.at"  # noqa: S608
            " FROM record_version v"
            " JOIN change_set c ON c.roster_id = v.roster_id"
            " AND c.version = GREATEST(v.valid_from, COALESCE(v.valid_to, 0))"
            " LEFT JOIN account a ON a.id = c.account_id"
            f" WHERE v.roster_id = %s AND v.record_id IN ({marks})"
            " ORDER BY c.version",
            (roster_id, *some),
        )
        for record, version, *rest in rows:
            if version > since[record]:
                found[record] = Reason(*rest)
    return found


def list_last_contents(connection: Connection, records: Collection[int]) -> dict[int, str]:
    """Give the contents, as JSON text, that records have, or had when they left."""
    found: dict[int, str] = {}
    chosen = list(records)
    for first in range(0, len(chosen), BATCH):
        some = chosen[first : first + BATCH]
        marks = ", ".join(["%s"] * len(some))
        found |= dict(
            connection.rows(
                "SELECT record_id, content FROM record_version"  # noqa: S608
                f" WHERE record_id IN ({marks}) ORDER BY valid_from",
                some,
            )
        )
    return found
