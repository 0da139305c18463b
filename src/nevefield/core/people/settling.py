"""Settle who rows are, from how likely each record is: nobody is given away twice, and what tells
people of one household apart settles nothing by itself.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.assigning import assign
from nevefield.core.borders import Array
from nevefield.core.edits.trail import union
from nevefield.core.people.households import tells
from nevefield.core.people.matching import LEAST, Candidates

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

__all__ = [
    "CERTAIN",
    "NOBODY",
    "POSSIBLE",
    "Likely",
    "Limits",
    "find_knot",
    "merge_likely",
    "settle_likely",
]


NOBODY = 0
POSSIBLE = 1
CERTAIN = 2
RIVAL = 10.0  # a score from which on a second row is said to claim the same record
LARGEST_KNOT = 2_000  # rows that are settled apart from the others
# cells of one assignment; a larger knot of rows and records is settled greedily
LARGEST_TABLE = 4_000_000


@dataclass(frozen=True)
class Limits:
    """From which score on a row is settled without a person, 0 to 100."""

    certain: float = 98.0  # at least: it is that record
    nobody: float = 4.0  # at most, of all candidates together: it is nobody in the roster


@dataclass(frozen=True)
class Likely:
    """What was decided of rows without a known record."""

    found: Candidates
    decision: NDArray[np.int8]  # of each row asked
    record: NDArray[np.int64]  # of each: the certain record, -1
    score: NDArray[np.float64]  # of each: of the certain record, or of the likeliest, 0 to 100
    # row -> rows that claim its likeliest record as well
    rivals: Mapping[int, tuple[int, ...]] = field(default_factory=dict)


def find_knot(
    candidates: Candidates, rows: NDArray[np.intp], records: NDArray[np.int64]
) -> tuple[NDArray[np.intp], NDArray[np.int64]] | None:
    """Find the rows that contend with some rows for records, directly or through others; None where
    they are many.

    Args:
        candidates: The candidates.
        rows: To begin with, rising.
        records: To begin with, rising: what the rows may be or might have been; -1 counts for
            nothing.

    Returns:
        The rows and the records of the knot, rising.
    """
    records = records[records >= 0]
    strong = candidates.scores > LEAST
    while len(rows) <= LARGEST_KNOT:
        wanted = np.zeros(
            int(max(candidates.records.max(initial=0), records.max(initial=0))) + 1, bool
        )
        wanted[records] = True
        near = union((rows, candidates.rows[strong & wanted[candidates.records]]))
        pairs = candidates.pairs_of(near)
        more = np.union1d(records, candidates.records[pairs[strong[pairs]]])
        if len(near) == len(rows) and len(more) == len(records):
            return rows, records
        rows, records = near, more
    return None


def merge_likely(
    before: Likely, candidates: Candidates, part: Likely, rows: NDArray[np.intp]
) -> Likely:
    """Put what was decided anew of some rows in the place of what was decided of them before.

    Args:
        before: What was decided of all.
        candidates: The candidates as they are now.
        part: What was decided anew.
        rows: Of whose rivals that says all.
    """
    had = np.minimum(
        np.searchsorted(before.found.asked, candidates.asked), max(len(before.found.asked) - 1, 0)
    )
    at = np.searchsorted(candidates.asked, part.found.asked)

    def put(values: Array, other: Array) -> Array:
        made = values[had] if len(values) else np.zeros(len(candidates.asked), other.dtype)
        made[at] = other
        return made

    again = set(rows.tolist())
    rivals = {row: others for row, others in before.rivals.items() if row not in again}
    decision, record, score = (
        put(before.decision, part.decision),
        put(before.record, part.record),
        put(before.score, part.score),
    )
    return Likely(candidates, decision, record, score, rivals | dict(part.rivals))


def settle_likely(
    candidates: Candidates,
    limits: Limits | None = None,
    *,
    without: NDArray[np.intp] | None = None,
    taken: Mapping[int, int] | None = None,
) -> Likely:
    """Settle what can be settled without a person.

    Args:
        candidates: The candidates.
        limits: From which scores on.
        without: Rows that are decided otherwise, or aside: they claim nothing.
        taken: Records that other rows are known to be, each with such a row.

    Returns:
        The decisions. No record is certain for two rows, nor for a row whose given name or day of
        birth differs from it.
    """
    limits = limits or Limits()
    taken = taken or {}
    asked = candidates.asked
    claims = (
        np.flatnonzero(~np.isin(candidates.rows, without))
        if without is not None and len(without)
        else np.arange(len(candidates.rows))
    )
    rows, records, scores = (
        candidates.rows[claims],
        candidates.records[claims],
        candidates.scores[claims],
    )
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
            (scores[chosen] >= limits.certain) & tells(candidates.levels, claims[chosen])
        ].tolist()
        if int(rows[pair]) not in rivals
    ]
    decision[place[fine]] = CERTAIN
    record[place[fine]] = records[fine]
    return Likely(candidates, decision, record, score, rivals)


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
