"""What a plan does, value by value: for what is put off to a day, and is looked at again when it
comes.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.snapshot import to_json

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.changes.plan import Plan
    from nevefield.core.evaluate import Evaluation

__all__ = ["Act", "acts_of", "digest_acts"]


@dataclass(frozen=True)
class Act:
    """What becomes of one record."""

    record: int | None  # its number in the store; None for who joins
    # by field the value before and after, as JSON has them
    fields: dict[str, list[Json]] = field(default_factory=dict)
    leaves: bool = False


def acts_of(evaluation: Evaluation, plan: Plan) -> list[Act]:
    """List what a plan does: those that change, by record; those that leave; those that join.

    What a record has beside stays out of it: the same plan on a roster that moved elsewhere has the
    same acts.
    """
    definition, snapshot = evaluation.definition, evaluation.snapshot
    changed: dict[int, dict[str, list[Json]]] = {}
    for name, rows in evaluation.changes.items():
        records = evaluation.known.record[rows]
        had, wanted = (
            snapshot.columns[name].rows(records),
            evaluation.facts.typed[name].stored.rows(rows),
        )
        for record, before, after in zip(records.tolist(), had, wanted, strict=True):
            changed.setdefault(record, {})[name] = [
                to_json(definition, name, before),
                to_json(definition, name, after),
            ]
    for record in plan.ending.tolist():
        step = evaluation.absences.said[record]
        before = to_json(definition, step.field, snapshot.columns[step.field].at(record))
        changed[record] = {step.field: [before, step.day]}
    acts = [Act(int(snapshot.ids[record]), changed[record]) for record in sorted(changed)]
    acts += [Act(int(snapshot.ids[record]), leaves=True) for record in plan.leaving.tolist()]
    joins = [
        document
        for record, document in zip(plan.records.tolist(), plan.documents, strict=True)
        if record < 0
    ]
    return acts + [
        Act(None, {name: [None, value] for name, value in json.loads(join).items()})
        for join in joins
    ]


def digest_acts(acts: Sequence[Act]) -> str:
    """Return a digest of exactly these acts, whatever their order."""
    written = sorted(
        json.dumps([act.record, act.leaves, act.fields], sort_keys=True, ensure_ascii=False)
        for act in acts
    )
    return hashlib.sha256("\n".join(written).encode()).hexdigest()
