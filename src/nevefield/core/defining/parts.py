"""Parts of a definition's JSON document: each is read, or refused with its place and what would
be right.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection

__all__ = [
    "keep_short",
    "read_count",
    "read_flag",
    "read_limit",
    "read_list",
    "read_names",
    "read_object",
    "read_text",
    "read_texts",
    "refuse_unknown",
    "say_no_field",
]

LARGEST = 1_000_000_000  # number that a definition says


def read_names(given: Json, place: str, names: set[str]) -> tuple[str, ...]:
    """Read names of fields, one alone or in a list."""
    listed = [given] if isinstance(given, str) else given
    for name in read_texts(listed, place):
        if name not in names:
            raise WrongDefinition(place, say_no_field(name, names))
    return tuple(listed)


def say_no_field(name: str, names: set[str]) -> str:
    """Say that there is no such field, and what is near it."""
    return f"there is no field “{name}”; {near(name, names)}"


def refuse_unknown(given: dict[str, Json], known: Collection[str], place: str) -> None:
    """See that nothing is given that is not known."""
    for name in given:
        if name not in known:
            raise WrongDefinition(f"{place}.{name}", near(name, known))


def read_object(given: dict[str, Json], name: str, place: str) -> dict[str, Json]:
    """Read a JSON object; empty when it is missing."""
    found = given.get(name, {})
    if not isinstance(found, dict):
        raise WrongDefinition(place, "is a JSON object.")
    return found


def read_list(given: dict[str, Json], name: str, place: str = "") -> list[Json]:
    """Read a list; empty when it is missing."""
    found = given.get(name, [])
    if not isinstance(found, list):
        raise WrongDefinition(place or name, "is a list.")
    return found


def read_text(given: dict[str, Json], name: str, place: str) -> str:
    """Read a text; "" when it is missing."""
    found = given.get(name, "")
    if not isinstance(found, str):
        raise WrongDefinition(place, f"is text, not {found!r}.")
    return found


def read_texts(given: Json, place: str) -> list[str]:
    """Read a list of texts."""
    if not isinstance(given, list) or not all(isinstance(item, str) for item in given):
        raise WrongDefinition(place, "is a list of texts.")
    return given


def read_flag(given: dict[str, Json], name: str, place: str) -> bool:
    """Read true or false; false when it is missing."""
    found = given.get(name, False)
    if not isinstance(found, bool):
        raise WrongDefinition(place, f"is true or false, not {found!r}.")
    return found


def keep_short(given: dict[str, Json], name: str, place: str, most: int) -> None:
    """See that a text is not too long."""
    if len(read_text(given, name, place)) > most:
        raise WrongDefinition(place, f"has at most {most} characters.")


def read_count(given: dict[str, Json], name: str, place: str) -> int | None:
    """Read a whole number from 0 on; None when it is missing."""
    found = given.get(name)
    if found is not None and (not isinstance(found, int) or isinstance(found, bool) or found < 0):
        raise WrongDefinition(place, f"is a whole number from 0, not {found!r}.")
    if found is not None and found > LARGEST:
        raise WrongDefinition(place, f"is at most {LARGEST:,}.")
    return found


def read_limit(given: dict[str, Json], name: str) -> str:
    """Read a limit as text, whatever it was given as."""
    found = given.get(name, "")
    return ("true" if found else "false") if isinstance(found, bool) else str(found)
