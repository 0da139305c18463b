"""What each option of a declared check is: one table, from which definitions are read, the editor is made and tests follow."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.core.conditions import check_condition, is_day
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection

__all__ = ["HOWS", "KINDS", "check_option", "kind_of"]

HOWS = ("same", "different", "less", "more", "at-most", "at-least")
# condition; texts, fields: lists of them; number; bands: pairs of whole years; how: one of HOWS; day: a day or today;
# rosters: field by roster; list: the name of a code list; flag: true or false.
KINDS = {
    "when": "condition",
    "lead": "condition",
    "within": "texts",
    "lowest": "texts",
    "codes": "texts",
    "by": "fields",
    "of": "fields",
    "bands": "bands",
    "how": "how",
    "least": "number",
    "most": "number",
    "on": "day",
    "rosters": "rosters",
    "reasons": "list",
    "ends": "flag",
}
OTHERWISE = {("runs-out", "within"): "number"}  # what an option is in one check alone


def kind_of(check: str, name: str) -> str:
    """Say what an option of a check is, see `KINDS`."""
    return OTHERWISE.get((check, name)) or KINDS[name]


def check_option(check: str, name: str, value: Any, place: str, fields: Collection[str]) -> None:
    """See that one option of a check has the right form.

    Args:
        check: The check's name.
        name: The option's.
        value: Its JSON.
        place: Where it stands, for errors.
        fields: The roster's fields.

    Raises:
        WrongDefinition: It has not.
    """
    match kind_of(check, name):
        case "condition":
            check_condition(value, place, fields)
        case "texts":
            _require(_are_texts(value), place, "is a list of at least one text.")
        case "fields":
            _require(_are_texts(value), place, "names at least one field.")
            for one in value:
                _require(one in fields, place, f"there is no field {one!r}; {near(one, fields)}")
        case "number":
            _require(_is_number(value), place, "is a number from 0.")
        case "bands":
            right = isinstance(value, list) and bool(value) and all(map(_is_band, value))
            _require(right, place, "is a list of pairs of ages, such as [[16, 17], [18, 99]].")
        case "how":
            _require(isinstance(value, str) and value in HOWS, place, f"{value!r} is unknown; {near(str(value), HOWS)}")
        case "day":
            _require(is_day(value), place, "is a day such as 2026-09-01, or today.")
        case "rosters":
            right = isinstance(value, dict) and bool(value) and all(isinstance(one, str) for one in value.values())
            _require(right, place, 'is an object of rosters and their fields, such as {"staff": "mail"}.')
        case "list":
            _require(isinstance(value, str), place, "is the name of a code list.")
        case "flag":
            _require(isinstance(value, bool), place, f"is true or false, not {value!r}.")
        case other:
            raise AssertionError(f"an option of the kind {other} is checked by nobody")


def _require(is_right: bool, place: str, said: str) -> None:
    if not is_right:
        raise WrongDefinition(place, said)


def _are_texts(value: Any) -> bool:
    return isinstance(value, list) and bool(value) and all(isinstance(one, str) for one in value)


def _is_number(value: Any) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool) and value >= 0


def _is_band(value: Any) -> bool:
    if not isinstance(value, list) or len(value) != 2 or any(type(one) is not int for one in value):
        return False
    return bool(0 <= value[0] <= value[1])
