"""An intake as the API gives it: overview, the File and Columns pages, causes."""

from __future__ import annotations

from collections import Counter
from datetime import date
from typing import TYPE_CHECKING, Any, Literal

import numpy as np

from nevefield.core.changes.explaining import explain_absent
from nevefield.core.changes.guards import guards_of
from nevefield.core.checking.causes import iter_findings
from nevefield.core.checking.waiving import is_lasting
from nevefield.core.columns.composing import say_pattern
from nevefield.core.columns.days import read_day
from nevefield.core.conditions import say_condition
from nevefield.core.masking import sensitive_fields
from nevefield.core.people.recognising import ASKED, DECISIONS
from nevefield.core.placing.memberships import membership_of
from nevefield.core.steps import (
    active_steps,
    last_receipt,
    must_end,
    read_step,
    reasons_for,
)
from nevefield.core.steps.kinds import AppliedStep, RecipeStep, TakenBackStep, UndoStep
from nevefield.core.tally import OUTCOMES
from nevefield.intakes.applying import raised_by, waits_of
from nevefield.intakes.sources import source_of
from nevefield.web import models
from nevefield.web.step_words import word_step

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.checking.causes import Cause
    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition, Field
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.table import Column
    from nevefield.intakes.evaluating import Opened
    from nevefield.store.intakes import StepRow

__all__ = ["causes_answer", "columns_answer", "intake_answer", "lines_answer"]

_ANY_DAY = date(2026, 1, 1)  # only asks whether a text is a day
SPARK_PARTS = 5  # distinct values drawn one by one
TRANSLATIONS = 60  # distinct values listed


def intake_answer(
    opened: Opened,
    *,
    level: int,
    by: str,
    applied: int | None,
    job: int | None,
    later: int,
    unlike: list[str],
    sources: list[str],
    covers: bool = False,
    past: Sequence[int] = (),
    proposal: models.ProposalOut | None = None,
    scheduled: models.ScheduledOut | None = None,
) -> models.IntakeOut:
    """Give the overview that every page of an intake shows."""
    recipe = opened.evaluation.decisions.recipe
    recipes = (row for row in reversed(opened.steps) if row.step["kind"] == "recipe")
    recipe_step = next(
        (row.number for row in recipes if recipe and row.step["source"] == recipe.source), None
    )
    intake, evaluation = opened.intake, opened.evaluation
    reading = evaluation.reading
    weights = [
        cause.hit.weight for cause in evaluation.causes if cause.is_open and not cause.follows
    ]
    paired = sum(1 for pair in evaluation.pairs if pair.field)
    log, undo, redo = _log(opened.steps, evaluation.definition, covers=covers)
    matched = int((evaluation.known.record >= 0).sum())
    said = evaluation.decisions.source
    part = next((kind.part[0] for kind in evaluation.definition.groups if kind.part), "")
    return models.IntakeOut(
        id=intake.id,
        title=intake.title,
        file_name=intake.file_name,
        roster=opened.roster.name,
        roster_title=opened.roster.title,
        roster_version=opened.roster.version,
        level=level,
        coverage=evaluation.decisions.coverage,
        membership=_membership(evaluation),
        unusual=_unusual(evaluation, past),
        absences=evaluation.absences.counts(),
        part_title=evaluation.definition.title_of(part) if part else "",
        parts=_parts(evaluation, part) if part else {},
        why=evaluation.definition.approval.why(evaluation.altering, raised_by(evaluation)),
        proposal=proposal,
        scheduled=scheduled,
        waits=[models.WaitOut(cause=one.id, title=one.hit.title) for one in waits_of(evaluation)],
        guards=guards_of(evaluation),
        part=evaluation.decisions.part,
        part_said=(
            say_condition(evaluation.decisions.part, evaluation.facts.title)
            if evaluation.decisions.part
            else ""
        ),
        claims=_claims(evaluation),
        takes=evaluation.decisions.takes,  # type: ignore[arg-type]
        source=source_of(evaluation.decisions, intake),
        source_by=said.by if said else "given",
        source_why=said.why if said else "",
        learnt=date.fromisoformat(recipe.learnt) if recipe else None,
        recipe_step=recipe_step,
        unlike=unlike,
        sources=sources,
        by=by,
        at=intake.at,
        tally=models.TallyOut(**evaluation.tally.to_json()),
        is_applied=evaluation.is_applied,
        thrown=intake.thrown_at is not None,
        ready=models.TallyOut(**evaluation.ready.to_json()),
        adds_up=evaluation.tally.adds_up,
        not_data=len(reading.not_data),
        reading=models.ReadingOut(
            type=reading.type,
            encoding=reading.encoding,
            separator=reading.separator,
            sheet=reading.sheet,
            sheets=list(reading.sheets),
            why=reading.why,
            header_line=reading.header_line,
            sentence=reading.sentence,
            remarks=list(reading.remarks),
            not_data=[
                models.NotDataOut(line=one.line, kind=one.kind, text=one.text)
                for one in reading.not_data[:500]
            ],
        ),
        records=len(evaluation.snapshot),
        people=int(evaluation.facts.joined.is_lead.sum()),
        columns_paired=paired,
        columns_total=len(evaluation.pairs),
        stops=weights.count("stop"),
        asks=weights.count("ask"),
        notes=weights.count("note"),
        by_key=matched,
        nobody=len(evaluation.table) - matched,
        people_decisions=_decisions(evaluation),
        changes=evaluation.altering,
        steps=len(opened.steps),
        log=log,
        undo=undo,
        redo=redo,
        applied=applied,
        job=job,
        later=later,
    )


def _membership(evaluation: Evaluation) -> models.MembershipOut | None:
    kind = membership_of(evaluation.definition)
    if kind is None:
        return None
    going = np.flatnonzero(evaluation.going)
    people = {text for text in evaluation.facts.stored(kind.person).rows(going) if text}
    return models.MembershipOut(
        last=kind.last, people=len(people), ends=len(evaluation.absences.beside)
    )


def _claims(evaluation: Evaluation) -> Literal["", "this", "source"]:
    remembered = evaluation.decisions.claim_remembered
    return "" if remembered is None else "source" if remembered else "this"


def _parts(evaluation: Evaluation, name: str) -> dict[str, int]:
    """Count by part of the institution the people whom applying would alter or add."""
    going = np.flatnonzero(evaluation.going & evaluation.facts.joined.is_lead)
    listed = evaluation.facts.codes.get(evaluation.definition.by_name[name].code_list)
    counts = Counter(evaluation.facts.stored(name).rows(going))
    found = {}
    for text, count in counts.most_common():
        code = listed.by_code.get(text) if listed and text else None
        found[code.label or text if code and text else text or "not said"] = count
    return found


def _unusual(evaluation: Evaluation, past: Sequence[int]) -> models.UnusualOut | None:
    found = explain_absent(evaluation, past)
    return models.UnusualOut(**vars(found)) if found else None


def _label(step: Any, definition: Definition, *, covers: bool) -> str:
    """Word a step; of one about a sensitive field only that, where its values are kept from who
    looks.
    """
    names = (
        sensitive_fields(definition) & {name for _, name in step.named()} if covers else frozenset()
    )
    if names:
        return (
            f"Something about {' and '.join(sorted(definition.title_of(name) for name in names))},"
            " which is kept from you"
        )
    return word_step(step, definition)


def _log(
    rows: list[StepRow], definition: Definition, *, covers: bool
) -> tuple[list[models.StepOut], int | None, int | None]:
    """Word the steps, and say which one `Z` undoes and which one is done again."""
    steps = [read_step(row.step) for row in rows]
    holding = {number for number, _ in active_steps(steps)}
    log = []
    for row, step in zip(rows, steps, strict=True):
        if isinstance(step, UndoStep):
            continue
        log.append(
            models.StepOut(
                number=row.number,
                kind=step.kind,
                label=_label(step, definition, covers=covers),
                by=row.account,
                at=row.at,
                undone=row.number not in holding,
            )
        )
    receipt = last_receipt(steps)
    mine = (
        number
        for number, step in active_steps(steps)
        if not isinstance(step, AppliedStep | TakenBackStep | RecipeStep)
    )
    last = max((number for number in mine if number > receipt), default=None)
    latest = steps[-1] if steps else None
    redo = len(steps) if isinstance(latest, UndoStep) and latest.step > receipt else None
    return log, last, redo


def _decisions(evaluation: Evaluation) -> dict[str, int]:
    """Count rows by how it is known who they are; those held or left out are not asked about."""
    people = evaluation.facts.people
    if people is None:
        return dict.fromkeys(DECISIONS, 0)
    counted = people.decision[~(evaluation.facts.aside & (people.decision == ASKED))]
    return dict(
        zip(DECISIONS, np.bincount(counted, minlength=len(DECISIONS)).tolist(), strict=True)
    )


def lines_answer(evaluation: Evaluation, query: models.LinesQuery) -> models.LinesOut:
    """Give lines as they stand, notes and blanks among them, each with what it was taken for."""
    table = evaluation.table
    others = {one.line: one for one in evaluation.reading.not_data}
    every = np.union1d(table.lines, np.array(sorted(others), np.int64))
    lines = []
    for line in every[query.start : query.start + query.limit].tolist():
        if line in others:
            cells = list(table.headings) if others[line].kind == "header" else [others[line].text]
            lines.append(models.LineOut(line=line, kind=others[line].kind, cells=cells))
        else:
            row = evaluation.row_of(line) or 0
            lines.append(
                models.LineOut(
                    line=line, kind=OUTCOMES[evaluation.outcomes[row]], cells=table.row(row)
                )
            )
    return models.LinesOut(headings=list(table.headings), lines=lines, total=len(every))


def columns_answer(evaluation: Evaluation) -> models.ColumnsOut:
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
            models.ColumnOut(
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
                    models.OtherField(field=name, reason=reason) for name, reason in pair.others
                ],
                secret=secret,
                distinct=int((counts > 0).sum()),
                filled=filled,
                wrong=wrong,
                spark=_spark(
                    column,
                    counts,
                    len(evaluation.table),
                    typed,
                    filled,
                    wrong,
                    secret,
                    definition.missing,
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
        _unfilled(evaluation, one) for one in definition.fields if one.name not in filled_names
    ]
    return models.ColumnsOut(columns=columns, unfilled=unfilled)


def _unfilled(evaluation: Evaluation, one: Field) -> models.UnfilledOut:
    pattern = evaluation.decisions.composed.get(one.name)
    typed = evaluation.facts.typed.get(one.name)
    examples = (
        [text for text in typed.stored.rows(np.arange(min(3, len(typed.stored)))) if text]
        if typed and pattern
        else []
    )
    return models.UnfilledOut(
        field=one.name,
        title=one.title,
        required=one.required,
        fill=_fill(evaluation, one.name),
        composed=pattern.model_dump() if pattern else None,
        said=say_pattern(pattern, evaluation.definition.title_of) if pattern else "",
        examples=examples,
    )


def _fill(evaluation: Evaluation, name: str) -> models.FillOut | None:
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
    return models.FillOut(
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
    rows: int,
    typed: Typed | None,
    filled: int,
    wrong: int,
    secret: bool,
    missing: frozenset[str],
) -> list[models.SparkPart]:
    """Draw a column: its commonest values one by one or, when nearly all differ, as one; then
    the wrong and the empty ones.
    """
    if secret:
        return [models.SparkPart(text="", rows=rows, kind="secret")]
    texts = column.texts()
    wrong_texts = {typed.raw.texts()[code] for code in typed.problems} if typed else set()
    common = [
        (texts[code], int(counts[code]))
        for code in np.argsort(-counts, kind="stable").tolist()
        if texts[code].strip() not in missing and texts[code] not in wrong_texts and counts[code]
    ]
    parts: list[models.SparkPart] = []
    if len(common) > max(40, filled // 3):
        parts.append(
            models.SparkPart(
                text=f"{len(common)} different", rows=sum(n for _, n in common), kind="many"
            )
        )
    else:
        parts += [
            models.SparkPart(text=text, rows=n, kind="value") for text, n in common[:SPARK_PARTS]
        ]
        rest = sum(n for _, n in common[SPARK_PARTS:])
        if rest:
            parts.append(
                models.SparkPart(
                    text=f"{len(common) - SPARK_PARTS} others", rows=rest, kind="value"
                )
            )
    if wrong:
        parts.append(models.SparkPart(text="not readable", rows=wrong, kind="wrong"))
    if rows - filled:
        parts.append(models.SparkPart(text="empty", rows=rows - filled, kind="empty"))
    return parts


def _reads(typed: Typed | None, wrong: int, evaluation: Evaluation) -> str:
    """Word how a column is read."""
    if typed is None:
        return ""
    said = []
    if typed.order:
        words = "day before month" if typed.order == "dmy" else "month before day"
        said.append(
            f"{words}: {typed.deciding} different value{'s' if typed.deciding != 1 else ''} can"
            " only be read so"
            if typed.deciding
            else f"{words}, {_told(typed.field.name in evaluation.decisions.orders)}"
        )
    if typed.mark:
        sign = "comma" if typed.mark == "," else "point"
        told = _told(typed.field.name in evaluation.decisions.marks)
        said.append(f"decimal {sign}" + ("" if typed.deciding else f", {told}"))
    if typed.separator:
        said.append(
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
        said += [f"{words_of[kind]}: {count}" for kind, count in kinds.items() if count]
    elif first is not None and typed.order:
        text = typed.raw.texts()[first[0]]
        day = typed.repairs[first[0]].message.split(" is read as ")[-1].rstrip(".")
        if read_day(text.strip(), typed.order, _ANY_DAY):
            said.append(f"{text.strip()} → {day}")
    if wrong and not typed.field.code_list:  # wrong codes are listed one by one
        said.append(f"{wrong} not readable")
    return " · ".join(said)


def _told(by_hand: bool) -> str:
    return "as you said" if by_hand else "as last time"


def _translations(evaluation: Evaluation, typed: Typed) -> list[models.TranslationOut]:
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
            models.TranslationOut(
                text=text, rows=int(counts[code]), to=value, label=label, how=how, likely=likely
            )
        )
    return sorted(found, key=lambda one: one.how != "wrong")[:TRANSLATIONS]


def causes_answer(evaluation: Evaluation) -> models.CausesOut:
    """Give the causes, those that are settled left away."""
    return models.CausesOut(
        causes=[
            _cause(evaluation, cause)
            for cause in evaluation.causes
            if cause.is_open or cause.hit.weight == "ask"
        ]
    )


def _cause(evaluation: Evaluation, cause: Cause) -> models.CauseOut:
    hit = cause.hit
    some = None if hit.whole else (cause.open_rows if len(cause.open_rows) else hit.rows)[:1]
    first = next(iter_findings(cause, evaluation.facts, some))
    return models.CauseOut(
        id=cause.id,
        weight=hit.weight,  # type: ignore[arg-type]
        check=hit.check,
        field=hit.field,
        fields=list(hit.fields),
        title=hit.title,
        detail=_detail(evaluation, cause, first.message),
        value=cause.value,
        rows=len(cause.open_rows),
        let_in=_let_in(evaluation, cause),
        let_in_before=len(cause.let_in),
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
            models.RemedyOut(kind=one.kind, value=one.value, label=one.label)
            for one in cause.remedies
        ],
    )


def _let_in(evaluation: Evaluation, cause: Cause) -> int:
    """Count the rows that a yes of this intake lets in; those held or left out are not."""
    hit = cause.hit
    if hit.weight != "ask" or hit.whole:
        return 0
    settled = np.setdiff1d(hit.rows, np.concatenate([cause.open_rows, cause.let_in]))
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
