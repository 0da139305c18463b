"""What the commands answer, in the shapes of the contract."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.cli.writing import Objects, chosen_of, json_lists, json_texts, rounded, whole_numbers
from nevefield.core.checking.causes import iter_findings
from nevefield.core.people.recognising import DECISIONS
from nevefield.core.snapshot import to_json
from nevefield.core.tally import OUTCOMES

if TYPE_CHECKING:
    from collections.abc import Iterator

    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.reading import Reading
    from nevefield.core.table import Table

    # the parts of a JSON object; what is iterated there, and `Objects`, become an array
    Answer = Iterator[tuple[str, Any]]

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
            for line, values in zip(
                table.lines[shown].tolist(), zip(*columns, strict=True), strict=True
            )
        ],
        "not_data": _not_data(reading),
    }


def check_answer(evaluation: Evaluation, *, against: bool, extra: list[str]) -> Answer:
    """Shape what `check` answers, part by part; `people` only when there was a roster to check
    against.
    """
    yield "reading", reading_answer(evaluation.reading, extra)
    yield "not_data", _not_data(evaluation.reading)
    yield (
        "columns",
        [
            {
                "heading": pair.heading,
                "field": pair.field,
                "reason": pair.reason,
                "certain": pair.certain,
            }
            for pair in evaluation.pairs
        ],
    )
    yield "tally", evaluation.tally.to_json()
    lines, names = (
        whole_numbers(evaluation.table.lines),
        _key_texts(evaluation, evaluation.known.record),
    )
    yield (
        "rows",
        Objects(
            {"line": lines, "outcome": chosen_of(OUTCOMES, evaluation.outcomes), "record": names}
        ),
    )
    yield "findings", _findings(evaluation)
    yield "causes", [_cause_answer(cause) for cause in evaluation.causes]
    yield "people", _people(evaluation, lines, names) if against else ()
    yield "changes", _changes(evaluation)
    yield "absent", evaluation.snapshot.keys(evaluation.absent)


def _findings(evaluation: Evaluation) -> Iterator[dict[str, Any]]:
    """Shape the findings by line; those of one line in the order of their causes."""
    findings = [
        finding for cause in evaluation.causes for finding in iter_findings(cause, evaluation.facts)
    ]
    for finding in sorted(findings, key=lambda one: one.line or 0):
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
    return [{"line": line.line, "kind": line.kind} for line in reading.not_data]


def _key_texts(evaluation: Evaluation, records: NDArray[np.int64]) -> Any:
    """Write the primary keys of records as JSON: a text, or an array of texts where the key has
    several fields; -1 is null.
    """
    columns = [
        evaluation.snapshot.columns[name] for name in evaluation.snapshot.definition.primary_key
    ]
    texts = []
    for column in columns:
        codes = np.append(column.codes, np.int32(-1))[records]  # the last for -1
        texts.append(
            pc.fill_null(json_texts(column.values).take(pa.array(codes, mask=codes < 0)), "null")
        )
    if len(texts) == 1:
        return texts[0]
    made = json_lists(texts) if texts else pa.array(["null"] * len(records), pa.string())
    return pc.if_else(pa.array(records < 0), "null", made)


def _cause_answer(cause: Cause) -> dict[str, Any]:
    return {
        "id": cause.id,
        "check": cause.hit.check,
        "field": cause.hit.field,
        "value": cause.value,
        "weight": cause.hit.weight,
        "rows": len(cause.hit.rows),
        "remedies": [
            {"kind": remedy.kind, "value": remedy.value, "label": remedy.label}
            for remedy in cause.remedies
        ],
        "follows": list(cause.follows),
    }


def _people(evaluation: Evaluation, lines: Any, names: Any) -> Iterator[Any] | Objects:
    people = evaluation.facts.people
    if people is None:
        return iter(())
    candidates: dict[int, list[dict[str, Any]]] = {}
    if people.likely is not None:
        found = people.likely.found
        named = evaluation.snapshot.keys(found.records)
        for row, name, score in zip(found.rows.tolist(), named, found.scores.tolist(), strict=True):
            candidates.setdefault(row, []).append({"record": name, "score": round(score, 1)})
    listed = np.zeros(len(people.decision), np.intp)
    listed[list(candidates)] = np.arange(1, len(candidates) + 1)
    return Objects(
        {
            "line": lines,
            "decision": chosen_of(DECISIONS, people.decision),
            "record": names,
            "score": rounded(people.scores(), 1),
            "candidates": chosen_of([[], *candidates.values()], listed),
        }
    )


def _changes(evaluation: Evaluation) -> list[dict[str, Any]]:
    found = []
    definition = evaluation.definition
    for name, rows in evaluation.changes.items():
        new = evaluation.facts.typed[name].stored.rows(rows)
        records = evaluation.known.record[rows]
        old = evaluation.snapshot.columns[name].rows(records)
        lines = evaluation.table.lines[rows].tolist()
        for key, line, before, after in zip(
            evaluation.snapshot.keys(records), lines, old, new, strict=True
        ):
            change = {"record": key, "line": line, "field": name}
            found.append(
                {
                    **change,
                    "old": to_json(definition, name, before),
                    "new": to_json(definition, name, after),
                }
            )
    return sorted(found, key=lambda one: one["line"])
