"""Parts of rosters: kept, and named for people."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.core.conditions import say_condition
from nevefield.core.parts import check_part
from nevefield.rosters.snapshots import load_codes, load_definition
from nevefield.store.parts import ensure_part, get_part

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.sight import Part

__all__ = ["keep_part", "name_own", "name_part", "name_parts"]


def keep_part(connection: Connection, roster: Roster, when: Any) -> int:
    """Return the number of a part of a roster, adding it when it is new.

    Raises:
        WrongDefinition: The condition is none that can be a part.
    """
    check_part(when, f"parts.{roster.name}", load_definition(connection, roster))
    return ensure_part(connection, roster.id, when)


def name_part(connection: Connection, roster: Roster, part: Part | None) -> str:
    """Word a part of a roster, its codes by their labels: "Campus is Castle Hill"; "" for all of
    it.
    """
    if part is None:
        return ""
    definition, lists = load_definition(connection, roster), load_codes(connection)
    return say_condition(
        part.when, definition.title_of, lambda name, text: _label(definition, lists, name, text)
    )


def _label(definition: Definition, lists: dict[str, CodeList], name: str, text: str) -> str:
    field = definition.by_name.get(name)
    listed = lists.get(field.code_list) if field is not None else None
    code = listed.by_code.get(text) if listed is not None else None
    return code.label or text if code is not None else text


def name_own(connection: Connection, roster: Roster) -> str:
    """Word the part of a roster that whoever the connection is for has; "" for all of it."""
    return name_part(connection, roster, connection.sight.parts.get(roster.id))


def name_parts(context: Context, roster: Roster, part_id: int | None) -> str:
    """Word a part of a roster by its number; "" for all of it."""
    with context.database.transaction() as connection:
        return name_part(connection, roster, get_part(connection, part_id))
