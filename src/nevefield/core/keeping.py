"""What an evaluation leaves behind when it is applied: its moment, see `applied`, and yeses that
last, see `checking.waiving`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.applied import ranges_of
from nevefield.core.borders import Json
from nevefield.core.changes.leaving import HOLD, STAY
from nevefield.core.checking.waiving import Waiver, digest_asked, fields_asked, is_lasting
from nevefield.core.people.recognising import ASKED
from nevefield.core.table import rows_at
from nevefield.core.tally import LEFT_OUT, OUTCOMES, SAME, STOPPED, WAITING

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.evaluate import Evaluation

__all__ = ["keep_moment", "list_waivers"]


def keep_moment(evaluation: Evaluation) -> dict[str, Json]:
    """Say what an evaluation that is applied now leaves behind: the parts of an `AppliedStep`
    but for the change set's.
    """
    lines, outcomes = evaluation.table.lines, evaluation.outcomes
    fresh = ~evaluation.is_in
    people = evaluation.facts.people
    asked = (
        (people.decision == ASKED) & ~evaluation.facts.aside
        if people is not None
        else np.zeros(len(lines), bool)
    )
    absences = evaluation.absences
    stay = absences.records[(absences.acts == STAY) | (absences.acts == HOLD)]
    went_in = {
        name: ranges_of(lines[(outcomes == number) & fresh])
        for number, name in enumerate(OUTCOMES[: SAME + 1])
    }
    return {
        "went_in": {name: ranges for name, ranges in went_in.items() if ranges},
        "open": [
            {"fields": sorted(fields), "lines": ranges_of(lines[rows])}
            for fields, rows in _stay_open(evaluation).items()
        ],
        "asked": ranges_of(lines[asked]),
        "passed": ranges_of(lines[_went_aside(evaluation)]),
        "absent": evaluation.tally.absent,
        "left": ranges_of(np.sort(evaluation.snapshot.ids[stay])),
        "scale": (
            people.scale.to_numbers() if people is not None and people.scale is not None else None
        ),
    }


def _went_aside(evaluation: Evaluation) -> NDArray[np.bool_]:
    """Tell which rows are left out though nobody left them out by hand."""
    by_hand = np.zeros(len(evaluation.table), bool)
    by_hand[rows_at(evaluation.table.lines, evaluation.decisions.left_out)] = True
    return np.asarray((evaluation.outcomes == LEFT_OUT) & ~by_hand)


def _stay_open(evaluation: Evaluation) -> dict[frozenset[str], list[int]]:
    """Order the rows that wait or are stopped by the fields of what stands in their way."""
    fields_of = {
        cause.id: frozenset(filter(None, (cause.hit.field, *cause.hit.fields)))
        for cause in evaluation.causes
    }
    of_row: dict[int, frozenset[str]] = {}
    for cause in evaluation.causes:
        if cause.hit.weight == "note":
            continue
        named = fields_of[cause.id].union(
            *(fields_of.get(follow, frozenset()) for follow in cause.follows)
        )
        for row in cause.open_rows.tolist():
            of_row[row] = of_row.get(row, frozenset()) | named
    waits = (evaluation.outcomes == WAITING) | (evaluation.outcomes == STOPPED)
    found: dict[frozenset[str], list[int]] = {}
    for row in np.flatnonzero(waits).tolist():
        found.setdefault(of_row.get(row, frozenset()), []).append(row)
    return found


def list_waivers(evaluation: Evaluation) -> list[Waiver]:
    """List the yeses that last, of the rows that would go in now: those that were said of them
    here.
    """
    decisions, facts = evaluation.decisions, evaluation.facts
    waivers = []
    for cause in evaluation.causes if decisions.waivers else ():
        hit = cause.hit
        if not is_lasting(hit):
            continue
        for row in hit.rows[evaluation.going[hit.rows]].tolist():
            line = int(facts.lines[row])
            reason = decisions.waivers.get((hit.check, hit.field, line))
            if reason is None:
                continue
            until = decisions.waived_until.get((hit.check, hit.field, line))
            values = {name: facts.stored(name).at(row) for name in fields_asked(hit)}
            digest = digest_asked(hit, facts, row)
            waivers.append(
                Waiver(
                    row, line, hit.check, str(hit.field), digest, hit.title, values, reason, until
                )
            )
    return waivers
