"""Who each row is, all things taken together: what somebody said, then keys, then likeness."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.people.keys import Known
from nevefield.core.people.matching import (
    CERTAIN,
    POSSIBLE,
    Candidates,
    Learnt,
    Likely,
    Limits,
    find_again,
    learn_people,
    settle_likely,
    sides_of,
)
from nevefield.core.people.traits import traits_of

if TYPE_CHECKING:
    from typing import Any

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.memo import Memo
    from nevefield.core.people.traits import Trait
    from nevefield.core.snapshot import Snapshot

__all__ = [
    "BY_HAND",
    "BY_LIKENESS",
    "DECISIONS",
    "Recognised",
    "Remembered",
    "known_traits",
    "likeness_of",
    "likeness_of_record",
    "recognise",
    "settle",
]

BY_LIKENESS, BY_HAND = -2, -3  # in place of a key's number in `Known.by`
DECISIONS = ("key", "certain", "possible", "nobody", "chosen")
KEY, TAKEN, ASKED, NOBODY_THERE, CHOSEN = range(len(DECISIONS))
NEEDS = 2  # traits of a person that both sides must have before likeness says anything


# What was said in other intakes: digest of what a row said of its person -> record by number -> whether the two are one.
Remembered = Mapping[bytes, Mapping[int, bool]]


def known_traits(definition: Definition, memo: Memo) -> tuple[Trait, ...]:
    """List the fields that are about the person, worked out once for a definition."""
    traits: tuple[Trait, ...] = memo.get("traits", (definition,), lambda: traits_of(definition))
    return traits


def likeness_of(definition: Definition, typed: Mapping[str, Typed], row: int) -> bytes:
    """Return the digest of what a row says of its person, numbers aside, by which it is known again; b"" for nothing."""
    traits = [one for one in traits_of(definition) if one.field in typed and one.kind != "number"]
    return _digest([(one.kind, typed[one.field].folded().at(row)) for one in traits])


def likeness_of_record(snapshot: Snapshot, record: int) -> bytes:
    """Return the digest of what a record says of its person, numbers aside: that of a row that says the same."""
    traits = [one for one in traits_of(snapshot.definition) if one.kind != "number"]
    return _digest([(one.kind, snapshot.folded(one.field).at(record)) for one in traits])


def _digest(texts: list[tuple[str, str | None]]) -> bytes:
    told = "\x1f".join(f"{kind}={text}" for kind, text in texts if text)
    return hashlib.blake2b(told.encode(), digest_size=16).digest() if told else b""


@dataclass(frozen=True)
class Recognised:
    """Who each row is, and how that is known."""

    known: Known
    decision: NDArray[np.int8]  # of each row, into DECISIONS
    keyed: Known  # by keys alone
    chosen: Mapping[int, int]  # by row what somebody said
    typed: Mapping[str, Typed]  # the values that were looked at: the file's own, before any rule
    likely: Likely | None  # None where the roster or the file has too little about people
    as_came: Known | None = None  # by the keys that the file came with, before any was edited

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
    said: Remembered | None = None,
    as_came: Known | None = None,
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
        said: What was said in other intakes: nobody is asked twice.
        as_came: Who the rows are by the keys that the file came with, before any was edited.

    Returns:
        The record of every row, with how it is known. Two rows are never the same record by likeness.
    """
    chosen, apart = _remember(definition, typed, keyed, snapshot, chosen, said or {})
    found = _candidates(definition, typed, keyed, as_came or keyed, snapshot, memo, apart)
    apart_rows = tuple(np.flatnonzero(aside).tolist())
    looked = {one.field: typed[one.field] for one in known_traits(definition, memo) if one.field in typed}
    of = (keyed, found, dict(chosen), apart_rows, (limits.certain, limits.nobody))
    made: Recognised = memo.get("recognised", of, lambda: _settle(keyed, looked, found, len(snapshot), chosen, aside, limits))
    return replace(made, typed=looked, as_came=as_came or keyed)


def settle(people: Recognised, aside: NDArray[np.bool_], limits: Limits) -> Recognised:
    """Settle the same candidates with other limits.

    Args:
        people: As it stands.
        aside: Rows held or left out.
        limits: From which scores on likeness settles a row.
    """
    found = people.likely.found if people.likely is not None else None
    records = int(found.records.max(initial=-1)) + 1 if found is not None else 0
    records = max(records, int(people.known.record.max(initial=-1)) + 1)
    return _settle(people.keyed, people.typed, found, records, people.chosen, aside, limits)


def _remember(
    definition: Definition,
    typed: Mapping[str, Typed],
    keyed: Known,
    snapshot: Snapshot,
    chosen: Mapping[int, int],
    said: Remembered,
) -> tuple[Mapping[int, int], frozenset[tuple[int, int]]]:
    """Bring what was said elsewhere to the rows that no key knows: who they are, and who they are not."""
    if not said:
        return chosen, frozenset()
    place = {int(number): record for record, number in enumerate(snapshot.ids.tolist())}
    known = dict(chosen)
    apart = set()
    for row in np.flatnonzero(keyed.record < 0).tolist():
        for number, is_same in said.get(likeness_of(definition, typed, row), {}).items():
            if number not in place:
                continue
            if is_same:
                known.setdefault(row, place[number])
            else:
                apart.add((row, place[number]))
    return known, frozenset(apart)


def _settle(
    keyed: Known,
    typed: Mapping[str, Typed],
    found: Candidates | None,
    records: int,
    chosen: Mapping[int, int],
    aside: NDArray[np.bool_],
    limits: Limits,
) -> Recognised:
    """Put what somebody said over the keys, and let likeness settle the rest."""
    decision = np.where(keyed.record >= 0, KEY, NOBODY_THERE).astype(np.int8)
    record, by = keyed.record, keyed.by
    if chosen or found is not None:
        record, by = record.copy(), by.copy()
    for row, said in chosen.items():
        record[row], by[row] = said, BY_HAND
        decision[row] = CHOSEN
    likely = None
    if found is not None:
        without = np.union1d(np.flatnonzero(aside), np.array(sorted(chosen), np.intp)).astype(np.intp)
        wanted = np.zeros(records + 1, bool)  # the last one for -1
        wanted[found.records] = True
        there = np.flatnonzero(wanted[record] & ~aside)
        taken = dict(zip(record[there].tolist(), there.tolist(), strict=True))
        likely = settle_likely(found, limits, without=without, taken=taken)
        free = ~np.isin(found.asked, without)
        sure = found.asked[free & (likely.decision == CERTAIN)]
        record[sure] = likely.record[free & (likely.decision == CERTAIN)]
        by[sure] = BY_LIKENESS
        decision[sure] = TAKEN
        decision[found.asked[free & (likely.decision == POSSIBLE)]] = ASKED
    disagree = {row: pair for row, pair in keyed.disagree.items() if row not in chosen}
    known = Known(record, by, disagree) if chosen or likely is not None else keyed
    return Recognised(known, decision, keyed, dict(chosen), typed, likely)


def _candidates(
    definition: Definition,
    typed: Mapping[str, Typed],
    keyed: Known,
    as_came: Known,
    snapshot: Snapshot,
    memo: Memo,
    apart: frozenset[tuple[int, int]],
) -> Candidates | None:
    """Find candidates for the rows that no key knows; taken over while neither they nor what tells people apart change."""
    traits = [one for one in known_traits(definition, memo) if one.field in typed]
    if len(traits) < NEEDS or not len(snapshot) or not definition.likeness:
        return None
    if not any(one.kind in ("family", "given", "mail") for one in traits):
        return None
    # What the people are like is learnt from the file as it came: an edit alters who its own row may be, and nobody else.
    came = [memo.made(("typed", one.field)) or typed[one.field] for one in traits]
    asked = np.flatnonzero(keyed.record < 0)
    sides = snapshot.keep("sides", lambda: sides_of(definition, snapshot.columns))

    def learn() -> Learnt:
        columns = {one.field: values.stored for one, values in zip(traits, came, strict=True)}
        there, wanted = np.flatnonzero(as_came.record >= 0), np.flatnonzero(as_came.record < 0)
        return learn_people(definition, columns, sides, wanted, known=(there, as_came.record[there]), apart=apart)

    learnt: Learnt = memo.get("learnt", (snapshot, as_came, apart, *came), learn)
    now = tuple(typed[one.field] for one in traits)
    of = (learnt, keyed, *now)

    def make() -> Candidates:
        last = memo.last("candidates")
        known: tuple[Any, ...]
        found: Candidates
        known, found = last if last is not None and last[0][0] is learnt else ((learnt, as_came, *came), learnt.found)
        changed = known[1].record >= 0
        for before, after in zip(known[2:], now, strict=True):
            if before is not after:
                differ = before.stored.differs(after.stored)
                changed |= True if differ is None else differ
        rows = asked[changed[asked]]
        if not len(rows) and len(asked) == len(found.asked):
            return found
        columns = {one.field: typed[one.field].stored for one in traits}
        return find_again(learnt, found, rows, asked, definition, columns, sides, apart)

    candidates: Candidates = memo.get("candidates", of, make)
    return candidates
