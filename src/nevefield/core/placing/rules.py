"""Placement rules: a condition on the record and the group or role that follows; from the top, the
first that fits decides.

Whoever was placed by hand stays, and what a file says outright counts before any rule.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.values import Typed
from nevefield.core.conditions import fields_of, holds
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.definition import Rule
    from nevefield.core.edits.memo import Memo
    from nevefield.core.inputs import Inputs
    from nevefield.core.people.keys import Known
    from nevefield.core.snapshot import Snapshot

    ByHand = Mapping[str, Collection[int]]

__all__ = ["Effect", "effects_of", "place_rows"]


@dataclass(frozen=True)
class Effect:
    """What a rule comes to in a roster, as places in it."""

    fits: NDArray[np.intp]  # for whom it decides
    moves: NDArray[np.intp]  # who would be moved
    by_hand: NDArray[np.intp]  # who were placed elsewhere by hand, and stay
    against: NDArray[np.intp]  # whom it fits too, and an earlier rule puts elsewhere


def effects_of(
    rules: Sequence[Rule], snapshot: Snapshot, by_hand: ByHand, today: date
) -> list[Effect]:
    """Say what each rule comes to in a roster as it stands; one that is off is tried in its place,
    and decides for nobody else.

    Args:
        rules: In their order.
        snapshot: The roster.
        by_hand: By field the records, by number, whose value somebody set by hand.
        today: For conditions.
    """
    decided: dict[str, NDArray[np.bool_]] = {}
    elsewhere: dict[str, NDArray[np.object_]] = {}
    effects = []
    for rule in rules:
        fits = holds(rule.when, lambda name: snapshot.columns[name], len(snapshot), today)
        taken = decided.setdefault(rule.field, np.zeros(len(snapshot), bool))
        values = elsewhere.setdefault(rule.field, np.full(len(snapshot), None, object))
        against = fits & taken & (values != rule.value)
        mine = fits & ~taken
        is_there = _is_there(snapshot, rule)
        hand = np.isin(snapshot.ids, list(by_hand.get(rule.field, ())))
        stays = mine & ~is_there & hand
        effects.append(
            Effect(
                np.flatnonzero(mine),
                np.flatnonzero(mine & ~is_there & ~hand),
                np.flatnonzero(stays),
                np.flatnonzero(against),
            )
        )
        if rule.is_on:
            values[mine] = rule.value
            taken |= fits
    return effects


def _is_there(snapshot: Snapshot, rule: Rule) -> NDArray[np.bool_]:
    column = snapshot.columns[rule.field]
    right = np.array([*(rule.value in text.split(SEVERAL) for text in column.texts()), False], bool)
    return np.asarray(right[column.codes])


def place_rows(
    inputs: Inputs,
    typed: Mapping[str, Typed],
    known: Known,
    memo: Memo,
    *,
    ours: Callable[[str], NDArray[np.intp]],
) -> tuple[dict[str, Typed], dict[str, NDArray[np.intp]]]:
    """Put what follows from the rules into the rows of a file.

    Args:
        inputs: The definition with its rules, the roster, the day, and by field the records whose
            value somebody set by hand: they stay.
        typed: The rows' values by field.
        known: Which record each row is.
        memo: What was worked out before.
        ours: Gives the rows for which somebody said that a field stays as the roster has it.

    Returns:
        The values by field, fields that the file does not fill among them where a rule does; and by
        field the rows that follow.
    """
    rules = [rule for rule in inputs.definition.placement if rule.is_on]
    placed = dict(typed)
    followed: dict[str, NDArray[np.intp]] = {}
    for name in dict.fromkeys(rule.field for rule in rules):
        own = [rule for rule in rules if rule.field == name]
        reads = dict.fromkeys(read for rule in own for read in fields_of(rule.when))
        kept = tuple(ours(name).tolist())
        of = (
            tuple(typed),
            typed.get(name),
            known,
            inputs.snapshot,
            tuple(sorted(inputs.placed_by_hand.get(name, ()))),
            inputs.today.isoformat(),
            kept,
        )

        def make(
            name: str = name, own: list[Rule] = own, kept: tuple[int, ...] = kept
        ) -> tuple[Typed | None, NDArray[np.intp]]:
            return _place(inputs, typed, known, name, own, kept)

        one, rows = memo.get(("placed", name), (*of, *(typed.get(read) for read in reads)), make)
        if one is not None:
            placed[name] = one
            followed[name] = rows
    return placed, followed


def _place(
    inputs: Inputs,
    typed: Mapping[str, Typed],
    known: Known,
    name: str,
    rules: Sequence[Rule],
    kept: Sequence[int],
) -> tuple[Typed | None, NDArray[np.intp]]:
    """Give the rows that follow from the rules of a field their value.

    Args:
        inputs: See `place_rows`.
        typed: The rows' values by field.
        known: Which record each row is.
        name: The field.
        rules: Of it, the first that fits decides.
        kept: Rows that stay as the roster has them.
    """
    snapshot, field = inputs.snapshot, inputs.definition.by_name[name]
    by_hand = inputs.placed_by_hand.get(name, ())
    record = known.record
    rows = len(record)
    column = _columns(typed, known, snapshot)
    chosen = np.full(rows, -1, np.intp)  # the rule that decides
    for number, rule in enumerate(rules):
        chosen[holds(rule.when, column, rows, inputs.today) & (chosen < 0)] = number
    theirs = typed.get(name)
    said = theirs.stored.codes >= 0 if theirs is not None else np.zeros(rows, bool)
    if theirs is not None:
        said |= theirs.problem_rows()  # what cannot be read was said all the same
    hand = (record >= 0) & np.isin(snapshot.ids[record] if len(snapshot) else record, list(by_hand))
    hand[list(kept)] = True
    open_rows = np.flatnonzero((chosen >= 0) & ~said & ~hand)
    had = _columns({}, known, snapshot)(name)
    several = bool(field.several)
    changes: dict[int, str | None] = {}
    for row, now in zip(open_rows.tolist(), had.rows(open_rows), strict=True):
        parts = now.split(SEVERAL) if now else []
        wanted = rules[int(chosen[row])].value
        if wanted not in parts:
            changes[row] = SEVERAL.join([*parts, wanted]) if several else wanted
    if not changes:
        return None, np.zeros(0, np.intp)
    found = np.array(sorted(changes), np.intp)
    if theirs is None:
        nothing = Column.constant(None, rows)
        return Typed(field, nothing, had.replace(changes), {}, {}), found
    return theirs.put(changes), found


def _columns(
    typed: Mapping[str, Typed], known: Known, snapshot: Snapshot
) -> Callable[[str], Column]:
    """Give the values of a field by row: the file's, or those of the rows' records where the
    file does not fill the field.
    """

    def column(name: str) -> Column:
        if name in typed:
            return typed[name].stored
        theirs = snapshot.columns[name]
        codes = np.where(
            known.record >= 0, theirs.codes[known.record] if len(theirs) else -1, -1
        ).astype(np.int32)
        return Column(theirs.values, codes)

    return column
