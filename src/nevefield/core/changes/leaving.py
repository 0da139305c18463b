"""What becomes of the absent: nothing, unless somebody says that they leave, end on a day, or
are held for a look.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.people.keys import Known
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.steps import Decisions
    from nevefield.core.steps.kinds import AbsentStep

__all__ = ["ACTS", "HOLD", "STAY", "Absences", "settle_absent"]

ACTS = ("stay", "leave", "end", "hold")
STAY, LEAVE, END, HOLD = range(len(ACTS))


@dataclass(frozen=True)
class Absences:
    """What becomes of each absent record."""

    records: NDArray[np.intp]  # index into the snapshot, in its order
    acts: NDArray[np.int8]  # of each, into ACTS; a record that has ended by the day already stays
    # by record: what was said of it; absent ones of whom nothing was said are not there
    said: Mapping[int, AbsentStep]
    # that end though they are not absent
    beside: NDArray[np.intp] = field(default_factory=lambda: np.zeros(0, np.intp))

    def of(self, act: int) -> NDArray[np.intp]:
        """List the records of which an act was said; those that end beside the absent too."""
        found = np.asarray(self.records[self.acts == act])
        return (
            np.union1d(found, self.beside).astype(np.intp)
            if act == END and len(self.beside)
            else found
        )

    @property
    def altered(self) -> int:
        """How many records leave or end."""
        return int(((self.acts == LEAVE) | (self.acts == END)).sum()) + len(self.beside)

    def counts(self) -> dict[str, int]:
        """Count the absent by what becomes of them."""
        found = np.bincount(self.acts, minlength=len(ACTS)).tolist()
        return dict(zip(ACTS, found, strict=True))


def settle_absent(
    absent: NDArray[np.intp], known: Known, decisions: Decisions, snapshot: Snapshot
) -> Absences:
    """Settle what becomes of the absent.

    Args:
        absent: The absent records.
        known: Which record each row is.
        decisions: What was said of all of them, and of some.
        snapshot: The roster as it stands.
    """
    acts = np.zeros(len(absent), np.int8)
    said: dict[int, AbsentStep] = {}
    beside = _end_beside(absent, known, decisions, snapshot, said)
    if decisions.absent is None and not decisions.absent_of:
        return Absences(absent, acts, said, beside)
    for place, record in enumerate(absent.tolist()):
        step = decisions.absent_of.get(int(snapshot.ids[record]), decisions.absent)
        if step is None:
            continue
        said[record] = step
        # Days of the roster are ISO 8601, which sorts as it counts: who has ended by then is not
        # made to last longer.
        if step.act == "end" and step.field not in snapshot.columns:
            continue  # the roster's definition has the field no more
        has_ended = (
            step.act == "end" and (snapshot.columns[step.field].at(record) or "9") <= step.day
        )
        acts[place] = STAY if has_ended else ACTS.index(step.act)
    return Absences(absent, acts, said, beside)


def _end_beside(
    absent: NDArray[np.intp],
    known: Known,
    decisions: Decisions,
    snapshot: Snapshot,
    said: dict[int, AbsentStep],
) -> NDArray[np.intp]:
    """List the records that were said to end because others take their place, and note that of
    each in `said`.
    """
    numbers: list[int] = []
    if not decisions.end_beside:
        return np.zeros(0, np.intp)
    places = snapshot.places()
    taken = {*absent.tolist(), *known.record.tolist()}
    for number, step in decisions.end_beside.items():
        record = places.get(number)
        if record is None or record in taken or step.field not in snapshot.columns:
            continue
        # who has ended by then is not made to last longer
        if (snapshot.columns[step.field].at(record) or "9") > step.day:
            said[record] = step
            numbers.append(record)
    return np.array(sorted(numbers), np.intp)
