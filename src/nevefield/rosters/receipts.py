"""Receipts: what altered a roster, by whom, and whether it was taken back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.rosters.errors import NoSuchChangeSet
from nevefield.rosters.snapshots import require_roster
from nevefield.store import records as store
from nevefield.store import rosters as roster_store

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.rosters import Roster

__all__ = ["Receipt", "list_receipts", "open_receipt"]


@dataclass(frozen=True)
class Receipt:
    """A change set of a roster."""

    roster: Roster
    change_set: store.ChangeSet
    by: str
    undone_by: int | None  # the change set with which it was taken back as a whole


def list_receipts(context: Context, name: str) -> list[Receipt]:
    """List what altered a roster, the last first.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        return [Receipt(roster, *found) for found in store.list_change_sets(connection, roster.id)]


def open_receipt(context: Context, change_set_id: int) -> Receipt:
    """Open a receipt.

    Raises:
        NoSuchChangeSet: There is none, or its roster may not be seen.
    """
    with context.database.transaction() as connection:
        change_set = store.find_change_set(connection, change_set_id)
        roster = (
            roster_store.get_roster_by_id(connection, change_set[0].roster_id)
            if change_set
            else None
        )
    if change_set is None or roster is None:
        raise NoSuchChangeSet(change_set_id)
    return Receipt(roster, *change_set)
