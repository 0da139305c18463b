"""Card numbers: how many bits they have, which are left, and which are given next.

A number is of a facility; the two together are unique. Source of the usual form: SIA AC-01-1996.10,
26-bit Wiegand reader interface: 8 bits of facility and 16 of number between two parity bits, even
over the first half and odd over the second. Longer ones are built alike.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.errors import NoNumbersLeft
from nevefield.core.texts import read_whole

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Mapping, Sequence

    from nevefield.core.cards.design import Numbering, Range

__all__ = [
    "Left",
    "count_left",
    "find_unlike",
    "give_numbers",
    "ranges_for",
    "read_number",
    "wiegand",
    "write_number",
]


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


def write_number(number: int, numbering: Numbering) -> str:
    """Write a number as it stands in the register and on a card.

    >>> from nevefield.core.cards.design import Numbering
    >>> write_number(4512, Numbering(before="LIB-", digits=6)), write_number(7, Numbering())
    ('LIB-004512', '7')
    """
    return f"{numbering.before}{number:0{numbering.digits}d}"


def read_number(text: str, before: str = "") -> int | None:
    """Read a number of the register with what stands before it, and with whatever zeros; None when
    it is none of these.

    >>> [read_number(one, "LIB-") for one in ("lib-004512", "LIB-7", "7", "LIB-²")]
    [4512, 7, None, None]
    """
    text, length = text.strip(), len(before)
    if text[:length].casefold() != before.casefold():
        return None
    return read_whole(text[length:])


def find_unlike(texts: Iterable[str], numbering: Numbering) -> str:
    """Find a number of the register that shows that new ones would be written otherwise; "" when
    some are written so, there are none, or somebody has said how they are written.
    """
    first = ""
    if numbering.before or numbering.digits:
        return first
    for text in texts:
        number = read_number(text, numbering.before)
        if number is not None and write_number(number, numbering) == text.strip():
            return ""
        first = first or text.strip()
    return first


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
