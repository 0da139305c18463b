"""Which pairs of a row and a record are worth comparing: several ways to find them, none of
which one slip can defeat.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.edits import limits

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from numpy.typing import NDArray

    from nevefield.core.people.traits import Forms

    Sides = tuple[NDArray[np.int64], NDArray[np.int64]]

__all__ = ["Keys", "Listed", "find_candidates"]

LARGEST = 3_000  # pairs of one key; more come of a value that says nothing
KEPT_RECORDS = 300_000  # of a larger roster the keys are made anew each time: they take much room
ALONE = 200  # pairs of one mail address or phone: more share a switchboard, and say nothing


def find_candidates(
    forms: Mapping[str, Forms],
    rows: NDArray[np.intp],
    *,
    kept: dict[frozenset[str], Listed] | None = None,
    alone: bool = False,
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """List pairs that agree in at least one of several keys.

    The keys are: sound of the family name with the given name's initial and the year of birth, and
    with day and month without their order; day of birth without its order, with the given name's
    sound, and with its initial; both names' sounds without their order, with the year of birth;
    mail before the @; phone; either end of the number with the sound of a name. Where a day of
    birth is missing, both names' sounds, and family name, initial and town. A slip in one trait
    leaves the keys without it.

    Args:
        forms: The traits' values, by kind.
        rows: The rows to find candidates for.
        kept: Where the records' keys are kept from one time to the next, by the kinds that they are
            made of.
        alone: Whether each row is looked for as if it were the only one: then no row hangs on
            another.

    Returns:
        Rows and records of the pairs, each pair once, by row and record.
    """
    kinds = frozenset(forms)
    theirs = kept.get(kinds) if kept is not None else None
    if theirs is None:
        theirs = Listed.of(_Maker(forms, None).keys())
        if kept is not None and theirs.records <= KEPT_RECORDS:
            kept[kinds] = theirs
    ours = _Maker(forms, theirs.sizes).keys()
    size = theirs.records + 1
    found = [np.zeros(0, np.int64)]
    for mine, key, most in zip(ours.found, theirs.keys, theirs.most, strict=True):
        left, right = _join(mine[rows], *key, most, alone=alone)
        if len(left):
            found.append(rows[left].astype(np.int64) * size + right)
    pairs = np.sort(np.concatenate(found))
    pairs = pairs[np.concatenate([[True], pairs[1:] != pairs[:-1]])] if len(pairs) else pairs
    return pairs // size, pairs % size


@dataclass
class Keys:
    """One side's keys, under 0 for nothing there."""

    found: list[NDArray[np.int64]] = field(default_factory=list)  # of each row or record
    most: list[int] = field(default_factory=list)  # pairs that one value of the key may make
    # of the second parts of keys of two parts, as the records have them
    sizes: list[int] = field(default_factory=list)


@dataclass(frozen=True)
class Listed:
    """The records' keys, each in the order of its values."""

    # of each key its values, rising, and the record of each
    keys: list[tuple[NDArray[np.int64], NDArray[np.int32]]]
    most: list[int]
    sizes: list[int]
    records: int

    @classmethod
    def of(cls, keys: Keys) -> Listed:
        """Put keys in order."""
        return cls(
            [_in_order(key) for key in keys.found],
            keys.most,
            keys.sizes,
            max(map(len, keys.found), default=0),
        )


def _in_order(key: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    there = np.flatnonzero(key >= 0)
    there = there[np.argsort(key[there], kind="stable")]
    return key[there], there.astype(np.int32)


class _Maker:
    """Make one side's keys.

    Args:
        forms: The traits' values, by kind.
        sizes: As the records' keys have them, for the rows' side; None for the records' own.
    """

    def __init__(self, forms: Mapping[str, Forms], sizes: list[int] | None) -> None:
        self._forms, self._given = forms, iter(sizes) if sizes is not None else None
        self._made = Keys()

    def keys(self) -> Keys:
        """Make each key, in one order for both sides."""
        for kind, form in (("mail", "local"), ("phone", "text")):
            if kind in self._forms:
                self._add(self._rows(kind, form), ALONE)
        for key in self._together():
            self._add(key, LARGEST)
        return self._made

    def _add(self, key: NDArray[np.int64], most: int) -> None:
        self._made.found.append(key)
        self._made.most.append(most)

    def _together(self) -> Iterator[NDArray[np.int64]]:
        """Make the keys of several traits."""
        has = self._forms.keys()
        for kind, end in (("family", "head"), ("given", "tail")):
            if "number" in has and kind in has:
                yield self._two(self._rows("number", end), self._rows(kind, "sound"))
        if "birth" in has:
            year, day, turned = self._days()
            if "family" in has:
                sound = self._rows("family", "sound")
                first = self._two(sound, year)
                yield self._two(first, self._rows("given", "initial")) if "given" in has else first
                yield self._two(sound, turned)
            if "given" in has:
                yield self._two(self._rows("given", "sound"), day)
                yield self._two(self._rows("given", "initial"), day)
        if "family" in has and "given" in has:
            both = self._both_names()
            if "birth" in has:
                yield self._two(both, year)
                yield from self._without_birth(both)
            else:
                yield both
            if "town" in has:
                home = self._two(
                    self._two(self._rows("family", "text"), self._rows("given", "initial")),
                    self._rows("town", "text"),
                )
                yield from self._without_birth(home) if "birth" in has else (home,)

    def _codes(self, kind: str) -> NDArray[np.int32]:
        return (
            self._forms[kind].theirs.codes if self._given is None else self._forms[kind].ours.codes
        )

    def _rows(self, kind: str, form: str) -> NDArray[np.int64]:
        of_texts = (
            self._forms[kind].their_keys(form)
            if self._given is None
            else self._forms[kind].our_keys(form)
        )
        return np.append(of_texts, -1)[self._codes(kind)]

    def _without_birth(self, key: NDArray[np.int64]) -> Iterator[NDArray[np.int64]]:
        """Keep a key only where one of the two has no day of birth: there it must do without."""
        lacking = np.where(self._codes("birth") < 0, key, -1)
        yield from (key, lacking) if self._given is None else (lacking, key)

    def _days(self) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]]:
        """Make year, whole day without the order of day and month, and day and month without
        their order.
        """
        side = self._forms["birth"].theirs if self._given is None else self._forms["birth"].ours
        year, month, day = np.append(side.days, [[0, 0, 0]], axis=0).T
        turned = np.minimum(month, day) * 32 + np.maximum(month, day)
        first, second, third = (
            np.where(year > 0, key, -1)[side.codes] for key in (year, year * 1024 + turned, turned)
        )
        return first, second, third

    def _two(self, one: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.int64]:
        """Make one key of two; what is beyond the records' second parts has nobody to agree
        with.
        """
        size = next(self._given) if self._given is not None else int(other.max(initial=0)) + 1
        self._made.sizes.append(size)
        return np.where((one >= 0) & (other >= 0) & (other < size), one * size + other, -1)

    def _both_names(self) -> NDArray[np.int64]:
        """Take both names by their sounds, whichever stands first."""
        first, second = self._rows("family", "sound"), self._rows("given", "sound")
        key = np.minimum(first, second) * 200_000 + np.maximum(first, second)
        return np.where((first >= 0) & (second >= 0), key, -1)


def _join(
    ours: NDArray[np.int64],
    ordered: NDArray[np.int64],
    records: NDArray[np.int32],
    most: int,
    *,
    alone: bool,
) -> Sides:
    """Pair every place of an array with every record that has the same key, but for keys with
    too many pairs.
    """
    left = np.flatnonzero(ours >= 0)
    if len(left) <= limits.SINGLE and alone:
        keys = ours[left].tolist()
        bounds = [ordered.searchsorted((key, key + 1)).tolist() for key in keys]
        found = [
            (place, start, stop)
            for place, (start, stop) in zip(left.tolist(), bounds, strict=True)
            if stop - start <= most
        ]
        right = [records[start:stop] for _, start, stop in found]
        left = np.repeat(
            np.array([place for place, *_ in found], np.int64), [len(one) for one in right]
        )
        return left, np.concatenate([*right, np.zeros(0, np.int32)]).astype(np.int64)
    first = np.searchsorted(ordered, ours[left], "left")
    counts = np.searchsorted(ordered, ours[left], "right") - first
    kept = (counts > 0) & (counts * (1 if alone else _shared(ours[left])) <= most)
    left, first, counts = left[kept], first[kept], counts[kept]
    if not len(counts):
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    starts = np.repeat(first - np.concatenate([[0], np.cumsum(counts)[:-1]]), counts)
    return np.repeat(left, counts), records[starts + np.arange(len(starts))].astype(np.int64)


def _shared(keys: NDArray[np.int64]) -> NDArray[np.intp]:
    """Count for each place the places that hold the same."""
    ordered = np.sort(keys)
    return np.searchsorted(ordered, keys, "right") - np.searchsorted(ordered, keys, "left")
