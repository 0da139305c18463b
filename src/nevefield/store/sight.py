"""What whoever a connection is for may see: decided once, where rows are read.

A roster that may not be seen is not there, and neither is anything that belongs to it; whoever asks
for it by its number is told what is told of a number that nothing has. Kept fields of a roster that
may only be looked at are covered when its records are loaded (`rosters.snapshots`). What the
product itself must know to be right, such as who is who, it reads through `whole`.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import IntEnum
from typing import TYPE_CHECKING, Protocol, TypeVar

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = ["ALL", "Level", "Sight", "only_seen"]


class Level(IntEnum):
    """What somebody may do; each level includes those below it."""

    NONE = 0
    LOOK = 1
    PREPARE = 2
    APPROVE = 3
    ADMINISTER = 4


@dataclass(frozen=True)
class Sight:
    """The levels of whoever a connection is for."""

    everywhere: Level
    # where it is another than everywhere
    rosters: Mapping[int, Level] = field(default_factory=dict)
    # from where they ask, for the trail; "" of what the product does by itself
    address: str = field(default="", compare=False)

    @property
    def highest(self) -> Level:
        """The highest level anywhere."""
        return max(self.everywhere, *self.rosters.values(), Level.NONE)

    def level(self, roster_id: int) -> Level:
        """Tell the level in a roster."""
        return max(self.everywhere, self.rosters.get(roster_id, Level.NONE))

    def sees(self, roster_id: int) -> bool:
        """Tell whether a roster is there."""
        return self.level(roster_id) >= Level.LOOK

    def where(self, column: str) -> tuple[str, list[int]]:
        """Give the same as a condition on a column with rosters' numbers, with its values: for
        what is counted or cut off.
        """
        if self.everywhere >= Level.LOOK:
            return "TRUE", []
        seen = [number for number, level in self.rosters.items() if level >= Level.LOOK]
        return (f"{column} IN ({', '.join(['%s'] * len(seen))})", seen) if seen else ("FALSE", [])

    def covers(self, roster_id: int) -> bool:
        """Tell whether the kept fields of a roster are covered: it may be looked at, and no
        more.
        """
        return self.level(roster_id) < Level.PREPARE


ALL = Sight(Level.ADMINISTER)


class _OfRoster(Protocol):
    @property
    def roster_id(self) -> int: ...


Found = TypeVar("Found", bound=_OfRoster)


def only_seen(sight: Sight, found: Found | None) -> Found | None:
    """Give what was found, unless its roster may not be seen."""
    return found if found is not None and sight.sees(found.roster_id) else None
