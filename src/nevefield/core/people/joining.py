"""Several rows for one person: one row per membership, joined into one record."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.columns.values import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.memo import Memo
    from nevefield.core.people.keys import Known
    from nevefield.core.table import Column

__all__ = ["Joined", "group_again", "group_rows", "join_rows", "number_people", "people_groups", "regroup_rows"]

FEW = 8  # rows whose value is looked for alone


@dataclass(frozen=True)
class Joined:
    """Which rows are one person, and what they say together."""

    person: NDArray[np.int64]  # a number for each person that rows are known to be; -1 where that is not known
    lead: NDArray[np.intp]  # for each row the one that stands for its person: the first, or itself
    groups: tuple[NDArray[np.intp], ...]  # the rows that are joined, each group in order
    typed: Mapping[str, Typed]  # the rows' values; in joined rows the whole person's
    disagree: Mapping[int, tuple[str, ...]]  # by person: the fields of one value that its rows contradict each other in

    @property
    def is_lead(self) -> NDArray[np.bool_]:
        """Tell which rows stand for their person."""
        return np.asarray(self.lead == np.arange(len(self.lead)))


def number_people(
    definition: Definition, typed: Mapping[str, Typed], folded: Mapping[str, Column], known: Known, records: int
) -> NDArray[np.int64]:
    """Number the people that rows are known to be: a record, or a primary key that no record has; -1 for unknown."""
    person = known.record
    key = definition.primary_key
    if key and all(name in folded for name in key):
        combined = np.zeros(len(person), np.int64)
        empty = np.zeros(len(person), bool)
        for name in key:
            column = folded[name]
            combined = combined * (len(column.values) + 1) + np.maximum(column.codes, 0)
            empty |= (column.codes < 0) | typed[name].problem_rows()
        combined += records
        combined[empty] = -1
        return np.where(person < 0, combined, person)
    return person


def group_rows(values: NDArray[np.int64]) -> list[NDArray[np.intp]]:
    """List the rows of each value that stands more than once, in order; values under 0 count as nothing."""
    if not len(values):
        return []
    # Few stand more than once: only these are put in order.
    if int(values.max()) < 8 * len(values) + 64:
        counts = np.bincount(shifted := np.maximum(values, -1) + 1)
        counts[0] = 0
        again = np.flatnonzero(counts[shifted] > 1)
    else:
        again = np.arange(len(values))
    order = again[np.argsort(values[again], kind="stable")]
    ordered = values[order]
    if not len(ordered):
        return []
    starts = np.flatnonzero(np.concatenate([[True], ordered[1:] != ordered[:-1]]))
    sizes = np.diff(np.append(starts, len(ordered)))
    some = np.flatnonzero((sizes > 1) & (ordered[starts] >= 0)).tolist()
    return [order[starts[place] : starts[place] + sizes[place]] for place in some]


def regroup_rows(
    before: NDArray[np.int64], groups: list[NDArray[np.intp]], values: NDArray[np.int64]
) -> list[NDArray[np.intp]]:
    """List what `group_rows` lists; where few values differ from those before, only these are looked for.

    Args:
        before: The values of which `groups` are known.
        groups: As `group_rows` gave them.
        values: As they are now.

    >>> groups = group_rows(np.array([7, 7, 3]))
    >>> [one.tolist() for one in regroup_rows(np.array([7, 7, 3]), groups, np.array([7, 3, 3]))]
    [[1, 2]]
    """
    changed = np.flatnonzero(before != values) if len(before) == len(values) else np.arange(len(values))
    if len(changed) > FEW:
        return group_rows(values)
    touched = {one for one in (*before[changed].tolist(), *values[changed].tolist()) if one >= 0}
    found = {int(values[group[0]]): group for group in groups if int(before[group[0]]) not in touched}
    for one in touched:
        rows = np.flatnonzero(values == one)
        if len(rows) > 1:
            found[one] = rows
    return [found[one] for one in sorted(found)]


def group_again(memo: Memo, name: Any, values: NDArray[np.int64]) -> list[NDArray[np.intp]]:
    """List the rows of each value that stands more than once, going on from what was found before under the same name."""
    last = memo.last(name)

    def make() -> list[NDArray[np.intp]]:
        return regroup_rows(last[0][0], last[1], values) if last is not None else group_rows(values)

    groups: list[NDArray[np.intp]] = memo.get(name, (values,), make)
    return groups


def people_groups(
    memo: Memo, person: NDArray[np.int64], aside: NDArray[np.bool_], apart: tuple[int, ...]
) -> list[NDArray[np.intp]]:
    """List the rows of each person who has several, without those that are aside.

    Args:
        memo: What was found before.
        person: Of each row, see `number_people`.
        aside: Which rows are held or left out.
        apart: The same as their numbers.
    """

    def make() -> list[NDArray[np.intp]]:
        return group_again(memo, "rows of people", np.where(aside, -1, person))

    groups: list[NDArray[np.intp]] = memo.get("people", (person, apart), make)
    return groups


def join_rows(
    definition: Definition,
    typed: Mapping[str, Typed],
    folded: Mapping[str, Column],
    person: NDArray[np.int64],
    together: list[NDArray[np.intp]],
) -> Joined:
    """Join rows of one person that differ in nothing but fields that take several values.

    A field of one value may stand in some of the rows only; where two rows give it different values, nothing is joined.

    Args:
        definition: Of the roster.
        typed: The rows' values by field.
        folded: The same, folded.
        person: Of each row, see `number_people`.
        together: The rows of each person who has several, without those held or left out: see `group_rows`.

    Returns:
        The joined rows and their values; rows keep their order and number.
    """
    several = [name for name in typed if definition.by_name[name].several]
    rows = len(person)
    found = together if several else []
    groups: list[NDArray[np.intp]] = []
    disagree: dict[int, tuple[str, ...]] = {}
    for group in found:
        if all((folded[name].codes[group] == folded[name].codes[group[0]]).all() for name in several):
            continue
        against = tuple(name for name, column in folded.items() if name not in several and _contradicts(column.codes[group]))
        if against:
            disagree[int(person[group[0]])] = against
        else:
            groups.append(group)
    lead = np.arange(rows)
    for group in groups:
        lead[group] = group[0]
    joined = {name: _spread(one, groups, name in several) for name, one in typed.items()} if groups else typed
    return Joined(person, lead, tuple(groups), joined, disagree)


def _contradicts(codes: NDArray[np.int32]) -> bool:
    filled = codes[codes >= 0]
    return bool(len(filled) and (filled != filled[0]).any())


def _spread(one: Typed, groups: list[NDArray[np.intp]], several: bool) -> Typed:
    """Give every row of a group the whole person's value."""
    codes = one.stored.codes
    wrong = one.problem_rows()
    changes: dict[int, str | None] = {}
    for group in groups:
        if (codes[group] == codes[group[0]]).all() or wrong[group].any():
            continue
        texts = [one.stored.at(row) for row in group.tolist()]
        if several:
            whole = SEVERAL.join(dict.fromkeys(part for text in texts if text for part in text.split(SEVERAL)))
        else:
            whole = next(text for text in texts if text)
        changes.update(dict.fromkeys(group.tolist(), whole))
    return replace(one, stored=one.stored.replace(changes), _folded=[], _wrong=[]) if changes else one
