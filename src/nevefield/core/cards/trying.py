"""The records that try a design hardest, found among all."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.cards.design import Line, Symbol, name_of_item
from nevefield.core.cards.laying import Words, lay

if TYPE_CHECKING:
    from collections.abc import Collection, Iterator, Mapping

    from nevefield.core.cards.design import Face, Item
    from nevefield.core.cards.laying import Finding, Laid
    from nevefield.core.cards.needing import Faces

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


@dataclass(frozen=True)
class _Set:
    """How an item is set for somebody."""

    size: float = 0.0
    lines: int = 0
    letters: int = 0
    finding: Finding | None = None


def fit_all(faces: Faces, photos: Collection[int]) -> list[tuple[Face, int, dict[str, _Set]]]:
    """Lay everybody's card.

    Args:
        faces: What cards are filled from.
        photos: The records with a photograph.

    Returns:
        Of everybody the face, the place, and how each item is set.
    """
    found = []
    for face, places in faces.people():
        ids = faces.snapshots[face.roster].ids
        for place in places.tolist():
            texts = faces.texts(face, place, faces.card(face, place))
            shown = faces.shown(face, place)
            settings: dict[str, _Set] = {}
            for _, items in face.sides():
                laid = lay(
                    items,
                    faces.design.size,
                    texts,
                    shown,
                    faces.measure,
                    has_photo=int(ids[place]) in photos,
                    read_back=False,
                )
                settings |= _settings(items, laid, texts, shown)
            found.append((face, place, settings))
    return found


def _settings(
    items: tuple[Item, ...], laid: Laid, texts: Mapping[str, str], shown: Collection[str]
) -> dict[str, _Set]:
    words: dict[str, list[Words]] = {}
    for mark in laid.marks:
        if isinstance(mark, Words):
            words.setdefault(mark.item, []).append(mark)
    findings = {one.item: one for one in laid.findings}
    settings = {}
    for item in items:
        if item.name not in shown:
            continue
        lines = words.get(item.name, [])
        settings[item.name] = _Set(
            lines[0].size if lines else 0.0,
            len(lines),
            len(texts.get(item.name, "")),
            findings.get(item.name),
        )
    return settings


def count_fits(everybody: list[tuple[Face, int, dict[str, _Set]]], face: Face) -> list[Fits]:
    """Count how each item of a face is set."""
    counted = []
    for item in face.items():
        if item.kind == "photo" or item.kind == "picture":
            continue
        letters = getattr(item, "letters", None)
        wanted = letters.size if letters else 0.0
        tallies = {"plain": 0, "smaller": 0, "lines": 0, "fails": 0, "empty": 0}
        for other, _, settings in everybody:
            if other is not face or item.name not in settings:
                continue
            tallies[_kind(settings[item.name], wanted, is_symbol=isinstance(item, Symbol))] += 1
        counted.append(Fits(item.name, **tallies))
    return counted


def _kind(setting: _Set, wanted: float, *, is_symbol: bool) -> str:
    if setting.finding is not None:
        return "fails"
    if not setting.letters:
        return "empty"
    if is_symbol or (setting.lines == 1 and setting.size >= wanted):
        return "plain"
    return "lines" if setting.lines > 1 else "smaller"


def find_hardest(everybody: list[tuple[Face, int, dict[str, _Set]]]) -> list[Hard]:
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


def _failing(everybody: list[tuple[Face, int, dict[str, _Set]]]) -> list[Hard]:
    groups: dict[tuple[str, str, str], list[tuple[Face, int, Finding]]] = {}
    for face, place, settings in everybody:
        for name, setting in settings.items():
            if setting.finding is not None:
                key = (face.name, name, setting.finding.kind)
                groups.setdefault(key, []).append((face, place, setting.finding))
    hard = []
    for (_, name, kind), members in sorted(groups.items(), key=lambda group: -len(group[1])):
        face, place, finding = members[0]
        item, side = _say_item(face, name)
        words = "no photograph" if kind == "no photo" else f"{item} does not fit: {finding.why}"
        if kind in ("empty", "code", "letters"):
            words = f"{item}: {finding.why}"
        hard.append(Hard(face.name, place, words, len(members), fails=True, side=side))
    return hard


def _tight(everybody: list[tuple[Face, int, dict[str, _Set]]]) -> list[Hard]:
    worst: dict[tuple[str, str], tuple[tuple[float, float, float], Face, int, _Set]] = {}
    for face, place, settings in everybody:
        for name, setting in settings.items():
            if setting.finding is None and setting.lines:
                rank = (-float(setting.lines), setting.size, -float(setting.letters))
                key = (face.name, name)
                if key not in worst or rank < worst[key][0]:
                    worst[key] = (rank, face, place, setting)
    hard = []
    for (_, name), (rank, face, place, setting) in worst.items():
        item = next(item for item in face.items() if item.name == name)
        # fixed words are as long for everybody
        if not isinstance(item, Line) or not any(piece.takes for piece in item.pieces):
            continue
        words, side = _say_item(face, name)
        lines = "one line" if setting.lines == 1 else f"{setting.lines} lines"
        hard.append(
            (
                (rank[0], setting.size / item.letters.size, rank[2]),
                Hard(
                    face.name,
                    place,
                    f"longest {words}: {lines} of {setting.size:g} pt",
                    1,
                    fails=False,
                    side=side,
                ),
            )
        )
    return [one for _, one in sorted(hard, key=lambda pair: pair[0])]


def _conditional(everybody: list[tuple[Face, int, dict[str, _Set]]]) -> Iterator[Hard]:
    """Find, for each item that only some have, one who has it."""
    holders: dict[tuple[str, str], list[tuple[Face, int]]] = {}
    for face, place, settings in everybody:
        for item in face.items():
            if item.where is not None and item.name in settings:
                holders.setdefault((face.name, item.name), []).append((face, place))
    for (_, name), members in holders.items():
        face, place = members[0]
        words, side = _say_item(face, name)
        yield Hard(
            face.name,
            place,
            f"has {words}, as only some do",
            len(members),
            fails=False,
            side=side,
        )


def _codes(everybody: list[tuple[Face, int, dict[str, _Set]]]) -> Iterator[Hard]:
    longest: dict[tuple[str, str], tuple[int, Face, int]] = {}
    for face, place, settings in everybody:
        for item in face.items():
            if isinstance(item, Symbol) and item.name in settings:
                letters = settings[item.name].letters
                if letters > longest.get((face.name, item.name), (0, face, 0))[0]:
                    longest[face.name, item.name] = (letters, face, place)
    for (_, name), (letters, face, place) in longest.items():
        words, side = _say_item(face, name)
        yield Hard(
            face.name, place, f"longest {words}: {letters} letters", 1, fails=False, side=side
        )


def _say_item(face: Face, name: str) -> tuple[str, str]:
    """Name an item for a person, and the side on which it stands."""
    for side, items in face.sides():
        for item in items:
            if item.name == name:
                words = name_of_item(item, items)
                return (words if side == "front" else f"{words} of the back"), side
    return name or "name at the doors", "front"
