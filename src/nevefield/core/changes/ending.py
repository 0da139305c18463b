"""Privileges that are let in until a day: what is to be taken out again, of whom, and when."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.changes.many import Act
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from datetime import date

    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Evaluation

__all__ = ["End", "act_of", "find_ends"]


@dataclass(frozen=True)
class End:
    """The last day of something that rows gain."""

    day: date
    field: str
    codes: tuple[str, ...]
    rows: tuple[int, ...]


def find_ends(evaluation: Evaluation) -> list[End]:
    """List what goes in with an end day, by day, field and codes; rows that do not go in are
    left out.
    """
    ends = evaluation.decisions.ends
    found: dict[tuple[date, str, tuple[str, ...]], list[int]] = defaultdict(list)
    for cause in evaluation.causes if ends else ():
        hit = cause.hit
        if hit.check != "raised" or hit.field is None:
            continue
        for row in hit.rows.tolist():
            day = ends.get((hit.field, int(evaluation.table.lines[row])))
            if day is not None and evaluation.going[row]:
                found[day, hit.field, tuple(hit.group.split(SEVERAL))].append(row)
    return [
        End(day, name, codes, tuple(rows)) for (day, name, codes), rows in sorted(found.items())
    ]


def act_of(definition: Definition, field: str, codes: list[str]) -> Act:
    """Say what takes codes out again: of several values these, of one value the lowest takes its
    place.
    """
    one = definition.by_name[field]
    if one.several:
        return Act(field, "take", one.several.join(codes))
    lowest = next(
        check.options["lowest"]
        for check in definition.checks
        if check.check == "raised" and field in check.fields
    )
    return Act(field, "set", lowest[0]) if lowest else Act(field, "blank")
