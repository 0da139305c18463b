"""A layout that is proposed from what fields mean and are called; nothing that is kept is in it."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from nevefield.core.columns.composing import Pattern, Piece
from nevefield.core.columns.titles import name_fields
from nevefield.core.passing.destination import (
    AskedWay,
    CallWay,
    FileWay,
    GateWay,
    Membership,
    Put,
    ScimWay,
    Share,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from nevefield.core.definition import Definition, Field
    from nevefield.core.passing.destination import Way

__all__ = ["propose_share"]

ENTERPRISE = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:"
# by what a field means, or else is called, where it goes: SCIM, LDAP, vCard
TARGETS: dict[str, tuple[str, str, str]] = {
    "family-name": ("name.familyName", "sn", "N.family"),
    "given-name": ("name.givenName", "givenName", "N.given"),
    "mail": ('emails[type eq "work"].value', "mail", "EMAIL"),
    "phone": ('phoneNumbers[type eq "work"].value', "telephoneNumber", "TEL"),
    "title": ("title", "title", "TITLE"),
    "department": (ENTERPRISE + "department", "ou", "ORG"),
}
_NAMED = {
    "department": re.compile(r"department|programme|office|faculty|division|unit", re.I),
    "title": re.compile(r"^(job.?)?(title|position|rank)$", re.I),
}
GROUPS = re.compile(r"group|team|watch|house|ward|class|role|zone|chapter", re.I)
PRIVILEGES = re.compile(r"role|privilege|zone|key", re.I)
_CARD = {
    "facility": re.compile(r"facility|site.?code", re.I),
    "number": re.compile(r"card|number|band|serial", re.I),
    "name": re.compile(r"name|holder|who", re.I),
    "zones": re.compile(r"zone|area|door", re.I),
    "until": re.compile(r"until|expir|valid|ends", re.I),
}
MOST_WIDTH = 40


def propose_share(definition: Definition, way: Way) -> Share:
    """Propose what of a roster goes to a destination, and where.

    Args:
        definition: Of the roster.
        way: How it is told.
    """
    if isinstance(way, ScimWay | AskedWay):
        puts = list(_standard(definition, 0))
        return Share(roster=definition.name, puts=tuple(puts), groups=tuple(_groups(definition)))
    if isinstance(way, GateWay):
        return Share(roster=definition.name, puts=tuple(_doors(definition)))
    form = way.format if isinstance(way, FileWay) else "csv"
    if form == "ldif":
        return Share(roster=definition.name, puts=tuple(_standard(definition, 1)))
    if form == "oneroster":
        return Share(
            roster=definition.name,
            puts=tuple(_learners(definition)),
            groups=tuple(_groups(definition)),
        )
    if form == "vcard":
        return Share(roster=definition.name, puts=tuple(_standard(definition, 2)))
    return Share(
        roster=definition.name,
        puts=tuple(
            Put.model_validate(
                {
                    # programs know a field by its name, people by its title
                    "to": field.name if isinstance(way, CallWay) else field.title or field.name,
                    "from": field.name,
                    "width": _width(field) if form == "fixed width" else 0,
                }
            )
            for field in definition.fields
            if not field.sensitive
        ),
    )


def _standard(definition: Definition, place: int) -> Iterator[Put]:
    """List what goes where a standard has a place for it."""
    key = next(iter(definition.primary_key), "")
    names = [name for name in name_fields(definition) if not definition.by_name[name].sensitive]
    if place == 0:
        yield Put(to="userName", pattern=_user_name(names, key), is_needed=True)
        if key:
            yield Put.model_validate({"to": ENTERPRISE + "employeeNumber", "from": key})
    elif place == 1:
        yield Put.model_validate({"to": "uid", "from": key, "is_needed": True})
        yield Put(to="cn", pattern=_whole_name(names, key), is_needed=True)
    else:
        yield Put(to="FN", pattern=_whole_name(names, key), is_needed=True)
    taken: set[str] = set()
    for field in definition.fields:
        what = _meant(field)
        if field.sensitive or what is None or what in taken:
            continue
        taken.add(what)
        form = "label" if field.code_list else "as it is"
        # without a family name there is no person in a directory (RFC 2798)
        needed = place == 1 and what == "family-name"
        yield Put.model_validate(
            {
                "to": TARGETS[what][place],
                "from": field.name,
                "form": form,
                "is_needed": needed,
            }
        )


def _learners(definition: Definition) -> Iterator[Put]:
    """List what a learning system is told of people."""
    key = next(iter(definition.primary_key), "")
    names = [name for name in name_fields(definition) if not definition.by_name[name].sensitive]
    family, given = (*names, key, key)[:2] if len(names) > 1 else (*names, key)[:1] * 2
    yield Put.model_validate({"to": "username", "from": key, "is_needed": True})
    yield Put.model_validate({"to": "givenName", "from": given, "is_needed": True})
    yield Put.model_validate({"to": "familyName", "from": family, "is_needed": True})
    yield Put(to="role", fill="student")
    yield Put.model_validate({"to": "identifier", "from": key})
    for field in definition.fields:
        if field.is_mail and not field.sensitive:
            yield Put.model_validate({"to": "email", "from": field.name})
            break


def _meant(field: Field) -> str | None:
    if field.means in TARGETS:
        return field.means
    if field.is_mail:
        return "mail"
    if field.kind == "phone":
        return "phone"
    named: Callable[[str], bool] = lambda name: bool(_NAMED[name].search(field.name))  # noqa: E731
    return next((name for name in _NAMED if named(name)), None)


def _user_name(names: list[str], key: str) -> Pattern:
    """The first letter of the given names, a full stop, the family name; else the key."""
    if len(names) < 2:
        return Pattern(pieces=(Piece(field=names[0] if names else key),))
    family, given = names[:2]
    return Pattern(pieces=(Piece(field=given, letters=1), Piece(text="."), Piece(field=family)))


def _whole_name(names: list[str], key: str) -> Pattern:
    pieces: list[Piece] = []
    for name in reversed(names[:2]):
        pieces += [Piece(text=" ")] * bool(pieces) + [Piece(field=name)]
    return Pattern(
        pieces=tuple(pieces) or (Piece(field=key),), case="as it is", plain=False, unique=False
    )


def _groups(definition: Definition) -> Iterator[Membership]:
    """List the fields whose values are groups: several of a list, or of a group's name."""
    for field in definition.fields:
        if field.sensitive or not field.code_list:
            continue
        if field.several or GROUPS.search(field.name):
            is_privilege = bool(PRIVILEGES.search(field.name))
            yield Membership.model_validate({"from": field.name, "is_privilege": is_privilege})


def _doors(definition: Definition) -> Iterator[Put]:
    """List what doors are told of cards, by what fields are called."""
    for to, pattern in _CARD.items():
        found = next((one for one in definition.fields if pattern.search(one.name)), None)
        if found is not None and not found.sensitive:
            needed = to in ("number", "facility")
            yield Put.model_validate({"to": to, "from": found.name, "is_needed": needed})


def _width(field: Field) -> int:
    if field.identifier is not None and field.identifier.length:
        return int(field.identifier.length)
    return 10 if field.type == "date" else min(field.max_length or MOST_WIDTH, 200)
