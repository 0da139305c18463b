"""Checks of rows after an edit: run anew for its rows alone, and put in the place of what was
found there before.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from nevefield.core.borders import Keys, Premises
from nevefield.core.checking.facts import Hit
from nevefield.core.edits.trail import NO_ROWS, put_in

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    import numpy as np
    from numpy.typing import NDArray

    from nevefield.core.checking.facts import Facts

__all__ = ["mend_hits"]


def mend_hits(
    facts: Facts,
    name: Keys,
    of: Premises,
    check: Callable[[Facts], list[Hit]],
    reads: Sequence[str],
) -> list[Hit]:
    """Run a check that looks at each row by itself; where few rows were edited, for these alone.

    Args:
        facts: What the check looks at.
        name: Of what it finds, in the memo.
        of: What that is made of.
        check: The check; what it says of a row hangs on nothing but the row, and so does which
            cause it belongs to.
        reads: The fields that it looks at.
    """

    def again(before: list[Hit], rows: NDArray[np.intp], _: Premises) -> list[Hit]:
        return _put_in(before, rows, check(facts.few(rows, reads)))

    hits: list[Hit] = facts.memo.mend(name, of, lambda: check(facts), again)
    return hits


def _put_in(before: list[Hit], rows: NDArray[np.intp], few: list[Hit]) -> list[Hit]:
    """Put what was found in a few rows in the place of what was found there before; a hit's rows
    are places among the few.
    """
    fresh = {(hit.check, hit.field, hit.group): hit for hit in few}
    hits = []
    for hit in before:
        other = fresh.pop((hit.check, hit.field, hit.group), None)
        there = put_in(hit.rows, rows, rows[other.rows] if other is not None else NO_ROWS)
        if len(there):
            same = there is hit.rows and other is None
            hits.append(hit if same else replace(hit, rows=there, message=_say(hit, rows, other)))
    return hits + [
        replace(hit, rows=rows[hit.rows], message=_say(None, rows, hit)) for hit in fresh.values()
    ]


def _say(hit: Hit | None, rows: NDArray[np.intp], few: Hit | None) -> str | Callable[[int], str]:
    if few is None or isinstance(few.message, str):
        return few.message if few is not None else hit.message if hit is not None else ""
    known = hit.message.few if hit is not None and isinstance(hit.message, _Told) else {}
    base = (
        hit.message.base
        if hit is not None and isinstance(hit.message, _Told)
        else hit.message
        if hit is not None
        else ""
    )
    return _Told(
        base, {**known, **{int(rows[place]): (few.message, place) for place in few.rows.tolist()}}
    )


class _Told:
    """The message of a hit of which some rows were found anew.

    Args:
        base: The message of the others.
        few: By row, the message and its own place there.
    """

    def __init__(
        self, base: str | Callable[[int], str], few: Mapping[int, tuple[Callable[[int], str], int]]
    ) -> None:
        self.base, self.few = base, few

    def __call__(self, row: int) -> str:
        if row in self.few:
            say, place = self.few[row]
            return say(place)
        return self.base(row) if callable(self.base) else self.base
