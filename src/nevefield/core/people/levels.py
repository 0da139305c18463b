"""How well two people agree in each trait: a level for each pair, by integers wherever they can
say it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from rapidfuzz.distance import OSA, JaroWinkler
from rapidfuzz.process import cpdist

from nevefield.core.borders import Foreign
from nevefield.core.edits import limits
from nevefield.core.people.names import STANDS_FOR

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.people.traits import Forms

__all__ = ["LEVELS", "Level", "level_pairs"]

NEAR_NAME = 0.88  # Jaro-Winkler similarity (Winkler 1990), 0 to 1
NEAR_TEXT = 0.90
NEAR_MAIL = 0.94
MANY_PAIRS = 10_000  # pairs of texts that are compared on all cores
NOTHING = -1  # one of the two has nothing there


@dataclass(frozen=True)
class Level:
    """One way in which two values agree: how often it is so of one person, and of two people met by
    chance.

    The shares are where estimating begins; see `weights.py`.
    """

    word: str
    same: float  # share of pairs that are one person, 0 to 1
    chance: float  # share of pairs of two people
    by_share: bool = False  # the chance is how common the value itself is


# By kind of trait, the first is "differs", then better and better.
LEVELS: dict[str, tuple[Level, ...]] = {
    "number": (Level("differs", 0.70, 0.9995), Level("one slip", 0.30, 0.0005)),
    "family": (
        Level("differs", 0.05, 0.985),
        Level("sounds alike", 0.01, 0.006),
        Level("part of it", 0.02, 0.002),
        Level("nearly", 0.06, 0.004),
        Level("changed places", 0.01, 0.0003),
        Level("same", 0.85, 0.003, by_share=True),
    ),
    "given": (
        Level("differs", 0.02, 0.93),
        Level("same initial", 0.02, 0.05),
        Level("only an initial", 0.01, 0.005),
        Level("sounds alike", 0.01, 0.006),
        Level("known as", 0.04, 0.003),
        Level("part of it", 0.03, 0.003),
        Level("nearly", 0.06, 0.005),
        Level("changed places", 0.01, 0.0003),
        Level("same", 0.81, 0.004, by_share=True),
    ),
    "birth": (
        Level("differs", 0.01, 0.9949),
        Level("one part differs", 0.03, 0.0045),
        Level("day and month swapped", 0.03, 0.0003),
        Level("same", 0.93, 0.0003),
    ),
    "sex": (Level("differs", 0.02, 0.5), Level("same", 0.98, 0.5)),
    "mail": (
        Level("differs", 0.20, 0.9975),
        Level("nearly", 0.05, 0.0005),
        Level("same before the @", 0.07, 0.0015),
        Level("same", 0.68, 0.00005, by_share=True),
    ),
    "phone": (
        Level("differs", 0.30, 0.9996),
        Level("one slip", 0.05, 0.0002),
        Level("same", 0.65, 0.0002, by_share=True),
    ),
    "street": (
        Level("differs", 0.30, 0.995),
        Level("nearly", 0.10, 0.003),
        Level("same", 0.60, 0.002, by_share=True),
    ),
    "postcode": (Level("differs", 0.25, 0.998), Level("same", 0.75, 0.002, by_share=True)),
    "town": (
        Level("differs", 0.15, 0.95),
        Level("nearly", 0.03, 0.01),
        Level("same", 0.82, 0.04, by_share=True),
    ),
}


def level_pairs(
    forms: Mapping[str, Forms], rows: NDArray[np.int64], records: NDArray[np.int64]
) -> dict[str, NDArray[np.int8]]:
    """Tell for each pair and each trait at which of `LEVELS` the two agree.

    Args:
        forms: The traits' values, by kind.
        rows: The row of each pair.
        records: The record of each pair.

    Returns:
        By kind, for each pair the place in `LEVELS[kind]`; `NOTHING` where one of the two has no
        value.
    """
    found = {}
    for kind, form in forms.items():
        ours, theirs = form.ours.codes[rows], form.theirs.codes[records]
        filled = (ours >= 0) & (theirs >= 0)
        levels = np.full(len(rows), NOTHING, np.int8)
        if filled.any():
            # Many pairs share their two values: each such couple is looked at once.
            size = len(form.theirs)
            couples = ours[filled].astype(np.int64) * size + theirs[filled]
            place: Foreign = slice(None)
            if len(couples) > limits.PAIRS:
                couples, place = _distinct(couples)
            levels[filled] = _compare(kind, form, couples // size, couples % size)[place]
        found[kind] = levels
    _mark_changed_places(forms, rows, records, found)
    return found


def _distinct(values: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.intp]]:
    """List distinct values, and for each value its place among them; sorting is quicker than
    `np.unique`.
    """
    order = np.argsort(values, kind="stable")
    ordered = values[order]
    first = np.concatenate([[True], ordered[1:] != ordered[:-1]])
    place = np.empty(len(values), np.intp)
    place[order] = np.cumsum(first) - 1
    return ordered[first], place


def _compare(
    kind: str, form: Forms, left: NDArray[np.int64], right: NDArray[np.int64]
) -> NDArray[np.int8]:
    level = {level.word: place for place, level in enumerate(LEVELS[kind])}
    levels = np.zeros(len(left), np.int8)
    same = form.same[left] == right
    rest = np.flatnonzero(~same)
    left, right = left[rest], right[rest]
    ours, theirs = form.ours, form.theirs

    def raise_to(word: str, where: NDArray[np.bool_]) -> None:
        chosen = rest[where]
        levels[chosen] = np.maximum(levels[chosen], level[word])

    def equal(name: str) -> NDArray[np.bool_]:
        return np.asarray(form.our_keys(name)[left] == form.their_keys(name)[right])

    if kind in ("family", "given"):
        if kind == "given":
            raise_to("same initial", equal("initial"))
            raise_to(
                "only an initial",
                equal("initial") & (ours.is_letter[left] | theirs.is_letter[right]),
            )
            raise_to("known as", STANDS_FOR[ours.known_as[left], theirs.known_as[right]])
        raise_to("sounds alike", equal("sound"))
        raise_to("part of it", _shares_word(form, left, right))
        raise_to(
            "nearly",
            (_alike(form, left, right) >= NEAR_NAME) | _one_slip_in_four(form, left, right),
        )
    elif kind == "birth":
        one, other = ours.days[left], theirs.days[right]
        raise_to("one part differs", (one == other).sum(axis=1) == 2)
        raise_to(
            "day and month swapped",
            (one[:, 0] == other[:, 0]) & (one[:, 1] == other[:, 2]) & (one[:, 2] == other[:, 1]),
        )
    elif kind == "mail":
        raise_to("same before the @", equal("local"))
        raise_to("nearly", _alike(form, left, right) >= NEAR_MAIL)
    elif kind in ("phone", "number"):
        raise_to("one slip", _slips(form, left, right) <= 1)
    elif "nearly" in level:
        raise_to("nearly", _alike(form, left, right) >= NEAR_TEXT)
    levels[same] = len(LEVELS[kind]) - 1
    return levels


def _texts(
    form: Forms, left: NDArray[np.int64], right: NDArray[np.int64]
) -> tuple[list[str], list[str]]:
    ours, theirs = form.ours.texts, form.theirs.texts
    return [ours[one] for one in left.tolist()], [theirs[one] for one in right.tolist()]


def _alike(form: Forms, left: NDArray[np.int64], right: NDArray[np.int64]) -> NDArray[np.float32]:
    ours, theirs = _texts(form, left, right)
    return np.asarray(
        cpdist(
            ours, theirs, scorer=JaroWinkler.similarity, workers=_workers(ours), dtype=np.float32
        )
    )


def _slips(form: Forms, left: NDArray[np.int64], right: NDArray[np.int64]) -> NDArray[np.int32]:
    ours, theirs = _texts(form, left, right)
    return np.asarray(
        cpdist(
            ours,
            theirs,
            scorer=OSA.distance,
            score_cutoff=1,
            workers=_workers(ours),
            dtype=np.int32,
        )
    )


def _one_slip_in_four(
    form: Forms, left: NDArray[np.int64], right: NDArray[np.int64]
) -> NDArray[np.bool_]:
    """Tell where two texts of four letters or more differ by one slip: of short names it takes
    much of their likeness.
    """
    ours, theirs = form.ours.sizes[left], form.theirs.sizes[right]
    asked = np.flatnonzero((ours >= 4) & (theirs >= 4) & (np.abs(ours - theirs) <= 1))
    found = np.zeros(len(left), bool)
    found[asked] = _slips(form, left[asked], right[asked]) <= 1
    return found


def _workers(texts: list[str]) -> int:
    """Say how many threads compare texts: all cores where it is worth their while."""
    return -1 if len(texts) > MANY_PAIRS else 1


def _shares_word(
    form: Forms, left: NDArray[np.int64], right: NDArray[np.int64]
) -> NDArray[np.bool_]:
    """Tell where one of two names is a word, or the opening of three letters or more, of the
    other.
    """
    opening, other_opening = form.our_keys("opening"), form.their_keys("opening")
    several = form.ours.has_words[left] | form.theirs.has_words[right]
    asked = np.flatnonzero(several | (opening[left] == other_opening[right]))
    found = np.zeros(len(left), bool)
    for place, text, other in zip(
        asked.tolist(), *_texts(form, left[asked], right[asked]), strict=True
    ):
        shared = {*text.split(" ")} & {*other.split(" ")}
        found[place] = bool(shared) or (
            min(len(text), len(other)) > 2 and (text.startswith(other) or other.startswith(text))
        )
    return found


def _mark_changed_places(
    forms: Mapping[str, Forms],
    rows: NDArray[np.int64],
    records: NDArray[np.int64],
    found: dict[str, NDArray[np.int8]],
) -> None:
    """Mark pairs in which family and given name stand in each other's place."""
    if "family" not in forms or "given" not in forms:
        return
    differ = np.flatnonzero((found["family"] == 0) & (found["given"] <= 1) & (found["given"] >= 0))
    if not len(differ):
        return
    family, given = forms["family"], forms["given"]
    turned = np.ones(len(differ), bool)
    for ours, theirs in ((family.ours, given.theirs), (given.ours, family.theirs)):
        there = theirs.find(ours.values, "text")
        turned &= there[ours.codes[rows[differ]]] == theirs.codes[records[differ]]
    for kind in ("family", "given"):
        found[kind][differ[turned]] = [level.word for level in LEVELS[kind]].index("changed places")
