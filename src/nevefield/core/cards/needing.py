"""Who needs a card: worked out from the people, the register of cards, what was printed and the
photographs. Everybody for whom the design has a face stands in exactly one place; cards in use of
nobody among them are to be taken in.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.cards.design import name_of_item, pieces_of
from nevefield.core.cards.doors import door_name, refuse_name
from nevefield.core.cards.filling import Card, Filling, fill
from nevefield.core.cards.laying import Finding, lay
from nevefield.core.conditions import holds

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.cards.design import Design, Face, Item, Register
    from nevefield.core.cards.fitting import Measure
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Field
    from nevefield.core.snapshot import Snapshot

__all__ = [
    "Faces",
    "Held",
    "Need",
    "Needed",
    "Person",
    "Printed",
    "find_needed",
    "is_number",
    "list_held",
    "note_printed",
    "say_number",
]


class Need(StrEnum):
    """Where somebody stands."""

    HAS = "has"  # a card that is in use and says what is true
    MAKE = "make"
    ANEW = "anew"  # what stands on it changed; lost, spoiled, run out
    PHOTO = "photo"  # one is to be made, and there is no photograph
    UNFIT = "unfit"  # one is to be made, and something does not fit
    TAKE_IN = "take in"  # in use, and its holder is nobody who gets one


@dataclass(frozen=True)
class Held:
    """A card in the register."""

    record: int
    number: str
    holder: str
    facility: str = ""
    state: str = ""
    until: str = ""
    is_good: bool = True  # in use, and not run out


@dataclass(frozen=True)
class Printed:
    """What a card of ours rested on when it was made."""

    face: str
    values: Mapping[str, str]  # by field, of the items for which a card is made anew
    shown: Mapping[str, bool]  # by item that has a condition
    photo: str = ""  # digest
    is_spoiled: bool = False


@dataclass(frozen=True)
class Person:
    """Somebody for whom the design has a face."""

    record: int
    place: int  # in the snapshot of the face's roster
    face: str
    key: str  # by which the register names them
    need: Need
    why: tuple[str, ...] = ()
    cards: tuple[Held, ...] = ()  # all that the register has of them
    findings: tuple[Finding, ...] = ()


@dataclass(frozen=True)
class Needed:
    """Everybody."""

    people: tuple[Person, ...]
    take_in: tuple[Held, ...] = ()

    def counts(self) -> dict[Need, int]:
        """Count them; all but those to take in add up to the people."""
        counted = Counter(person.need for person in self.people)
        return {need: counted[need] for need in Need} | {Need.TAKE_IN: len(self.take_in)}


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
            mine = free & self._where(face, "", face.where)
            taken[face.roster] = mine | ~free
            found.append((face, np.flatnonzero(mine)))
        return found

    def face_of(self, roster: str, place: int) -> Face | None:
        """Find somebody's face."""
        for face in self.design.faces:
            if face.roster == roster and self._where(face, "", face.where)[place]:
                return face
        return None

    def card(self, face: Face, place: int) -> Card:
        """Give what a new card of somebody's would be, with the longest number that there is."""
        ranges = self.design.numbering.ranges
        return Card(
            number=str(max((one.last for one in ranges), default=65_535)),
            facility=str(max((one.facility for one in ranges), default=255)),
            until=self.value(face, place, face.until) or "" if face.until else "",
            made=self.today.isoformat(),
        )

    def value(self, face: Face, place: int, name: str) -> str | None:
        """Give somebody's stored value of a field."""
        column = self.snapshots[face.roster].columns.get(name)
        return None if column is None else column.at(place)

    def texts(self, face: Face, place: int, card: Card) -> dict[str, str]:
        """Compose what stands on somebody's card, by item."""
        if face.roster not in self._fillings:
            self._fillings[face.roster] = Filling(
                self.snapshots[face.roster].definition, self.codes
            )
        columns = self.snapshots[face.roster].columns

        def value(name: str) -> str | None:
            column = columns.get(name)
            return None if column is None else column.at(place)

        return fill(self._fillings[face.roster], face.items(), value, card)

    def shown(self, face: Face, place: int) -> set[str]:
        """Tell which items stand on somebody's card."""
        return {
            item.name
            for item in face.items()
            if item.where is None or self._where(face, item.name, item.where)[place]
        }

    def findings(self, face: Face, place: int, *, has_photo: bool) -> tuple[Finding, ...]:
        """List what does not fit on somebody's card."""
        texts, shown = self.texts(face, place, self.card(face, place)), self.shown(face, place)
        found = self._refuse_name(face, place)
        for _, items in face.sides():
            found += lay(
                items,
                self.design.size,
                texts,
                shown,
                self.measure,
                has_photo=has_photo,
                read_back=False,
            ).findings
        return tuple(found)

    def door_name(self, face: Face, place: int) -> str:
        """Give somebody's name as the doors take it."""
        snapshot = self.snapshots[face.roster]
        field = self._name_field()
        return door_name(
            snapshot.definition,
            lambda name: snapshot.columns[name].at(place),
            field.max_length if field else None,
        )

    def say_state(self, card: Held) -> str:
        """Give a card's state in words."""
        snapshot = self.snapshots.get(self.design.register_.roster)
        field = snapshot.definition.by_name.get(self.design.register_.state) if snapshot else None
        codes = self.codes.get(field.code_list) if field else None
        code = codes.by_code.get(card.state) if codes else None
        return code.label if code else card.state

    def _refuse_name(self, face: Face, place: int) -> list[Finding]:
        field = self._name_field()
        why = refuse_name(self.door_name(face, place), field) if field else ""
        return [Finding("", "door", why)] if why else []

    def _name_field(self) -> Field | None:
        """Find the field of the register that takes the name; None where the register is not
        among what was loaded, or has none.
        """
        register = self.design.register_
        snapshot = self.snapshots.get(register.roster)
        return snapshot.definition.by_name.get(register.name) if snapshot else None

    def _where(self, face: Face, name: str, when: object) -> NDArray[np.bool_]:
        key = (face.name, name)
        if key not in self._holding:
            snapshot = self.snapshots[face.roster]
            self._holding[key] = (
                np.ones(len(snapshot), bool)
                if when is None
                else holds(when, snapshot.columns.__getitem__, len(snapshot), self.today)
            )
        return self._holding[key]


def list_held(register: Register, snapshot: Snapshot, today: date) -> list[Held]:
    """List the cards of the register."""

    def texts(name: str) -> list[str]:
        if not name or name not in snapshot.columns:
            return [""] * len(snapshot)
        return [text or "" for text in snapshot.columns[name].rows(np.arange(len(snapshot)))]

    columns = (
        register.number,
        register.holder,
        register.facility,
        register.state,
        register.until,
    )
    day = today.isoformat()
    return [
        Held(
            record,
            number,
            holder,
            facility,
            state,
            until,
            (not register.in_use or state in register.in_use) and (not until or until >= day),
        )
        for record, number, holder, facility, state, until in zip(
            snapshot.ids.tolist(), *map(texts, columns), strict=True
        )
    ]


def note_printed(faces: Faces, face: Face, place: int, photo: str) -> Printed:
    """Note what a card of somebody's rests on, as they stand."""
    shown = faces.shown(face, place)
    return Printed(
        face.name,
        {name: faces.value(face, place, name) or "" for name in _renewing(face.items())},
        {
            item.name: item.name in shown
            for item in face.items()
            if item.where is not None and getattr(item, "renews", False)
        },
        photo,
    )


def find_needed(
    faces: Faces,
    held: Sequence[Held],
    printed: Mapping[int, Printed],
    photos: Mapping[int, str],
    *,
    fits: Callable[[Face, int, bool], tuple[Finding, ...]] | None = None,
) -> Needed:
    """Work out where everybody stands.

    Args:
        faces: What cards are filled from.
        held: The cards of the register.
        printed: What cards of ours rest on, by the register's record.
        photos: Digests of photographs, by the people's record.
        fits: Gives the findings of somebody, by face, place and whether there is a photograph; as
            a rule `Faces.findings`.
    """
    by_holder: dict[str, list[Held]] = {}
    for card in held:
        by_holder.setdefault(_key(card.holder), []).append(card)
    people: list[Person] = []
    known: set[str] = set()
    for face, places in faces.people():
        snapshot = faces.snapshots[face.roster]
        keys = snapshot.columns[face.holder].rows(places) if face.holder in snapshot.columns else []
        needs_photo = [item for item in face.items() if item.kind == "photo" and item.is_needed]
        for place, key, record in zip(
            places.tolist(), keys, snapshot.ids[places].tolist(), strict=True
        ):
            cards = by_holder.get(_key(key or ""), []) if key else []
            if key:
                known.add(_key(key))
            need, why = _stand(faces, face, place, cards, printed)
            findings: tuple[Finding, ...] = ()
            if need != Need.HAS:
                has_photo = record in photos
                findings = (
                    faces.findings(face, place, has_photo=has_photo)
                    if fits is None
                    else fits(face, place, has_photo)
                )
                lacks = [one for one in findings if one.kind == "no photo"]
                others = [one for one in findings if one.kind != "no photo"]
                if others:
                    need, why = Need.UNFIT, tuple(_say_finding(face, one) for one in others)
                elif lacks and needs_photo:
                    need, why = Need.PHOTO, tuple(one.why for one in lacks)
            people.append(
                Person(record, place, face.name, key or "", need, why, tuple(cards), findings)
            )
    take_in = tuple(card for card in held if card.is_good and _key(card.holder) not in known)
    return Needed(tuple(people), take_in)


def _say_finding(face: Face, finding: Finding) -> str:
    """Say what does not fit, with the item that it is about."""
    for side, items in face.sides():
        for item in items:
            if item.name == finding.item:
                back = " of the back" if side == "back" else ""
                return f"{name_of_item(item, items)}{back}: {finding.why}"
    return finding.why


def _stand(
    faces: Faces, face: Face, place: int, cards: Sequence[Held], printed: Mapping[int, Printed]
) -> tuple[Need, tuple[str, ...]]:
    """Tell whether somebody has a card, needs one, or needs one anew, and why."""
    good = [card for card in cards if card.is_good]
    if not good:
        if not cards:
            return Need.MAKE, ()
        last = cards[-1]
        why = f"card {say_number(last)} is {faces.say_state(last).lower()}" if last.state else ""
        run_out = f"card {say_number(last)} held until {last.until}"
        return Need.ANEW, (why if last.state and not _is_in_use(faces, last) else run_out,)
    changes: tuple[str, ...] = ()
    for card in reversed(good):
        before = printed.get(card.record)
        if before is None:
            return Need.HAS, ()
        if before.is_spoiled:
            changes = changes or (f"card {say_number(card)} was spoiled",)
            continue
        if not (moved := _changes(faces, face, place, before)):
            return Need.HAS, ()
        changes = changes or moved
    return Need.ANEW, changes


def is_number(card: Held, scanned: str) -> bool:
    """Tell whether what was scanned or typed is a card's number, with its facility or without, and
    with zeros before them or not.

    >>> is_number(Held(1, "1224", "x", "17"), "017-01224"), is_number(Held(1, "12", "x"), "1-12")
    (True, False)
    """
    facility, _, number = scanned.strip().replace("·", "-").rpartition("-")
    if not facility:
        return card.number.casefold() == number.casefold() or _as_number(card.number, number)
    return _as_number(card.number, number) and _as_number(card.facility, facility)


def _as_number(one: str, other: str) -> bool:
    return one.isdecimal() and other.isdecimal() and int(one) == int(other)


def say_number(card: Held) -> str:
    """Write a card's number with its facility."""
    return f"{card.facility}·{card.number}" if card.facility else card.number


def _is_in_use(faces: Faces, card: Held) -> bool:
    states = faces.design.register_.in_use
    return not states or card.state in states


def _changes(faces: Faces, face: Face, place: int, before: Printed) -> tuple[str, ...]:
    """Say what on a printed card is not true any more."""
    if before.face != face.name:
        return ("another face of the design is theirs now",)
    definition = faces.snapshots[face.roster].definition
    messages = []
    for name in _renewing(face.items()):
        if name not in before.values:
            continue
        now = faces.value(face, place, name) or ""
        if now != before.values[name]:
            was = before.values[name] or "empty"
            messages.append(f"{definition.title_of(name)}: {was} → {now or 'empty'}")
    shown = faces.shown(face, place)
    for item in face.items():
        if item.name in before.shown and before.shown[item.name] != (item.name in shown):
            words = " ".join(piece.text for piece in pieces_of(item) if piece.text) or item.name
            messages.append(
                f"“{words}” {'stands' if item.name in shown else 'does not stand'} on it now"
            )
    return tuple(messages)


def _renewing(items: Collection[Item]) -> tuple[str, ...]:
    """List the fields of the items for which a card is made anew, each once."""
    return tuple(
        dict.fromkeys(
            piece.field
            for item in items
            if getattr(item, "renews", False)
            for piece in pieces_of(item)
            if piece.field
        )
    )


def _key(text: str) -> str:
    return text.strip().casefold()
