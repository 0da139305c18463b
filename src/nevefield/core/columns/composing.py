"""Values composed from other fields by a pattern: pieces, case, plain letters, made unique with a
number.

A pattern is a list of pieces. A piece is a text as it stands, or so many letters from the beginning
of a field's value or of one of its words. "family name 1-5 + given names 1" gives `adeyei` of
Adeyemi, Ines.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

__all__ = ["Pattern", "Piece", "compose", "compose_all", "compose_column", "say_pattern"]


class Piece(BaseModel):
    """One piece: either `text`, or letters of a `field`, or of a column of the file by its
    `heading`.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    text: Annotated[str, Field(max_length=40)] = ""
    field: Annotated[str, Field(max_length=200)] = ""
    heading: Annotated[str, Field(max_length=2_000)] = ""
    letters: Annotated[int, Field(ge=0, le=100)] = 0  # from the beginning; 0: all
    # only this word, from 1; -1: the last; 0: all of the value
    word: Annotated[int, Field(ge=-1, le=9)] = 0

    @property
    def takes(self) -> bool:
        """Tell whether it is made of somebody's value rather than of a text."""
        return bool(self.field or self.heading)

    @model_validator(mode="after")
    def _is_one(self) -> Self:
        if sum(map(bool, (self.text, self.field, self.heading))) > 1:
            raise ValueError("a piece is a text, or of a field, or of a heading")
        return self


class Pattern(BaseModel):
    """How to compose a value."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    pieces: Annotated[tuple[Piece, ...], Field(min_length=1, max_length=12)]
    case: Literal["lower", "upper", "as it is"] = "lower"
    # accents taken off, and everything that is neither letter nor digit taken out of the fields'
    # pieces
    plain: bool = True
    unique: bool = True  # a number from 2 on is put behind what somebody has already


def compose(pattern: Pattern, value: Callable[[Piece], str | None]) -> str:
    """Compose one value, not yet made unique; "" when something that the pattern takes is empty.

    Args:
        pattern: The pattern.
        value: Gives what a piece is of: the value of its field, or the text under its heading.

    >>> pattern = Pattern(pieces=(Piece(field="f", letters=5), Piece(text="."), Piece(field="g", letters=1)))
    >>> compose(pattern, lambda piece: {"f": "O'Súilleabháin", "g": "Zoë"}.get(piece.field))
    'osuil.z'
    """  # noqa: E501
    parts = []
    for piece in pattern.pieces:
        if not piece.takes:
            parts.append(piece.text)
            continue
        words = (value(piece) or "").split()
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
    return (
        made.lower()
        if pattern.case == "lower"
        else made.upper()
        if pattern.case == "upper"
        else made
    )


def compose_column(
    pattern: Pattern, column: Callable[[Piece], tuple[Sequence[str], Sequence[int]]], rows: int
) -> list[str]:
    """Compose a value for each of many rows, not yet made unique: as `compose` for each, but each
    distinct value is looked at once.

    Args:
        pattern: The pattern.
        column: Gives of a piece the distinct values, and for each row the place of its own among
            them; -1 where it has none.
        rows: How many there are.
    """
    parts: list[Sequence[str | None]] = []
    for piece in pattern.pieces:
        if not piece.takes:
            parts.append([piece.text] * rows)
            continue
        texts, places = column(piece)
        single = Pattern(pieces=(piece,), case="as it is", plain=pattern.plain)
        made: list[str | None] = [
            # of what has letters, yet none that stay, the piece is empty and the rest is composed
            compose(single, lambda _, text=text: text) if text.split() else None  # type: ignore[misc]
            for text in texts
        ]
        made.append(None)  # for the place -1
        parts.append([made[place] for place in places])
    whole = ["" if None in some else "".join(some) for some in zip(*parts, strict=True)]
    if pattern.case == "lower":
        return [text.lower() for text in whole]
    return [text.upper() for text in whole] if pattern.case == "upper" else whole


def compose_all(
    pattern: Pattern,
    rows: Sequence[int],
    value: Callable[[int, Piece], str | None],
    taken: Iterable[str],
) -> tuple[dict[int, str], int]:
    """Compose a value for each of some rows, in their order.

    Args:
        pattern: The pattern.
        rows: Those that need one.
        value: Gives what a piece is of in a row.
        taken: What somebody has already; case does not tell values apart.

    Returns:
        The values by row, rows without what the pattern takes left away; and how many were made
        unique with a number.
    """
    have = {text.casefold() for text in taken}
    found: dict[int, str] = {}
    numbered = 0
    for row in rows:
        base = compose(pattern, lambda piece, row=row: value(row, piece))  # type: ignore[misc]
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
    messages = []
    for piece in pattern.pieces:
        if not piece.takes:
            messages.append(f"“{piece.text}”")
            continue
        word = {0: "", -1: ", last word"}.get(piece.word, f", word {piece.word}")
        letters = "" if not piece.letters else " 1" if piece.letters == 1 else f" 1–{piece.letters}"
        messages.append(
            f"{title(piece.field) if piece.field else f'the column “{piece.heading}”'}{word}{letters}"  # noqa: E501
        )
    return " + ".join(messages)


def _plain(text: str) -> str:
    return re.sub(r"[\W_]+", "", plain_letters(text))
