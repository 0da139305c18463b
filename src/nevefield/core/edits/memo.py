"""What was worked out before and need not be again: an evaluation after one more step takes over
what that does not touch.

Only speed hangs on it: a part is taken over when everything that it was made of is the very same,
else it is made anew.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.beside import at_once
from nevefield.core.borders import Keys, Premises
from nevefield.core.edits import limits
from nevefield.core.edits.trail import NO_ROWS, union

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    import numpy as np
    from numpy.typing import NDArray

    Again = Callable[[Keys, NDArray[np.intp], Premises], Keys]

__all__ = ["Memo"]

_SMALL = (str, int, tuple, frozenset, dict, type(None))


class Memo:
    """The parts of one evaluation, each with what it was made of.

    Args:
        before: The memo of an earlier evaluation, whose parts may be taken over.

    >>> first = Memo()
    >>> first.get("sum", (1, 2), lambda: 3)
    3
    >>> second = Memo(first)
    >>> second.get("sum", (1, 2), lambda: 99), second.get("sum", (1, 3), lambda: 4)
    (3, 4)
    """

    def __init__(self, before: Memo | None = None) -> None:
        self._before = before._parts if before else {}
        self._parts: dict[Keys, tuple[Premises, Keys]] = {}

    def get(self, name: Keys, of: Premises, make: Callable[[], Keys]) -> Keys:
        """Take a part over, or make it.

        Args:
            name: Of the part.
            of: What it is made of: large things must be the very same objects, small ones equal.
            make: Makes it.
        """
        known = self._known(name, of)
        made = known[1] if known is not None else make()
        self._parts[name] = (of, made)
        return made

    def get_all(
        self, parts: Mapping[Keys, tuple[Premises, Callable[[], Keys]]]
    ) -> dict[Keys, Keys]:
        """Take parts over, or make them beside each other.

        Args:
            parts: By name what each is made of, and what makes it; none rests on another.
        """
        known = {name: self._known(name, of) for name, (of, _) in parts.items()}
        fresh = [name for name, one in known.items() if one is None]
        made = dict(zip(fresh, at_once([parts[name][1] for name in fresh]), strict=True))
        found = {name: made[name] if one is None else one[1] for name, one in known.items()}
        self._parts |= {name: (parts[name][0], one) for name, one in found.items()}
        return found

    def _known(self, name: Keys, of: Premises) -> tuple[Premises, Keys] | None:
        for parts in (self._parts, self._before):
            known = parts.get(name)
            if known is not None and len(known[0]) == len(of) and all(map(_is_same, known[0], of)):
                return known
        return None

    def keep(
        self,
        name: Keys,
        of: Premises,
        make: Callable[[], Keys],
        is_same: Callable[[Keys, Keys], bool],
    ) -> Keys:
        """Take a part over, or make it; made anew and no other than before, the part before is
        kept, and what rests on it.

        Args:
            name: Of the part.
            of: What it is made of.
            make: Makes it.
            is_same: Tells whether two such parts say the same.
        """
        made = self.get(name, of, make)
        before = self._before.get(name)
        if before is not None and before[1] is not made and is_same(before[1], made):
            made = before[1]
            self._parts[name] = (of, made)
        return made

    def mend(self, name: Keys, of: Premises, make: Callable[[], Keys], again: Again) -> Keys:
        """Take a part over, make it anew in the few rows in which something that it is made of was
        edited, or make it whole.

        Args:
            name: Of the part.
            of: What it is made of; of what has a `since` it is asked in which rows it may differ
                from before.
            make: Makes it whole.
            again: Makes it of the part before, the rows, rising, and what that part was made of;
                never alters that part.
        """
        made = self._parts.get(name)
        if made is not None and len(made[0]) == len(of) and all(map(_is_same, made[0], of)):
            return made[1]  # another part asked for it already
        known = self._before.get(name)
        rows = _edited(known[0], of) if known is not None else None
        if known is None or rows is None or len(rows) > limits.ROWS:
            made = make()
        else:
            made = again(known[1], rows, known[0]) if len(rows) else known[1]
        self._parts[name] = (of, made)
        return made

    def made(self, name: Keys) -> Keys:
        """Return a part that this evaluation has made or taken over; None when there is none."""
        known = self._parts.get(name)
        return None if known is None else known[1]

    def last(self, name: Keys) -> tuple[Premises, Keys] | None:
        """Return a part of the evaluation before with what it was made of, whether or not it
        still holds.
        """
        return self._before.get(name)

    def forget(self) -> None:
        """Let go of the evaluation before; of its parts only those stay that nobody asked for
        this time: they may hold again.
        """
        self._parts = {**self._before, **self._parts}
        self._before = {}


def _edited(before: Premises, now: Premises) -> NDArray[np.intp] | None:
    """List the rows in which what a part is made of may differ from before; None where it
    differs as a whole.
    """
    if len(before) != len(now):
        return None
    found = []
    for one, other in zip(before, now, strict=True):
        if one is other or _is_same(one, other):
            continue
        rows = other.since(one) if type(one) is type(other) and hasattr(other, "since") else None
        if rows is None:
            return None
        if len(rows):
            found.append(rows)
    return union(found) if found else NO_ROWS


def _is_same(keys: Keys, other: Keys) -> bool:
    return keys is other or (isinstance(keys, _SMALL) and keys == other)
