"""Know a record by its keys: integer joins over folded values."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["Known", "find_by_key", "is_same_known", "match_keys", "place_in"]


@dataclass(frozen=True)
class Known:
    """Which record each row is, by its keys."""

    record: NDArray[np.int64]  # index into the snapshot, -1 for nobody
    by: NDArray[np.int8]  # which of the definition's keys decided, -1 for none
    disagree: dict[int, tuple[int, int]]  # row -> number of the other key, and the other record it points to


def match_keys(definition: Definition, typed: Mapping[str, Typed], folded: Mapping[str, Column], snapshot: Snapshot) -> Known:
    """Match rows with records by each key in turn; the first that finds a record decides.

    Args:
        definition: With its keys.
        typed: The rows' values by field.
        folded: The same, folded.
        snapshot: The roster as it stands.

    Returns:
        The record of each row; a row with an empty or wrong part in a key is not matched by that key.
    """
    rows = len(next(iter(typed.values())).raw) if typed else 0
    record = np.full(rows, -1, np.int64)
    by = np.full(rows, -1, np.int8)
    disagree: dict[int, tuple[int, int]] = {}
    for number, key in enumerate(definition.keys):
        if not len(snapshot) or any(name not in typed for name in key):
            continue
        found = find_by_key(key, folded, snapshot)
        for name in key:
            if typed[name].problems:
                found[typed[name].problem_rows()] = -1
        other = (found >= 0) & (record >= 0) & (found != record)
        disagree.update({int(row): (number, int(found[row])) for row in np.flatnonzero(other)})
        fresh = (found >= 0) & (record < 0)
        record[fresh] = found[fresh]
        by[fresh] = number
    return Known(record, by, disagree)


def is_same_known(one: Known, other: Known) -> bool:
    """Tell whether rows are known to be the same records, by the same keys."""
    return one.disagree == other.disagree and np.array_equal(one.record, other.record) and np.array_equal(one.by, other.by)


def place_in(column: Column, other: Column) -> NDArray[np.int32]:
    """Express a column's rows in the codes of another column; -2 for a value that it lacks, -1 for nothing there."""
    return np.append(column.places(other), np.int32(-1))[column.codes]


def find_by_key(key: tuple[str, ...], folded: Mapping[str, Column], snapshot: Snapshot) -> NDArray[np.int64]:
    """Find the record with the same key; of records that share one, the first."""
    theirs, ours = np.zeros(len(snapshot), np.int64), np.zeros(len(folded[key[0]]), np.int64)
    empty_theirs, empty_ours = np.zeros(len(snapshot), bool), np.zeros(len(ours), bool)
    for name in key:
        known = snapshot.folded(name)
        placed = place_in(folded[name], known)
        size = len(known.values) + 1
        theirs = theirs * size + np.maximum(known.codes, 0)
        ours = ours * size + np.maximum(placed, 0)
        empty_theirs |= known.codes < 0
        empty_ours |= placed < 0
    if len(key) == 1:
        first = np.full(len(snapshot.folded(key[0]).values) + 1, -1, np.int64)
        full = np.flatnonzero(~empty_theirs)[::-1]
        first[theirs[full]] = full
        return np.where(empty_ours, -1, first[ours])
    full = np.flatnonzero(~empty_theirs)
    places = pc.index_in(pa.array(ours), value_set=pa.array(theirs[full])).fill_null(-1).to_numpy(zero_copy_only=False)
    found = np.where(places >= 0, full[places] if len(full) else -1, -1)
    return np.where(empty_ours, -1, found).astype(np.int64)
