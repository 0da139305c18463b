"""Rosters of which a record is a membership: who is in two groups of a kind that allows one, and
what "exactly these" leaves out.

A membership has a person, a kind, a group, and days, both inclusive; an open end lasts.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition, GroupKind
    from nevefield.core.people.keys import Known
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["CHECK", "Other", "check_one_group", "find_left_out", "membership_of", "others_of"]

CHECK = "one-group"
OPEN = 99991231  # in place of a last day that is not said
# memberships of one person and kind that another is held against; nobody has as many, a hostile
# file may
MOST = 500
AT_ONCE = 8_000  # rows that are held against others at once, to bound the memory


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
    if (
        kind is None
        or not kind.one
        or any(name not in facts.typed for name in (kind.person, kind.each, kind.field))
    ):
        return []
    found = dict(others_of(facts, kind))
    if not found:
        return []
    rows = np.array(sorted(found), np.intp)

    def say(row: int) -> str:
        roster = found[int(row)]
        where = (
            f"line {facts.lines[roster.row]}"
            if roster.row >= 0
            else f"since {roster.first}"
            if roster.first
            else "already"
        )
        what = facts.text(row, kind.each)
        then = f" End that on {roster.ends}, or let both be." if roster.ends else ""
        return (
            f"{facts.text(row, kind.person)} is in {roster.group} ({where}), and {what} allows one"
            f" group at a time.{then}"
        )

    fields = (kind.person, kind.each, kind.field, *filter(None, (kind.first, kind.last)))
    title = "Are in another group of a kind that allows one"
    return [Hit(CHECK, kind.field, fields, "ask", rows, title, say, group=CHECK)]


def others_of(facts: Facts, kind: GroupKind) -> Iterator[tuple[int, Other]]:
    """List the rows that begin a membership beside another one, each with that.

    Of two rows of the file the later one is told of the earlier, where one of them is new: what the
    roster has already is let be. A record that a row of the file is counts as that row has it. Of
    one person and kind the first `MOST` are looked at.
    """
    here, there = _of_rows(facts, kind), _of_records(facts, kind)
    wanted = np.unique(here.who[here.is_new])
    rows = here.by_who(np.isin(here.who, wanted) & (here.who >= 0))
    records = there.by_who(np.isin(there.who, wanted) & (there.who >= 0))
    if not len(rows):
        return
    whose = here.who[rows]
    begin, end = (np.searchsorted(there.who[records], whose, side) for side in ("left", "right"))
    held = _first_beside(
        here, rows, there, records, begin, np.where(here.is_new[rows], end - begin, 0)
    )
    begin = np.searchsorted(whose, whose)
    came = _first_beside(here, rows, here, rows, begin, np.arange(len(rows)) - begin)
    for row, record, other in zip(rows.tolist(), held.tolist(), came.tolist(), strict=True):
        if record >= 0:
            first, started = (
                here.first.at(row) if here.first else "",
                ((there.first.at(record) or "")[:10] if there.first else ""),
            )
            before = (
                (date.fromisoformat(first[:10]) - timedelta(days=1)).isoformat()
                if kind.last and first
                else ""
            )
            yield (
                row,
                Other(
                    -1,
                    record,
                    there.group.at(record) or "",
                    started,
                    before if started <= before else "",
                ),
            )
        elif other >= 0:
            yield (
                row,
                Other(other, int(facts.known.record[other]), here.group.at(other) or "", "", ""),
            )


@dataclass(frozen=True)
class _Memberships:
    """Memberships of rows or of records, each array with one for each of them; numbers mean the
    same in both.
    """

    # person and kind; -1 where that is not to be told, or nothing is asked about the kind
    who: NDArray[np.int64]
    groups: NDArray[np.int64]  # -1 for none
    days: tuple[NDArray[np.int32], NDArray[np.int32]]  # first and last, as 20260901
    is_new: NDArray[np.bool_]
    group: Column
    first: Column | None

    def by_who(self, chosen: NDArray[np.bool_]) -> NDArray[np.intp]:
        """List places by person and kind, those of one as they stand."""
        places = np.flatnonzero(chosen)
        return places[np.argsort(self.who[places], kind="stable")]


def _of_rows(facts: Facts, kind: GroupKind) -> _Memberships:
    wrong = np.asarray(facts.aside).copy()
    for name in filter(None, (kind.person, kind.each, kind.field, kind.first, kind.last)):
        wrong |= facts.problem(name)
    snapshot, kinds = facts.snapshot, facts.stored(kind.each)
    person, each, group = (
        _numbers(facts.folded[kind.person], snapshot.folded(kind.person)),
        _numbers(kinds, snapshot.columns[kind.each]),
        _numbers(facts.stored(kind.field), snapshot.columns[kind.field]),
    )
    allowed = np.array([*(kind.allows_one(text) for text in kinds.texts()), False], bool)[
        kinds.codes
    ]
    who = np.where((person >= 0) & (each >= 0) & allowed & ~wrong, person << 32 | each, -1)
    first, last = (facts.stored(name) if name else None for name in (kind.first, kind.last))
    days = _days(first, len(facts), 0), _days(last, len(facts), OPEN)
    return _Memberships(
        who, group, days, (facts.known.record < 0) & (who >= 0), facts.stored(kind.field), first
    )


def _of_records(facts: Facts, kind: GroupKind) -> _Memberships:
    """Of the records that no row of the file is, with the days on which they end by this file."""
    snapshot, columns = facts.snapshot, facts.snapshot.columns
    person, each = (
        column.codes.astype(np.int64)
        for column in (snapshot.folded(kind.person), columns[kind.each])
    )
    who = np.where((person >= 0) & (each >= 0), person << 32 | each, -1)
    who[facts.known.record[facts.known.record >= 0]] = -1
    first, last = (columns[name] if name else None for name in (kind.first, kind.last))
    days = _days(first, len(snapshot), 0), _days(last, len(snapshot), OPEN)
    for place in np.flatnonzero(np.isin(snapshot.ids, list(facts.ends_beside))).tolist():
        days[1][place] = min(days[1][place], _day(facts.ends_beside[int(snapshot.ids[place])]))
    groups = columns[kind.field].codes.astype(np.int64)
    return _Memberships(
        who, groups, days, np.zeros(len(snapshot), bool), columns[kind.field], first
    )


def _numbers(ours: Column, theirs: Column) -> NDArray[np.int64]:
    """Number rows' values as the roster's are, those that it has not beyond; -1 for nothing."""
    placed = ours.place(theirs).astype(np.int64)
    return np.where((placed < 0) & (ours.codes >= 0), len(theirs.values) + ours.codes, placed)


def _day(text: str) -> int:
    return int("".join(filter(str.isdecimal, text[:10])) or 0)


def _days(column: Column | None, count: int, nothing: int) -> NDArray[np.int32]:
    if column is None:
        return np.full(count, nothing, np.int32)
    return np.array([*(_day(text) for text in column.texts()), nothing], np.int32)[column.codes]


def _first_beside(
    ours: _Memberships,
    rows: NDArray[np.intp],
    theirs: _Memberships,
    others: NDArray[np.intp],
    begin: NDArray[np.intp],
    counts: NDArray[np.intp],
) -> NDArray[np.intp]:
    """Find for each row the first one beside it, among so many of the others from a place on; -1
    for none.
    """
    found = np.full(len(rows), -1, np.intp)
    counts = np.minimum(counts, MOST)
    for start in range(0, len(rows), AT_ONCE):
        part = slice(start, start + AT_ONCE)
        of = np.repeat(np.arange(len(rows))[part], counts[part])
        within = np.arange(len(of)) - np.repeat(
            np.cumsum(counts[part]) - counts[part], counts[part]
        )
        row, other = rows[of], others[begin[of] + within]
        meets = (ours.days[0][row] <= theirs.days[1][other]) & (
            theirs.days[0][other] <= ours.days[1][row]
        )
        meets &= (ours.groups[row] != theirs.groups[other]) & (
            ours.is_new[row] | theirs.is_new[other]
        )
        hits = np.flatnonzero(meets)
        first, at = np.unique(of[hits], return_index=True)
        found[first] = other[hits[at]]
    return found


def find_left_out(
    of: str,
    folded: Mapping[str, Column],
    known: Known,
    snapshot: Snapshot,
    kind: GroupKind,
    today: date,
) -> NDArray[np.intp]:
    """List the memberships that a file leaves out which claims to have all of somebody, or of a
    group.

    Args:
        of: `people`: all groups of the people in the file, of the kinds that it has; `groups`: all
            people of its groups.
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
        pairs = set(
            zip(*(folded[name].rows(np.arange(len(known.record))) for name in by), strict=True)
        )
        theirs = zip(
            *(snapshot.folded(name).rows(np.arange(len(snapshot))) for name in by), strict=True
        )
        inside &= np.fromiter(
            (pair in pairs and None not in pair for pair in theirs), bool, len(snapshot)
        )
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
