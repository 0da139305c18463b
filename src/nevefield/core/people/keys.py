"""Know a record by its keys: integer joins over folded values."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.memo import Memo

if TYPE_CHECKING:
    from collections.abc import Mapping
    from typing import Any

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["Known", "changed_rows", "find_by_key", "is_same_known", "match_keys"]

FEW = 1_000  # rows that are looked for apart from the others
FEW_ROWS = 8  # rows that are looked for one by one


@dataclass(frozen=True)
class Known:
    """Which record each row is, by its keys."""

    record: NDArray[np.int64]  # index into the snapshot, -1 for nobody
    by: NDArray[np.int8]  # which of the definition's keys decided, -1 for none
    disagree: dict[int, tuple[int, int]]  # row -> number of the other key, and the other record it points to


def match_keys(
    definition: Definition,
    typed: Mapping[str, Typed],
    folded: Mapping[str, Column],
    snapshot: Snapshot,
    memo: Memo | None = None,
) -> Known:
    """Match rows with records by each key in turn; the first that finds a record decides.

    Args:
        definition: With its keys.
        typed: The rows' values by field.
        folded: The same, folded.
        snapshot: The roster as it stands.
        memo: What was matched before: of edited keys only the rows that differ are looked for.

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
        found = find_by_key(key, folded, snapshot, memo).copy()
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


def find_by_key(
    key: tuple[str, ...], folded: Mapping[str, Column], snapshot: Snapshot, memo: Memo | None = None
) -> NDArray[np.int64]:
    """Find the record with the same key; of records that share one, the first.

    Args:
        key: The fields' names.
        folded: The rows' values by field.
        snapshot: The roster as it stands.
        memo: What was found before.

    Returns:
        Of each row, -1 for nobody; not to be written to.
    """
    columns = tuple(folded[name] for name in key)
    memo = memo or Memo()

    def find() -> NDArray[np.int64]:
        rows = changed_rows(memo.last(("by key", key)), columns, snapshot)
        if rows is None:
            return _find(key, columns, snapshot)
        known: NDArray[np.int64] = memo.last(("by key", key))[1].copy()  # type: ignore[index]
        known[rows] = _find(key, tuple(column.take(rows) for column in columns), snapshot)
        return known

    found: NDArray[np.int64] = memo.get(("by key", key), (*columns, snapshot), find)
    return found


def changed_rows(
    last: tuple[tuple[Any, ...], Any] | None, columns: tuple[Column, ...], snapshot: Snapshot
) -> NDArray[np.intp] | None:
    """List the rows in which columns differ from those of a part made before; None where all must be made anew.

    Args:
        last: The part, made of columns and of the snapshot, in this order, as `Memo.last` gives it.
        columns: As they are now.
        snapshot: The roster as it stands.
    """
    if last is None or len(last[0]) != len(columns) + 1 or last[0][-1] is not snapshot:
        return None
    changed = np.zeros(len(columns[0]), bool)
    for before, after in zip(last[0], columns, strict=False):
        differ = before.differs(after) if before is not after else None
        if differ is not None:
            changed |= differ
        elif before is not after:
            return None
    rows = np.flatnonzero(changed)
    return rows if len(rows) <= FEW else None


def _find(key: tuple[str, ...], columns: tuple[Column, ...], snapshot: Snapshot) -> NDArray[np.int64]:
    placed = [column.place(snapshot.folded(name)) for name, column in zip(key, columns, strict=True)]
    empty = np.zeros(len(columns[0]), bool)
    for one in placed:
        empty |= one < 0
    if len(key) == 1:
        first: NDArray[np.int64] = snapshot.keep(f"first {key[0]}", lambda: _first(snapshot.folded(key[0])))
        return np.where(empty, -1, first[placed[0]])
    ours = np.zeros(len(empty), np.int64)
    for name, one in zip(key, placed, strict=True):
        ours = ours * (len(snapshot.folded(name).values) + 1) + np.maximum(one, 0)
    theirs, full = snapshot.keep(f"combined {key}", lambda: _combined(key, snapshot))
    if len(ours) <= FEW_ROWS:
        places = [np.flatnonzero(theirs == one)[:1] for one in ours.tolist()]
        return np.array([-1 if no or not len(one) else full[one[0]] for no, one in zip(empty, places, strict=True)], np.int64)
    at = pc.index_in(pa.array(ours), value_set=pa.array(theirs)).fill_null(-1).to_numpy(zero_copy_only=False)
    found = np.where(at >= 0, full[at] if len(full) else -1, -1)
    return np.where(empty, -1, found).astype(np.int64)


def _first(known: Column) -> NDArray[np.int64]:
    """Find the first record with each value; the last two are for a value that nobody has, and for none."""
    first = np.full(len(known.values) + 2, -1, np.int64)
    full = np.flatnonzero(known.codes >= 0)[::-1]
    first[known.codes[full]] = full
    return first


def _combined(key: tuple[str, ...], snapshot: Snapshot) -> tuple[NDArray[np.int64], NDArray[np.intp]]:
    """Make one number of each record's key of several fields, without those that lack a part; and the records that they are."""
    theirs = np.zeros(len(snapshot), np.int64)
    empty = np.zeros(len(snapshot), bool)
    for name in key:
        known = snapshot.folded(name)
        theirs = theirs * (len(known.values) + 1) + np.maximum(known.codes, 0)
        empty |= known.codes < 0
    full = np.flatnonzero(~empty)
    return theirs[full], full
