"""Parts of a roster: the records for which a condition holds, by which rights are given.

A part is the same on every day: its condition knows no "today". Where the definition has no field
any more that it reads, nobody is in it.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Json
from nevefield.core.conditions import JOINTS, check_condition, fields_of, holds
from nevefield.core.errors import WrongDefinition
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot

__all__ = ["check_part", "in_part", "is_in_part", "one_value", "take_part"]

NO_DAY = date.min  # for "today", which no part knows


def check_part(when: Json, place: str, definition: Definition) -> None:
    """See that a condition can be a part of a roster.

    Raises:
        WrongDefinition: It cannot be understood, holds on some days only, or rests on a field that
            is kept from some: who has the part would know what stands there.
    """
    check_condition(when, place, definition.by_name)
    if hidden := [name for name in fields_of(when) if definition.by_name[name].sensitive]:
        raise WrongDefinition(
            place,
            f"rests on {definition.title_of(hidden[0])}, which is a sensitive field; who has the"
            " part would know what stands there. Take another field.",
        )
    if _is_of_a_day(when):
        raise WrongDefinition(
            place,
            "holds on some days only, and a part is the same every day; name a day in place of"
            " today.",
        )


def _is_of_a_day(when: Json) -> bool:
    for joint in JOINTS:
        if joint in when:
            return any(_is_of_a_day(one) for one in when[joint])
    ages = ("under" in when or "age" in when) and when.get("on", "today") == "today"
    return ages or "today" in (when.get("from"), when.get("until"))


def in_part(
    when: Json, names: Collection[str], column: Callable[[str], Column], rows: int
) -> NDArray[np.bool_]:
    """Tell which records are in a part.

    Args:
        when: Its condition.
        names: The roster's fields.
        column: Gives the stored values of a field by record.
        rows: How many records there are.
    """
    if any(name not in names for name in fields_of(when)):
        return np.zeros(rows, bool)
    return holds(when, column, rows, NO_DAY)


def is_in_part(
    when: Json, names: Collection[str], contents: Sequence[Mapping[str, Json]]
) -> NDArray[np.bool_]:
    """Tell which of some records, as JSON objects, are in a part."""

    def column(name: str) -> Column:
        values = [content.get(name) for content in contents]
        return Column.of(
            [SEVERAL.join(value) if isinstance(value, list) else value for value in values]
        )

    return in_part(when, names, column, len(contents))


def take_part(snapshot: Snapshot, when: Json) -> Snapshot:
    """Take the records that are in a part of a roster; those beyond it stay reachable as `beyond`,
    so that a value of theirs is not given twice.
    """
    columns = snapshot.columns
    inside = in_part(when, columns, columns.__getitem__, len(snapshot))
    beyond = _take(snapshot, np.flatnonzero(~inside))
    return replace(_take(snapshot, np.flatnonzero(inside)), part=when, beyond=beyond)


def _take(snapshot: Snapshot, records: NDArray[np.intp]) -> Snapshot:
    """Keep some records, and no value that none of them has."""
    taken = snapshot.take(records)
    return replace(taken, columns={name: column.used() for name, column in taken.columns.items()})


def one_value(when: Json) -> tuple[str, str] | None:
    """Give the field and the value of a part that is one value of one field; None of others.

    >>> one_value({"field": "campus", "is": ["CH"]}), one_value({"field": "year", "least": 2})
    (('campus', 'CH'), None)
    """
    wanted = when.get("is")
    values = wanted if isinstance(wanted, list) else [wanted]
    if set(when) == {"field", "is"} and len(values) == 1 and isinstance(values[0], str):
        return str(when["field"]), values[0]
    return None
