"""What another alteration of the roster made of an intake's plan: the plan as it was looked at
beside the plan as it is.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.changes.acts import acts_of, digest_acts
from nevefield.core.changes.plan import plan_changes
from nevefield.core.tally import CHANGED, OUTCOMES
from nevefield.intakes.evaluating import evaluate_at, open_intake

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.evaluate import Evaluation
    from nevefield.intakes.evaluating import Opened

__all__ = ["Moved", "does_the_same", "what_moved"]


@dataclass(frozen=True)
class Moved:
    """One row of which the plan is another than when it was looked at."""

    line: int
    before: str  # the outcome as it was
    now: str
    # that would change now and would not have, or the other way round, or from another value
    fields: tuple[str, ...]


def what_moved(context: Context, intake_id: int, version: int) -> tuple[Opened, list[Moved]]:
    """Compare an intake's plan with what it was at an earlier version of the roster, step for step
    the same.

    Args:
        context: Database and clock.
        intake_id: The intake.
        version: The roster's version as it was looked at.

    Returns:
        The intake as it stands and may be seen, and the rows of which the plan is another, in the
        file's order.

    Raises:
        NoSuchIntake: There is none.
    """
    shown = open_intake(context, intake_id)
    now = open_intake(context.whole(), intake_id).evaluation
    then = evaluate_at(context, intake_id, version)
    before, after = _changes_of(then), _changes_of(now)
    rows = set(np.flatnonzero(then.outcomes != now.outcomes).tolist())
    rows |= {row for row in before.keys() | after.keys() if before.get(row) != after.get(row)}
    return shown, [
        Moved(
            int(now.table.lines[row]),
            OUTCOMES[int(then.outcomes[row])],
            OUTCOMES[int(now.outcomes[row])],
            tuple(
                name
                for name in now.definition.by_name
                if before.get(row, {}).get(name, ()) != after.get(row, {}).get(name, ())
            ),
        )
        for row in sorted(rows)
    ]


def does_the_same(context: Context, intake_id: int, version: int) -> bool:
    """Tell whether an intake does the same to the same records as on the roster at an earlier
    version.

    The same is: those who change get the same values in place of the same; the same leave, or end
    on the same days; the same join, with all the same values. What else was changed in the roster
    meanwhile does not count.
    """
    then, now = (
        evaluate_at(context, intake_id, version),
        open_intake(context.whole(), intake_id).evaluation,
    )
    if then.altering != now.altering:
        return False
    return digest_acts(acts_of(then, plan_changes(then))) == digest_acts(
        acts_of(now, plan_changes(now))
    )


def _changes_of(evaluation: Evaluation) -> dict[int, dict[str, Any]]:
    """List by row the fields that it changes, each with the value that the roster has."""
    changes: dict[int, dict[str, Any]] = {}
    for name, rows in evaluation.changes.items():
        had = evaluation.snapshot.columns[name].rows(evaluation.known.record[rows])
        for row, value in zip(rows.tolist(), had, strict=True):
            if evaluation.outcomes[row] == CHANGED:
                changes.setdefault(row, {})[name] = value
    return changes
