"""Values composed from other fields by a pattern: pieces, case, plain letters, made unique with a number.

A pattern is a list of pieces. A piece is a text as it stands, or so many letters from the beginning of a field's value or of
one of its words. "family name 1-5 + given names 1" gives `adeyei` of Adeyemi, Ines.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

__all__ = ["Pattern", "Piece", "compose", "compose_all", "say_pattern"]


class Piece(BaseModel):
    """One piece: either `text`, or letters of a `field`."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    text: Annotated[str, Field(max_length=40)] = ""
    field: Annotated[str, Field(max_length=200)] = ""
    letters: Annotated[int, Field(ge=0, le=100)] = 0  # from the beginning; 0: all
    word: Annotated[int, Field(ge=-1, le=9)] = 0  # only this word, from 1; -1: the last; 0: all of the value


class Pattern(BaseModel):
    """How to compose a value."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    pieces: Annotated[tuple[Piece, ...], Field(min_length=1, max_length=12)]
    case: Literal["lower", "upper", "as it is"] = "lower"
    plain: bool = True  # accents taken off, and everything that is neither letter nor digit taken out of the fields' pieces
    unique: bool = True  # a number from 2 on is put behind what somebody has already


def compose(pattern: Pattern, value: Callable[[str], str | None]) -> str:
    """Compose one value, not yet made unique; "" when a field that the pattern takes is empty.

    Args:
        pattern: The pattern.
        value: Gives the value of a field.

    >>> pattern = Pattern(pieces=(Piece(field="f", letters=5), Piece(text="."), Piece(field="g", letters=1)))
    >>> compose(pattern, {"f": "O'Súilleabháin", "g": "Zoë"}.get)
    'osuil.z'
    """
    parts = []
    for piece in pattern.pieces:
        if not piece.field:
            parts.append(piece.text)
            continue
        words = (value(piece.field) or "").split()
        if not words:
            return ""
        if piece.word:
            place = piece.word - 1 if piece.word > 0 else piece.word
            words = words[place : place + 1 or None] if -len(words) <= place < len(words) else []
        text = " ".join(words)
        if pattern.plain:
            text = _plain(text)
        parts.append(text[: piece.letters] if piece.letters else text)
    made = "".join(parts)
    return made.lower() if pattern.case == "lower" else made.upper() if pattern.case == "upper" else made


def compose_all(
    pattern: Pattern, rows: Sequence[int], value: Callable[[int, str], str | None], taken: Iterable[str]
) -> tuple[dict[int, str], int]:
    """Compose a value for each of some rows, in their order.

    Args:
        pattern: The pattern.
        rows: Those that need one.
        value: Gives the value of a row's field.
        taken: What somebody has already; case does not tell values apart.

    Returns:
        The values by row, rows without what the pattern takes left away; and how many were made unique with a number.
    """
    have = {text.casefold() for text in taken}
    found: dict[int, str] = {}
    numbered = 0
    for row in rows:
        base = compose(pattern, lambda name, row=row: value(row, name))  # type: ignore[misc]
        if not base:
            continue
        made, number = base, 2
        while pattern.unique and made.casefold() in have:
            made, number = f"{base}{number}", number + 1
        numbered += made != base
        have.add(made.casefold())
        found[row] = made
    return found, numbered


def say_pattern(pattern: Pattern, title: Callable[[str], str]) -> str:
    """Word a pattern: "Family name 1–5 + “.” + Given names 1"."""
    said = []
    for piece in pattern.pieces:
        if not piece.field:
            said.append(f"“{piece.text}”")
            continue
        word = {0: "", -1: ", last word"}.get(piece.word, f", word {piece.word}")
        letters = "" if not piece.letters else " 1" if piece.letters == 1 else f" 1–{piece.letters}"
        said.append(f"{title(piece.field)}{word}{letters}")
    return " + ".join(said)


def _plain(text: str) -> str:
    return re.sub(r"[\W_]+", "", plain_letters(text))
