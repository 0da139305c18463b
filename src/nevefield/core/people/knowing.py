"""Who the rows are: by keys, by what somebody said, by likeness; and which rows are one person."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises
from nevefield.core.columns.derived import derive
from nevefield.core.edits.trail import union
from nevefield.core.people.joining import Joined, join_rows, number_people, people_groups
from nevefield.core.people.keys import Known, match_again, match_keys
from nevefield.core.people.matching import Scale
from nevefield.core.people.recognising import Recognised, Said, recognise
from nevefield.core.people.settling import Limits
from nevefield.core.table import Table, rows_at

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.edits.memo import Memo
    from nevefield.core.inputs import Inputs
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.steps import Decisions

__all__ = ["keys_of", "know_people"]


def know_people(
    inputs: Inputs,
    typed: dict[str, Typed],
    table: Table,
    decisions: Decisions,
    aside: NDArray[np.bool_],
    memo: Memo,
) -> tuple[dict[str, Typed], Recognised, Joined]:
    """Tell who the rows are: by keys, by what somebody said, by likeness; and which rows are one
    person.

    Args:
        inputs: The definition, the roster, and what was said elsewhere.
        typed: The file's values by field.
        table: The file's texts.
        decisions: What was said here.
        aside: Rows that stand in nobody's way.
        memo: Keeps what was found.

    Returns:
        The values, with the record's key where a row that is known by something else has none;
        who the rows are; and which are one person.
    """
    definition, snapshot = inputs.definition, inputs.snapshot
    keys = keys_of(decisions, definition)
    keyed = [name for key in keys for name in key]
    came = {name: memo.made(("typed", name)) or column for name, column in typed.items()}
    of = (keys, snapshot, table, *(typed.get(name) for name in keyed))

    def match_all() -> Known:
        return _match(keys, came, snapshot, table, memo)

    def again(before: Known, rows: NDArray[np.intp], _: Premises) -> Known:
        return match_again(keys, typed, snapshot, before, rows)

    as_came = memo.get(
        "as it came", (keys, snapshot, table, *(came.get(name) for name in keyed)), match_all
    )
    by_key = memo.mend(
        "known",
        of,
        lambda: _match_edited(keys, typed, came, keyed, snapshot, table, as_came),
        again,
    )
    kept = decisions.applied.scale
    said = Said(
        chosen=_chosen(decisions, table, snapshot),
        aside=aside,
        limits=Limits(*(decisions.limits or definition.limits)),
        scale=(
            Scale.of_numbers(kept.same, kept.chance, kept.share, kept.records)
            if kept is not None
            else None
        ),
        waiting=rows_at(
            table.lines, decisions.applied.asked & decisions.applied.open.keys()
        ).tolist(),
        elsewhere=inputs.said or {},
    )
    people = recognise(inputs, typed, by_key, as_came, said, memo)
    typed = _keep_keys(definition, typed, people.known, snapshot, memo)
    person = number_people(definition, typed, people.known, len(snapshot), memo)
    # compared by content: which rows are aside is made anew for every evaluation
    apart = tuple(np.flatnonzero(aside).tolist())
    joined = join_rows(definition, typed, person, people_groups(memo, person, aside, apart), memo)
    return typed, people, joined


def keys_of(decisions: Decisions, definition: Definition) -> tuple[tuple[str, ...], ...]:
    """Return the keys by which rows are known: those that were said for this file, else the
    roster's.
    """
    return definition.keys if decisions.keys is None else decisions.keys


def _keep_keys(
    definition: Definition, typed: dict[str, Typed], known: Known, snapshot: Snapshot, memo: Memo
) -> dict[str, Typed]:
    """Give rows that are known by something else their record's key where their own is empty: it
    takes no key away.
    """
    kept = dict(typed)
    for name in definition.primary_key:
        if name not in typed:
            continue

        def keep(
            rows: NDArray[np.intp], one: Typed = typed[name], name: str = name
        ) -> dict[int, str | None]:
            lacking = rows[
                (one.stored.codes[rows] < 0) & (known.record[rows] >= 0) & ~one.problem_rows()[rows]
            ]
            return dict(
                zip(
                    lacking.tolist(),
                    snapshot.columns[name].rows(known.record[lacking]),
                    strict=True,
                )
            )

        kept[name] = derive(memo, ("kept", name), typed[name], (known, snapshot), keep)
    return kept


def _chosen(decisions: Decisions, table: Table, snapshot: Snapshot) -> dict[int, int]:
    """Turn what somebody said into rows and records; a record that is not there any more is
    nobody's choice.
    """
    found: dict[int, int] = {}
    for line, number in decisions.people.items():
        row = int(np.searchsorted(table.lines, line))
        if row >= len(table) or table.lines[row] != line:
            continue
        if number is None:
            found[row] = -1
        elif len(places := np.flatnonzero(snapshot.ids == number)):
            found[row] = int(places[0])
    return found


def _match(
    keys: tuple[tuple[str, ...], ...],
    typed: Mapping[str, Typed],
    snapshot: Snapshot,
    table: Table,
    memo: Memo | None = None,
) -> Known:
    if not typed:
        return Known(np.full(len(table), -1, np.int64), np.full(len(table), -1, np.int8), {})
    folded = {name: column.folded() for name, column in typed.items()}
    return match_keys(keys, typed, folded, snapshot, memo)


def _match_edited(
    keys: tuple[tuple[str, ...], ...],
    typed: Mapping[str, Typed],
    came: Mapping[str, Typed],
    keyed: Collection[str],
    snapshot: Snapshot,
    table: Table,
    as_came: Known,
) -> Known:
    """Match rows of which some were edited since the file came, going on from who they were then
    where that can be.
    """
    edited = [typed[name].since(came[name]) for name in keyed if name in typed]
    rows = (
        None
        if any(one is None for one in edited)
        else union([one for one in edited if one is not None])
    )
    if rows is None:
        return _match(keys, typed, snapshot, table)
    return match_again(keys, typed, snapshot, as_came, rows) if len(rows) else as_came
