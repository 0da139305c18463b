"""How the cards of many are laid: laid once for all who differ in nothing that matters.

Where things stand on a card follows from what is shown on it, how large its codes are, and in which
size and how many lines each text fits. So texts are composed and fitted once each; whoever has the
same of all that is laid together, in a `Way`.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.cards.design import Band, Line, Symbol, pieces_of
from nevefield.core.cards.filling import compose
from nevefield.core.cards.fitting import Fitted, fit
from nevefield.core.cards.laying import Words, lay, size_below, width_of_band
from nevefield.core.cards.symbols import Unencoded, code_size, module_width, quiet_zones

if TYPE_CHECKING:
    from collections.abc import Callable, Hashable, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.cards.design import Face, Item, Letters, Piece
    from nevefield.core.cards.faces import Faces
    from nevefield.core.cards.fitting import Measure
    from nevefield.core.cards.laying import Finding, Laid

__all__ = ["Everybody", "ItemSet", "Way", "lay_everybody"]


@dataclass(frozen=True)
class ItemSet:
    """How an item is set."""

    size: float  # of its letters, in points; 0 for none
    lines: int
    is_empty: bool
    finding: Finding | None


@dataclass(frozen=True)
class Way:
    """In which cards are laid: the same for all who are in it."""

    sets: Mapping[str, ItemSet]  # of the items that are shown, by name
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Everybody:
    """How the cards of some who have a face are laid."""

    face: Face
    places: NDArray[np.intp]  # of theirs in the snapshot
    ways: tuple[Way, ...]
    of: NDArray[np.intp]  # the way of each
    letters: Mapping[str, NDArray[np.int32]]  # how long the text of each is, by item

    def findings(self) -> list[tuple[Finding, ...]]:
        """List what does not fit, of each."""
        return [self.ways[way].findings for way in self.of.tolist()]


@dataclass(frozen=True)
class _Texts:
    """What stands in an item: the texts, and which of them each has."""

    texts: list[str]
    of: NDArray[np.intp]

    def at(self, member: int) -> str:
        return self.texts[int(self.of[member])]

    def outcomes(self, work: Callable[[str], Hashable]) -> NDArray[np.intp]:
        """Number what comes of each one's text; the same number for the same."""
        numbers: dict[Hashable, int] = {}
        table = [numbers.setdefault(work(text), len(numbers)) for text in self.texts]
        return np.array(table, np.intp)[self.of]

    def take(self, chosen: NDArray[np.intp]) -> _Texts:
        """Keep some of those who have them."""
        used, of = np.unique(self.of[chosen], return_inverse=True)
        return _Texts([self.texts[one] for one in used.tolist()], of)


def lay_everybody(
    faces: Faces, face: Face, places: NDArray[np.intp], has_photo: NDArray[np.bool_]
) -> Everybody:
    """Lay the cards of some who have a face; codes are not read back.

    Args:
        faces: What cards are filled from.
        face: The face.
        places: Of theirs in its snapshot.
        has_photo: Whether there is a photograph of each.
    """
    if not len(places):
        return Everybody(face, places, (), np.zeros(0, np.intp), {})
    texts = {item.name: _compose(faces, face, item, places) for item in face.items()}
    sides = [_lay_side(faces, face, items, places, texts, has_photo) for _, items in face.sides()]
    first, of = _number([of for _, of in sides], len(places))
    ways = []
    for member in first.tolist():
        laid = [ways_of_side[side[member]] for ways_of_side, side in sides]
        sets = {name: one for way in laid for name, one in way.sets.items()}
        ways.append(Way(sets, tuple(one for way in laid for one in way.findings)))
    letters = {
        name: np.array([len(text) for text in one.texts], np.int32)[one.of]
        for name, one in texts.items()
    }
    return Everybody(face, places, tuple(ways), of, letters)


def _lay_side(
    faces: Faces,
    face: Face,
    items: tuple[Item, ...],
    places: NDArray[np.intp],
    texts: Mapping[str, _Texts],
    has_photo: NDArray[np.bool_],
) -> tuple[list[Way], NDArray[np.intp]]:
    """Find the ways in which a side is laid, and that of each."""
    shown = {item.name: faces.holding(face, item.name, item.where)[places] for item in items}
    measure, size = faces.measure, faces.design.size

    def laid(member: int) -> Laid:
        said = {item.name: texts[item.name].at(member) for item in items}
        there = {name for name, whose in shown.items() if whose[member]}
        photo = bool(has_photo[member])
        return lay(items, size, said, there, measure, has_photo=photo, read_back=False)

    keys: list[NDArray[np.generic]] = [*shown.values(), has_photo]
    for item in items:
        if isinstance(item, Symbol) and item.is_square:
            keys.append(texts[item.name].outcomes(partial(_square, measure, item)))
        elif isinstance(item, Band):
            rule = partial(_fits, measure, item.letters, width_of_band(item, size))
            keys.append(texts[item.name].outcomes(rule))
    # how wide the column is follows from these, and how lines and bars fit from that
    first, of = _number(keys, len(places))
    columns = np.array([laid(member).column for member in first.tolist()])[of]
    for item in items:
        if isinstance(item, Line) or (isinstance(item, Symbol) and not item.is_square):
            come = np.zeros(len(places), np.intp)
            for width in np.unique(columns).tolist():
                whose = np.flatnonzero(columns == width)
                rule = (
                    partial(_fits, measure, item.letters, width)
                    if isinstance(item, Line)
                    else partial(_bars, measure, item, width)
                )
                come[whose] = texts[item.name].take(whose).outcomes(rule)
            keys.append(come)
    first, of = _number(keys, len(places))
    ways = []
    for member in first.tolist():
        said = {item.name: texts[item.name].at(member) for item in items}
        ways.append(_way(items, laid(member), said, shown, member))
    return ways, of


def _way(
    items: tuple[Item, ...],
    laid: Laid,
    texts: Mapping[str, str],
    shown: Mapping[str, NDArray[np.bool_]],
    member: int,
) -> Way:
    words: dict[str, list[Words]] = {}
    for mark in laid.marks:
        if isinstance(mark, Words):
            words.setdefault(mark.item, []).append(mark)
    findings = {one.item: one for one in laid.findings}
    sets = {}
    for item in items:
        if shown[item.name][member]:
            lines = words.get(item.name, [])
            sets[item.name] = ItemSet(
                lines[0].size if lines else 0.0,
                len(lines),
                not texts[item.name],
                findings.get(item.name),
            )
    return Way(sets, tuple(laid.findings))


def _square(measure: Measure, square: Symbol, text: str) -> Hashable:
    """Tell all of a square code that matters for where things stand."""
    if not text:
        return None
    below = size_below(text, square.height, measure) if square.is_written else None
    return code_size(square.symbol, text), below


def _bars(measure: Measure, bars: Symbol, room: float, text: str) -> Hashable:
    """Tell all of bars that matters, in a column of a width."""
    size = code_size(bars.symbol, text) if text else None
    if size is None or isinstance(size, Unencoded):
        return size
    width = module_width(size[0] + quiet_zones(bars.symbol), room)
    if width is None or not bars.is_written:
        return size
    return size, size_below(text, size[0] * width, measure)


def _fits(measure: Measure, letters: Letters, room: float, text: str) -> Hashable:
    """Tell how a text fits into a width."""
    if not text:
        return None
    fitted = fit(text, room, letters, measure)
    return (fitted.size, len(fitted.lines)) if isinstance(fitted, Fitted) else fitted


def _compose(faces: Faces, face: Face, item: Item, places: NDArray[np.intp]) -> _Texts:
    """Compose what stands in an item, once for the same values."""
    pieces = pieces_of(item)
    if not pieces:
        return _Texts([""], np.zeros(len(places), np.intp))
    stored = [_stored(faces, face, piece, places) for piece in pieces]
    first, of = _number([one.of for one in stored], len(places))
    filling = faces.filling(face)
    written: list[dict[int, str]] = [{} for _ in pieces]
    texts = []
    for values in zip(*(one.of[first].tolist() for one in stored), strict=True):
        parts = []
        for piece, known, value, one in zip(pieces, written, values, stored, strict=True):
            if value not in known:
                known[value] = filling.write(piece, one.texts[value])
            parts.append(known[value])
        texts.append(compose(pieces, parts))
    return _Texts(texts, of)


def _stored(faces: Faces, face: Face, piece: Piece, places: NDArray[np.intp]) -> _Texts:
    """Find what a piece takes of each."""
    name = face.until if piece.card == "until" else piece.field
    column = faces.snapshots[face.roster].columns.get(name) if name else None
    if column is not None:
        return _Texts(
            [*column.texts(), ""],
            np.where(column.codes < 0, len(column.values), column.codes)[places],
        )
    text = faces.card(face, int(places[0])).value(piece.card) if piece.card else ""
    return _Texts([text], np.zeros(len(places), np.intp))


def _number(
    keys: Sequence[NDArray[np.generic]], rows: int
) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Number rows that are the same in all keys alike.

    Returns:
        Of each number the first row that has it; and the number of each row.
    """
    of = np.zeros(rows, np.int64)
    for key in keys:
        values, numbers = np.unique(key, return_inverse=True)
        if len(values) > 1:
            of = np.unique(of * len(values) + numbers, return_inverse=True)[1]
    _, first, of = np.unique(of, return_index=True, return_inverse=True)
    return first, of
