"""What was worked out before and need not be again: an evaluation after one more step takes over what that does not touch.

Only speed hangs on it: a part is taken over when everything that it was made of is the very same, else it is made anew.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable

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
        self._parts: dict[Any, tuple[tuple[Any, ...], Any]] = {}

    def get(self, name: Any, of: tuple[Any, ...], make: Callable[[], Any]) -> Any:
        """Take a part over, or make it.

        Args:
            name: Of the part.
            of: What it is made of: large things must be the very same objects, small ones equal.
            make: Makes it.
        """
        known = self._before.get(name)
        if known is not None and len(known[0]) == len(of) and all(map(_is_same, known[0], of)):
            made = known[1]
        else:
            made = make()
        self._parts[name] = (of, made)
        return made

    def keep(self, name: Any, of: tuple[Any, ...], make: Callable[[], Any], is_same: Callable[[Any, Any], bool]) -> Any:
        """Take a part over, or make it; made anew and no other than before, the part before is kept, and what rests on it.

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

    def made(self, name: Any) -> Any:
        """Return a part that this evaluation has made or taken over; None when there is none."""
        known = self._parts.get(name)
        return None if known is None else known[1]

    def last(self, name: Any) -> tuple[tuple[Any, ...], Any] | None:
        """Return a part of the evaluation before with what it was made of, whether or not it still holds."""
        return self._before.get(name)

    def forget(self) -> None:
        """Let go of the evaluation before; of its parts only those stay that nobody asked for this time: they may hold again."""
        self._parts = {**self._before, **self._parts}
        self._before = {}


def _is_same(one: Any, other: Any) -> bool:
    return one is other or (isinstance(one, _SMALL) and one == other)
