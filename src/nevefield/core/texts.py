"""Small matters of text: spaces, folding, names of headings, near names."""

from __future__ import annotations

import difflib
import re
import unicodedata
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow

if TYPE_CHECKING:
    from collections.abc import Iterable

    from numpy.typing import NDArray

__all__ = [
    "SEVERAL",
    "SPACES",
    "bare_cell",
    "fold",
    "fold_all",
    "holding",
    "key_of",
    "near",
    "plain_letters",
    "plain_marks",
    "read_whole",
    "safe_cell",
    "shape_of",
    "slip_cost",
    "squeeze",
    "squeeze_lines",
    "trim",
    "trim_all",
    "unplain",
]

SEVERAL = "\x1f"  # unit separator: between several values of one field in a stored text
# Unicode's white space (property White_Space), with the zero-width ones that spreadsheets leave;
# RE2 knows only ASCII.
SPACES = "\t\n\v\f\r \x85\xa0\u1680\u2000-\u200a\u2028\u2029\u202f\u205f\u3000\u200b\ufeff"
_SPACE_CHARACTERS = "".join(re.findall(f"[{SPACES}]", "".join(map(chr, (*range(0x3001), 0xFEFF)))))
_INNER = re.compile(f"[{SPACES}]+")
_INNER_OF_LINE = re.compile(f"[{SPACES.replace(chr(10), '').replace(chr(13), '')}]+")
_NO_WIDTH = re.compile("[\u200c\u200d\u2060\u00ad]")
_APOSTROPHES = dict.fromkeys("\u2018\u2019\u201a\u201b\u02bc\u2032\u00b4\u0060", "'")
_MARKS = str.maketrans(
    _APOSTROPHES | dict.fromkeys("\u201c\u201d\u201e\u201f\u00ab\u00bb\u2033", '"')
)
_LETTERS = re.compile(r"[^\W\d_]+")
_SIGNED = re.compile(r"[+-][\d ()./,-]*")
_DIGIT = re.compile(r"\d")
_NOT_WORD = re.compile(r"[\W_]+")


def trim(text: str) -> str:
    """Take the spaces off both ends, all of Unicode's."""
    return text.strip("\t\n\v\f\r ") if text.isascii() else text.strip(_SPACE_CHARACTERS)


def trim_all(values: Arrow) -> Arrow:
    """Take the spaces off both ends of every text of an Arrow string array."""
    return pc.utf8_trim(values, _SPACE_CHARACTERS)


def unplain(values: Arrow) -> NDArray[np.bool_]:
    """Tell the texts of an Arrow string array that are not ASCII's printable letters with single
    spaces between them.
    """
    found = np.zeros(len(values), bool)
    if not len(values) or values.buffers()[2] is None:
        return found
    offsets = np.frombuffer(values.buffers()[1], np.int32)[
        values.offset : values.offset + len(values) + 1
    ]
    letters = np.frombuffer(values.buffers()[2], np.uint8)[offsets[0] : offsets[-1]]
    if not len(letters):
        return found
    spaces = letters == ord(" ")
    odd = letters - np.uint8(0x20) > 0x5E  # wraps round below 0x20
    odd[1:] |= spaces[1:] & spaces[:-1]  # of two texts beside each other both are odd then
    filled = np.flatnonzero(np.diff(offsets))
    first, beyond = offsets[filled] - offsets[0], offsets[filled + 1] - offsets[0]
    found[filled] = spaces[first] | spaces[beyond - 1]
    found[np.searchsorted(offsets, np.flatnonzero(odd) + offsets[0], side="right") - 1] = True
    return found


def squeeze(text: str) -> str:
    """Trim, and make every run of spaces one space."""
    if text.isascii() and text.isprintable() and "  " not in text:
        return text.strip(" ")
    return _INNER.sub(" ", trim(text))


def squeeze_lines(text: str) -> str:
    """Trim, and make every run of spaces one space, but for line ends: those stay."""
    return _INNER_OF_LINE.sub(" ", trim(text))


def safe_cell(text: str) -> str:
    """Keep a spreadsheet from taking a text for a formula: an apostrophe before it; numbers and
    phone numbers stay.

    A text that has such an apostrophe of its own gets another, so that `bare_cell` gives back what
    went in.

    >>> safe_cell("=1+1"), safe_cell("'=1+1"), safe_cell("+44 7700 900417")
    ("'=1+1", "''=1+1", '+44 7700 900417')
    """
    bare = text.lstrip("'")
    if bare[:1] in ("=", "@", "\t", "\r") or (
        bare[:1] in ("+", "-") and not _SIGNED.fullmatch(bare)
    ):
        return "'" + text
    return text


def bare_cell(text: str) -> str:
    """Take off the apostrophe that `safe_cell` put before a text; every other one is the text's
    own.

    >>> bare_cell("'=1+1"), bare_cell("'t Hooft")
    ('=1+1', "'t Hooft")
    """
    return text[1:] if text.startswith("'") and safe_cell(text[1:]) == text else text


def plain_marks(text: str) -> str:
    """Write letters in their composed form, quotation marks and apostrophes straight, and leave out
    what has no width.

    For comparing only: texts are kept as they are written.

    >>> plain_marks("O\u2019Neill"), plain_marks("Zoe\u0308")
    ("O'Neill", 'Zoë')
    """
    return (
        text
        if text.isascii()
        else unicodedata.normalize("NFC", _NO_WIDTH.sub("", text.translate(_MARKS)))
    )


def fold(text: str) -> str:
    """Bring texts that differ only in case, spaces, quotation marks and Unicode forms to the
    same text.
    """
    return squeeze(plain_marks(text)).casefold()


def fold_all(values: Arrow, *, case: bool) -> Arrow:
    """Squeeze an Arrow string array, and fold its case if asked; order and length are kept, and
    the array itself if it is so.
    """
    odd = unplain(values)
    if odd.any():
        mend = fold if case else _same
        rare = pa.array(
            [mend(text) for text in values.filter(pa.array(odd)).to_pylist()], pa.string()
        )
        plain = pc.utf8_lower(values) if case else values
        folded = pc.replace_with_mask(plain, pa.array(odd), rare)
    else:
        folded = pc.ascii_lower(values) if case else values
    return values if folded.equals(values) else folded


def _same(text: str) -> str:
    return squeeze(plain_marks(text))


# Letters that no decomposition makes plain, and the marks between them.
_ALIKE = _MARKS | str.maketrans(
    {
        "ß": "ss",
        "ø": "o",
        "Ø": "O",
        "æ": "ae",
        "Æ": "Ae",
        "œ": "oe",
        "đ": "d",
        "Đ": "D",
        "ł": "l",
        "Ł": "L",
        "þ": "th",
        "ð": "d",
        "ı": "i",
        "Œ": "Oe",
        "ħ": "h",
        "Ħ": "H",
        "ŧ": "t",
        "Ŧ": "T",
        "ŋ": "n",
        "Ŋ": "N",
        "Ð": "D",
        "Þ": "Th",
        "ə": "e",
        "Ə": "E",
        "ẞ": "Ss",
    }
)


def plain_letters(text: str) -> str:
    """Write letters without their accents.

    >>> plain_letters("Zoë Søgård")
    'Zoe Sogard'
    """
    spread = unicodedata.normalize("NFKD", text.translate(_ALIKE))
    return "".join(letter for letter in spread if not unicodedata.combining(letter))


def key_of(heading: str) -> str:
    """Bring a heading to the form in which headings are compared: no case, accents, spaces,
    punctuation.

    >>> key_of("  Cadet-No. ")
    'cadetno'
    """
    if heading.isascii():
        return _NOT_WORD.sub("", heading).casefold()
    plain = unicodedata.normalize("NFKD", heading)
    plain = "".join(letter for letter in plain if not unicodedata.combining(letter))
    return _NOT_WORD.sub("", plain).casefold()


def read_whole(text: str, most: int = 18) -> int | None:
    """Read a whole number that is digits alone, of any script, and no more than can be meant; None
    for anything else.

    >>> [read_whole(one) for one in ("007", "٣", "²", "", "-1", "9" * 5000)]
    [7, 3, None, None, None, None]
    """
    return int(text) if text.isdecimal() and len(text) <= most else None


def shape_of(text: str) -> str:
    """Write what a text looks like: every run of letters as "a", every digit as 9, all else as it
    is.

    >>> shape_of("TQ2044105"), shape_of("3 May 2008")
    ('a9999999', '9 a 9999')
    """
    return _DIGIT.sub("9", _LETTERS.sub("a", text))


# Where the keys of a keyboard lie: row, and place in the row; the same for QWERTY and, but for two
# keys, for QWERTZ.
_KEYS = {
    letter: (row, place + shift)
    for row, (letters, shift) in enumerate(
        (("1234567890", 0.0), ("qwertyuiop", 0.5), ("asdfghjkl", 0.75), ("zxcvbnm", 1.25))
    )
    for place, letter in enumerate(letters)
}


def _is_neighbour(text: str, other: str) -> bool:
    if text not in _KEYS or other not in _KEYS:
        return False
    (row, place), (other_row, other_place) = _KEYS[text], _KEYS[other]
    return abs(row - other_row) <= 1 and abs(place - other_place) <= 1


def slip_cost(typed: str, meant: str) -> float:
    """Count the slips between a text and what was meant: 1 each, ½ for a neighbouring key, two
    letters swapped or one doubled.

    The optimal string alignment distance (Damerau 1964, Levenshtein 1966) with these costs.

    >>> slip_cost("skia", "skua"), slip_cost("skea", "skua"), slip_cost("ksua", "skua"), slip_cost("skuua", "skua")
    (0.5, 1.0, 0.5, 0.5)
    """  # noqa: E501
    before: list[float] = []
    last = [float(place) for place in range(len(meant) + 1)]
    for row, letter in enumerate(typed, 1):
        line = [float(row)]
        for place, wanted in enumerate(meant, 1):
            doubled = row > 1 and typed[row - 2] == letter
            change = 0.0 if letter == wanted else 0.5 if _is_neighbour(letter, wanted) else 1.0
            cost = min(
                last[place] + (0.5 if doubled else 1.0),
                line[place - 1] + 1,
                last[place - 1] + change,
            )
            if (
                row > 1
                and place > 1
                and letter == meant[place - 2]
                and typed[row - 2] == wanted
                and letter != wanted
            ):
                cost = min(cost, before[place - 2] + 0.5)
            line.append(cost)
        before, last = last, line
    return last[-1]


def holding(values: Arrow, text: str) -> Arrow:
    """Tell which texts of an Arrow string array hold a text, in any case; the answer is a NumPy
    array of truth values.
    """
    return pc.match_substring(values, text, ignore_case=True).to_numpy(zero_copy_only=False)


def near(name: str, known: Iterable[str]) -> str:
    """Word the hint for an unknown name: `did you mean codeList?`, or the names there are."""
    known = sorted(known)
    close_matches = difflib.get_close_matches(name, known, n=1, cutoff=0.6)
    if close_matches:
        return f"did you mean {close_matches[0]}?"
    return f"known are {', '.join(known)}"
