"""Compare rows with the records that they are, field by field, by what values mean."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.memo import Memo

if TYPE_CHECKING:
    from collections.abc import Mapping
    from typing import Any

    from numpy.typing import NDArray

    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["compare_rows", "find_absent"]

FEW = 1_000  # rows that are compared apart


def compare_rows(
    folded: Mapping[str, Column], record: NDArray[np.int64], snapshot: Snapshot, memo: Memo | None = None
) -> dict[str, NDArray[np.intp]]:
    """Find the rows whose value differs from their record's, for each field.

    Args:
        folded: The rows' values by field, folded; fields that the file does not fill are not there.
        record: The record of each row as index into the snapshot, -1 for nobody.
        snapshot: The roster as it stands.
        memo: What was compared before.

    Returns:
        By field, in the order of `folded`, the rows that differ; fields without a difference are left out.
    """
    memo = memo or Memo()
    rows, records = memo.get("known rows", (record,), lambda: _known_rows(record))
    found = {}
    others = _others(memo, record)
    for name, column in folded.items():

        def differ(name: str = name, column: Column = column) -> NDArray[np.intp]:
            known = snapshot.folded(name)
            again = _again(memo.last(("differs", name)), column, snapshot, others)
            if again is None:
                return np.asarray(rows[column.place(known)[rows] != known.codes[records]])
            before: NDArray[np.intp] = memo.last(("differs", name))[1]  # type: ignore[index]
            if not len(again):
                return before
            there = again[record[again] >= 0]
            there = there[column.take(there).place(known) != known.codes[record[there]]]
            return _put_in(before, again, there)

        differing = memo.get(("differs", name), (column, record, snapshot), differ)
        if len(differing):
            found[name] = differing
    return found


def _again(
    last: tuple[tuple[Any, ...], Any] | None, column: Column, snapshot: Snapshot, others: NDArray[np.intp] | None
) -> NDArray[np.intp] | None:
    """List the few rows of a column that must be compared anew: other records, other values; None for all."""
    if others is None or last is None or last[0][2] is not snapshot:
        return None
    if last[0][0] is column:
        return others
    differ = last[0][0].differs(column)
    changed = np.flatnonzero(differ) if differ is not None else None
    return np.union1d(others, changed) if changed is not None and len(changed) <= FEW else None


def _put_in(before: NDArray[np.intp], again: NDArray[np.intp], there: NDArray[np.intp]) -> NDArray[np.intp]:
    """Take a few rows out of many and put those back that are there; all are rising, and so is what is returned."""
    places = np.searchsorted(before, again)
    found = places[places < len(before)]
    found = found[before[found] == again[places < len(before)]]
    rest = np.delete(before, found)
    return np.insert(rest, np.searchsorted(rest, there), there)


def _others(memo: Memo, record: NDArray[np.int64]) -> NDArray[np.intp] | None:
    """List the rows that are another record than in the evaluation before, where they are few; None otherwise."""
    last = memo.last("known rows")
    if last is None or len(last[0][0]) != len(record):
        return None
    rows = np.flatnonzero(last[0][0] != record)
    return rows if len(rows) <= FEW else None


def _known_rows(record: NDArray[np.int64]) -> tuple[NDArray[np.intp], NDArray[np.int64]]:
    rows = np.flatnonzero(record >= 0)
    return rows, record[rows]


def find_absent(record: NDArray[np.int64], snapshot: Snapshot) -> NDArray[np.intp]:
    """List the records that no row is known to be."""
    seen = np.zeros(len(snapshot), bool)
    seen[record[record >= 0]] = True
    return np.flatnonzero(~seen)
