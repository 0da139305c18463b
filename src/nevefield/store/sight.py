"""What whoever a connection is for may see: decided once, where rows are read.

A roster that may not be seen is not there, and neither is anything that belongs to it; whoever asks
for it by its number is told what is told of a number that nothing has. Kept fields of a roster that
may only be looked at are covered when its records are loaded (`rosters.snapshots`). What the
product itself must know to be right, such as who is who, it reads through `whole`.

Who has a part of a roster sees the records in it, and of what was made of the roster (intakes,
receipts, proposals, shortlists, sources) what was made within that very part; what is about all of
the roster is not there for them. That holds through `whole` too, so that nothing that is found in
what is kept from somebody is found outside of their part.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import IntEnum
from typing import TYPE_CHECKING, Protocol, TypeVar

from nevefield.core.borders import Json

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = ["ALL", "Level", "Part", "Sight", "only_seen"]


class Level(IntEnum):
    """What somebody may do; each level includes those below it."""

    NONE = 0
    LOOK = 1
    PREPARE = 2
    APPROVE = 3
    ADMINISTER = 4


@dataclass(frozen=True)
class Part:
    """A part of a roster: the records for which a condition holds."""

    id: int
    when: Json  # the condition, see `core.conditions`


@dataclass(frozen=True)
class Sight:
    """The levels of whoever a connection is for."""

    everywhere: Level
    # where it is another than everywhere
    rosters: Mapping[int, Level] = field(default_factory=dict)
    # from where they ask, for the trail; "" of what the product does by itself
    address: str = field(default="", compare=False)
    # of which rosters a part may be seen alone
    parts: Mapping[int, Part] = field(default_factory=dict)
    # of which rosters sensitive fields are uncovered for a while
    uncovered: frozenset[int] = frozenset()

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

    def part_id(self, roster_id: int) -> int | None:
        """Tell the number of the part of a roster that alone may be seen; None for all of it."""
        part = self.parts.get(roster_id)
        return None if part is None else part.id

    def shows(self, roster_id: int, part_id: int | None) -> bool:
        """Tell whether what was made within a part of a roster may be seen; None: of all of it."""
        return self.sees(roster_id) and (
            roster_id not in self.parts or self.parts[roster_id].id == part_id
        )

    def where(self, roster: str, part: str) -> tuple[str, list[int]]:
        """Give the same as a condition, with its values: for what is counted or cut off.

        Args:
            roster: The column with the roster's number.
            part: What gives the part's number; "NULL" for what is always about all of a roster.
        """
        condition, values = "TRUE", []
        if self.everywhere < Level.LOOK:
            values = [number for number, level in self.rosters.items() if level >= Level.LOOK]
            condition = f"{roster} IN ({', '.join(['%s'] * len(values))})" if values else "FALSE"
        for roster_id, one in self.parts.items():
            condition += f" AND ({roster} <> %s OR {part} <=> %s)"
            values += [roster_id, one.id]
        return f"({condition})", values

    def covers(self, roster_id: int) -> bool:
        """Tell whether the kept fields of a roster are covered: it may be looked at and no more,
        and they are not uncovered for a task.
        """
        return self.level(roster_id) < Level.PREPARE and roster_id not in self.uncovered


ALL = Sight(Level.ADMINISTER)


class _OfRoster(Protocol):
    @property
    def roster_id(self) -> int: ...

    @property
    def part_id(self) -> int | None: ...


Found = TypeVar("Found", bound=_OfRoster)


def only_seen(sight: Sight, found: Found | None) -> Found | None:
    """Give what was found, unless its roster, or the part of it that it is of, may not be seen."""
    seen = found is not None and sight.shows(found.roster_id, found.part_id)
    return found if seen else None
