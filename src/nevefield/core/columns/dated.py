"""Read a day or a moment of a field."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from nevefield.core.borders import Foreign
from nevefield.core.columns.damage import days_of_serial
from nevefield.core.columns.days import ReadDay, other_century, part_clock, read_day, say_day
from nevefield.core.columns.limits import refuse_limits
from nevefield.core.columns.outcome import Outcome, Repair, make_problem

if TYPE_CHECKING:
    from datetime import date

    from nevefield.core.definition import Field

__all__ = ["TURNED", "read_date", "read_datetime", "read_moment"]


# behind the order of day and month: real dates were turned round by a spreadsheet of the other
# order
TURNED = "-turned"
HALF_A_DAY = 12  # hours
YEARS_AHEAD = 20  # that a day with a year of two digits may lie in
_CLOCK = re.compile(
    r"(\d{1,2}):(\d\d)(?::(\d\d))?(?:\.\d{1,9})? ?(?:Z|([ap])\.?m\.?)?", re.IGNORECASE
)


def read_date(
    field: Field, text: str, order: str, today: date, turned: frozenset[str] = frozenset()
) -> Outcome:
    """Read a day.

    Args:
        field: Of the column.
        text: The cell.
        order: Of day and month in the column: `dmy`, `mdy`, or "" where nothing decides it; with
            `TURNED` behind it, days that a spreadsheet turned round are turned back.
        today: For years of two digits.
        turned: Texts of the column that a spreadsheet may have turned round.
    """
    turns_back = order.endswith(TURNED)
    order = order.removesuffix(TURNED)
    day = read_day(text, order, today)
    if day is None:
        return _no_day(field, text, order, today)
    if day.day is None:
        return _either_day(field, text, day.either)
    if text in turned:
        return _turned_day(field, text, day.day, turns_back=turns_back)
    return _in_its_century(field, text, day, today)


def _no_day(field: Field, text: str, order: str, today: date) -> Outcome:
    """Say what a text is that is no day as the column has it."""
    read = read_day(text, "mdy" if order == "dmy" else "dmy", today) if order else None
    if read and read.day:
        first = "day" if order == "dmy" else "month"
        message = (
            f"“{text}” is no day with the {first} first, as the column has it; the other way round"
            f" it is {say_day(read.day)}."
        )
        title = f"{field.title}: day and month swapped"
        suggestions = (read.day.isoformat(),)
        return _stop(field, text, "date-swapped", message, title, suggestions=suggestions)
    if serials := days_of_serial(text):
        fits = [day.isoformat() for day in serials if refuse_limits(field, day.isoformat()) is None]
        message = (
            f"“{text}” is a day that a spreadsheet turned into a number: {say_day(serials[0])}, or"
            f" {say_day(serials[1])} if it counts from 1904."
        )
        title = f"{field.title}: days turned into numbers"
        return _stop(
            field, text, "damage", message, title, group="serial", suggestions=tuple(fits[:1])
        )
    return _stop(field, text, "type", f"“{text}” is no day.", f"{field.title} is no day")


def _either_day(field: Field, text: str, either: tuple[date, ...]) -> Outcome:
    """Ask which of two days is meant, where nothing in the column decides it."""
    message = (
        f"“{text}” is {say_day(either[0])} or {say_day(either[1])}; nothing in the column decides"
        " it."
    )
    title = f"{field.title}: day or month first?"
    suggestions = (either[0].isoformat(), either[1].isoformat())
    return _stop(field, text, "date-order", message, title, suggestions=suggestions)


def _turned_day(field: Field, text: str, day: date, *, turns_back: bool) -> Outcome:
    """Turn a day back that a spreadsheet turned round, or ask whether it did."""
    before = day.replace(month=day.day, day=day.month)
    if turns_back:
        repair = Repair("day", f"“{text}” had been turned round: {say_day(before)}.")
        return before.isoformat(), None, repair
    message = (
        f"{say_day(day)} may have been {say_day(before)}: the spreadsheet has turned every text"
        " that it could into a date of its own order, and left the rest as text."
    )
    title = f"{field.title}: days that a spreadsheet may have turned round"
    return _stop(field, text, "dates-turned", message, title)


def _in_its_century(field: Field, text: str, found: ReadDay, today: date) -> Outcome:
    """Give a day that is sure; of a year of two digits the century that fits, or ask."""
    day = found.day or today
    other = other_century(text, day)
    if (
        other is not None
        and other.year <= today.year + YEARS_AHEAD
        and refuse_limits(field, other.isoformat()) is None
    ):
        wrong = refuse_limits(field, day.isoformat())
        if field.means == "birth-date" and day > today:
            day = other  # nobody is born later than today
        elif wrong is not None:
            message = (
                f"“{text}” has a year of two digits: as {say_day(day)} it does not fit, as"
                f" {say_day(other)} it does."
            )
            title = f"{field.title}: which century?"
            suggestions = (other.isoformat(), day.isoformat())
            return _stop(field, text, wrong.check, message, title, suggestions=suggestions)
    repair = None if found.plain else Repair("day", f"“{text}” is read as {say_day(day)}.")
    return day.isoformat(), None, repair


def _stop(field: Field, text: str, check: str, said: str, title: str, **more: Foreign) -> Outcome:
    return text, make_problem(field, check, said, title, **more), None


def read_datetime(field: Field, text: str, order: str, today: date) -> Outcome:
    """Read a day with a time; one without is midnight."""
    moment = read_moment(text, order, today)
    if moment is None:
        day = read_day(text, order, today)
        moment = f"{day.day.isoformat()}T00:00:00" if day is not None and day.day else None
    if moment is None:
        return (
            text,
            make_problem(
                field, "type", f"“{text}” is no day with a time.", f"{field.title} is no time"
            ),
            None,
        )
    return moment, None, None


def read_moment(text: str, order: str, today: date) -> str | None:
    """Read a day with a time of day, as people and systems write them; None where it is none.

    >>> from datetime import date
    >>> read_moment("1.9.2026 8:05", "", date(2026, 9, 1))
    '2026-09-01T08:05:00'
    >>> read_moment("09/01/2026 12:30 PM", "mdy", date(2026, 9, 1))
    '2026-09-01T12:30:00'
    """
    written, clock = part_clock(text)
    matched = _CLOCK.fullmatch(clock)
    day = read_day(written, order, today) if matched else None
    if matched is None or day is None or day.day is None:
        return None
    hour = int(matched[1])
    if half := (matched[4] or "").casefold():
        if not 1 <= hour <= HALF_A_DAY:
            return None
        hour = hour % HALF_A_DAY + (HALF_A_DAY if half == "p" else 0)
    minute, second = int(matched[2]), int(matched[3] or 0)
    if hour > 23 or minute > 59 or second > 59:
        return None
    return f"{day.day.isoformat()}T{hour:02}:{minute:02}:{second:02}"
