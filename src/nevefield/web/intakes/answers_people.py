"""Who is who in an intake, as the API gives it: the rows to tell apart, and one row beside its
candidates.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.titles import name_person
from nevefield.core.masking import COVER
from nevefield.core.people.households import SAME_INITIAL
from nevefield.core.people.levels import LEVELS
from nevefield.core.people.recognising import (
    ASKED,
    CHOSEN,
    DECISIONS,
    KEY,
    NOBODY_THERE,
    TAKEN,
    settle,
)
from nevefield.core.people.settling import Limits
from nevefield.core.people.traits import KINDS
from nevefield.core.snapshot import to_json
from nevefield.web.intakes import shapes_people
from nevefield.web.intakes.answers_rows import name_of_row, row_key

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.core.evaluate import Evaluation
    from nevefield.core.people.recognising import Recognised

__all__ = ["limits_answer", "people_answer", "person_answer"]

LISTED = {"possible": ASKED, "certain": TAKEN, "nobody": NOBODY_THERE, "chosen": CHOSEN}
SHOWN = 4  # candidates side by side


def people_answer(
    evaluation: Evaluation, query: shapes_people.PeopleQuery
) -> shapes_people.PeopleOut:
    """Give the counts by decision, and a page of the rows with one of them: of those to be
    asked, the surest first.
    """
    people = evaluation.facts.people
    if people is None:
        return shapes_people.PeopleOut(
            counts=dict.fromkeys(DECISIONS, 0),
            keys=[],
            own_keys=True,
            passed_over=0,
            certain=0,
            nobody=0,
            total=0,
            people=[],
        )
    rows = np.flatnonzero((people.decision == LISTED[query.state]) & ~evaluation.facts.aside)
    if query.state in ("possible", "certain"):
        scores = np.array([people.score(int(row)) for row in rows])
        rows = rows[np.argsort(-scores if query.state == "possible" else scores, kind="stable")]
    limits = evaluation.decisions.limits or evaluation.definition.limits
    page = rows[query.start : query.start + query.limit].tolist()
    return shapes_people.PeopleOut(
        counts=_counts(people),
        keys=_keys(evaluation, people),
        own_keys=evaluation.decisions.keys is None,
        passed_over=len(evaluation.facts.passed_over),
        certain=limits[0],
        nobody=limits[1],
        total=len(rows),
        people=[_brief(evaluation, people, row) for row in page],
    )


def _keys(evaluation: Evaluation, people: Recognised) -> list[shapes_people.KeyChoice]:
    """List what people can be known by, and by which how many rows are."""
    definition, used = evaluation.definition, evaluation.facts.keys
    by = people.known.by[people.decision == KEY]
    return [
        shapes_people.KeyChoice(
            fields=list(key),
            title=" and ".join(definition.title_of(name) for name in key),
            used=key in used,
            in_file=all(name in people.typed or name in evaluation.facts.typed for name in key),
            rows=int((by == used.index(key)).sum()) if key in used else 0,
        )
        for key in dict.fromkeys([*used, *definition.possible_keys])
    ]


def _counts(people: Recognised) -> dict[str, int]:
    return dict(
        zip(DECISIONS, np.bincount(people.decision, minlength=len(DECISIONS)).tolist(), strict=True)
    )


def limits_answer(
    evaluation: Evaluation, query: shapes_people.LimitsQuery
) -> shapes_people.LimitsOut:
    """Say what other limits would decide."""
    people = evaluation.facts.people
    if people is None:
        return shapes_people.LimitsOut(counts=dict.fromkeys(DECISIONS, 0))
    return shapes_people.LimitsOut(
        counts=_counts(settle(people, evaluation.facts.aside, Limits(query.certain, query.nobody)))
    )


def _brief(evaluation: Evaluation, people: Recognised, row: int) -> shapes_people.PersonBrief:
    record = int(evaluation.known.record[row])
    return shapes_people.PersonBrief(
        line=int(evaluation.table.lines[row]),
        name=name_of_row(evaluation, row),
        key=row_key(evaluation, row),
        state=DECISIONS[people.decision[row]],
        score=round(people.score(row), 1),
        candidates=len(people.candidates(row)),
        rivals=_rivals(evaluation, people, row),
        record=_name(evaluation, record) if record >= 0 else "",
    )


def _rivals(evaluation: Evaluation, people: Recognised, row: int) -> list[shapes_people.Rival]:
    numbers = people.likely.rivals.get(row, ()) if people.likely is not None else ()
    return [
        shapes_people.Rival(
            line=int(evaluation.table.lines[number]), name=name_of_row(evaluation, number)
        )
        for number in numbers[:5]
    ]


def _key(evaluation: Evaluation, record: int) -> str:
    key = evaluation.snapshot.keys(np.array([record]))[0]
    return " ".join(filter(None, key)) if isinstance(key, list) else str(key or "")


def _name(evaluation: Evaluation, record: int) -> str:
    columns = evaluation.snapshot.columns
    name = name_person(evaluation.definition, lambda field: columns[field].at(record))
    return " · ".join(filter(None, [name, _key(evaluation, record)]))


def person_answer(
    evaluation: Evaluation, row: int, since: Mapping[int, str]
) -> shapes_people.PersonOut:
    """Give one row beside its candidates: each field with how well it agrees, and what that adds.

    Args:
        evaluation: The intake.
        row: The row.
        since: By record's number, since when and from where it is known.
    """
    people = evaluation.facts.people
    found = people.candidates(row)[:SHOWN] if people is not None else []
    every = len(people.candidates(row)) if people is not None else 0
    ids = evaluation.snapshot.ids
    record = int(evaluation.known.record[row])
    candidates = [
        shapes_people.CandidateOut(
            record=int(ids[number]),
            key=_key(evaluation, number),
            name=_name(evaluation, number),
            score=round(score, 1),
            since=since.get(int(ids[number]), ""),
        )
        for number, score, _ in found
    ]
    return shapes_people.PersonOut(
        line=int(evaluation.table.lines[row]),
        name=name_of_row(evaluation, row),
        key=row_key(evaluation, row),
        state=DECISIONS[people.decision[row]] if people is not None else "nobody",
        record=int(ids[record]) if record >= 0 else None,
        rivals=_rivals(evaluation, people, row) if people is not None else [],
        more=every - len(found),
        candidates=candidates,
        fields=_fields(evaluation, people, row, found) if people is not None else [],
        notes=_notes(evaluation, people, found) if people is not None else [],
    )


def _fields(
    evaluation: Evaluation, people: Recognised, row: int, found: list[tuple[int, float, int]]
) -> list[shapes_people.PersonField]:
    """List the fields: first those that tell people apart, then the others that somebody has a
    value in.
    """
    pairs = people.likely.found if people.likely is not None else None
    kinds = {trait.field: trait.kind for trait in pairs.traits} if pairs is not None else {}
    order = [
        name
        for kind in ("given", "family", "birth", *KINDS)
        for name, its in kinds.items()
        if its == kind
    ]
    names = list(dict.fromkeys([*order, *(field.name for field in evaluation.definition.fields)]))
    shown = []
    for name in names:
        kind = kinds.get(name)
        ours = evaluation.facts.value(row, name) if name in evaluation.facts.typed else None
        theirs = [evaluation.snapshot.columns[name].at(record) for record, _, _ in found]
        if ours is None and not any(theirs):
            continue
        cells = []
        for (_, _, pair), value in zip(found, theirs, strict=True):
            level = int(pairs.levels[kind][pair]) if kind and pairs is not None else -1
            cells.append(
                shapes_people.PersonCell(
                    value=to_json(evaluation.definition, name, value),
                    word=LEVELS[kind][level].word if kind and level >= 0 else "",
                    bits=(
                        round(float(pairs.parts[kind][pair]), 1)
                        if kind and pairs is not None
                        else 0.0
                    ),
                    same=_is_same(evaluation, name, row, value),
                )
            )
        title = evaluation.definition.title_of(name)
        shown.append(
            shapes_people.PersonField(
                field=name,
                title=title,
                tells=kind is not None,
                value=to_json(evaluation.definition, name, ours),
                cells=cells,
            )
        )
    return shown


def _is_same(evaluation: Evaluation, name: str, row: int, value: str | None) -> bool:
    if name not in evaluation.facts.typed:
        return False
    ours = evaluation.facts.typed[name].stored.at(row)
    return ours == value or (
        ours is not None and value is not None and ours.casefold() == value.casefold()
    )


def _against(people: Recognised, found: list[tuple[int, float, int]]) -> list[str]:
    """Say what speaks for two people of one household or of one name, where much else agrees."""
    if people.likely is None:
        return []
    levels = people.likely.found.levels
    notes = []
    for place, (_, _, pair) in enumerate(found):
        agrees = {kind: int(level[pair]) > 0 for kind, level in levels.items()}
        differs = {
            kind: int(level[pair]) in ((0, SAME_INITIAL) if kind == "given" else (0,))
            for kind, level in levels.items()
        }
        if agrees.get("family") and agrees.get("birth") and differs.get("given"):
            notes.append(
                f"{place + 1}: one family name and day of birth, another given name: a twin is"
                " likely."
            )
        elif agrees.get("family") and not differs.get("given") and differs.get("birth"):
            notes.append(
                f"{place + 1}: one name, another day of birth: a parent, a child or a namesake is"
                " likely."
            )
    return notes


def _notes(
    evaluation: Evaluation, people: Recognised, found: list[tuple[int, float, int]]
) -> list[str]:
    """Say what the candidates have to do with each other."""
    kinds = (
        {trait.kind: trait.field for trait in people.likely.found.traits}
        if people.likely is not None
        else {}
    )
    columns = evaluation.snapshot.columns

    def equal(kind: str, number: int, other: int) -> bool:
        value = columns[kinds[kind]].at(number) if kind in kinds else None
        return value not in (None, COVER) and value == columns[kinds[kind]].at(other)

    notes = _against(people, found)
    for place, (one, _, _) in enumerate(found):
        for other_place in range(place + 1, len(found)):
            other = found[other_place][0]
            both = f"{place + 1} and {other_place + 1}"
            if equal("family", one, other) and equal("birth", one, other):
                alike = equal("given", one, other)
                notes.append(
                    f"{both} have the same names and day of birth: they may be one person twice in"
                    " the roster."
                    if alike
                    else f"{both} have one family name and were born on one day: twins are likely."
                )
            elif equal("phone", one, other) or equal("street", one, other):
                notes.append(f"{both} share a home: people of one household are likely.")
    return notes[:3]
