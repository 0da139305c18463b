"""A destination from JSON, and what in it cannot be."""

from __future__ import annotations

import re
from datetime import date
from typing import TYPE_CHECKING

from croniter import croniter
from pydantic import TypeAdapter, ValidationError

from nevefield.core.borders import Json
from nevefield.core.conditions import check_condition
from nevefield.core.errors import WrongDefinition, WrongDestination
from nevefield.core.masking import sensitive_fields
from nevefield.core.passing.destination import (
    GATE_FIELDS,
    AskedWay,
    Destination,
    FileWay,
    GateWay,
    ScimWay,
    Way,
)
from nevefield.core.passing.oneroster import TAKEN
from nevefield.core.texts import near
from nevefield.core.validating import say_wrong

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.core.definition import Definition
    from nevefield.core.passing.destination import Share

__all__ = ["check_destination", "read_destination", "read_way", "write_destination"]

# what fields may be called (RFC 4512, 1.4 and 2.5; RFC 6350, 3.3)
_NAMES = {
    "ldif": re.compile(r"[A-Za-z][A-Za-z0-9-]*(;[A-Za-z0-9-]+)*"),
    "vcard": re.compile(r"[A-Za-z-]+(\.[a-z]+|(;[A-Za-z-]+=[A-Za-z0-9,-]+)*)"),
}
_WAY: TypeAdapter[Way] = TypeAdapter(Way)
_HOLES = re.compile(r"\{([^{}]*)\}")


def read_destination(document: Json) -> Destination:
    """Read a destination.

    Raises:
        WrongDestination: With the place and what would be right.
    """
    try:
        found = Destination.model_validate(document)
    except ValidationError as error:
        raise WrongDestination(
            *say_wrong(error, "a destination", "a file, scim, gates or asked")
        ) from error
    rosters = [share.roster for share in found.shares]
    if len(set(rosters)) < len(rosters):
        raise WrongDestination("shares", "has two of the same roster.")
    for index, share in enumerate(found.shares):
        _see_puts(found, share, f"shares.{index}")
    if found.when.kind == "at a time" and not croniter.is_valid(found.when.rule):
        raise WrongDestination(
            "when.rule",
            "is five parts: minute, hour, day, month, weekday, such as “0 2 * * *” for each day at"
            " two.",
        )
    _see_file(found)
    return found


def _see_file(found: Destination) -> None:
    if isinstance(found.way, FileWay):
        for hole in _HOLES.findall(found.way.file_name):
            if hole not in ("day", "time"):
                raise WrongDestination("way.file_name", "{day} and {time} may stand in it.")
        if found.way.format == "ldif" and not (found.way.base and found.way.classes):
            raise WrongDestination(
                "way", "needs base, such as ou=people,dc=quay,dc=example, and classes for LDIF."
            )
        if found.way.format == "oneroster":
            _see_oneroster(found, found.way)
        names = _NAMES.get(found.way.format)
        for index, share in enumerate(found.shares):
            for number, put in enumerate(share.puts):
                if names is not None and not names.fullmatch(put.to):
                    raise WrongDestination(
                        f"shares.{index}.puts.{number}.to",
                        f"“{put.to}” is no name of a field in {found.way.format}.",
                    )
            if found.way.format == "vcard" and "FN" not in {put.to for put in share.puts}:
                raise WrongDestination(
                    f"shares.{index}.puts", "needs FN, without which there is no vCard (RFC 6350)."
                )


def _see_oneroster(found: Destination, way: FileWay) -> None:
    """See that the school and its term are said, and that only what the standard has is filled."""
    if not (way.school.strip() and way.term.strip()):
        raise WrongDestination("way", "needs a school and a term for OneRoster.")
    try:
        first, last = date.fromisoformat(way.first_day), date.fromisoformat(way.last_day)
    except ValueError:
        raise WrongDestination(
            "way", "needs the first and the last day of the term, such as 2026-09-01."
        ) from None
    if last < first:
        raise WrongDestination("way.last_day", "is before the first day of the term.")
    for index, share in enumerate(found.shares):
        names = {put.to for put in share.puts}
        for number, put in enumerate(share.puts):
            if put.to not in TAKEN:
                raise WrongDestination(
                    f"shares.{index}.puts.{number}.to",
                    f"OneRoster users have no “{put.to}”; {near(put.to, sorted(TAKEN))}",
                )
        needed = {put.to for put in share.puts if put.is_needed or put.fill}
        for lacking in ("givenName", "familyName", "username", "role"):
            if lacking not in needed:
                raise WrongDestination(
                    f"shares.{index}.puts",
                    f"must fill {lacking}"
                    + (", and say that it is needed." if lacking in names else "."),
                )


def read_way(document: Json) -> Way:
    """Read the way alone.

    Raises:
        WrongDestination: With the place and what would be right.
    """
    try:
        return _WAY.validate_python(document)
    except ValidationError as error:
        place, problem = say_wrong(error, "a way", "a file, scim, gates or asked")
        raise WrongDestination(f"way.{place}".rstrip("."), problem) from error


def _see_puts(found: Destination, share: Share, place: str) -> None:
    taken: set[str] = set()
    for number, put in enumerate(share.puts):
        if put.to.casefold() in taken:
            raise WrongDestination(f"{place}.puts.{number}.to", f"“{put.to}” is filled twice.")
        taken.add(put.to.casefold())
        if not (put.source or put.fill or put.pattern):
            raise WrongDestination(
                f"{place}.puts.{number}",
                "is from one of our fields, composed by a pattern, or a fill for everybody.",
            )
        if isinstance(found.way, FileWay) and found.way.format == "fixed width" and not put.width:
            raise WrongDestination(
                f"{place}.puts.{number}.width", "is needed in a file of fixed width."
            )
    if isinstance(found.way, GateWay) and (odd := taken - GATE_FIELDS):
        raise WrongDestination(
            f"{place}.puts",
            f"doors have no {', '.join(sorted(odd))}; they take {', '.join(sorted(GATE_FIELDS))}.",
        )
    if isinstance(found.way, GateWay) and not {"number", "zones"} <= taken:
        raise WrongDestination(f"{place}.puts", "needs number and zones, or no door opens.")
    needed = {put.to.casefold() for put in share.puts if put.is_needed}
    if isinstance(found.way, AskedWay) and "username" in taken - needed:
        raise WrongDestination(
            f"{place}.puts",
            "must say of userName that it is needed: nobody is read without one (RFC 7643, 4.1.1).",
        )
    if isinstance(found.way, ScimWay | AskedWay) and "username" not in taken:
        raise WrongDestination(
            f"{place}.puts",
            "needs userName: without it nobody can be kept there (RFC 7643, 4.1.1).",
        )


def write_destination(found: Destination) -> Json:
    """Write a destination as JSON; what is as usual is left out."""
    written = found.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    way = found.way.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    return written | {"way": way | {"kind": found.way.kind}}


def check_destination(found: Destination, definitions: Mapping[str, Definition]) -> None:
    """See that a destination names only what there is, and tells nothing that is kept without a
    reason.

    Args:
        found: The destination.
        definitions: Of the rosters that it may name.

    Raises:
        WrongDestination: It names something that is not there, or tells what is kept.
    """
    for index, share in enumerate(found.shares):
        place = f"shares.{index}"
        if share.roster not in definitions:
            raise WrongDestination(
                f"{place}.roster",
                f"there is no roster “{share.roster}”; {near(share.roster, definitions)}",
            )
        definition = definitions[share.roster]
        kept = sensitive_fields(definition)
        for number, put in enumerate(share.puts):
            for name in put.fields():
                _see_field(definition, name, f"{place}.puts.{number}")
                if name in kept and not put.because.strip():
                    raise WrongDestination(
                        f"{place}.puts.{number}.because",
                        f"{definition.title_of(name)} is kept from who may only look: say why it"
                        " leaves, or leave it out.",
                    )
            if put.pattern and any(piece.heading for piece in put.pattern.pieces):
                raise WrongDestination(
                    f"{place}.puts.{number}.pattern", "takes fields; there is no file here."
                )
        for number, one in enumerate(share.groups):
            _see_field(definition, one.source, f"{place}.groups.{number}")
            if one.source in kept and not one.because.strip():
                raise WrongDestination(
                    f"{place}.groups.{number}.because",
                    f"{definition.title_of(one.source)} is kept from who may only look: say why"
                    " it leaves, or leave it out.",
                )
        if share.each:
            _see_field(definition, share.each, f"{place}.each")
        if share.where is not None:
            try:
                check_condition(share.where, f"{place}.where", definition.by_name)
            except WrongDefinition as error:
                raise WrongDestination(error.place, error.problem) from error


def _see_field(definition: Definition, name: str, place: str) -> None:
    if name not in definition.by_name:
        raise WrongDestination(
            place, f"{definition.title} has no field “{name}”; {near(name, definition.by_name)}"
        )
