"""What is so much that it must not happen by one careless click."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.changes.taking import taken_away

if TYPE_CHECKING:
    from nevefield.core.evaluate import Evaluation

__all__ = ["guards_of"]

# of the records, from which on changing them is a lot; fewer people than this never are
CHANGED_SHARE, CHANGED_LEAST = 0.2, 50
TAKEN_SHARE, TAKEN_LEAST = 0.05, 20  # of the records, from which on taking a value away is


def guards_of(evaluation: Evaluation) -> list[str]:
    """Say what applying would do to so many that the number must be typed; nothing for the
    usual.
    """
    records = len(evaluation.snapshot)
    guards = []
    changed = evaluation.ready.changed
    if changed >= CHANGED_LEAST and changed > CHANGED_SHARE * records:
        guards.append(f"{changed:,} of {records:,} records change.")
    for name in evaluation.changes:
        taken = len(taken_away(evaluation, name))
        if taken >= TAKEN_LEAST and taken > TAKEN_SHARE * records:
            guards.append(
                f"{evaluation.definition.title_of(name)} is taken away from {taken:,} of"
                f" {records:,} people."
            )
    for act, word in (("leave", "leave the roster"), ("end", "get an end day")):
        count = evaluation.absences.counts()[act]  # who ends for another was said one by one
        if count >= TAKEN_LEAST and count > TAKEN_SHARE * records:
            guards.append(
                f"{count:,} of {records:,} people {word}, because they are not in the file."
            )
    return guards
