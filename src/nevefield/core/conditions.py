"""Conditions on a record: a sentence of field, comparison and value, joined by all and any; kept as
JSON.

    {"field": "campus", "is": "TSM"}                     {"field": "campus", "is": ["TSM", "CH"]}
    {"field": "campus", "not": "TSM"}                    {"field": "bursaries", "has": "KEEL"}
    {"field": "guardian", "filled": false}               {"field": "year", "least": 2, "most": 3}
    {"field": "medical_until", "from": "2026-09-01"}     {"field": "enrolled_to", "until": "today"}
    {"field": "born", "under": 18, "on": "2026-09-01"}   {"field": "born", "age": [16, 18], "on":
    "2026-09-01"} {"all": [...]}   {"any": [...]}   {"none": [...]}

`is` is the value in the roster's form; `has` one of several values; `least` and `most` are numbers,
`from` and `until` days, all inclusive, "today" the day of the evaluation; `under` and `age` count
whole years at the day `on` ("today" when left out).
"""

from __future__ import annotations

import re
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Json
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import SEVERAL, near

if TYPE_CHECKING:
    from collections.abc import Callable, Collection

    from numpy.typing import NDArray

    from nevefield.core.table import Column

__all__ = ["age_of", "age_on", "check_condition", "fields_of", "holds", "say_condition"]

JOINTS = ("all", "any", "none")
TESTS = ("is", "not", "has", "filled", "least", "most", "from", "until", "under", "age")
DEEPEST = 6  # conditions within conditions
_DAY = re.compile(r"\d{4}-\d\d-\d\d|today")


def is_day(value: Json) -> bool:
    """Tell whether something says a day: ISO 8601, one that there is, or today."""
    if not isinstance(value, str) or not _DAY.fullmatch(value):
        return False
    try:
        return value == "today" or bool(date.fromisoformat(value))
    except ValueError:
        return False


def check_condition(when: Json, place: str, names: Collection[str], depth: int = 0) -> None:
    """See that a condition can be understood.

    Args:
        when: Its JSON.
        place: Where it stands, for errors.
        names: The roster's fields.
        depth: How deep it stands in others.

    Raises:
        WrongDefinition: With the place and what would be right.
    """
    if not isinstance(when, dict) or depth > DEEPEST:
        raise WrongDefinition(
            place, 'is a JSON object such as {"field": "born", "under": 18, "on": "2026-09-01"}.'
        )
    joints = [name for name in JOINTS if name in when]
    if joints:
        (joint,) = joints[:1]
        if len(when) > 1 or not isinstance(when[joint], list) or not when[joint]:
            raise WrongDefinition(
                f"{place}.{joint}", "is a list of conditions, alone in its object."
            )
        for number, part in enumerate(when[joint]):
            check_condition(part, f"{place}.{joint}[{number}]", names, depth + 1)
        return
    for name in when:
        if name not in ("field", "on", *TESTS):
            raise WrongDefinition(f"{place}.{name}", near(name, ("field", "on", *TESTS, *JOINTS)))
    field = when.get("field", "")
    if not isinstance(field, str) or field not in names:
        raise WrongDefinition(
            f"{place}.field", f"there is no field “{field}”; {near(str(field), names)}"
        )
    tests = [name for name in TESTS if name in when]
    if not tests:
        raise WrongDefinition(place, f"needs a comparison: {', '.join(TESTS)}.")
    for name in tests:
        _check_test(name, when[name], f"{place}.{name}")
    if "on" in when and not is_day(when["on"]):
        raise WrongDefinition(f"{place}.on", "is a day such as 2026-09-01, or today.")


def _check_test(name: str, value: Json, place: str) -> None:
    number = isinstance(value, (int, float)) and not isinstance(value, bool)
    right = {
        "is": (
            isinstance(value, (str, bool))
            or (isinstance(value, list) and all(isinstance(item, str) for item in value))
        ),
        "not": (
            isinstance(value, (str, bool))
            or (isinstance(value, list) and all(isinstance(item, str) for item in value))
        ),
        "has": isinstance(value, str),
        "filled": isinstance(value, bool),
        "least": number,
        "most": number,
        "from": is_day(value),
        "until": is_day(value),
        "under": isinstance(value, int) and not isinstance(value, bool),
        "age": (
            isinstance(value, list)
            and len(value) == 2
            and all(isinstance(item, int) for item in value)
        ),
    }[name]
    if not right:
        words = {
            "is": "a value or a list of values",
            "not": "a value or a list of values",
            "has": "one value",
        }
        words |= {
            "filled": "true or false",
            "least": "a number",
            "most": "a number",
            "under": "a number of years",
        }
        words |= {
            "from": "a day such as 2026-09-01, or today",
            "until": "a day such as 2026-09-01, or today",
        }
        raise WrongDefinition(
            place, f"is {words.get(name, 'two numbers of years, such as [16, 18]')}."
        )


def fields_of(when: Json) -> tuple[str, ...]:
    """List the fields that a condition reads, each once, in their order."""
    for joint in JOINTS:
        if joint in when:
            return tuple(dict.fromkeys(name for part in when[joint] for name in fields_of(part)))
    return (str(when["field"]),)


def holds(when: Json, column: Callable[[str], Column], rows: int, today: date) -> NDArray[np.bool_]:
    """Tell for which rows a condition holds; it is worked out once for each distinct value.

    Args:
        when: The condition.
        column: Gives the stored values of a field by row.
        rows: How many there are.
        today: For "today".
    """
    for joint in JOINTS:
        if joint in when:
            parts = [holds(part, column, rows, today) for part in when[joint]]
            joined = np.logical_and.reduce(parts) if joint == "all" else np.logical_or.reduce(parts)
            return np.asarray(~joined if joint == "none" else joined)
    values = column(when["field"])
    right = np.array(
        [
            *(_holds_for(when, text, today) for text in values.texts()),
            _holds_for(when, None, today),
        ],
        bool,
    )
    return np.asarray(right[values.codes])


def _holds_for(when: Json, text: str | None, today: date) -> bool:
    on = today if when.get("on", "today") == "today" else date.fromisoformat(when["on"])
    return all(_TESTS[name](text, when[name], on, today) for name in TESTS if name in when)


def _same(text: str | None, wanted: Json) -> bool:
    listed = (
        wanted
        if isinstance(wanted, list)
        else [str(wanted).lower() if isinstance(wanted, bool) else wanted]
    )
    return text is not None and (
        text in listed or any(part in listed for part in text.split(SEVERAL))
    )


def _number(text: str | None) -> float:
    try:
        return float(text or "")
    except ValueError:
        return float("nan")  # compares as false, either way


def _day(text: str | None) -> date | None:
    try:
        return date.fromisoformat((text or "")[:10])
    except ValueError:
        return None


def _bound(wanted: str, today: date) -> date:
    return today if wanted == "today" else date.fromisoformat(wanted)


_TESTS: dict[str, Callable[[str | None, Json, date, date], bool]] = {
    "is": lambda text, wanted, on, today: _same(text, wanted),
    "not": lambda text, wanted, on, today: not _same(text, wanted),
    "has": lambda text, wanted, on, today: wanted in (text or "").split(SEVERAL),
    "filled": lambda text, wanted, on, today: (text is not None) == wanted,
    "least": lambda text, wanted, on, today: _number(text) >= wanted,
    "most": lambda text, wanted, on, today: _number(text) <= wanted,
    "from": lambda text, wanted, on, today: (
        (day := _day(text)) is not None and day >= _bound(wanted, today)
    ),
    "until": lambda text, wanted, on, today: (
        (day := _day(text)) is not None and day <= _bound(wanted, today)
    ),
    "under": lambda text, wanted, on, today: (
        (born := _day(text)) is not None and age_on(born, on) < wanted
    ),
    "age": lambda text, wanted, on, today: (
        (born := _day(text)) is not None and wanted[0] <= age_on(born, on) <= wanted[1]
    ),
}


def age_of(text: str, day: date) -> int:
    """Return how old somebody born on a day as stored is on another; -1 when the text is no day."""
    born = _day(text[:10])
    return -1 if born is None else age_on(born, day)


def age_on(born: date, day: date) -> int:
    """Count the whole years of somebody's age on a day.

    >>> age_on(date(2008, 9, 2), date(2026, 9, 1))
    17
    """
    return day.year - born.year - ((day.month, day.day) < (born.month, born.day))


def say_condition(
    when: Json,
    title: Callable[[str], str],
    label: Callable[[str, str], str] = lambda name, text: text,
) -> str:
    """Word a condition: "Campus is TSM and Born is under 18 on 2026-09-01".

    Args:
        when: The condition.
        title: Names a field.
        label: Names a value of a field.
    """
    for joint in JOINTS:
        if joint in when:
            messages = [say_condition(part, title, label) for part in when[joint]]
            messages = [
                f"({text})" if " and " in text or " or " in text else text for text in messages
            ]
            return (
                f"none of {', '.join(messages)}"
                if joint == "none"
                else f" {'and' if joint == 'all' else 'or'} ".join(messages)
            )
    on = f" on {when['on']}" if "on" in when else ""

    def listed(value: Json) -> str:
        texts = value if isinstance(value, list) else [value]
        return " or ".join(label(when["field"], str(text)) for text in texts)

    words: dict[str, Callable[[Json], str]] = {
        "is": lambda value: f"is {listed(value)}",
        "not": lambda value: f"is not {listed(value)}",
        "has": lambda value: f"has {listed(value)}",
        "filled": lambda value: "is filled" if value else "is empty",
        "least": lambda value: f"is at least {value}",
        "most": lambda value: f"is at most {value}",
        "from": lambda value: f"is {value} or later",
        "until": lambda value: f"is {value} or earlier",
        "under": lambda value: f"is under {value}{on}",
        "age": lambda value: f"is {value[0]} to {value[1]} years old{on}",
    }
    return f"{title(when['field'])} " + " and ".join(
        words[name](when[name]) for name in TESTS if name in when
    )
