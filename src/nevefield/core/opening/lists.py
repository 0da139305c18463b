"""Propose a code list from texts that repeat: which are one code written in several ways, which are
none, and what the codes are.
"""

from __future__ import annotations

import re
import unicodedata
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.codes import Code, CodeList
from nevefield.core.people.scripts import to_latin
from nevefield.core.texts import fold, plain_letters, slip_cost, squeeze

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence

__all__ = ["Grouped", "Way", "group_values", "make_list", "repeats", "sort_by_hand"]

MOST_CODES, LONGEST = 60, 60  # of a list; characters of a text
OFTEN = 2  # rows that each has, on the average, at the least
RARE = 2  # rows of what may be no code
SLIP_FROM = 5  # letters of a text in which a slip is one
SELDOM = 0.15  # rows of a slip, against those of what was meant
LONGEST_CODE = 12
LONGEST_LEVEL = 3  # letters of a code that a sign tells from another
FAR_COMMONER = 20  # times, for a slip in a text of four letters
HALF_A_SLIP = 0.5
_CODE = re.compile(r"[^\W_a-z][^\W_a-z./_-]*(?:[./_-][^\W_a-z./_-]+)*")
_DIGITS = re.compile(r"\d+")
_LEVELS = "+#*-"  # which tell short codes apart: A, A-, A+


@dataclass(frozen=True)
class Way:
    """One text of a code, and how it came to it.

    Args:
        text: As it is written.
        rows: That have it.
        sure: Whether it differs in case, spaces and punctuation only.
    """

    text: str
    rows: int
    sure: bool = True


@dataclass(frozen=True)
class Grouped:
    """Texts by the code that they stand for, the commonest way of writing each first.

    Args:
        codes: In the order of the texts' alphabet.
        none: Texts that are no code.
    """

    codes: tuple[tuple[Way, ...], ...]
    none: tuple[Way, ...] = ()


def repeats(grouped: Grouped) -> bool:
    """Tell whether texts repeat as codes do: few, short, each in more than two rows on the
    average.
    """
    rows = sum(way.rows for ways in grouped.codes for way in ways)
    return (
        0 < len(grouped.codes) <= MOST_CODES
        and rows > OFTEN * len(grouped.codes)
        and all(len(way.text) <= LONGEST for ways in grouped.codes for way in ways)
    )


def group_values(counts: Mapping[str, int]) -> Grouped:
    """Bring together texts that are one code, written in several ways.

    Args:
        counts: Rows of each text.

    >>> [[way.text for way in ways] for ways in group_values({"Holm Sands": 9, "holm sands": 1}).codes]
    [['Holm Sands', 'holm sands']]
    """  # noqa: E501
    same: dict[str, list[Way]] = {}
    for text, rows in sorted(counts.items(), key=lambda pair: (-pair[1], pair[0])):
        same.setdefault(_key(text), []).append(Way(text, rows))
    none = same.pop("", [])
    groups = sorted(same.values(), key=_rows, reverse=True)
    kept: list[list[Way]] = []
    for group in groups:
        meant = _meant(group, kept)
        if meant is None:
            kept.append(group)
        else:
            meant.extend(Way(way.text, way.rows, sure=False) for way in group)
    codes, odd = _part_odd(kept)
    return Grouped(
        tuple(tuple(group) for group in sorted(codes, key=lambda one: fold(one[0].text))),
        (*none, *(way for group in odd for way in group)),
    )


def sort_by_hand(grouped: Grouped, ways: Mapping[str, str]) -> Grouped:
    """Sort texts as a person said.

    Args:
        grouped: As it was found.
        ways: What a text stands for: another, "" for no code, itself for a code of its own.
    """
    if not ways:
        return grouped
    every = [way for one in (*grouped.codes, grouped.none) for way in one]
    rest = [[way for way in one if way.text not in ways] for one in grouped.codes]
    none = [way for way in grouped.none if way.text not in ways]
    moved = {way.text: Way(way.text, way.rows) for way in every if way.text in ways}
    groups = [group for group in rest if group]
    # those of their own first: others may be put to them
    for text, way in moved.items():
        if ways[text] == text:
            groups.append([way])
    for text, way in moved.items():
        if ways[text] == text:
            continue
        home = next((one for one in groups if any(known.text == ways[text] for known in one)), none)
        home.append(way)
    return Grouped(
        tuple(tuple(group) for group in sorted(groups, key=lambda one: fold(one[0].text))),
        tuple(none),
    )


def _rows(group: Sequence[Way]) -> int:
    return sum(way.rows for way in group)


def _key(text: str) -> str:
    """Bring a text to what case, spaces and punctuation leave of it; signs that tell levels apart
    stay on short ones.
    """
    plain = plain_letters(squeeze(text)).casefold()
    bare = re.sub(r"[\W_]+", "", plain)
    if not bare or len(bare) > LONGEST_LEVEL:
        return bare
    return (
        bare
        + plain[len(plain.rstrip(_LEVELS)) :]
        + plain[: len(plain) - len(plain.lstrip(_LEVELS))]
    )


def _meant(group: Sequence[Way], kept: Sequence[list[Way]]) -> list[Way] | None:
    """Find the commoner code that a rare text is a slip or a short form of; None where it is its
    own, or may be several.
    """
    rows = _rows(group)
    text = group[0].text
    near = [
        one
        for one in kept
        if rows <= max(RARE, SELDOM * _rows(one))
        and _rows(one) >= 3 * rows
        and (
            _is_slip(text, one[0].text, _rows(one) // rows)
            or any(_is_short(way.text, one[0].text) for way in group)
            or _is_spelt_out(text, one[0].text)
        )
    ]
    return near[0] if len(near) == 1 else None


def _is_slip(text: str, meant: str, times: int) -> bool:
    """Tell whether a text is another one with a slip; that one is so many times as common."""
    typed, wanted = (plain_letters(squeeze(one)).casefold() for one in (text, meant))
    if abs(len(typed) - len(wanted)) > 2 or min(len(typed), len(wanted)) < SLIP_FROM - 1:
        return False
    if min(len(typed), len(wanted)) < SLIP_FROM:
        most = HALF_A_SLIP if max(len(typed), len(wanted)) < SLIP_FROM else 1.0
        if times < FAR_COMMONER or slip_cost(typed, wanted) > most:
            return False
    # another number is another thing: Year 1, Year 2
    if _DIGITS.findall(typed) != _DIGITS.findall(wanted) or typed == wanted:
        return False
    if _differ_in_one_short_word(typed, wanted):
        return False
    return slip_cost(typed, wanted) <= (1.0 if len(wanted) < 10 else 1.5)


def _differ_in_one_short_word(text: str, other: str) -> bool:
    """Tell whether two texts differ in a word of one or two letters only: Team A, Team B."""
    ours, theirs = text.split(), other.split()
    if len(ours) != len(theirs):
        return False
    pairs = [pair for pair in zip(ours, theirs, strict=True) if pair[0] != pair[1]]
    return len(pairs) == 1 and max(map(len, pairs[0])) <= 2


def _is_short(text: str, whole: str) -> bool:
    """Tell whether a text is another one with words cut short: "Kelder R." for "Kelder Ridge"."""
    ours = plain_letters(text).casefold().replace(".", ". ").split()
    theirs = plain_letters(whole).casefold().split()
    if len(ours) != len(theirs) or ours == theirs:
        return False
    least = 2 if len(ours) > 1 else 3
    return all(
        one == other or _is_clipped(one, other, least)
        for one, other in zip(ours, theirs, strict=True)
    )


def _is_clipped(word: str, whole: str, least: int) -> bool:
    """Tell whether a word is another one cut short with a point, or without its middle: R.,
    dept.
    """
    bare = word.removesuffix(".")
    if word.endswith(".") and bare and whole.startswith(bare):
        return True
    if not least <= len(bare) <= 0.7 * len(whole) or bare[0] != whole[0] or bare[-1] != whole[-1]:
        return False
    letters = iter(whole)
    return all(letter in letters for letter in bare)


def _is_spelt_out(text: str, code: str) -> bool:
    """Tell whether a text is the label of a code that is its beginning: "Navigation" of NAV."""
    return (
        len(code) >= 3
        and bool(_CODE.fullmatch(code))
        and not _CODE.fullmatch(text)
        and plain_letters(text).upper().startswith(code)
    )


def _part_odd(groups: Sequence[list[Way]]) -> tuple[list[list[Way]], list[list[Way]]]:
    """Part off what stands once or twice and is written like no other."""
    written = Counter(_manner(group[0].text) for group in groups)
    codes: list[list[Way]] = []
    odd: list[list[Way]] = []
    for group in groups:
        alone = written[_manner(group[0].text)] == 1 and len(groups) > 2
        (odd if alone and _rows(group) <= RARE else codes).append(group)
    return codes, odd


def _manner(text: str) -> tuple[str, bool, bool]:
    """Say how a text is written: in which letters and case, with digits or not, with signs or
    not.
    """
    letters = [letter for letter in text if letter.isalpha()]
    script = unicodedata.name(letters[0], "").split(" ")[0] if letters else ""
    upper = bool(letters) and all(letter.isupper() for letter in letters) and len(letters) > 1
    lower = bool(letters) and all(letter.islower() for letter in letters)
    case = "upper" if upper else "lower" if lower else "word" if letters else "none"
    return (
        script + case,
        any(map(str.isdigit, text)),
        bool(re.search(r"[?!*=<>#]", text)),
    )


def make_list(name: str, grouped: Grouped, parents: Mapping[str, str] | None = None) -> CodeList:
    """Make the codes: a value itself where it is written like a code, else from its label.

    Args:
        name: Of the list.
        grouped: Its values.
        parents: The parent's code of a value, by the value's commonest way.
    """
    firsts = [ways[0].text for ways in grouped.codes]
    coded = sum(_is_code(text) for text in firsts) >= 0.8 * len(firsts)
    taken: set[str] = {text for text in firsts if coded and _is_code(text)}
    codes = []
    for ways in grouped.codes:
        first = ways[0].text
        if coded and _is_code(first):
            label = next((way.text for way in ways[1:] if _is_spelt_out(way.text, first)), "")
            code = first
        else:
            code, label = make_code(first, taken), first
            taken.add(code)
        aliases = [
            way.text for way in ways[1:] if fold(way.text) not in (fold(code), fold(label or code))
        ]
        codes.append(
            Code(code, label, (parents or {}).get(first, ""), tuple(dict.fromkeys(aliases)))
        )
    return CodeList(name, tuple(codes))


def _is_code(text: str) -> bool:
    return len(text) <= LONGEST_CODE and bool(_CODE.fullmatch(text))


def make_code(label: str, taken: Collection[str]) -> str:
    """Make a code of three letters or more from a label, unlike those that are taken.

    >>> make_code("Holm Sands", []), make_code("Holm Point", ["HOL"]), make_code("Year 7", [])
    ('HOL', 'HOP', 'YEA7')
    """
    plain = plain_letters(to_latin(plain_letters(label).casefold())).upper()
    words = re.findall(r"[A-Z]+|\d+", plain)
    letters = "".join(word for word in words if word.isalpha())
    digits = "".join(word for word in words if word.isdigit())
    if not letters and not digits:
        return _unlike(squeeze(label)[:LONGEST_CODE], taken)
    first, *rest = [word for word in words if word.isalpha()] or [""]
    heads = "".join(word[0] for word in [first, *rest] if word)
    tries = [
        first[:3] if len(first) > 2 else letters[:3],
        first[:2] + (rest[0][0] if rest else first[2:3]),
        heads if len(heads) > 1 else "",
        first[:4],
        first[:1] + "".join(letter for letter in first[1:] if letter not in "AEIOUY")[:3],
        letters[:6],
    ]
    for one in tries:
        if one and one + digits not in taken:
            return str(one + digits)[:LONGEST_CODE]
    return _unlike((tries[0] + digits) or "C", taken)


def _unlike(code: str, taken: Collection[str]) -> str:
    made, number = code, 2
    while made in taken:
        made, number = f"{code}{number}", number + 1
    return made
