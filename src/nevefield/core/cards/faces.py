"""What cards are filled from: who has which face of a design, and what stands on whose card."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.cards.doors import door_name
from nevefield.core.cards.filling import Card, Filling, fill
from nevefield.core.cards.numbers import write_number
from nevefield.core.conditions import holds

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.cards.design import Design, Face
    from nevefield.core.cards.fitting import Measure
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Field
    from nevefield.core.snapshot import Snapshot

__all__ = ["Faces"]


@dataclass
class Faces:
    """Everything that cards are filled from.

    Args:
        design: The design.
        snapshots: The rosters of its faces, by name.
        codes: The code lists.
        measure: Of the typeface.
        today: The day.
    """

    design: Design
    snapshots: Mapping[str, Snapshot]
    codes: Mapping[str, CodeList]
    measure: Measure
    today: date
    _fillings: dict[str, Filling] = field(default_factory=dict)
    _holding: dict[tuple[str, str], NDArray[np.bool_]] = field(default_factory=dict)

    def people(self) -> list[tuple[Face, NDArray[np.intp]]]:
        """List the faces, each with the places of those who have it: the first that fits
        somebody.
        """
        taken: dict[str, NDArray[np.bool_]] = {}
        found = []
        for face in self.design.faces:
            snapshot = self.snapshots[face.roster]
            free = ~taken.get(face.roster, np.zeros(len(snapshot), bool))
            mine = free & self.holding(face, "", face.where)
            taken[face.roster] = mine | ~free
            found.append((face, np.flatnonzero(mine)))
        return found

    def face_of(self, roster: str, place: int) -> Face | None:
        """Find somebody's face."""
        for face in self.design.faces:
            if face.roster == roster and self.holding(face, "", face.where)[place]:
                return face
        return None

    def card(self, face: Face, place: int) -> Card:
        """Give what a new card of somebody's would be, with the longest number that there is."""
        ranges = self.design.numbering.ranges
        return Card(
            number=write_number(
                max((one.last for one in ranges), default=65_535), self.design.numbering
            ),
            facility=str(max((one.facility for one in ranges), default=255)),
            until=self.value(face, place, face.until) or "" if face.until else "",
            made=self.today.isoformat(),
        )

    def value(self, face: Face, place: int, name: str) -> str | None:
        """Give somebody's stored value of a field."""
        column = self.snapshots[face.roster].columns.get(name)
        return None if column is None else column.at(place)

    def filling(self, face: Face) -> Filling:
        """Give what fills the items of a face."""
        if face.roster not in self._fillings:
            definition = self.snapshots[face.roster].definition
            self._fillings[face.roster] = Filling(definition, self.codes)
        return self._fillings[face.roster]

    def texts(self, face: Face, place: int, card: Card) -> dict[str, str]:
        """Compose what stands on somebody's card, by item."""
        columns = self.snapshots[face.roster].columns

        def value(name: str) -> str | None:
            column = columns.get(name)
            return None if column is None else column.at(place)

        return fill(self.filling(face), face.items(), value, card)

    def shown(self, face: Face, place: int) -> set[str]:
        """Tell which items stand on somebody's card."""
        return {
            item.name
            for item in face.items()
            if item.where is None or self.holding(face, item.name, item.where)[place]
        }

    def door_name(self, face: Face, place: int) -> str:
        """Give somebody's name as the doors take it."""
        snapshot = self.snapshots[face.roster]
        field = self.name_field()
        return door_name(
            snapshot.definition,
            lambda name: snapshot.columns[name].at(place),
            field.max_length if field else None,
        )

    def say_state(self, state: str) -> str:
        """Give the state of a card in words."""
        snapshot = self.snapshots.get(self.design.register_.roster)
        field = snapshot.definition.by_name.get(self.design.register_.state) if snapshot else None
        codes = self.codes.get(field.code_list) if field else None
        code = codes.by_code.get(state) if codes else None
        return code.label if code else state

    def name_field(self) -> Field | None:
        """Find the field of the register that takes the name; None where the register is not
        among what was loaded, or has none.
        """
        register = self.design.register_
        snapshot = self.snapshots.get(register.roster)
        return snapshot.definition.by_name.get(register.name) if snapshot else None

    def holding(self, face: Face, name: str, when: object) -> NDArray[np.bool_]:
        """Tell for whom a condition of a face, or of the item of that name, holds, by place."""
        key = (face.name, name)
        if key not in self._holding:
            snapshot = self.snapshots[face.roster]
            self._holding[key] = (
                np.ones(len(snapshot), bool)
                if when is None
                else holds(when, snapshot.columns.__getitem__, len(snapshot), self.today)
            )
        return self._holding[key]
