"""A register for cards where an institution has none yet: a roster of its own, with the fields that
a card needs, and the list of its states.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.codes import Code

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from nevefield.core.codes import CodeList

__all__ = ["STATES", "STATE_LIST", "make_register", "name_states"]

STATE_LIST = "card_state"
STATES = (
    Code("USE", "In use"),
    Code("LOST", "Lost"),
    Code("SPOILED", "Spoiled"),
    Code("BACK", "Given back"),
    Code("REPLACED", "Replaced"),
)


def name_states(lists: Mapping[str, CodeList]) -> str:
    """Name the list of states: that which is there with all of them, else one that nobody has."""
    name, number = STATE_LIST, 2
    while name in lists and not {code.code for code in STATES} <= lists[name].by_code.keys():
        name, number = f"{STATE_LIST}_{number}", number + 1
    return name


def make_register(
    design: str, title: str, taken: Collection[str], states: str = STATE_LIST
) -> tuple[dict[str, Json], dict[str, Json]]:
    """Make the definition of a register, and what a design says of it.

    Args:
        design: The design's name.
        title: The design's title.
        taken: Names that rosters have.
        states: The name of the list of states.

    Returns:
        The definition, and the `register` of the design.
    """
    name, number = f"{design}-register", 2
    while name in taken:
        name, number = f"{design}-register-{number}", number + 1
    fields: list[dict[str, Json]] = [
        {
            "name": "number",
            "title": "Card number",
            "type": "integer",
            "constraints": {"required": True, "minimum": 0},
        },
        {
            "name": "holder",
            "title": "Holder",
            "type": "string",
            "constraints": {"required": True},
        },
        {
            "name": "state",
            "title": "State",
            "type": "string",
            "constraints": {"required": True},
            "nevefield": {"codeList": states},
        },
        {"name": "until", "title": "Valid until", "type": "date"},
    ]
    definition = {
        "name": name,
        "title": f"{title}: cards",
        "primaryKey": "number",
        "fields": fields,
    }
    register = {
        "roster": name,
        "number": "number",
        "holder": "holder",
        "state": "state",
        "until": "until",
        "in_use": ["USE"],
        "lost": "LOST",
        "spoiled": "SPOILED",
        "returned": "BACK",
        "replaced": "REPLACED",
    }
    return definition, register
