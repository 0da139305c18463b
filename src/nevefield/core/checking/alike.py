"""Rows of one file that may be one person though no key says so: found by likeness, as records
of a roster are.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.people.doubles import Doubles, find_doubles
from nevefield.core.people.recognising import known_traits
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.people.keys import Known
    from nevefield.core.people.traits import Trait

__all__ = ["check_alike"]

LEAST = 90.0  # a score from which on two rows are asked about
# rows that nobody knows, above which they are not compared with each other: a roster is being
# filled
MOST = 50_000
TELLING = ("family", "given", "birth")


def check_alike(facts: Facts) -> list[Hit]:
    """Ask about two rows that nobody in the roster is, and that are alike; numbers may differ, one
    of them may be mistyped.

    Rows are compared as the file came; a pair of which a name or the day of birth was edited since
    is not asked about.
    """
    traits = [
        trait for trait in known_traits(facts.definition, facts.memo) if trait.field in facts.typed
    ]
    if not facts.definition.likeness or not {"family", "given"} <= {trait.kind for trait in traits}:
        return []
    came = [facts.memo.made(("typed", trait.field)) or facts.typed[trait.field] for trait in traits]
    as_came = _as_came(facts)
    pairs: list[tuple[int, int, float]] = facts.memo.get(
        "alike", (as_came, *came), partial(_find, facts, traits, came)
    )
    fields = tuple(trait.field for trait in traits)
    # Only the rows of pairs are looked at: an edit elsewhere leaves what is asked as it is.
    mine = np.array(sorted({row for pair in pairs for row in pair[:2]}), np.intp)
    out = facts.aside[mine] | (facts.known.record[mine] >= 0)
    for trait, before in zip(traits, came, strict=True):
        if trait.kind in TELLING and facts.typed[trait.field] is not before and len(mine):
            now = facts.typed[trait.field].stored
            out |= (
                True
                if now.since(before.stored) is None
                else before.stored.codes[mine] != now.codes[mine]
            )
    gone = tuple(mine[out].tolist())
    of = (pairs, fields, tuple(facts.joined.person[mine].tolist()), gone)
    hits: list[Hit] = facts.memo.get(
        "alike asked", of, lambda: _ask(facts, pairs, set(gone), fields)
    )
    return hits


def _ask(
    facts: Facts, pairs: list[tuple[int, int, float]], out: set[int], fields: tuple[str, ...]
) -> list[Hit]:
    person = facts.joined.person
    hits = []
    for left, right, score in pairs:
        rows = np.array([left, right], np.intp)
        if left in out or right in out or person[left] == person[right] >= 0:
            continue
        first, second = facts.lines[rows].tolist()
        message = (
            f"Lines {first} and {second} say much the same of their person ({score:.0f} in 100),"
            " under two numbers or none."
        )
        title = f"Lines {first} and {second} may be one person"
        hits.append(
            Hit("alike", None, fields, "ask", rows, title, message, group=f"{first}/{second}")
        )
    return hits


def _as_came(facts: Facts) -> Known:
    came = facts.people.as_came if facts.people is not None else None
    return came or facts.known


def _find(facts: Facts, traits: list[Trait], came: list[Typed]) -> list[tuple[int, int, float]]:
    rows = np.flatnonzero(_as_came(facts).record < 0)
    if not 1 < len(rows) <= MOST:
        return []
    nothing = Column.constant(None, len(rows))
    columns = {field.name: nothing for field in facts.definition.fields}
    columns |= {
        trait.field: typed.stored.take(rows).compact()
        for trait, typed in zip(traits, came, strict=True)
    }
    doubles = find_doubles(facts.definition, Snapshot(facts.definition, rows, columns))
    kept = (doubles.scores >= LEAST) & _agree(doubles)
    pairs = rows[doubles.records[kept]].tolist()
    return [
        (one, other, score)
        for (one, other), score in zip(pairs, doubles.scores[kept].tolist(), strict=True)
    ]


def _agree(doubles: Doubles) -> NDArray[np.bool_]:
    """Tell which pairs agree in names and day of birth, as near as makes no odds, and differ not in
    all that is their own.

    A score alone is not enough: in a file of few and common names chance makes pairs that look
    alike.
    """
    fine = np.ones(len(doubles), bool)
    if doubles.found is None:
        return fine
    levels = {kind: level[doubles.pairs] for kind, level in doubles.found.levels.items()}
    for kind in TELLING:
        if kind in levels:
            fine &= levels[kind] > 0
    own = [levels[kind] for kind in ("mail", "phone", "number") if kind in levels]
    if own:
        # one agrees, or is missing on a side
        fine &= np.logical_or.reduce([one != 0 for one in own])
    return fine
