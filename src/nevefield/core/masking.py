"""Keep sensitive fields from who may not see them: their values are covered, whatever is shown
of a roster or a file.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.borders import Json
from nevefield.core.columns.values import Typed
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Set as AbstractSet

    from nevefield.core.checking.causes import Cause
    from nevefield.core.checking.facts import Hit
    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Evaluation

__all__ = [
    "APART",
    "COVER",
    "cover_evaluation",
    "cover_snapshot",
    "cover_values",
    "keep_apart",
    "sensitive_fields",
]

COVER = "•••"
APART = "a roster that you may not see"
WHO = ("who", "likeness", "names-turned", "alike")


def sensitive_fields(definition: Definition) -> frozenset[str]:
    """List the fields that are kept from who may only look."""
    return frozenset(field.name for field in definition.fields if field.sensitive)


def cover_values(definition: Definition, values: dict[str, Json]) -> dict[str, Json]:
    """Cover the sensitive values of one record; what is empty stays empty.

    A field that the definition has no more is covered too: whether it was to be kept is not known
    any longer.
    """
    shown = definition.by_name.keys() - sensitive_fields(definition)
    return {
        name: value if name in shown or value in (None, "") else COVER
        for name, value in values.items()
    }


def cover_snapshot(snapshot: Snapshot) -> Snapshot:
    """Cover the sensitive columns of a roster, so that neither reading, searching, sorting nor
    filtering tells them.
    """
    names = sensitive_fields(snapshot.definition)
    if not names:
        return snapshot
    columns = {
        name: _cover(column) if name in names else column
        for name, column in snapshot.columns.items()
    }
    return Snapshot(
        snapshot.definition, snapshot.ids, columns, snapshot.version, snapshot.part, snapshot.beyond
    )


def cover_evaluation(evaluation: Evaluation) -> Evaluation:
    """Cover the sensitive fields of an intake: in the file's own columns, the values, the
    roster, and what findings say.
    """
    names = sensitive_fields(evaluation.definition)
    if not names:
        return evaluation
    pairs = {pair.heading: {pair.field, *pair.parts} for pair in evaluation.pairs}
    table = evaluation.table
    columns = tuple(
        _cover(column) if pairs.get(heading, set()) & names else column
        for heading, column in zip(table.headings, table.columns, strict=True)
    )
    typed = {
        name: (
            Typed(column.field, _cover(column.raw), _cover(column.stored), {}, {})
            if name in names
            else column
        )
        for name, column in evaluation.facts.typed.items()
    }
    facts = replace(
        evaluation.facts,
        typed=typed,
        folded={name: column.folded() for name, column in typed.items()},
        snapshot=cover_snapshot(evaluation.snapshot),
    )
    # these name records and scores, no values
    tells = WHO if not names & {*evaluation.definition.primary_key} else ()
    causes = [
        (
            _cover_cause(cause)
            if names & {cause.hit.field, *cause.hit.fields} and cause.hit.check not in tells
            else cause
        )
        for cause in evaluation.causes
    ]
    return replace(evaluation, table=replace(table, columns=columns), facts=facts, causes=causes)


def keep_apart(evaluation: Evaluation, rosters: AbstractSet[str]) -> Evaluation:
    """Say nothing of other rosters in an intake: neither who is in them nor what they are called.

    Args:
        evaluation: Of the intake, worked out of everything.
        rosters: By name.
    """
    causes = [
        replace(cause, hit=_reword(cause.hit)) if cause.hit.elsewhere[0] in rosters else cause
        for cause in evaluation.causes
    ]
    return replace(
        evaluation, causes=causes, facts=replace(evaluation.facts, unnamed=frozenset(rosters))
    )


def _reword(hit: Hit) -> Hit:
    title = hit.elsewhere[1]

    def say(row: int) -> str:
        return hit.say(row).replace(title, APART)

    return replace(
        hit, title=hit.title.replace(title, APART), message=say, suggestions=(), row_suggestions={}
    )


def _cover(column: Column) -> Column:
    return Column(
        pa.array([COVER], pa.string()), np.where(column.codes >= 0, 0, -1).astype(np.int32)
    )


def _cover_cause(cause: Cause) -> Cause:
    message = f"A value of a field that is kept from you is not right ({cause.hit.check})."
    hit = replace(
        cause.hit, title=message, message=message, texts=(), suggestions=(), row_suggestions={}
    )
    return replace(cause, hit=hit, facts=None)
