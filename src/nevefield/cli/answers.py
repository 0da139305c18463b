"""What the commands answer, in the shapes of the contract."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.checking.causes import iter_findings
from nevefield.core.people.recognising import DECISIONS
from nevefield.core.snapshot import to_json
from nevefield.core.tally import OUTCOMES

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.reading import Reading
    from nevefield.core.table import Table

    Answer = Iterator[tuple[str, Any]]  # the parts of a JSON object; what is iterated there becomes an array

__all__ = ["check_answer", "inspect_answer", "reading_answer"]


def reading_answer(reading: Reading, extra: list[str] | None = None) -> dict[str, Any]:
    """Shape a reading."""
    return {
        "type": reading.type,
        "encoding": reading.encoding,
        "separator": reading.separator,
        "sheet": reading.sheet,
        "header_line": reading.header_line,
        "sentence": reading.sentence,
        "remarks": [*reading.remarks, *(extra or [])],
    }


def inspect_answer(table: Table, reading: Reading, most: int | None) -> dict[str, Any]:
    """Shape what `inspect` answers; `most` rows, None for all."""
    shown = np.arange(len(table) if most is None else min(most, len(table)))
    columns = [[text or "" for text in column.rows(shown)] for column in table.columns]
    return {
        "reading": reading_answer(reading),
        "columns": list(table.headings),
        "rows": [
            {"line": line, "values": list(values)}
            for line, values in zip(table.lines[shown].tolist(), zip(*columns, strict=True), strict=True)
        ],
        "not_data": _not_data(reading),
    }


def check_answer(evaluation: Evaluation, *, against: bool, extra: list[str]) -> Answer:
    """Shape what `check` answers, part by part; `people` only when there was a roster to check against."""
    keys = _record_keys(evaluation)
    lines = evaluation.table.lines.tolist()
    yield "reading", reading_answer(evaluation.reading, extra)
    yield "not_data", _not_data(evaluation.reading)
    yield (
        "columns",
        [
            {"heading": pair.heading, "field": pair.field, "reason": pair.reason, "certain": pair.certain}
            for pair in evaluation.pairs
        ],
    )
    yield "tally", evaluation.tally.to_json()
    yield (
        "rows",
        (
            {"line": line, "outcome": OUTCOMES[outcome], "record": key}
            for line, outcome, key in zip(lines, evaluation.outcomes.tolist(), keys, strict=True)
        ),
    )
    yield "findings", _findings(evaluation)
    yield "causes", [_cause_answer(cause) for cause in evaluation.causes]
    yield "people", _people(evaluation, keys) if against else ()
    yield "changes", _changes(evaluation, keys)
    yield "absent", evaluation.snapshot.keys(evaluation.absent)


def _findings(evaluation: Evaluation) -> Iterator[dict[str, Any]]:
    """Shape the findings by line; those of one line in the order of their causes."""
    found = [finding for cause in evaluation.causes for finding in iter_findings(cause, evaluation.facts)]
    for finding in sorted(found, key=lambda one: one.line or 0):
        yield {
            "line": finding.line,
            "field": finding.field,
            "fields": list(finding.fields),
            "check": finding.check,
            "weight": finding.weight,
            "value": finding.value,
            "message": finding.message,
            "cause": finding.cause,
            "follows": finding.follows,
        }


def _not_data(reading: Reading) -> list[dict[str, Any]]:
    return [{"line": one.line, "kind": one.kind} for one in reading.not_data]


def _record_keys(evaluation: Evaluation) -> list[Any]:
    record = evaluation.known.record
    found = evaluation.snapshot.keys(record[record >= 0])
    keys: list[Any] = [None] * len(record)
    for row, key in zip(np.flatnonzero(record >= 0).tolist(), found, strict=True):
        keys[row] = key
    return keys


def _cause_answer(cause: Cause) -> dict[str, Any]:
    return {
        "id": cause.id,
        "check": cause.hit.check,
        "field": cause.hit.field,
        "value": cause.value,
        "weight": cause.hit.weight,
        "rows": len(cause.hit.rows),
        "remedies": [{"kind": one.kind, "value": one.value, "label": one.label} for one in cause.remedies],
        "follows": list(cause.follows),
    }


def _people(evaluation: Evaluation, keys: list[Any]) -> Iterator[dict[str, Any]]:
    people = evaluation.facts.people
    if people is None:
        return
    candidates: dict[int, list[dict[str, Any]]] = {}
    if people.likely is not None:
        found = people.likely.found
        named = evaluation.snapshot.keys(found.records)
        for row, name, score in zip(found.rows.tolist(), named, found.scores.tolist(), strict=True):
            candidates.setdefault(row, []).append({"record": name, "score": round(score, 1)})
    shaped = zip(evaluation.table.lines.tolist(), people.decision.tolist(), keys, people.scores().tolist(), strict=True)
    for row, (line, decision, key, score) in enumerate(shaped):
        yield {
            "line": line,
            "decision": DECISIONS[decision],
            "record": key,
            "score": round(score, 1),
            "candidates": candidates.get(row, []),
        }


def _changes(evaluation: Evaluation, keys: list[Any]) -> list[dict[str, Any]]:
    found = []
    definition = evaluation.definition
    for name, rows in evaluation.changes.items():
        new = evaluation.facts.typed[name].stored.rows(rows)
        old = evaluation.snapshot.columns[name].rows(evaluation.known.record[rows])
        lines = evaluation.table.lines[rows].tolist()
        for row, line, before, after in zip(rows.tolist(), lines, old, new, strict=True):
            change = {"record": keys[row], "line": line, "field": name}
            found.append({**change, "old": to_json(definition, name, before), "new": to_json(definition, name, after)})
    return sorted(found, key=lambda one: one["line"])
