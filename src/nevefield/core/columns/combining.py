"""From columns to the texts of fields: one to one, one column cut into several fields, several
columns put together.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.columns.pairing import JOIN
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.columns.pairing import Pair
    from nevefield.core.definition import Definition
    from nevefield.core.edits.memo import Memo
    from nevefield.core.table import Table

__all__ = ["columns_by_field", "cut_column", "join_columns"]


def columns_by_field(
    table: Table, pairs: Sequence[Pair], definition: Definition, memo: Memo
) -> dict[str, Column]:
    """Give each field the texts of the column, or columns, or part of a column that goes to it.

    Args:
        table: The file's texts.
        pairs: Where its columns go, in their order.
        definition: Of the roster.
        memo: What was put together before.
    """
    places: dict[str, list[int]] = {}
    found: dict[str, Column] = {}
    for place, pair in enumerate(pairs):
        if pair.parts:
            column = table.columns[place]
            for number, field in enumerate(pair.parts):
                of = (column, pair.at, len(pair.parts), number)
                found[field] = memo.get(
                    ("part", field),
                    of,
                    lambda column=column, pair=pair, number=number: cut_column(
                        column, pair.at, len(pair.parts), number
                    ),  # type: ignore[misc]
                )
        elif pair.field:
            places.setdefault(pair.field, []).append(place)
    for field, where in places.items():
        columns = [table.columns[place] for place in where]
        if len(columns) == 1:
            found[field] = columns[0]
        else:
            joint = definition.by_name[field].several or JOIN
            found[field] = memo.get(
                ("joined", field),
                (joint, *columns),
                lambda columns=columns, joint=joint: join_columns(columns, joint),  # type: ignore[misc]
            )
    return found


def cut_column(column: Column, at: str, count: int, number: int) -> Column:
    """Take one part of every text.

    Args:
        column: The texts.
        at: Where they are cut; " " cuts off words at the end, so that "Ines Mae Adair" gives "Ines
            Mae" and "Adair".
        count: How many parts there are; what is too much stays with the last, of words with the
            first.
        number: Which part, from 0.

    >>> cut_column(Column.of(["2/KIT", "1"]), "/", 2, 1).rows(np.arange(2))
    ['KIT', '']
    """
    texts = []
    for text in column.texts():
        parts = text.strip().rsplit(None, count - 1) if at == " " else text.split(at, count - 1)
        texts.append(parts[number].strip() if number < len(parts) else "")
    distinct = Column.encode(pa.array(texts, pa.string()))
    codes = np.where(column.codes >= 0, distinct.codes[column.codes] if len(distinct) else -1, -1)
    return Column(distinct.values, codes.astype(np.int32))


def join_columns(columns: Sequence[Column], joint: str) -> Column:
    """Put the texts of several columns together, row by row; what is empty is passed over.

    >>> join_columns([Column.of(["a", ""]), Column.of(["b", "c"])], ";").rows(np.arange(2))
    ['a;b', 'c']
    """
    rows = len(columns[0])
    combined = np.zeros(rows, np.int64)
    for column in columns:
        combined = combined * (len(column.values) + 1) + (column.codes.astype(np.int64) + 1)
    _, first, codes = np.unique(combined, return_index=True, return_inverse=True)
    texts = [
        joint.join(filter(None, ((column.at(row) or "").strip() for column in columns)))
        for row in first.tolist()
    ]
    distinct = Column.encode(pa.array(texts, pa.string()))
    return Column(
        distinct.values, distinct.codes[codes].astype(np.int32) if rows else np.zeros(0, np.int32)
    )
