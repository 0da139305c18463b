"""Which pairs of a row and a record are worth comparing: several ways to find them, none of which one slip can defeat."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from numpy.typing import NDArray

    from nevefield.core.people.traits import Forms

    Sides = tuple[NDArray[np.int64], NDArray[np.int64]]

__all__ = ["find_candidates"]

LARGEST = 3_000  # pairs of one key; more come of a value that says nothing
ALONE = 200  # pairs of one mail address or phone: more share a switchboard, and say nothing


def find_candidates(
    forms: Mapping[str, Forms], rows: NDArray[np.intp], records: NDArray[np.intp]
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """List pairs that agree in at least one of several keys.

    The keys are: sound of the family name with the given name's initial and the year of birth, and with day and month without
    their order; day of birth without its order, with the given name's sound, and with its initial; both names' sounds without
    their order, with the year of birth; mail before the @; phone; either end of the number with the sound of a name. Where a
    day of birth is missing, both names' sounds, and family name, initial and town. A slip in one trait leaves the keys
    without it.

    Args:
        forms: The traits' values, by kind.
        rows: The rows to find candidates for.
        records: The records that they may be.

    Returns:
        Rows and records of the pairs, each pair once, by row and record.
    """
    size = max(int(records.max(initial=0)) + 1, 1)
    found = [np.zeros(0, np.int64)]
    for ours, theirs, most in _keys(forms):
        left, right = _join(ours[rows], theirs[records], most)
        found.append(rows[left].astype(np.int64) * size + records[right])
    pairs = np.sort(np.concatenate(found))
    pairs = pairs[np.concatenate([[True], pairs[1:] != pairs[:-1]])] if len(pairs) else pairs
    return pairs // size, pairs % size


def _keys(forms: Mapping[str, Forms]) -> Iterator[tuple[NDArray[np.int64], NDArray[np.int64], int]]:
    """Make each key for both sides, under 0 for nothing there, with the most pairs that one value may make."""
    for kind, form in (("mail", "local"), ("phone", "text")):
        if kind in forms:
            yield (*_of_rows(forms[kind], form), ALONE)
    for ours, theirs in _together(forms):
        yield ours, theirs, LARGEST


def _together(forms: Mapping[str, Forms]) -> Iterator[Sides]:
    """Make the keys of several traits."""
    family, given, birth = forms.get("family"), forms.get("given"), forms.get("birth")
    for form, end in ((family, "head"), (given, "tail")):
        if "number" in forms and form is not None:
            yield _two(_of_rows(forms["number"], end), _of_rows(form, "sound"))
    if birth is not None:
        year, day, turned = _days(birth)
        if family is not None:
            sound = _of_rows(family, "sound")
            yield _two(_two(sound, year), _of_rows(given, "initial")) if given is not None else _two(sound, year)
            yield _two(sound, turned)
        if given is not None:
            yield _two(_of_rows(given, "sound"), day)
            yield _two(_of_rows(given, "initial"), day)
    if family is not None and given is not None:
        both = _both_names(family, given)
        if birth is None:
            yield both
        else:
            yield _two(both, year)
            yield from _without_birth(both, birth)
        if "town" in forms:
            home = _two(_two(_of_rows(family, "text"), _of_rows(given, "initial")), _of_rows(forms["town"], "text"))
            yield from _without_birth(home, birth) if birth is not None else (home,)


def _without_birth(sides: Sides, birth: Forms) -> Iterator[Sides]:
    """Keep a key only where one of the two has no day of birth: there it must do without."""
    ours, theirs = sides
    yield np.where(birth.ours.codes < 0, ours, -1), theirs
    yield ours, np.where(birth.theirs.codes < 0, theirs, -2)


def _of_rows(form: Forms, name: str) -> Sides:
    ours, theirs = form.keys(name)
    return np.append(ours, -1)[form.ours.codes], np.append(theirs, -2)[form.theirs.codes]


def _days(birth: Forms) -> tuple[Sides, Sides, Sides]:
    """Make year, whole day without the order of day and month, and day and month without their order."""
    made: tuple[list[NDArray[np.int64]], ...] = ([], [], [])
    for side, nothing in ((birth.ours, -1), (birth.theirs, -2)):
        year, month, day = np.append(side.days, [[0, 0, 0]], axis=0).T
        turned = np.minimum(month, day) * 32 + np.maximum(month, day)
        for place, key in enumerate((year, year * 1024 + turned, turned)):
            made[place].append(np.where(year > 0, key, nothing)[side.codes])
    (year_ours, year_theirs), (day_ours, day_theirs), (turned_ours, turned_theirs) = made
    return (year_ours, year_theirs), (day_ours, day_theirs), (turned_ours, turned_theirs)


def _two(one: Sides, other: Sides) -> Sides:
    size = max(int(side.max(initial=0)) for side in other) + 1
    left, right = (
        np.where((first >= 0) & (second >= 0), first * size + second, -1) for first, second in zip(one, other, strict=True)
    )
    return left, right


def _both_names(family: Forms, given: Forms) -> Sides:
    """Take both names by their sounds, whichever stands first."""
    sides = []
    for one, other in ((family.ours, given.ours), (family.theirs, given.theirs)):
        first, second = np.append(one.sound, -1)[one.codes], np.append(other.sound, -1)[other.codes]
        key = np.minimum(first, second) * 200_000 + np.maximum(first, second)
        sides.append(np.where((first >= 0) & (second >= 0), key, -1))
    return sides[0], sides[1]


def _join(ours: NDArray[np.int64], theirs: NDArray[np.int64], most: int) -> Sides:
    """Pair every place of one array with every place of the other that holds the same, but for keys with too many pairs."""
    left, right = np.flatnonzero(ours >= 0), np.flatnonzero(theirs >= 0)
    right = right[np.argsort(theirs[right], kind="stable")]
    ordered = theirs[right]
    first = np.searchsorted(ordered, ours[left], "left")
    counts = np.searchsorted(ordered, ours[left], "right") - first
    mine = np.sort(ours[left])
    of_key = np.searchsorted(mine, ours[left], "right") - np.searchsorted(mine, ours[left], "left")
    kept = (counts > 0) & (counts * of_key <= most)
    left, first, counts = left[kept], first[kept], counts[kept]
    if not len(counts):
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    starts = np.repeat(first - np.concatenate([[0], np.cumsum(counts)[:-1]]), counts)
    return np.repeat(left, counts), right[starts + np.arange(len(starts))]
