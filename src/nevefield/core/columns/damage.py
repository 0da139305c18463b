"""What spreadsheets do to values: error texts, letters read in the wrong encoding, days turned
into numbers, lost digits.
"""

from __future__ import annotations

import re
from datetime import date, timedelta

__all__ = [
    "CUT_AT",
    "ERRORS",
    "ODD_LETTERS",
    "WRONG_LETTERS",
    "clean_text",
    "days_of_serial",
    "lost_digits",
    "mend_letters",
    "whole_of_scientific",
]

# What a cell shows in place of a value that could not be worked out.
ERRORS = frozenset(
    {
        "#REF!",
        "#VALUE!",
        "#NAME?",
        "#DIV/0!",
        "#N/A",
        "#NULL!",
        "#NUM!",
        "#SPILL!",
        "#CALC!",
        "####",
        "#####",
        "########",
    }
)
_SERIAL = re.compile(r"[1-6]\d{4}(?:[.,]0+)?")
_SCIENTIFIC = re.compile(r"(\d)(?:[.,](\d+))?[eE]\+?(\d{1,3})")
# Letters that stand at the beginning of two or three bytes of UTF-8 when those are read as
# Windows-1252.
WRONG_LETTERS = "[\u00c2-\u00f4][\u0080-\u00bf\u0152\u0153\u0160\u0161\u0178\u017d\u017e\u0192\u02c6\u02dc\u2013-\u203a\u20ac\u2122]"
ODD_LETTERS = "[\u00a0\u1680\u2000-\u200d\u2028\u2029\u202f\u205f\u2060\u3000\ufeff\u00ad\u2018\u2019\u201a\u201b\u201c\u201d\u201e\u201f]"
_ODD_SPACE = re.compile("[\u00a0\u1680\u2000-\u200a\u2028\u2029\u202f\u205f\u3000]")
_NO_WIDTH = re.compile("[\u200b-\u200d\u2060\ufeff\u00ad]")
_QUOTES = str.maketrans(
    dict.fromkeys("\u2018\u2019\u201a\u201b", "'") | dict.fromkeys("\u201c\u201d\u201e\u201f", '"')
)
CUT_AT = 255  # characters: what some spreadsheets and old databases keep of a text
_WRONG = re.compile(WRONG_LETTERS)
# Both epochs: day 1 is 1 January 1900 (with a 29 February 1900 that never was), or day 0 is 1
# January 1904.
_EPOCHS = (date(1899, 12, 30), date(1904, 1, 1))


def mend_letters(text: str) -> str:
    """Give back the letters of UTF-8 text that was read as Windows-1252; "" when that is not what
    happened.

    >>> mend_letters("Si\u00c3\u00a2n"), mend_letters("Si\u00e2n")
    ('Si\u00e2n', '')
    """
    if not _WRONG.search(text):
        return ""
    try:
        mended = b"".join(_byte_of(letter) for letter in text).decode("utf-8")
    except (UnicodeEncodeError, UnicodeDecodeError):
        return ""
    return mended if mended != text else ""


def _byte_of(letter: str) -> bytes:
    # The five bytes that Windows-1252 leaves undefined come through as control characters.
    return letter.encode("latin-1") if letter in "\x81\x8d\x8f\x90\x9d" else letter.encode("cp1252")


def clean_text(text: str) -> tuple[str, str]:
    """Make odd spaces inside a text plain, take what has no width out, and make curly quotation
    marks straight.

    Returns:
        The text, and what was done to it: `spaces`, `quotes`, or "" for nothing.

    >>> clean_text("O\u2019Neill"), clean_text("Ines\u00a0Mae")
    (("O'Neill", 'quotes'), ('Ines Mae', 'spaces'))
    """
    spaced = _ODD_SPACE.sub(" ", _NO_WIDTH.sub("", text))
    straight = spaced.translate(_QUOTES)
    return straight, "spaces" if spaced != text else "quotes" if straight != spaced else ""


def days_of_serial(text: str) -> tuple[date, ...]:
    """List the days that a serial number may stand for, the commoner epoch first; none when it
    is no such number.
    """
    if not _SERIAL.fullmatch(text):
        return ()
    number = int(re.split("[.,]", text)[0])
    return tuple(epoch + timedelta(days=number) for epoch in _EPOCHS)


def whole_of_scientific(text: str) -> str:
    """Write out a number in scientific notation when no digit was lost; "" otherwise.

    >>> whole_of_scientific("1.2045E+04"), whole_of_scientific("1.23457E+11")
    ('12045', '')
    """
    matched = _SCIENTIFIC.fullmatch(text)
    if not matched:
        return ""
    digits, power = matched[2] or "", int(matched[3])
    return matched[1] + digits if len(digits) == power else ""


def lost_digits(text: str) -> bool:
    """Tell whether a text is a number in scientific notation that has lost digits."""
    return bool(_SCIENTIFIC.fullmatch(text)) and not whole_of_scientific(text)
