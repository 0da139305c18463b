"""Checks of groups of people as they will be after the file: exactly one lead, least and most,
ages.

What a group comes to is looked at twice: as the file has it, rows that are stopped counted in, and
as it will be when they stay out. A group that is wrong only because of cells or rows with another
problem follows from that problem's cause.
"""

from __future__ import annotations

import threading
from dataclasses import dataclass
from datetime import date
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises
from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.conditions import age_of, holds
from nevefield.core.edits.trail import NO_ROWS, Followed, union
from nevefield.core.people.keys import first_rows
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.definition import Check
    from nevefield.core.people.keys import Known

    Counts = NDArray[np.int64]

__all__ = ["AGES", "LEAD", "SIZE", "OfGroups"]

UNLIMITED = 10**9  # more people than any group has


@dataclass(frozen=True)
class OfGroups:
    """A check of groups: what its members are counted by, and when the count is wrong."""

    kinds: Callable[[Check], int]  # how many kinds of member are counted, the first of which is all
    # each member's; 0 is none in particular
    kind_of: Callable[[Check, Callable[[str], Column], int, date], Counts]
    # counts by group and kind -> one number for each group; -1 for a group of nobody
    measure: Callable[[Counts], Counts]
    is_wrong: Callable[[Check, Counts, Counts], NDArray[np.bool_]]  # of the numbers now and before
    say: Callable[[Check, int], str]

    def find(
        self, facts: Facts, check: Check, causes: Sequence[Cause], stopped: NDArray[np.bool_]
    ) -> list[Hit]:
        """Find the groups in which something is wrong that was not wrong in the same way before.

        Args:
            facts: What the check looks at.
            check: Its declaration.
            causes: What was found in the rows: a group's trouble may only follow from it.
            stopped: Rows that do not go in.
        """
        if not any(name in facts.typed for name in check.reads):
            return []
        groups = _Groups(facts, check, self)
        before = self.measure(groups.before)
        trouble: dict[int, str] = {}
        for table in (groups.now, groups.without(stopped)):
            now = self.measure(table)
            wrong = (now != before) & (now >= 0) & self.is_wrong(check, now, before)
            for group in np.flatnonzero(wrong).tolist():
                trouble.setdefault(group, self.say(check, int(now[group])))
        return [_hit(groups, group, words, causes, stopped) for group, words in trouble.items()]


class _Names:
    """The groups of a check by number; they are numbered as they are met, and keep their number."""

    def __init__(self) -> None:
        self._numbers: dict[tuple[str, ...], int] = {}
        self._named: list[str] = []
        self._lock = threading.Lock()  # evaluations against one roster share them

    def __len__(self) -> int:
        return len(self._named)

    def __getitem__(self, number: int) -> str:
        return self._named[number]

    def number(self, values: tuple[str, ...]) -> int:
        """Give the number of a group."""
        with self._lock:
            if values not in self._numbers:
                self._numbers[values] = len(self._named)
                self._named.append(" · ".join(values))
            return self._numbers[values]


@dataclass(frozen=True)
class _Members:
    """Of each row, or each record, the group that it is in, and what it counts for there."""

    groups: NDArray[np.int64]  # -1 for none
    # 0 for a member; 1 for a lead; of ages, 1 and on for the band; each member counts as 0 as well
    kinds: NDArray[np.int64]

    def take(self, chosen: NDArray[np.intp]) -> _Members:
        return _Members(self.groups[chosen], self.kinds[chosen])


@dataclass(frozen=True)
class _Count:
    """How many of each kind each group has, and what that was counted over."""

    table: NDArray[np.int64]  # by group and kind
    rows: _Members
    first: Followed


def _find_members(
    facts: Facts,
    check: Check,
    run: OfGroups,
    column: Callable[[str], Column],
    rows: int,
    names: _Names,
) -> _Members:
    """Find everybody's group and kind, of rows or of records, by the values of a field."""
    by = [column(name) for name in check.options["by"]]
    none = np.logical_or.reduce([column.codes < 0 for column in by])
    if "when" in check.options:
        none |= ~holds(check.options["when"], column, rows, facts.today)
    combined = np.zeros(rows, np.int64)
    for one in by:
        combined = combined * (len(one.values) + 1) + np.maximum(one.codes, 0)
    inside = np.flatnonzero(~none)
    _, first, place = np.unique(combined[inside], return_index=True, return_inverse=True)
    told = zip(*(column.rows(inside[first]) for column in by), strict=True)
    groups = np.full(rows, -1, np.int64)
    groups[inside] = (
        np.array([names.number(tuple(map(str, values))) for values in told], np.int64)[place]
        if len(first)
        else -1
    )
    return _Members(groups, run.kind_of(check, column, rows, facts.today))


def _leads(check: Check, column: Callable[[str], Column], rows: int, today: date) -> Counts:
    return holds(check.options["lead"], column, rows, today).astype(np.int64)


def _bands(check: Check, column: Callable[[str], Column], rows: int, today: date) -> Counts:
    """Give everybody the number of their band of ages, from 1; 0 where no day of birth is known,
    one beyond the last for none.
    """
    born = column(check.fields[0])
    day = check.options.get("on", "today")
    on = today if day == "today" else date.fromisoformat(day)
    ages = [age_of(text, on) for text in born.texts()]
    bands = check.options["bands"]
    numbers = [
        next(
            (place for place, (least, most) in enumerate(bands) if least <= age <= most), len(bands)
        )
        for age in ages
    ]
    known = [number + 1 if age >= 0 else 0 for number, age in zip(numbers, ages, strict=True)]
    return np.array([*known, 0], np.int64)[born.codes]


class _Groups:
    """A check's groups as they are in the roster, and as they will be.

    A record counts as it is in the roster unless a row goes in for it; of several rows of one
    person the first counts.

    Args:
        facts: What the checks look at.
        check: Its declaration.
        run: What it counts.
    """

    def __init__(self, facts: Facts, check: Check, run: OfGroups) -> None:
        self.facts, self.check, self._run = facts, check, run
        snapshot = facts.snapshot
        name = f"groups {check.check} {check.fields} {check.options} {facts.today}"
        self.names: _Names = snapshot.keep(f"{name} names", _Names)
        self.theirs: _Members = snapshot.keep(
            f"{name} members",
            lambda: _find_members(
                facts, check, run, snapshot.columns.__getitem__, len(snapshot), self.names
            ),
        )
        self.first = first_rows(facts.known, facts.aside, facts.aside_rows, snapshot, facts.memo)
        self.ours = self._find_ours(name)
        self._kinds = run.kinds(check)
        self._size = len(self.names)  # others may meet more groups meanwhile
        counted: NDArray[np.int64] = snapshot.keep(
            f"{name} counts", lambda: self._tabulate(self.theirs)
        )
        self.before = self._fit(counted)
        self.now = self._count(name)

    def _find_ours(self, name: str) -> _Members:
        facts, check = self.facts, self.check

        def find(some: Facts) -> _Members:
            return _find_members(
                some, check, self._run, partial(_readable, some), len(some), self.names
            )

        def again(before: _Members, rows: NDArray[np.intp], _: Premises) -> _Members:
            few = find(facts.few(rows, self.check.reads))
            if (before.groups[rows] == few.groups).all() and (
                before.kinds[rows] == few.kinds
            ).all():
                return before
            groups, kinds = before.groups.copy(), before.kinds.copy()
            groups[rows], kinds[rows] = few.groups, few.kinds
            return _Members(groups, kinds)

        of = (check, facts.today.isoformat(), facts.snapshot, *facts.looked_at(self.check.reads))
        ours: _Members = facts.memo.mend(("group rows", name), of, lambda: find(facts), again)
        return ours

    def _count(self, name: str) -> NDArray[np.int64]:
        """Counts as it will be when all rows go in."""
        facts = self.facts

        def make() -> _Count:
            table = self.before + self._of(
                np.arange(len(facts)), self.ours, facts.known, self.first.values
            )
            return _Count(table, self.ours, self.first)

        def again(before: _Count, rows: NDArray[np.intp], was: Premises) -> _Count:
            records = self.first.since(before.first)
            if records is None:
                return make()
            moved = np.concatenate([before.first.values[records], self.first.values[records]])
            rows = union((rows, np.unique(moved[moved >= 0]).astype(np.intp)))
            gone = self._of(rows, before.rows, was[0], before.first.values)
            come = self._of(rows, self.ours, facts.known, self.first.values)
            return _Count(self._fit(before.table) - gone + come, self.ours, self.first)

        of = (
            facts.known,
            facts.snapshot,
            facts.aside_rows,
            facts.joined.lead,
            *(facts.typed.get(read) for read in self.check.reads),
        )
        count: _Count = facts.memo.mend(("group count", name), of, make, again)
        return self._fit(count.table)

    def without(self, out: NDArray[np.bool_]) -> NDArray[np.int64]:
        """Counts as it will be when some rows stay out."""
        rows = np.flatnonzero(out)
        return self.now - self._of(rows, self.ours, self.facts.known, self.first.values)

    def _of(
        self, rows: NDArray[np.intp], ours: _Members, known: Known, first: NDArray[np.int64]
    ) -> NDArray[np.int64]:
        """Say by how much rows that go in alter the counts."""
        facts = self.facts
        record = known.record[rows]
        going = ~facts.aside[rows] & (facts.joined.lead[rows] == rows)
        is_first = first[record] == rows if len(first) else np.zeros(len(rows), bool)
        old = going & (record >= 0) & is_first
        come = ours.take(rows[old | (going & (record < 0))])
        return self._tabulate(come) - self._tabulate(self.theirs.take(record[old]))

    def _tabulate(self, members: _Members) -> NDArray[np.int64]:
        """Counts members by group and kind."""
        inside = members.groups >= 0
        groups, kinds = members.groups[inside], members.kinds[inside]
        table = np.bincount(
            groups * self._kinds + kinds, minlength=self._size * self._kinds
        ).reshape(-1, self._kinds)
        if self._kinds > 1:
            table[:, 0] = np.bincount(groups, minlength=self._size)
        return table

    def _fit(self, table: NDArray[np.int64]) -> NDArray[np.int64]:
        """Make room for groups that were met since a table was made; those met by others have
        nobody here yet.
        """
        if len(table) == self._size:
            return table
        return np.pad(table, ((0, max(self._size - len(table), 0)), (0, 0)))[: self._size]

    def rows_in(self, group: int) -> NDArray[np.intp]:
        """List the rows that are in a group, or whose record is in it today."""
        record = self.facts.known.record
        theirs = np.append(self.theirs.groups, -1)[record]
        return np.flatnonzero((self.ours.groups == group) | (theirs == group))


def _readable(facts: Facts, name: str) -> Column:
    """Give a field's values by row, nothing where one cannot be read."""
    column, wrong = facts.stored(name), facts.problem(name)
    return (
        Column(column.values, np.where(wrong, np.int32(-1), column.codes))
        if wrong.any()
        else column
    )


def _hit(
    groups: _Groups, group: int, trouble: str, causes: Sequence[Cause], stopped: NDArray[np.bool_]
) -> Hit:
    check, name = groups.check, groups.names[group]
    # Whoever is in the group today and in the file may be the reason, even when the file has no
    # readable value.
    near = groups.rows_in(group)
    title = f"{name}: {trouble}"
    return Hit(
        check.check,
        None,
        check.reads,
        check.weight,
        NO_ROWS,
        title,
        f"{title}.",
        group=name,
        whole=True,
        near=near,
        follows=_reasons(groups.facts, causes, near, check.reads, stopped),
    )


def _reasons(
    facts: Facts,
    causes: Sequence[Cause],
    near: NDArray[np.intp],
    read: tuple[str, ...],
    stopped: NDArray[np.bool_],
) -> tuple[str, ...]:
    """Find the causes that a group's trouble follows from: wrong values in the fields it reads,
    or rows that stay out.
    """
    reasons = []
    is_near = np.zeros(len(facts), bool)
    is_near[near] = True
    for cause in causes:
        if cause.hit.weight == "note" or not len(cause.open_rows):
            continue
        there = cause.open_rows[is_near[cause.open_rows]]
        if not len(there):
            continue
        name = cause.hit.field
        wrong = name in read and name in facts.typed and bool(facts.problem(str(name))[there].any())
        stays_out = bool((stopped[there] & (facts.known.record[there] < 0)).any())
        if wrong or stays_out:
            reasons.append(cause.id)
    return tuple(reasons)


def _is_out_of_size(check: Check, now: Counts, _: Counts) -> NDArray[np.bool_]:
    return np.asarray(
        (now < check.options.get("least", 0)) | (now > check.options.get("most", UNLIMITED))
    )


def _say_size(check: Check, now: int) -> str:
    least, most = check.options.get("least", 0), check.options.get("most", UNLIMITED)
    return (
        f"{now} people, at least {least} are needed"
        if now < least
        else f"{now} people, at most {most} fit"
    )


def _count_all(table: Counts) -> Counts:
    return np.where(table[:, 0] > 0, table[:, 0], -1)


def _count_leads(table: Counts) -> Counts:
    return np.where(table[:, 0] > 0, table[:, 1], -1)


def _count_bands(table: Counts) -> Counts:
    """Counts the bands of age that a group's members are in."""
    bands = (table[:, 1:] > 0).sum(axis=1)
    return np.where(bands > 0, bands, -1)


SIZE = OfGroups(
    kinds=lambda check: 1,
    kind_of=lambda check, column, rows, today: np.zeros(rows, np.int64),
    measure=_count_all,
    is_wrong=_is_out_of_size,
    say=_say_size,
)
LEAD = OfGroups(
    kinds=lambda check: 2,
    kind_of=_leads,
    measure=_count_leads,
    is_wrong=lambda check, now, before: np.asarray(((now == 0) & (before > 0)) | (now > 1)),
    say=lambda check, now: f"{now} leads, where there must be one" if now else "without its lead",
)
AGES = OfGroups(
    kinds=lambda check: len(check.options["bands"]) + 2,
    kind_of=_bands,
    measure=_count_bands,
    is_wrong=lambda check, now, before: np.asarray(now > 1),
    say=lambda check, now: f"people of {now} bands of age together",
)
