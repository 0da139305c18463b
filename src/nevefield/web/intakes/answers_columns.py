"""Lines and columns of a file as the API gives them."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Literal

import numpy as np

from nevefield.core.columns.composing import say_pattern
from nevefield.core.columns.days import read_day
from nevefield.core.tally import OUTCOMES
from nevefield.web.intakes import shapes_columns, shapes_files

if TYPE_CHECKING:
    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Field
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.table import Column

__all__ = ["columns_answer", "lines_answer"]

_ANY_DAY = date(2026, 1, 1)  # only asks whether a text is a day
SPARK_PARTS = 5  # distinct values drawn one by one
TRANSLATIONS = 60  # distinct values listed


def lines_answer(evaluation: Evaluation, query: shapes_files.LinesQuery) -> shapes_files.LinesOut:
    """Give lines as they stand, notes and blanks among them, each with what it was taken for."""
    table = evaluation.table
    others = {line.line: line for line in evaluation.reading.not_data}
    every = np.union1d(table.lines, np.array(sorted(others), np.int64))
    lines = []
    for line in every[query.start : query.start + query.limit].tolist():
        if line in others:
            cells = list(table.headings) if others[line].kind == "header" else [others[line].text]
            lines.append(shapes_files.LineOut(line=line, kind=others[line].kind, cells=cells))
        else:
            row = evaluation.row_of(line) or 0
            lines.append(
                shapes_files.LineOut(
                    line=line, kind=OUTCOMES[evaluation.outcomes[row]], cells=table.row(row)
                )
            )
    return shapes_files.LinesOut(headings=list(table.headings), lines=lines, total=len(every))


def columns_answer(evaluation: Evaluation) -> shapes_columns.ColumnsOut:
    """Give every column as a strip, and the fields that no column fills."""
    definition = evaluation.definition
    columns = []
    for place, pair in enumerate(evaluation.pairs):
        column = evaluation.table.columns[place]
        typed = evaluation.facts.typed.get(pair.field) if pair.field and not pair.parts else None
        typed = None if pair.beside else typed
        secret = pair.heading in evaluation.reading.secrets
        counts = column.counts()
        filled = int(
            sum(
                n
                for n, text in zip(counts.tolist(), column.texts(), strict=True)
                if text.strip() not in definition.missing
            )
        )
        wrong = int(typed.problem_rows().sum()) if typed else 0
        columns.append(
            shapes_columns.ColumnOut(
                heading=pair.heading,
                letter=_letter(place),
                field=pair.field,
                reason=pair.reason,
                certain=pair.certain,
                beside=pair.beside,
                by_hand=pair.heading in evaluation.decisions.pairs
                or pair.heading in evaluation.decisions.splits,
                parts=list(pair.parts),
                at=pair.at,
                others=[
                    shapes_columns.OtherField(field=name, reason=reason)
                    for name, reason in pair.others
                ],
                secret=secret,
                distinct=int((counts > 0).sum()),
                filled=filled,
                wrong=wrong,
                spark=(
                    [shapes_columns.SparkPart(text="", rows=len(column), kind="secret")]
                    if secret
                    else _spark(column, counts, typed, filled, wrong, definition.missing)
                ),
                reads=_reads(typed, wrong, evaluation),
                empty=len(evaluation.table) - filled,
                fill=(
                    _fill(evaluation, pair.field)
                    if pair.field and not pair.parts and not pair.beside
                    else None
                ),
                translations=(
                    _translations(evaluation, typed) if typed and typed.field.code_list else []
                ),
            )
        )
    filled_names = {name for pair in evaluation.pairs for name in (pair.field, *pair.parts)}
    unfilled = [
        _unfilled(evaluation, field)
        for field in definition.fields
        if field.name not in filled_names
    ]
    return shapes_columns.ColumnsOut(columns=columns, unfilled=unfilled)


def _unfilled(evaluation: Evaluation, field: Field) -> shapes_columns.UnfilledOut:
    pattern = evaluation.decisions.composed.get(field.name)
    typed = evaluation.facts.typed.get(field.name)
    examples = (
        [text for text in typed.stored.rows(np.arange(min(3, len(typed.stored)))) if text]
        if typed and pattern
        else []
    )
    return shapes_columns.UnfilledOut(
        field=field.name,
        title=field.title,
        required=field.required,
        fill=_fill(evaluation, field.name),
        composed=pattern.model_dump() if pattern else None,
        said=say_pattern(pattern, evaluation.definition.title_of) if pattern else "",
        examples=examples,
    )


def _fill(evaluation: Evaluation, name: str) -> shapes_columns.FillOut | None:
    """Say what a field's fill value does."""
    value = evaluation.decisions.fills.get(name)
    if not value:
        return None
    rows = evaluation.facts.filled.get(name, np.zeros(0, np.intp))
    over = name in evaluation.decisions.fills_over
    record = evaluation.known.record[rows]
    had = (
        evaluation.snapshot.columns[name].codes[record] >= 0
        if len(evaluation.snapshot)
        else np.zeros(len(rows), bool)
    )
    kept = (record >= 0) & had & (not over)
    return shapes_columns.FillOut(
        value=value,
        over=over,
        fills=int((~kept).sum()),
        joining=int((record < 0).sum()),
        kept=int(kept.sum()),
    )


def _letter(place: int) -> str:
    return (chr(64 + place // 26) if place >= 26 else "") + chr(65 + place % 26)


def _spark(
    column: Column,
    counts: np.ndarray,
    typed: Typed | None,
    filled: int,
    wrong: int,
    missing: frozenset[str],
) -> list[shapes_columns.SparkPart]:
    """Draw a column: its commonest values one by one or, when nearly all differ, as one; then
    the wrong and the empty ones.
    """
    texts = column.texts()
    wrong_texts = {typed.raw.texts()[code] for code in typed.problems} if typed else set()
    common = [
        (texts[code], int(counts[code]))
        for code in np.argsort(-counts, kind="stable").tolist()
        if texts[code].strip() not in missing and texts[code] not in wrong_texts and counts[code]
    ]
    parts: list[shapes_columns.SparkPart] = []
    if len(common) > max(40, filled // 3):
        parts.append(
            shapes_columns.SparkPart(
                text=f"{len(common)} different", rows=sum(n for _, n in common), kind="many"
            )
        )
    else:
        parts += [
            shapes_columns.SparkPart(text=text, rows=n, kind="value")
            for text, n in common[:SPARK_PARTS]
        ]
        rest = sum(n for _, n in common[SPARK_PARTS:])
        if rest:
            parts.append(
                shapes_columns.SparkPart(
                    text=f"{len(common) - SPARK_PARTS} others", rows=rest, kind="value"
                )
            )
    if wrong:
        parts.append(shapes_columns.SparkPart(text="not readable", rows=wrong, kind="wrong"))
    if empty := len(column) - filled:
        parts.append(shapes_columns.SparkPart(text="empty", rows=empty, kind="empty"))
    return parts


def _reads(typed: Typed | None, wrong: int, evaluation: Evaluation) -> str:
    """Word how a column is read."""
    if typed is None:
        return ""
    messages = []
    if typed.order:
        words = "day before month" if typed.order == "dmy" else "month before day"
        messages.append(
            f"{words}: {typed.deciding} different value{'s' if typed.deciding != 1 else ''} can"
            " only be read so"
            if typed.deciding
            else f"{words}, {_told(typed.field.name in evaluation.decisions.orders)}"
        )
    if typed.mark:
        sign = "comma" if typed.mark == "," else "point"
        told = _told(typed.field.name in evaluation.decisions.marks)
        messages.append(f"decimal {sign}" + ("" if typed.deciding else f", {told}"))
    if typed.separator:
        messages.append(
            f"several in a cell, between them “{typed.separator.strip() or 'a line break'}”"
        )
    first = next(iter(typed.repairs.items()), None)
    if first is not None and not typed.order:
        kinds: dict[str, int] = {}
        counts = typed.raw.counts()
        for code, repair in typed.repairs.items():
            kinds[repair.kind] = kinds.get(repair.kind, 0) + int(counts[code])
        words_of = {
            "label": "names in place of codes",
            "spaces": "spaces taken off",
            "case": "case put right",
            "zeros": "zeros given back",
            "number": "numbers read",
            "day": "days read",
            "letters": "letters put right",
            "quotes": "quotation marks made plain",
            "cut": "may have been cut off",
            "apostrophe": "apostrophes for spreadsheets taken off",
        }
        messages += [f"{words_of[kind]}: {count}" for kind, count in kinds.items() if count]
    elif first is not None and typed.order:
        text = typed.raw.texts()[first[0]]
        day = typed.repairs[first[0]].message.split(" is read as ")[-1].rstrip(".")
        if read_day(text.strip(), typed.order, _ANY_DAY):
            messages.append(f"{text.strip()} → {day}")
    if wrong and not typed.field.code_list:  # wrong codes are listed one by one
        messages.append(f"{wrong} not readable")
    return " · ".join(messages)


def _told(by_hand: bool) -> str:
    return "as you said" if by_hand else "as last time"


def _translations(evaluation: Evaluation, typed: Typed) -> list[shapes_columns.TranslationOut]:
    """List what each text of a coded column is taken for, the wrong ones first."""
    codes = evaluation.facts.codes[typed.field.code_list].by_code
    counts = typed.raw.counts()
    found = []
    for code in np.argsort(-counts, kind="stable").tolist():
        text = typed.raw.texts()[code]
        if not counts[code] or text.strip() in evaluation.definition.missing:
            continue
        wrong = code in typed.problems
        row = int(np.flatnonzero(typed.raw.codes == code)[0])
        value = None if wrong else typed.stored.at(row)
        told = (typed.field.name, text) in evaluation.decisions.translations
        how: Literal["same", "read", "told", "wrong"] = (
            "wrong" if wrong else "told" if told else "same" if value == text.strip() else "read"
        )
        label = codes[value].label if value in codes else ""
        likely = list(typed.problems[code].suggestions) if wrong else []
        found.append(
            shapes_columns.TranslationOut(
                text=text, rows=int(counts[code]), to=value, label=label, how=how, likely=likely
            )
        )
    return sorted(found, key=lambda one: one.how != "wrong")[:TRANSLATIONS]
