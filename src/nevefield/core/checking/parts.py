"""What goes beyond the part of a roster that a file is for: rows that would stand outside of it,
and values that somebody outside has.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Hit
from nevefield.core.conditions import fields_of, say_condition
from nevefield.core.parts import in_part, one_value
from nevefield.core.table import Column

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.borders import Json
    from nevefield.core.checking.facts import Facts
    from nevefield.core.snapshot import Snapshot

__all__ = ["check_part"]


def check_part(facts: Facts) -> list[Hit]:
    """Stop rows that would stand outside of the part that the file is for, and those with a
    unique value of somebody outside of it, who is not named. Of each row one of them is told.
    """
    snapshot = facts.snapshot
    if snapshot.part is None:
        return []
    hits = [*_check_lacking(facts, snapshot.part), *_check_outside(facts, snapshot.part)]
    told = np.zeros(len(facts), bool)
    for hit in hits:
        told[hit.rows] = True
    return [*hits, *_check_taken(facts, snapshot.beyond, told)]


def _outside(facts: Facts, when: Json) -> NDArray[np.bool_]:
    """Tell which rows would stand outside of a part; those with a value problem in what it reads
    are passed over.
    """
    outside = ~in_part(when, facts.definition.by_name, facts.stored, len(facts)) & ~facts.aside
    for name in fields_of(when):
        outside &= ~facts.problem(name)
    return outside


def _check_lacking(facts: Facts, when: Json) -> list[Hit]:
    """Ask for the one value that everybody of the part has, where somebody new has none."""
    wanted = one_value(when)
    if wanted is None or wanted[0] not in facts.definition.by_name:
        return []
    name, value = wanted
    rows = np.flatnonzero(_outside(facts, when) & (facts.stored(name).codes < 0))
    if not len(rows):
        return []
    title = f"{facts.title(name)} is missing, and is {value} in the part that this file is for"
    return [
        Hit(
            "outside-part",
            name,
            (name,),
            "stop",
            rows,
            title,
            f"{title}.",
            suggestions=(value,),
            group="missing",
        )
    ]


def _check_outside(facts: Facts, when: Json) -> list[Hit]:
    outside, wanted = _outside(facts, when), one_value(when)
    if wanted is not None and wanted[0] in facts.definition.by_name:
        outside &= facts.stored(wanted[0]).codes >= 0
    rows = np.flatnonzero(outside)
    if not len(rows):
        return []
    words = say_condition(when, facts.title, partial(_label, facts))
    message = (
        f"This would stand outside of the part of the roster that the file is for: {words}. Leave"
        " it out, or let somebody take it in who has all of the roster."
    )
    title = f"Outside of the part that this file is for: {words}"
    names = tuple(name for name in fields_of(when) if name in facts.definition.by_name)
    return [Hit("outside-part", None, names, "stop", rows, title, message, group="outside")]


def _label(facts: Facts, name: str, text: str) -> str:
    field = facts.definition.by_name.get(name)
    listed = facts.codes.get(field.code_list) if field is not None else None
    code = listed.by_code.get(text) if listed is not None else None
    return code.label or text if code is not None else text


def _check_taken(facts: Facts, beyond: Snapshot | None, told: NDArray[np.bool_]) -> list[Hit]:
    if beyond is None or not len(beyond):
        return []
    definition = facts.definition
    singles = [(field.name,) for field in definition.fields if field.unique]
    keys = dict.fromkeys([definition.primary_key, *singles, *definition.unique_keys])
    hits = []
    for key in keys:
        if not key or not any(name in facts.typed for name in key):
            continue
        rows = _rows_with(facts, beyond, key)
        rows = rows[~told[rows]]
        if not len(rows):
            continue
        told[rows] = True
        titles = " and ".join(facts.title(name) for name in key)

        def say(row: int, key: tuple[str, ...] = key, titles: str = titles) -> str:
            value = " ".join(facts.text(row, name) for name in key)
            return (
                f"{titles} “{value}” belongs to somebody outside of the part that this file is"
                " for. Ask somebody who has all of the roster."
            )

        title = f"{titles} belongs to somebody outside of the part"
        group = "/".join(key)
        hits.append(Hit("taken-outside", key[-1], key, "stop", rows, title, say, group=group))
    return hits


def _rows_with(facts: Facts, beyond: Snapshot, key: tuple[str, ...]) -> NDArray[np.intp]:
    """Find the rows whose values of a key somebody beyond has."""
    wrong = facts.aside.copy()
    for name in key:
        wrong |= facts.problem(name)
    ours = []
    for name in key:
        if name in facts.folded:
            ours.append(facts.folded[name])
        else:  # the file does not fill it: the record's own value stands there
            ours.append(_of_records(facts, name))
    theirs = [beyond.folded(name) for name in key]
    found = ~wrong
    for mine in ours:
        found &= mine.codes >= 0
    for mine, other in zip(ours, theirs, strict=True):
        found &= mine.place(other) >= 0
    rows = np.flatnonzero(found)
    if len(key) == 1 or not len(rows):
        return rows
    everybody = np.arange(len(beyond))
    taken = set(zip(*(column.rows(everybody) for column in theirs), strict=True))
    wanted = zip(*(column.rows(rows) for column in ours), strict=True)
    return np.array([row for row, one in zip(rows, wanted, strict=True) if one in taken], np.intp)


def _of_records(facts: Facts, name: str) -> Column:
    column, record = facts.snapshot.folded(name), facts.known.record
    codes = np.where(record >= 0, column.codes[record] if len(column) else -1, -1)
    return Column(column.values, codes.astype(np.int32))
