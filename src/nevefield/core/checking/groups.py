"""Checks of groups of people as they will be after the file: exactly one lead, least and most, ages.

What a group comes to is looked at twice: as the file has it, rows that are stopped counted in, and as it will be when they
stay out. A group that is wrong only because of cells or rows with another problem follows from that problem's cause.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.conditions import age_of, fields_of, holds
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.definition import Check

__all__ = ["check_groups"]

GROUP_CHECKS = ("lead", "group-size", "group-ages")


def check_groups(facts: Facts, causes: Sequence[Cause], stopped: NDArray[np.bool_]) -> list[Hit]:
    """Run the definition's checks of groups.

    Args:
        facts: What the checks look at.
        causes: What was found in the rows: a group's trouble may only follow from it.
        stopped: Rows that do not go in.
    """
    declared = [one for one in facts.definition.checks if one.check in GROUP_CHECKS]
    hits: list[Hit] = []
    for check in declared:
        read = _read(check)
        if any(name in facts.typed for name in read):
            hits += _check(facts, check, read, causes, stopped)
    return hits


def _read(check: Check) -> tuple[str, ...]:
    """List the fields that a check of groups reads."""
    names = [*check.options["by"], *check.fields]
    for option in ("lead", "when"):
        names += fields_of(check.options[option]) if option in check.options else ()
    return tuple(dict.fromkeys(names))


@dataclass(frozen=True)
class _Merged:
    """A field's values of roster and file in one dictionary."""

    values: pa.Array
    theirs: NDArray[np.int32]  # of each record
    ours: NDArray[np.int32]  # of each row, -1 where nothing stands or it cannot be read


def _merge(facts: Facts, name: str) -> _Merged:
    theirs, ours = facts.snapshot.columns[name], facts.stored(name)
    places = pc.index_in(ours.values, value_set=theirs.values).to_numpy(zero_copy_only=False) if len(ours.values) else np.zeros(0)
    fresh = np.isnan(places.astype(float)) if len(places) else np.zeros(0, bool)
    mapped = np.where(fresh, 0, np.nan_to_num(places.astype(float))).astype(np.int32)
    mapped[fresh] = len(theirs.values) + np.arange(int(fresh.sum()), dtype=np.int32)
    values = pa.concat_arrays([theirs.values, ours.values.filter(pa.array(fresh))]) if len(places) else theirs.values
    codes = np.where(ours.codes >= 0, mapped[ours.codes] if len(mapped) else -1, -1).astype(np.int32)
    codes[facts.problem(name)] = -1
    return _Merged(values, theirs.codes, codes)


class _People:
    """Everybody as they will be: the records, with the rows of the file over them, then those who join.

    Args:
        facts: What the checks look at.
        merged: The fields that are read.
        stay_out: Rows that do not go in: their people stay as the roster has them, or do not join; None for the roster as
            it stands.
    """

    def __init__(self, facts: Facts, merged: dict[str, _Merged], stay_out: NDArray[np.bool_] | None) -> None:
        self._facts, self._merged = facts, merged
        records = len(facts.snapshot)
        going = np.zeros(len(facts), bool) if stay_out is None else facts.joined.is_lead & ~facts.aside & ~stay_out
        known = np.flatnonzero(going & (facts.known.record >= 0))
        new = np.flatnonzero(going & (facts.known.record < 0))
        self.row = np.full(records + len(new), -1, np.int64)  # of each person: the row of the file that brings them
        self.row[facts.known.record[known]] = known
        self.row[records:] = new

    def __len__(self) -> int:
        return len(self.row)

    def column(self, name: str) -> Column:
        """Give a field's values for everybody."""
        merged = self._merged[name]
        codes = np.full(len(self), -1, np.int32)
        codes[: len(merged.theirs)] = merged.theirs
        if name in self._facts.typed:
            brought = self.row >= 0
            codes[brought] = merged.ours[self.row[brought]]
        return Column(merged.values, codes)

    def groups(self, check: Check) -> NDArray[np.int64]:
        """Number everybody's group, the same number for the same values whoever is counted; -1 for none."""
        found = np.zeros(len(self), np.int64)
        none = np.zeros(len(self), bool)
        for name in check.options["by"]:
            codes = self.column(name).codes
            found = found * (len(self._merged[name].values) + 1) + np.maximum(codes, 0)
            none |= codes < 0
        if "when" in check.options:
            none |= ~holds(check.options["when"], self.column, len(self), self._facts.today)
        return np.where(none, -1, found)


def _measure(people: _People, groups: NDArray[np.int64], check: Check, facts: Facts) -> dict[int, int]:
    """Count each group's leads, its members, or the bands of age that its members are in."""
    inside = groups >= 0
    if check.check == "group-ages":
        bands = _bands(people.column(check.fields[0]), check, facts)
        inside &= bands >= 0
        pairs = np.unique(np.stack([groups[inside], bands[inside]]), axis=1)[0] if inside.any() else np.zeros(0, np.int64)
        numbers, counts = np.unique(pairs, return_counts=True)
        return dict(zip(numbers.tolist(), counts.tolist(), strict=True))
    counted = holds(check.options["lead"], people.column, len(people), facts.today) if check.check == "lead" else inside
    numbers, places = np.unique(groups[inside], return_inverse=True)
    counts = np.bincount(places, weights=counted[inside].astype(float), minlength=len(numbers))
    return dict(zip(numbers.tolist(), counts.astype(int).tolist(), strict=True))


def _bands(born: Column, check: Check, facts: Facts) -> NDArray[np.int64]:
    """Give everybody the number of their band of ages; -1 where no day of birth is known, one beyond the last for none."""
    said = check.options.get("on", "today")
    on = facts.today if said == "today" else date.fromisoformat(said)
    ages = [age_of(text, on) for text in born.texts()]
    bands = check.options["bands"]
    numbers = [next((place for place, (least, most) in enumerate(bands) if least <= age <= most), len(bands)) for age in ages]
    known = [number if age >= 0 else -1 for number, age in zip(numbers, ages, strict=True)]
    return np.array([*known, -1], np.int64)[born.codes]


def _check(facts: Facts, check: Check, read: tuple[str, ...], causes: Sequence[Cause], stopped: NDArray[np.bool_]) -> list[Hit]:
    merged = {name: _merge(facts, name) for name in read}
    today = _People(facts, merged, None)
    old_groups = today.groups(check)
    before = _measure(today, old_groups, check, facts)
    found: dict[int, tuple[str, NDArray[np.int64], str]] = {}
    for stay_out in (np.zeros(len(facts), bool), stopped):
        people = _People(facts, merged, stay_out)
        groups = people.groups(check)
        for group, now in _measure(people, groups, check, facts).items():
            if group not in found and (trouble := _trouble(check, now, before.get(group))):
                members = np.flatnonzero(groups == group)
                rows = people.row[members]
                name = " · ".join(people.column(one).at(int(members[0])) or "" for one in check.options["by"])
                found[group] = (trouble, rows[rows >= 0], name)
    hits = []
    for group, (trouble, rows, name) in found.items():
        # Whoever is in the group today and in the file may be the reason, even when the file has no readable value.
        there = np.flatnonzero((facts.known.record >= 0) & (_of_record(old_groups, facts) == group))
        near = np.union1d(rows, there).astype(np.intp)
        follows = _reasons(facts, causes, near, read, stopped)
        title = f"{name}: {trouble}"
        nothing = np.zeros(0, np.intp)
        hits.append(
            Hit(check.check, None, read, check.weight, nothing, title, f"{title}.", group=name, whole=True, follows=follows)
        )
    return hits


def _of_record(groups: NDArray[np.int64], facts: Facts) -> NDArray[np.int64]:
    """Give each row the group that its record is in today."""
    return groups[facts.known.record] if len(groups) else np.full(len(facts), -1, np.int64)


def _trouble(check: Check, now: int, was: int | None) -> str:
    """Say what is wrong with a group now that was not before; "" for nothing."""
    if check.check == "lead":
        if now == 0 and was:
            return "without its lead"
        return f"{now} leads, where there must be one" if now > 1 and now != was else ""
    if check.check == "group-ages":
        return f"people of {now} bands of age together" if now > 1 and now != was else ""
    least, most = check.options.get("least", 0), check.options.get("most", 10**9)
    if now < least and now != was:
        return f"{now} people, at least {least} are needed"
    return f"{now} people, at most {most} fit" if now > most and now != was else ""


def _reasons(
    facts: Facts, causes: Sequence[Cause], near: NDArray[np.intp], read: tuple[str, ...], stopped: NDArray[np.bool_]
) -> tuple[str, ...]:
    """Find the causes that a group's trouble follows from: wrong values in the fields it reads, or rows that stay out."""
    reasons = []
    for cause in causes:
        if cause.hit.weight == "note" or not len(cause.open_rows):
            continue
        there = np.intersect1d(cause.open_rows, near)
        if not len(there):
            continue
        name = cause.hit.field
        wrong = name in read and name in facts.typed and bool(facts.problem(str(name))[there].any())
        stays_out = bool((stopped[there] & (facts.known.record[there] < 0)).any())
        if wrong or stays_out:
            reasons.append(cause.id)
    return tuple(reasons)
