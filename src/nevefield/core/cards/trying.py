"""The records that try a design hardest, found among all."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.cards.design import Line, Symbol, name_of_item
from nevefield.core.cards.everybody import lay_everybody

if TYPE_CHECKING:
    from collections.abc import Collection, Iterator, Sequence

    from nevefield.core.cards.design import Face, Item
    from nevefield.core.cards.everybody import Everybody, ItemSet
    from nevefield.core.cards.faces import Faces

__all__ = ["Fits", "Hard", "count_fits", "find_hardest", "fit_all"]

MOST = 5


@dataclass(frozen=True)
class Hard:
    """Somebody who tries a design, and how."""

    face: str
    place: int
    what: str  # in words
    people: int  # of whom the same is so
    fails: bool
    side: str = "front"  # on which it is seen


@dataclass(frozen=True)
class Fits:
    """How the texts of an item are set, over everybody who has it."""

    item: str
    plain: int  # at the size that is wanted, on one line
    smaller: int
    lines: int  # on more lines than one
    fails: int
    empty: int


def fit_all(faces: Faces, photos: Collection[int]) -> list[Everybody]:
    """Lay everybody's card, face by face.

    Args:
        faces: What cards are filled from.
        photos: The records with a photograph.
    """
    with_photo = np.array(sorted(photos), np.int64)
    return [
        lay_everybody(
            faces, face, places, np.isin(faces.snapshots[face.roster].ids[places], with_photo)
        )
        for face, places in faces.people()
    ]


def count_fits(everybody: Sequence[Everybody], face: Face) -> list[Fits]:
    """Count how each item of a face is set."""
    counted = []
    for item in face.items():
        if item.kind == "photo" or item.kind == "picture":
            continue
        letters = getattr(item, "letters", None)
        wanted = letters.size if letters else 0.0
        tallies = {"plain": 0, "smaller": 0, "lines": 0, "fails": 0, "empty": 0}
        for some in everybody:
            if some.face is not face:
                continue
            for way, people in zip(some.ways, _sizes(some), strict=True):
                if item.name in way.sets:
                    one = way.sets[item.name]
                    tallies[_kind(one, wanted, is_symbol=isinstance(item, Symbol))] += people
        counted.append(Fits(item.name, **tallies))
    return counted


def _sizes(some: Everybody) -> list[int]:
    """Count the people of each way."""
    return [int(count) for count in np.bincount(some.of, minlength=len(some.ways))]


def _kind(one: ItemSet, wanted: float, *, is_symbol: bool) -> str:
    if one.finding is not None:
        return "fails"
    if one.is_empty:
        return "empty"
    if is_symbol or (one.lines == 1 and one.size >= wanted):
        return "plain"
    return "lines" if one.lines > 1 else "smaller"


def find_hardest(everybody: Sequence[Everybody]) -> list[Hard]:
    """Find up to five of everybody who try the design hardest: what fails first, the commonest
    first; then of each line who has the smallest letters, the most lines, the longest text; then
    who has what only some have; then the longest code. Nobody stands twice.
    """
    hardest: list[Hard] = []
    seen: set[tuple[str, int]] = set()
    for hard in (
        *_failing(everybody),
        *_tight(everybody),
        *_conditional(everybody),
        *_codes(everybody),
    ):
        if (hard.face, hard.place) not in seen and len(hardest) < MOST:
            seen.add((hard.face, hard.place))
            hardest.append(hard)
    return hardest


def _failing(everybody: Sequence[Everybody]) -> list[Hard]:
    hard = []
    for some in everybody:
        # the people of each item and kind, and the first of them
        groups: dict[tuple[str, str], list[int]] = {}
        for number, way in enumerate(some.ways):
            for name, one in way.sets.items():
                if one.finding is not None:
                    groups.setdefault((name, one.finding.kind), []).append(number)
        for (name, kind), ways in groups.items():
            whose = np.flatnonzero(np.isin(some.of, ways))
            finding = some.ways[some.of[whose[0]]].sets[name].finding
            why = finding.why if finding else ""
            item, side = _say_item(some.face, name)
            words = "no photograph" if kind == "no photo" else f"{item} does not fit: {why}"
            if kind in ("empty", "code", "letters"):
                words = f"{item}: {why}"
            place = int(some.places[whose[0]])
            hard.append(Hard(some.face.name, place, words, len(whose), fails=True, side=side))
    return sorted(hard, key=lambda one: -one.people)


def _tight(everybody: Sequence[Everybody]) -> list[Hard]:
    hard = []
    for some in everybody:
        for item in some.face.items():
            # fixed words are as long for everybody
            if not isinstance(item, Line) or not any(piece.takes for piece in item.pieces):
                continue
            set_well = {
                number: one
                for number, way in enumerate(some.ways)
                if (one := way.sets.get(item.name)) and one.finding is None and one.lines
            }
            if not set_well:
                continue
            lines, size = min((-one.lines, one.size) for one in set_well.values())
            worst = [
                number
                for number, one in set_well.items()
                if (-one.lines, one.size) == (lines, size)
            ]
            place, letters = _longest(some, item, worst)
            words, side = _say_item(some.face, item.name)
            said = "one line" if lines == -1 else f"{-lines} lines"
            hard.append(
                (
                    (lines, size / item.letters.size, -letters),
                    Hard(
                        some.face.name,
                        place,
                        f"longest {words}: {said} of {size:g} pt",
                        1,
                        fails=False,
                        side=side,
                    ),
                )
            )
    return [one for _, one in sorted(hard, key=lambda pair: pair[0])]


def _longest(some: Everybody, item: Item, ways: Sequence[int]) -> tuple[int, int]:
    """Find, of the people of some ways, who has the longest text in an item, and how long it is."""
    whose = np.flatnonzero(np.isin(some.of, ways))
    lengths = some.letters[item.name][whose]
    return int(some.places[whose[lengths.argmax()]]), int(lengths.max())


def _conditional(everybody: Sequence[Everybody]) -> Iterator[Hard]:
    """Find, for each item that only some have, one who has it."""
    for some in everybody:
        for item in some.face.items():
            ways = [number for number, way in enumerate(some.ways) if item.name in way.sets]
            if item.where is None or not ways:
                continue
            whose = np.flatnonzero(np.isin(some.of, ways))
            words, side = _say_item(some.face, item.name)
            yield Hard(
                some.face.name,
                int(some.places[whose[0]]),
                f"has {words}, as only some do",
                len(whose),
                fails=False,
                side=side,
            )


def _codes(everybody: Sequence[Everybody]) -> Iterator[Hard]:
    for some in everybody:
        for item in some.face.items():
            ways = [number for number, way in enumerate(some.ways) if item.name in way.sets]
            if not isinstance(item, Symbol) or not ways:
                continue
            place, letters = _longest(some, item, ways)
            if letters:
                words, side = _say_item(some.face, item.name)
                said = f"longest {words}: {letters} letters"
                yield Hard(some.face.name, place, said, 1, fails=False, side=side)


def _say_item(face: Face, name: str) -> tuple[str, str]:
    """Name an item for a person, and the side on which it stands."""
    for side, items in face.sides():
        for item in items:
            if item.name == name:
                words = name_of_item(item, items)
                return (words if side == "front" else f"{words} of the back"), side
    return name or "name at the doors", "front"
