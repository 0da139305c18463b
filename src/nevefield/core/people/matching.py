"""Who is this row, when no key says it: likely records, how likely each is, and an assignment
that gives no record away twice.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.assigning import assign
from nevefield.core.edits.trail import NO_ROWS, Trail, union
from nevefield.core.people.candidates import Listed, find_candidates
from nevefield.core.people.levels import LEVELS, NOTHING, level_pairs
from nevefield.core.people.traits import Side, Trait, forms_of, traits_of
from nevefield.core.people.weights import Weights, estimate_weights, weigh_pairs

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from typing import Any

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.table import Column

__all__ = [
    "CERTAIN",
    "NOBODY",
    "POSSIBLE",
    "SAME_INITIAL",
    "Candidates",
    "Learnt",
    "Likely",
    "Limits",
    "Scale",
    "Sides",
    "find_again",
    "find_knot",
    "learn_people",
    "merge_likely",
    "settle_likely",
    "sides_of",
]

NOBODY, POSSIBLE, CERTAIN = range(3)
KEPT = 8  # candidates of a row
LEAST = 0.5  # a score below which a candidate is not shown, unless it is the best
RIVAL = 10.0  # a score from which on a second row is said to claim the same record
KNOWN_PAIRS = 2_000
LARGEST_KNOT = 2_000  # rows that are settled apart from the others
# cells of one assignment; a larger knot of rows and records is settled greedily
LARGEST_TABLE = 4_000_000
# What tells people of one household apart: while one of these differs, nothing is settled by
# itself.
TELLING = ("given", "birth")
ONE_PART = [one.word for one in LEVELS["birth"]].index("one part differs")
GENERATION = 15  # years between parents and their children, at least
SLIPS = [
    place for place, one in enumerate(LEVELS["given"]) if one.word in ("nearly", "sounds alike")
]
SAME_INITIAL = [one.word for one in LEVELS["given"]].index("same initial")


@dataclass(frozen=True)
class Limits:
    """From which score on a row is settled without a person, 0 to 100."""

    certain: float = 98.0  # at least: it is that record
    nobody: float = 4.0  # at most, of all candidates together: it is nobody in the roster


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
        levels = {kind: one[pairs] for kind, one in self.levels.items()}
        parts = {kind: one[pairs] for kind, one in self.parts.items()}
        return Candidates(
            self.traits,
            self.rows[pairs],
            self.records[pairs],
            self.scores[pairs],
            levels,
            parts,
            asked,
        )

    def since(self, other: Candidates) -> NDArray[np.intp] | None:
        """List the rows whose candidates may be others than they were; None where that is not
        known.
        """
        return self.trail.since(other.trail)


@dataclass(frozen=True)
class Likely:
    """What was decided of rows without a known record."""

    found: Candidates
    decision: NDArray[np.int8]  # of each row asked
    record: NDArray[np.int64]  # of each: the certain record, -1
    score: NDArray[np.float64]  # of each: of the certain record, or of the likeliest, 0 to 100
    # row -> rows that claim its likeliest record as well
    rivals: Mapping[int, tuple[int, ...]] = field(default_factory=dict)


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
        {one.kind: Side(one, columns[one.field]) for one in traits if one.field in columns}, traits
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
            {kind: np.array(one) for kind, one in levels.items()} for levels in (same, chance)
        ]
        return cls(Weights(*shares), share, records)

    @property
    def key(self) -> tuple[Any, ...]:
        """What it is compared by."""
        shares = (self.weights.same, self.weights.chance)
        return (
            self.share,
            self.records,
            *((kind, *one.tolist()) for levels in shares for kind, one in sorted(levels.items())),
        )

    def to_numbers(self) -> dict[str, Any]:
        """Return it as plain numbers."""
        same, chance = (
            {
                kind: [float(f"{one:.6g}") for one in levels.tolist()]
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
    definition: Definition,
    ours: Mapping[str, Column],
    theirs: Sides,
    asked: NDArray[np.intp],
    *,
    known: tuple[NDArray[np.int64], NDArray[np.int64]] | None = None,
    apart: frozenset[tuple[int, int]] = frozenset(),
    itself: bool = False,
    scale: Scale | None = None,
) -> Learnt:
    """Learn from a file how much each agreement counts, and find for each row the records that it
    may be.

    Args:
        definition: Says which fields are about the person.
        ours: The rows' values by field.
        theirs: The records' sides by kind, see `sides_of`.
        asked: The rows to look for, in order.
        known: Rows and records that are one person by their keys: they show what the data is like.
        apart: Pairs that somebody said are two people.
        itself: Whether the rows are the records: then nobody is a candidate for itself.
        scale: What was learnt when the file was applied, where it was: nothing is learnt again.
    """
    sample = np.zeros((2, 0), np.int64)
    if scale is None and known is not None and len(known[0]):
        step = max(len(known[0]) // KNOWN_PAIRS, 1)
        sample = np.stack([known[0][::step], known[1][::step]])
    pairs = _Pairs(
        definition,
        ours,
        theirs,
        np.concatenate([asked, sample[0]]),
        len(asked),
        apart,
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
    asked: NDArray[np.intp],
    definition: Definition,
    ours: Mapping[str, Column],
    theirs: Sides,
    apart: frozenset[tuple[int, int]] = frozenset(),
) -> Candidates:
    """Find candidates anew for rows that changed, and keep those of the others: the same as finding
    them all.

    Args:
        learnt: From the file as it came.
        before: The candidates before.
        rows: The rows that changed, rising.
        wanted: Those of them that are looked for still, or from now on.
        asked: The rows to look for, rising: those of `before` and `wanted`, but for those that are
            looked for no more.
        definition: Says which fields are about the person.
        ours: The rows' values by field, as they are now.
        theirs: The records' sides by kind.
        apart: Pairs that somebody said are two people.
    """
    stay = np.ones(len(before.rows), bool)
    stay[before.pairs_of(rows)] = False
    kept = np.flatnonzero(stay)
    if not len(wanted):
        return replace(before.with_pairs(kept, asked), trail=before.trail.after(rows))
    pairs = _Pairs(definition, ours, theirs, wanted, len(wanted), apart, alone=True)
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

    def join(one: NDArray[Any], other: NDArray[Any]) -> NDArray[Any]:
        return np.concatenate([one, other])[order]

    return Candidates(
        before.traits,
        join(before.rows, fresh.rows),
        join(before.records, fresh.records),
        join(before.scores, fresh.scores),
        {kind: join(one, fresh.levels[kind]) for kind, one in before.levels.items()},
        {kind: join(one, fresh.parts[kind]) for kind, one in before.parts.items()},
        asked,
        before.trail.after(rows),
    )


def find_knot(
    found: Candidates, rows: NDArray[np.intp], records: NDArray[np.int64]
) -> tuple[NDArray[np.intp], NDArray[np.int64]] | None:
    """Find the rows that contend with some rows for records, directly or through others; None where
    they are many.

    Args:
        found: The candidates.
        rows: To begin with, rising.
        records: To begin with, rising: what the rows may be or might have been; -1 counts for
            nothing.

    Returns:
        The rows and the records of the knot, rising.
    """
    records = records[records >= 0]
    strong = found.scores > LEAST
    while len(rows) <= LARGEST_KNOT:
        wanted = np.zeros(int(max(found.records.max(initial=0), records.max(initial=0))) + 1, bool)
        wanted[records] = True
        near = union((rows, found.rows[strong & wanted[found.records]]))
        pairs = found.pairs_of(near)
        more = np.union1d(records, found.records[pairs[strong[pairs]]])
        if len(near) == len(rows) and len(more) == len(records):
            return rows, records
        rows, records = near, more
    return None


def merge_likely(before: Likely, found: Candidates, part: Likely, rows: NDArray[np.intp]) -> Likely:
    """Put what was decided anew of some rows in the place of what was decided of them before.

    Args:
        before: What was decided of all.
        found: The candidates as they are now.
        part: What was decided anew.
        rows: Of whose rivals that says all.
    """
    had = np.minimum(
        np.searchsorted(before.found.asked, found.asked), max(len(before.found.asked) - 1, 0)
    )
    at = np.searchsorted(found.asked, part.found.asked)

    def put(one: NDArray[Any], other: NDArray[Any]) -> NDArray[Any]:
        made = one[had] if len(one) else np.zeros(len(found.asked), other.dtype)
        made[at] = other
        return made

    again = set(rows.tolist())
    rivals = {row: others for row, others in before.rivals.items() if row not in again}
    decision, record, score = (
        put(before.decision, part.decision),
        put(before.record, part.record),
        put(before.score, part.score),
    )
    return Likely(found, decision, record, score, rivals | dict(part.rivals))


class _Pairs:
    """Pairs of rows and records that are worth comparing, with their levels of agreement; rows are
    places in `within`.

    Args:
        definition: Says which fields are about the person.
        ours: The rows' values by field.
        theirs: The records' sides by kind.
        within: The rows that are looked at; only these are brought to their forms.
        asked: How many of them to find pairs for, from the first.
        apart: Pairs of a row's own number and a record that somebody said are two people.
        alone: Whether each row is looked for as if it were the only one.
        itself: Whether the rows are the records.
    """

    def __init__(
        self,
        definition: Definition,
        ours: Mapping[str, Column],
        theirs: Sides,
        within: NDArray[np.intp],
        asked: int,
        apart: frozenset[tuple[int, int]],
        *,
        alone: bool = False,
        itself: bool = False,
    ) -> None:
        traits = theirs.traits
        self.forms = forms_of(
            traits, {name: column.take(within) for name, column in ours.items()}, theirs
        )
        self.traits = tuple(one for one in traits if one.kind in self.forms)
        self.records_there = max((len(one.codes) for one in theirs.values()), default=0)
        rows, records = find_candidates(
            self.forms, np.arange(asked), kept=theirs.keys_of, alone=alone
        )
        if itself:
            rows, records = rows[rows != records], records[rows != records]
        if apart:
            mine = within[rows].tolist()
            kept = np.array(
                [pair not in apart for pair in zip(mine, records.tolist(), strict=True)], bool
            )
            rows, records = rows[kept], records[kept]
        self.rows, self.records = rows, records
        self.levels = level_pairs(self.forms, rows, records)
        # nothing tells the people of one household apart
        self.doubtful = ~_tells(self.levels, np.arange(len(rows)))

    def weigh(self, weights: Weights) -> tuple[dict[str, NDArray[np.float32]], NDArray[np.float64]]:
        """Weigh the evidence by kind, and all together, in bits."""
        parts = weigh_pairs(weights, self.forms, self.levels, self.rows)
        bits = np.zeros(len(self.rows))
        for one in parts.values():
            bits += one
        bits[_are_two(self.levels, self._generations(), self._in_two_scripts())] = -60
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
        apart = (
            (one > 0)
            & (other > 0)
            & (np.abs(one - other) >= GENERATION)
            & ((birth == 0) | (birth == ONE_PART))
        )
        some = np.flatnonzero(apart & (birth == ONE_PART))
        first, second = ((years[some, None] // 10 ** np.arange(4)) % 10 for years in (one, other))
        apart[some] = (first != second).sum(axis=1) > 1
        return np.asarray(apart)

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
            {kind: one[kept] for kind, one in self.levels.items()},
            {kind: one[kept] for kind, one in parts.items()},
            asked,
        )


def settle_likely(
    found: Candidates,
    limits: Limits | None = None,
    *,
    without: NDArray[np.intp] | None = None,
    taken: Mapping[int, int] | None = None,
) -> Likely:
    """Settle what can be settled without a person.

    Args:
        found: The candidates.
        limits: From which scores on.
        without: Rows that are decided otherwise, or aside: they claim nothing.
        taken: Records that other rows are known to be, each with such a row.

    Returns:
        The decisions. No record is certain for two rows, nor for a row whose given name or day of
        birth differs from it.
    """
    limits = limits or Limits()
    taken = taken or {}
    asked = found.asked
    claims = (
        np.flatnonzero(~np.isin(found.rows, without))
        if without is not None and len(without)
        else np.arange(len(found.rows))
    )
    rows, records, scores = found.rows[claims], found.records[claims], found.scores[claims]
    place = np.searchsorted(asked, rows)
    total = np.bincount(place, weights=scores, minlength=len(asked))
    score = np.zeros(len(asked))
    np.maximum.at(score, place, scores)
    decision = np.where(total <= limits.nobody, NOBODY, POSSIBLE).astype(np.int8)
    record = np.full(len(asked), -1, np.int64)
    rivals = _rivals(rows, records, scores, taken)
    chosen = _assign(rows, records, scores)
    fine = [
        pair
        for pair in chosen[
            (scores[chosen] >= limits.certain) & _tells(found.levels, claims[chosen])
        ].tolist()
        if int(rows[pair]) not in rivals
    ]
    decision[place[fine]] = CERTAIN
    record[place[fine]] = records[fine]
    return Likely(found, decision, record, score, rivals)


def _are_two(
    levels: Mapping[str, NDArray[np.int8]],
    generations: NDArray[np.bool_],
    in_two_scripts: NDArray[np.bool_],
) -> NDArray[np.bool_]:
    """Tell which pairs are two people of one household, or of one name.

    Brothers, sisters and twins: the given name plainly differs, or it and the day of birth do.
    Parents and children: nothing of the days of birth agrees, and a generation lies between them.
    But nothing may agree that is somebody's own.

    Args:
        levels: Of the pairs, by kind.
        generations: Which pairs' births lie a generation apart.
        in_two_scripts: Whose given names are in other letters than each other: those do not differ
            plainly.
    """
    pairs = len(generations)
    if "given" not in levels:
        return np.zeros(pairs, bool)
    given, birth = levels["given"], levels.get("birth", np.full(pairs, NOTHING, np.int8))
    own = np.zeros(pairs, bool)
    # a mail address made of the name says no more than it
    for kind, least in (("mail", len(LEVELS["mail"]) - 1), ("number", 1)):
        if kind in levels:
            own |= levels[kind] >= least
    apart = (birth == 0) & ((given == 0) | (given == SAME_INITIAL))
    # who has another name altogether and a mail address of theirs has typed it wrongly
    if "family" in levels:
        apart &= ~own | (levels["family"] == 0)
    kin = (birth > 0) | (levels["family"] > 0) if "family" in levels else birth > 0
    siblings = (given == 0) & ~in_two_scripts & ~own & kin
    generation = generations & (given > 0) & ~own
    return np.asarray(apart | siblings | generation)


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


def _tells(levels: Mapping[str, NDArray[np.int8]], pairs: NDArray[np.intp]) -> NDArray[np.bool_]:
    """Tell for which pairs nothing that tells a household's people apart differs, and at least
    one such thing agrees.
    """
    fine = np.ones(len(pairs), bool)
    agrees = np.zeros(len(pairs), bool)
    for kind in TELLING:
        if kind in levels:
            found = levels[kind][pairs]
            fine &= found != 0
            if kind == "given":
                fine &= found != SAME_INITIAL
                # two names that are nearly the same, each with an address of its own: twins are
                # named so
                if "mail" in levels:
                    fine &= ~np.isin(found, SLIPS) | (levels["mail"][pairs] != 0)
            agrees |= found > 0
    own = np.zeros(len(pairs), bool)
    for kind in ("mail", "phone", "street", "postcode"):
        if kind in levels:
            own |= levels[kind][pairs] == len(LEVELS[kind]) - 1
    for kind in ("mail", "phone"):
        if kind in levels:
            agrees |= levels[kind][pairs] == len(LEVELS[kind]) - 1
    if "number" in levels:
        own |= levels["number"][pairs] > 0
    # another family name is believed only where given name, day of birth and something else agree
    if "family" in levels:
        rest = [levels[kind][pairs] > 0 for kind in TELLING if kind in levels]
        fine &= (levels["family"][pairs] != 0) | (
            (np.all(rest, axis=0) if len(rest) == len(TELLING) else False) & own
        )
    if "birth" in levels:  # so is another day
        birth = levels["birth"][pairs]
        fine &= (birth == NOTHING) | (birth == len(LEVELS["birth"]) - 1) | own
    return np.asarray(fine & agrees)


def _rivals(
    rows: NDArray[np.int64],
    records: NDArray[np.int64],
    scores: NDArray[np.float64],
    taken: Mapping[int, int],
) -> dict[int, tuple[int, ...]]:
    """Find the rows that claim one record, those that are known to be it among them."""
    claims = np.flatnonzero(scores >= RIVAL)
    order = claims[np.argsort(records[claims], kind="stable")]
    found: dict[int, set[int]] = {}
    if not len(order):
        return {}
    starts = np.flatnonzero(
        np.concatenate([[True], records[order][1:] != records[order][:-1]])
    ).tolist()
    for start, stop in zip(starts, [*starts[1:], len(order)], strict=True):
        holder = taken.get(int(records[order[start]]))
        if stop - start > 1 or holder is not None:
            claimants = {int(row) for row in rows[order[start:stop]]} | (
                {holder} if holder is not None else set()
            )
            for row in claimants:
                found.setdefault(row, set()).update(claimants - {row})
    return {row: tuple(sorted(others)) for row, others in found.items()}


def _assign(
    rows: NDArray[np.int64], records: NDArray[np.int64], scores: NDArray[np.float64]
) -> NDArray[np.intp]:
    """Choose pairs so that the scores' sum is greatest and no row or record is in two (Kuhn
    1955, in each knot of rivals).
    """
    pairs = np.flatnonzero(scores > LEAST)
    if not len(pairs):
        return pairs
    row_names, row_places = np.unique(rows[pairs], return_inverse=True)
    record_names, record_places = np.unique(records[pairs], return_inverse=True)
    if len(row_names) == len(record_names) == len(pairs):
        return pairs  # nobody contends with anybody
    size = len(row_names) + len(record_names)
    from scipy.sparse import coo_array  # where nobody contends it is not loaded
    from scipy.sparse.csgraph import connected_components

    graph = coo_array(
        (np.ones(len(pairs)), (row_places, record_places + len(row_names))), shape=(size, size)
    )
    _, component = connected_components(graph, directed=False)
    of_pair = component[row_places]
    order = np.argsort(of_pair, kind="stable")
    starts = np.flatnonzero(np.concatenate([[True], of_pair[order][1:] != of_pair[order][:-1]]))
    stops = np.append(starts[1:], len(order))
    chosen: list[NDArray[np.intp]] = []
    lone = order[starts[stops - starts == 1]]
    for start, stop in zip(
        starts[stops - starts > 1].tolist(), stops[stops - starts > 1].tolist(), strict=True
    ):
        knot = order[start:stop]
        lines, line_of = np.unique(row_places[knot], return_inverse=True)
        columns, column_of = np.unique(record_places[knot], return_inverse=True)
        if len(lines) * len(columns) > LARGEST_TABLE:
            chosen.append(_greedy(knot, row_places, record_places, scores[pairs]))
            continue
        gain = np.zeros((len(lines), len(columns)))
        number = np.full((len(lines), len(columns)), -1, np.intp)
        gain[line_of, column_of] = scores[pairs[knot]]
        number[line_of, column_of] = knot
        found = number[assign(gain)]
        chosen.append(found[found >= 0])
    return np.sort(pairs[np.concatenate([lone, *chosen])])


def _greedy(
    knot: NDArray[np.intp],
    rows: NDArray[np.intp],
    records: NDArray[np.intp],
    scores: NDArray[np.float64],
) -> NDArray[np.intp]:
    taken_rows: set[int] = set()
    taken_records: set[int] = set()
    found = []
    for pair in knot[np.argsort(-scores[knot], kind="stable")].tolist():
        if int(rows[pair]) not in taken_rows and int(records[pair]) not in taken_records:
            taken_rows.add(int(rows[pair]))
            taken_records.add(int(records[pair]))
            found.append(pair)
    return np.array(found, np.intp)
