"""What stands in each item of somebody's card, from their record."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import TYPE_CHECKING

from nevefield.core.cards.design import pieces_of
from nevefield.core.cards.fitting import tidy
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from nevefield.core.cards.design import Item, Piece
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition

__all__ = ["Card", "Filling", "compose", "fill", "write_day"]

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class Card:
    """What is the card's own; "" where it is not known yet."""

    number: str = ""
    facility: str = ""
    until: str = ""  # ISO 8601
    made: str = ""  # ISO 8601

    def value(self, name: str) -> str:
        """Give one of them by its name."""
        return {
            "number": self.number,
            "facility": self.facility,
            "until": self.until,
            "made": self.made,
        }[name]


@dataclass
class Filling:
    """Fills items from records of one roster.

    Args:
        definition: Of the roster.
        codes: The code lists.
    """

    definition: Definition
    codes: Mapping[str, CodeList]
    _labels: dict[tuple[str, str], str] = field(default_factory=dict)

    def text(self, item: Item, value: Callable[[str], str | None], card: Card) -> str:
        """Compose what stands in an item: "" when none of the fields that it takes has anything.

        Args:
            item: The item.
            value: Gives somebody's stored value of a field.
            card: The card's own values.
        """
        pieces = pieces_of(item)
        return compose(pieces, [self.write(one, _stored(one, value, card)) for one in pieces])

    def write(self, piece: Piece, stored: str) -> str:
        """Write what a piece says.

        Args:
            piece: The piece.
            stored: What the field or the card has that it takes; "" for nothing.
        """
        if not piece.takes:
            return piece.text
        if piece.card:
            text = write_day(stored, piece.form) if piece.card in ("until", "made") else stored
        else:
            values = [self._say(piece, part) for part in stored.split(SEVERAL) if part]
            text = ", ".join(part for part in values if part)
        if piece.word:
            words = text.split()
            place = piece.word - 1 if piece.word > 0 else piece.word
            text = words[place] if -len(words) <= place < len(words) else ""
        if piece.letters:
            text = text[: piece.letters]
        return text.upper() if piece.form == "capitals" else text

    def _say(self, piece: Piece, stored: str) -> str:
        column = self.definition.by_name.get(piece.field)
        if column is None:
            return ""
        if column.code_list and piece.form != "code":
            key = (column.code_list, stored)
            if key not in self._labels:
                codes = self.codes.get(column.code_list)
                code = codes.by_code.get(stored) if codes else None
                self._labels[key] = code.label if code else stored
            return self._labels[key]
        if column.type in ("date", "datetime"):
            return write_day(stored, piece.form)
        if column.type == "boolean":
            return {"true": "yes", "false": "no"}.get(stored, stored)
        return stored


def compose(pieces: Sequence[Piece], parts: Sequence[str]) -> str:
    """Compose what an item says from what its pieces say: "" when it takes something, and none of
    what it takes has anything.

    Args:
        pieces: Of the item.
        parts: Of each, as `Filling.write` gives it.
    """
    takes = [bool(part) for piece, part in zip(pieces, parts, strict=True) if piece.takes]
    if takes and not any(takes):
        return ""
    return tidy(" ".join(part for part in parts if part))


def fill(
    filling: Filling, items: tuple[Item, ...], value: Callable[[str], str | None], card: Card
) -> dict[str, str]:
    """Compose what stands in each item, by the item's name."""
    return {item.name: filling.text(item, value, card) for item in items}


def _stored(piece: Piece, value: Callable[[str], str | None], card: Card) -> str:
    if piece.card:
        return card.value(piece.card)
    return (value(piece.field) or "") if piece.field else ""


def write_day(stored: str, form: str) -> str:
    """Write a day as it is kept in one of the forms of `DAY_FORMS`; what is no day stays.

    >>> write_day("2026-09-01", "Sep 2026"), write_day("2026-09-01", "as it is"), write_day("soon", "2026")
    ('Sep 2026', '1 Sep 2026', 'soon')
    """  # noqa: E501
    try:
        day = date.fromisoformat(stored[:10])
    except ValueError:
        return stored
    month = MONTHS[day.month - 1]
    return {
        "01.09.2026": f"{day.day:02}.{day.month:02}.{day.year:04}",
        "2026-09-01": day.isoformat(),
        "09/2026": f"{day.month:02}/{day.year:04}",
        "Sep 2026": f"{month} {day.year}",
        "2026": f"{day.year}",
    }.get(form, f"{day.day} {month} {day.year}")
