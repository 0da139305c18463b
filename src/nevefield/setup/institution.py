"""The institution: what it is called, and the colour of its mark."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from nevefield.setup.errors import WrongInstitution
from nevefield.store import institution as store
from nevefield.store.audit import insert_audit
from nevefield.store.institution import Institution

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["Institution", "name_institution", "the_institution"]

LONGEST = 120  # characters
READABLE = 4.5  # contrast of white letters on the colour, WCAG 2.2, 1.4.3


def the_institution(context: Context) -> Institution:
    """Give the institution; one without a name where nobody said it."""
    with context.database.transaction() as connection:
        return store.get_institution(connection)


def name_institution(context: Context, name: str, colour: str, account_id: int | None) -> None:
    """Say what the institution is called, and the colour of its mark.

    Raises:
        WrongInstitution: The name is none, or white letters cannot be read on the colour.
    """
    name = " ".join(name.split())
    if len(name) > LONGEST or not name.isprintable():
        raise WrongInstitution(f"A name has at most {LONGEST} letters, in one line.")
    if not re.fullmatch("#[0-9a-f]{6}", colour):
        raise WrongInstitution("A colour is written as #17494d.")
    if contrast_with_white(colour) < READABLE:
        raise WrongInstitution("White letters cannot be read on this colour; choose a darker one.")
    with context.database.transaction() as connection:
        store.put_institution(connection, Institution(name, colour))
        insert_audit(connection, "institution-named", name, account_id, context.now())


def contrast_with_white(colour: str) -> float:
    """Tell the contrast of white on a colour, 1 to 21 (WCAG 2.2, relative luminance).

    >>> round(contrast_with_white("#000000"), 1), round(contrast_with_white("#ffffff"), 1)
    (21.0, 1.0)
    """
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    red, green, blue = map(_linear, parts)
    return 1.05 / (0.2126 * red + 0.7152 * green + 0.0722 * blue + 0.05)


def _linear(part: float) -> float:
    return part / 12.92 if part <= 0.04045 else float(((part + 0.055) / 1.055) ** 2.4)
