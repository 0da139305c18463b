"""What the commands answer, in the shapes of the contract."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.checking.causes import iter_findings
from nevefield.core.people.recognising import DECISIONS
from nevefield.core.snapshot import to_json
from nevefield.core.tally import OUTCOMES

if TYPE_CHECKING:
    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.reading import Reading
    from nevefield.core.table import Table

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


def check_answer(evaluation: Evaluation, *, against: bool, extra: list[str]) -> dict[str, Any]:
    """Shape what `check` answers; `people` only when there was a roster to check against."""
    facts = evaluation.facts
    findings = [
        {
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
        for cause in evaluation.causes
        for finding in iter_findings(cause, facts)
    ]
    keys = _record_keys(evaluation)
    lines = evaluation.table.lines.tolist()
    return {
        "reading": reading_answer(evaluation.reading, extra),
        "not_data": _not_data(evaluation.reading),
        "columns": [
            {"heading": pair.heading, "field": pair.field, "reason": pair.reason, "certain": pair.certain}
            for pair in evaluation.pairs
        ],
        "tally": evaluation.tally.to_json(),
        "rows": [
            {"line": line, "outcome": OUTCOMES[outcome], "record": key}
            for line, outcome, key in zip(lines, evaluation.outcomes.tolist(), keys, strict=True)
        ],
        "findings": sorted(findings, key=lambda one: one["line"] or 0),
        "causes": [_cause_answer(cause) for cause in evaluation.causes],
        "people": _people(evaluation, keys) if against else [],
        "changes": _changes(evaluation, keys),
        "absent": evaluation.snapshot.keys(evaluation.absent),
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


def _people(evaluation: Evaluation, keys: list[Any]) -> list[dict[str, Any]]:
    people = evaluation.facts.people
    if people is None:
        return []
    answers = []
    for row, (line, key) in enumerate(zip(evaluation.table.lines.tolist(), keys, strict=True)):
        found = people.candidates(row)
        named = evaluation.snapshot.keys(np.array([record for record, _, _ in found], np.intp))
        answers.append(
            {
                "line": line,
                "decision": DECISIONS[people.decision[row]],
                "record": key,
                "score": round(people.score(row), 1),
                "candidates": [
                    {"record": name, "score": round(score, 1)} for name, (_, score, _) in zip(named, found, strict=True)
                ],
            }
        )
    return answers


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
