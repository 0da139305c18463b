"""Who each row is, all things taken together: what somebody said, then keys, then likeness."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.people.keys import Known
from nevefield.core.people.matching import (
    CERTAIN,
    POSSIBLE,
    Candidates,
    Likely,
    Limits,
    find_candidates_of,
    settle_likely,
    sides_of,
)
from nevefield.core.people.traits import traits_of

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.memo import Memo
    from nevefield.core.snapshot import Snapshot

__all__ = ["BY_HAND", "BY_LIKENESS", "DECISIONS", "Recognised", "recognise"]

BY_LIKENESS, BY_HAND = -2, -3  # in place of a key's number in `Known.by`
DECISIONS = ("key", "certain", "possible", "nobody", "chosen")
KEY, TAKEN, ASKED, NOBODY_THERE, CHOSEN = range(len(DECISIONS))
NEEDS = 2  # traits of a person that both sides must have before likeness says anything


@dataclass(frozen=True)
class Recognised:
    """Who each row is, and how that is known."""

    known: Known
    decision: NDArray[np.int8]  # of each row, into DECISIONS
    likely: Likely | None  # None where the roster or the file has too little about people

    def score(self, row: int) -> float:
        """Return the score of a row's record, or of its likeliest candidate, 0 to 100."""
        if self.decision[row] in (KEY, CHOSEN):
            return 100.0 if self.known.record[row] >= 0 else 0.0
        place = self._place(row)
        return float(self.likely.score[place]) if self.likely is not None and place is not None else 0.0

    def candidates(self, row: int) -> list[tuple[int, float, int]]:
        """List a row's candidates, the best first: record, score, and the pair's number in `likely.found`."""
        if self.likely is None:
            return []
        found = self.likely.found
        return [(int(found.records[pair]), float(found.scores[pair]), int(pair)) for pair in found.of_row(row)]

    def _place(self, row: int) -> int | None:
        asked = self.likely.found.asked if self.likely is not None else np.zeros(0, np.intp)
        place = int(np.searchsorted(asked, row))
        return place if place < len(asked) and asked[place] == row else None


def recognise(
    definition: Definition,
    typed: Mapping[str, Typed],
    keyed: Known,
    snapshot: Snapshot,
    *,
    chosen: Mapping[int, int],
    aside: NDArray[np.bool_],
    limits: Limits,
    memo: Memo,
    apart: frozenset[tuple[int, int]] = frozenset(),
) -> Recognised:
    """Tell who each row is.

    Args:
        definition: Of the roster.
        typed: The rows' values.
        keyed: Who the rows are by their keys.
        snapshot: The roster as it stands.
        chosen: By row what somebody said: a record, or -1 for nobody.
        aside: Rows held or left out: they claim nobody.
        limits: From which scores on likeness settles a row.
        memo: What was found before.
        apart: Pairs of row and record that somebody said are two people.

    Returns:
        The record of every row, with how it is known. Two rows are never the same record by likeness.
    """
    decision = np.where(keyed.record >= 0, KEY, NOBODY_THERE).astype(np.int8)
    found = _candidates(definition, typed, keyed, snapshot, memo, apart)
    record, by = keyed.record, keyed.by
    if chosen or found is not None:
        record, by = record.copy(), by.copy()
    for row, said in chosen.items():
        record[row], by[row] = said, BY_HAND
        decision[row] = CHOSEN
    likely = None
    if found is not None:
        without = np.union1d(np.flatnonzero(aside), np.array(sorted(chosen), np.intp)).astype(np.intp)
        there = np.flatnonzero((record >= 0) & ~aside)
        likely = settle_likely(
            found, limits, without=without, taken=dict(zip(record[there].tolist(), there.tolist(), strict=True))
        )
        free = ~np.isin(found.asked, without)
        sure = found.asked[free & (likely.decision == CERTAIN)]
        record[sure] = likely.record[free & (likely.decision == CERTAIN)]
        by[sure] = BY_LIKENESS
        decision[sure] = TAKEN
        decision[found.asked[free & (likely.decision == POSSIBLE)]] = ASKED
    disagree = {row: pair for row, pair in keyed.disagree.items() if row not in chosen}
    known = Known(record, by, disagree) if chosen or likely is not None else keyed
    return Recognised(known, decision, likely)


def _candidates(
    definition: Definition,
    typed: Mapping[str, Typed],
    keyed: Known,
    snapshot: Snapshot,
    memo: Memo,
    apart: frozenset[tuple[int, int]],
) -> Candidates | None:
    """Find candidates for the rows that no key knows; taken over while neither they nor what tells people apart change."""
    traits = [one for one in traits_of(definition) if one.field in typed]
    if len(traits) < NEEDS or not len(snapshot) or not definition.likeness:
        return None
    if not any(one.kind in ("family", "given", "mail") for one in traits):
        return None
    of = (snapshot, keyed, apart, *(typed[one.field] for one in traits))

    def make() -> Candidates:
        sides = snapshot.keep("sides", lambda: sides_of(definition, snapshot.columns))
        columns = {one.field: typed[one.field].stored for one in traits}
        there = np.flatnonzero(keyed.record >= 0)
        asked = np.flatnonzero(keyed.record < 0)
        return find_candidates_of(definition, columns, sides, asked, known=(there, keyed.record[there]), apart=apart)

    found: Candidates = memo.get("candidates", of, make)
    return found
