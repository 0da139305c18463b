"""Whose card is which: the cards of a person, and what a scanner reads anywhere."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.cards.designs import list_designs, load_faces
from nevefield.core.cards.needing import is_number, list_held, say_number
from nevefield.core.columns.titles import name_person
from nevefield.store import cards as store
from nevefield.store.records import get_record_roster

if TYPE_CHECKING:
    from nevefield.cards.designs import OpenDesign
    from nevefield.context import Context
    from nevefield.core.cards.design import Face
    from nevefield.core.cards.faces import Faces
    from nevefield.core.cards.needing import Held
    from nevefield.store.connection import Connection

__all__ = ["CardFound", "CardsOf", "OfDesign", "cards_of", "find_cards"]


LEAST_DIGITS = 3  # with fewer, most cards would be found


@dataclass(frozen=True)
class OfDesign:
    """The cards that somebody has by a design."""

    design: OpenDesign
    key: str  # by which the register names them
    held: list[tuple[Held, str]]  # each with its state in words
    made: dict[int, store.MadeCard]  # by the register's record


@dataclass(frozen=True)
class CardsOf:
    """Somebody's cards, and whether there is a photograph of them that may be seen."""

    designs: list[OfDesign]
    has_photo: bool


@dataclass(frozen=True)
class CardFound:
    """A card that has what was looked for."""

    design: str
    number: str
    holder: str
    name: str
    is_good: bool


def cards_of(context: Context, record_id: int) -> CardsOf:
    """List somebody's cards, by the designs of which they may have one.

    Args:
        context: Database and clock.
        record_id: Their record; of one that is not there, nothing is listed.
    """
    designs = list_designs(context)
    found = []
    with context.database.transaction() as connection:
        roster_id = get_record_roster(connection, record_id)
        if roster_id is None:
            return CardsOf([], has_photo=False)
        made = {card.card_id: card for card in store.list_made_of(connection, record_id=record_id)}
        for opened in designs:
            faces, held = _load(context, connection, opened)
            for name, roster in opened.rosters.items():
                place = faces.snapshots[name].places().get(record_id)
                if roster.id != roster_id or place is None:
                    continue
                face = faces.face_of(name, place)
                key = faces.value(face, place, face.holder) if face else None
                theirs = [card for card in held if key and _same(card.holder, key)]
                if face is not None:
                    cards = [(card, faces.say_state(card.state)) for card in theirs]
                    found.append(OfDesign(opened, key or "", cards, made))
        is_seen = not connection.sight.covers(roster_id)
        has_photo = is_seen and store.get_photo(connection, record_id) is not None
    return CardsOf(found, has_photo)


def find_cards(context: Context, text: str, most: int = 6) -> list[CardFound]:
    """Find cards by what a scanner reads or somebody types: a number with at least three digits,
    the last of which ends it, with its facility or without.
    """
    text = text.strip()
    if not text[-1:].isdecimal() or sum(map(str.isdecimal, text)) < LEAST_DIGITS:
        return []
    found = []
    designs = list_designs(context)
    with context.database.transaction() as connection:
        for opened in designs:
            faces, held = _load(context, connection, opened)
            for card in held:
                if not is_number(card, text):
                    continue
                name = _name(faces, opened, card.holder)
                found.append(
                    CardFound(opened.design.name, say_number(card), card.holder, name, card.is_good)
                )
    return sorted(found, key=lambda one: not one.is_good)[:most]


def _load(context: Context, connection: Connection, opened: OpenDesign) -> tuple[Faces, list[Held]]:
    faces = load_faces(context, connection, opened)
    register = opened.design.register_
    return faces, list_held(register, faces.snapshots[register.roster], context.today())


def _name(faces: Faces, opened: OpenDesign, holder: str) -> str:
    for face in opened.design.faces:
        place = _place(faces, face, holder)
        if place is not None:
            definition = faces.snapshots[face.roster].definition
            return name_person(definition, lambda name: faces.value(face, place, name))  # noqa: B023
    return ""


def _place(faces: Faces, face: Face, holder: str) -> int | None:
    """Find the person whom the register names so."""
    column = faces.snapshots[face.roster].columns.get(face.holder)
    if column is None:
        return None
    codes = [code for code, text in enumerate(column.texts()) if _same(text, holder)]
    places = (column.codes == codes[0]).nonzero()[0] if codes else []
    return int(places[0]) if len(places) else None


def _same(one: str, other: str) -> bool:
    return one.strip().casefold() == other.strip().casefold()
