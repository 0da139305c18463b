"""Checks of single cells: what reading the values found, and required fields."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises, Rows
from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.edits.trail import NO_ROWS, has_any, put_in
from nevefield.core.people.recognising import ASKED
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.outcome import Problem
    from nevefield.core.columns.values import Typed

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
    "apostrophe": "apostrophes for spreadsheets taken off",
}
_ORDERS = {"dmy": "days read, day before month", "mdy": "days read, month before day"}


def check_values(facts: Facts) -> list[Hit]:
    """Report texts that are no value of their field: one hit for each group of texts that one
    remedy would settle.
    """
    hits: list[Hit] = []
    for name, typed in facts.typed.items():
        if typed.problems:
            hits += _own_values(facts, name, _wrong_cells(facts, name, typed))
    return hits


def _wrong_cells(facts: Facts, name: str, typed: Typed) -> list[Hit]:
    def again(before: list[Hit], rows: NDArray[np.intp], was: Premises) -> list[Hit]:
        then, now = _problems_at(was[0], rows), _problems_at(typed, rows)
        touched = {
            (problem.check, problem.group) for problem in (*then, *now) if problem is not None
        }
        if not touched:
            return before
        hits = {(hit.check, hit.group): hit for hit in before}
        if len(hits.keys() | touched) > MOST_GROUPS or any(hit.group == MANY for hit in before):
            return _check_column(name, typed)
        for check, group in touched:
            had = hits.pop((check, group), None)
            there = [
                problem is not None and (problem.check, problem.group) == (check, group)
                for problem in now
            ]
            mended = put_in(
                had.rows if had is not None else NO_ROWS, rows, rows[np.array(there, bool)]
            )
            if len(mended):
                hits[check, group] = _hit(
                    name, check, group, typed, _by_count(typed, mended), mended
                )
        return list(hits.values())

    wrong_cells: list[Hit] = facts.memo.mend(
        ("wrong", name), (typed,), lambda: _check_column(name, typed), again
    )
    return wrong_cells


def _problems_at(typed: Typed, rows: NDArray[np.intp]) -> list[Problem | None]:
    return [typed.problems.get(code) for code in typed.raw.codes[rows].tolist()]


def _by_count(typed: Typed, rows: NDArray[np.intp]) -> list[int]:
    """List the texts of wrong rows by code, those of most rows first, else as they were met."""
    codes, counts = np.unique(typed.raw.codes[rows], return_counts=True)
    count = dict(zip(codes.tolist(), counts.tolist(), strict=True))
    return sorted((code for code in typed.problems if code in count), key=lambda code: -count[code])


def _own_values(facts: Facts, name: str, hits: list[Hit]) -> list[Hit]:
    """Suggest the roster's own values; where a few rows are somebody else than before, for their
    hits alone.
    """

    def again(before: list[Hit], rows: NDArray[np.intp], _: Premises) -> list[Hit]:
        if not facts.problem(name)[rows].any():
            return before
        return [
            (
                _with_own_values(facts, name, hit, hit.rows[np.isin(hit.rows, rows)], had)
                if has_any(hit.rows, rows)
                else had
            )
            for hit, had in zip(hits, before, strict=True)
        ]

    def make() -> list[Hit]:
        return [_with_own_values(facts, name, hit, hit.rows, hit) for hit in hits]

    own_values: list[Hit] = facts.memo.mend(
        ("own", name), (hits, facts.known, facts.snapshot), make, again
    )
    return own_values


def _with_own_values(facts: Facts, name: str, hit: Hit, rows: NDArray[np.intp], had: Hit) -> Hit:
    """Suggest what the roster has for rows that are known by another key; beside another likely
    value, both are shown.

    Args:
        facts: What the checks look at.
        name: The field.
        hit: As found.
        rows: Of it that are looked at.
        had: The hit with what was suggested for the others.
    """
    if hit.suggestions or len(hit.rows) > MOST_LOOKED_UP or name not in facts.snapshot.columns:
        return hit
    record = facts.known.record[rows]
    known = rows[record >= 0]
    own = (
        dict(
            zip(known.tolist(), facts.snapshot.columns[name].rows(record[record >= 0]), strict=True)
        )
        if len(known)
        else {}
    )
    suggestions = {
        **had.row_suggestions,
        **{row: hit.row_suggestions.get(row, ()) for row in rows.tolist()},
    }
    for row, text in own.items():
        if text and SEVERAL not in text:
            suggestions[row] = tuple(dict.fromkeys((text, *suggestions[row])))[:3]
    return replace(hit, row_suggestions={row: texts for row, texts in suggestions.items() if texts})


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
    rows_of = {
        int(code): wrong[start:stop] for code, start, stop in zip(found, starts, stops, strict=True)
    }
    for (check, group), codes in _group(typed, rows_of).items():
        rows = np.sort(np.concatenate([rows_of[code] for code in codes]))
        codes.sort(key=lambda code: -len(rows_of[code]))
        hits.append(_hit(name, check, group, typed, codes, rows))
    return hits


def _group(
    typed: Typed, rows_of: Mapping[int, NDArray[np.intp]]
) -> dict[tuple[str, str], list[int]]:
    """Group wrong texts by what settles them; of a field with very many groups, those of one
    text each become one.
    """
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


def _hit(
    name: str, check: str, group: str, typed: Typed, codes: list[int], rows: NDArray[np.intp]
) -> Hit:
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
        (
            f"{typed.field.title}: {len(codes)} texts that it cannot hold"
            if many
            else _title(typed, first, codes)
        ),
        lambda row: problems[int(raw.codes[row])].message,
        group=group,
        texts=tuple(raw.values.take(codes).to_pylist()),
        suggestions=first.suggestions if first.shared and not many else (),
        row_suggestions=row_suggestions,
    )


def _title(typed: Typed, first: Problem, codes: list[int]) -> str:
    if first.shared and len(first.suggestions) == 1 and len(codes) > 1:
        folded = {
            text.casefold().replace(".", "").strip()
            for text in typed.raw.values.take(codes).to_pylist()
        }
        if len(folded) > 1:
            return f"{typed.field.title} spelt another way"
    return first.title


def note_repairs(facts: Facts) -> list[Hit]:
    """Note what was mended with certainty: one hit for each field and kind of repair."""
    hits: list[Hit] = []
    for name, typed in facts.typed.items():
        if typed.repairs:
            hits += _note_repairs(facts, name, typed)
    return hits


def _note_repairs(facts: Facts, name: str, typed: Typed) -> list[Hit]:
    kinds = dict.fromkeys(repair.kind for repair in typed.repairs.values())

    def make() -> dict[str, NDArray[np.intp]]:
        return {kind: np.flatnonzero(_mended(typed, kind)[typed.raw.codes]) for kind in kinds}

    def again(
        before: dict[str, NDArray[np.intp]], rows: NDArray[np.intp], _: Premises
    ) -> dict[str, NDArray[np.intp]]:
        there = [typed.repairs.get(code) for code in typed.raw.codes[rows].tolist()]
        now = {
            kind: rows[[repair is not None and repair.kind == kind for repair in there]]
            for kind in kinds
        }
        return {kind: put_in(before.get(kind, NO_ROWS), rows, now[kind]) for kind in kinds}

    found: dict[str, NDArray[np.intp]] = facts.memo.mend(("mended", name), (typed,), make, again)
    return [_note(name, typed, kind, rows) for kind, rows in found.items() if len(rows)]


def _mended(typed: Typed, kind: str) -> NDArray[np.bool_]:
    """Tell of each code whether its text was mended so; the last one is for nothing there."""
    mended = np.zeros(len(typed.raw.values) + 1, bool)
    mended[[code for code, repair in typed.repairs.items() if repair.kind == kind]] = True
    return mended


def _note(name: str, typed: Typed, kind: str, rows: NDArray[np.intp]) -> Hit:
    said = _ORDERS.get(typed.order, _REPAIRS[kind]) if kind == "day" else _REPAIRS[kind]
    title = f"{typed.field.title}: {said}"

    def say(row: int) -> str:
        return typed.repairs[int(typed.raw.codes[row])].message

    return Hit("repaired", name, (name,), "note", rows, title, say, group=kind, repair=kind)


def _empty_rows(facts: Facts, typed: Typed) -> NDArray[np.intp]:
    def empty(rows: Rows) -> NDArray[np.bool_]:
        return np.asarray((typed.stored.codes[rows] < 0) & ~typed.problem_rows()[rows])

    def again(before: NDArray[np.intp], rows: NDArray[np.intp], _: Premises) -> NDArray[np.intp]:
        return put_in(before, rows, rows[empty(rows)])

    name = typed.field.name
    empty_rows: NDArray[np.intp] = facts.memo.mend(
        ("empty", name), (typed,), lambda: np.flatnonzero(empty(slice(None))), again
    )
    return empty_rows


def _is_asked(facts: Facts) -> NDArray[np.bool_]:
    """Tell which rows somebody must say of who they are: before that it is not known whether
    they lack anything.
    """
    return (
        facts.people.decision == ASKED if facts.people is not None else np.zeros(len(facts), bool)
    )


def check_required(facts: Facts) -> list[Hit]:
    """Report required fields that are empty; a field that the file does not fill at all is
    missed only by new rows.
    """
    hits: list[Hit] = []
    for field in facts.definition.fields:
        if not field.required:
            continue
        typed = facts.typed.get(field.name)
        if typed is None:
            rows = np.flatnonzero((facts.known.record < 0) & ~_is_asked(facts))
            message = f"{field.title} is required, and no column of the file goes to it."
            title = f"No column for {field.title}"
        else:
            rows = _empty_rows(facts, typed)
            if field.name in facts.definition.primary_key:
                rows = rows[~_is_asked(facts)[rows]]
            message = f"{field.title} is required and empty."
            title = f"{field.title} is missing"
        if len(rows):
            hits.append(Hit("required", field.name, (field.name,), "stop", rows, title, message))
    return hits
