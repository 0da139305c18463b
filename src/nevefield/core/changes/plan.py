"""The change plan: the exact list of what applying would do."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from json.encoder import encode_basestring
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.changes.leaving import END, LEAVE
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.evaluate import Evaluation

__all__ = ["Plan", "documents_of", "plan_changes"]


@dataclass(frozen=True)
class Plan:
    """What becomes of the records that join or change, in the order of the file's rows, and of
    the absent.
    """

    rows: NDArray[np.intp]
    lines: NDArray[np.int64]
    records: NDArray[np.int64]  # index into the snapshot; -1 joins
    documents: list[str]  # the whole new content as JSON text
    keys: list[list[tuple[str, str]]]  # name and content of each key that nobody else may have
    leaving: NDArray[np.intp]  # absent records that leave, as index into the snapshot
    ending: NDArray[np.intp]  # absent records that end on a day
    ended: list[str]  # the whole new content of each of these
    ended_keys: list[list[tuple[str, str]]]

    def __len__(self) -> int:
        return len(self.rows) + len(self.leaving) + len(self.ending)

    def digest(self, snapshot: Snapshot) -> str:
        """Return a digest of exactly what would be written: the same plan has the same, another
        has another.
        """
        made = hashlib.sha256()
        for number, text in zip(self.records.tolist(), self.documents, strict=True):
            made.update(f"{snapshot.ids[number] if number >= 0 else 'new'}\t{text}\n".encode())
        for record in self.leaving.tolist():
            made.update(f"{snapshot.ids[record]}\tleaves\n".encode())
        for record, text in zip(self.ending.tolist(), self.ended, strict=True):
            made.update(f"{snapshot.ids[record]}\t{text}\n".encode())
        return made.hexdigest()


def plan_changes(evaluation: Evaluation) -> Plan:
    """Plan what applying would do: those that join, and those that change."""
    rows = np.flatnonzero(evaluation.going & evaluation.facts.joined.is_lead)
    records = evaluation.known.record[rows]
    columns = _columns(evaluation, rows, records)
    snapshot = Snapshot(evaluation.definition, np.arange(len(rows)), columns)
    ending = _ending(evaluation)
    return Plan(
        rows,
        evaluation.table.lines[rows],
        records,
        documents_of(snapshot),
        snapshot.unique_keys(),
        evaluation.absences.of(LEAVE),
        ending.ids.astype(np.intp),
        documents_of(ending),
        ending.unique_keys(),
    )


def _ending(evaluation: Evaluation) -> Snapshot:
    """Put the day into the absent records that end; the numbers are places in the roster."""
    snapshot, absences = evaluation.snapshot, evaluation.absences
    records = absences.of(END)
    columns = {}
    for name, column in snapshot.columns.items():
        said = ((place, absences.said[record]) for place, record in enumerate(records.tolist()))
        columns[name] = column.take(records).replace(
            {place: step.day for place, step in said if step.field == name}
        )
    return Snapshot(evaluation.definition, records, columns)


def _columns(
    evaluation: Evaluation, rows: NDArray[np.intp], records: NDArray[np.int64]
) -> dict[str, Column]:
    columns = {}
    for field in evaluation.definition.fields:
        typed = evaluation.facts.typed.get(field.name)
        if typed is not None:
            columns[field.name] = typed.stored.take(rows)
        else:
            # The file does not fill the field: what the record has stays.
            had = evaluation.snapshot.columns[field.name]
            codes = had.codes[records] if len(had) else np.full(len(rows), -1, np.int32)
            columns[field.name] = Column(
                had.values, np.where(records >= 0, codes, -1).astype(np.int32)
            )
    return columns


def documents_of(snapshot: Snapshot) -> list[str]:
    """Write each record as JSON text, from pieces made once for each distinct value."""
    pieces = [
        _pieces(snapshot, name, column)[column.codes] for name, column in snapshot.columns.items()
    ]
    return ["{" + ",".join(filter(None, parts)) + "}" for parts in zip(*pieces, strict=True)]


def _pieces(snapshot: Snapshot, name: str, column: Column) -> NDArray[np.object_]:
    """Write `"name":value` for each distinct value; the last one, for -1, is nothing."""
    head = encode_basestring(name) + ":"
    if snapshot.definition.by_name[name].several:
        parts = (
            [encode_basestring(part) for part in text.split(SEVERAL)] for text in column.texts()
        )
        texts = [f"{head}[{','.join(part)}]" for part in parts]
    else:
        texts = [head + encode_basestring(text) for text in column.texts()]
    return np.array([*texts, ""], object)
