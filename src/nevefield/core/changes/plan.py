"""The change plan: the exact list of what applying would do."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.evaluate import CHANGED, NEW
from nevefield.core.snapshot import to_json

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.evaluate import Evaluation
    from nevefield.core.table import Column

__all__ = ["Planned", "plan_changes"]


@dataclass(frozen=True)
class Planned:
    """What becomes of one record: its whole new content as JSON text."""

    row: int
    line: int
    record: int | None  # index into the snapshot; None joins
    document: str


def plan_changes(evaluation: Evaluation) -> list[Planned]:
    """Plan what applying would do: those that join, and those that change; rows in the order of the file."""
    rows = np.flatnonzero((evaluation.outcomes == NEW) | (evaluation.outcomes == CHANGED))
    record = evaluation.known.record[rows]
    documents = _documents(evaluation, rows, record)
    lines = evaluation.table.lines[rows].tolist()
    return [
        Planned(row, line, number if number >= 0 else None, document)
        for row, line, number, document in zip(rows.tolist(), lines, record.tolist(), documents, strict=True)
    ]


def _documents(evaluation: Evaluation, rows: NDArray[np.intp], record: NDArray[np.int64]) -> list[str]:
    """Write each record as JSON text, from pieces made once for each distinct value."""
    pieces = []
    for one in evaluation.definition.fields:
        typed = evaluation.facts.typed.get(one.name)
        if typed is not None:
            pieces.append(_pieces(evaluation, one.name, typed.stored)[typed.stored.codes[rows]])
        elif len(evaluation.snapshot):
            # The file does not fill the field: what the record has stays.
            column = evaluation.snapshot.columns[one.name]
            codes = np.where(record >= 0, column.codes[record], -1)
            pieces.append(_pieces(evaluation, one.name, column)[codes])
    return ["{" + ",".join(filter(None, parts)) + "}" for parts in zip(*pieces, strict=True)]


def _pieces(evaluation: Evaluation, name: str, column: Column) -> NDArray[np.object_]:
    """Write `"name":value` for each distinct value; the last one, for -1, is nothing."""
    head = json.dumps(name) + ":"
    texts = [
        head + json.dumps(to_json(evaluation.definition, name, text), ensure_ascii=False, separators=(",", ":"))
        for text in column.texts()
    ]
    return np.array([*texts, ""], object)
