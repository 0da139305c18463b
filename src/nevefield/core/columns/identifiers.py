"""Identifiers by their scheme: prefix, alphabet, length, check character; and what can be
mended.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from itertools import product
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.columns.damage import lost_digits, whole_of_scientific
from nevefield.core.columns.schemes import alphabet_of, check_length, holds
from nevefield.core.texts import SPACES

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.definition import Identifier

__all__ = ["Mended", "add_check", "mend_identifier", "plain_identifiers"]

_GAPS = re.compile(f"[{SPACES}-]+")


@dataclass(frozen=True)
class Mended:
    """An identifier after what could be mended: a value with perhaps a repair, or a problem."""

    value: str
    repair: str = ""  # spaces, case, zeros
    message: str = ""
    problem: str = ""
    pattern: str = ""  # which damage, for the cause
    suggestions: tuple[str, ...] = ()


def plain_identifiers(scheme: Identifier, values: Arrow) -> NDArray[np.bool_]:
    """Tell which texts of an Arrow string array are right as they stand."""
    if not scheme.length:
        return np.zeros(len(values), bool)
    fits = pc.and_(
        pc.equal(pc.binary_length(values), scheme.length),
        pc.match_substring_regex(values, r"^[\x21-\x7e]*$"),
    ).to_numpy(zero_copy_only=False)
    result = np.zeros(len(values), bool)
    chosen = values.filter(pa.array(fits))
    if not len(chosen):
        return result
    offsets = np.frombuffer(chosen.buffers()[1], np.int32)[
        chosen.offset : chosen.offset + len(chosen) + 1
    ]
    data = np.frombuffer(chosen.buffers()[2], np.uint8)[offsets[0] : offsets[-1]]
    result[fits] = _right(scheme, data.reshape(-1, scheme.length))
    return result


def _right(scheme: Identifier, letters: NDArray[np.uint8]) -> NDArray[np.bool_]:
    """Tell which rows of a matrix of ASCII letters, one row an identifier, follow the scheme."""
    prefix = np.frombuffer(scheme.prefix.encode(), np.uint8)
    right: NDArray[np.bool_] = (letters[:, : len(prefix)] == prefix).all(axis=1)
    checks = check_length(scheme.check)
    body = letters[:, len(prefix) : letters.shape[1] - checks]
    if scheme.alphabet:
        allowed = np.zeros(256, bool)
        allowed[np.frombuffer(scheme.alphabet.encode("ascii", "ignore"), np.uint8)] = True
        right &= allowed[body].all(axis=1)
    if not scheme.check:
        return right
    body_values, check_values = _tables(scheme.check)
    start = 0 if scheme.whole else len(prefix)
    values = np.concatenate(
        [
            body_values[letters[:, start : letters.shape[1] - checks]],
            check_values[letters[:, letters.shape[1] - checks :]],
        ],
        axis=1,
    )
    known = np.asarray((values >= 0).all(axis=1))
    return (
        right
        & known
        & holds(scheme.check, np.maximum(values, 0), weights=scheme.weights, modulus=scheme.modulus)
    )


@lru_cache
def _tables(check: str) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    tables = []
    for alphabet in alphabet_of(check):
        table = np.full(256, -1, np.int64)
        table[np.frombuffer(alphabet.encode(), np.uint8)] = np.arange(len(alphabet))
        tables.append(table)
    return tables[0], tables[1]


def _is_right(scheme: Identifier, text: str) -> bool:
    if not text.isascii() or (scheme.length and len(text) != scheme.length):
        return False
    if len(text) < len(scheme.prefix) + check_length(scheme.check) + 1 or not text.startswith(
        scheme.prefix
    ):
        return False
    if scheme.alphabet and text[len(scheme.prefix)] not in scheme.alphabet:
        return False
    return bool(_right(scheme, np.frombuffer(text.encode(), np.uint8)[None, :])[0])


def add_check(scheme: Identifier, body: str) -> str:
    """Complete prefix and body with the check character that fits; "" when none does (Luhn always
    has one).

    Args:
        scheme: The scheme.
        body: The characters between prefix and check.
    """
    if not scheme.check:
        return scheme.prefix + body
    checks = alphabet_of(scheme.check)[1]
    tails = map("".join, product(checks, repeat=check_length(scheme.check)))
    loose = type(scheme)(
        0,
        scheme.prefix,
        scheme.alphabet,
        scheme.check,
        scheme.whole,
        scheme.weights,
        scheme.modulus,
    )
    return next(
        (
            scheme.prefix + body + tail
            for tail in tails
            if _is_right(loose, scheme.prefix + body + tail)
        ),
        "",
    )


def mend_identifier(scheme: Identifier, text: str) -> Mended:
    """Read one identifier, mending what can be mended with certainty.

    Args:
        scheme: The scheme.
        text: Trimmed.

    Returns:
        The value with its repair (spaces and hyphens removed, case, leading zeros given back when
        the check character agrees), or the problem with values that it may be.
    """
    if _is_right(scheme, text):
        return Mended(text)
    closed = _GAPS.sub("", text)
    if closed != text and _is_right(scheme, closed):
        return Mended(closed, "spaces", f"Spaces or hyphens in “{text}” were taken out: {closed}.")
    upper = closed.upper()
    if upper != closed and _is_right(scheme, upper):
        return Mended(upper, "case", f"“{text}” is written {upper}.")
    whole = whole_of_scientific(upper)
    if whole and _is_right(scheme, whole) and scheme.check:
        return Mended(
            whole, "number", f"“{text}” had been written in scientific notation: {whole}."
        )
    if lost_digits(closed):
        return Mended(
            text,
            problem="has lost its last digits in a spreadsheet; they cannot be given back",
            pattern="scientific",
        )
    alike = _unlike(scheme, upper)
    if alike != upper and _is_right(scheme, alike):
        if scheme.check:
            return Mended(alike, "letters", f"“{text}” had letters that look like digits: {alike}.")
        return Mended(
            text, problem="has letters that look like digits", pattern="alike", suggestions=(alike,)
        )
    padded = _pad(scheme, upper)
    if padded and _is_right(scheme, padded):
        if scheme.check:
            return Mended(padded, "zeros", f"“{text}” had lost its leading zeros: {padded}.")
        missing = scheme.length - len(upper)
        message = (
            f"{missing} character{'s' if missing > 1 else ''} short; leading zeros may be lost"
        )
        return Mended(text, problem=message, pattern="zeros", suggestions=(padded,))
    return _explain(scheme, text, upper)


# Letters that look like others; a person who types or a program that reads pictures mistakes them.
_LATIN = str.maketrans("АВЕКМНОРСТУХІЈЅ", "ABEKMHOPCTYXIJS")
_DIGITS = str.maketrans("OQDIL|ZSB", "000111258")


def _unlike(scheme: Identifier, text: str) -> str:
    """Put what belongs there in place of letters that look like it: Latin for Cyrillic, digits
    where only digits may be.
    """
    latin = text.translate(_LATIN)
    start, end = len(scheme.prefix), len(latin) - check_length(scheme.check)
    body, check = latin[start:end], latin[end:]
    if scheme.alphabet.isdigit():
        body = body.translate(_DIGITS)
    if scheme.check and alphabet_of(scheme.check)[1].rstrip("X").isdigit():
        check = check.translate(_DIGITS)
    return latin[:start] + body + check


def _pad(scheme: Identifier, text: str) -> str:
    body = text.removeprefix(scheme.prefix)
    if (
        not scheme.length
        or len(text) >= scheme.length
        or not body
        or not re.fullmatch(r"\d+[X\d]?", body)
    ):
        return ""
    if scheme.prefix and not text.startswith(scheme.prefix):
        return ""
    return scheme.prefix + body.rjust(scheme.length - len(scheme.prefix), "0")


def _explain(scheme: Identifier, text: str, closed: str) -> Mended:
    if scheme.prefix and not closed.startswith(scheme.prefix):
        return Mended(text, problem=f"does not begin with {scheme.prefix}", pattern="prefix")
    if scheme.length and len(closed) != scheme.length:
        return Mended(
            text, problem=f"has {len(closed)} characters, not {scheme.length}", pattern="length"
        )
    checks = check_length(scheme.check)
    body = closed[len(scheme.prefix) : len(closed) - checks]
    odd = sorted({letter for letter in body if scheme.alphabet and letter not in scheme.alphabet})
    if odd:
        return Mended(
            text, problem=f"has {', '.join(odd)}, which cannot stand there", pattern="alphabet"
        )
    swapped = tuple(
        dict.fromkeys(
            swap for swap in _swaps(closed, len(scheme.prefix)) if _is_right(scheme, swap)
        )
    )
    return Mended(
        text, problem="check character does not fit", pattern="check", suggestions=swapped[:3]
    )


def _swaps(text: str, start: int) -> list[str]:
    """List the text with each two neighbours swapped: the commonest slip when typing."""
    return [
        text[:place] + text[place + 1] + text[place] + text[place + 2 :]
        for place in range(start, len(text) - 1)
        if text[place] != text[place + 1]
    ]
