"""Update rules: what becomes of a record's value when the file brings one of its own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal, InvalidOperation
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.derived import derive
from nevefield.core.columns.limits import refuse_limits
from nevefield.core.columns.outcome import Problem
from nevefield.core.columns.values import Typed
from nevefield.core.definition import COUNTING, UPDATES
from nevefield.core.edits.trail import union
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition, Field
    from nevefield.core.edits.memo import Memo
    from nevefield.core.people.keys import Known
    from nevefield.core.snapshot import Snapshot

__all__ = ["RULES", "rules_of", "update_fields", "update_value"]

# filled: the file's value where it has one; file: the file's, an empty cell empties; ours: the
# roster's stays; blanks: only where the roster has none; add and remove: to and from a number, or
# to and from several values.
RULES = UPDATES


def rules_of(field: Field) -> tuple[str, ...]:
    """List the rules that a field can have."""
    return RULES if field.several or field.type in ("integer", "number") else RULES[:COUNTING]


def update_value(field: Field, rule: str, ours: str | None, theirs: str | None) -> str | None:
    """Say what a record's value becomes.

    Args:
        field: The field.
        rule: One of `RULES`.
        ours: The file's value as stored, None for an empty cell.
        theirs: The record's value.

    >>> from nevefield.core.definition import Field
    >>> update_value(Field("credits", "Credits", "number"), "add", "2.5", "10")
    '12.5'
    """
    if (
        rule == "ours"
        or (rule == "blanks" and theirs is not None)
        or (rule == "filled" and ours is None)
    ):
        return theirs
    if rule in ("add", "remove"):
        if ours is None:
            return theirs
        if field.several:
            return _several(ours, theirs, rule)
        return _number(field, ours, theirs, rule)
    return ours


def _several(ours: str, theirs: str | None, rule: str) -> str | None:
    had = theirs.split(SEVERAL) if theirs else []
    brought = ours.split(SEVERAL)
    kept = (
        [*had, *(value for value in brought if value not in had)]
        if rule == "add"
        else [v for v in had if v not in brought]
    )
    return SEVERAL.join(kept) or None


def _number(field: Field, ours: str, theirs: str | None, rule: str) -> str | None:
    try:
        brought = Decimal(ours)
        total = Decimal(theirs or 0) + (brought if rule == "add" else -brought)
    except InvalidOperation:
        return theirs
    if field.type == "integer":
        return str(int(total))
    return format(total.normalize(), "f")


def update_fields(
    definition: Definition,
    typed: Mapping[str, Typed],
    known: Known,
    snapshot: Snapshot,
    rules: Mapping[str, str],
    row_rules: Mapping[str, Mapping[int, str]],
    memo: Memo,
) -> dict[str, Typed]:
    """Put the value that comes of each field's rule in place of the file's, in the rows of records.

    Args:
        definition: Of the roster; its fields may have a rule of their own.
        typed: The rows' values by field.
        known: Which record each row is.
        snapshot: The roster as it stands.
        rules: By field, for this intake.
        row_rules: By field and row, before all others.
        memo: What was worked out before.

    Returns:
        The values by field; a wrong value that the rule makes no use of stops nothing.
    """
    updated = dict(typed)
    for name, values in typed.items():
        field = definition.by_name[name]
        rule = rules.get(name) or field.rule
        single = row_rules.get(name, {})
        if rule == "file" and not single:
            continue

        # What must be filled and is empty is said, until somebody says that the roster's stays.
        strict = field.required and name not in rules and not field.update
        update = partial(_update, values, rule, single, known.record, snapshot, strict)
        of = (known, snapshot, rule, dict(single), strict)
        updated[name] = derive(
            memo,
            ("updated", name),
            values,
            of,
            partial(_alter, update),
            partial(_apply, update, values),
        )
    return updated


@dataclass(frozen=True)
class _Update:
    """What a rule makes of some rows."""

    stored: dict[int, str | None]  # by row the value
    raw: dict[int, str | None]  # by row what stands in place of the file's text
    over: dict[str, Problem]  # by such a text why it is no value


def _alter(
    update: Callable[[NDArray[np.intp]], _Update], rows: NDArray[np.intp]
) -> dict[int, str | None] | None:
    made = update(rows)
    return None if made.raw else made.stored


def _apply(update: Callable[[NDArray[np.intp]], _Update], values: Typed) -> Typed:
    """Make the values of all rows."""
    made = update(np.arange(len(values.raw)))
    if not made.raw:
        return values.put(made.stored)
    texts = values.raw.replace(made.raw)
    problems = dict(values.problems)
    for row, text in made.raw.items():
        if text in made.over:
            problems[int(texts.codes[row])] = made.over[text]
    stored = values.stored.replace(made.stored)
    return replace(values, raw=texts, stored=stored, problems=problems, _wrong=[], _folded=[])


def _may_differ(
    values: Typed, rule: str, record: NDArray[np.int64], snapshot: Snapshot, rows: NDArray[np.intp]
) -> NDArray[np.bool_]:
    """Tell for which rows a rule may make another value than the file's."""
    if rule == "file":
        return np.zeros(len(rows), bool)
    if rule == "filled":
        return (values.stored.codes[rows] < 0) & (
            snapshot.columns[values.field.name].codes[record[rows]] >= 0
        )
    if rule == "add" and values.field.several:  # to the same values nothing is added
        theirs = snapshot.folded(values.field.name)
        return np.asarray(values.folded().place(theirs)[rows] != theirs.codes[record[rows]])
    return np.ones(len(rows), bool)


def _update(
    values: Typed,
    rule: str,
    single: Mapping[int, str],
    record: NDArray[np.int64],
    snapshot: Snapshot,
    strict: bool,
    rows: NDArray[np.intp],
) -> _Update:
    """Say what a rule makes of rows."""
    field = values.field
    rows = rows[record[rows] >= 0]
    some = rows[values.stored.codes[rows] >= 0] if strict else rows
    some = some[_may_differ(values, rule, record, snapshot, some)]
    rows = union((rows[np.isin(rows, list(single))], some)) if single else some
    theirs = snapshot.columns[field.name].rows(record[rows])
    ours = values.stored.rows(rows)
    wrong = values.problem_rows()
    update = _Update({}, {}, {})
    for row, mine, had in zip(rows.tolist(), ours, theirs, strict=True):
        its = single.get(row, rule)
        if wrong[row]:
            if its == "ours" or (its == "blanks" and had is not None):
                update.raw[row] = update.stored[row] = had  # what is not used may be wrong
            continue
        value = update_value(field, its, mine, had)
        if value != mine:
            update.stored[row] = value
            if (
                its in ("add", "remove")
                and value is not None
                and (problem := refuse_limits(field, value))
            ):
                # A text of its own, that only this sum has: what is wrong is wrong of the sum.
                text = f"{had or ''} {'+' if its == 'add' else '−'} {mine}".replace(SEVERAL, ";")
                update.raw[row] = text
                update.over[text] = problem
    return update
