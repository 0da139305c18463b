"""Rosters that something is about as a whole: a card design, a destination."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.columns.titles import name_fields
from nevefield.core.masking import sensitive_fields
from nevefield.rosters.snapshots import load_definition
from nevefield.store import rosters as store
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = ["find_whole"]


def find_whole(
    connection: Connection, used: Mapping[str, Collection[str]]
) -> dict[str, Roster] | None:
    """Find rosters of which everything that is used may be seen, by whoever the connection is for.

    Args:
        connection: Inside a transaction.
        used: Fields by roster; those by which people are named count as used.

    Returns:
        By name; None when one of them is not there, may be seen in part alone, or keeps a field
        that is used.
    """
    rosters = {}
    for name, fields in used.items():
        roster = store.get_roster(connection, name)
        if (
            roster is None
            or roster.id in connection.sight.parts
            or connection.sight.level(roster.id) < Level.LOOK
        ):
            return None
        if connection.sight.covers(roster.id):
            definition = load_definition(connection, roster)
            if {*fields, *name_fields(definition)} & sensitive_fields(definition):
                return None
        rosters[name] = roster
    return rosters
