"""How to name a person and a value in a table."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from nevefield.core.definition import Definition

__all__ = ["name_fields", "name_person", "person_key"]


def name_fields(definition: Definition) -> tuple[str, ...]:
    """List the fields that name a person: family name, then given names; by their meaning, else by their own names."""
    by_meaning = {one.means: one.name for one in definition.fields if one.means}
    found = [by_meaning[means] for means in ("family-name", "given-name") if means in by_meaning]
    if not found:
        found = [one.name for one in definition.fields if "name" in one.name][:2]
    return tuple(found)


def name_person(definition: Definition, value: Callable[[str], str | None]) -> str:
    """Name a person: "Adeyemi-Rask, Ines"."""
    return ", ".join(filter(None, (value(name) for name in name_fields(definition))))


def person_key(definition: Definition, values: Mapping[str, Any]) -> str:
    """Write a person's primary key as one text."""
    return " ".join(str(values.get(name) or "") for name in definition.primary_key).strip()
