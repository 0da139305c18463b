"""Where every record stands with a destination, from what it should hold, what it holds, and what
became of sending.

Everybody stands in exactly one place; the places add up to the records of the rosters, and those
who have left them and are still there.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import TYPE_CHECKING, NamedTuple

from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from nevefield.core.passing.outgoing import Content, Fault, Outgoing

__all__ = [
    "END",
    "NOTHING",
    "Act",
    "Cause",
    "Moved",
    "Place",
    "Standing",
    "Told",
    "count_places",
    "find_causes",
    "find_moved",
    "is_too_many",
    "stand",
]

NOTHING: Mapping[str, str] = MappingProxyType({})
END = b"end"  # in place of a digest: that it is switched off was tried
FEW = 3  # so many may always be switched off


class Place(StrEnum):
    """Where a record stands."""

    IN_STEP = "in step"
    TO_SEND = "to send"
    REFUSED = "refused"
    HELD = "held"
    TO_END = "to end"  # it is there, and should not be any more
    NOT_THEIRS = "not theirs"


class Act(StrEnum):
    """What sending does with a record there."""

    NONE = ""
    JOIN = "joins"
    CHANGE = "changes"
    END = "ends"


class Told(NamedTuple):
    """What is known of a record there."""

    is_there: bool  # and switched on
    digest: bytes = b""  # of what it holds; "" when that is not known
    tried: bytes = b""  # digest of what was refused, or `END`
    code: str = ""  # by which it was refused
    problem: str = ""
    is_held: bool = False
    own: Mapping[str, str] = NOTHING


class Standing(NamedTuple):
    """Where a record stands, and what sending would do."""

    record: int
    place: Place
    act: Act = Act.NONE
    code: str = ""  # why it is refused
    problem: str = ""
    at: int = -1  # its place in what goes out; -1: not in it


@dataclass(frozen=True)
class Cause:
    """Refusals that one remedy would settle."""

    code: str
    problem: str
    records: tuple[int, ...]


@dataclass(frozen=True)
class Moved:
    """A field of theirs that changes; `what` is "" for the groups."""

    what: str
    before: tuple[str, ...]
    after: tuple[str, ...]

    @property
    def lost(self) -> tuple[str, ...]:
        """List what is taken away."""
        return tuple(one for one in self.before if one not in self.after)

    @property
    def gained(self) -> tuple[str, ...]:
        """List what is new."""
        return tuple(one for one in self.after if one not in self.before)


def stand(
    outgoing: Outgoing | None, records: Iterable[int], told: Mapping[int, Told]
) -> list[Standing]:
    """Tell where the records of one roster stand.

    Args:
        outgoing: Of the roster; None when nothing of it goes there any more.
        records: Those of the roster as it is.
        told: What is known of records of this roster there, of those that have left too.
    """
    at = {} if outgoing is None else {r: place for place, r in enumerate(outgoing.ids.tolist())}
    found = []
    for record in records:
        place = at.get(record, -1)
        if outgoing is None or place < 0:
            found.append(_stand_unwanted(record, told.get(record)))
        else:
            faults = outgoing.faults.get(place, ())
            digest = outgoing.digests[place]
            found.append(_stand_wanted(record, place, digest, faults, told.get(record)))
    known = {one.record for one in found}
    for record, one in told.items():
        if record not in known and one.is_there:
            found.append(_stand_unwanted(record, one))
    return found


def _stand_wanted(
    record: int, at: int, digest: bytes, faults: Sequence[Fault], told: Told | None
) -> Standing:
    if told is not None and told.is_there and told.digest == digest:
        return Standing(record, Place.IN_STEP, at=at)
    act = Act.CHANGE if told is not None and told.is_there else Act.JOIN
    if told is not None and told.is_held:
        return Standing(record, Place.HELD, act, at=at)
    if faults:
        code = ", ".join(f"{one.kind} {one.to}" for one in faults)
        return Standing(record, Place.REFUSED, act, code, "", at)
    if told is not None and told.tried == digest:
        return Standing(record, Place.REFUSED, act, told.code, told.problem, at)
    return Standing(record, Place.TO_SEND, act, at=at)


def _stand_unwanted(record: int, told: Told | None) -> Standing:
    if told is None or not told.is_there:
        return Standing(record, Place.NOT_THEIRS)
    if told.is_held:
        return Standing(record, Place.HELD, Act.END)
    if told.tried == END:
        return Standing(record, Place.REFUSED, Act.END, told.code, told.problem)
    return Standing(record, Place.TO_END, Act.END)


def count_places(standings: Iterable[Standing]) -> dict[Place, int]:
    """Count them; they add up to the standings."""
    counted = Counter(one.place for one in standings)
    return {place: counted[place] for place in Place}


def find_causes(standings: Iterable[Standing]) -> list[Cause]:
    """Gather refusals by what they are refused for, the most frequent first."""
    found: dict[str, list[Standing]] = {}
    for one in standings:
        if one.place == Place.REFUSED:
            found.setdefault(one.code, []).append(one)
    return sorted(
        (
            Cause(code, members[0].problem, tuple(one.record for one in members))
            for code, members in found.items()
        ),
        key=lambda cause: (-len(cause.records), cause.code),
    )


def find_moved(before: Content | None, after: Content | None) -> list[Moved]:
    """List what sending changes of what is held there, field by field; groups together."""
    old = before.fields if before else {}
    new = after.fields if after else {}
    moved = [
        Moved(name, _values(old.get(name, "")), _values(new.get(name, "")))
        for name in dict.fromkeys((*new, *old))
        if old.get(name, "") != new.get(name, "")
    ]
    groups = (before.groups if before else ()), (after.groups if after else ())
    if groups[0] != groups[1]:
        moved.append(Moved("", *groups))
    return moved


def _values(text: str) -> tuple[str, ...]:
    return tuple(part for part in text.split(SEVERAL) if part)


def is_too_many(ends: int, there: int, most: float) -> bool:
    """Tell whether so many would be switched off that somebody's word is needed.

    >>> is_too_many(3, 6, 0.2), is_too_many(21, 100, 0.2), is_too_many(20, 100, 0.2)
    (False, True, False)
    """
    return ends > FEW and ends > most * there
