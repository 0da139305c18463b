"""A card design from JSON, and what in it cannot be."""

from __future__ import annotations

from typing import TYPE_CHECKING

from pydantic import ValidationError

from nevefield.core.borders import Json
from nevefield.core.cards.design import Band, Design, Line, Photo, Picture, contrast, pieces_of
from nevefield.core.conditions import check_condition
from nevefield.core.errors import WrongDefinition, WrongDesign
from nevefield.core.texts import near
from nevefield.core.validating import say_wrong

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from nevefield.core.cards.design import Face, Item
    from nevefield.core.definition import Definition

__all__ = ["check_design", "name_troubles", "read_design", "write_design"]

LEAST_CONTRAST = 4.5  # WCAG 2.2, 1.4.3
OPPOSITE = "white"  # of the card itself


def read_design(document: Json) -> Design:
    """Read a design.

    Raises:
        WrongDesign: With the place and what would be right.
    """
    try:
        design = Design.model_validate(document)
    except ValidationError as error:
        place, problem = say_wrong(error, "a design", "a line, band, photo, picture or symbol")
        if place.endswith("name") and "written" in problem:
            problem = "begins with a small letter, then small letters, digits and -."
        if place.endswith("numbering.before") and "written" in problem:
            problem = "is plain letters, digits and signs, and begins with no blank."
        raise WrongDesign(place, problem) from error
    for index, face in enumerate(design.faces):
        for side, items in face.sides():
            names = [item.name for item in items]
            if len(set(names)) < len(names):
                raise WrongDesign(f"faces.{index}.{side}", "has two items of the same name.")
        if {item.name for item in face.front} & {item.name for item in face.back}:
            raise WrongDesign(f"faces.{index}.back", "has an item of the same name as the front.")
    if len({face.name for face in design.faces}) < len(design.faces):
        raise WrongDesign("faces", "has two of the same name.")
    most = 2**design.numbering.number_bits - 1
    for index, one in enumerate(design.numbering.ranges):
        place = f"numbering.ranges.{index}"
        if one.last < one.first:
            raise WrongDesign(place, f"ends ({one.last}) before it begins ({one.first}).")
        if one.last > most:
            bits = design.numbering.number_bits
            raise WrongDesign(place, f"{bits} bits hold numbers up to {most:,}, not {one.last:,}.")
        if one.facility > 2**design.numbering.facility_bits - 1:
            bits = design.numbering.facility_bits
            raise WrongDesign(
                place, f"{bits} bits hold facilities up to {2**bits - 1:,}, not {one.facility:,}."
            )
        for other in design.numbering.ranges[:index]:
            if (
                other.facility == one.facility
                and other.first <= one.last
                and one.first <= other.last
            ):
                raise WrongDesign(
                    place,
                    f"shares numbers with {other.first:,} to {other.last:,} of the same facility.",
                )
    return design


def write_design(design: Design) -> Json:
    """Write a design as JSON; what is as usual is left out."""
    return design.model_dump(mode="json", by_alias=True, exclude_defaults=True) | {
        "faces": [
            face.model_dump(mode="json", exclude_defaults=True)
            | {
                side: [
                    item.model_dump(mode="json", exclude_defaults=True) | {"kind": item.kind}
                    for item in items
                ]
                for side, items in face.sides()
            }
            for face in design.faces
        ]
    }


def check_design(design: Design, definitions: Mapping[str, Definition]) -> None:
    """See that a design names only what there is.

    Args:
        design: The design.
        definitions: Of the rosters that it may name.

    Raises:
        WrongDesign: It names something that is not there.
    """
    register = design.register_
    cards = _definition(definitions, register.roster, "register.roster")
    for option in ("number", "holder", "facility", "state", "until", "name"):
        if name := getattr(register, option):
            _see_field(cards, name, f"register.{option}")
    holds, numbering = cards.by_name[register.number], design.numbering
    if holds.type in ("integer", "number") and (numbering.before or numbering.digits):
        raise WrongDesign(
            "numbering.before" if numbering.before else "numbering.digits",
            f"{cards.title_of(register.number)} of {cards.title} holds bare numbers, without"
            " letters or zeros before them; make it a text under Definition first.",
        )
    for index, face in enumerate(design.faces):
        place = f"faces.{index}"
        people = _definition(definitions, face.roster, f"{place}.roster")
        for option in ("holder", "until", "site"):
            if name := getattr(face, option):
                _see_field(people, name, f"{place}.{option}")
        _see_condition(people, face.where, f"{place}.where")
        for side, items in face.sides():
            for number, item in enumerate(items):
                _see_item(people, item, f"{place}.{side}.{number}")


def _see_item(people: Definition, item: Item, place: str) -> None:
    for number, piece in enumerate(pieces_of(item)):
        if sum(map(bool, (piece.text, piece.field, piece.card))) != 1:
            raise WrongDesign(
                f"{place}.pieces.{number}", "is fixed words, a field, or something of the card."
            )
        if piece.field:
            _see_field(people, piece.field, f"{place}.pieces.{number}.field")
    _see_condition(people, item.where, f"{place}.where")


def _definition(definitions: Mapping[str, Definition], name: str, place: str) -> Definition:
    if name not in definitions:
        raise WrongDesign(place, f"there is no roster “{name}”; {near(name, definitions)}")
    return definitions[name]


def _see_field(definition: Definition, name: str, place: str) -> None:
    if name not in definition.by_name:
        raise WrongDesign(
            place,
            f"{definition.title} has no field “{name}”; {near(name, definition.by_name)}",
        )


def _see_condition(definition: Definition, when: Json, place: str) -> None:
    if when is None:
        return
    try:
        check_condition(when, place, definition.by_name)
    except WrongDefinition as error:
        raise WrongDesign(error.place, error.problem) from error


def name_troubles(face: Face) -> Iterator[tuple[str, str]]:
    """List what in a face is allowed and yet not well: the item's name, and a sentence."""
    for _, items in face.sides():
        for item in items:
            if isinstance(item, (Line, Band)):
                ground = item.fill if isinstance(item, Band) else OPPOSITE
                found = contrast(item.letters.colour, ground)
                if found < LEAST_CONTRAST and pieces_of(item):
                    yield (
                        item.name,
                        f"{item.letters.colour} on {ground} has a contrast of {found:.1f}; from"
                        f" {LEAST_CONTRAST} on it is read well.",
                    )
            if isinstance(item, (Picture, Photo)):
                continue
            if not pieces_of(item) and not isinstance(item, Band):
                yield item.name, "Nothing stands in it yet."
