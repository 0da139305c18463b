"""Compare two states of a roster: two days, two files, a file and the roster."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.edits.memo import Memo
from nevefield.core.people.keys import find_by_key

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from numpy.typing import NDArray

    from nevefield.core.snapshot import Snapshot

__all__ = ["Difference", "compare_states"]


@dataclass(frozen=True)
class Difference:
    """What is another in the second state than in the first; all parts are indices into the two."""

    old: Snapshot
    new: Snapshot
    joined: NDArray[np.intp]  # of the second state
    absent: NDArray[np.intp]  # of the first
    # who is in both, in the order of the second: there, and in the first
    pairs: tuple[NDArray[np.intp], NDArray[np.intp]]
    changes: Mapping[str, NDArray[np.intp]]  # field -> places in `pairs` that differ

    @property
    def changed(self) -> NDArray[np.intp]:
        """The places in `pairs` where any field differs."""
        found = list(self.changes.values())
        return np.unique(np.concatenate(found)) if found else np.zeros(0, np.intp)

    def turned(self) -> Difference:
        """Turn it round: what is another in the first state than in the second."""
        order = np.argsort(self.pairs[1], kind="stable")
        place = np.empty(len(order), np.intp)
        place[order] = np.arange(len(order))
        changes = {name: np.sort(place[where]) for name, where in self.changes.items()}
        return Difference(
            self.new,
            self.old,
            self.absent,
            self.joined,
            (self.pairs[1][order], self.pairs[0][order]),
            changes,
        )


def compare_states(
    old: Snapshot, new: Snapshot, *, fields: Collection[str] | None = None, by_number: bool = True
) -> Difference:
    """Compare two states of one roster, by what values mean.

    Args:
        old: The first.
        new: The second.
        fields: Which are compared; None for all. What a file does not fill is not compared.
        by_number: Whether records are told by their numbers in the store; otherwise by the primary
            key, of equal ones the first.
    """
    if by_number:
        _, first, second = np.intersect1d(old.ids, new.ids, assume_unique=True, return_indices=True)
        order = np.argsort(second, kind="stable")
        mine, theirs = second[order], first[order]
    else:
        mine, theirs = _by_key(old, new)
    changes = {}
    for name in new.definition.by_name:
        if name not in old.columns or (fields is not None and name not in fields):
            continue
        ours, known = new.folded(name), old.folded(name)
        differing = np.flatnonzero(ours.place(known)[mine] != known.codes[theirs])
        if len(differing):
            changes[name] = differing
    joined = np.setdiff1d(np.arange(len(new)), mine)
    absent = np.setdiff1d(np.arange(len(old)), theirs)
    return Difference(
        old, new, joined, absent, (mine.astype(np.intp), theirs.astype(np.intp)), changes
    )


def _by_key(old: Snapshot, new: Snapshot) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    key = new.definition.primary_key
    if not key or not len(old) or not len(new):
        return np.zeros(0, np.intp), np.zeros(0, np.intp)
    values = find_by_key(key, {name: new.folded(name) for name in key}, old, Memo()).values
    rows = np.flatnonzero(values >= 0)
    _, first = np.unique(values[rows], return_index=True)
    mine = rows[np.sort(first)]
    return mine, values[mine].astype(np.intp)
