"""Causes as the API gives them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np

from nevefield.core.checking.causes import iter_findings
from nevefield.core.checking.waiving import is_lasting
from nevefield.core.steps import (
    must_end,
    reasons_for,
)
from nevefield.web.intakes import shapes_rows

if TYPE_CHECKING:
    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation

__all__ = ["causes_answer"]


def causes_answer(evaluation: Evaluation) -> shapes_rows.CausesOut:
    """Give the causes, those that are settled left away."""
    return shapes_rows.CausesOut(
        causes=[
            _cause(evaluation, cause)
            for cause in evaluation.causes
            if cause.is_open or cause.hit.weight == "ask"
        ]
    )


def _cause(evaluation: Evaluation, cause: Cause) -> shapes_rows.CauseOut:
    hit = cause.hit
    some = None if hit.whole else (cause.open_rows if len(cause.open_rows) else hit.rows)[:1]
    first = next(iter_findings(cause, evaluation.facts, some))
    return shapes_rows.CauseOut(
        id=cause.id,
        weight=hit.weight,  # type: ignore[arg-type]
        check=hit.check,
        field=hit.field,
        fields=list(hit.fields),
        title=hit.title,
        detail=_detail(evaluation, cause, first.message),
        value=cause.value,
        rows=len(cause.open_rows),
        waived=_waived(evaluation, cause),
        waived_before=len(cause.waived_before),
        settled=len(hit.rows) - len(cause.open_rows) if not hit.whole else int(not cause.is_open),
        whole=hit.whole,
        near=len(cause.near),
        follows=list(cause.follows),
        frees=cause.frees,
        reasons=reasons_for(
            hit.check,
            hit.field,
            evaluation.definition,
            evaluation.facts.codes,
            evaluation.facts.today,
        ),
        ends=_ends(cause, evaluation),
        remedies=[
            shapes_rows.RemedyOut(kind=remedy.kind, value=remedy.value, label=remedy.label)
            for remedy in cause.remedies
        ],
    )


def _waived(evaluation: Evaluation, cause: Cause) -> int:
    """Count the rows that this intake approves; those held or left out are not."""
    hit = cause.hit
    if hit.weight != "ask" or hit.whole:
        return 0
    settled = np.setdiff1d(hit.rows, np.concatenate([cause.open_rows, cause.waived_before]))
    return int((~evaluation.facts.aside[settled]).sum())


def _ends(cause: Cause, evaluation: Evaluation) -> Literal["", "may", "must", "again"]:
    hit = cause.hit
    if hit.check != "raised":
        return "again" if is_lasting(hit) else ""
    return "must" if must_end(hit.check, hit.field, evaluation.definition) else "may"


def _detail(evaluation: Evaluation, cause: Cause, message: str) -> str:
    texts = list(dict.fromkeys(text.strip() for text in cause.hit.texts))
    if cause.hit.suggestions and len(texts) > 1:
        shown = ", ".join(f"“{text}”" for text in texts[:4]) + (" …" if len(texts) > 4 else "")
        return f"{shown} → {' or '.join(cause.hit.suggestions)}"
    if likely := [
        row for row in cause.open_rows.tolist() if len(cause.hit.row_suggestions.get(row, ())) == 1
    ]:
        rest = len(cause.open_rows) - len(likely)
        shown = ", ".join(
            f"“{_raw(evaluation, cause, row)}” → {cause.hit.row_suggestions[row][0]}"
            for row in likely[:3]
        )
        return f"{shown}{' …' if len(likely) > 3 else ''}" + (
            f"; {rest} without a likely value" if rest else ""
        )
    return message


def _raw(evaluation: Evaluation, cause: Cause, row: int) -> str:
    return (evaluation.facts.typed[cause.hit.field or ""].raw.at(row) or "").strip()
