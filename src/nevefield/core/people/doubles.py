"""Who stands twice in a roster: its records compared with each other, in the same way as a
file's rows are with it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.people.matching import Candidates, learn_people, sides_of
from nevefield.core.people.traits import traits_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot

__all__ = ["LEAST", "Doubles", "find_doubles"]

LEAST = 50.0  # a score from which on two records are shown as one person, likely
NEEDS = 2  # traits of a person that the roster must have


@dataclass(frozen=True)
class Doubles:
    """Pairs of records that may be one person, the likeliest first; each pair once."""

    found: Candidates | None  # None where the roster has too little about people
    pairs: NDArray[np.intp]  # numbers of the pairs in `found`
    # two columns: of each pair the two records as indices into the roster, the older first
    records: NDArray[np.intp]
    scores: NDArray[np.float64]  # of each: the chance in 100 that the two are one

    def __len__(self) -> int:
        return len(self.pairs)

    def keep(self, places: list[int]) -> Doubles:
        """Keep some of the pairs."""
        return Doubles(self.found, self.pairs[places], self.records[places], self.scores[places])


def find_doubles(definition: Definition, snapshot: Snapshot) -> Doubles:
    """Find records of a roster that may be one person.

    Args:
        definition: Says which fields are about the person.
        snapshot: The roster as it stands.

    Returns:
        The pairs whose score is `LEAST` or more. What nobody may settle by itself is settled by
        nobody: this only shows.
    """
    traits = traits_of(definition)
    nothing = Doubles(None, np.zeros(0, np.intp), np.zeros((0, 2), np.intp), np.zeros(0))
    if (
        len(traits) < NEEDS
        or len(snapshot) < NEEDS
        or not any(trait.kind in ("family", "given", "mail") for trait in traits)
    ):
        return nothing
    sides = snapshot.keep("sides", lambda: sides_of(definition, snapshot.columns))
    columns = {trait.field: snapshot.columns[trait.field] for trait in traits}
    candidates = learn_people(columns, sides, np.arange(len(snapshot)), itself=True).found
    likely = np.flatnonzero(candidates.scores >= LEAST)
    low, high = (
        np.minimum(candidates.rows, candidates.records)[likely],
        np.maximum(candidates.rows, candidates.records)[likely],
    )
    order = np.lexsort((-candidates.scores[likely], high, low))
    first = np.ones(len(order), bool)  # a pair is found from either side; the better score counts
    first[1:] = (low[order][1:] != low[order][:-1]) | (high[order][1:] != high[order][:-1])
    kept = order[first]
    kept = kept[np.argsort(-candidates.scores[likely[kept]], kind="stable")]
    pairs = likely[kept]
    return Doubles(
        candidates,
        pairs,
        np.stack([low[kept], high[kept]], axis=1).astype(np.intp),
        candidates.scores[pairs],
    )
