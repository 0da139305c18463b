"""Days as people and spreadsheets write them, and the order of day and month decided from a
whole column.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from nevefield.core.columns.words import month_of

if TYPE_CHECKING:
    from collections.abc import Iterable

__all__ = [
    "ReadDay",
    "decide_order",
    "other_century",
    "part_clock",
    "read_day",
    "say_day",
    "swapped_days",
]

_ISO = re.compile(r"(\d{4})-(\d{2})-(\d{2})(?:[T ]00:00(?::00(?:\.0+)?)?Z?)?")
_YEAR_FIRST = re.compile(r"(\d{4})[/.](\d{1,2})[/.](\d{1,2})|(\d{4})-(\d{1,2})-(\d{1,2})")
_COMPACT = re.compile(r"((?:19|20)\d{2})(\d{2})(\d{2})")
_DOTTED = re.compile(r"(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4}|\d{2})")
_OPEN = re.compile(r"(\d{1,2})([/-])(\d{1,2})\2(\d{4}|\d{2})")
_NAMED = re.compile(
    r"(\d{1,2})(?:st|nd|rd|th)?[\s.-]+(?:de\s+)?([^\W\d_]{3,12})\.?,?[\s-]+(?:de\s+)?(\d{4}|\d{2})",
    re.IGNORECASE,
)
_NAMED_FIRST = re.compile(
    r"([^\W\d_]{3,12})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})", re.IGNORECASE
)
_TWO_DIGITS = re.compile(r"(?<!\d)\d{2}$")
_FOUR_DIGITS = re.compile(r"\d{4}")
CENTURY = 2000
SLIPS = 0.1  # slips, against the values of the right order
ENOUGH_SWAPPED = 8  # real dates
_MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]


@dataclass(frozen=True)
class ReadDay:
    """A day as read: `day` is None when both orders are possible, and then `either` has both."""

    day: date | None
    plain: bool = False  # written as the roster stores it
    either: tuple[date, ...] = ()


def read_day(text: str, order: str, today: date) -> ReadDay | None:
    """Read a day.

    Args:
        text: Trimmed.
        order: `dmy`, `mdy`, or "" when the column leaves it open.
        today: For years of two digits: they lie at most 20 years ahead of it.

    Returns:
        What was read; None when it is no day.
    """
    if matched := _ISO.fullmatch(text):
        day = _day(matched[1], matched[2], matched[3], today)
        return ReadDay(day, plain=len(text) == 10) if day else None
    if matched := _YEAR_FIRST.fullmatch(text) or _COMPACT.fullmatch(text):
        parts = [part for part in matched.groups() if part]
        return _certain(_day(parts[0], parts[1], parts[2], today))
    if matched := _DOTTED.fullmatch(text):
        return _certain(_day(matched[3], matched[2], matched[1], today))
    if matched := _NAMED.fullmatch(text):
        month = _month(matched[2])
        return _certain(_day(matched[3], month, matched[1], today)) if month else None
    if matched := _NAMED_FIRST.fullmatch(text):
        month = _month(matched[1])
        return _certain(_day(matched[3], month, matched[2], today)) if month else None
    if not (matched := _OPEN.fullmatch(text)):
        return None
    first = _day(matched[4], matched[3], matched[1], today)
    second = _day(matched[4], matched[1], matched[3], today)
    if first is None or second is None or first == second:
        # Only one order makes it a day. In a column of the other order it is no day at all, which
        # is for a person to see.
        day = first or second
        return (
            _certain(day)
            if day and (not order or day == (first if order == "dmy" else second))
            else None
        )
    if order:
        return _certain(first if order == "dmy" else second)
    return ReadDay(None, either=(first, second))


def other_century(text: str, day: date) -> date | None:
    """Return the day a hundred years before or after, where a text has its year in two digits; None
    where it has all of it.

    >>> other_century("14.03.38", date(2038, 3, 14))
    datetime.date(1938, 3, 14)
    """
    if not _TWO_DIGITS.search(text) or _FOUR_DIGITS.search(text):
        return None
    try:
        return day.replace(year=day.year + (-100 if day.year >= CENTURY else 100))
    except ValueError:  # 29 February
        return None


def decide_order(texts: Iterable[str]) -> tuple[str, int]:
    """Decide the order of day and month from all values of a column.

    Values that contradict each other decide nothing, unless they are so few (`SLIPS`) that they are
    the slips.

    Returns:
        `dmy`, `mdy`, or "" when the column leaves it open; and the number of values that decide.
    """
    day_first = month_first = 0
    for text in texts:
        matched = _OPEN.fullmatch(part_clock(text.strip())[0])
        if matched:
            day_first += int(matched[1]) > 12 >= int(matched[3])
            month_first += int(matched[3]) > 12 >= int(matched[1])
    if day_first and month_first <= SLIPS * day_first:
        return "dmy", day_first
    if month_first and day_first <= SLIPS * month_first:
        return "mdy", month_first
    return "", 0


def part_clock(text: str) -> tuple[str, str]:
    """Part a day from the clock behind it; all is day where there is no clock.

    >>> part_clock("1.9.2026, 8:05"), part_clock("1.9.2026")
    (('1.9.2026', '8:05'), ('1.9.2026', ''))
    """
    head, sign, tail = text.partition(":")
    before = head.rstrip("0123456789")
    day = before.rstrip(" ,T\t")
    if not sign or day == before or not before:
        return text, ""
    return day, head[len(before) :] + sign + tail


def swapped_days(texts: Iterable[str], order: str) -> frozenset[str]:
    """Find the real dates that a spreadsheet of the other order made of texts, swapping day and
    month.

    Such a spreadsheet turns every text that it can into a date of its own order and leaves the rest
    as text. So: all real dates (`2008-03-04`) have days up to 12, and all texts have a part over
    12. By chance `ENOUGH_SWAPPED` dates are so in fewer than one of 2,000 columns.

    Args:
        texts: Of the column.
        order: As `decide_order` found it.

    Returns:
        The texts of those dates; none when the column is not so.
    """
    if not order:
        return frozenset()
    real = []
    for text in (text.strip() for text in texts):
        if matched := _ISO.fullmatch(text):
            if int(matched[3]) > 12:
                return frozenset()
            real.append(text)
        elif (
            (matched := _OPEN.fullmatch(text))
            and int(matched[1]) <= 12
            and int(matched[3]) <= 12
            and matched[1] != matched[3]
        ):
            return frozenset()
    return (
        frozenset(text for text in real if text[5:7] != text[8:10])
        if len(real) >= ENOUGH_SWAPPED
        else frozenset()
    )


def say_day(day: date) -> str:
    """Word a day for a person: 14 Mar 2008."""
    return f"{day.day} {_MONTHS[day.month - 1]} {day.year}"


def _certain(day: date | None) -> ReadDay | None:
    return ReadDay(day) if day else None


def _month(name: str) -> str:
    return str(month_of(name) or "")


def _day(year: str, month: str, day: str, today: date) -> date | None:
    number = int(year)
    if len(year) == 2:
        number += today.year - today.year % 100
        if number > today.year + 20:
            number -= 100
    try:
        return date(number, int(month), int(day))
    except ValueError:
        return None
