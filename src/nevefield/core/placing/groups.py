"""The groups of a kind as they are on a day: who is in them, who leads, what is wrong with them,
and who is in none.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.conditions import age_of, holds
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import Code
    from nevefield.core.definition import GroupKind
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column

__all__ = ["MIXED", "Group", "Groups", "bands_of", "find_groups", "kind_of_value"]

MIXED = "bands of age mixed"


@dataclass(frozen=True)
class Group:
    """One group on a day."""

    key: tuple[str, ...]  # the values of the fields that say it
    members: NDArray[np.intp]  # places in the roster
    leads: NDArray[np.intp]
    # bands of ages that its members are in, as places in the kind's list; one beyond for none of
    # them
    bands: tuple[int, ...]
    troubles: tuple[str, ...]


@dataclass(frozen=True)
class Groups:
    """All groups of a kind on a day."""

    groups: tuple[Group, ...]  # in the order of their keys
    without: NDArray[np.intp]  # who should be in one and is in none, as places in the roster


def kind_of_value(kind: GroupKind, value: str, title: str) -> GroupKind:
    """Make the kind that one value of `each` stands for."""
    return replace(kind, name=value, title=title)


def find_groups(
    kind: GroupKind,
    snapshot: Snapshot,
    day: date,
    value: str = "",
    codes: Sequence[Code] | None = None,
) -> Groups:
    """Find the groups of a kind.

    Args:
        kind: Which.
        snapshot: The roster as of the day.
        day: For days of membership, ages and conditions.
        value: Of the field `each`, where a record is a membership.
        codes: The groups' own names, with their days of use: one that has nobody is there all the
            same, where groups have no part; one that is not in use on the day is told.
    """
    inside = _inside(kind, snapshot, day, value)
    columns = [snapshot.columns[name] for name in kind.by]
    named = inside.copy()
    for column in columns:
        named &= column.codes >= 0
    lacks = columns[-1].codes < 0
    for column in columns[:-1]:
        lacks &= column.codes >= 0
    members = np.flatnonzero(named)
    leads = (
        holds(kind.lead, lambda name: snapshot.columns[name], len(snapshot), day)
        if kind.lead is not None
        else None
    )
    bands = bands_of(kind, snapshot, day)
    found: dict[tuple[str, ...], list[int]] = {}
    texts = [column.rows(members) for column in columns]
    for place, key in zip(members.tolist(), zip(*texts, strict=True), strict=True):
        # Who has several values is in several groups.
        for own in (key[-1] or "").split(SEVERAL):
            found.setdefault((*(text or "" for text in key[:-1]), own), []).append(place)
    used = {code.code for code in codes or () if code.is_used(day)}
    if not kind.part:
        for name in used:
            found.setdefault((name,), [])
    closed = {code.code for code in codes or ()} - used
    groups = [
        _group(kind, key, np.array(found[key], np.intp), leads, bands, closed)
        for key in sorted(found)
    ]
    without = np.zeros(0, np.intp) if kind.each else np.flatnonzero(inside & lacks)
    return Groups(tuple(groups), without)


def _inside(kind: GroupKind, snapshot: Snapshot, day: date, value: str) -> NDArray[np.bool_]:
    """Tell which records count: who should be in a group; or the memberships of a kind that hold
    on the day.
    """
    inside = np.ones(len(snapshot), bool)
    if kind.where is not None:
        inside &= holds(kind.where, lambda name: snapshot.columns[name], len(snapshot), day)
    if kind.each:
        inside &= holds(
            {"field": kind.each, "is": value},
            lambda name: snapshot.columns[name],
            len(snapshot),
            day,
        )
    if kind.first:
        inside &= ~_on(snapshot.columns[kind.first], lambda text: text > day.isoformat())
    if kind.last:
        inside &= ~_on(snapshot.columns[kind.last], lambda text: text < day.isoformat())
    return inside


def _on(column: Column, test: Callable[[str], bool]) -> NDArray[np.bool_]:
    found = np.array([*(test(text[:10]) for text in column.texts()), False], bool)
    return np.asarray(found[column.codes])


def bands_of(kind: GroupKind, snapshot: Snapshot, day: date) -> NDArray[np.intp]:
    """Give every record its band of ages; -1 where no day of birth is known or ages do not
    matter, one beyond for none.
    """
    if kind.ages is None:
        return np.full(len(snapshot), -1, np.intp)
    column = snapshot.columns[kind.ages.field]
    bands = kind.ages.bands
    ages = [age_of(text, kind.ages.on or day) for text in column.texts()]
    numbers = [
        next((place for place, (low, high) in enumerate(bands) if low <= age <= high), len(bands))
        for age in ages
    ]
    known = [number if age >= 0 else -1 for number, age in zip(numbers, ages, strict=True)]
    return np.array([*known, -1], np.intp)[column.codes]


def _group(
    kind: GroupKind,
    key: tuple[str, ...],
    members: NDArray[np.intp],
    leads: NDArray[np.bool_] | None,
    bands: NDArray[np.intp],
    closed: Collection[str],
) -> Group:
    size = len(members)
    leading = members[leads[members]] if leads is not None else np.zeros(0, np.intp)
    ages = tuple(sorted({int(band) for band in bands[members].tolist() if band >= 0}))
    troubles = ["not in use on this day"] if key[-1] in closed else []
    if kind.lead is not None and size and len(leading) != 1:
        troubles.append("no lead" if not len(leading) else f"{len(leading)} leads")
    if size < kind.least:
        troubles.append(f"{kind.least - size} too few")
    if kind.most and size > kind.most:
        troubles.append(f"{size - kind.most} over")
    if len(ages) > 1:
        troubles.append(MIXED)
    return Group(key, members, leading, ages, tuple(troubles))
