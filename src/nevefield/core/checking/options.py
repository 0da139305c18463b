"""What the options of declared checks are made of.

An option says its own kind, its words and an example. From that its reading and refusing, the
fields that a check looks at, its place in the editor, in the API's document and in `docs/checks.md`
follow; no other list of options is kept anywhere.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, assert_never

from nevefield.core.borders import Json
from nevefield.core.conditions import check_condition, fields_of, is_day
from nevefield.core.definition import Names
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Mapping

__all__ = ["Option", "OptionKind", "check_option", "names_in"]


class OptionKind(StrEnum):
    """What the value of an option is."""

    CONDITION = "condition"
    FIELDS = "fields"  # names of fields, one at least
    VALUES = "values"  # texts that a field can hold, one at least
    NUMBER = "number"  # from 0 on
    BANDS = "bands"  # pairs of whole years
    CHOICE = "choice"  # one of the option's choices
    DAY = "day"  # ISO 8601, or today
    ROSTERS = "rosters"  # a field by roster
    CODE_LIST = "code-list"  # its name
    FLAG = "flag"


@dataclass(frozen=True)
class Option:
    """One option of a check."""

    name: str
    kind: OptionKind
    words: str  # what it is, as the documents and the editor say it
    example: Json  # JSON that is right, for the fields of the check's own example
    label: str = ""  # in the editor; the name where it is left out
    is_needed: bool = False
    choices: tuple[str, ...] = ()


def check_option(option: Option, value: Json, place: str, fields: Collection[str]) -> None:
    """See that an option's value has the right form.

    Args:
        option: The option.
        value: Its JSON.
        place: Where it stands, for errors.
        fields: The roster's fields.

    Raises:
        WrongDefinition: It has not.
    """
    match option.kind:
        case OptionKind.CONDITION:
            check_condition(value, place, fields)
        case OptionKind.FIELDS:
            _require(_are_texts(value), place, "names at least one field.")
            for name in value:
                _require(name in fields, place, f"there is no field “{name}”; {near(name, fields)}")
        case OptionKind.VALUES:
            _require(_are_texts(value), place, "is a list of at least one text.")
        case OptionKind.NUMBER:
            _require(_is_number(value), place, "is a number from 0.")
        case OptionKind.BANDS:
            right = isinstance(value, list) and bool(value) and all(map(_is_band, value))
            _require(right, place, "is a list of pairs of ages, such as [[16, 17], [18, 99]].")
        case OptionKind.CHOICE:
            right = isinstance(value, str) and value in option.choices
            _require(right, place, f"“{value}” is unknown; {near(str(value), option.choices)}")
        case OptionKind.DAY:
            _require(is_day(value), place, "is a day such as 2026-09-01, or today.")
        case OptionKind.ROSTERS:
            right = (
                isinstance(value, dict)
                and bool(value)
                and all(isinstance(field, str) for field in value.values())
            )
            _require(
                right, place, 'is an object of rosters and their fields, such as {"staff": "mail"}.'
            )
        case OptionKind.CODE_LIST:
            _require(isinstance(value, str), place, "is the name of a code list.")
        case OptionKind.FLAG:
            _require(isinstance(value, bool), place, f"is true or false, not {value!r}.")
        case kind:
            assert_never(kind)


def names_in(options: Iterable[Option], values: Mapping[str, Json]) -> Names:
    """List what a declaration's options name.

    Args:
        options: The check's options, as the catalog describes them.
        values: What the declaration gives for them.
    """
    conditions: list[str] = []
    fields: list[str] = []
    lists: list[tuple[str, str]] = []
    rosters: list[tuple[str, str]] = []
    for option in options:
        value = values.get(option.name)
        if not value:
            continue
        match option.kind:
            case OptionKind.CONDITION:
                conditions += fields_of(value)
            case OptionKind.FIELDS:
                fields += value
            case OptionKind.CODE_LIST:
                lists.append((option.name, value))
            case OptionKind.ROSTERS:
                rosters += value.items()
            case (
                OptionKind.VALUES
                | OptionKind.NUMBER
                | OptionKind.BANDS
                | OptionKind.CHOICE
                | OptionKind.DAY
                | OptionKind.FLAG
            ):
                pass
            case kind:
                assert_never(kind)
    return Names(tuple(conditions), tuple(fields), tuple(lists), tuple(rosters))


def _require(is_right: bool, place: str, problem: str) -> None:
    if not is_right:
        raise WrongDefinition(place, problem)


def _are_texts(value: Json) -> bool:
    return isinstance(value, list) and bool(value) and all(isinstance(text, str) for text in value)


def _is_number(value: Json) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool) and value >= 0


def _is_band(value: Json) -> bool:
    if not isinstance(value, list) or len(value) != 2 or any(type(age) is not int for age in value):
        return False
    return bool(0 <= value[0] <= value[1])
