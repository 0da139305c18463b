"""Who needs a card, what tries a design hardest, somebody's card as it would be."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from nevefield.cards.designs import (
    OpenDesign,
    list_designs,
    load_faces,
    read_rests,
    require_design,
    require_rosters,
)
from nevefield.core.cards.laying import Laid, lay
from nevefield.core.cards.needing import Need, find_needed, list_held
from nevefield.core.cards.numbers import Left, count_left, read_number
from nevefield.core.cards.reading import read_design
from nevefield.core.cards.trying import Fits, Hard, count_fits, find_hardest, fit_all
from nevefield.core.columns.titles import name_person
from nevefield.rosters.snapshots import Cache, name_of
from nevefield.store import cards as store
from nevefield.store.rosters import get_code_versions

if TYPE_CHECKING:
    from collections.abc import Collection
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.core.cards.design import Design, Face
    from nevefield.core.cards.faces import Faces
    from nevefield.core.cards.needing import Held, Needed, Person
    from nevefield.store.cards import Photo
    from nevefield.store.connection import Connection

__all__ = [
    "LaidCard",
    "Look",
    "Standing",
    "Tried",
    "choose_people",
    "choose_take_in",
    "count_numbers",
    "lay_card",
    "lay_one",
    "load_standing",
    "look_at_all",
    "look_at_design",
    "look_at_needed",
    "try_design",
    "used_numbers",
]

_NEEDED = Cache(4)


@dataclass(frozen=True)
class Standing:
    """A design, and where everybody stands."""

    opened: OpenDesign
    faces: Faces
    held: list[Held]
    needed: Needed
    photos: dict[int, Photo]
    made: list[store.MadeCard]

    def name(self, roster: str, place: int) -> str:
        """Name somebody for a person, as who asks may see it."""
        return _name(self.faces, roster, place)


@dataclass(frozen=True)
class LaidCard:
    """Both sides of somebody's card."""

    face: Face
    record: int
    name: str
    sides: dict[str, Laid]
    photo: Photo | None = None


@dataclass(frozen=True)
class Tried:
    """A design on everybody."""

    hardest: list[tuple[Hard, LaidCard]]
    fits: dict[str, list[Fits]]  # by face
    people: int


def look_at_needed(context: Context, name: str) -> Standing:
    """Work out where everybody stands for whom a design has a face.

    Raises:
        NoSuchDesign: There is none.
    """
    with context.database.transaction() as connection:
        return load_standing(context, connection, require_design(connection, name))


@dataclass(frozen=True)
class Look:
    """A design as it is looked at."""

    standing: Standing
    left: list[Left]
    runs: int


def look_at_design(context: Context, name: str) -> Look:
    """Look at a design: where everybody stands, how many numbers are left, how many runs there
    are.

    Raises:
        NoSuchDesign: There is none.
    """
    with context.database.transaction() as connection:
        standing = load_standing(context, connection, require_design(connection, name))
        left = count_numbers(context, connection, standing)
        return Look(standing, left, len(store.list_runs(connection, standing.opened.row.id)))


def look_at_all(context: Context) -> list[Standing]:
    """Look at all designs that may be seen."""
    found = list_designs(context)
    with context.database.transaction() as connection:
        return [load_standing(context, connection, opened) for opened in found]


def load_standing(context: Context, connection: Connection, opened: OpenDesign) -> Standing:
    """Work out where everybody stands, inside the caller's transaction."""
    faces = load_faces(context, connection, opened)
    register = opened.design.register_
    held = list_held(register, faces.snapshots[register.roster], context.today())
    made = store.list_made_of(connection, design_id=opened.row.id)
    people = {roster.id for name, roster in opened.rosters.items() if name != register.roster}
    photos = store.list_photos(connection, people)
    key = (
        name_of(connection),
        opened.row.id,
        opened.row.version,
        *_versions(connection, opened),
        context.today(),
        frozenset((photo.record_id, photo.digest) for photo in photos.values()),
        frozenset((card.card_id, card.spoiled_at) for card in made),
        get_code_versions(connection),
    )
    needed = _NEEDED.get(
        key,
        lambda: find_needed(
            faces,
            held,
            {card.card_id: read_rests(card.rests, card) for card in made},
            {number: photo.digest.hex() for number, photo in photos.items()},
        ),
    )
    return Standing(opened, faces, held, needed, photos, made)


# who needs something first
ORDER = (Need.UNFIT, Need.PHOTO, Need.ANEW, Need.MAKE, Need.HAS)


def choose_people(
    standing: Standing, need: str, text: str, only: Collection[int] | None = None
) -> list[Person]:
    """List the people of a design, who needs something first.

    Args:
        standing: Where everybody stands.
        need: Where those stand that are wanted; "" for anywhere.
        text: What their number, name or card number has in it; "" for anything.
        only: The records that are wanted; None for all.
    """
    wanted = text.casefold().strip()

    def is_found(person: Person) -> bool:
        face = standing.opened.design.face(person.face)
        texts = [person.key, standing.name(face.roster, person.place)]
        texts += [card.number for card in person.cards]
        return any(wanted in one.casefold() for one in texts)

    return sorted(
        (
            person
            for person in standing.needed.people
            if need in ("", person.need)
            and (only is None or person.record in only)
            and (not wanted or is_found(person))
        ),
        key=lambda person: ORDER.index(person.need),
    )


def choose_take_in(standing: Standing, text: str) -> list[Held]:
    """List the cards that are to be taken in, of those whose number or holder has a text."""
    wanted = text.casefold().strip()
    return [
        card
        for card in standing.needed.take_in
        if wanted in f"{card.holder} {card.number}".casefold()
    ]


def try_design(context: Context, name: str, document: Any | None = None) -> Tried:
    """Find the records that try a design hardest, and count how its lines fit.

    Args:
        context: Database and clock.
        name: Of the design.
        document: Another state of it, which is not kept; None for the one in force.

    Raises:
        NoSuchDesign: There is none.
        WrongDesign: Something in it cannot be.
    """
    design = None if document is None else read_design(document)
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        faces, photos = _load(context, connection, opened, design)
    everybody = fit_all(faces, photos)
    hardest = [
        (hard, _lay_place(faces, faces.design.face(hard.face), hard.place, photos))
        for hard in find_hardest(everybody)
    ]
    fits = {face.name: count_fits(everybody, face) for face in faces.design.faces}
    return Tried(hardest, fits, sum(len(some.places) for some in everybody))


def lay_card(
    context: Context, name: str, record: int | None, document: Any | None = None, face: str = ""
) -> LaidCard | None:
    """Lay somebody's card as it would be.

    Args:
        context: Database and clock.
        name: Of the design.
        record: Whose; None for the first who has the face.
        document: Another state of the design, which is not kept; None for the one in force.
        face: The face, where nobody is named; "" for any.

    Returns:
        None when there is nobody.

    Raises:
        NoSuchDesign: There is none.
        WrongDesign: Something in it cannot be.
    """
    design = None if document is None else read_design(document)
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        faces, photos = _load(context, connection, opened, design)
    if record is None:
        for one, places in faces.people():
            if len(places) and face in ("", one.name):
                return _lay_place(faces, one, int(places[0]), photos)
        return None
    for roster in {one.roster for one in faces.design.faces}:
        place = faces.snapshots[roster].places().get(record)
        if place is not None and (found := faces.face_of(roster, place)) is not None:
            return _lay_place(faces, found, place, photos)
    return None


def lay_one(
    faces: Faces, face: Face, texts: dict[str, str], shown: set[str], *, has_photo: bool
) -> dict[str, Laid]:
    """Lay both sides of a card."""
    return {
        side: lay(items, faces.design.size, texts, shown, faces.measure, has_photo=has_photo)
        for side, items in face.sides()
    }


def used_numbers(
    connection: Connection, opened: OpenDesign, held: list[Held], since: datetime
) -> dict[int, set[int]]:
    """List the numbers that may not be given, by facility: those in the register, and those that
    left it after a moment.
    """
    register = opened.design.register_
    roster = opened.rosters[register.roster]
    gone = store.list_used(connection, roster.id, register.number, register.facility, since)
    used: dict[int, set[int]] = {}
    for facility, number in [*((card.facility, card.number) for card in held), *gone]:
        serial = read_number(number, opened.design.numbering.before)
        place = read_number(facility or "0")
        if serial is not None and place is not None:
            used.setdefault(place, set()).add(serial)
    return used


def count_numbers(context: Context, connection: Connection, standing: Standing) -> list[Left]:
    """Count what is left of each range of numbers."""
    numbering = standing.opened.design.numbering
    since = context.now() - timedelta(days=numbering.rests)
    used = used_numbers(connection, standing.opened, standing.held, since)
    return count_left(numbering.ranges, used)


def _load(
    context: Context, connection: Connection, opened: OpenDesign, design: Design | None
) -> tuple[Faces, dict[int, Photo]]:
    rosters = opened.rosters if design is None else require_rosters(connection, design)
    opened = OpenDesign(opened.row, design or opened.design, rosters)
    register = opened.design.register_.roster
    people = {roster.id for name, roster in rosters.items() if name != register}
    return load_faces(context, connection, opened), store.list_photos(connection, people)


def _lay_place(faces: Faces, face: Face, place: int, photos: dict[int, Photo]) -> LaidCard:
    snapshot = faces.snapshots[face.roster]
    record = int(snapshot.ids[place])
    texts = faces.texts(face, place, faces.card(face, place))
    sides = lay_one(faces, face, texts, faces.shown(face, place), has_photo=record in photos)
    return LaidCard(face, record, _name(faces, face.roster, place), sides, photos.get(record))


def _name(faces: Faces, roster: str, place: int) -> str:
    snapshot = faces.snapshots[roster]
    return name_person(snapshot.definition, lambda name: snapshot.columns[name].at(place))


def _versions(connection: Connection, opened: OpenDesign) -> list[tuple[int, int, int, int, bool]]:
    return [
        (
            roster.id,
            roster.version,
            roster.definition,
            roster.erased,
            connection.sight.covers(roster.id),
        )
        for _, roster in sorted(opened.rosters.items())
    ]
