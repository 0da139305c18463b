"""What would become of rows, and what a pattern would compose, as the API gives it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.composing import compose, say_pattern
from nevefield.core.sampling import choose_sample, first_rows
from nevefield.core.snapshot import to_json
from nevefield.core.tally import CHANGED, NEW, OUTCOMES
from nevefield.core.texts import SEVERAL
from nevefield.intakes.recording import messages_by_row
from nevefield.web import common
from nevefield.web.intakes import shapes_columns
from nevefield.web.intakes.answers_rows import name_of_row, row_key

if TYPE_CHECKING:
    from nevefield.core.columns.composing import Piece
    from nevefield.core.evaluate import Evaluation

__all__ = ["compose_answer", "rehearsal_answer"]

EXAMPLES = 5


def rehearsal_answer(
    evaluation: Evaluation, query: shapes_columns.RehearsalQuery
) -> shapes_columns.RehearsalOut:
    """Give what would become of some rows: outcome, why, and each value that the record would
    have.
    """
    if query.of == "sample":
        chosen = choose_sample(evaluation)
    elif query.of == "five":
        chosen = first_rows(evaluation)
    else:
        chosen = first_rows(evaluation, len(evaluation.table))
    messages = messages_by_row(evaluation)
    outcomes = [OUTCOMES[int(evaluation.outcomes[row])] for row, _ in chosen]
    page = chosen[query.start : query.start + query.limit]
    return shapes_columns.RehearsalOut(
        total=len(chosen),
        rows=[_rehearse(evaluation, row, shows, messages.get(row, "")) for row, shows in page],
        counts={name: outcomes.count(name) for name in OUTCOMES if name in outcomes},
    )


def _rehearse(
    evaluation: Evaluation, row: int, shows: list[str], text: str
) -> shapes_columns.RehearsedRow:
    outcome = int(evaluation.outcomes[row])
    record = int(evaluation.known.record[row])
    changes = []
    for name, typed in evaluation.facts.typed.items():
        new = typed.stored.at(row)
        old = evaluation.snapshot.columns[name].at(record) if record >= 0 else None
        differs = typed.folded().at(row) != (
            evaluation.snapshot.folded(name).at(record) if record >= 0 else None
        )
        if (outcome == NEW and new is not None) or (outcome == CHANGED and differs):
            definition = evaluation.definition
            changes.append(
                common.FieldChange(
                    field=name,
                    title=definition.title_of(name),
                    old=to_json(definition, name, old),
                    new=to_json(definition, name, new),
                )
            )
    return shapes_columns.RehearsedRow(
        line=int(evaluation.table.lines[row]),
        outcome=OUTCOMES[outcome],  # type: ignore[arg-type]
        name=name_of_row(evaluation, row),
        key=row_key(evaluation, row),
        shows=shows,
        said=text,
        changes=changes,
    )


def _taken(evaluation: Evaluation, row: int, piece: Piece) -> str:
    """Return what a piece of a pattern is of in a row."""
    if piece.field:
        return (evaluation.facts.value(row, piece.field) or "").replace(SEVERAL, " ")
    headings = evaluation.table.headings
    return (
        (evaluation.table.columns[headings.index(piece.heading)].at(row) or "")
        if piece.heading in headings
        else ""
    )


def compose_answer(evaluation: Evaluation, field: str) -> shapes_columns.ComposePreview:
    """Give what a pattern, already in an evaluation, composes."""
    pattern = evaluation.decisions.composed[field]
    stored = evaluation.facts.typed[field].stored
    facts = evaluation.facts
    rows = np.flatnonzero((facts.known.record < 0) & facts.joined.is_lead)
    if len(evaluation.snapshot):
        had = evaluation.snapshot.columns[field].codes
        known = facts.known.record >= 0
        blank = np.zeros(len(facts), bool)
        blank[known] = had[facts.known.record[known]] < 0
        rows = np.flatnonzero(((facts.known.record < 0) | blank) & facts.joined.is_lead)
    made = numbered = 0
    examples: list[shapes_columns.ComposeExample] = []
    for row in rows.tolist():
        value = stored.at(row)
        if not value:
            continue
        made += 1
        base = compose(pattern, lambda piece, row=row: _taken(evaluation, row, piece))  # type: ignore[misc]
        tells = value.casefold() != base.casefold()
        numbered += tells
        if len(examples) < EXAMPLES:
            line = int(evaluation.table.lines[row])
            examples.append(
                shapes_columns.ComposeExample(
                    line=line, name=name_of_row(evaluation, row), value=value
                )
            )
    return shapes_columns.ComposePreview(
        said=say_pattern(pattern, evaluation.definition.title_of),
        made=made,
        numbered=numbered,
        without=len(rows) - made,
        examples=examples,
    )
