"""Two people under one number, told from one person twice: by their names and days of birth."""

from __future__ import annotations

from itertools import combinations
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.people.levels import LEVELS, level_pairs
from nevefield.core.people.matching import sides_of
from nevefield.core.people.traits import forms_of, traits_of
from nevefield.core.table import Column

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition

__all__ = ["are_two_people"]

KINDS = ("family", "given", "birth")
SAME_INITIAL = [level.word for level in LEVELS["given"]].index("same initial")
MOST = 40  # rows under one number that are compared with each other


def are_two_people(
    definition: Definition, typed: Mapping[str, Typed], rows: NDArray[np.intp]
) -> bool:
    """Tell whether some of a few rows are plainly not one person, whatever their number says.

    Given name and day of birth plainly differ; where no day is known on a side, given and family
    name. What is a slip, another form of a name or a part of it is no plain difference.

    Args:
        definition: Says which fields are about the person.
        typed: The rows' values by field.
        rows: Which.
    """
    traits = [
        trait for trait in traits_of(definition) if trait.kind in KINDS and trait.field in typed
    ]
    if "given" not in {trait.kind for trait in traits} or len(traits) < 2:
        return False
    columns = {trait.field: _readable(typed[trait.field], rows[:MOST]) for trait in traits}
    levels = level_pairs(
        forms_of(traits, columns, sides_of(definition, columns)), *_pairs(min(len(rows), MOST))
    )
    nothing = np.full(len(levels["given"]), -1, np.int8)
    family, birth = levels.get("family", nothing), levels.get("birth", nothing)
    other_given = (levels["given"] == 0) | (levels["given"] == SAME_INITIAL)
    return bool((other_given & ((birth == 0) | ((birth < 0) & (family == 0)))).any())


def _pairs(count: int) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    pairs = np.array(list(combinations(range(count), 2)), np.int64)
    return pairs[:, 0], pairs[:, 1]


def _readable(typed: Typed, rows: NDArray[np.intp]) -> Column:
    """Take the values of rows, nothing where one cannot be read."""
    texts = typed.stored.rows(rows)
    return Column.of(
        [
            None if wrong else text
            for text, wrong in zip(texts, typed.problem_rows()[rows].tolist(), strict=True)
        ]
    )
