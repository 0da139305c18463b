"""Know a record by its keys: integer joins over folded values."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Premises
from nevefield.core.edits import limits
from nevefield.core.edits.trail import Followed, Trail, union

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.edits.memo import Memo
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["Known", "find_by_key", "first_rows", "match_again", "match_keys"]


@dataclass(frozen=True)
class Known:
    """Which record each row is, by its keys."""

    record: NDArray[np.int64]  # index into the snapshot, -1 for nobody
    by: NDArray[np.int8]  # which of the keys decided, -1 for none
    # row -> number of the other key, and the other record it points to
    disagree: dict[int, tuple[int, int]]
    # what it was edited from
    trail: Trail = field(default_factory=Trail, compare=False, repr=False)

    def since(self, known: Known) -> NDArray[np.intp] | None:
        """List the rows that may be another record, or by another key, than they were; None
        where that is not known.
        """
        return self.trail.since(known.trail)

    def put(self, rows: NDArray[np.intp], few: Known) -> Known:
        """Put in who a few rows are now, given in their order; the whole itself where that
        alters nothing.
        """
        disagree = (
            {row: pair for row, pair in self.disagree.items() if row not in set(rows.tolist())}
            if self.disagree
            else {}
        )
        disagree |= {int(rows[place]): pair for place, pair in few.disagree.items()}
        differ = (self.record[rows] != few.record) | (self.by[rows] != few.by)
        if not differ.any() and disagree == self.disagree:
            return self
        record, by = self.record.copy(), self.by.copy()
        record[rows], by[rows] = few.record, few.by
        touched = {
            row
            for row in {*disagree, *self.disagree}
            if disagree.get(row) != self.disagree.get(row)
        }
        return Known(
            record,
            by,
            disagree,
            self.trail.after(union((rows[differ], np.array(sorted(touched), np.intp)))),
        )

    def of(self, rows: NDArray[np.intp]) -> Known:
        """Take a few rows, in their order."""
        disagree = {
            place: self.disagree[row]
            for place, row in enumerate(rows.tolist())
            if row in self.disagree
        }
        return Known(self.record[rows], self.by[rows], disagree)

    def follow(self, known: Known) -> Known:
        """Take what was made whole for an edit of this one, where few rows differ; this one
        itself where none does.
        """
        if len(known.record) != len(self.record):
            return known
        odd = [
            row
            for row in {*known.disagree, *self.disagree}
            if known.disagree.get(row) != self.disagree.get(row)
        ]
        differ = np.flatnonzero((known.record != self.record) | (known.by != self.by))
        rows = union((differ, np.array(sorted(odd), np.intp)))
        return self.put(rows, known.of(rows)) if len(rows) <= limits.ROWS else known


def match_keys(
    keys: Sequence[tuple[str, ...]],
    typed: Mapping[str, Typed],
    folded: Mapping[str, Column],
    snapshot: Snapshot,
    memo: Memo | None = None,
) -> Known:
    """Match rows with records by each key in turn; the first that finds a record decides.

    Args:
        keys: Each alone is enough, in their order.
        typed: The rows' values by field.
        folded: The same, folded.
        snapshot: The roster as it stands.
        memo: Keeps what each key finds, for others.

    Returns:
        The record of each row; a row with an empty or wrong part in a key is not matched by that
        key.
    """
    rows = len(next(iter(typed.values())).raw) if typed else 0
    record = np.full(rows, -1, np.int64)
    by = np.full(rows, -1, np.int8)
    disagree: dict[int, tuple[int, int]] = {}
    for number, key in enumerate(keys):
        if not len(snapshot) or any(name not in typed for name in key):
            continue
        columns = tuple(folded[name] for name in key)
        found = (
            find_by_key(key, folded, snapshot, memo).values.astype(np.int64)
            if memo
            else _find(key, columns, snapshot)
        )
        for name in key:
            if typed[name].problems:
                found[typed[name].problem_rows()] = -1
        other = (found >= 0) & (record >= 0) & (found != record)
        disagree.update({int(row): (number, int(found[row])) for row in np.flatnonzero(other)})
        fresh = (found >= 0) & (record < 0)
        record[fresh] = found[fresh]
        by[fresh] = number
    return Known(record, by, disagree)


def match_again(
    keys: Sequence[tuple[str, ...]],
    typed: Mapping[str, Typed],
    snapshot: Snapshot,
    before: Known,
    rows: NDArray[np.intp],
) -> Known:
    """Match a few rows anew and keep who the others are: the same as matching them all."""
    keyed = {name: typed[name].pick(rows) for key in keys for name in key if name in typed}
    return before.put(
        rows,
        match_keys(
            keys, keyed, {name: column.folded() for name, column in keyed.items()}, snapshot
        ),
    )


def find_by_key(
    key: tuple[str, ...], folded: Mapping[str, Column], snapshot: Snapshot, memo: Memo
) -> Followed:
    """Find the record with the same key; of records that share one, the first.

    Args:
        key: The fields' names.
        folded: The rows' values by field.
        snapshot: The roster as it stands.
        memo: What was found before.

    Returns:
        Of each row, -1 for nobody.
    """
    columns = tuple(folded[name] for name in key)

    def again(before: Followed, rows: NDArray[np.intp], _: Premises) -> Followed:
        return before.put(
            rows, _find(key, tuple(column.take(rows) for column in columns), snapshot)
        )

    def make() -> Followed:
        return Followed(_find(key, columns, snapshot).astype(np.int32))

    followed: Followed = memo.mend(("by key", key), (*columns, snapshot), make, again)
    return followed


def first_rows(
    known: Known, aside: NDArray[np.bool_], apart: tuple[int, ...], snapshot: Snapshot, memo: Memo
) -> Followed:
    """Find the first row of each record, those aside passed over; -1 where there is none.

    Args:
        known: Who the rows are.
        aside: Rows held or left out.
        apart: The same by number.
        snapshot: The roster as it stands.
        memo: What was found before.

    Returns:
        Of each record its row; it goes on from what was found before by record, not by row.
    """
    records = len(snapshot)

    def make() -> Followed:
        first = np.full(records, -1, np.int64)
        rows = np.flatnonzero((known.record >= 0) & ~aside)[::-1]
        first[known.record[rows]] = rows
        return Followed(first)

    def again(before: Followed, rows: NDArray[np.intp], was: Premises) -> Followed:
        touched = {*was[0].record[rows].tolist(), *known.record[rows].tolist()} - {-1}
        first = {record: int(before.values[record]) for record in touched}
        edited = set(rows.tolist())
        # another row may be the first now
        gone = [record for record, row in first.items() if row in edited]
        if len(gone) > limits.SINGLE:
            return make()
        for record in gone:
            there = np.flatnonzero((known.record == record) & ~aside)
            first[record] = int(there[0]) if len(there) else -1
        for row, record in zip(rows.tolist(), known.record[rows].tolist(), strict=True):
            if record >= 0 and not aside[row] and not 0 <= first[record] < row:
                first[record] = row
        records = np.array(sorted(first), np.int64)
        return before.put(
            records, np.array([first[record] for record in records.tolist()], np.int64)
        )

    followed: Followed = memo.mend("first rows", (known, apart, snapshot), make, again)
    return followed


def _find(
    key: tuple[str, ...], columns: tuple[Column, ...], snapshot: Snapshot
) -> NDArray[np.int64]:
    placed = [
        column.place(snapshot.folded(name)) for name, column in zip(key, columns, strict=True)
    ]
    empty = np.zeros(len(columns[0]), bool)
    for one in placed:
        empty |= one < 0
    if len(key) == 1:
        first: NDArray[np.int64] = snapshot.keep(
            f"first {key[0]}", lambda: _first(snapshot.folded(key[0]))
        )
        return np.where(empty, -1, first[placed[0]])
    ours = np.zeros(len(empty), np.int64)
    for name, one in zip(key, placed, strict=True):
        ours = ours * (len(snapshot.folded(name).values) + 1) + np.maximum(one, 0)
    theirs, full = snapshot.keep(f"combined {key}", lambda: _combined(key, snapshot))
    if len(ours) <= limits.SINGLE:
        places = [np.flatnonzero(theirs == our)[:1] for our in ours.tolist()]
        return np.array(
            [
                -1 if no or not len(place) else full[place[0]]
                for no, place in zip(empty, places, strict=True)
            ],
            np.int64,
        )
    at = (
        pc.index_in(pa.array(ours), value_set=pa.array(theirs))
        .fill_null(-1)
        .to_numpy(zero_copy_only=False)
    )
    found = np.where(at >= 0, full[at] if len(full) else -1, -1)
    return np.where(empty, -1, found).astype(np.int64)


def _first(known: Column) -> NDArray[np.int64]:
    """Find the first record with each value; the last two are for a value that nobody has, and
    for none.
    """
    first = np.full(len(known.values) + 2, -1, np.int64)
    full = np.flatnonzero(known.codes >= 0)[::-1]
    first[known.codes[full]] = full
    return first


def _combined(
    key: tuple[str, ...], snapshot: Snapshot
) -> tuple[NDArray[np.int64], NDArray[np.intp]]:
    """Make one number of each record's key of several fields, without those that lack a part;
    and the records that they are.
    """
    theirs = np.zeros(len(snapshot), np.int64)
    empty = np.zeros(len(snapshot), bool)
    for name in key:
        known = snapshot.folded(name)
        theirs = theirs * (len(known.values) + 1) + np.maximum(known.codes, 0)
        empty |= known.codes < 0
    full = np.flatnonzero(~empty)
    return theirs[full], full
