"""Checks against other records: references that must lead somewhere, loops, values that are unique across rosters, overlaps."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.checking.facts import Facts, Hit, lines_of
from nevefield.core.people.joining import group_rows
from nevefield.core.trail import put_in, union

if TYPE_CHECKING:
    from typing import Any

    from numpy.typing import NDArray

    from nevefield.core.definition import Check, ForeignKey
    from nevefield.core.table import Column

__all__ = ["check_overlap", "check_references", "check_unique_across"]

FEW = 8  # keys that have come or gone, whose references are looked for one by one
MOST = 1_000  # references that are looked at apart from the others


def check_references(facts: Facts) -> list[Hit]:
    """Check foreign keys of one field: the record exists, in the roster or in the file, and references go in no circle.

    Source: Table Schema, "foreignKeys"; `resource` "" is this roster, another name another roster.
    """
    hits: list[Hit] = []
    for key in facts.definition.foreign_keys:
        if len(key.fields) != 1 or len(key.target) != 1 or key.fields[0] not in facts.typed:
            continue
        hits += _check_exists(facts, key)
        if not key.resource and key.target == facts.definition.primary_key:
            of = (facts.typed[key.fields[0]], facts.typed.get(key.target[0]), facts.snapshot, facts.apart)
            hits += facts.memo.get(("loops", key.fields[0]), of, partial(_check_loops, facts, key))
    return hits


def _check_exists(facts: Facts, key: ForeignKey) -> list[Hit]:
    (name,), (target,) = key.fields, key.target
    other = facts.others.get(key.resource) if key.resource else facts.snapshot
    if other is None or target not in other.columns:
        return []
    rows = _find_nobodies(facts, name, other.folded(target), None if key.resource else facts.folded.get(target))
    where = facts.definition.title if not key.resource else other.definition.title
    hits: list[Hit] = facts.memo.get(("nobodies", name), (rows, where), partial(_say_nobodies, facts, name, rows, where))
    return hits


def _say_nobodies(facts: Facts, name: str, rows: NDArray[np.intp], where: str) -> list[Hit]:
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


def _find_nobodies(facts: Facts, name: str, theirs: Column, own: Column | None) -> NDArray[np.intp]:
    """List the rows whose reference leads nowhere: neither to a record nor, by the same field of the file, to a row of it."""
    typed, ours = facts.typed[name], facts.folded[name]

    def make() -> NDArray[np.intp]:
        there = ours.place(theirs) >= 0
        if own is not None:  # whoever joins by the same file is there as well
            there |= np.append(own.counts() > 0, [False, False])[ours.place(own)]
        return np.flatnonzero((ours.codes >= 0) & ~there & ~typed.problem_rows())

    def leads_nowhere(text: str | None) -> bool:
        if text is None or theirs.find([text])[0] >= 0:
            return False
        place = own.find([text])[0] if own is not None else -1
        return place < 0 or own is None or not (own.codes == place).any()

    def again(before: NDArray[np.intp], rows: NDArray[np.intp], was: tuple[Any, ...]) -> NDArray[np.intp]:
        if own is not None and own is not was[1]:  # who refers to a row that has come or gone
            named = {*was[1].rows(rows), *own.rows(rows)} - {None}
            if len(named) > FEW:
                return make()
            rows = union((rows, *(np.flatnonzero(ours.codes == place) for place in map(ours.find, ([text] for text in named)))))
        if len(rows) > MOST:
            return make()
        nowhere = {text: leads_nowhere(text) for text in dict.fromkeys(ours.rows(rows))}
        wrong = [nowhere[text] for text in ours.rows(rows)]
        return put_in(before, rows, rows[np.array(wrong, bool) & ~typed.problem_rows()[rows]])

    found: NDArray[np.intp] = facts.memo.mend(("exists", name), (typed, own, theirs), make, again)
    return found


def _check_loops(facts: Facts, key: ForeignKey) -> list[Hit]:
    """Follow references as they will be after the file, and report the rows in a circle, each circle once."""
    (name,), (target,) = key.fields, key.target
    if target not in facts.folded or not _has_circle(facts, name, target):
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


def _has_circle(facts: Facts, name: str, target: str) -> bool:
    """Tell whether references go in any circle, by following all at once, each time twice as far, until all have an end."""
    own, to = facts.folded[target], facts.folded[name]
    theirs, beyond = facts.snapshot.folded(target), facts.snapshot.folded(name)
    nobody = len(theirs.values) + len(own.values)

    def number(values: Column) -> NDArray[np.int64]:
        """Number distinct values as people: the roster's, then those of the file alone; nobody for the rest, and at last."""
        found = values.places(theirs).astype(np.int64)
        missing = np.flatnonzero(found < 0)
        if values is own:
            found[missing] = len(theirs.values) + missing
        else:
            texts = values.values.take(pa.array(missing)).to_pylist()
            here = np.array([own.find([text])[0] for text in texts], np.int64)
            found[missing] = np.where(here >= 0, len(theirs.values) + here, nobody)
        return np.append(found, nobody)

    leads = np.full(nobody + 1, nobody, np.int64)
    there = theirs.codes >= 0
    leads[theirs.codes[there]] = number(beyond)[beyond.codes[there]]
    rows = np.flatnonzero((own.codes >= 0) & ~facts.problem(name) & ~facts.aside)
    leads[number(own)[own.codes[rows]]] = number(to)[to.codes[rows]]
    for _ in range(nobody.bit_length() + 1):
        if (leads == nobody).all():
            return False
        leads = leads[leads]
    return True


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
