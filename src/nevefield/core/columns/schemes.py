"""Check characters: every scheme as arithmetic over whole columns of identifiers.

A scheme takes a matrix of character values, one row an identifier and one column a position with
the check character (or two) last, and tells which rows hold. Sources: ISO/IEC 7064:2003 (pure and
hybrid systems); ISO/IEC 7812-1 annex B (Luhn); H. M. Damm, "Total anti-symmetrische Quasigruppen",
Marburg 2004; J. Verhoeff, "Error detecting decimal codes", Amsterdam 1969.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

__all__ = ["SCHEMES", "alphabet_of", "check_length", "holds"]

DIGITS = "0123456789"
LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
# name -> (characters of the body, characters of the check)
SCHEMES: dict[str, tuple[str, str]] = {
    "luhn": (DIGITS, DIGITS),
    "damm": (DIGITS, DIGITS),
    "verhoeff": (DIGITS, DIGITS),
    "iso7064-mod11-2": (DIGITS, DIGITS + "X"),
    "iso7064-mod37-2": (DIGITS + LETTERS, DIGITS + LETTERS + "*"),
    "iso7064-mod97-10": (DIGITS + LETTERS, DIGITS),
    "iso7064-mod661-26": (LETTERS, LETTERS),
    "iso7064-mod1271-36": (DIGITS + LETTERS, DIGITS + LETTERS),
    "iso7064-mod11-10": (DIGITS, DIGITS),
    "iso7064-mod27-26": (LETTERS, LETTERS),
    "iso7064-mod37-36": (DIGITS + LETTERS, DIGITS + LETTERS),
    "weighted": (DIGITS + LETTERS, DIGITS + "X"),
}
TWO = ("iso7064-mod97-10", "iso7064-mod661-26", "iso7064-mod1271-36")  # with two check characters
_PURE = {  # modulus and radix of the pure systems that take every character for one value
    "iso7064-mod11-2": (11, 2),
    "iso7064-mod37-2": (37, 2),
    "iso7064-mod661-26": (661, 26),
    "iso7064-mod1271-36": (1271, 36),
}
# the lower of the two moduli
_HYBRID = {"iso7064-mod11-10": 10, "iso7064-mod27-26": 26, "iso7064-mod37-36": 36}
DAMM = np.array(
    [
        [0, 3, 1, 7, 5, 9, 8, 6, 4, 2],
        [7, 0, 9, 2, 1, 5, 4, 8, 6, 3],
        [4, 2, 0, 6, 8, 7, 1, 3, 5, 9],
        [1, 7, 5, 0, 9, 8, 3, 4, 2, 6],
        [6, 1, 2, 3, 0, 4, 5, 9, 7, 8],
        [3, 6, 7, 4, 2, 0, 9, 5, 8, 1],
        [5, 8, 6, 9, 7, 2, 0, 1, 3, 4],
        [8, 9, 4, 5, 3, 6, 2, 0, 1, 7],
        [9, 4, 3, 8, 6, 1, 7, 2, 0, 5],
        [2, 5, 8, 1, 4, 3, 6, 7, 9, 0],
    ]
)
# Verhoeff's permutation, applied once more at each position
_ROTATE = [1, 5, 7, 6, 2, 8, 3, 0, 9, 4]


def _dihedral(left: int, right: int) -> int:
    """Multiply in the dihedral group of the pentagon, 0-4 the turns and 5-9 the flips."""
    if left < 5:
        return (left + right) % 5 if right < 5 else (left + right - 5) % 5 + 5
    return (left - 5 - right) % 5 + 5 if right < 5 else (left - right) % 5


_DIHEDRAL = np.array([[_dihedral(left, right) for right in range(10)] for left in range(10)])


def check_length(scheme: str) -> int:
    """Count the check characters at the end of an identifier."""
    return 0 if not scheme else 2 if scheme in TWO else 1


def alphabet_of(scheme: str) -> tuple[str, str]:
    """Return the characters that a scheme can take in the body, and as check."""
    return SCHEMES[scheme]


def holds(
    scheme: str, values: NDArray[np.int64], *, weights: Sequence[int] = (), modulus: int = 0
) -> NDArray[np.bool_]:
    """Tell which identifiers have the right check character.

    Args:
        scheme: A name in SCHEMES.
        values: One row an identifier, one column a character, as index into the scheme's alphabet
            (X and * follow the last letter or digit of the check's alphabet).
        weights: For `weighted`, one for each character of the body, from the left.
        modulus: For `weighted`.

    Returns:
        One truth value for each row.
    """
    count, length = values.shape
    if scheme == "luhn":
        doubled = values[:, ::-1].copy()
        doubled[:, 1::2] *= 2
        return (doubled - 9 * (doubled > 9)).sum(axis=1) % 10 == 0  # type: ignore[no-any-return]
    if scheme == "damm":
        state = np.zeros(count, np.int64)
        for place in range(length):
            state = DAMM[state, values[:, place]]
        return np.asarray(state == 0)
    if scheme == "verhoeff":
        state, rotate = np.zeros(count, np.int64), np.arange(10)
        for place in range(length):
            state = _DIHEDRAL[state, rotate[values[:, length - 1 - place]]]
            rotate = rotate[_ROTATE] if place else np.array(_ROTATE)
        return np.asarray(state == 0)
    if scheme in _PURE:
        modulus, radix = _PURE[scheme]
        powers = np.array([pow(radix, length - 1 - place, modulus) for place in range(length)])
        return (values * powers).sum(axis=1) % modulus == 1  # type: ignore[no-any-return]
    if scheme == "iso7064-mod97-10":
        state = np.zeros(count, np.int64)
        for place in range(length):  # a letter counts as its two digits: A is 10
            wide = values[:, place] > 9
            state = (state * np.where(wide, 100, 10) + values[:, place]) % 97
        return np.asarray(state == 1)
    if scheme in _HYBRID:
        base = _HYBRID[scheme]
        state = np.full(count, base, np.int64)
        for place in range(length - 1):
            state = (state + values[:, place]) % base
            state = np.where(state == 0, base, state) * 2 % (base + 1)
        return np.asarray((state + values[:, length - 1]) % base == 1)
    # Weighted: the body's weighted sum plus the check is a multiple of the modulus.
    if len(weights) != length - 1:
        return np.zeros(count, np.bool_)
    total = (values[:, :-1] * np.array(weights)).sum(axis=1) + values[:, -1]
    return total % modulus == 0  # type: ignore[no-any-return]
