"""Columns to values: what the file has, what fills it, and what was edited since."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from nevefield.core.borders import Keys, Premises
from nevefield.core.columns.combining import columns_by_field
from nevefield.core.columns.filling import find_blank
from nevefield.core.columns.values import Typed, ValueContext, convert, edit
from nevefield.core.table import Column, Table, rows_by_line

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from nevefield.core.columns.pairing import Pair
    from nevefield.core.definition import Field
    from nevefield.core.edits.memo import Memo
    from nevefield.core.inputs import Inputs
    from nevefield.core.steps import Decisions

__all__ = ["context_of", "convert_columns"]


def context_of(inputs: Inputs, decisions: Decisions) -> ValueContext:
    """Bring together what reading values needs beside the texts."""
    return ValueContext(
        inputs.codes,
        inputs.definition.missing,
        inputs.today,
        decisions.translations,
        decisions.orders,
        decisions.marks,
        decisions.last_orders,
        decisions.last_marks,
    )


def convert_columns(
    inputs: Inputs, table: Table, pairs: list[Pair], decisions: Decisions, memo: Memo
) -> dict[str, Typed]:
    """Make values of the columns that go to a field, in the definition's order; edits and fills
    included.

    Args:
        inputs: Definition, code lists and day.
        table: The file's texts.
        pairs: Where its columns go.
        decisions: What was said of them.
        memo: Keeps each column.
    """
    definition, codes = inputs.definition, inputs.codes
    context = context_of(inputs, decisions)
    columns = columns_by_field(table, pairs, definition, memo)
    parts: dict[Keys, tuple[Premises, Callable[[], Typed]]] = {}
    for field in definition.fields:
        raw = columns.get(field.name)
        cells = decisions.cells.get(field.name, {})
        fill = decisions.fills.get(field.name)
        if raw is None and not cells and not fill:
            continue
        translations = {
            pair: to for pair, to in decisions.translations.items() if pair[0] == field.name
        }
        listed = codes.get(field.code_list) if field.code_list else None
        said = (decisions.orders, decisions.marks, decisions.last_orders, decisions.last_marks)
        by_hand = tuple(of_fields.get(field.name) for of_fields in said)
        of = (field, raw, table, fill, translations, by_hand, listed, inputs.today.isoformat())
        if fill:  # what an edit blanks is filled again: the column is made whole each time
            parts["typed", field.name] = (
                (*of, dict(cells)),
                partial(_convert_one, field, raw, cells, fill, table, context),
            )
        else:
            parts["typed", field.name] = (
                of,
                partial(_convert_one, field, raw, {}, None, table, context),
            )
    typed: dict[str, Typed] = {name: made for (_, name), made in memo.get_all(parts).items()}
    for name, cells in decisions.cells.items():
        if name in typed and cells and not decisions.fills.get(name):
            typed[name] = _edit(typed[name], name, cells, table, context, memo)
    return typed


def _edit(
    made: Typed,
    name: str,
    cells: Mapping[int, str],
    table: Table,
    context: ValueContext,
    memo: Memo,
) -> Typed:
    """Put edited cells into a column; when some are there already from the evaluation before,
    only the others.
    """
    known: Premises
    had: Typed | None
    known, had = memo.last(("edited", name)) or ((), None)

    def edited() -> Typed:
        if (
            had is not None
            and known[0] is made
            and all(cells.get(line) is not None for line in known[1])
        ):
            fresh = {line: text for line, text in cells.items() if known[1].get(line) != text}
            return edit(had, rows_by_line(table, fresh), context)
        return edit(made, rows_by_line(table, cells), context)

    typed: Typed = memo.get(("edited", name), (made, dict(cells)), edited)
    return typed


def _convert_one(
    field: Field,
    raw: Column | None,
    cells: Mapping[int, str],
    fill: str | None,
    table: Table,
    context: ValueContext,
) -> Typed:
    if raw is None:
        raw = Column.constant(None, len(table))
    before = raw
    if cells:
        raw = raw.replace(dict(rows_by_line(table, cells)))
    if fill:
        raw = raw.replace({int(row): fill for row in find_blank(raw, context.missing)})
    column = convert(field, raw, context, before=before)
    # wanted of every column, and worked out here where columns are read beside each other
    column.folded()
    return column
