"""What another alteration of the roster made of an intake's plan: the plan as it was looked at beside the plan as it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.evaluate import CHANGED, Evaluation, evaluate
from nevefield.core.steps import read_step
from nevefield.core.tally import OUTCOMES
from nevefield.intakes.evaluating import Opened, open_intake
from nevefield.rosters.snapshots import load_codes, load_snapshot

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["Moved", "what_moved"]


@dataclass(frozen=True)
class Moved:
    """One row of which the plan is another than when it was looked at."""

    line: int
    before: str  # the outcome as it was
    now: str
    fields: tuple[str, ...]  # that would change now and would not have, or the other way round


def what_moved(context: Context, intake_id: int, version: int) -> tuple[Opened, list[Moved]]:
    """Compare an intake's plan with what it was at an earlier version of the roster, step for step the same.

    Args:
        context: Database and clock.
        intake_id: The intake.
        version: The roster's version as it was looked at.

    Returns:
        The intake as it stands and may be seen, and the rows of which the plan is another, in the file's order.

    Raises:
        NoSuchIntake: There is none.
    """
    shown = open_intake(context, intake_id)
    opened = open_intake(context.whole(), intake_id)
    now = opened.evaluation
    with context.whole().database.transaction() as connection:
        codes, snapshot = load_codes(connection), load_snapshot(connection, opened.roster, version)
    then = evaluate(
        b"",
        [read_step(one.step) for one in opened.steps],
        now.definition,
        codes,
        snapshot,
        context.today(),
        coverage=opened.intake.coverage,
        read=(now.table, now.reading),
        others=now.facts.others,
        said=opened.said,
        by_hand=now.facts.by_hand,
        placed_by_hand=now.facts.placed_by_hand,
        standing=now.facts.standing,
    )
    before, after = _fields_of(then), _fields_of(now)
    rows = set(np.flatnonzero(then.outcomes != now.outcomes).tolist())
    rows |= {row for row in before.keys() | after.keys() if before.get(row) != after.get(row)}
    return shown, [
        Moved(
            int(now.table.lines[row]),
            OUTCOMES[int(then.outcomes[row])],
            OUTCOMES[int(now.outcomes[row])],
            tuple(name for name in now.definition.by_name if name in before.get(row, set()) ^ after.get(row, set())),
        )
        for row in sorted(rows)
    ]


def _fields_of(evaluation: Evaluation) -> dict[int, set[str]]:
    """List the fields that each row changes."""
    found: dict[int, set[str]] = {}
    for name, rows in evaluation.changes.items():
        for row in rows.tolist():
            if evaluation.outcomes[row] == CHANGED:
                found.setdefault(row, set()).add(name)
    return found
