"""What taking back would do, as the API gives it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.web.rosters import shapes_receipts

if TYPE_CHECKING:
    from nevefield.core.definition import Definition
    from nevefield.rosters.undoing import Turned, UndoPlan

__all__ = ["undo_answer"]


def undo_answer(
    plan: UndoPlan, definition: Definition, query: shapes_receipts.UndoQuery
) -> shapes_receipts.UndoOut:
    """Give an undo plan with a page of its people.

    Args:
        plan: The plan.
        definition: Of the roster.
        query: Which page.
    """
    families: dict[str, int] = {}
    for person in plan.people:
        for name, _, _ in person.fields:
            families[name] = families.get(name, 0) + 1
    whole = {person.record for person in plan.people}
    people = [*(person for person in plan.people if not person.rests), *plan.kept]
    shown = people[query.start : query.start + query.limit]
    return shapes_receipts.UndoOut(
        version=plan.version,
        leaves=sum(person.does == "leaves" for person in plan.people),
        returns=sum(person.does == "returns" for person in plan.people),
        values=sum(person.does == "values" for person in plan.people),
        kept=len(plan.kept),
        families=[
            shapes_receipts.UndoFamily(field=name, title=_title(definition, name), count=count)
            for name, count in sorted(families.items(), key=lambda one: -one[1])
        ],
        why=definition.approval.why(len(whole), plan.raised),
        people=[_person(person, definition) for person in shown],
        total=len(people),
    )


def _title(definition: Definition, name: str) -> str:
    return definition.title_of(name) if name in definition.by_name else name


def _person(turned: Turned, definition: Definition) -> shapes_receipts.UndoPerson:
    return shapes_receipts.UndoPerson(
        record=turned.record,
        name=turned.name,
        key=turned.key,
        does=turned.does,
        moves=[
            shapes_receipts.UndoMove(field=name, title=_title(definition, name), now=now, then=then)
            for name, now, then in turned.fields
        ],
        rests=[_title(definition, name) if name else "" for name in turned.rests],
        later=[
            shapes_receipts.LaterSet(change_set=number, title=title)
            for number, title in turned.later
        ],
    )
