"""Checks against other records: references that must lead somewhere, loops, values that are unique across rosters, overlaps."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit, lines_of
from nevefield.core.people.joining import group_rows

if TYPE_CHECKING:
    from nevefield.core.definition import Check, ForeignKey
    from nevefield.core.table import Column

__all__ = ["check_overlap", "check_references", "check_unique_across"]


def check_references(facts: Facts) -> list[Hit]:
    """Check foreign keys of one field: the record exists, in the roster or in the file, and references go in no circle.

    Source: Table Schema, "foreignKeys"; `resource` "" is this roster, another name another roster.
    """
    hits: list[Hit] = []
    for key in facts.definition.foreign_keys:
        if len(key.fields) != 1 or len(key.target) != 1 or key.fields[0] not in facts.typed:
            continue
        name, target = key.fields[0], key.target[0]
        of = (facts.snapshot, *facts.others.values(), facts.typed[name], None if key.resource else facts.typed.get(target))
        hits += facts.memo.get(("exists", name), of, partial(_check_exists, facts, key))
        if not key.resource and key.target == facts.definition.primary_key:
            hits += facts.memo.get(("loops", name), (*of, facts.apart), partial(_check_loops, facts, key))
    return hits


def _check_exists(facts: Facts, key: ForeignKey) -> list[Hit]:
    (name,), (target,) = key.fields, key.target
    ours = facts.folded[name]
    other = facts.others.get(key.resource) if key.resource else facts.snapshot
    if other is None or target not in other.columns:
        return []
    known = ours.place(other.folded(target)) >= 0
    if not key.resource and target in facts.folded:  # whoever joins by the same file is there as well
        known |= ours.place(facts.folded[target]) >= 0
    rows = np.flatnonzero((ours.codes >= 0) & ~known & ~facts.problem(name))
    where = facts.definition.title if not key.resource else other.definition.title
    groups: dict[str, list[int]] = {}
    for row in rows.tolist():
        groups.setdefault(facts.typed[name].stored.at(row) or "", []).append(row)
    return [
        Hit(
            "reference",
            name,
            (name,),
            "stop",
            np.array(some, np.intp),
            f"{facts.title(name)} {value} is nobody in {where}",
            f"{facts.title(name)} {value} is nobody in {where}, nor in this file.",
            group=value,
        )
        for value, some in groups.items()
    ]


def _check_loops(facts: Facts, key: ForeignKey) -> list[Hit]:
    """Follow references as they will be after the file, and report the rows in a circle, each circle once."""
    (name,), (target,) = key.fields, key.target
    if target not in facts.folded:
        return []
    snapshot = facts.snapshot
    leads = dict(zip(_texts(snapshot.folded(target)), _texts(snapshot.folded(name)), strict=True)) if len(snapshot) else {}
    rows: dict[str, int] = {}
    wrong = facts.problem(name) | facts.aside
    for row, (own, to) in enumerate(zip(_texts(facts.folded[target]), _texts(facts.folded[name]), strict=True)):
        if own and not wrong[row]:
            leads[own] = to
            rows[own] = row
    hits: list[Hit] = []
    state: dict[str, int] = {}  # 1: on the way now, 2: done
    for start in list(rows):
        way: list[str] = []
        at: str | None = start
        while at and at not in state:
            state[at] = 1
            way.append(at)
            at = leads.get(at)
        if at and state.get(at) == 1:
            circle = way[way.index(at) :]
            inside = np.array(sorted(rows[one] for one in circle if one in rows), np.intp)
            told = " → ".join([*circle, circle[0]])
            title = f"{facts.title(name)} goes in a circle: {told}"
            hits.append(Hit("loop", name, (target, name), "stop", inside, title, f"{title}.", group="/".join(sorted(circle))))
        for one in way:
            state[one] = 2
    return hits


def _texts(column: Column) -> list[str | None]:
    return column.rows(np.arange(len(column)))


def check_unique_across(facts: Facts, check: Check) -> list[Hit]:
    """A value must not stand in fields of other rosters, named as `{"roster": "field"}`."""
    hits: list[Hit] = []
    (name,) = check.fields
    if name not in facts.typed:
        return []
    for roster, field in check.options["rosters"].items():
        other = facts.others.get(roster)
        if other is None or field not in other.columns:
            continue
        theirs = other.folded(field)
        placed = facts.folded[name].place(theirs)
        counts = np.bincount(theirs.codes[theirs.codes >= 0], minlength=len(theirs.values))
        taken = np.append(counts > 0, [False, False])[placed]
        rows = np.flatnonzero((placed >= 0) & taken & ~facts.problem(name) & ~facts.aside & facts.applies(check))
        if len(rows):
            title = f"{facts.title(name)} belongs to somebody in {other.definition.title}"

            def say(row: int, title: str = title) -> str:
                return f"{title}: “{facts.typed[name].stored.at(row)}”."

            hits.append(Hit(check.check, name, (name,), check.weight, rows, title, say, group=f"{roster}/{field}"))
    return hits


def check_overlap(facts: Facts, check: Check) -> list[Hit]:
    """Of rows that share the fields `of`, no two may hold over days that overlap; an open end reaches for ever."""
    first, last = check.fields
    of = check.options["of"]
    if any(one not in facts.typed for one in (first, last, *of)):
        return []
    same = np.zeros(len(facts), np.int64)
    empty = facts.aside | ~facts.applies(check) | facts.problem(first) | facts.problem(last)
    for name in of:
        column = facts.folded[name]
        same = same * (len(column.values) + 1) + np.maximum(column.codes, 0)
        empty |= (column.codes < 0) | facts.problem(name)
    starts, ends = _texts(facts.stored(first)), _texts(facts.stored(last))
    hits: list[Hit] = []
    titles = " and ".join(facts.title(name) for name in of)
    for rows in group_rows(np.where(empty, -1, same)):
        ordered = sorted(rows.tolist(), key=lambda row: starts[row] or "")
        clash: set[int] = set()
        reach, holder = "", -1
        for row in ordered:
            if holder >= 0 and (starts[row] or "") <= reach and facts.joined.lead[row] != facts.joined.lead[holder]:
                clash |= {holder, row}
            if (ends[row] or "9999") >= reach:
                reach, holder = ends[row] or "9999", row
        if clash:
            inside = np.array(sorted(clash), np.intp)
            told = lines_of(facts.lines[inside]).capitalize()
            said = f"{told} have the same {titles} and overlap from {facts.title(first)} to {facts.title(last)}."
            read = (*of, first, last)
            hits.append(Hit(check.check, last, read, check.weight, inside, f"{told} overlap", said, group=str(inside.tolist())))
    return hits
