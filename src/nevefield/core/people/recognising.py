"""Who each row is, all things taken together: what somebody said, then keys, then likeness."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises
from nevefield.core.edits.trail import has_any, union
from nevefield.core.people.keys import Known
from nevefield.core.people.matching import (
    Candidates,
    Learnt,
    Scale,
    find_again,
    learn_people,
    sides_of,
)
from nevefield.core.people.settling import (
    CERTAIN,
    POSSIBLE,
    Likely,
    Limits,
    find_knot,
    merge_likely,
    settle_likely,
)
from nevefield.core.people.traits import traits_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.edits.memo import Memo
    from nevefield.core.inputs import Inputs, Remembered
    from nevefield.core.people.traits import Trait
    from nevefield.core.snapshot import Snapshot

__all__ = [
    "BY_HAND",
    "BY_LIKENESS",
    "DECISIONS",
    "KEY",
    "Recognised",
    "Said",
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


def known_traits(definition: Definition, memo: Memo) -> tuple[Trait, ...]:
    """List the fields that are about the person, worked out once for a definition."""
    traits: tuple[Trait, ...] = memo.get("traits", (definition,), lambda: traits_of(definition))
    return traits


def likeness_of(definition: Definition, typed: Mapping[str, Typed], row: int) -> bytes:
    """Return the digest of what a row says of its person, numbers aside, by which it is known
    again; b"" for nothing.
    """
    traits = [
        trait for trait in traits_of(definition) if trait.field in typed and trait.kind != "number"
    ]
    return _digest([(trait.kind, typed[trait.field].folded().at(row)) for trait in traits])


def likeness_of_record(snapshot: Snapshot, record: int) -> bytes:
    """Return the digest of what a record says of its person, numbers aside: that of a row that
    says the same.
    """
    traits = [trait for trait in traits_of(snapshot.definition) if trait.kind != "number"]
    return _digest([(trait.kind, snapshot.folded(trait.field).at(record)) for trait in traits])


def _digest(texts: list[tuple[str, str | None]]) -> bytes:
    message = "\x1f".join(f"{kind}={text}" for kind, text in texts if text)
    return hashlib.blake2b(message.encode(), digest_size=16).digest() if message else b""


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
    scale: Scale | None = None  # how much each agreement counts; None where likeness says nothing

    def score(self, row: int) -> float:
        """Return the score of a row's record, or of its likeliest candidate, 0 to 100."""
        if self.decision[row] in (KEY, CHOSEN):
            return 100.0 if self.known.record[row] >= 0 else 0.0
        place = self._place(row)
        return (
            float(self.likely.score[place])
            if self.likely is not None and place is not None
            else 0.0
        )

    def scores(self) -> NDArray[np.float64]:
        """Return the score of every row (see `score`)."""
        made = np.zeros(len(self.decision))
        if self.likely is not None:
            made[self.likely.found.asked] = self.likely.score
        sure = np.isin(self.decision, (KEY, CHOSEN))
        return np.where(sure, np.where(self.known.record >= 0, 100.0, 0.0), made)

    def candidates(self, row: int) -> list[tuple[int, float, int]]:
        """List a row's candidates, the best first: record, score, and the pair's number in
        `likely.found`.
        """
        if self.likely is None:
            return []
        found = self.likely.found
        return [
            (int(found.records[pair]), float(found.scores[pair]), int(pair))
            for pair in found.of_row(row)
        ]

    def _place(self, row: int) -> int | None:
        asked = self.likely.found.asked if self.likely is not None else np.zeros(0, np.intp)
        place = int(np.searchsorted(asked, row))
        return place if place < len(asked) and asked[place] == row else None


@dataclass(frozen=True)
class Said:
    """What was said of who the rows are, here and in other intakes."""

    chosen: Mapping[int, int]  # by row what somebody said: a record, or -1 for nobody
    aside: NDArray[np.bool_]  # rows held or left out: they claim nobody
    limits: Limits  # from which scores on likeness settles a row
    # how much each agreement counts, where that was fixed when the file was applied
    scale: Scale | None = None
    # rows that waited for a person then: likeness does not settle them any more
    waiting: Collection[int] = ()
    elsewhere: Remembered = field(default_factory=dict)  # nobody is asked twice


@dataclass(frozen=True)
class _Case:
    """Everything by which it is settled who the rows are."""

    keyed: Known
    typed: Mapping[str, Typed]  # the fields that tell people apart
    found: Candidates | None
    records: int  # of the roster
    chosen: Mapping[int, int]
    aside: NDArray[np.bool_]
    limits: Limits


def recognise(
    inputs: Inputs,
    typed: Mapping[str, Typed],
    keyed: Known,
    as_came: Known,
    said: Said,
    memo: Memo,
) -> Recognised:
    """Tell who each row is.

    Args:
        inputs: The definition, and the roster as it stands.
        typed: The rows' values.
        keyed: Who the rows are by their keys.
        as_came: Who the rows are by the keys that the file came with, before any was edited.
        said: What was said.
        memo: What was found before.

    Returns:
        The record of every row, with how it is known. Two rows are never the same record by
        likeness.
    """
    snapshot = inputs.snapshot
    traits = known_traits(inputs.definition, memo)
    chosen, parted = _remember(typed, keyed, snapshot, said.chosen, said.elsewhere, traits, memo)
    candidates = _candidates(inputs, typed, keyed, as_came, memo, parted, said.scale)
    aside = said.aside.copy() if len(said.waiting) else said.aside
    kept = tuple(
        row
        for row in sorted(said.waiting)
        if keyed.record[row] < 0 and row not in chosen and not aside[row]
    )
    aside[list(kept)] = True  # they claim nobody, and nobody claims for them
    apart_rows = tuple(np.flatnonzero(aside).tolist())
    looked = {trait.field: typed[trait.field] for trait in traits if trait.field in typed}
    case = _Case(keyed, looked, candidates, len(snapshot), chosen, aside, said.limits)
    last = memo.last("recognised")

    def whole() -> Recognised:
        made = _settle(case)
        follows = last is not None and last[0][0] is snapshot
        return (
            replace(made, known=last[1].known.follow(made.known))
            if last is not None and follows
            else made
        )

    def again(before: Recognised, rows: NDArray[np.intp], _: Premises) -> Recognised:
        return _settle_again(before, rows, case) or whole()

    of = (
        snapshot,
        keyed,
        candidates,
        dict(chosen),
        apart_rows,
        (said.limits.certain, said.limits.nobody),
    )
    people: Recognised = memo.mend("recognised", of, whole, again)
    if kept:
        decision = people.decision.copy()
        decision[list(kept)] = ASKED
        people = replace(people, decision=decision)
    return replace(people, typed=looked, as_came=as_came, scale=learnt_scale(memo))


def settle(people: Recognised, aside: NDArray[np.bool_], limits: Limits) -> Recognised:
    """Settle the same candidates with other limits.

    Args:
        people: As it stands.
        aside: Rows held or left out.
        limits: From which scores on likeness settles a row.
    """
    candidates = people.likely.found if people.likely is not None else None
    records = int(candidates.records.max(initial=-1)) + 1 if candidates is not None else 0
    records = max(records, int(people.known.record.max(initial=-1)) + 1)
    case = _Case(people.keyed, people.typed, candidates, records, people.chosen, aside, limits)
    return _settle(case)


def _remember(
    typed: Mapping[str, Typed],
    keyed: Known,
    snapshot: Snapshot,
    chosen: Mapping[int, int],
    remembered: Remembered,
    traits: tuple[Trait, ...],
    memo: Memo,
) -> tuple[Mapping[int, int], frozenset[tuple[int, int]]]:
    """Bring what was said elsewhere to the rows that no key knows: who they are, and who they
    are not.
    """
    if not remembered:
        return chosen, frozenset()
    columns = [
        (trait.kind, typed[trait.field].folded())
        for trait in traits
        if trait.field in typed and trait.kind != "number"
    ]
    asked = keyed.record < 0

    def digests(rows: NDArray[np.intp]) -> dict[int, bytes]:
        texts = [[(kind, text) for text in column.rows(rows)] for kind, column in columns]
        return {row: _digest(list(text)) for row, *text in zip(rows.tolist(), *texts, strict=True)}

    def again(before: dict[int, bytes], rows: NDArray[np.intp], _: Premises) -> dict[int, bytes]:
        return {row: one for row, one in before.items() if asked[row]} | digests(rows[asked[rows]])

    of = (keyed, *(column for _, column in columns))
    likenesses: dict[int, bytes] = memo.mend(
        "likenesses", of, lambda: digests(np.flatnonzero(asked)), again
    )
    place = snapshot.places()
    known = dict(chosen)
    parted = set()
    for row, likeness in likenesses.items():
        for number, is_same in remembered.get(likeness, {}).items():
            if number not in place:
                continue
            if is_same:
                known.setdefault(row, place[number])
            else:
                parted.add((row, place[number]))
    return known, frozenset(parted)


def _settle(case: _Case) -> Recognised:
    """Put what somebody said over the keys, and let likeness settle the rest."""
    keyed, chosen, candidates, aside = case.keyed, case.chosen, case.found, case.aside
    likely = None
    if candidates is not None:
        without = np.union1d(np.flatnonzero(aside), np.array(sorted(chosen), np.intp)).astype(
            np.intp
        )
        wanted = np.zeros(case.records + 1, bool)  # the last one for -1
        wanted[candidates.records] = True
        wanted[-1] = False
        sure = keyed.record
        if chosen:
            sure = sure.copy()
            sure[list(chosen)] = list(chosen.values())
        there = np.flatnonzero(wanted[sure] & ~aside)
        taken = dict(zip(sure[there].tolist(), there.tolist(), strict=True))
        likely = settle_likely(candidates, case.limits, without=without, taken=taken)
    if not chosen and likely is None:
        return Recognised(
            keyed,
            np.where(keyed.record >= 0, KEY, NOBODY_THERE).astype(np.int8),
            keyed,
            {},
            case.typed,
            likely,
        )
    known, decision = _decide(np.arange(len(keyed.record)), keyed, chosen, likely, aside)
    return Recognised(known, decision, keyed, dict(chosen), case.typed, likely)


def _decide(
    rows: NDArray[np.intp],
    keyed: Known,
    chosen: Mapping[int, int],
    likely: Likely | None,
    aside: NDArray[np.bool_],
) -> tuple[Known, NDArray[np.int8]]:
    """Say of rows, rising, who they are and how that is known, when it is settled of all of them
    what likeness says.
    """
    record, by = keyed.record[rows], keyed.by[rows]
    decision = np.where(record >= 0, KEY, NOBODY_THERE).astype(np.int8)
    is_free = ~aside[rows]
    for row, said in chosen.items():
        place = int(np.searchsorted(rows, row))
        if place < len(rows) and rows[place] == row:
            record[place], by[place], decision[place], is_free[place] = said, BY_HAND, CHOSEN, False
    if likely is not None:
        at = np.searchsorted(rows, likely.found.asked)
        sure, possible = (
            is_free[at] & (likely.decision == number) for number in (CERTAIN, POSSIBLE)
        )
        record[at[sure]] = likely.record[sure]
        by[at[sure]] = BY_LIKENESS
        decision[at[sure]] = TAKEN
        decision[at[possible]] = ASKED
    odd = np.array(sorted(keyed.disagree.keys() - chosen.keys()), np.intp)
    at = np.minimum(np.searchsorted(rows, odd), max(len(rows) - 1, 0))
    there = rows[at] == odd if len(rows) else np.zeros(len(odd), bool)
    disagree = {
        place: keyed.disagree[row]
        for place, row in zip(at[there].tolist(), odd[there].tolist(), strict=True)
    }
    return Known(record, by, disagree), decision


def _candidates(
    inputs: Inputs,
    typed: Mapping[str, Typed],
    keyed: Known,
    as_came: Known,
    memo: Memo,
    parted: frozenset[tuple[int, int]],
    scale: Scale | None,
) -> Candidates | None:
    """Find candidates for the rows that no key knows; taken over while neither they nor what
    tells people apart change.
    """
    definition, snapshot = inputs.definition, inputs.snapshot
    traits = [trait for trait in known_traits(definition, memo) if trait.field in typed]
    if len(traits) < NEEDS or not len(snapshot) or not definition.likeness:
        return None
    if not any(trait.kind in ("family", "given", "mail") for trait in traits):
        return None
    # What the people are like is learnt from the file as it came: an edit alters who its own row
    # may be, and nobody else.
    came = [memo.made(("typed", trait.field)) or typed[trait.field] for trait in traits]
    sides = snapshot.keep("sides", lambda: sides_of(definition, snapshot.columns))

    def learn() -> Learnt:
        columns = {trait.field: values.stored for trait, values in zip(traits, came, strict=True)}
        there, wanted = np.flatnonzero(as_came.record >= 0), np.flatnonzero(as_came.record < 0)
        return learn_people(
            columns,
            sides,
            wanted,
            known=(there, as_came.record[there]),
            parted=parted,
            scale=scale,
        )

    fixed = scale.key if scale is not None else None
    learnt: Learnt = memo.get("learnt", (snapshot, as_came, parted, fixed, *came), learn)
    now = tuple(typed[trait.field] for trait in traits)
    columns = {trait.field: typed[trait.field].stored for trait in traits}

    def edited(before: Candidates, rows: NDArray[np.intp]) -> Candidates:
        changed = rows[keyed.record[rows] < 0]
        if not len(changed) and not has_any(before.asked, rows):
            return before
        return find_again(learnt, before, rows, changed, columns, sides, parted)

    def make() -> Candidates:
        since = [
            _since_came(keyed, as_came),
            *(column.since(before) for column, before in zip(now, came, strict=True)),
        ]
        rows = [one for one in since if one is not None]
        return edited(
            learnt.found, union(rows) if len(rows) == len(since) else np.arange(len(keyed.record))
        )

    candidates: Candidates = memo.mend(
        "candidates", (learnt, keyed, *now), make, lambda before, rows, _: edited(before, rows)
    )
    return candidates


def learnt_scale(memo: Memo) -> Scale | None:
    """Return how much each agreement counts in the evaluation that a memo is of."""
    learnt = memo.made("learnt")
    return learnt.scale if learnt is not None else None


def _since_came(keyed: Known, as_came: Known) -> NDArray[np.intp]:
    """List the rows that are another record by their keys than when the file came."""
    rows = keyed.since(as_came)
    return np.flatnonzero(keyed.record != as_came.record) if rows is None else rows


def _settle_again(before: Recognised, rows: NDArray[np.intp], case: _Case) -> Recognised | None:
    """Settle anew what hangs on a few rows: they, and whoever contends with them for a record,
    directly or through others.

    Returns:
        What settling all of them anew gives; None where that is as quick.
    """
    keyed, chosen, candidates, aside = case.keyed, case.chosen, case.found, case.aside
    if candidates is None or before.likely is None:
        return None
    likely = before.likely
    had, now = likely.found.pairs_of(rows), candidates.pairs_of(rows)
    claimed = (
        likely.found.records[had],
        candidates.records[now],
        before.known.record[rows],
        keyed.record[rows],
    )
    knot = find_knot(candidates, rows, np.unique(np.concatenate(claimed)))
    if knot is None:
        return None
    touched, contended = knot
    is_contended = np.zeros(case.records + 1, bool)  # the last one for -1
    is_contended[contended] = True
    holders = union((rows, np.flatnonzero(is_contended[before.known.record])))
    sure = {
        row: chosen.get(row, record)
        for row, record in zip(holders.tolist(), keyed.record[holders].tolist(), strict=True)
    }
    some = candidates.take(touched)
    taken = {record: row for row, record in sure.items() if is_contended[record] and not aside[row]}
    without = some.asked[
        aside[some.asked] | np.array([row in chosen for row in some.asked.tolist()], bool)
    ]
    part = settle_likely(some, case.limits, without=without, taken=taken)
    few, few_decisions = _decide(touched, keyed, chosen, part, aside)
    decision = before.decision.copy()
    decision[touched] = few_decisions
    likely = merge_likely(likely, candidates, part, union((touched, holders)))
    return Recognised(
        before.known.put(touched, few), decision, keyed, dict(chosen), case.typed, likely
    )
