"""Sources, and the recipes learnt from their files."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["Source", "ensure_source", "get_source", "insert_recipe", "list_recipes", "list_sources"]

_QUERY = """
SELECT s.id, s.roster_id, s.name, COALESCE(r.version, 0), r.document, r.at, s.part_id
FROM source s
LEFT JOIN recipe r ON r.source_id = s.id
  AND r.version = (SELECT MAX(version) FROM recipe WHERE source_id = s.id)
"""


@dataclass(frozen=True)
class Source:
    """An office or system that files of one roster come from, with its latest recipe."""

    id: int
    roster_id: int
    name: str
    version: int  # of the recipe; 0: none yet
    recipe: dict[str, Any] | None
    learnt: datetime | None
    part_id: int | None = None  # of the roster, from which its files come


def ensure_source(
    connection: Connection, roster_id: int, part_id: int | None, name: str, at: datetime
) -> int:
    """Return the number of a source of a roster, or of a part of it, adding it when it is new."""
    row = connection.row(
        "SELECT id FROM source WHERE roster_id = %s AND part_id <=> %s AND name = %s",
        (roster_id, part_id, name),
    )
    if row:
        return int(row[0])
    return connection.insert(
        "INSERT INTO source (roster_id, part_id, name, at) VALUES (%s, %s, %s, %s)",
        (roster_id, part_id, name, at),
    )


def get_source(connection: Connection, source_id: int) -> Source | None:
    """Find a source."""
    row = connection.row(f"{_QUERY} WHERE s.id = %s", (source_id,))
    return only_seen(connection.sight, _source(row) if row else None)


def list_sources(connection: Connection) -> list[Source]:
    """List all sources by name."""
    found = map(_source, connection.rows(f"{_QUERY} ORDER BY s.name, s.id"))
    seen = connection.sight.shows
    return [source for source in found if seen(source.roster_id, source.part_id)]


def insert_recipe(
    connection: Connection,
    source_id: int,
    document: dict[str, Any],
    intake_id: int | None,
    account_id: int | None,
    at: datetime,
) -> int:
    """Add a version of a source's recipe and return its number."""
    row = connection.row(
        "SELECT COALESCE(MAX(version), 0) FROM recipe WHERE source_id = %s FOR UPDATE", (source_id,)
    )
    version = int(row[0]) + 1 if row else 1
    connection.run(
        "INSERT INTO recipe (source_id, version, document, intake_id, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        (source_id, version, json.dumps(document, ensure_ascii=False), intake_id, account_id, at),
    )
    return version


def list_recipes(
    connection: Connection, source_id: int
) -> list[tuple[int, int | None, str, datetime]]:
    """List the versions of a recipe, the last first: version, intake, who, when."""
    return connection.rows(
        "SELECT r.version, r.intake_id, COALESCE(a.name, ''), r.at"
        " FROM recipe r"
        " LEFT JOIN account a ON a.id = r.account_id"
        " WHERE r.source_id = %s"
        " ORDER BY r.version DESC",
        (source_id,),
    )


def _source(row: tuple[Any, ...]) -> Source:
    number, roster_id, name, version, document, at, part_id = row
    recipe = json.loads(document) if document else None
    return Source(number, roster_id, name, int(version), recipe, at, part_id)
