"""The name of a card's holder as the doors take it: plain letters, as long as they allow."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.columns.titles import name_fields
from nevefield.core.patterns import matches
from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.core.definition import Definition, Field

__all__ = ["door_name", "refuse_name"]


def door_name(
    definition: Definition, value: Callable[[str], str | None], longest: int | None = None
) -> str:
    """Write somebody's name in plain letters: all given names if there is room, else the first,
    else its first letter; what is too long all the same is given as it is, and refused.

    Args:
        definition: Of the people's roster.
        value: Gives the value of a field.
        longest: How many letters the doors take.
    """
    names = [plain_letters(value(name) or "").split() for name in name_fields(definition)]
    family = " ".join(names[0]) if names else ""
    given = names[1] if len(names) > 1 else []
    if not given:
        return family
    first = given[0]
    forms = [f"{' '.join(given)} {family}", f"{first} {family}", f"{first[:1]} {family}"]
    for form in forms:
        if longest is None or len(form) <= longest:
            return form.strip()
    return forms[-1].strip()


def refuse_name(name: str, field: Field) -> str:
    """Say why the doors do not take a name; "" when they do.

    Args:
        name: As `door_name` gives it.
        field: Of the register.
    """
    if field.max_length is not None and len(name) > field.max_length:
        return f"The doors take a name of {field.max_length} letters, and “{name}” has {len(name)}."
    if name and field.pattern and not matches(field.pattern, name):
        odd = "".join(dict.fromkeys(letter for letter in name if not letter.isascii()))
        which = f"“{odd}” of “{name}”" if odd else f"“{name}”"
        return f"The doors do not take {which}."
    return ""
