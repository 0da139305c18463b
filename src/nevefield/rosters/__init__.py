"""Rosters: their records now and on other days, their history, code lists."""

from nevefield.store.records import ChangeSet
from nevefield.store.rosters import Roster

__all__ = ["ChangeSet", "Roster"]
