"""A roster as it will be: what waits for a day, put into the records as they stand."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
import pyarrow as pa

from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = ["look_ahead"]


def look_ahead(
    snapshot: Snapshot, acts: Sequence[tuple[int | None, dict[str, list[Any]] | None]]
) -> Snapshot:
    """Put what waits into a roster.

    Args:
        snapshot: The roster as it stands.
        acts: In the order in which they will be done: the record's number, or None for who joins;
            by field the values before and after, or None for who leaves.

    Returns:
        The records as they will be; those who join stand last, with numbers under 0.
    """
    place = {int(number): row for row, number in enumerate(snapshot.ids.tolist())}
    changes: dict[str, dict[int, str | None]] = {}
    joins: list[dict[str, list[Any]]] = []
    gone: set[int] = set()
    for record, fields in acts:
        if record is None:
            joins.append(fields or {})
        elif record in place and fields is None:
            gone.add(place[record])
        elif record in place:
            for name, (_, after) in (fields or {}).items():
                changes.setdefault(name, {})[place[record]] = _text(after)
    stay = np.array([row for row in range(len(snapshot)) if row not in gone], np.intp)
    columns = {}
    for name, column in snapshot.columns.items():
        kept = column.replace(changes.get(name, {})).take(stay)
        fresh = [_text(join[name][1]) if name in join else None for join in joins]
        columns[name] = (
            Column.encode(pa.array([*kept.rows(np.arange(len(kept))), *fresh], pa.string()))
            if joins
            else kept
        )
    ids = np.concatenate([snapshot.ids[stay], -1 - np.arange(len(joins), dtype=np.int64)])
    return Snapshot(snapshot.definition, ids, columns, snapshot.version)


def _text(value: Any) -> str | None:
    return SEVERAL.join(value) if isinstance(value, list) else value
