"""Several rows for one person: one row per membership, joined into one record."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Array, Keys, Premises, Rows
from nevefield.core.columns.derived import derive
from nevefield.core.edits import limits
from nevefield.core.edits.trail import NO_ROWS, Followed
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.edits.memo import Memo
    from nevefield.core.people.keys import Known
    from nevefield.core.table import Column

__all__ = [
    "Joined",
    "Numbers",
    "group_again",
    "group_rows",
    "join_rows",
    "number_people",
    "number_rows",
    "people_groups",
    "regroup_rows",
]


@dataclass(frozen=True)
class Joined:
    """Which rows are one person, and what they say together."""

    # of each row a number for the person that it is known to be; -1 where that is not known
    people: Followed
    lead: NDArray[np.intp]  # for each row the one that stands for its person: the first, or itself
    groups: tuple[NDArray[np.intp], ...]  # the rows that are joined, each group in order
    typed: Mapping[str, Typed]  # the rows' values; in joined rows the whole person's
    # by person: the fields of one value that its rows contradict each other in
    disagree: Mapping[int, tuple[str, ...]]

    @property
    def person(self) -> NDArray[np.int64]:
        """A number for the person that each row is known to be; -1 where that is not known."""
        return self.people.values

    @property
    def is_lead(self) -> NDArray[np.bool_]:
        """Tell which rows stand for their person."""
        return np.asarray(self.lead == np.arange(len(self.lead)))


@dataclass(frozen=True)
class Numbers:
    """One number for the values of several columns together, the same for the same values; -1
    where a part is missing.
    """

    rows: Followed
    # that each column's values were counted with: there is room for those of edits
    sizes: tuple[int, ...]

    def since(self, numbers: Numbers) -> NDArray[np.intp] | None:
        """List the rows whose number may differ from what it was; None where the numbers are
        others.
        """
        return self.rows.since(numbers.rows)


def number_rows(
    memo: Memo,
    name: Keys,
    of: Premises,
    columns: Sequence[Column],
    lacks: Callable[[Keys], NDArray[np.bool_]],
) -> Numbers:
    """Number the rows by the values of columns.

    Args:
        memo: What was numbered before.
        name: Of the numbers there.
        of: What they are made of, beside the columns.
        columns: One or more, of equal length.
        lacks: Tells of rows whether they have no number, whatever stands there.
    """

    def make() -> Numbers:
        sizes = tuple(len(column.values) + limits.VALUES for column in columns)
        return Numbers(
            Followed(_number([column.codes for column in columns], sizes, lacks(slice(None)))),
            sizes,
        )

    def again(before: Numbers, rows: NDArray[np.intp], _: Premises) -> Numbers:
        if any(
            len(column.values) > size for column, size in zip(columns, before.sizes, strict=True)
        ):
            return make()
        numbers = before.rows.put(
            rows, _number([column.codes[rows] for column in columns], before.sizes, lacks(rows))
        )
        return before if numbers is before.rows else Numbers(numbers, before.sizes)

    made: Numbers = memo.mend(name, (*of, *columns), make, again)
    return made


def _number(
    codes: Sequence[NDArray[np.int32]], sizes: Sequence[int], lacking: NDArray[np.bool_]
) -> Array:
    numbers = codes[0].astype(np.int64) if len(codes) > 1 else codes[0].copy()
    empty = lacking | (codes[0] < 0)
    for code, size in zip(codes[1:], sizes[1:], strict=True):
        numbers = numbers * size + code
        empty = empty | (code < 0)
    numbers[empty] = -1
    return numbers


def number_people(
    definition: Definition, typed: Mapping[str, Typed], known: Known, records: int, memo: Memo
) -> Followed:
    """Number the people that rows are known to be: a record, or a primary key that no record has;
    -1 for unknown.

    Args:
        definition: With its primary key.
        typed: The rows' values by field.
        known: Which record each row is.
        records: How many there are.
        memo: What was numbered before.
    """
    key = definition.primary_key
    if not key or any(name not in typed for name in key):
        followed: Followed = memo.get(
            "person", (known,), lambda: Followed(known.record, known.trail)
        )
        return followed
    keyed = [typed[name] for name in key]

    def lacks(rows: Rows) -> NDArray[np.bool_]:
        return np.asarray(np.logical_or.reduce([column.problem_rows()[rows] for column in keyed]))

    numbers = number_rows(
        memo, "key numbers", tuple(keyed), [column.folded() for column in keyed], lacks
    )

    def person(rows: Rows) -> NDArray[np.int64]:
        record, number = known.record[rows], numbers.rows.values[rows]
        return np.where(record >= 0, record, np.where(number >= 0, number + records, -1))

    def again(before: Followed, rows: NDArray[np.intp], _: Premises) -> Followed:
        return before.put(rows, person(rows))

    people: Followed = memo.mend(
        "person", (known, numbers, records), lambda: Followed(person(slice(None))), again
    )
    return people


def group_rows(values: NDArray[np.int64]) -> list[NDArray[np.intp]]:
    """List the rows of each value that stands more than once, in order; values under 0 count as
    nothing.
    """
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
    groups: list[NDArray[np.intp]],
    before: NDArray[np.int64],
    values: NDArray[np.int64],
    rows: NDArray[np.intp],
) -> list[NDArray[np.intp]]:
    """List what `group_rows` lists, where few values differ from those before; the list itself
    where that alters nothing.

    Args:
        groups: As `group_rows` gave them.
        before: The values of which they are known.
        values: As they are now.
        rows: In which the two may differ.

    >>> groups = group_rows(np.array([7, 7, 3]))
    >>> [one.tolist() for one in regroup_rows(groups, np.array([7, 7, 3]), np.array([7, 3, 3]), np.array([1]))]
    [[1, 2]]
    """  # noqa: E501
    rows = rows[before[rows] != values[rows]]
    touched = {one for one in (*before[rows].tolist(), *values[rows].tolist()) if one >= 0}
    if len(touched) > limits.SINGLE:
        return group_rows(values)
    again = {one: there for one in touched if len(there := np.flatnonzero(values == one)) > 1}
    gone = (
        [place for place, group in enumerate(groups) if int(before[group[0]]) in touched]
        if groups
        else []
    )
    if not again and not gone:
        return groups
    found = {int(before[group[0]]): group for group in groups} | again
    for one in touched - again.keys():
        found.pop(one, None)
    return [found[one] for one in sorted(found)]


def group_again(memo: Memo, name: Keys, values: Followed) -> list[NDArray[np.intp]]:
    """List the rows of each value that stands more than once, going on from what was found
    before under the same name.
    """

    def again(
        before: list[NDArray[np.intp]], rows: NDArray[np.intp], was: Premises
    ) -> list[NDArray[np.intp]]:
        return regroup_rows(before, was[0].values, values.values, rows)

    groups: list[NDArray[np.intp]] = memo.mend(
        name, (values,), lambda: group_rows(values.values), again
    )
    return groups


def people_groups(
    memo: Memo, person: Followed, aside: NDArray[np.bool_], apart: tuple[int, ...]
) -> list[NDArray[np.intp]]:
    """List the rows of each person who has several, without those that are aside.

    Args:
        memo: What was found before.
        person: Of each row, see `number_people`.
        aside: Which rows are held or left out.
        apart: The same as their numbers.
    """
    if not apart:
        return group_again(memo, "rows of people", person)

    def again(before: Followed, rows: NDArray[np.intp], _: Premises) -> Followed:
        return before.put(rows, np.where(aside[rows], -1, person.values[rows]))

    def make() -> Followed:
        return Followed(np.where(aside, -1, person.values))

    return group_again(memo, "rows of people", memo.mend("people", (person, apart), make, again))


def join_rows(
    definition: Definition,
    typed: Mapping[str, Typed],
    people: Followed,
    together: list[NDArray[np.intp]],
    memo: Memo,
) -> Joined:
    """Join rows of one person that differ in nothing but fields that take several values.

    A field of one value may stand in some of the rows only; where two rows give it different
    values, nothing is joined.

    Args:
        definition: Of the roster.
        typed: The rows' values by field.
        people: Of each row, see `number_people`.
        together: The rows of each person who has several, without those held or left out: see
            `group_rows`.
        memo: What was joined before: only groups with an edited row are looked at again.

    Returns:
        The joined rows and their values; rows keep their order and number.
    """
    several = tuple(name for name in typed if definition.by_name[name].several)
    if not several or not together:
        return Joined(people, _lead(memo, len(people.values), []), (), typed, {})
    folded = {name: column.folded() for name, column in typed.items()}
    judged = _judge(memo, folded, several, people, together)
    kept: Groups = memo.keep(
        "joined groups",
        (judged,),
        lambda: [group for group, against in judged if against == ()],
        _are_same,
    )
    disagree = {int(people.values[group[0]]): against for group, against in judged if against}
    joined = dict(typed)
    for name, one in typed.items() if kept else ():
        values = partial(_spread, one, kept, several=name in several)
        joined[name] = derive(memo, ("spread", name), one, (kept,), values)
    return Joined(people, _lead(memo, len(people.values), kept), tuple(kept), joined, disagree)


Groups = list["NDArray[np.intp]"]  # the rows of each, in order
Judged = list[tuple["NDArray[np.intp]", "tuple[str, ...] | None"]]


def _judge(
    memo: Memo,
    folded: Mapping[str, Column],
    several: tuple[str, ...],
    people: Followed,
    together: list[NDArray[np.intp]],
) -> Judged:
    """Say of each person's rows in which fields they contradict each other; None where they are
    joined in nothing.
    """

    def judge(group: NDArray[np.intp]) -> tuple[str, ...] | None:
        if all(
            (folded[name].codes[group] == folded[name].codes[group[0]]).all() for name in several
        ):
            return None
        return tuple(
            name
            for name, column in folded.items()
            if name not in several and _contradicts(column.codes[group])
        )

    def again(before: Judged, rows: NDArray[np.intp], _: Premises) -> Judged:
        edited = set(rows.tolist())
        had = {int(group[0]): (group, against) for group, against in before}
        made: Judged = []
        for group in together:
            known = had.get(int(group[0]))
            same = known is not None and (known[0] is group or np.array_equal(known[0], group))
            made.append(
                known
                if known and same and edited.isdisjoint(group.tolist())
                else (group, judge(group))
            )
        return (
            before
            if len(made) == len(before)
            and all(one is other for one, other in zip(made, before, strict=True))
            else made
        )

    # The groups come of the people; where other rows are one person, only their groups are judged
    # anew.
    of = (tuple(folded), several, people, *folded.values())
    judged: Judged = memo.mend(
        "judged", of, lambda: [(group, judge(group)) for group in together], again
    )
    if len(judged) != len(together) or any(
        one is not group for (one, _), group in zip(judged, together, strict=True)
    ):
        judged = again(judged, NO_ROWS, of)  # rows were taken aside, or back
    return judged


def _are_same(some: Groups, others: Groups) -> bool:
    return len(some) == len(others) and all(map(np.array_equal, some, others))


def _lead(memo: Memo, rows: int, groups: Groups) -> NDArray[np.intp]:
    """Say of each row which stands for its person; the very same array while the groups are."""

    def make() -> NDArray[np.intp]:
        lead = np.arange(rows)
        for group in groups:
            lead[group] = group[0]
        return lead

    lead: NDArray[np.intp] = memo.get("lead", (rows, groups or None), make)
    return lead


def _contradicts(codes: NDArray[np.int32]) -> bool:
    filled = codes[codes >= 0]
    return bool(len(filled) and (filled != filled[0]).any())


def _spread(
    typed: Typed, groups: Groups, rows: NDArray[np.intp], several: bool
) -> dict[int, str | None]:
    """Give every row of the groups that some rows are in the whole person's value."""
    codes = typed.stored.codes
    wrong = typed.problem_rows()
    changes: dict[int, str | None] = {}
    asked = set(rows.tolist()) if len(rows) < len(codes) else None
    for group in (
        groups
        if asked is None
        else [group for group in groups if not asked.isdisjoint(group.tolist())]
    ):
        if (codes[group] == codes[group[0]]).all() or wrong[group].any():
            # they stand for themselves again: another row may have given them its own before
            if asked is not None:
                changes.update(zip(group.tolist(), typed.stored.rows(group), strict=True))
            continue
        texts = typed.stored.rows(group)
        if several:
            whole = SEVERAL.join(
                dict.fromkeys(part for text in texts if text for part in text.split(SEVERAL))
            )
        else:
            whole = next(text for text in texts if text)
        changes.update(dict.fromkeys(group.tolist(), whole))
    return changes
