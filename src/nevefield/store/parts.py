"""Parts of rosters: conditions that rights rest on, and what was made within which."""

from __future__ import annotations

import hashlib
import json
from typing import TYPE_CHECKING, Any

from nevefield.store.sight import Part

if TYPE_CHECKING:
    from collections.abc import Collection

    from nevefield.store.connection import Connection

__all__ = ["ensure_part", "find_part", "get_part", "list_parts", "list_parts_in_use"]


def ensure_part(connection: Connection, roster_id: int, when: Any) -> int:
    """Return the number of a part of a roster, adding it when it is new: one condition is one
    part, whoever has it.
    """
    text = json.dumps(when, ensure_ascii=False, sort_keys=True, separators=(",", ":"))
    digest = hashlib.sha256(text.encode()).digest()
    row = connection.row(
        "SELECT id FROM roster_part WHERE roster_id = %s AND digest = %s", (roster_id, digest)
    )
    if row is not None:
        return int(row[0])
    return connection.insert(
        "INSERT INTO roster_part (roster_id, wanted, digest) VALUES (%s, %s, %s)",
        (roster_id, text, digest),
    )


def get_part(connection: Connection, part_id: int | None) -> Part | None:
    """Return a part by its number; None for all of a roster."""
    if part_id is None:
        return None
    row = connection.row("SELECT id, wanted FROM roster_part WHERE id = %s", (part_id,))
    return Part(row[0], json.loads(row[1])) if row else None


def list_parts(connection: Connection, account_ids: Collection[int]) -> dict[int, dict[int, Part]]:
    """List the parts that accounts have, by account and roster."""
    found: dict[int, dict[int, Part]] = {account_id: {} for account_id in account_ids}
    if not found:
        return found
    rows = connection.rows(
        "SELECT a.account_id, a.roster_id, p.id, p.wanted"
        " FROM access a"
        " JOIN roster_part p ON p.id = a.part_id"
        " WHERE a.account_id IN %s",
        (tuple(found),),
    )
    for account_id, roster_id, number, wanted in rows:
        found[account_id][roster_id] = Part(number, json.loads(wanted))
    return found


def list_parts_in_use(connection: Connection, roster_id: int) -> list[Any]:
    """List the conditions of the parts of a roster that somebody has."""
    rows = connection.rows(
        "SELECT DISTINCT p.id, p.wanted"
        " FROM access a"
        " JOIN roster_part p ON p.id = a.part_id"
        " WHERE a.roster_id = %s"
        " ORDER BY p.id",
        (roster_id,),
    )
    return [json.loads(wanted) for _, wanted in rows]


def find_part(
    connection: Connection,
    roster_id: int,
    *,
    intake_id: int | None = None,
    change_set_id: int | None = None,
) -> int | None:
    """Find within which part of a roster something is made: that of the intake or change set that
    it comes of, else that of whoever makes it.
    """
    row = connection.row(
        "SELECT COALESCE((SELECT part_id FROM intake WHERE id = %s),"
        " (SELECT part_id FROM change_set WHERE id = %s), %s)",
        (intake_id, change_set_id, connection.sight.part_id(roster_id)),
    )
    return int(row[0]) if row and row[0] is not None else None
