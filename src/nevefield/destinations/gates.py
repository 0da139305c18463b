"""A client of gate controllers: several doors, each with its own memory of cards. What they take
and give is told in `docs/gates.md`.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from nevefield.destinations.errors import Gone, Refused, Unintelligible, Unreachable

if TYPE_CHECKING:
    from nevefield.destinations.asking import Asking

__all__ = ["Door", "Gates", "Spread"]

MOST_DOORS = 1_000
_NAME = re.compile(r"[A-Za-z0-9._-]{1,40}")


@dataclass(frozen=True)
class Door:
    """A door, as it says of itself."""

    door: str
    title: str
    zones: frozenset[str]
    answers: bool
    holds: int  # cards
    room: int


@dataclass
class Spread:
    """Which doors know a card now, and which could not be told."""

    knows: list[str] = field(default_factory=list)  # doors that remember it
    missing: list[str] = field(default_factory=list)  # that are to be told yet
    ms: int = 0


class Gates:
    """Controllers of several doors.

    Args:
        asking: How they are asked.
    """

    def __init__(self, asking: Asking) -> None:
        self._asking = asking
        self._silent: set[str] = set()  # doors that did not answer while this one tells

    def doors(self) -> list[Door]:
        """List the doors.

        Raises:
            DestinationError: They do not answer, or say what cannot be understood.
        """
        found = self._asking.ask("GET", "/doors").body.get("doors")
        if not isinstance(found, list):
            raise Unintelligible("there are no doors in it")
        if len(found) > MOST_DOORS or not all(
            isinstance(one, dict)
            and isinstance(one.get("door"), str)
            and _NAME.fullmatch(one["door"])
            for one in found
        ):
            raise Unintelligible("its doors have no names, or it has too many")
        return [
            Door(
                str(one["door"]),
                str(one.get("title") or one["door"])[:80].replace(",", " "),
                frozenset(map(str, one.get("zones") or ())),
                one.get("answers") is not False,
                int(one.get("holds") or 0),
                int(one.get("room") or 0),
            )
            for one in found
        ]

    def put(
        self,
        card: str,
        said: Mapping[str, str],
        opens: Collection[str],
        knew: Collection[str],
        doors: Collection[Door],
    ) -> Spread:
        """Let the doors of some zones remember a card, and others that knew it forget it.

        Args:
            card: Facility and number, with a hyphen.
            said: Name and last day.
            opens: The zones that it opens.
            knew: Doors that may remember it.
            doors: All there are.

        Raises:
            Refused: A door does not take it.
        """
        spread = Spread()
        for door in doors:
            wanted = bool(door.zones.intersection(opens))
            if not door.answers and (wanted or door.door in knew):
                spread.missing.append(door.door)
            elif wanted:
                self._tell(spread, door.door, card, dict(said))
            elif door.door in knew:
                self._tell(spread, door.door, card, None)
        return spread

    def drop(self, card: str, knew: Collection[str]) -> Spread:
        """Let all doors that knew a card forget it."""
        spread = Spread()
        for door in knew:
            self._tell(spread, door, card, None)
        return spread

    def cards_of(self, door: str) -> dict[str, dict[str, Any]]:
        """List the cards that a door remembers.

        Raises:
            DestinationError: It does not answer.
        """
        found = self._asking.ask("GET", f"/doors/{door}/cards").body.get("cards") or []
        return {str(one["card"]): one for one in found}

    def close(self) -> None:
        """Let go of the connections."""
        self._asking.close()

    def _tell(self, spread: Spread, door: str, card: str, said: dict[str, str] | None) -> None:
        """Tell one door; one that does not answer is told later, and does not keep the others
        from being told.
        """
        path = f"/doors/{door}/cards/{card}"
        if door in self._silent:
            spread.missing.append(door)
            return
        try:
            if said is None:
                answer = self._asking.ask("DELETE", path, patient=False)
            else:
                answer = self._asking.ask("PUT", path, said, patient=False)
        except Unreachable:
            # the others of this telling do not wait for it
            self._silent.add(door)
            spread.missing.append(door)
            return
        except Gone:  # the door itself is there no more
            return
        except Refused as error:
            raise Refused(error.status, f"{error.code} at {door}", error.problem) from error
        spread.ms += answer.ms
        if said is not None:
            spread.knows.append(door)
