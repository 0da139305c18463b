"""Pair a file's columns with a roster's fields, each with its reason."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from rapidfuzz import fuzz

from nevefield.core.texts import key_of

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.core.definition import Definition, Field

__all__ = ["Pair", "known_headings", "pair_columns"]

LIKE_ENOUGH = 84  # of 100, by rapidfuzz's ratio over headings as they are compared


@dataclass(frozen=True)
class Pair:
    """Where one column goes: `field` is None when it is left in the file."""

    heading: str
    field: str | None
    reason: str
    certain: bool


def known_headings(definition: Definition) -> frozenset[str]:
    """List what headings of this roster's columns may be, as they are compared."""
    return frozenset(key_of(name) for one in definition.fields for name in _names(one))


def pair_columns(
    headings: Sequence[str],
    definition: Definition,
    secrets: Sequence[str] = (),
    chosen: Mapping[str, str | None] | None = None,
) -> list[Pair]:
    """Pair columns with fields by name, title and alias, then by likeness; order never matters.

    Args:
        headings: Of the file.
        definition: Of the roster.
        secrets: Headings whose values are not taken.
        chosen: What a person decided, by heading; None leaves the column in the file.

    Returns:
        One pair for each heading, in their order; no field is paired twice.
    """
    chosen = chosen or {}
    pairs: dict[int, Pair] = {}
    taken: set[str] = {field for field in chosen.values() if field}
    for place, heading in enumerate(headings):
        if heading in chosen:
            field = chosen[heading]
            pairs[place] = Pair(heading, field, "chosen by hand" if field else "left in the file by hand", True)
        elif heading in secrets:
            pairs[place] = Pair(heading, None, "a secret: not taken", True)
    exact: dict[str, tuple[str, str]] = {}
    for one in definition.fields:
        for name, reason in _reasons(one):
            exact.setdefault(key_of(name), (one.name, reason))
    for place, heading in enumerate(headings):
        found = exact.get(key_of(heading))
        if place not in pairs and found and found[0] not in taken:
            taken.add(found[0])
            pairs[place] = Pair(heading, found[0], found[1], True)
    likely = sorted(
        (
            (-score, place, one.name, name)
            for place, heading in enumerate(headings)
            if place not in pairs
            for one in definition.fields
            if one.name not in taken
            for name in _names(one)
            if (score := _likeness(heading, name)) >= LIKE_ENOUGH
        ),
    )
    for _, place, field, name in likely:
        if place not in pairs and field not in taken:
            taken.add(field)
            pairs[place] = Pair(headings[place], field, f"looks like “{name}”", False)
    return [pairs.get(place, Pair(heading, None, "no field is like it", True)) for place, heading in enumerate(headings)]


def _likeness(heading: str, name: str) -> float:
    left, right = key_of(heading), key_of(name)
    return fuzz.ratio(left, right) if min(len(left), len(right)) > 3 else 0.0


def _reasons(one: Field) -> list[tuple[str, str]]:
    return [(one.name, "same name"), (one.title, "same name"), *((alias, "another name of it") for alias in one.aliases)]


def _names(one: Field) -> list[str]:
    return [one.name, one.title, *one.aliases]
