"""Compare rows with the records that they are, field by field, by what values mean."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises
from nevefield.core.edits import limits
from nevefield.core.edits.trail import put_in

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.edits.memo import Memo
    from nevefield.core.people.keys import Known
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["compare_rows", "find_absent"]


def compare_rows(
    folded: Mapping[str, Column], known: Known, snapshot: Snapshot, memo: Memo
) -> dict[str, NDArray[np.intp]]:
    """Find the rows whose value differs from their record's, for each field.

    Args:
        folded: The rows' values by field, folded; fields that the file does not fill are not there.
        known: The record of each row.
        snapshot: The roster as it stands.
        memo: What was compared before.

    Returns:
        By field, in the order of `folded`, the rows that differ; fields without a difference are
        left out.
    """
    found = {}
    for name, column in folded.items():

        def differ(name: str = name, column: Column = column) -> NDArray[np.intp]:
            theirs = snapshot.folded(name)
            rows: NDArray[np.intp] = memo.get(
                "known rows", (known,), lambda: np.flatnonzero(known.record >= 0)
            )
            return np.asarray(rows[column.place(theirs)[rows] != theirs.codes[known.record[rows]]])

        def again(
            before: NDArray[np.intp],
            edited: NDArray[np.intp],
            _: Premises,
            name: str = name,
            column: Column = column,
        ) -> NDArray[np.intp]:
            theirs = snapshot.folded(name)
            rows = edited[known.record[edited] >= 0]
            return put_in(
                before,
                edited,
                rows[column.take(rows).place(theirs) != theirs.codes[known.record[rows]]],
            )

        differing = memo.mend(("differs", name), (column, known, snapshot), differ, again)
        if len(differing):
            found[name] = differing
    return found


def find_absent(known: Known, snapshot: Snapshot, memo: Memo) -> NDArray[np.intp]:
    """List the records that no row is known to be.

    Args:
        known: The record of each row.
        snapshot: The roster as it stands.
        memo: What was found before.
    """

    def make() -> NDArray[np.intp]:
        seen = np.zeros(len(snapshot) + 1, bool)  # the last one for -1
        seen[known.record] = True
        return np.flatnonzero(~seen[:-1])

    def again(before: NDArray[np.intp], rows: NDArray[np.intp], was: Premises) -> NDArray[np.intp]:
        touched = np.unique(np.concatenate([was[0].record[rows], known.record[rows]]))
        touched = touched[touched >= 0]
        if len(touched) > limits.SINGLE:
            return make()
        gone = [one for one in touched.tolist() if not (known.record == one).any()]
        return put_in(before, touched, np.array(gone, np.intp))

    absent: NDArray[np.intp] = memo.mend("absent", (known, snapshot), make, again)
    return absent
