"""Checks within a row: order, required when, home area, a code under its parent."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.columns.days import say_day
from nevefield.core.columns.values import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable

    from numpy.typing import NDArray

    from nevefield.core.definition import Check, Field
    from nevefield.core.table import Column

__all__ = ["check_declared", "check_parents"]


def check_declared(facts: Facts) -> list[Hit]:
    """Run the definition's own checks, in their order."""
    run: dict[str, Callable[[Facts, Check], list[Hit]]] = {
        "order": _check_order,
        "required-when": _check_required_when,
        "home-area": _check_home_area,
    }
    return [hit for check in facts.definition.checks for hit in run[check.check](facts, check)]


def _stored(facts: Facts, name: str) -> Column:
    """Return a field's values by row: the file's, or those of the rows' records where the file does not fill it."""
    if name in facts.typed:
        return facts.typed[name].stored
    column = facts.snapshot.columns[name]
    record = facts.known.record
    codes = np.where(record >= 0, column.codes[record] if len(column) else -1, -1).astype(np.int32)
    return type(column)(column.values, codes)


def _numbers(one: Field, column: Column) -> NDArray[np.float64]:
    """Bring days and numbers to numbers that compare as they do; NaN where nothing (or no value) stands."""
    read = np.array([_number(one, text) for text in column.texts()] or [np.nan], np.float64)
    return np.where(column.codes >= 0, read[column.codes], np.nan)


def _number(one: Field, text: str) -> float:
    try:
        if one.type in ("date", "datetime"):
            return date.fromisoformat(text[:10]).toordinal() + (
                (int(text[11:13]) * 3600 + int(text[14:16]) * 60 + int(text[17:19])) / 86400 if len(text) > 10 else 0
            )
        return float(text)
    except ValueError:
        return float("nan")


def _check_order(facts: Facts, check: Check) -> list[Hit]:
    """No field may hold a later day or greater number than the one named after it; empty ones are passed over."""
    names = check.fields
    if not any(name in facts.typed for name in names):
        return []
    last = np.full(len(facts), np.nan)
    broken = np.zeros(len(facts), bool)
    for name in names:
        column = _stored(facts, name)
        one = facts.definition.by_name[name]
        numbers = np.where(facts.problem(name), np.nan, _numbers(one, column))
        with np.errstate(invalid="ignore"):
            broken |= last > numbers
        last = np.where(np.isnan(numbers), last, numbers)
    rows = np.flatnonzero(broken)
    if not len(rows):
        return []
    titles = [facts.title(name) for name in names]

    def say(row: int) -> str:
        told = [
            f"{title} ({_show(value)})" for title, name in zip(titles, names, strict=True) if (value := facts.value(row, name))
        ]
        return f"{told[-1]} is {word} {' and '.join(told[:-1])}."

    word = "before" if facts.definition.by_name[names[0]].type in ("date", "datetime") else "less than"
    title = f"{titles[-1]} is {word} {titles[0]}"
    return [Hit("order", names[-1], names, check.weight, rows, title, say, group="/".join(names))]


def _show(value: str) -> str:
    try:
        return say_day(date.fromisoformat(value[:10]))
    except ValueError:
        return value


def _check_required_when(facts: Facts, check: Check) -> list[Hit]:
    when = check.options["when"]
    needed = _condition(facts, when)
    hits = []
    for name in check.fields:
        empty = (_stored(facts, name).codes < 0) & ~facts.problem(name)
        rows = np.flatnonzero(needed & empty)
        if len(rows):
            why = _say_condition(facts, when)
            said = f"{facts.title(name)} is required {why}."
            title = f"{facts.title(name)} missing, {why.removeprefix('when ')}"
            hits.append(Hit(check.check, name, (when["field"], name), check.weight, rows, title, said, group=str(when)))
    return hits


def _condition(facts: Facts, when: dict[str, Any]) -> NDArray[np.bool_]:
    column = _stored(facts, when["field"])
    fits = [_fits(text, when) for text in column.texts()]
    table = np.array([*fits, False], bool)
    return table[column.codes] & (column.codes >= 0) & ~facts.problem(when["field"])


def _fits(text: str, when: dict[str, Any]) -> bool:
    if "is" in when:
        return str(when["is"]) in text.split(SEVERAL)
    try:
        born, on = date.fromisoformat(text), date.fromisoformat(when["on"])
    except ValueError:
        return False
    return on.year - born.year - ((on.month, on.day) < (born.month, born.day)) < int(when["under"])


def _say_condition(facts: Facts, when: dict[str, Any]) -> str:
    if "is" in when:
        return f"when {facts.title(when['field'])} is {when['is']}"
    return f"when under {when['under']} on {when['on']}"


def _check_home_area(facts: Facts, check: Check) -> list[Hit]:
    """Ask about values outside the home area."""
    hits = []
    within = set(check.options["within"])
    for name in check.fields:
        if name not in facts.typed:
            continue
        column = facts.typed[name].stored
        outside = [code for code, text in enumerate(column.texts()) if text not in within]
        rows = np.flatnonzero(np.isin(column.codes, outside) & ~facts.problem(name))
        if len(rows):
            title = f"{facts.title(name)} outside the home area"
            said = f"{title}; it can go in with a reason."
            hits.append(Hit(check.check, name, (name,), check.weight, rows, title, said))
    return hits


def check_parents(facts: Facts) -> list[Hit]:
    """Check that a code's parent is the value of the field that the definition names."""
    hits = []
    for one in facts.definition.fields:
        if not one.parent or (one.name not in facts.typed and one.parent not in facts.typed):
            continue
        child, parent = _stored(facts, one.name), _stored(facts, one.parent)
        codes = facts.codes[one.code_list].by_code
        fine = ~(facts.problem(one.name) | facts.problem(one.parent)) & (child.codes >= 0) & (parent.codes >= 0)
        parents = {text: code for code, text in enumerate(parent.texts())}
        for code, text in enumerate(child.texts()):
            wanted = codes[text].parent if text in codes else ""
            if not wanted:
                continue
            right = parents.get(wanted, -1)
            rows = np.flatnonzero(fine & (child.codes == code) & (parent.codes != right))
            if len(rows):
                title = f"{text} does not belong to this {facts.title(one.parent).lower()}"
                said = f"{one.title} {text} belongs to {wanted}, not to this row's {facts.title(one.parent)}."
                hits.append(Hit("parent", one.name, (one.parent, one.name), "stop", rows, title, said, group=text))
    return hits
