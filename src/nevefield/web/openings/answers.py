"""From a draft to its answer."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from nevefield.core.checking.catalog import DECLARED
from nevefield.core.opening import PEOPLE, missing_fields
from nevefield.web.common import TallyOut, Weight
from nevefield.web.openings import shapes

if TYPE_CHECKING:
    from nevefield.core.borders import Json
    from nevefield.core.checking.causes import Cause
    from nevefield.core.definition import Field
    from nevefield.core.opening import Seen
    from nevefield.core.opening.looks import Look
    from nevefield.openings.drafting import Draft

__all__ = ["opening_answer", "people_answer"]

COMMONEST = 8  # texts of a column whose rows are drawn
MOST_CAUSES = 12


def opening_answer(draft: Draft) -> shapes.OpeningOut:
    """Give all of a draft."""
    headings = {one.field: one.column for one in draft.proposal.seen if one.field}
    wrong = _wrong_rows(draft)
    primary = draft.definition.primary_key
    causes = [cause for cause in draft.evaluation.causes if cause.hit.weight != "note"]
    return shapes.OpeningOut(
        id=draft.opening.id,
        version=draft.opening.version,
        file_name=draft.opening.file_name,
        sentence=draft.reading.sentence,
        remarks=list(draft.reading.remarks),
        rows=len(draft.evaluation.table),
        title=draft.definition.title,
        name=draft.definition.name,
        is_name_taken=draft.definition.name in draft.taken,
        key=headings.get(primary[0], "") if primary else "",
        keys=[headings[key[0]] for key in draft.definition.keys if key[0] in headings],
        columns=[
            _column(draft, seen, look, headings, wrong.get(seen.field, 0))
            for seen, look in zip(draft.proposal.seen, draft.looks, strict=True)
        ],
        tally=TallyOut(**draft.evaluation.tally.to_json()),
        causes=[_cause(cause) for cause in causes[:MOST_CAUSES]],
        checks=_checks(draft),
        required=[field.title for field in draft.definition.fields if field.required],
        orders=_orders(draft, headings),
        people=_people(draft),
        fits=[
            shapes.OpeningFit(
                roster=fit.roster.name,
                title=fit.roster.title,
                fitting=fit.fitting,
                columns=fit.columns,
            )
            for fit in draft.fits[:3]
            if fit.fitting
        ],
        choices=draft.opening.choices,
    )


def _cause(cause: Cause) -> shapes.OpeningCause:
    return shapes.OpeningCause(
        weight=cast(Weight, cause.hit.weight), title=cause.hit.title, rows=len(cause.hit.rows)
    )


def _wrong_rows(draft: Draft) -> dict[str, int]:
    """Count the rows that are stopped or wait for something, by the field where the remedy is."""
    rows: dict[str, set[int]] = {}
    for cause in draft.evaluation.causes:
        if cause.hit.weight != "note" and cause.hit.field:
            rows.setdefault(cause.hit.field, set()).update(cause.hit.rows.tolist())
    return {field: len(found) for field, found in rows.items()}


def _column(
    draft: Draft, seen: Seen, look: Look, headings: dict[str, str], wrong: int
) -> shapes.OpeningColumn:
    field = draft.definition.by_name.get(seen.field)
    choice = draft.opening.choices.get("columns", {}).get(seen.column, {})
    return shapes.OpeningColumn(
        heading=seen.column,
        field=seen.field,
        title=field.title if field else "",
        kind=seen.kind,
        chosen=choice.get("kind") or "",
        sure=seen.sure,
        why=seen.why,
        is_key=bool(field) and draft.definition.primary_key == (seen.field,),
        is_required=bool(field and field.required),
        is_sensitive=bool(field and field.sensitive),
        filled=look.filled,
        distinct=len(look.counts),
        commonest=sorted(look.counts.values(), reverse=True)[:COMMONEST],
        wrong=wrong,
        list_name=field.code_list if field else "",
        several=field.several if field else "",
        parent=headings.get(field.parent, "") if field else "",
        is_checked=choice.get("check") is not False,
        codes=_codes(draft, seen, field),
        none=[
            shapes.NoCode(text=way.text, rows=way.rows)
            for way in (seen.grouped.none if seen.grouped else ())
        ],
    )


def _codes(draft: Draft, seen: Seen, field: Field | None) -> list[shapes.OpeningCode]:
    if seen.grouped is None or field is None:
        return []
    codes = draft.proposal.lists[field.code_list].codes
    return [
        shapes.OpeningCode(
            code=code.code,
            label=code.label,
            parent=code.parent,
            rows=sum(way.rows for way in ways),
            ways=[shapes.OpeningWay(text=way.text, rows=way.rows, sure=way.sure) for way in ways],
        )
        for code, ways in zip(codes, seen.grouped.codes, strict=True)
    ]


def _checks(draft: Draft) -> list[shapes.OpeningCheck]:
    return [
        shapes.OpeningCheck(
            check=check.check,
            holds=DECLARED[check.check].holds,
            fields=[draft.definition.title_of(name) for name in check.fields],
        )
        for check in draft.definition.checks
    ]


def _orders(draft: Draft, headings: dict[str, str]) -> list[shapes.OpeningOrder]:
    """List the pairs that do not cross, those that somebody would not have checked behind."""
    found = [
        shapes.OpeningOrder(
            first=headings[check.fields[0]], last=headings[check.fields[1]], is_checked=True
        )
        for check in draft.definition.checks
        if check.check == "order" and all(name in headings for name in check.fields)
    ]
    return found + [
        shapes.OpeningOrder(first=first, last=last, is_checked=False)
        for first, last in draft.opening.choices.get("unchecked", [])
    ]


def _people(draft: Draft) -> list[shapes.StartingPeople]:
    added = draft.opening.choices.get("people", [])
    return [
        shapes.StartingPeople(
            name=people.name,
            title=people.title,
            words=people.words,
            fields=[_field(one) for one in missing_fields(draft.proposal.document, people)],
            is_added=people.name in added,
        )
        for people in PEOPLE.values()
    ]


def _field(described: Json) -> shapes.StartingField:
    return shapes.StartingField(
        name=described["name"],
        title=described["title"],
        type="mail" if described.get("format") == "email" else described["type"],
    )


def people_answer() -> shapes.StartingList:
    """List the kinds of people that a roster can begin with, with all their fields."""
    return shapes.StartingList(
        people=[
            shapes.StartingPeople(
                name=people.name,
                title=people.title,
                words=people.words,
                fields=[_field(one) for one in people.fields],
            )
            for people in PEOPLE.values()
        ]
    )
