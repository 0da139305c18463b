"""What would change, as the API gives it: families with counts, and one family with its people."""

from __future__ import annotations

from decimal import Decimal
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.changes.leaving import ACTS
from nevefield.core.changes.taking import kept_blanks, taken_away
from nevefield.core.changes.updating import rules_of
from nevefield.core.columns.titles import name_member
from nevefield.core.snapshot import say_key, to_json
from nevefield.core.tally import NEW, SAME
from nevefield.web import common
from nevefield.web.intakes import shapes_changes
from nevefield.web.intakes.answers_rows import name_of_row, row_key

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.evaluate import Evaluation

__all__ = ["changes_answer", "family_answer"]


def changes_answer(evaluation: Evaluation) -> shapes_changes.ChangesOut:
    """Give the families of change with their counts."""
    tally = evaluation.ready
    families = [
        common.FamilyOut(key="join", title="join", count=tally.new, taken_away=0),
        common.FamilyOut(
            key="absent", title="absent from the file", count=tally.absent, taken_away=0
        ),
    ]
    if beside := len(evaluation.absences.beside):
        families.append(
            common.FamilyOut(key="beside", title="end for another", count=beside, taken_away=0)
        )
    for name, rows in evaluation.changes.items():
        families.append(_family(evaluation, name, len(rows)))
    decisions = evaluation.decisions
    # What somebody keeps as it is stays in sight, or nobody would find the way back; so does what
    # the file has nothing for.
    blank = [name for name in evaluation.facts.typed if len(kept_blanks(evaluation, name))]
    for name in dict.fromkeys([*decisions.rules, *decisions.row_rules, *blank]):
        if name in evaluation.facts.typed and name not in evaluation.changes:
            families.append(_family(evaluation, name, 0))
    going = evaluation.going
    followed = [
        shapes_changes.FollowedOut(
            field=name, title=evaluation.definition.title_of(name), count=int(going[rows].sum())
        )
        for name, rows in evaluation.facts.followed.items()
        if going[rows].any()
    ]
    return shapes_changes.ChangesOut(families=families, changed=tally.changed, followed=followed)


def _family(evaluation: Evaluation, name: str, count: int) -> common.FamilyOut:
    return common.FamilyOut(
        key=name,
        title=evaluation.definition.title_of(name),
        count=count,
        taken_away=len(taken_away(evaluation, name)),
        kept_blank=len(kept_blanks(evaluation, name)),
    )


def family_answer(
    evaluation: Evaluation, query: shapes_changes.FamilyQuery
) -> shapes_changes.FamilyDetail:
    """Give one family: its from/to counts for coded fields, and its people."""
    definition = evaluation.definition
    if query.family == "join":
        rows = np.flatnonzero((evaluation.outcomes == NEW) & ~evaluation.is_in)
        return _detail(
            query,
            "join",
            len(rows),
            [],
            [_joining(evaluation, int(row)) for row in _page(rows, query)],
        )
    if query.family == "beside":
        records = evaluation.absences.beside
        people = [_ending(evaluation, int(record)) for record in _page(records, query)]
        return _detail(query, "end, because another takes their place", len(records), [], people)
    if query.family == "absent":
        records = evaluation.absent
        people = [_absent(evaluation, int(record)) for record in _page(records, query)]
        detail = _detail(query, "absent from the file", len(records), [], people)
        absent = evaluation.decisions.absent
        act, field, day = (absent.act, absent.field, absent.day) if absent else ("stay", "", "")
        return detail.model_copy(update={"act": act, "end_field": field, "end_day": day})
    rows = evaluation.changes.get(query.family, np.zeros(0, np.intp))
    title = (
        definition.title_of(query.family) if query.family in definition.by_name else query.family
    )
    moves = (
        _moves(evaluation, query.family, rows)
        if len(rows) and definition.by_name[query.family].code_list
        else []
    )
    people = [_changed(evaluation, query.family, int(row)) for row in _page(rows, query)]
    detail = _detail(query, title, len(rows), moves, people)
    return (
        _with_rule(evaluation, query.family, detail)
        if query.family in evaluation.facts.typed
        else detail
    )


def _with_rule(
    evaluation: Evaluation, name: str, detail: shapes_changes.FamilyDetail
) -> shapes_changes.FamilyDetail:
    """Say what becomes of a field's value, what could, and of a number the sums before and
    after.
    """
    field, decisions = evaluation.definition.by_name[name], evaluation.decisions
    said = {
        "rule": decisions.rules.get(name) or field.rule,
        "rules": list(rules_of(field)),
        "kept": sum(rule == "ours" for rule in decisions.row_rules.get(name, {}).values()),
    }
    if field.type in ("integer", "number"):
        known = (evaluation.known.record >= 0) & (evaluation.outcomes <= SAME) & ~evaluation.is_in
        going = np.flatnonzero(known & evaluation.facts.joined.is_lead)
        before = evaluation.snapshot.columns[name].rows(evaluation.known.record[going])
        after = evaluation.facts.typed[name].stored.rows(going)
        said |= {"before": _sum(before), "after": _sum(after)}
    return detail.model_copy(update=said)


def _sum(texts: list[str | None]) -> str:
    return format(sum((Decimal(text) for text in texts if text), Decimal(0)).normalize(), "f")


def _page(rows: NDArray[np.intp], query: shapes_changes.FamilyQuery) -> NDArray[np.intp]:
    return rows[query.start : query.start + query.limit]


def _detail(
    query: shapes_changes.FamilyQuery,
    title: str,
    total: int,
    moves: list[shapes_changes.Move],
    people: list[shapes_changes.ChangedPerson],
) -> shapes_changes.FamilyDetail:
    return shapes_changes.FamilyDetail(
        key=query.family, title=title, total=total, moves=moves, people=people
    )


def _moves(evaluation: Evaluation, name: str, rows: NDArray[np.intp]) -> list[shapes_changes.Move]:
    counts: dict[tuple[str | None, str | None], int] = {}
    old = evaluation.snapshot.columns[name].rows(evaluation.known.record[rows])
    for pair in zip(old, evaluation.facts.typed[name].stored.rows(rows), strict=True):
        counts[pair] = counts.get(pair, 0) + 1
    return [
        shapes_changes.Move(old=before, new=after, count=count)
        for (before, after), count in counts.items()
    ]


def _joining(evaluation: Evaluation, row: int) -> shapes_changes.ChangedPerson:
    line = int(evaluation.table.lines[row])
    return shapes_changes.ChangedPerson(
        line=line,
        record=None,
        key=row_key(evaluation, row),
        name=name_of_row(evaluation, row),
        old=None,
        new=None,
    )


def _absent(evaluation: Evaluation, record: int) -> shapes_changes.ChangedPerson:
    snapshot = evaluation.snapshot
    name = name_member(
        evaluation.definition,
        lambda field: snapshot.columns[field].at(record),
        evaluation.facts.naming,
    )
    key = snapshot.keys(np.array([record]))[0]
    text = say_key(key)
    place = int(np.searchsorted(evaluation.absent, record))
    is_absent = place < len(evaluation.absent) and evaluation.absent[place] == record
    act = ACTS[int(evaluation.absences.acts[place])] if is_absent else "end"
    return shapes_changes.ChangedPerson(
        line=None,
        record=int(snapshot.ids[record]),
        key=text,
        name=name,
        old=None,
        new=None,
        act=act,
    )


def _ending(evaluation: Evaluation, record: int) -> shapes_changes.ChangedPerson:
    step = evaluation.absences.said[record]
    old = evaluation.snapshot.columns[step.field].at(record)
    definition = evaluation.definition
    return _absent(evaluation, record).model_copy(
        update={
            "old": to_json(definition, step.field, old),
            "new": to_json(definition, step.field, step.day),
        }
    )


def _changed(evaluation: Evaluation, name: str, row: int) -> shapes_changes.ChangedPerson:
    record = int(evaluation.known.record[row])
    old = evaluation.snapshot.columns[name].at(record)
    return shapes_changes.ChangedPerson(
        line=int(evaluation.table.lines[row]),
        record=int(evaluation.snapshot.ids[record]),
        key=row_key(evaluation, row),
        name=name_of_row(evaluation, row),
        old=to_json(evaluation.definition, name, old),
        new=to_json(evaluation.definition, name, evaluation.facts.typed[name].stored.at(row)),
    )
