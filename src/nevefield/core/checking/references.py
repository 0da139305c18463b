"""Checks against other records: references that must lead somewhere, loops, values that are
unique across rosters, overlaps.
"""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.borders import Premises
from nevefield.core.checking.facts import Facts, Hit, lines_of
from nevefield.core.columns.folding import fold_values
from nevefield.core.columns.identifiers import mend_identifier
from nevefield.core.edits import limits
from nevefield.core.edits.trail import put_in, union
from nevefield.core.people.joining import group_rows
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable

    from numpy.typing import NDArray

    from nevefield.core.definition import Check, Field, ForeignKey
    from nevefield.core.snapshot import Snapshot

__all__ = ["check_overlap", "check_references", "check_unique_across"]

MOST = 1_000  # references that are looked at apart from the others


def check_references(facts: Facts) -> list[Hit]:
    """Check foreign keys: the record exists, in the roster or in the file; up a hierarchy no
    reference leads in a circle.

    Of several fields together a row is passed over where one is empty. Values are compared as those
    of the fields are to which they refer.

    Source: Table Schema, "foreignKeys"; `resource` "" is this roster, another name another roster.
    """
    hits: list[Hit] = []
    for key in facts.definition.foreign_keys:
        if any(name not in facts.typed for name in key.fields):
            continue
        hits += _check_exists(facts, key)
        if key.hierarchy:
            ((name,), (target,)) = key.fields, key.target
            of = (facts.typed[name], facts.typed.get(target), facts.snapshot, facts.aside_rows)
            hits += facts.memo.get(("loops", name), of, partial(_check_loops, facts, key))
    return hits


def _check_exists(facts: Facts, key: ForeignKey) -> list[Hit]:
    snapshot = facts.others.get(key.resource) if key.resource else facts.snapshot
    if snapshot is None or any(target not in snapshot.columns for target in key.target):
        return []
    ours = tuple(
        _in_form(facts, name, snapshot.definition.by_name[target])
        for name, target in zip(key.fields, key.target, strict=True)
    )
    theirs = tuple(snapshot.folded(target) for target in key.target)
    # who is outside of the part that a file is for is there all the same, and is not offered
    there = tuple(_with_beyond(snapshot, target) for target in key.target)
    here = not key.resource and all(target in facts.folded for target in key.target)
    own = tuple(facts.folded[target] for target in key.target) if here else None
    if len(key.fields) == 1:
        rows = _find_nobodies(facts, key.fields[0], ours[0], there[0], own[0] if own else None)
    else:
        rows = _find_nobodies_of_several(facts, key.fields, ours, there, own)
    elsewhere = (key.resource, snapshot.definition.title) if key.resource else ("", "")
    where = elsewhere[1] or facts.definition.title
    offers = _offers(snapshot.definition.by_name[key.target[-1]]) if len(key.fields) == 1 else None
    say = partial(_say_nobodies, facts, key.fields, ours, rows, where, offers, theirs)
    hits: list[Hit] = facts.memo.get(("nobodies", key.fields), (rows, where, *ours, *theirs), say)
    return [replace(hit, elsewhere=elsewhere) for hit in hits] if key.resource else hits


def _with_beyond(snapshot: Snapshot, name: str) -> Column:
    """Bring the values of a field that mean the same to the same text, those beyond a part too."""
    beyond = snapshot.beyond
    if beyond is None:
        return snapshot.folded(name)
    column: Column = snapshot.keep(
        f"with beyond {name}",
        lambda: Column.of([*_texts(snapshot.folded(name)), *_texts(beyond.folded(name))]),
    )
    return column


def _in_form(facts: Facts, name: str, target: Field) -> Column:
    """Return a field's values in the form of the field that they refer to."""
    typed = facts.typed[name]
    form = target.form or target
    if typed.field.form == form or typed.field == form:
        return facts.folded[name]
    seen = replace(typed.field, form=form)

    def fold(texts: list[str | None]) -> list[str | None]:
        column = Column.of(texts)
        return Column(fold_values(seen, column.values), column.codes).rows(np.arange(len(texts)))

    def make() -> Column:
        stored = typed.stored
        distinct = Column.encode(fold_values(seen, stored.values))
        codes = np.append(distinct.codes, np.int32(-1))[stored.codes]
        return Column(distinct.values, codes)

    def again(before: Column, rows: NDArray[np.intp], _: Premises) -> Column:
        return before.replace(dict(zip(rows.tolist(), fold(typed.stored.rows(rows)), strict=True)))

    found: Column = facts.memo.mend(("in form", name, target.name), (typed, seen), make, again)
    return found


def _offers(target: Field) -> Callable[[str], tuple[str, ...]] | None:
    """Give back what a reference may have been before it lost its leading zeros or had its
    letters mistaken.
    """
    scheme = target.identifier
    return None if scheme is None else lambda text: mend_identifier(scheme, text).suggestions


def _say_nobodies(
    facts: Facts,
    names: tuple[str, ...],
    ours: tuple[Column, ...],
    rows: NDArray[np.intp],
    where: str,
    offers: Callable[[str], tuple[str, ...]] | None,
    theirs: tuple[Column, ...],
) -> list[Hit]:
    groups: dict[tuple[str, ...], list[int]] = {}
    for row, *parts in zip(rows.tolist(), *(column.rows(rows) for column in ours), strict=True):
        groups.setdefault(tuple(part or "" for part in parts), []).append(row)
    field = names[-1]
    title = " and ".join(facts.title(name) for name in names)
    hits = []
    for messages, some in groups.items():
        value = " ".join(facts.text(some[0], name) for name in names)
        offered = (
            offers(messages[0])
            if offers is not None and not facts.typed[field].field.several
            else ()
        )
        likely = tuple(text for text in offered if theirs[0].find([text.lower()])[0] >= 0)
        hits.append(
            Hit(
                "reference",
                field,
                names,
                "stop",
                np.array(some, np.intp),
                f"{title} {value} is nobody in {where}",
                f"{title} {value} is nobody in {where}, nor in this file.",
                group="/".join(messages),
                texts=tuple(
                    dict.fromkeys(
                        text for text in facts.typed[field].raw.rows(np.array(some)) if text
                    )
                ),
                suggestions=likely[:1],
            )
        )
    return hits


def _find_nobodies(
    facts: Facts, name: str, ours: Column, theirs: Column, own: Column | None
) -> NDArray[np.intp]:
    """List the rows whose reference leads nowhere: neither to a record nor, by the same field of
    the file, to a row of it.

    Args:
        facts: What checks look at.
        name: The referring field.
        ours: Its values, in the form of the field that they refer to.
        theirs: The records' values of that field.
        own: The rows' values of it, where they are of the same roster.
    """
    typed = facts.typed[name]
    several = bool(typed.field.several)

    def but_kept(rows: NDArray[np.intp]) -> NDArray[np.intp]:
        return rows[~facts.kept(name, rows)] if len(rows) else rows

    def make() -> NDArray[np.intp]:
        if several:
            nowhere = np.array(
                [any(map(leads_nowhere, text.split(SEVERAL))) for text in ours.texts()] + [False],
                bool,
            )
            return but_kept(np.flatnonzero(nowhere[ours.codes] & ~typed.problem_rows()))
        there = ours.place(theirs) >= 0
        if own is not None:  # whoever joins by the same file is there as well
            there |= np.append(own.counts() > 0, [False, False])[ours.place(own)]
        return but_kept(np.flatnonzero((ours.codes >= 0) & ~there & ~typed.problem_rows()))

    def leads_nowhere(text: str) -> bool:
        if theirs.find([text])[0] >= 0:
            return False
        place = own.find([text])[0] if own is not None else -1
        return place < 0 or own is None or not (own.codes == place).any()

    def is_wrong(text: str | None) -> bool:
        return text is not None and any(
            map(leads_nowhere, text.split(SEVERAL) if several else (text,))
        )

    def again(before: NDArray[np.intp], rows: NDArray[np.intp], was: Premises) -> NDArray[np.intp]:
        if own is not None and own is not was[2]:  # who refers to a row that has come or gone
            named = {*was[2].rows(rows), *own.rows(rows)} - {None}
            if several or len(named) > limits.SINGLE:
                return make()
            rows = union(
                (
                    rows,
                    *(
                        np.flatnonzero(ours.codes == place)
                        for place in map(ours.find, ([text] for text in named))
                    ),
                )
            )
        if len(rows) > MOST:
            return make()
        nowhere = {text: is_wrong(text) for text in dict.fromkeys(ours.rows(rows))}
        wrong = [nowhere[text] for text in ours.rows(rows)]
        return put_in(
            before, rows, but_kept(rows[np.array(wrong, bool) & ~typed.problem_rows()[rows]])
        )

    nobodies: NDArray[np.intp] = facts.memo.mend(
        ("exists", name), (typed, ours, own, theirs, facts.known), make, again
    )
    return nobodies


def _find_nobodies_of_several(
    facts: Facts,
    names: tuple[str, ...],
    ours: tuple[Column, ...],
    theirs: tuple[Column, ...],
    own: tuple[Column, ...] | None,
) -> NDArray[np.intp]:
    """List the rows whose reference of several fields together leads nowhere; those that lack a
    part lead nobody astray.
    """
    full = np.ones(len(facts), bool)
    for name, column in zip(names, ours, strict=True):
        full &= (column.codes >= 0) & ~facts.problem(name)
    rows = np.flatnonzero(full)
    wanted = list(zip(*(column.rows(rows) for column in ours), strict=True))
    known = set(zip(*map(_texts, theirs), strict=True))
    if own is not None:
        known.update(zip(*map(_texts, own), strict=True))
    return rows[np.array([parts not in known for parts in wanted], bool)] if len(rows) else rows


def _check_loops(facts: Facts, key: ForeignKey) -> list[Hit]:
    """Follow references as they will be after the file, and report the rows in a circle, each
    circle once.
    """
    (name,), (target,) = key.fields, key.target
    if target not in facts.folded or not _has_circle(facts, name, target):
        return []
    snapshot = facts.snapshot
    leads = (
        dict(zip(_texts(snapshot.folded(target)), _texts(snapshot.folded(name)), strict=True))
        if len(snapshot)
        else {}
    )
    shown = (
        dict(zip(_texts(snapshot.folded(target)), _texts(snapshot.columns[target]), strict=True))
        if len(snapshot)
        else {}
    )
    rows: dict[str, int] = {}
    wrong = facts.problem(name) | facts.aside
    for row, (own, to) in enumerate(
        zip(_texts(facts.folded[target]), _texts(facts.folded[name]), strict=True)
    ):
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
            inside = np.array(sorted(rows[text] for text in circle if text in rows), np.intp)
            stored = [
                facts.text(rows[text], target) if text in rows else shown[text] for text in circle
            ]
            told = " → ".join(str(text) for text in [*stored, stored[0]])
            title = f"{facts.title(name)} goes in a circle: {told}"
            hits.append(
                Hit(
                    "loop",
                    name,
                    (target, name),
                    "stop",
                    inside,
                    title,
                    f"{title}.",
                    group="/".join(sorted(circle)),
                )
            )
        for one in way:
            state[one] = 2
    return hits


def _has_circle(facts: Facts, name: str, target: str) -> bool:
    """Tell whether references go in any circle, by following all at once, each time twice as
    far, until all have an end.
    """
    own, to = facts.folded[target], facts.folded[name]
    theirs, beyond = facts.snapshot.folded(target), facts.snapshot.folded(name)
    nobody = len(theirs.values) + len(own.values)

    def number(values: Column) -> NDArray[np.int64]:
        """Number distinct values as people: the roster's, then those of the file alone; nobody
        for the rest, and at last.
        """
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
    for roster, field in check.names.rosters:
        snapshot = facts.others.get(roster)
        if snapshot is None or field not in snapshot.columns:
            continue
        theirs = snapshot.folded(field)
        placed = facts.folded[name].place(theirs)
        counts = np.bincount(theirs.codes[theirs.codes >= 0], minlength=len(theirs.values))
        taken = np.append(counts > 0, [False, False])[placed]
        rows = np.flatnonzero(
            (placed >= 0) & taken & ~facts.problem(name) & ~facts.aside & facts.applies(check)
        )
        if len(rows):
            title = f"{facts.title(name)} belongs to somebody in {snapshot.definition.title}"

            def say(row: int, title: str = title) -> str:
                return f"{title}: “{facts.text(row, name)}”."

            hits.append(
                Hit(
                    check.check,
                    name,
                    (name,),
                    check.weight,
                    rows,
                    title,
                    say,
                    group=f"{roster}/{field}",
                    elsewhere=(roster, snapshot.definition.title),
                )
            )
    return hits


def check_overlap(facts: Facts, check: Check) -> list[Hit]:
    """Of rows that share the fields `of`, no two may hold over days that overlap; an open end
    reaches for ever.
    """
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
            if (
                holder >= 0
                and (starts[row] or "") <= reach
                and facts.joined.lead[row] != facts.joined.lead[holder]
            ):
                clash |= {holder, row}
            if (ends[row] or "9999") >= reach:
                reach, holder = ends[row] or "9999", row
        if clash:
            inside = np.array(sorted(clash), np.intp)
            told = lines_of(facts.lines[inside]).capitalize()
            message = (
                f"{told} have the same {titles} and overlap from {facts.title(first)} to"
                f" {facts.title(last)}."
            )
            read = (*of, first, last)
            hits.append(
                Hit(
                    check.check,
                    last,
                    read,
                    check.weight,
                    inside,
                    f"{told} overlap",
                    message,
                    group=str(inside.tolist()),
                )
            )
    return hits
