"""Checks of groups of people as they will be after the file: exactly one lead, least and most.

What a group comes to is looked at twice: as the file has it, rows that are stopped counted in, and as it will be when they
stay out. A group that is wrong only because of cells or rows with another problem follows from that problem's cause.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.conditions import fields_of, holds

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.definition import Check
    from nevefield.core.table import Column

__all__ = ["check_groups"]

Groups = dict[tuple[str, ...], list[int]]  # a group's values -> its members, as numbers of `_People`


class _People:
    """Everybody as they will be: the records, with the rows of the file over them.

    Args:
        facts: What the checks look at.
        stay_out: Rows that do not go in: their people stay as the roster has them, or do not join.
    """

    def __init__(self, facts: Facts, stay_out: NDArray[np.bool_]) -> None:
        self._facts = facts
        lead = facts.joined.is_lead & ~facts.aside & ~stay_out
        self.row_of_record = np.full(len(facts.snapshot), -1, np.int64)
        known = np.flatnonzero(lead & (facts.known.record >= 0))
        self.row_of_record[facts.known.record[known]] = known
        self.new = np.flatnonzero(lead & (facts.known.record < 0))
        self.count = len(facts.snapshot) + len(self.new)

    def column(self, name: str) -> Column:
        """Give a field's values for everybody: the records in their order, then those who join."""
        facts = self._facts
        theirs = facts.snapshot.columns[name]
        ours = facts.stored(name)
        texts = theirs.rows(np.arange(len(facts.snapshot)))
        wrong = facts.problem(name)
        if name in facts.typed:
            moved = np.flatnonzero(self.row_of_record >= 0)
            for record, text in zip(moved.tolist(), ours.rows(self.row_of_record[moved]), strict=True):
                texts[record] = None if wrong[self.row_of_record[record]] else text
        fresh = [None if wrong[row] else text for row, text in zip(self.new.tolist(), ours.rows(self.new), strict=True)]
        return type(ours).of([*texts, *fresh])

    def row(self, person: int) -> int:
        """Give the row of the file that somebody is in, -1 for none."""
        records = len(self._facts.snapshot)
        return int(self.row_of_record[person]) if person < records else int(self.new[person - records])


def check_groups(facts: Facts, causes: Sequence[Cause], stopped: NDArray[np.bool_]) -> list[Hit]:
    """Run the definition's checks of groups.

    Args:
        facts: What the checks look at.
        causes: What was found in the rows: a group's trouble may only follow from it.
        stopped: Rows that do not go in.
    """
    declared = [one for one in facts.definition.checks if one.check in ("lead", "group-size")]
    hits: list[Hit] = []
    for check in declared:
        if any(name in facts.typed for name in (*check.options["by"], *_lead_fields(check))):
            hits += _check(facts, check, causes, stopped)
    return hits


def _lead_fields(check: Check) -> tuple[str, ...]:
    return fields_of(check.options["lead"]) if check.check == "lead" else ()


def _check(facts: Facts, check: Check, causes: Sequence[Cause], stopped: NDArray[np.bool_]) -> list[Hit]:
    before = _measure(facts, check, None)
    nobody = np.zeros(len(facts), bool)
    found: dict[tuple[str, ...], tuple[str, list[int]]] = {}
    for stay_out in (nobody, stopped):
        people = _People(facts, stay_out)
        for group, (members, measured) in _measure(facts, check, people).items():
            was = before.get(group, ([], None))[1]
            if group not in found and (trouble := _trouble(check, measured, was)):
                found[group] = (trouble, [row for one in members if (row := people.row(one)) >= 0])
    hits = []
    # Whoever left the group, or whose value in it cannot be read, may be the reason.
    touched = _rows_by_old_group(facts, check)
    read = (*check.options["by"], *_lead_fields(check))
    for group, (trouble, rows) in found.items():
        near = sorted({*rows, *touched.get(group, ())})
        follows = _reasons(facts, causes, near, read, stopped)
        name = " · ".join(group)
        title = f"{name}: {trouble}"
        place = np.array([] if follows else near, np.intp)
        hits.append(
            Hit(check.check, None, read, check.weight, place[:0], title, f"{title}.", group=name, whole=True, follows=follows)
        )
    return hits


def _measure(facts: Facts, check: Check, people: _People | None) -> dict[tuple[str, ...], tuple[list[int], int]]:
    """Count each group's members, or its leads; None measures the roster as it stands."""
    column = people.column if people else facts.snapshot.columns.__getitem__
    count = people.count if people else len(facts.snapshot)
    parts = [column(name).rows(np.arange(count)) for name in check.options["by"]]
    leads = holds(check.options["lead"], column, count, facts.today) if check.check == "lead" else np.ones(count, bool)
    applies = holds(check.options["when"], column, count, facts.today) if "when" in check.options else np.ones(count, bool)
    members: Groups = {}
    leading: dict[tuple[str, ...], int] = {}
    for person, values in enumerate(zip(*parts, strict=True)):
        if None in values or not applies[person]:
            continue
        group = tuple(str(value) for value in values)
        members.setdefault(group, []).append(person)
        leading[group] = leading.get(group, 0) + bool(leads[person])
    return {group: (some, leading[group] if check.check == "lead" else len(some)) for group, some in members.items()}


def _trouble(check: Check, now: int, was: int | None) -> str:
    """Say what is wrong with a group now that was not before; "" for nothing."""
    if check.check == "lead":
        if now == 0 and was:
            return "without its lead"
        return f"{now} leads, where there must be one" if now > 1 and now != was else ""
    least, most = check.options.get("least", 0), check.options.get("most", 10**9)
    if now < least and now != was:
        return f"{now} people, at least {least} are needed"
    return f"{now} people, at most {most} fit" if now > most and now != was else ""


def _rows_by_old_group(facts: Facts, check: Check) -> dict[tuple[str, ...], list[int]]:
    """List the rows of people who are in each group today."""
    found: dict[tuple[str, ...], list[int]] = {}
    known = np.flatnonzero(facts.known.record >= 0)
    records = facts.known.record[known]
    parts = [facts.snapshot.columns[name].rows(records) for name in check.options["by"]]
    for row, values in zip(known.tolist(), zip(*parts, strict=True), strict=True):
        if None not in values:
            found.setdefault(tuple(str(value) for value in values), []).append(row)
    return found


def _reasons(
    facts: Facts, causes: Sequence[Cause], rows: list[int], read: tuple[str, ...], stopped: NDArray[np.bool_]
) -> tuple[str, ...]:
    """Find the causes that a group's trouble follows from: wrong values in the fields it reads, or rows that stay out."""
    near = np.array(rows, np.intp)
    reasons = []
    for cause in causes:
        if cause.hit.weight == "note" or not len(cause.open_rows):
            continue
        there = np.intersect1d(cause.open_rows, near)
        wrong = cause.hit.field in read and cause.hit.field in facts.typed
        if len(there) and ((wrong and facts.problem(str(cause.hit.field))[there].any()) or _would_lead(facts, there, stopped)):
            reasons.append(cause.id)
    return tuple(reasons)


def _would_lead(facts: Facts, rows: NDArray[np.intp], stopped: NDArray[np.bool_]) -> bool:
    """Tell whether rows that stay out are of people who would join."""
    return bool((stopped[rows] & (facts.known.record[rows] < 0)).any())
