"""Which checks run, and in which order: of rows, of groups, and of the whole file."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from nevefield.core.borders import Premises
from nevefield.core.checking.alike import check_alike
from nevefield.core.checking.between import check_between
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.cells import check_required, check_values, note_repairs
from nevefield.core.checking.facts import Hit
from nevefield.core.checking.groups import OfGroups
from nevefield.core.checking.hands import check_by_hand
from nevefield.core.checking.identity import check_identity
from nevefield.core.checking.parts import check_part
from nevefield.core.checking.passing import check_passed_over
from nevefield.core.checking.references import check_references
from nevefield.core.checking.rows import OfRows, check_code_days, check_parents
from nevefield.core.checking.shifts import check_shifts
from nevefield.core.checking.whole import OfFile
from nevefield.core.edits.mending import mend_hits
from nevefield.core.placing.memberships import check_one_group
from nevefield.core.table import rows_at

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    import numpy as np
    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.checking.facts import Facts
    from nevefield.core.definition import Check
    from nevefield.core.steps import Decisions

__all__ = ["CHECKS", "check_declared", "check_file", "check_groups", "check_since"]


def check_declared(facts: Facts) -> list[Hit]:
    """Run the declared checks of rows, in their order; a text of its own takes the place of
    ours.
    """
    hits: list[Hit] = []
    for number, check in enumerate(facts.definition.checks):
        run = DECLARED[check.check].run
        if isinstance(run, OfRows):
            found = _find(facts, number, check, run)
            hits += (
                [replace(hit, title=check.text, message=check.text) for hit in found]
                if check.text
                else found
            )
    return hits


def _find(facts: Facts, number: int, check: Check, run: OfRows) -> list[Hit]:
    """Run a check of rows; of what it found before, only edited rows are looked at again, unless
    it looks at other rows too.
    """
    of: Premises = (
        check,
        facts.today.isoformat(),
        facts.codes,
        *facts.looked_at(check.reads),
    )
    if run.beside != "nothing":
        of += (facts.known, facts.snapshot)
    if run.beside in ("rosters", "rows"):
        of += (facts.aside_rows, *facts.others.values())

    def find(some: Facts) -> list[Hit]:
        return run.find(some, check)

    if run.beside != "rows":
        return mend_hits(facts, ("declared", number), of, find, check.reads)
    hits: list[Hit] = facts.memo.get(
        ("declared", number), (*of, facts.joined.lead), partial(find, facts)
    )
    return hits


def check_groups(facts: Facts, causes: Sequence[Cause], stopped: NDArray[np.bool_]) -> list[Hit]:
    """Run the declared checks of groups.

    Args:
        facts: What the checks look at.
        causes: What was found in the rows: a group's trouble may only follow from it.
        stopped: Rows that do not go in.
    """
    hits: list[Hit] = []
    for check in facts.definition.checks:
        run = DECLARED[check.check].run
        if isinstance(run, OfGroups):
            hits += run.find(facts, check, causes, stopped)
    return hits


def check_file(facts: Facts, differing: Mapping[str, NDArray[np.intp]]) -> list[Hit]:
    """Run the declared checks of the whole file.

    Args:
        facts: What the checks look at.
        differing: The rows that differ from their record, by field.
    """
    hits: list[Hit] = []
    for check in facts.definition.checks:
        run = DECLARED[check.check].run
        if isinstance(run, OfFile):
            hits += run.find(facts, check, differing)
    return hits


def check_since(
    facts: Facts, decisions: Decisions, weights: tuple[NDArray[np.bool_], NDArray[np.bool_]]
) -> list[Hit]:
    """Ask about rows that stayed open when the file was applied, and would go in by now though
    nobody has said so.
    """
    rows = rows_at(facts.lines, decisions.applied.open)
    rows = rows[~facts.aside[rows] & ~weights[0][rows] & ~weights[1][rows]]
    if not len(rows):
        return []
    title = "Would go in by now, though nobody has said so"
    message = (
        "It stayed open when this file was applied. The roster, the codes or the day have changed"
        " since: nothing stops it now."
    )
    return [Hit("since", None, (), "ask", rows, title, message, group="since")]


# The checks of rows, in the order in which they run; those of groups and of the whole file look at
# what these find.
CHECKS: tuple[Callable[[Facts], list[Hit]], ...] = (
    check_values,
    check_required,
    check_shifts,
    check_declared,
    check_parents,
    check_code_days,
    check_references,
    check_between,
    check_identity,
    check_alike,
    check_passed_over,
    check_by_hand,
    check_part,
    check_one_group,
    note_repairs,
)
