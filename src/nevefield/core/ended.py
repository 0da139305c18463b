"""Who has ended: people whose last day is over."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot

__all__ = ["ENDED", "find_ended", "last_days"]

ENDED = "~ended"  # in place of a field's name in a filter: no field has such a name


def last_days(definition: Definition) -> tuple[str, ...]:
    """List the fields that say somebody's last day: those of the check `ended`; without it, the
    last of days in order.
    """
    messages = [
        name for check in definition.checks if check.check == "ended" for name in check.fields
    ]
    if not messages:
        orders = [check.fields for check in definition.checks if check.check == "order"]
        messages = [
            names[-1]
            for names in orders
            if all(definition.by_name[name].type == "date" for name in names)
        ]
    return tuple(dict.fromkeys(messages))


def find_ended(snapshot: Snapshot, today: date) -> NDArray[np.bool_]:
    """Tell which records have ended before a day; days as stored are ISO 8601, which sorts as it
    counts.
    """
    ended = np.zeros(len(snapshot), bool)
    for name in last_days(snapshot.definition):
        column = snapshot.columns[name]
        over = [text[:10] < today.isoformat() for text in column.texts()]
        ended |= np.array([*over, False], bool)[column.codes]
    return ended
