"""Checks of single cells: what reading the values found, and required fields."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.columns.values import SEVERAL
from nevefield.core.people.recognising import ASKED

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Problem, Typed

__all__ = ["check_required", "check_values", "note_repairs"]

MOST_GROUPS = 60  # causes of one field; above it single texts are no longer told apart
MANY = "many"
MOST_LOOKED_UP = 2_000  # rows of a cause for which the roster's own values are looked up
_REPAIRS = {
    "spaces": "spaces taken out",
    "case": "case put right",
    "zeros": "leading zeros given back",
    "day": "days read",
    "number": "numbers read",
    "label": "names read as codes",
    "letters": "letters put right",
    "quotes": "quotation marks made plain",
    "cut": "may have been cut off",
}
_ORDERS = {"dmy": "days read, day before month", "mdy": "days read, month before day"}


def check_values(facts: Facts) -> list[Hit]:
    """Report texts that are no value of their field: one hit for each group of texts that one remedy would settle."""
    hits: list[Hit] = []
    for name, typed in facts.typed.items():
        if typed.problems:
            found = facts.memo.get(("wrong", name), (typed,), partial(_check_column, name, typed))
            of = (found, facts.known, facts.snapshot)
            hits += facts.memo.get(("own", name), of, partial(_with_all_own_values, facts, name, found))
    return hits


def _with_all_own_values(facts: Facts, name: str, hits: list[Hit]) -> list[Hit]:
    return [_with_own_values(facts, name, hit) for hit in hits]


def _with_own_values(facts: Facts, name: str, hit: Hit) -> Hit:
    """Suggest what the roster has for rows that are known by another key; beside another likely value, both are shown."""
    if hit.suggestions or len(hit.rows) > MOST_LOOKED_UP or name not in facts.snapshot.columns:
        return hit
    known = hit.rows[facts.known.record[hit.rows] >= 0]
    theirs = facts.snapshot.columns[name].rows(facts.known.record[known]) if len(known) else []
    own = {row: text for row, text in zip(known.tolist(), theirs, strict=True) if text and SEVERAL not in text}
    if not own:
        return hit
    suggestions = dict(hit.row_suggestions)
    for row, text in own.items():
        suggestions[row] = tuple(dict.fromkeys((text, *suggestions.get(row, ()))))[:3]
    return replace(hit, row_suggestions=suggestions)


def _check_column(name: str, typed: Typed) -> list[Hit]:
    hits: list[Hit] = []
    wrong = np.flatnonzero(typed.problem_rows())
    if not len(wrong):
        return hits  # texts that were edited away
    codes_there = typed.raw.codes[wrong]
    order = np.argsort(codes_there, kind="stable")
    wrong, codes_there = wrong[order], codes_there[order]
    found, starts = np.unique(codes_there, return_index=True)
    stops = np.append(starts[1:], len(codes_there))
    rows_of = {int(code): wrong[start:stop] for code, start, stop in zip(found, starts, stops, strict=True)}
    for (check, group), codes in _group(typed, rows_of).items():
        rows = np.sort(np.concatenate([rows_of[code] for code in codes]))
        codes.sort(key=lambda code: -len(rows_of[code]))
        hits.append(_hit(name, check, group, typed, codes, rows))
    return hits


def _group(typed: Typed, rows_of: Mapping[int, NDArray[np.intp]]) -> dict[tuple[str, str], list[int]]:
    """Group wrong texts by what settles them; of a field with very many groups, those of one text each become one."""
    groups: dict[tuple[str, str], list[int]] = {}
    for code, problem in typed.problems.items():
        if code in rows_of:
            groups.setdefault((problem.check, problem.group), []).append(code)
    if len(groups) <= MOST_GROUPS:
        return groups
    merged: dict[tuple[str, str], list[int]] = {}
    for (check, group), codes in groups.items():
        is_alone = len(typed.problems[codes[0]].suggestions) != 1
        merged.setdefault((check, MANY if is_alone else group), []).extend(codes)
    return merged


def _hit(name: str, check: str, group: str, typed: Typed, codes: list[int], rows: NDArray[np.intp]) -> Hit:
    problems = typed.problems
    first = problems[codes[0]]
    raw = typed.raw
    many = group == MANY
    row_suggestions: dict[int, tuple[str, ...]] = {}
    if not first.shared:
        found = ((row, problems[int(raw.codes[row])].suggestions) for row in rows.tolist())
        row_suggestions = {row: suggestions for row, suggestions in found if suggestions}
    return Hit(
        check,
        name,
        (name,),
        "stop",
        rows,
        f"{typed.field.title}: {len(codes)} texts that it cannot hold" if many else _title(typed, first, codes),
        lambda row: problems[int(raw.codes[row])].message,
        group=group,
        texts=tuple(raw.values.take(codes).to_pylist()),
        suggestions=first.suggestions if first.shared and not many else (),
        row_suggestions=row_suggestions,
    )


def _title(typed: Typed, first: Problem, codes: list[int]) -> str:
    if first.shared and len(first.suggestions) == 1 and len(codes) > 1:
        folded = {text.casefold().replace(".", "").strip() for text in typed.raw.values.take(codes).to_pylist()}
        if len(folded) > 1:
            return f"{typed.field.title} spelt another way"
    return first.title


def note_repairs(facts: Facts) -> list[Hit]:
    """Note what was mended with certainty: one hit for each field and kind of repair."""
    hits: list[Hit] = []
    for name, typed in facts.typed.items():
        if typed.repairs:
            hits += facts.memo.get(("mended", name), (typed,), partial(_note_column, name, typed))
    return hits


def _note_column(name: str, typed: Typed) -> list[Hit]:
    hits: list[Hit] = []
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


def _empty_rows(typed: Typed) -> NDArray[np.intp]:
    return np.flatnonzero((typed.stored.codes < 0) & ~typed.problem_rows())


def _is_asked(facts: Facts) -> NDArray[np.bool_]:
    """Tell which rows somebody must say of who they are: before that it is not known whether they lack anything."""
    return facts.people.decision == ASKED if facts.people is not None else np.zeros(len(facts), bool)


def check_required(facts: Facts) -> list[Hit]:
    """Report required fields that are empty; a field that the file does not fill at all is missed only by new rows."""
    hits: list[Hit] = []
    for one in facts.definition.fields:
        if not one.required:
            continue
        typed = facts.typed.get(one.name)
        if typed is None:
            rows = np.flatnonzero((facts.known.record < 0) & ~_is_asked(facts))
            said = f"{one.title} is required, and no column of the file goes to it."
            title = f"No column for {one.title}"
        else:
            rows = facts.memo.get(("empty", one.name), (typed,), partial(_empty_rows, typed))
            if one.name in facts.definition.primary_key:
                rows = rows[~_is_asked(facts)[rows]]
            said = f"{one.title} is required and empty."
            title = f"{one.title} is missing"
        if len(rows):
            hits.append(Hit("required", one.name, (one.name,), "stop", rows, title, said))
    return hits
