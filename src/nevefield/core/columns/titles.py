"""How to name a person and a value in a table."""

from __future__ import annotations

from typing import TYPE_CHECKING

import pyarrow as pa

from nevefield.core.borders import Json
from nevefield.core.columns.folding import fold_values

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot

__all__ = ["name_fields", "name_member", "name_openly", "name_person", "person_key"]


def name_fields(definition: Definition) -> tuple[str, ...]:
    """List the fields that name a person: family name, then given names; by their meaning, else
    by their own names.
    """
    by_meaning = {field.means: field.name for field in definition.fields if field.means}
    texts = [by_meaning[means] for means in ("family-name", "given-name") if means in by_meaning]
    if not texts:
        texts = [field.name for field in definition.fields if "name" in field.name][:2]
    return tuple(texts)


def name_person(definition: Definition, value: Callable[[str], str | None]) -> str:
    """Name a person: "Adeyemi-Rask, Ines"."""
    return ", ".join(filter(None, (value(name) for name in name_fields(definition))))


def name_openly(definition: Definition, value: Callable[[str], str | None]) -> str:
    """Name a person in words that are kept for everybody to read: without what is kept from who
    may only look.
    """
    shown = (
        value(name) for name in name_fields(definition) if not definition.by_name[name].sensitive
    )
    return ", ".join(filter(None, shown)) or "one record"


def name_member(
    definition: Definition, value: Callable[[str], str | None], others: Mapping[str, Snapshot]
) -> str:
    """Name a person; where a record has no name of its own, as a membership, that of the person
    whom it refers to.

    Args:
        definition: Of the roster.
        value: Gives the value of a field.
        others: Other rosters, by name.
    """
    own = name_person(definition, value)
    if own or name_fields(definition):
        return own
    for key in definition.foreign_keys:
        snapshot = others.get(key.resource)
        if snapshot is None or len(key.fields) > 1 or not name_fields(snapshot.definition):
            continue
        place = _find(snapshot, key.target[0], value(key.fields[0]))
        if place is not None:
            values = {
                name: snapshot.columns[name].at(place) for name in name_fields(snapshot.definition)
            }
            return name_person(snapshot.definition, values.get)
    return ""


def _find(snapshot: Snapshot, name: str, text: str | None) -> int | None:
    """Find the record with a value, as it is compared."""
    if not text or name not in snapshot.columns:
        return None
    folded = snapshot.folded(name)

    def make() -> dict[str, int]:
        texts = folded.texts()
        return {texts[code]: place for place, code in enumerate(folded.codes.tolist()) if code >= 0}

    places: dict[str, int] = snapshot.keep(f"places by {name}", make)
    return places.get(fold_values(snapshot.definition.by_name[name], pa.array([text]))[0].as_py())


def person_key(definition: Definition, values: Mapping[str, Json]) -> str:
    """Write a person's primary key as one text."""
    return " ".join(str(values.get(name) or "") for name in definition.primary_key).strip()
