"""Card numbers: how many bits they have, which are left, and which are given next.

A number is of a facility; the two together are unique. Source of the usual form: SIA AC-01-1996.10,
26-bit Wiegand reader interface: 8 bits of facility and 16 of number between two parity bits, even
over the first half and odd over the second. Longer ones are built alike.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.errors import NoNumbersLeft

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Mapping, Sequence

    from nevefield.core.cards.design import Numbering, Range

__all__ = ["Left", "count_left", "give_numbers", "ranges_for", "wiegand"]


@dataclass(frozen=True)
class Left:
    """How much of a range is left."""

    range: Range
    total: int
    left: int


def wiegand(facility: int, number: int, numbering: Numbering) -> str:
    """Give the bits that a reader sends.

    >>> from nevefield.core.cards.design import Numbering
    >>> wiegand(17, 1224, Numbering())
    '00001000100000100110010001'
    """
    data = f"{number:0{numbering.number_bits}b}"
    if numbering.facility_bits:
        data = f"{facility:0{numbering.facility_bits}b}{data}"
    half = len(data) // 2
    even = str(data[:half].count("1") % 2)
    odd = str((data[half:].count("1") + 1) % 2)
    return f"{even}{data}{odd}"


def ranges_for(site: str, ranges: Sequence[Range]) -> list[Range]:
    """List the ranges of which somebody gets a number: those of their site; those for everybody
    where there is none.
    """
    own = [one for one in ranges if one.site and one.site == site]
    return own or [one for one in ranges if not one.site]


def count_left(ranges: Iterable[Range], used: Mapping[int, Collection[int]]) -> list[Left]:
    """Count what is left of each range.

    Args:
        ranges: The ranges.
        used: The numbers that may not be given, by facility.
    """
    counted = []
    for one in ranges:
        total = one.last - one.first + 1
        gone = sum(one.first <= number <= one.last for number in used.get(one.facility, ()))
        counted.append(Left(one, total, total - gone))
    return counted


def give_numbers(
    sites: Sequence[str], ranges: Sequence[Range], used: Mapping[int, Collection[int]]
) -> list[tuple[int, int]]:
    """Give each of some people a number that nobody has: the lowest free one of their ranges, in
    the order of the ranges.

    Args:
        sites: Of the people, in the order in which they get one.
        ranges: All ranges.
        used: The numbers that may not be given, by facility.

    Returns:
        Facility and number of each, in their order.

    Raises:
        NoNumbersLeft: There are too few for those of a site.
    """
    taken = {facility: set(numbers) for facility, numbers in used.items()}
    next_free = [one.first for one in ranges]
    given: list[tuple[int, int]] = []
    for place, site in enumerate(sites):
        for one in ranges_for(site, ranges):
            index = ranges.index(one)
            numbers = taken.setdefault(one.facility, set())
            number = next_free[index]
            while number <= one.last and number in numbers:
                number += 1
            next_free[index] = number
            if number <= one.last:
                numbers.add(number)
                given.append((one.facility, number))
                break
        else:
            wanted = sum(ranges_for(other, ranges) == ranges_for(site, ranges) for other in sites)
            had = sum(
                ranges_for(other, ranges) == ranges_for(site, ranges) for other in sites[:place]
            )
            raise NoNumbersLeft(site, wanted, had)
    return given
