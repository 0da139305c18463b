"""Made-up days and amounts: near the real ones, so that what is counted by them stays nearly the
same, and never the real one.
"""

from __future__ import annotations

from bisect import bisect_left
from calendar import monthrange
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.practice.chance import Chance

__all__ = ["Days", "another_amount"]

NEAR = 3  # places in the order of amounts within which another one is


class Days:
    """Days that change places within their year, or their month.

    Args:
        random: The source of chance.
    """

    def __init__(self, random: Chance) -> None:
        self._random = random
        self._circles: dict[tuple[int, int], dict[date, date]] = {}

    def move(self, text: str, *, within_year: bool) -> str | None:
        """Give another day of the same year or month for a day as ISO 8601 writes it, the same for
        the same; what follows it, as a time, stays but for its minutes. None for what is no day.
        """
        try:
            day = date.fromisoformat(text[:10])
        except ValueError:
            return None
        circle = (day.year, 0 if within_year else day.month)
        if circle not in self._circles:
            self._circles[circle] = self._turn(*circle)
        return self._circles[circle][day].isoformat() + self._time(text[10:])

    def draw(self, text: str, *, within_year: bool) -> str | None:
        """Give any other day of the same year or month; None for what is no day."""
        try:
            day = date.fromisoformat(text[:10])
        except ValueError:
            return None
        others = [one for one in _days(day.year, 0 if within_year else day.month) if one != day]
        return self._random.choice(others).isoformat() + self._time(text[10:])

    def _turn(self, year: int, month: int) -> dict[date, date]:
        days = _days(year, month)
        self._random.shuffle(days)
        return dict(zip(days, days[1:] + days[:1], strict=True))

    def _time(self, rest: str) -> str:
        if len(rest) < 6:
            return rest
        return f"{rest[:4]}{self._random.randrange(60):02}{rest[6:]}"


def _days(year: int, month: int) -> list[date]:
    months = [month] if month else range(1, 13)
    return [
        date(year, number, day)
        for number in months
        for day in range(1, monthrange(year, number)[1] + 1)
    ]


def another_amount(text: str, ordered: Sequence[Decimal], random: Chance) -> str | None:
    """Give an amount between the real one and one that is near it, with as many decimals.

    Args:
        text: The real one.
        ordered: All there are, each once, in their order.
        random: The source of chance.

    Returns:
        None for what is no amount.
    """
    try:
        amount = Decimal(text)
    except InvalidOperation:
        return None
    place = bisect_left(ordered, amount)
    step = Decimal(1).scaleb(int(amount.as_tuple().exponent))
    near = [one.quantize(step) for one in ordered[max(0, place - NEAR) : place + NEAR + 1]]
    near = [one for one in near if one != amount]
    if not near:
        return None
    other = random.choice(near)
    made = (amount + (other - amount) * Decimal(random.random())).quantize(step)
    return str(other if made == amount else made)
