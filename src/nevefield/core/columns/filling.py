"""Fill fields where the file has nothing: with one value for all, or by composing."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises
from nevefield.core.columns.composing import Pattern, Piece, compose_all
from nevefield.core.columns.values import Typed, ValueContext, convert
from nevefield.core.table import Column, rows_by_line
from nevefield.core.texts import SEVERAL, trim

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.edits.memo import Memo
    from nevefield.core.inputs import Inputs
    from nevefield.core.people.joining import Joined
    from nevefield.core.people.keys import Known
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.steps import Decisions
    from nevefield.core.table import Table

__all__ = ["compose_fields", "find_blank", "find_filled", "keep_filled"]


def find_blank(raw: Column, missing: frozenset[str]) -> NDArray[np.intp]:
    """List the rows in which a column of the file has nothing."""
    empty = [code for code, text in enumerate(raw.texts()) if trim(text) in missing]
    return np.flatnonzero(np.isin(raw.codes, [-1, *empty]))


def find_filled(
    columns: Mapping[str, Column], decisions: Decisions, definition: Definition, table: Table
) -> dict[str, NDArray[np.intp]]:
    """List the rows that fill values are for: those whose cell is empty.

    Args:
        columns: The file's texts by field.
        decisions: With the fill values, and cells that somebody has edited.
        definition: Of the roster.
        table: The file.

    Returns:
        By field that has a fill value.
    """
    found = {}
    for name in (
        name for name, value in decisions.fills.items() if value and name in definition.by_name
    ):
        raw = columns.get(name)
        raw = Column.constant(None, len(table)) if raw is None else raw
        raw = raw.replace(dict(rows_by_line(table, decisions.cells.get(name, {}))))
        found[name] = find_blank(raw, definition.missing)
    return found


def keep_filled(
    joined: Joined,
    filled: Mapping[str, NDArray[np.intp]],
    known: Known,
    snapshot: Snapshot,
    decisions: Decisions,
    definition: Definition,
) -> Joined:
    """Take the fill value out again for people of whom the roster has a value already, unless it
    was meant for them too.

    Args:
        joined: The rows' values.
        filled: See `find_filled`.
        known: Which record each row is.
        snapshot: The roster as it stands.
        decisions: With what was said of each fill value, and the update rules.
        definition: Of the roster.
    """
    typed = dict(joined.typed)
    for name, rows in filled.items():
        if name in decisions.fills_over or name not in typed:
            continue
        rows = rows[known.record[rows] >= 0]
        had = snapshot.columns[name].rows(known.record[rows])
        # As if the file had nothing there; where it would then be emptied, what is there stays.
        empties = (decisions.rules.get(name) or definition.by_name[name].rule) == "file"
        empties = empties and name not in decisions.row_rules
        kept = {
            row: text if empties else None
            for row, text in zip(rows.tolist(), had, strict=True)
            if text is not None
        }
        typed[name] = typed[name].put(kept)
    return replace(joined, typed=typed) if filled else joined


def compose_fields(
    inputs: Inputs,
    joined: Joined,
    known: Known,
    patterns: Mapping[str, Pattern],
    memo: Memo,
    context: ValueContext,
    table: Table,
) -> dict[str, Typed]:
    """Add the composed fields to the rows' values.

    Args:
        inputs: The definition, and the roster as it stands: values there are kept, and are taken
            already.
        joined: The rows' values.
        known: Which record each row is.
        patterns: By field.
        memo: What was composed before.
        context: For reading what was composed.
        table: The file, whose columns a pattern may take too.

    Returns:
        The values by field, in the definition's order.
    """
    typed, definition = dict(joined.typed), inputs.definition
    for name, pattern in patterns.items():
        if name not in definition.by_name:
            continue
        sources = [typed.get(piece.field) for piece in pattern.pieces if piece.field]
        columns = _columns_of(pattern, table)
        read = (
            context.codes.get(definition.by_name[name].code_list),
            context.today.isoformat(),
            dict(context.translations),
        )
        of = (
            known,
            typed.get(name),
            repr(pattern),
            joined.lead,
            inputs.snapshot,
            *read,
            *sources,
            *columns.values(),
        )

        def make(
            name: str = name, pattern: Pattern = pattern, columns: dict[str, Column] = columns
        ) -> Typed:
            rows = replace(joined, typed=typed)
            return _compose(inputs, rows, known, name, pattern, context, columns)

        def again(
            before: Typed,
            rows: NDArray[np.intp],
            was: Premises,
            name: str = name,
            make: Callable[[], Typed] = make,
        ) -> Typed:
            # Whoever has a value of their own is not composed for, and one value composed otherwise
            # may alter others.
            own = typed.get(name)
            is_same = (
                own is was[1] and own is not None and bool((own.stored.codes[rows] >= 0).all())
            )
            return before if is_same else make()

        typed[name] = memo.mend(("composed", name), of, make, again)
    return {field.name: typed[field.name] for field in definition.fields if field.name in typed}


def _columns_of(pattern: Pattern, table: Table) -> dict[str, Column]:
    """Find the columns of the file that a pattern takes; those that this file lacks are passed
    over.
    """
    wanted = {piece.heading for piece in pattern.pieces if piece.heading}
    return {
        heading: column
        for heading, column in zip(table.headings, table.columns, strict=True)
        if heading in wanted
    }


def _compose(
    inputs: Inputs,
    joined: Joined,
    known: Known,
    name: str,
    pattern: Pattern,
    context: ValueContext,
    columns: Mapping[str, Column],
) -> Typed:
    typed, snapshot = joined.typed, inputs.snapshot
    rows = len(joined.lead)
    had = snapshot.columns[name]
    raw = typed[name].raw if name in typed else Column.constant(None, rows)
    stored = typed[name].stored if name in typed else raw
    theirs = np.where(known.record >= 0, had.codes[known.record] if len(had) else -1, -1)
    blank = stored.codes < 0
    # What the roster has stays as it is: the value is put there so that comparing finds it the
    # same.
    kept = {
        row: had.values[int(theirs[row])].as_py()
        for row in np.flatnonzero(blank & (theirs >= 0)).tolist()
    }
    wanted = np.flatnonzero(blank & (theirs < 0) & joined.is_lead).tolist()
    taken = [*had.texts(), *stored.texts()]
    wrong = {
        piece.field: typed[piece.field].problem_rows()
        for piece in pattern.pieces
        if piece.field in typed
    }

    def value(row: int, piece: Piece) -> str | None:
        if piece.heading:
            return columns[piece.heading].at(row) if piece.heading in columns else None
        field = piece.field
        if field in typed:
            text = None if wrong[field][row] else typed[field].stored.at(row)
        else:
            record = int(known.record[row])
            text = (
                snapshot.columns[field].at(record)
                if record >= 0 and field in snapshot.columns
                else None
            )
        return text.replace(SEVERAL, " ") if text else None

    made, _ = compose_all(pattern, wanted, value, taken)
    for group in joined.groups:  # all rows of a person have the person's value
        if int(group[0]) in made:
            made.update(dict.fromkeys(group.tolist(), made[int(group[0])]))
    return convert(inputs.definition.by_name[name], raw.replace({**kept, **made}), context)
