"""Rows of people whom a file is not for: it only adds, or only changes. They are left out, each
with that for its reason.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.people.recognising import ASKED

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.people.recognising import Recognised

__all__ = ["check_passed_over", "find_passed_over"]


def find_passed_over(
    takes: str, people: Recognised, typed: Mapping[str, Typed], keys: Sequence[tuple[str, ...]]
) -> NDArray[np.bool_]:
    """Tell which rows are of people whom the file is not for.

    Args:
        takes: `new`, `known` or `both`.
        people: Who the rows are.
        typed: The rows' values.
        keys: By which they are known.

    Returns:
        Of each row. Nobody's row whose key is wrong in itself is not passed over: it may well be
        somebody's. Nor is one of which a person has to say who it is.
    """
    record = people.known.record
    if takes == "new":
        return np.asarray(record >= 0)
    if takes != "known":
        return np.zeros(len(record), bool)
    nobody = (record < 0) & (people.decision != ASKED)
    for name in {name for key in keys for name in key if name in typed}:
        if typed[name].problems:
            nobody &= ~typed[name].problem_rows()
    return np.asarray(nobody)


def check_passed_over(facts: Facts) -> list[Hit]:
    """Note the rows that are left out because the file is not for such people."""
    rows = facts.passed_over
    if not len(rows):
        return []
    if facts.known.record[rows[0]] >= 0:
        title, message = (
            "Are in the roster already",
            "The roster has this person, and this file only adds people.",
        )
    else:
        title, message = (
            "Are nobody in the roster",
            "The roster has nobody like this, and this file only changes people.",
        )
    return [
        Hit(
            "passed-over",
            None,
            (),
            "note",
            rows,
            title,
            message,
            group="passed-over",
            left_out=tuple(rows.tolist()),
        )
    ]
