"""Who needs a card: worked out from the people, the register of cards, what was printed and the
photographs. Everybody for whom the design has a face stands in exactly one place; cards in use of
nobody among them are to be taken in.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.cards.design import name_of_item, pieces_of
from nevefield.core.cards.doors import refuse_name
from nevefield.core.cards.everybody import lay_everybody
from nevefield.core.cards.laying import Finding
from nevefield.core.texts import read_whole

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.cards.design import Face, Item, Register
    from nevefield.core.cards.faces import Faces
    from nevefield.core.snapshot import Snapshot

__all__ = [
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
) -> Needed:
    """Work out where everybody stands.

    Args:
        faces: What cards are filled from.
        held: The cards of the register.
        printed: What cards of ours rest on, by the register's record.
        photos: Digests of photographs, by the people's record.
    """
    by_holder: dict[str, list[Held]] = {}
    for card in held:
        by_holder.setdefault(_key(card.holder), []).append(card)
    people: list[Person] = []
    known: set[str] = set()
    for face, places in faces.people():
        snapshot = faces.snapshots[face.roster]
        ids = snapshot.ids[places]
        keys = snapshot.columns[face.holder].rows(places) if face.holder in snapshot.columns else []
        stand = []
        for place, key in zip(places.tolist(), keys, strict=True):
            cards = by_holder.get(_key(key), []) if key else []
            if key:
                known.add(_key(key))
            stand.append((cards, *_stand(faces, face, place, cards, printed)))
        wanting = np.flatnonzero(np.array([need != Need.HAS for _, need, _ in stand], bool))
        found = _find_all(faces, face, places[wanting], np.isin(ids[wanting], list(photos)))
        findings = dict(zip(wanting.tolist(), found, strict=True))
        needs_photo = any(item.kind == "photo" and item.is_needed for item in face.items())
        for member, (place, record, key, (cards, need, why)) in enumerate(
            zip(places.tolist(), ids.tolist(), keys, stand, strict=True)
        ):
            told = findings.get(member, ())
            if told:
                lacks = tuple(one.why for one in told if one.kind == "no photo")
                others = [one for one in told if one.kind != "no photo"]
                if others:
                    need, why = Need.UNFIT, tuple(_say_finding(face, one) for one in others)
                elif needs_photo:
                    need, why = Need.PHOTO, lacks
            people.append(
                Person(record, place, face.name, key or "", need, why, tuple(cards), told)
            )
    take_in = tuple(card for card in held if card.is_good and _key(card.holder) not in known)
    return Needed(tuple(people), take_in)


def _find_all(
    faces: Faces, face: Face, places: NDArray[np.intp], has_photo: NDArray[np.bool_]
) -> list[tuple[Finding, ...]]:
    """List what does not fit on the cards of some, and whose name the doors do not take."""
    findings = lay_everybody(faces, face, places, has_photo).findings()
    if (field := faces.name_field()) is None:
        return findings
    for member, place in enumerate(places.tolist()):
        if why := refuse_name(faces.door_name(face, place), field):
            findings[member] = (Finding("", "door", why), *findings[member])
    return findings


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
        why = (
            f"card {say_number(last)} is {faces.say_state(last.state).lower()}"
            if last.state
            else ""
        )
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
    >>> is_number(Held(1, "LIB-0012", "x"), "lib-12"), is_number(Held(1, "A-0", "x", "7"), "7-a-0")
    (True, True)
    >>> is_number(Held(1, "", "x"), "000"), is_number(Held(1, "1224", "x"), "0-1224")
    (False, False)
    """
    if _is_same(card.number, scanned):
        return True
    facility, _, number = scanned.strip().replace("·", "-").partition("-")
    return bool(number) and _is_same(card.number, number) and _is_same(card.facility, facility)


def _is_same(one: str, other: str) -> bool:
    return _bare(one) == _bare(other)


def _bare(text: str) -> tuple[str, int | str]:
    """Part a number into what stands before it, in small letters, and its last digits."""
    text = text.strip().casefold()
    at = len(text)
    while at and text[at - 1].isdecimal():
        at -= 1
    number = read_whole(text[at:])
    return text[:at], text[at:] if number is None else number


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
