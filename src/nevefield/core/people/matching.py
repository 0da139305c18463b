"""Who is this row, when no key says it: likely records, and how likely each is."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Array, Json, Premises
from nevefield.core.edits.trail import NO_ROWS, Trail, put_in
from nevefield.core.people.candidates import Listed, find_candidates
from nevefield.core.people.households import are_two, tells
from nevefield.core.people.levels import LEVELS, level_pairs
from nevefield.core.people.traits import Side, Trait, forms_of, traits_of
from nevefield.core.people.weights import Weights, estimate_weights, weigh_pairs

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.table import Column

__all__ = [
    "LEAST",
    "Candidates",
    "Learnt",
    "Scale",
    "Sides",
    "find_again",
    "learn_people",
    "sides_of",
]


KEPT = 8  # candidates of a row
LEAST = 0.5  # a score below which a candidate is not shown, unless it is the best
KNOWN_PAIRS = 2_000
ONE_PART = [level.word for level in LEVELS["birth"]].index("one part differs")
GENERATION = 15  # years between parents and their children, at least


@dataclass(frozen=True)
class Candidates:
    """The records that rows may be, the best first; what is decided of them is `Likely`.

    A pair's score is the chance in 100 that the row is that record, all its candidates and "nobody"
    considered.
    """

    traits: tuple[Trait, ...]
    rows: NDArray[np.int64]  # of each pair, in order
    records: NDArray[np.int64]
    scores: NDArray[np.float64]  # 0 to 100
    levels: Mapping[str, NDArray[np.int8]]  # by kind, see `LEVELS`
    parts: Mapping[str, NDArray[np.float32]]  # by kind, in bits
    asked: NDArray[np.intp]  # the rows that were looked for
    # what it was found anew from, in which rows
    trail: Trail = field(default_factory=Trail, compare=False, repr=False)

    def of_row(self, row: int) -> NDArray[np.intp]:
        """List the pairs of a row, the best first."""
        return self.pairs_of(np.array([row]))

    def pairs_of(self, rows: NDArray[np.intp]) -> NDArray[np.intp]:
        """List the pairs of rows, rising, in their order."""
        starts, stops = np.searchsorted(self.rows, rows), np.searchsorted(self.rows, rows, "right")
        found = [
            np.arange(start, stop)
            for start, stop in zip(starts.tolist(), stops.tolist(), strict=True)
            if start < stop
        ]
        return np.concatenate(found) if found else NO_ROWS

    def take(self, rows: NDArray[np.intp]) -> Candidates:
        """Keep a few rows, rising, with all their pairs."""
        return self.with_pairs(
            self.pairs_of(rows), np.intersect1d(self.asked, rows, assume_unique=True)
        )

    def with_pairs(self, pairs: NDArray[np.intp], asked: NDArray[np.intp]) -> Candidates:
        """Keep some pairs, rising, as those of the rows that are looked for."""
        levels = {kind: level[pairs] for kind, level in self.levels.items()}
        parts = {kind: part[pairs] for kind, part in self.parts.items()}
        return Candidates(
            self.traits,
            self.rows[pairs],
            self.records[pairs],
            self.scores[pairs],
            levels,
            parts,
            asked,
        )

    def since(self, candidates: Candidates) -> NDArray[np.intp] | None:
        """List the rows whose candidates may be others than they were; None where that is not
        known.
        """
        return self.trail.since(candidates.trail)


class Sides(dict[str, Side]):
    """A roster's traits in the forms that comparing looks at, by kind; its records' keys are
    kept with them.
    """

    def __init__(self, made: Mapping[str, Side], traits: tuple[Trait, ...]) -> None:
        super().__init__(made)
        self.traits = traits
        self.keys_of: dict[frozenset[str], Listed] = {}


def sides_of(definition: Definition, columns: Mapping[str, Column]) -> Sides:
    """Bring a roster's traits to the forms that comparing looks at, by kind."""
    traits = traits_of(definition)
    return Sides(
        {
            trait.kind: Side(trait, columns[trait.field])
            for trait in traits
            if trait.field in columns
        },
        traits,
    )


@dataclass(frozen=True)
class Scale:
    """How much each agreement counts, learnt from a file and a roster as they were."""

    weights: Weights
    share: float  # of the rows that no key knows, how many are in the roster, 0 to 1
    records: int  # of the roster then

    @classmethod
    def of_numbers(
        cls,
        same: Mapping[str, Sequence[float]],
        chance: Mapping[str, Sequence[float]],
        share: float,
        records: int,
    ) -> Scale:
        """Make it of plain numbers."""
        shares = [
            {kind: np.array(level) for kind, level in levels.items()} for levels in (same, chance)
        ]
        return cls(Weights(*shares), share, records)

    @property
    def key(self) -> Premises:
        """What it is compared by."""
        shares = (self.weights.same, self.weights.chance)
        return (
            self.share,
            self.records,
            *(
                (kind, *level.tolist())
                for levels in shares
                for kind, level in sorted(levels.items())
            ),
        )

    def to_numbers(self) -> dict[str, Json]:
        """Return it as plain numbers."""
        same, chance = (
            {
                kind: [float(f"{level:.6g}") for level in levels.tolist()]
                for kind, levels in shares.items()
            }
            for shares in (self.weights.same, self.weights.chance)
        )
        return {"same": same, "chance": chance, "share": self.share, "records": self.records}


@dataclass(frozen=True)
class Learnt:
    """What a file's people are like: with it, who a row may be hangs on nothing but the row and
    the roster.
    """

    scale: Scale
    found: Candidates  # for the rows that it was learnt from


def learn_people(
    ours: Mapping[str, Column],
    theirs: Sides,
    asked: NDArray[np.intp],
    *,
    known: tuple[NDArray[np.int64], NDArray[np.int64]] | None = None,
    parted: frozenset[tuple[int, int]] = frozenset(),
    itself: bool = False,
    scale: Scale | None = None,
) -> Learnt:
    """Learn from a file how much each agreement counts, and find for each row the records that it
    may be.

    Args:
        ours: The rows' values by field.
        theirs: The records' sides by kind, see `sides_of`.
        asked: The rows to look for, in order.
        known: Rows and records that are one person by their keys: they show what the data is like.
        parted: Pairs that somebody said are two people.
        itself: Whether the rows are the records: then nobody is a candidate for itself.
        scale: What was learnt when the file was applied, where it was: nothing is learnt again.
    """
    sample = np.zeros((2, 0), np.int64)
    if scale is None and known is not None and len(known[0]):
        step = max(len(known[0]) // KNOWN_PAIRS, 1)
        sample = np.stack([known[0][::step], known[1][::step]])
    pairs = _Pairs(
        ours,
        theirs,
        np.concatenate([asked, sample[0]]),
        len(asked),
        parted,
        itself=itself,
    )
    if scale is None or not all(kind in scale.weights.same for kind in pairs.forms):
        samples = level_pairs(pairs.forms, len(asked) + np.arange(sample.shape[1]), sample[1])
        weights = estimate_weights(pairs.forms, pairs.levels, samples, len(asked))
        _, bits = pairs.weigh(weights)
        share = _estimate_share(pairs.rows, bits, pairs.doubtful, len(asked), pairs.records_there)
        scale = Scale(weights, share, pairs.records_there)
    parts, bits = pairs.weigh(scale.weights)
    scores = _score(pairs.rows, bits, pairs.doubtful, len(asked), scale.records, scale.share)
    return Learnt(scale, pairs.rank(asked, parts, scores))


def find_again(
    learnt: Learnt,
    before: Candidates,
    rows: NDArray[np.intp],
    wanted: NDArray[np.intp],
    ours: Mapping[str, Column],
    theirs: Sides,
    parted: frozenset[tuple[int, int]] = frozenset(),
) -> Candidates:
    """Find candidates anew for rows that changed, and keep those of the others: the same as finding
    them all.

    Args:
        learnt: From the file as it came.
        before: The candidates before.
        rows: The rows that changed, rising.
        wanted: Those of them that are looked for still, or from now on.
        ours: The rows' values by field, as they are now.
        theirs: The records' sides by kind.
        parted: Pairs that somebody said are two people.
    """
    # those of before and those wanted, but for those that are looked for no more
    asked = put_in(before.asked, rows, wanted)
    stay = np.ones(len(before.rows), bool)
    stay[before.pairs_of(rows)] = False
    kept = np.flatnonzero(stay)
    if not len(wanted):
        return replace(before.with_pairs(kept, asked), trail=before.trail.after(rows))
    pairs = _Pairs(ours, theirs, wanted, len(wanted), parted, alone=True)
    scale = learnt.scale
    parts, bits = pairs.weigh(scale.weights)
    fresh = pairs.rank(
        wanted,
        parts,
        _score(pairs.rows, bits, pairs.doubtful, len(wanted), scale.records, scale.share),
    )
    order = np.insert(
        kept, np.searchsorted(before.rows[kept], fresh.rows), len(stay) + np.arange(len(fresh.rows))
    )

    def join(values: Array, other: Array) -> Array:
        return np.concatenate([values, other])[order]

    return Candidates(
        before.traits,
        join(before.rows, fresh.rows),
        join(before.records, fresh.records),
        join(before.scores, fresh.scores),
        {kind: join(level, fresh.levels[kind]) for kind, level in before.levels.items()},
        {kind: join(part, fresh.parts[kind]) for kind, part in before.parts.items()},
        asked,
        before.trail.after(rows),
    )


class _Pairs:
    """Pairs of rows and records that are worth comparing, with their levels of agreement; rows are
    places in `within`.

    Args:
        ours: The rows' values by field.
        theirs: The records' sides by kind.
        within: The rows that are looked at; only these are brought to their forms.
        asked: How many of them to find pairs for, from the first.
        parted: Pairs of a row's own number and a record that somebody said are two people.
        alone: Whether each row is looked for as if it were the only one.
        itself: Whether the rows are the records.
    """

    def __init__(
        self,
        ours: Mapping[str, Column],
        theirs: Sides,
        within: NDArray[np.intp],
        asked: int,
        parted: frozenset[tuple[int, int]],
        *,
        alone: bool = False,
        itself: bool = False,
    ) -> None:
        traits = theirs.traits
        self.forms = forms_of(
            traits, {name: column.take(within) for name, column in ours.items()}, theirs
        )
        self.traits = tuple(trait for trait in traits if trait.kind in self.forms)
        self.records_there = max((len(their.codes) for their in theirs.values()), default=0)
        rows, records = find_candidates(
            self.forms, np.arange(asked), kept=theirs.keys_of, alone=alone
        )
        if itself:
            rows, records = rows[rows != records], records[rows != records]
        if parted:
            mine = within[rows].tolist()
            kept = np.array(
                [pair not in parted for pair in zip(mine, records.tolist(), strict=True)], bool
            )
            rows, records = rows[kept], records[kept]
        self.rows, self.records = rows, records
        self.levels = level_pairs(self.forms, rows, records)
        # nothing tells the people of one household apart
        self.doubtful = ~tells(self.levels, np.arange(len(rows)))

    def weigh(self, weights: Weights) -> tuple[dict[str, NDArray[np.float32]], NDArray[np.float64]]:
        """Weigh the evidence by kind, and all together, in bits."""
        parts = weigh_pairs(weights, self.forms, self.levels, self.rows)
        bits = np.zeros(len(self.rows))
        for part in parts.values():
            bits += part
        bits[are_two(self.levels, self._generations(), self._in_two_scripts())] = -60
        return parts, bits

    def _in_two_scripts(self) -> NDArray[np.bool_]:
        """Tell of which pairs one given name is in Latin letters and the other is not: how they
        compare says little.
        """
        if "given" not in self.forms:
            return np.zeros(len(self.rows), bool)
        ours, theirs = self.forms["given"].ours, self.forms["given"].theirs
        one = np.append(ours.is_foreign, False)[ours.codes[self.rows]]
        return np.asarray(one != np.append(theirs.is_foreign, False)[theirs.codes[self.records]])

    def _generations(self) -> NDArray[np.bool_]:
        """Tell which pairs' births lie a generation apart: where day and month are the same, by
        more than a slip in the year.
        """
        if "birth" not in self.forms:
            return np.zeros(len(self.rows), bool)
        ours, theirs = self.forms["birth"].ours, self.forms["birth"].theirs
        one = np.append(ours.days[:, 0], 0)[ours.codes[self.rows]]
        other = np.append(theirs.days[:, 0], 0)[theirs.codes[self.records]]
        birth = self.levels["birth"]
        parted = (
            (one > 0)
            & (other > 0)
            & (np.abs(one - other) >= GENERATION)
            & ((birth == 0) | (birth == ONE_PART))
        )
        some = np.flatnonzero(parted & (birth == ONE_PART))
        first, second = ((years[some, None] // 10 ** np.arange(4)) % 10 for years in (one, other))
        parted[some] = (first != second).sum(axis=1) > 1
        return np.asarray(parted)

    def rank(
        self,
        asked: NDArray[np.intp],
        parts: Mapping[str, NDArray[np.float32]],
        scores: NDArray[np.float64],
    ) -> Candidates:
        """Keep the best few of each row, under the rows' own numbers."""
        kept = _keep(self.rows, scores)
        return Candidates(
            self.traits,
            asked[self.rows[kept]],
            self.records[kept],
            scores[kept],
            {kind: level[kept] for kind, level in self.levels.items()},
            {kind: part[kept] for kind, part in parts.items()},
            asked,
        )


def _score(
    rows: NDArray[np.int64],
    bits: NDArray[np.float64],
    doubtful: NDArray[np.bool_],
    asked: int,
    records: int,
    share: float,
) -> NDArray[np.float64]:
    """Turn evidence into chances: of each row's candidates, and that it is nobody (Bayes' rule); 0
    to 100.

    What a household shares says little between its people: a doubtful pair is never more likely
    than not.
    """
    each = np.exp2(np.clip(bits, -60, 60)) / max(records, 1) * share
    each[doubtful] = np.minimum(each[doubtful], 1 - share)
    total = np.bincount(rows, weights=each, minlength=asked) + (1 - share)
    return np.asarray(100 * each / total[rows])


def _estimate_share(
    rows: NDArray[np.int64],
    bits: NDArray[np.float64],
    doubtful: NDArray[np.bool_],
    asked: int,
    records: int,
) -> float:
    """Estimate how many of the rows are in the roster at all, by expectation-maximisation."""
    share = 0.5
    for _ in range(8):
        chance = _score(rows, bits, doubtful, asked, records, share) / 100
        share = float(np.clip(chance.sum() / max(asked, 1), 0.02, 0.98))
    return share


def _keep(rows: NDArray[np.int64], scores: NDArray[np.float64]) -> NDArray[np.intp]:
    """Keep the best few of each row, the best first."""
    order = np.lexsort((-scores, rows))
    ordered = rows[order]
    first = (
        np.concatenate([[True], ordered[1:] != ordered[:-1]]) if len(ordered) else np.zeros(0, bool)
    )
    starts = np.flatnonzero(first)
    rank = np.arange(len(ordered)) - np.repeat(starts, np.diff(np.append(starts, len(ordered))))
    return np.asarray(order[(rank < KEPT) & ((rank == 0) | (scores[order] >= LEAST))])
