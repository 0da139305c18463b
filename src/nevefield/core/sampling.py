"""A few rows that stand for all: one for every code, every cause and every outcome."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.tally import OUTCOMES

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.evaluate import Evaluation

__all__ = ["choose_sample", "first_rows"]

WORDS = dict(
    zip(OUTCOMES, ("new", "changed", "same", "waiting", "stopped", "held", "left out"), strict=True)
)
LOOKED_AT = 64  # rows weighed for each thing to be shown; more would only cost time
MOST_CODES = 80  # of one field: a column with more is shown by its commonest ones


def first_rows(evaluation: Evaluation, count: int = 5) -> list[tuple[int, list[str]]]:
    """Take the first rows, each with no reason."""
    return [(row, []) for row in range(min(count, len(evaluation.table)))]


def choose_sample(evaluation: Evaluation) -> list[tuple[int, list[str]]]:
    """Choose rows so that every outcome, every cause and every text of a coded column is shown by
    at least one.

    What few rows have is looked at first, and of its rows the one that shows most else (greedy set
    cover).

    Args:
        evaluation: Of the intake.

    Returns:
        The rows in the file's order, each with what it shows that no row before it did.
    """
    things = _things(evaluation)
    shows: dict[int, list[int]] = {}
    for number, (_, rows) in enumerate(things):
        for row in rows.tolist():
            shows.setdefault(row, []).append(number)
    left = set(range(len(things)))
    chosen: dict[int, list[str]] = {}
    for number in sorted(left, key=lambda one: len(things[one][1])):
        if number not in left:
            continue
        row = max(
            things[number][1].tolist(), key=lambda one: (len(left.intersection(shows[one])), -one)
        )
        shown = sorted(left.intersection(shows[row]))
        chosen[row] = [things[number][0] for number in shown]
        left.difference_update(shown)
    return sorted(chosen.items())


def _things(evaluation: Evaluation) -> list[tuple[str, NDArray[np.intp]]]:
    """List what is to be shown, each with some rows that show it."""
    things: list[tuple[str, NDArray[np.intp]]] = []
    for number, name in enumerate(OUTCOMES):
        rows = np.flatnonzero(evaluation.outcomes == number)
        if len(rows):
            things.append((WORDS[name], rows[:LOOKED_AT]))
    for cause in evaluation.causes:
        if len(cause.open_rows):
            things.append((cause.hit.title, cause.open_rows[:LOOKED_AT]))
    for typed in evaluation.facts.typed.values():
        if not typed.field.code_list:
            continue
        counts = typed.raw.counts()
        for code in np.argsort(-counts, kind="stable")[:MOST_CODES].tolist():
            text = typed.raw.values[code].as_py().strip()
            if counts[code] and text:
                rows = np.flatnonzero(typed.raw.codes == code)[:LOOKED_AT]
                things.append((f"{typed.field.title} “{text}”", rows))
    return things
