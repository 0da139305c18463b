"""What becomes of every row, and who should have been in the file and is not."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.applied import numbers_of
from nevefield.core.changes.compare import find_absent
from nevefield.core.conditions import holds
from nevefield.core.placing.memberships import find_left_out, membership_of
from nevefield.core.table import rows_at
from nevefield.core.tally import CHANGED, HELD, LEFT_OUT, NEW, OUTCOMES, SAME, STOPPED, WAITING

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.checking.facts import Facts
    from nevefield.core.steps import Decisions

__all__ = ["find_absentees", "settle_rows"]


def settle_rows(
    facts: Facts,
    causes: list[Cause],
    weights: tuple[NDArray[np.bool_], NDArray[np.bool_]],
    differing: Mapping[str, NDArray[np.intp]],
    decisions: Decisions,
) -> tuple[NDArray[np.int8], NDArray[np.bool_]]:
    """Give every row exactly one outcome; what was decided by hand counts before what was found.

    Returns:
        The outcomes, and which rows went in when the file was applied: those keep theirs.
    """
    outcomes = np.where(facts.known.record >= 0, np.int8(SAME), np.int8(NEW))
    for rows in differing.values():
        outcomes[rows] = CHANGED
    stopped, waiting = weights
    outcomes[waiting] = WAITING
    outcomes[stopped] = STOPPED
    # one person: when one row brings a change, it is the person's
    for group in facts.joined.groups:
        if (outcomes[group] <= SAME).all():
            outcomes[group] = outcomes[group].min()
    for cause in causes:
        if cause.hit.left_out:
            outcomes[list(cause.hit.left_out)] = LEFT_OUT
    passed = decisions.applied.passed
    for lines, outcome in (
        (passed, LEFT_OUT),
        (decisions.held, HELD),
        (decisions.left_out, LEFT_OUT),
    ):
        if lines:
            outcomes[rows_at(facts.lines, lines)] = outcome
    is_in = np.zeros(len(facts), bool)
    for name, ranges in decisions.applied.went_in.items():
        rows = rows_at(facts.lines, numbers_of(ranges))
        outcomes[rows] = OUTCOMES.index(name)
        is_in[rows] = True
    return outcomes, is_in


def find_absentees(facts: Facts, decisions: Decisions) -> NDArray[np.intp]:
    """List the records that the coverage says should have been in the file; of one that was
    applied, those left of them.
    """
    known, snapshot, today = facts.known, facts.snapshot, facts.today
    if decisions.applied.absent is not None:
        left = np.isin(snapshot.ids, numbers_of(decisions.applied.left))
        left[known.record[known.record >= 0]] = False
        return np.flatnonzero(left)
    kind = membership_of(facts.definition)
    if decisions.coverage in ("people", "groups") and kind is not None:
        return find_left_out(decisions.coverage, facts.folded, known, snapshot, kind, today)
    if decisions.coverage not in ("everybody", "part"):
        return np.zeros(0, np.intp)
    absent: NDArray[np.intp] = find_absent(known, snapshot, facts.memo)
    if decisions.coverage == "part" and decisions.part is not None:
        inside = holds(decisions.part, lambda name: snapshot.columns[name], len(snapshot), today)
        absent = absent[inside[absent]]
    return absent
