"""Decide of what kind a column's values are: day, number, mail address, identifier, text."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import TYPE_CHECKING

import phonenumbers

from nevefield.core.columns.damage import days_of_serial
from nevefield.core.columns.dated import read_moment
from nevefield.core.columns.days import decide_order, read_day
from nevefield.core.columns.numbers import decide_mark, read_number
from nevefield.core.columns.words import NO, YES
from nevefield.core.opening.naming import (
    AMOUNTS,
    hints_at_day,
    names_people,
    numbers_something,
)
from nevefield.core.opening.schemes import shape_is_built
from nevefield.core.texts import key_of, shape_of

if TYPE_CHECKING:
    from datetime import date

    from nevefield.core.opening.looks import Look

__all__ = ["Kind", "country_of", "kind_of", "region_of"]

MOST = 0.9  # of the rows: the rest is found by checking
ALIKE = 0.98  # of the filled rows are different, in a column of identifiers
LONGEST_NUMBER = 15  # digits that a spreadsheet keeps
_MAIL = re.compile(r"[^\s@]+@[^\s@.]+(?:\.[^\s@.]+)+")
_PHONE = re.compile(r"[+(]?\d[\d ()./–-]{4,24}\d(?:\s*(?:ext|x)\.?\s*\d+)?", re.IGNORECASE)
_WHOLE = re.compile(r"[+-]?\d{1,18}")
_MARKS = frozenset(["x", "✓", "✔", "☑", "×", "√", "☒", "✗", "✘", "☐", "•", "●", "*"])
MOST_ASKED = 300  # phone numbers that are asked for their country
_COUNTRY = ("country", "land", "pays", "pais", "paese", "kraj", "nation", "staat", "zeme")
FIRST_YEAR, YEARS_AHEAD = 1900, 25


@dataclass(frozen=True)
class Kind:
    """What a column's values are.

    Args:
        name: `mail`, `date`, `datetime`, `boolean`, `phone`, `identifier`, `year`, `integer`,
            `number` or `text` (which may turn out to be a code).
        why: What was seen, in words.
        sure: Whether nothing speaks against it.
    """

    name: str
    why: str = ""
    sure: bool = True


def kind_of(look: Look, today: date) -> Kind:
    """Decide of what kind a column's values are, by what stands in its rows and by its heading."""
    if look.share(_MAIL.fullmatch) >= 0.8:
        return Kind("mail", "mail addresses")
    for decide in (_as_day, _as_choice, _as_phone, _as_number):
        if kind := decide(look, today):
            return kind
    return _as_text(look)


def _as_day(look: Look, today: date) -> Kind | None:
    order, deciding = decide_order(look.texts)
    days = look.share(lambda text: _is_day(text, order, today))
    bare = look.share(str.isdigit)
    if days >= (0.98 if bare > 0.5 and not hints_at_day(look.words) else MOST):
        which = {"dmy": "day before month", "mdy": "month before day"}.get(order, "")
        return Kind(
            "date",
            f"days; {which}: {deciding:,} can only be read so" if which else "days",
            bool(which) or look.share(_is_open) < 0.05,
        )
    if (
        look.share(lambda text: read_moment(text, order, today) or read_day(text, order, today))
        >= MOST
    ):
        return Kind("datetime", "days with a time")
    if hints_at_day(look.words) and look.share(_is_serial) >= MOST:
        return Kind("date", "days that a spreadsheet turned into numbers", sure=False)
    return None


def _is_day(text: str, order: str, today: date) -> bool:
    return read_day(text, order, today) is not None


def _is_open(text: str) -> bool:
    return re.fullmatch(r"\d{1,2}[/-]\d{1,2}[/-]\d{2,4}", text) is not None


def _is_serial(text: str) -> bool:
    return bool(re.fullmatch(r"[1-6]\d{4}", text)) and bool(days_of_serial(text))


def _as_choice(look: Look, _: date) -> Kind | None:
    """Yes and no, in words or as marks."""
    texts = {text.casefold() for text in look.texts}
    if look.share(lambda text: text.casefold() in YES | NO | _MARKS) < ALIKE:
        return None
    said = texts & (YES | NO | _MARKS)
    pairs = bool(said & (YES | _MARKS)) and bool(said & NO)
    ticked = said <= _MARKS | (YES - {"1", "t", "y", "j", "no", "n"}) and not look.is_full
    if not (pairs or ticked):
        return None
    return Kind("boolean", "yes or no" if pairs else "ticked where it is so", pairs)


def _as_phone(look: Look, today: date) -> Kind | None:
    fits = look.share(lambda text: _is_phone(text))
    if "phone" in look.words and fits >= 0.8:
        return Kind("phone", "phone numbers")
    signed = look.share(lambda text: text.startswith(("+", "00", "(0")) and len(text) >= 9)
    gapped = look.share(lambda text: bool(re.search(r"\d[ ()./-]\d", text)))
    if signed < 0.3 and look.distinct >= ALIKE and _is_of_one_shape(look):
        return None  # numbers of people or books, with signs between: 123-45-6789
    if fits >= MOST and "number" not in look.words and (signed >= 0.3 or gapped >= 0.8):
        plain = [text for text in look.texts if not _is_day(text, "", today)]
        if len(plain) == len(look.texts) and look.distinct > 0.5:
            return Kind("phone", "phone numbers", sure=signed >= 0.3)
    return None


def _is_of_one_shape(look: Look) -> bool:
    shapes: dict[str, int] = {}
    for text, rows in look.sample.items():
        shapes[shape_of(text)] = shapes.get(shape_of(text), 0) + rows
    return max(shapes.values()) >= ALIKE * sum(shapes.values())


def _is_phone(text: str) -> bool:
    return bool(_PHONE.fullmatch(text)) and 6 <= sum(map(str.isdigit, text)) <= 15


def _as_number(look: Look, today: date) -> Kind | None:
    numbers = numbers_something(look.words)
    if numbers and look.distinct >= ALIKE and shape_is_built(look.texts):
        return None
    whole = look.share(_WHOLE.fullmatch)
    if whole >= MOST:
        return None if _is_no_number(look) else _whole_number(look, today)
    mark, _ = decide_mark(look.texts)
    fits = look.share(lambda text: read_number(text, mark) is not None)
    if fits < MOST or _is_no_number(look) or numbers:
        return None
    return Kind("number", f"numbers with a decimal {'comma' if mark == ',' else 'point'}")


def _is_no_number(look: Look) -> bool:
    """Tell whether digits are no amounts: they begin with 0, are too long, or the heading says so.

    A tenth with a leading zero is enough: a spreadsheet that takes such for numbers loses it.
    """
    led = look.tell(lambda text: len(text) > 1 and text[0] == "0" and text.isdigit())
    if led >= max(2, 0.02 * look.filled):
        return True
    if look.share(lambda text: sum(map(str.isdigit, text)) > LONGEST_NUMBER) > 0.1:
        return True
    if look.words & {"postcode", "phone"}:
        return True
    lengths = {len(text) for text in look.texts}
    if names_people(look.words) and look.distinct >= ALIKE:
        return True
    if numbers_something(look.words):
        return look.distinct >= ALIKE or (len(lengths) == 1 and min(lengths) >= 4)
    is_long = len(lengths) == 1 and min(lengths) >= 6
    return look.distinct >= ALIKE and is_long and not look.words & AMOUNTS and look.filled >= 5


def _whole_number(look: Look, today: date) -> Kind:
    inside = look.share(lambda text: _is_year(text, today))
    named = "year" in look.words or "jahrgang" in look.words or hints_at_day(look.words)
    if inside >= MOST and (named or (len(look.counts) > 2 and not look.words & AMOUNTS)):
        return Kind("year", "years", sure=named)
    if hints_at_day(look.words) and look.share(_is_serial) >= MOST:
        return Kind("date", "days that a spreadsheet turned into numbers", sure=False)
    return Kind("integer", _range_of(look))


def _range_of(look: Look) -> str:
    numbers = [int(text) for text in look.texts if _WHOLE.fullmatch(text)]
    return f"whole numbers, {min(numbers):,} to {max(numbers):,}"


def _is_year(text: str, today: date) -> bool:
    return bool(re.fullmatch(r"[12]\d{3}", text)) and (
        FIRST_YEAR <= int(text) <= today.year + YEARS_AHEAD
    )


def _as_text(look: Look) -> Kind:
    if look.words & {"postcode", "street", "town"}:
        return Kind("text")
    if "name" in look.words and "number" not in look.words:
        return Kind("text")
    if look.distinct >= ALIKE and look.filled >= 3 and _is_numbering(look):
        return Kind("identifier")
    if numbers_something(look.words) and _is_built_of_digits(look):
        return Kind("identifier", sure=look.distinct >= 0.5)
    return Kind("text")


def _is_numbering(look: Look) -> bool:
    if look.share(lambda text: 2 <= len(text) <= 40) < MOST:
        return False
    if shape_is_built(look.texts):
        return True
    is_named = numbers_something(look.words) or names_people(look.words)
    return is_named and look.share(_is_code_with_digits) >= MOST


def _is_code_with_digits(text: str) -> bool:
    digits = any(map(str.isdigit, text))
    return digits and not re.search(r"[\s@,;]\S*[\s@,;]", text)


def _is_built_of_digits(look: Look) -> bool:
    return shape_is_built(look.texts) and look.share(lambda text: len(text) >= 4) >= MOST


def region_of(look: Look) -> str:
    """Find the country of most of a column's phone numbers that say one; "" where none does.

    Returns:
        Two letters of ISO 3166-1.
    """
    found: dict[str, int] = {}
    for text, count in list(look.counts.items())[:MOST_ASKED]:
        written = "+" + text[2:] if text.startswith("00") else text
        if not written.startswith("+"):
            continue
        try:
            number = phonenumbers.parse(written)
        except phonenumbers.NumberParseException:
            continue
        region = phonenumbers.region_code_for_number(number)
        if not region and number.country_code:
            region = phonenumbers.region_code_for_country_code(number.country_code)
        if region and region not in ("ZZ", "001"):
            found[region] = found.get(region, 0) + count
    best = max(found, key=lambda region: found[region], default="")
    return best if best and found[best] * 2 > sum(found.values()) else ""


def country_of(look: Look) -> str:
    """Find the country that most rows of a column of countries say, by their two letters; "" where
    it is no such column.

    Returns:
        Two letters of ISO 3166-1.
    """
    if not key_of(look.heading).startswith(_COUNTRY) or not look.counts:
        return ""
    best = max(look.counts, key=lambda text: look.counts[text])
    is_code = look.share(lambda text: text.upper() in phonenumbers.SUPPORTED_REGIONS) >= MOST
    return best.upper() if is_code else ""
