"""Checks of single cells: what reading the values found, and required fields."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit

if TYPE_CHECKING:
    from nevefield.core.columns.values import Problem, Typed

__all__ = ["check_required", "check_values", "note_repairs"]

_REPAIRS = {
    "spaces": "spaces taken out",
    "case": "case put right",
    "zeros": "leading zeros given back",
    "day": "days read",
    "number": "numbers read",
    "label": "names read as codes",
}
_ORDERS = {"dmy": "days read, day before month", "mdy": "days read, month before day"}


def check_values(facts: Facts) -> list[Hit]:
    """Report texts that are no value of their field: one hit for each group of texts that one remedy would settle."""
    hits: list[Hit] = []
    for name, typed in facts.typed.items():
        groups: dict[tuple[str, str], list[int]] = {}
        for code, problem in typed.problems.items():
            groups.setdefault((problem.check, problem.group), []).append(code)
        for (check, group), codes in groups.items():
            rows = np.flatnonzero(np.isin(typed.raw.codes, codes))
            if len(rows):
                hits.append(_hit(name, check, group, typed, codes, rows))
    return hits


def _hit(name: str, check: str, group: str, typed: Typed, codes: list[int], rows: np.ndarray) -> Hit:
    problems = {code: typed.problems[code] for code in codes}
    counts = np.bincount(typed.raw.codes[rows])
    codes = sorted(codes, key=lambda code: -int(counts[code]) if code < len(counts) else 0)
    first = problems[codes[0]]
    raw = typed.raw
    if first.shared and len(first.suggestions) > 1:
        row_suggestions: dict[int, tuple[str, ...]] = {}
    else:
        row_suggestions = {
            int(row): problems[int(raw.codes[row])].suggestions
            for row in rows
            if not first.shared and problems[int(raw.codes[row])].suggestions
        }
    return Hit(
        check,
        name,
        (name,),
        "stop",
        rows,
        _title(typed, first, codes),
        lambda row: problems[int(raw.codes[row])].message,
        group=group,
        texts=tuple(raw.texts()[code] for code in codes),
        suggestions=first.suggestions if first.shared else (),
        row_suggestions=row_suggestions,
    )


def _title(typed: Typed, first: Problem, codes: list[int]) -> str:
    if first.shared and len(first.suggestions) == 1 and len(codes) > 1:
        folded = {typed.raw.texts()[code].casefold().replace(".", "").strip() for code in codes}
        if len(folded) > 1:
            return f"{typed.field.title} spelt another way"
    return first.title


def note_repairs(facts: Facts) -> list[Hit]:
    """Note what was mended with certainty: one hit for each field and kind of repair."""
    hits: list[Hit] = []
    for name, typed in facts.typed.items():
        kinds: dict[str, list[int]] = {}
        for code, repair in typed.repairs.items():
            kinds.setdefault(repair.kind, []).append(code)
        for kind, codes in kinds.items():
            rows = np.flatnonzero(np.isin(typed.raw.codes, codes))
            if not len(rows):
                continue
            said = _ORDERS.get(typed.order, _REPAIRS[kind]) if kind == "day" else _REPAIRS[kind]
            hits.append(
                Hit(
                    "repaired",
                    name,
                    (name,),
                    "note",
                    rows,
                    f"{typed.field.title}: {said}",
                    lambda row, typed=typed: typed.repairs[int(typed.raw.codes[row])].message,  # type: ignore[misc]
                    group=kind,
                    repair=kind,
                )
            )
    return hits


def check_required(facts: Facts) -> list[Hit]:
    """Report required fields that are empty; a field that the file does not fill at all is missed only by new rows."""
    hits: list[Hit] = []
    for one in facts.definition.fields:
        if not one.required:
            continue
        typed = facts.typed.get(one.name)
        if typed is None:
            rows = np.flatnonzero(facts.known.record < 0)
            said = f"{one.title} is required, and no column of the file goes to it."
            title = f"No column for {one.title}"
        else:
            rows = np.flatnonzero((typed.stored.codes < 0) & ~typed.problem_rows())
            said = f"{one.title} is required and empty."
            title = f"{one.title} is missing"
        if len(rows):
            hits.append(Hit("required", one.name, (one.name,), "stop", rows, title, said))
    return hits
