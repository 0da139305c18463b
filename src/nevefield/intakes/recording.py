"""Write a plan into the roster's records, and keep where every line of its file ended up."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.changes.taking import taken_away
from nevefield.core.checking.causes import iter_findings
from nevefield.core.people.recognising import likeness_of
from nevefield.core.tally import HELD, LEFT_OUT, OUTCOMES, SAME, count_outcomes
from nevefield.intakes.evaluating import Opened
from nevefield.intakes.sources import learn_from
from nevefield.intakes.waivers import keep_waivers
from nevefield.rosters.errors import (
    NotReconciled,
)
from nevefield.store import intakes as store
from nevefield.store import records as record_store
from nevefield.store.said import replace_said
from nevefield.store.writing import OutcomeRow, Write, insert_outcomes

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.changes.plan import Plan
    from nevefield.core.evaluate import Evaluation
    from nevefield.store.connection import Connection

__all__ = [
    "joined_without_key",
    "keep_receipt",
    "list_counted",
    "messages_by_row",
    "number_rows",
    "writes_of",
]


def number_rows(context: Context, evaluation: Evaluation, plan: Plan) -> np.ndarray:
    """Find each row's record by its number in the store; those who join get new ones."""
    joins = plan.records < 0
    with context.database.transaction() as connection:
        first = record_store.reserve_numbers(connection, int(joins.sum())) if joins.any() else 0
    ids = evaluation.snapshot.ids
    record_of_row = np.where(
        evaluation.known.record >= 0, ids[evaluation.known.record] if len(ids) else 0, 0
    )
    record_of_row[plan.rows[joins]] = first + np.arange(joins.sum())
    # rows that are one person are one record
    return np.asarray(record_of_row[evaluation.facts.joined.lead])


def writes_of(evaluation: Evaluation, plan: Plan, record_of_row: np.ndarray) -> list[Write]:
    ids, joins = evaluation.snapshot.ids, plan.records < 0
    writes = [
        Write(number, document, line, is_new, keys)
        for number, document, line, is_new, keys in zip(
            record_of_row[plan.rows].tolist(),
            plan.documents,
            plan.lines.tolist(),
            joins.tolist(),
            plan.keys,
            strict=True,
        )
    ]
    writes += [Write(int(ids[record]), None) for record in plan.leaving.tolist()]
    ending = zip(plan.ending.tolist(), plan.ended, plan.ended_keys, strict=True)
    return writes + [
        Write(int(ids[record]), document, None, False, keys) for record, document, keys in ending
    ]


def keep_receipt(
    context: Context,
    connection: Connection,
    opened: Opened,
    change_set_id: int,
    receipt: dict[str, Any],
    record_of_row: np.ndarray,
    account_id: int | None,
) -> None:
    """Keep where every line ended up, what was learnt and said, and the receipt with what was read
    back.

    Raises:
        NotReconciled: The lines' outcomes as they stand in the database are not the tally.
    """
    evaluation, intake = opened.evaluation, opened.intake
    counts = insert_outcomes(connection, change_set_id, _outcome_rows(evaluation, record_of_row))
    tally = count_outcomes(
        _outcomes_now(evaluation), len(evaluation.table), evaluation.tally.absent
    ).to_json()
    found = {name: int(counts.get(name, 0)) for name in OUTCOMES}
    if found != {name: tally[name] for name in OUTCOMES} or not evaluation.tally.adds_up:
        raise NotReconciled({name: tally[name] for name in OUTCOMES}, found)
    receipt |= {"tally": tally, "rows": found, "fields": _count_fields(evaluation)}
    title = evaluation.definition.title_of
    receipt["taken_away"] = {
        title(name): len(rows)
        for name in evaluation.changes
        if len(rows := taken_away(evaluation, name))
    }
    receipt |= {"absent": evaluation.absences.counts(), "coverage": evaluation.decisions.coverage}
    receipt["learnt"] = learn_from(
        context, connection, intake, opened.roster, evaluation, account_id
    )
    record_store.set_receipt(connection, change_set_id, receipt)
    keep_waivers(connection, opened, change_set_id, record_of_row)
    replace_said(
        connection, opened.roster.id, _said(evaluation, record_of_row), intake.id, context.now()
    )
    store.set_tally(
        connection,
        intake.id,
        evaluation.tally.to_json()
        | {"absent_held": evaluation.absences.counts()["hold"], "ready": 0},
    )


def _outcomes_now(evaluation: Evaluation) -> np.ndarray:
    """Give every row the outcome of this time: what went in earlier is the same."""
    return np.where(evaluation.is_in, np.int8(SAME), evaluation.outcomes)


def joined_without_key(
    evaluation: Evaluation, plan: Plan, record_of_row: np.ndarray
) -> list[dict[str, int]]:
    """List who joined without a key by which the same file would know them again."""
    rows = plan.rows[plan.records < 0].tolist()
    keys = evaluation.facts.keys
    chosen = evaluation.decisions.people
    lines = evaluation.table.lines
    return [
        {"line": int(lines[row]), "record": int(record_of_row[row])}
        for row in rows
        if int(lines[row]) in chosen
        or all(any(evaluation.facts.value(row, name) is None for name in key) for key in keys)
    ]


def list_counted(evaluation: Evaluation) -> dict[str, list[int]]:
    """List by field the lines that went in, for which something was added to or subtracted from
    what the roster had.
    """
    decisions = evaluation.decisions
    went_in = evaluation.table.lines[(evaluation.outcomes <= SAME) & ~evaluation.is_in].tolist()
    counted = {}
    for field in evaluation.definition.fields:
        if field.several:  # what is there already is not added again
            continue
        rule = decisions.rules.get(field.name) or field.rule
        single = decisions.row_rules.get(field.name, {})
        lines = [line for line in went_in if single.get(line, rule) in ("add", "remove")]
        if lines and field.name in evaluation.facts.typed:
            counted[field.name] = lines
    return counted


def _said(evaluation: Evaluation, record_of_row: np.ndarray) -> list[tuple[bytes, int, bool]]:
    """List what was said here of who is who: the record that a row is, and the candidates that
    it is not.
    """
    people, ids = evaluation.facts.people, evaluation.snapshot.ids
    said: list[tuple[bytes, int, bool]] = []
    for line in evaluation.decisions.people:
        row = evaluation.row_of(line)
        if (
            row is None
            or people is None
            or evaluation.outcomes[row] > SAME
            or evaluation.is_in[row]
        ):
            continue
        likeness = likeness_of(evaluation.definition, people.typed, row)
        if not likeness:
            continue
        own = int(evaluation.known.record[row])
        said.append((likeness, int(record_of_row[row]), True))
        said += [
            (likeness, int(ids[record]), False)
            for record, _, _ in people.candidates(row)
            if record != own
        ]
    return said


def _count_fields(evaluation: Evaluation) -> dict[str, int]:
    return {name: len(rows) for name, rows in evaluation.changes.items()}


def _outcome_rows(evaluation: Evaluation, record_of_row: np.ndarray) -> list[OutcomeRow]:
    messages = messages_by_row(evaluation)
    return [
        OutcomeRow(line, OUTCOMES[outcome], int(record) or None, messages.get(row, ""))
        for row, (line, outcome, record) in enumerate(
            zip(
                evaluation.table.lines.tolist(),
                _outcomes_now(evaluation).tolist(),
                record_of_row.tolist(),
                strict=True,
            )
        )
    ]


def messages_by_row(evaluation: Evaluation) -> dict[int, str]:
    """Word why rows did not go in, or why they go aside."""
    decisions = evaluation.decisions
    found: dict[int, list[str]] = {}
    for cause in evaluation.causes:
        if cause.hit.weight == "note" and not cause.hit.left_out:
            continue
        wanted = cause.open_rows if cause.hit.weight != "note" else cause.hit.rows
        for finding in iter_findings(cause, evaluation.facts, wanted):
            if evaluation.outcomes[finding.row] > SAME:
                found.setdefault(finding.row, []).append(finding.message)
    for row in np.flatnonzero(evaluation.outcomes >= HELD).tolist():
        line = int(evaluation.table.lines[row])
        reasons = decisions.held if evaluation.outcomes[row] == HELD else decisions.left_out
        if line in reasons:
            found[row] = [reasons[line]]
    changed: dict[int, list[str]] = {}
    for name, rows in evaluation.changes.items():
        for row in rows.tolist():
            changed.setdefault(row, []).append(evaluation.definition.title_of(name))
    for row, names in changed.items():
        if evaluation.going[row]:
            found[row] = [f"{', '.join(names)} changed."]
    return {
        row: " ".join(messages)
        for row, messages in found.items()
        if evaluation.outcomes[row] <= LEFT_OUT
    }
