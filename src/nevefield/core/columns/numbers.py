"""Numbers as people and spreadsheets write them, and the decimal mark decided from a whole
column.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal
from typing import TYPE_CHECKING

from nevefield.core.texts import SPACES

if TYPE_CHECKING:
    from collections.abc import Iterable

__all__ = ["ReadNumber", "decide_mark", "read_number"]

_GAPS = re.compile(f"[{SPACES}'’]")
# ISO 4217, and signs of money in writing
_MONEY = re.compile(
    r"^(?:[€$£¥₺₽₹₪₩]|(?:EUR|USD|GBP|CHF|SEK|NOK|DKK|PLN|CZK|HUF|RON|JPY|AUD|CAD|NZD))"
    r"|(?:[€$£¥₺₽₹₪₩]|EUR|USD|GBP|CHF|SEK|NOK|DKK|PLN|CZK|HUF|RON|JPY|AUD|CAD|NZD|kr\.?|zł|Kč|Ft)$"
)
_NUMBER = re.compile(r"[+-]?(\d+(\.\d*)?|\.\d+)")
_ONE_MARK = re.compile(r"[+-]?(\d*)([.,])(\d+)")
_GROUPED = re.compile(r"[+-]?\d{1,3}(?:([.,])\d{3})(?:\1\d{3})+")
_BOTH = re.compile(r"[+-]?\d{1,3}(?:([.,])\d{3})+(?!\1)([.,])\d*")


@dataclass(frozen=True)
class ReadNumber:
    """A number as read: `value` is as the roster stores it, or None when both marks are
    possible, and then `either` has both.
    """

    value: str | None
    plain: bool = False  # written as the roster stores it
    either: tuple[str, ...] = ()


def decide_mark(texts: Iterable[str]) -> tuple[str, int]:
    """Decide from all values of a column which sign stands before the decimals.

    "1.234,5" and "75,5" say the comma, "1,234.5" and "75.5" the point, "1,234,567" the point too;
    "1,234" alone says nothing.

    Returns:
        "," or "."; "" when no value decides it or values contradict each other; and the number of
        values that decide.
    """
    comma = point = 0
    for text in texts:
        says = _mark_of(_close(text.strip()))
        comma += says == ","
        point += says == "."
    if comma and not point:
        return ",", comma
    if point and not comma:
        return ".", point
    return "", 0


def _mark_of(text: str) -> str:
    if matched := _BOTH.fullmatch(text):
        return matched[2]
    if matched := _GROUPED.fullmatch(text):
        return "." if matched[1] == "," else ","
    matched = _ONE_MARK.fullmatch(text)
    if matched and (len(matched[3]) != 3 or len(matched[1]) > 3 or matched[1] in ("", "0")):
        return matched[2]
    return ""


def read_number(text: str, mark: str) -> ReadNumber | None:
    """Read a number.

    Args:
        text: Trimmed; spaces and apostrophes between digits are passed over, and the sign of money
            before or behind them.
        mark: "," or "." as decided for the column, "" when it leaves that open.

    Returns:
        What was read; None when it is no number, or not one with this mark.
    """
    closed = _close(text)
    says = _mark_of(closed)
    if mark and says and says != mark:
        return None
    if not mark and not says and _ONE_MARK.fullmatch(closed):
        return ReadNumber(None, either=tuple(_value(closed, text) for text in ".,"))
    value = _value(closed, mark or says or ".")
    return ReadNumber(value, plain=closed == text and "," not in text) if value else None


def _close(text: str) -> str:
    """Take out what may stand between the digits of a number and beside them."""
    closed = _GAPS.sub("", text)
    return closed if closed[-1:].isdigit() and closed[:1].isdigit() else _MONEY.sub("", closed)


def _value(text: str, mark: str) -> str:
    whole = text.replace("," if mark == "." else ".", "").replace(mark, ".")
    if not _NUMBER.fullmatch(whole):
        return ""
    value = format(Decimal(whole).normalize(), "f")
    return "0" if value in ("-0", "0") else value
