"""What is taken away: a value that a record had and would not have any more, also one of
several.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.tally import SAME
from nevefield.core.texts import SEVERAL, trim

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.evaluate import Evaluation


__all__ = ["kept_blanks", "taken_away"]


def taken_away(evaluation: Evaluation, name: str) -> NDArray[np.intp]:
    """List the rows that change a field so that its record loses a value: all of it, or one of
    several.
    """
    rows = evaluation.changes.get(name)
    if rows is None:
        return np.zeros(0, np.intp)
    ours, theirs = evaluation.facts.folded[name], evaluation.snapshot.folded(name)
    had = theirs.codes[evaluation.known.record[rows]]
    if not evaluation.definition.by_name[name].several:
        return rows[(ours.codes[rows] < 0) & (had >= 0)]
    pairs = zip(ours.rows(rows), theirs.rows(evaluation.known.record[rows]), strict=True)
    loses = [
        not set((before or "").split(SEVERAL)) - {""} <= set((after or "").split(SEVERAL))
        for after, before in pairs
    ]
    return np.asarray(rows[np.array(loses, bool)])


def kept_blanks(evaluation: Evaluation, name: str) -> NDArray[np.intp]:
    """List the rows whose cell is empty where their record has a value that stays: somebody may
    want it emptied.
    """
    typed = evaluation.facts.typed[name]
    missing = evaluation.definition.missing
    blank = np.array([trim(text) in missing for text in typed.raw.texts()] + [True], bool)
    record = evaluation.known.record
    rows = np.flatnonzero(
        blank[typed.raw.codes] & (record >= 0) & (evaluation.outcomes <= SAME) & ~evaluation.is_in
    )
    had = evaluation.snapshot.columns[name].codes[record[rows]] >= 0
    return np.asarray(rows[had & (typed.stored.codes[rows] >= 0)])
