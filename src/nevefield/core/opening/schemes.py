"""Find how identifiers are built: length, prefix, alphabet, and a check character that chance does
not explain.
"""

from __future__ import annotations

import re
import string
from collections import Counter
from dataclasses import dataclass, replace
from itertools import cycle, islice
from typing import TYPE_CHECKING

import pyarrow as pa
from scipy.special import bdtrc

from nevefield.core.columns.identifiers import plain_identifiers
from nevefield.core.columns.schemes import check_length
from nevefield.core.definition import Identifier

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from nevefield.core.borders import Json

__all__ = ["Built", "find_scheme", "is_coded", "say_scheme", "shape_is_built", "write_scheme"]

HOLDS = 0.95  # of the values
CHANCE = 1e-6  # that so many fit a check by chance
LETTERS_SEEN = 360  # after so many of them, a letter that never came is none (26 ln 10⁶)
MOST_LOOKED_AT = 5_000  # distinct values
VARIED = 5  # different check characters: with fewer, what they follow may be something else
# How many identifiers have the right check character by chance: one in the modulus.
CHANCES = {
    "luhn": 1 / 10,
    "damm": 1 / 10,
    "verhoeff": 1 / 10,
    "iso7064-mod11-10": 1 / 10,
    "iso7064-mod11-2": 1 / 11,
    "iso7064-mod27-26": 1 / 26,
    "iso7064-mod37-36": 1 / 36,
    "iso7064-mod37-2": 1 / 37,
    "iso7064-mod97-10": 1 / 97,
    "iso7064-mod661-26": 1 / 661,
    "iso7064-mod1271-36": 1 / 1271,
}
NAMES = {"luhn": "Luhn", "damm": "Damm", "verhoeff": "Verhoeff", "weighted": "weighted sum"} | {
    name: f"ISO 7064, {name.removeprefix('iso7064-').replace('mod', 'mod ').replace('-', ',')}"
    for name in CHANCES
    if name.startswith("iso7064")
}
_CAPITALS = re.compile(r"[A-Z0-9]{5,}")
_GROUPS = re.compile(r"[A-Z]{0,3}\s?\d+(?:\s\d+)+")  # GB 12 345 678, 4000 1234 5678 9010
_GAPS = re.compile(r"[\s./-]")
# Weights that are in use, for bodies of any length, from the right: the modulus and a rule.
_WEIGHTS: tuple[tuple[int, tuple[int, ...]], ...] = (
    (10, (3, 1)),  # GS1 General Specifications, 7.9
    (10, (1, 3)),
    (10, (7, 3, 1)),  # ICAO Doc 9303, part 3, 4.9, from the left
    (11, tuple(range(2, 60))),  # ISO 2108:2005 annex, ISO 3297:2007 annex
    (11, tuple(range(1, 60))),
    (11, (2, 3, 4, 5, 6, 7)),
    (11, (2, 3, 4, 5, 6, 7, 8, 9)),
)


@dataclass(frozen=True)
class Built:
    """How identifiers are built, and of how many that holds.

    Args:
        scheme: Length, prefix, alphabet, check.
        checked: How many distinct values have the right check character; 0 without one.
        of: How many there are.
    """

    scheme: Identifier
    checked: int
    of: int


def find_scheme(texts: Sequence[str]) -> Built:
    """Find how identifiers are built.

    Args:
        texts: Distinct, trimmed.

    Returns:
        What holds for 95 in 100 of them or more; a check only where chance would let so many
        through less than once in a million.
    """
    looked = list(texts[:MOST_LOOKED_AT])
    plain = _parts(looked)
    checked = _find_check(looked, plain)
    if checked is None and sum(_GAPS.search(text) is not None for text in looked) > len(looked) / 2:
        closed = list(dict.fromkeys(_GAPS.sub("", text) for text in looked))
        checked = _find_check(closed, _parts(closed))
    return checked or Built(plain, 0, len(looked))


def shape_is_built(texts: Sequence[str]) -> bool:
    """Tell whether texts are built alike, as identifiers are: of one length, with digits, without
    words. Capitals and digits in any order are so too, though some have no digit by chance.
    """
    if not texts:
        return False
    lengths = Counter(map(len, texts))
    if max(lengths.values()) < 0.8 * len(texts):
        return False
    coded = sum(map(is_coded, texts))
    if coded >= HOLDS * len(texts):
        return True
    capitals = sum(_CAPITALS.fullmatch(text) is not None for text in texts)
    return capitals >= HOLDS * len(texts) and coded >= len(texts) / 2


def is_coded(text: str) -> bool:
    """Tell whether a text has digits and no words: one piece, or digits in groups."""
    if not any(letter.isdigit() for letter in text):
        return False
    return not re.search(r"\s", text) or _GROUPS.fullmatch(text) is not None


def _parts(texts: Sequence[str]) -> Identifier:
    """Find length, prefix and alphabet."""
    least = HOLDS * len(texts)
    length, count = Counter(map(len, texts)).most_common(1)[0]
    length = length if count >= least else 0
    prefix = _prefix_of(texts)
    begun = [text[len(prefix) :] for text in texts if text.startswith(prefix)]
    return Identifier(length=length, prefix=prefix, alphabet=_alphabet_of(begun, len(texts)))


def _prefix_of(texts: Sequence[str]) -> str:
    """Find what stands before the first digit in nearly all of them, the longest."""
    firsts = Counter(map(_before_digits, texts)).most_common(1)
    prefix = firsts[0][0] or next(iter(texts))[:2].rstrip(string.digits)
    while prefix and sum(text.startswith(prefix) for text in texts) < HOLDS * len(texts):
        prefix = prefix[:-1]
    return prefix


def _before_digits(text: str) -> str:
    """Give what stands before the first digit; "" where there is none."""
    return next((text[:at] for at, letter in enumerate(text) if letter.isdigit()), "")


def _alphabet_of(bodies: Sequence[str], of: int) -> str:
    """List the characters of nearly all bodies; "" where no small set of them does.

    Letters that have not come are taken in unless so many came that they would have.
    """
    rows: Counter[str] = Counter()
    letters = 0
    for body in bodies:
        rows.update(set(body))
        letters += sum(letter.isalpha() for letter in body)
    common = {letter for letter, count in rows.items() if count >= 0.002 * of and count > 0}
    capitals = {letter for letter in common if letter in string.ascii_uppercase}
    smalls = {letter for letter in common if letter in string.ascii_lowercase}
    for seen, whole in ((capitals, string.ascii_uppercase), (smalls, string.ascii_lowercase)):
        if len(seen) >= 10 and letters < LETTERS_SEEN:
            common |= set(whole)
    if common & set(string.digits):
        common |= set(string.digits)
    if sum(set(body) <= common for body in bodies) < HOLDS * of:
        common = set(rows)
    return "".join(sorted(common)) if len(common) <= 70 and common.isdisjoint(" ") else ""


def _find_check(texts: Sequence[str], parts: Identifier) -> Built | None:
    """Find the check character that holds; those that are named before weights that are not."""
    if not parts.length or len(texts) < VARIED:
        return None
    values = pa.array(texts, pa.string())
    for scheme, chance in _schemes(parts):
        right = values.filter(pa.array(plain_identifiers(scheme, values)))
        count = len(right)
        if count < HOLDS * len(texts) or bdtrc(count - 1, len(texts), chance) >= CHANCE:
            continue
        size = check_length(scheme.check)
        checked = right.to_pylist()
        if len({text[-size:] for text in checked}) < VARIED:
            continue
        bodies = [text[len(scheme.prefix) : -size] for text in checked]
        alphabet = _alphabet_of(bodies, len(bodies))
        return Built(replace(scheme, alphabet=alphabet), count, len(texts))
    return None


def _schemes(parts: Identifier) -> Iterator[tuple[Identifier, float]]:
    """List the schemes that identifiers of a length and prefix may follow, with how many would by
    chance.
    """
    ways = (False, True) if parts.prefix else (False,)
    bare = replace(parts, alphabet="")
    for name, chance in CHANCES.items():
        for whole in ways:
            yield replace(bare, check=name, whole=whole), chance
    body = parts.length - len(parts.prefix) - 1
    for modulus, weights in _weights(body):
        yield replace(bare, check="weighted", weights=weights, modulus=modulus), 1 / modulus


def _weights(size: int) -> Iterator[tuple[int, tuple[int, ...]]]:
    """List weights for a body of a size, each once: as they are in use, from either end, added or
    taken off.
    """
    listed: dict[tuple[int, tuple[int, ...]], None] = {}
    if size < 2:
        return
    for modulus, rule in _WEIGHTS:
        row = tuple(islice(cycle(rule), size))
        for one in (row[::-1], row):
            listed[modulus, tuple(weight % modulus for weight in one)] = None
            listed[modulus, tuple(-weight % modulus for weight in one)] = None
    yield from listed


def write_scheme(built: Built) -> dict[str, Json]:
    """Write how identifiers are built as a definition does."""
    scheme = built.scheme
    document: dict[str, Json] = {}
    if scheme.prefix:
        document["prefix"] = scheme.prefix
    if scheme.alphabet:
        document["alphabet"] = scheme.alphabet
    if scheme.length:
        document["length"] = scheme.length
    if scheme.check:
        document["check"] = scheme.check
    if scheme.whole:
        document["over"] = "whole"
    if scheme.weights:
        document["weights"], document["modulus"] = list(scheme.weights), scheme.modulus
    return document


def say_scheme(built: Built) -> str:
    """Say in words how identifiers are built."""
    scheme, parts = built.scheme, []
    if scheme.length:
        parts.append(f"{scheme.length} characters")
    if scheme.prefix:
        parts.append(f"beginning with {scheme.prefix}")
    if scheme.check:
        name = NAMES.get(scheme.check, scheme.check)
        what = (
            "the last two are check characters"
            if check_length(scheme.check) == 2
            else "the last is a check character"
        )
        parts.append(f"{what} ({name}) in {built.checked:,} of {built.of:,}")
    return ", ".join(parts)
