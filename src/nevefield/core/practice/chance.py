"""What is asked of a source of chance: the caller brings one, as Python's `random.Random` is."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol, TypeVar

if TYPE_CHECKING:
    from collections.abc import MutableSequence, Sequence

__all__ = ["Chance"]

Value = TypeVar("Value")


class Chance(Protocol):
    """A source of chance."""

    def random(self) -> float:
        """Give a number from 0 up to 1."""

    def randrange(self, stop: int, /) -> int:
        """Give a whole number from 0 up to another."""

    def choice(self, seq: Sequence[Value], /) -> Value:
        """Choose one."""

    def choices(self, population: Sequence[Value], /, *, k: int) -> list[Value]:
        """Choose some, the same ones again too."""

    def sample(self, population: Sequence[Value], /, k: int) -> list[Value]:
        """Choose some, each once."""

    def shuffle(self, x: MutableSequence[Value], /) -> None:
        """Put some into another order."""
