"""Rosters of which a record is a membership: who is in two groups of a kind that allows one, and what "exactly these" leaves out.

A membership has a person, a kind, a group, and days, both inclusive; an open end lasts.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.people.keys import Known
    from nevefield.core.placing.kinds import GroupKind
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["CHECK", "Other", "check_one_group", "find_left_out", "membership_of", "others_of"]

CHECK = "one-group"
OPEN = "9999-12-31"  # in place of a last day that is not said


@dataclass(frozen=True)
class Other:
    """Another membership of the same person and kind, on days that overlap."""

    row: int  # of the file; -1 for one that only the roster has
    record: int  # index into the snapshot; -1 for one that only the file has
    group: str
    first: str
    ends: str  # the day before the new one, where the other can end then; "" where it cannot


def membership_of(definition: Definition) -> GroupKind | None:
    """Return how a record of a roster says a membership; None where a record is no membership."""
    return next((kind for kind in definition.groups if kind.each), None)


def check_one_group(facts: Facts) -> list[Hit]:
    """Ask about people who join a group while they are in another of a kind that allows one."""
    kind = membership_of(facts.definition)
    if kind is None or not kind.one or any(name not in facts.typed for name in (kind.person, kind.each, kind.field)):
        return []
    found = dict(others_of(facts, kind))
    if not found:
        return []
    rows = np.array(sorted(found), np.intp)

    def say(row: int) -> str:
        other = found[int(row)]
        where = f"line {facts.lines[other.row]}" if other.row >= 0 else f"since {other.first}" if other.first else "already"
        what = facts.value(row, kind.each)
        then = f" End that on {other.ends}, or let both be." if other.ends else ""
        return f"{facts.value(row, kind.person)} is in {other.group} ({where}), and {what} allows one group at a time.{then}"

    fields = (kind.person, kind.each, kind.field, *filter(None, (kind.first, kind.last)))
    title = "Are in another group of a kind that allows one"
    return [Hit(CHECK, kind.field, fields, "ask", rows, title, say, group=CHECK)]


def others_of(facts: Facts, kind: GroupKind) -> Iterator[tuple[int, Other]]:
    """List the rows that begin a membership beside another one, each with that.

    Of two rows of the file the later one is told of the earlier, where one of them is new: what the roster has already is let be.
    A record that a row of the file is counts as that row has it.
    """
    here = _Memberships.of_rows(facts, kind)
    there = _Memberships.of_records(facts.snapshot, kind)
    is_new = (facts.known.record < 0) & ~facts.aside
    matched = set(facts.known.record[facts.known.record >= 0].tolist())
    wanted = {here.who(row) for row in np.flatnonzero(is_new).tolist()} - {None}
    held: dict[tuple[str, str] | None, list[int]] = defaultdict(list)
    for record in there.of_persons({who[0] for who in wanted if who}):
        if record not in matched and there.who(record) in wanted:
            held[there.who(record)].append(record)
    came: dict[tuple[str, str] | None, list[int]] = defaultdict(list)
    for row in np.flatnonzero(~facts.aside).tolist() if wanted else ():
        who = here.who(row)
        if who not in wanted or not kind.allows_one(who[1] if who else ""):
            continue
        first, last = here.days(row)
        own = here.group.at(row)
        others = [
            other
            for other in came[who]
            if (is_new[row] or is_new[other]) and here.group.at(other) != own and _meet((first, last), here.days(other))
        ]
        came[who].append(row)
        records = [one for one in held[who] if there.group.at(one) != own and _meet((first, last), _held(facts, there, one))]
        if is_new[row] and records:
            started = there.days(records[0])[0]
            before = (date.fromisoformat(first) - timedelta(days=1)).isoformat() if kind.first and kind.last and first else ""
            ends = before if before and started <= before else ""
            yield row, Other(-1, records[0], there.group.at(records[0]) or "", started, ends)
        elif others:
            yield row, Other(others[0], int(facts.known.record[others[0]]), here.group.at(others[0]) or "", "", "")


def _held(facts: Facts, there: _Memberships, record: int) -> tuple[str, str]:
    """Return the days of a record, those with which it ends by this file."""
    first, last = there.days(record)
    step = facts.ends_beside.get(int(facts.snapshot.ids[record]))
    return first, min(last, step) if step else last


def _meet(one: tuple[str, str], other: tuple[str, str]) -> bool:
    return one[0] <= other[1] and other[0] <= one[1]


@dataclass(frozen=True)
class _Memberships:
    """The columns that say memberships, of rows or of records."""

    person: Column
    kind: Column
    group: Column
    first: Column | None
    last: Column | None
    wrong: NDArray[np.bool_]  # of which something is not readable

    @classmethod
    def of_rows(cls, facts: Facts, kind: GroupKind) -> _Memberships:
        days = [facts.stored(name) if name else None for name in (kind.first, kind.last)]
        wrong = np.zeros(len(facts), bool)
        for name in filter(None, (kind.person, kind.each, kind.field, kind.first, kind.last)):
            wrong |= facts.problem(name)
        return cls(facts.folded[kind.person], facts.stored(kind.each), facts.stored(kind.field), days[0], days[1], wrong)

    @classmethod
    def of_records(cls, snapshot: Snapshot, kind: GroupKind) -> _Memberships:
        days = [snapshot.columns[name] if name else None for name in (kind.first, kind.last)]
        columns = snapshot.columns
        nothing = np.zeros(len(snapshot), bool)
        return cls(snapshot.folded(kind.person), columns[kind.each], columns[kind.field], days[0], days[1], nothing)

    def who(self, place: int) -> tuple[str, str] | None:
        person, kind = self.person.at(place), self.kind.at(place)
        return None if person is None or kind is None or self.wrong[place] else (person, kind)

    def days(self, place: int) -> tuple[str, str]:
        first = self.first.at(place) if self.first is not None else None
        last = self.last.at(place) if self.last is not None else None
        return (first or "")[:10], (last or OPEN)[:10]

    def of_persons(self, persons: set[str]) -> list[int]:
        """List the places of some people."""
        codes = [code for code, text in enumerate(self.person.texts()) if text in persons]
        return np.flatnonzero(np.isin(self.person.codes, codes)).tolist()


def find_left_out(
    of: str, folded: Mapping[str, Column], known: Known, snapshot: Snapshot, kind: GroupKind, today: date
) -> NDArray[np.intp]:
    """List the memberships that a file leaves out which claims to have all of somebody, or of a group.

    Args:
        of: `people`: all groups of the people in the file, of the kinds that it has; `groups`: all people of its groups.
        folded: The rows' values by field.
        known: Which record each row is.
        snapshot: The roster.
        kind: How a record says a membership.
        today: Memberships that were over before are not left out.

    Returns:
        Index into the snapshot, in its order.
    """
    by = (kind.person, kind.each) if of == "people" else (kind.each, kind.field)
    if any(name not in folded for name in by):
        return np.zeros(0, np.intp)
    inside = np.ones(len(snapshot), bool)
    if of == "people":  # each kind that the file has, of each person that it has
        for name in by:
            inside &= _among(folded[name], snapshot.folded(name))
    else:
        pairs = set(zip(*(folded[name].rows(np.arange(len(known.record))) for name in by), strict=True))
        theirs = zip(*(snapshot.folded(name).rows(np.arange(len(snapshot))) for name in by), strict=True)
        inside &= np.fromiter((pair in pairs and None not in pair for pair in theirs), bool, len(snapshot))
    if kind.last:
        last = snapshot.columns[kind.last]
        over = np.array([*(text[:10] < today.isoformat() for text in last.texts()), False], bool)
        inside &= ~over[last.codes]
    inside[known.record[known.record >= 0]] = False
    return np.flatnonzero(inside)


def _among(ours: Column, theirs: Column) -> NDArray[np.bool_]:
    """Tell which records have a value that the file has too."""
    used = {text for text, count in zip(ours.texts(), ours.counts(), strict=True) if count}
    hits = np.array([*(text in used for text in theirs.texts()), False], bool)
    return np.asarray(hits[theirs.codes])
