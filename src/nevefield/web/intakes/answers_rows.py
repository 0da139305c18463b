"""Rows of an intake as the API gives them: pages of rows, one row in full, where a line ended
up.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.causes import iter_findings
from nevefield.core.checking.waiving import waived_by
from nevefield.core.columns.titles import name_fields, name_member
from nevefield.core.snapshot import to_json
from nevefield.core.tally import OUTCOMES
from nevefield.core.texts import holding
from nevefield.intakes.recording import messages_by_row
from nevefield.web.intakes import shapes_rows

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.table import Column

__all__ = [
    "APPROVED",
    "finding_rows",
    "name_of_row",
    "page_of_rows",
    "row_detail",
    "row_key",
    "where_is",
]

APPROVED = "approved"  # in place of an outcome: the rows that somebody has approved


def page_of_rows(evaluation: Evaluation, query: shapes_rows.RowsQuery) -> shapes_rows.RowsOut:
    """Give a page of the rows with an outcome, of a cause, with a text."""
    rows = _choose(evaluation, query)
    page = rows[query.start : query.start + query.limit]
    fields = [name for name in query.fields.split(",") if name in evaluation.definition.by_name]
    findings = finding_rows(evaluation, page, query.cause)
    return shapes_rows.RowsOut(
        total=len(rows), rows=[_row(evaluation, int(row), fields, findings) for row in page]
    )


def _choose(evaluation: Evaluation, query: shapes_rows.RowsQuery) -> NDArray[np.intp]:
    chosen = np.ones(len(evaluation.table), bool)
    if query.outcome == APPROVED:
        chosen = _approved(evaluation)
    if query.outcome in OUTCOMES:
        chosen &= evaluation.outcomes == OUTCOMES.index(query.outcome)
    if query.cause:
        cause = next((cause for cause in evaluation.causes if cause.id == query.cause), None)
        of_cause = np.zeros(len(chosen), bool)
        if cause is not None:
            of_cause[cause.near if cause.hit.whole else cause.open_rows] = True
        chosen &= of_cause
    if query.ready:
        chosen &= ~evaluation.is_in
    if query.q:
        chosen &= _with_text(evaluation, query.q)
    return np.flatnonzero(chosen)


def _approved(evaluation: Evaluation) -> NDArray[np.bool_]:
    """Tell which rows somebody has approved, here or earlier, that are not aside."""
    found = np.zeros(len(evaluation.table), bool)
    for cause in evaluation.causes:
        if cause.hit.weight == "ask" and not cause.hit.whole:
            found[np.setdiff1d(cause.hit.rows, cause.open_rows)] = True
    return found & ~evaluation.facts.aside


def _with_text(evaluation: Evaluation, text: str) -> NDArray[np.bool_]:
    """Find rows where any column of the file has a text; the text is looked for once in each
    distinct value.
    """
    wanted = text.strip()
    found = (
        evaluation.table.lines == int(wanted)
        if wanted.isdecimal()
        else np.zeros(len(evaluation.table), bool)
    )
    for column in evaluation.table.columns:
        found |= _rows_with(column, wanted)
    return found


def _rows_with(column: Column, text: str) -> NDArray[np.bool_]:
    holds = np.append(holding(column.values, text), False)  # the last one for -1: nothing there
    return np.asarray(holds[column.codes], bool)


def finding_rows(
    evaluation: Evaluation, rows: NDArray[np.intp], cause_id: str = ""
) -> dict[int, list[shapes_rows.FindingOut]]:
    """List the findings of rows; those of one cause first when one is named."""
    found: dict[int, list[shapes_rows.FindingOut]] = {}
    causes = sorted(evaluation.causes, key=lambda one: one.id != cause_id)
    for cause in causes:
        still = set(cause.open_rows.tolist())
        for finding in iter_findings(cause, evaluation.facts, rows):
            found.setdefault(finding.row, []).append(
                shapes_rows.FindingOut(
                    cause=cause.id,
                    field=finding.field,
                    weight=finding.weight,  # type: ignore[arg-type]
                    value=finding.value,
                    message=finding.message,
                    suggestions=_suggestions(cause, finding.row),
                    waived=finding.row not in still and finding.weight == "ask",
                    approval=(
                        _yes(evaluation, cause, finding.row)
                        if finding.row not in still and finding.weight == "ask"
                        else ""
                    ),
                )
            )
    return found


def _yes(evaluation: Evaluation, cause: Cause, row: int) -> str:
    """Say with which reason a row was approved, here or earlier; "" where it is aside instead."""
    here = evaluation.decisions.waivers.get(
        (cause.hit.check, cause.hit.field, int(evaluation.table.lines[row]))
    )
    return f"Approved: {here}" if here else waived_by(cause.hit, evaluation.facts, row)


def _suggestions(cause: Cause, row: int) -> list[str]:
    return list(cause.hit.suggestions or cause.hit.row_suggestions.get(row, ()))


def _row(
    evaluation: Evaluation,
    row: int,
    fields: list[str],
    findings: dict[int, list[shapes_rows.FindingOut]],
) -> shapes_rows.RowOut:
    return shapes_rows.RowOut(
        line=int(evaluation.table.lines[row]),
        outcome=OUTCOMES[evaluation.outcomes[row]],  # type: ignore[arg-type]
        record=_record(evaluation, row),
        key=row_key(evaluation, row),
        name=name_of_row(evaluation, row),
        values={
            name: to_json(evaluation.definition, name, evaluation.facts.value(row, name))
            for name in fields
        },
        findings=findings.get(row, []),
    )


def _record(evaluation: Evaluation, row: int) -> int | None:
    record = int(evaluation.known.record[row])
    return int(evaluation.snapshot.ids[record]) if record >= 0 else None


def row_key(evaluation: Evaluation, row: int) -> str:
    """Write a row's primary key."""
    return " ".join(
        evaluation.facts.value(row, name) or "" for name in evaluation.definition.primary_key
    ).strip()


def name_of_row(evaluation: Evaluation, row: int) -> str:
    """Name the person of a row; the first filled cell when no field names people."""
    name = name_member(
        evaluation.definition,
        lambda field: evaluation.facts.value(row, field),
        evaluation.facts.naming,
    )
    if name or name_fields(evaluation.definition):
        return name
    return next((text for text in evaluation.table.row(row) if text), "")


def row_detail(evaluation: Evaluation, row: int) -> shapes_rows.RowDetail:
    """Give one row in full."""
    definition = evaluation.definition
    fields = []
    for field in definition.fields:
        typed = evaluation.facts.typed.get(field.name)
        record = int(evaluation.known.record[row])
        old = evaluation.snapshot.columns[field.name].at(record) if record >= 0 else None
        repair = typed.repairs.get(int(typed.raw.codes[row])) if typed else None
        is_changed = field.name in evaluation.changes and bool(
            np.isin(row, evaluation.changes[field.name])
        )
        fields.append(
            shapes_rows.RowField(
                field=field.name,
                title=field.title,
                raw=typed.raw.at(row) if typed else None,
                value=to_json(definition, field.name, evaluation.facts.value(row, field.name)),
                repair=repair.message if repair else "",
                old=to_json(definition, field.name, old),
                is_changed=is_changed,
            )
        )
    return shapes_rows.RowDetail(
        line=int(evaluation.table.lines[row]),
        is_in=bool(evaluation.is_in[row]),
        outcome=OUTCOMES[evaluation.outcomes[row]],  # type: ignore[arg-type]
        reason=_reason(evaluation, row),
        record=_record(evaluation, row),
        key=row_key(evaluation, row),
        name=name_of_row(evaluation, row),
        fields=fields,
        findings=finding_rows(evaluation, np.array([row])).get(row, []),
    )


def _reason(evaluation: Evaluation, row: int) -> str:
    line = int(evaluation.table.lines[row])
    return evaluation.decisions.held.get(line) or evaluation.decisions.left_out.get(line) or ""


def where_is(evaluation: Evaluation, line: int) -> shapes_rows.WhereOut:
    """Say where a line would end up, and why."""
    row = evaluation.row_of(line)
    if row is None:
        kinds = {line.line: line for line in evaluation.reading.not_data}
        kind = kinds.get(line)
        words = {
            "note": "a note",
            "blank": "blank",
            "header": "the header",
            "total": "a total",
            "example": "an example",
            "end": "an end mark",
        }
        message = (
            f"The line is {words[kind.kind]}, not a row of data."
            if kind
            else "No row of the file begins at this line."
        )
        return shapes_rows.WhereOut(
            line=line,
            found=kind is not None,
            name="",
            outcome="",
            said=message,
            record=None,
            applied=False,
        )
    outcome = OUTCOMES[evaluation.outcomes[row]]
    why = messages_by_row(evaluation).get(row, "")
    plain = {
        "new": "It would join the roster.",
        "changed": "It would change its record.",
        "same": "Its record is the same already.",
    }
    return shapes_rows.WhereOut(
        line=line,
        found=True,
        name=name_of_row(evaluation, row),
        outcome=outcome,
        said=" ".join(filter(None, [plain.get(outcome, ""), why])),
        record=_record(evaluation, row),
        applied=False,
    )
