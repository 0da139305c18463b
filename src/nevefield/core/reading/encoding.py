"""Decide a text's encoding from its bytes: by marks, by what is valid, and by what its languages
make likely.
"""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from nevefield.core.errors import UnreadableFile

__all__ = ["Decoded", "decode"]

_MARKS = [
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
]
_CONTROLS = bytes(range(0, 9)) + bytes(range(14, 27)) + bytes(range(28, 32))
_NAMES = {
    "utf-8": "UTF-8",
    "utf-16-le": "UTF-16",
    "utf-16-be": "UTF-16",
    "windows-1252": "Windows-1252",
    "windows-1250": "Windows-1250 (central Europe)",
    "windows-1251": "Windows-1251 (Cyrillic)",
    "windows-1253": "Windows-1253 (Greek)",
    "windows-1254": "Windows-1254 (Turkish)",
    "windows-1257": "Windows-1257 (Baltic)",
    "iso-8859-2": "ISO 8859-2 (central Europe)",
    "iso-8859-15": "ISO 8859-15",
    "iso-8859-5": "ISO 8859-5 (Cyrillic)",
    "iso-8859-7": "ISO 8859-7 (Greek)",
    "koi8-r": "KOI8-R (Cyrillic)",
    "cp850": "code page 850 (old machines)",
    "cp852": "code page 852 (old machines, central Europe)",
    "cp866": "code page 866 (old machines, Cyrillic)",
    "mac-roman": "Mac Roman",
    "mac-latin2": "Mac Central European",
}
# In the order in which they are taken when nothing tells them apart.
_SINGLE = (
    ("windows-1252", 0.0),
    ("windows-1250", -0.5),
    ("windows-1251", -0.5),
    ("windows-1254", -0.6),
    ("windows-1257", -0.6),
    ("windows-1253", -0.5),
    ("iso-8859-2", -0.8),
    ("iso-8859-15", -0.3),
    ("iso-8859-7", -0.8),
    ("cp850", -1.5),
    ("cp852", -1.8),
    ("koi8-r", -0.6),
    ("cp866", -1.0),
    ("iso-8859-5", -1.0),
    ("mac-roman", -1.6),
    ("mac-latin2", -2.0),
)
# The letters beyond a to z of languages written in Latin letters, by how often they are met: first
# the common ones.
_LATIN = {
    "German": "äöüß",
    "French": "éèêëàâîïôûùçœ",
    "Spanish": "áéíóúñü",
    "Portuguese": "ãõáâàçéêíóôú",
    "Italian": "àèéìòù",
    "Nordic": "åäöæøé",
    "Icelandic": "áéíóúýþæöð",
    "Dutch": "éëïöüè",
    "Polish": "ąćęłńóśźż",
    "Czech": "áčďéěíňóřšťúůýž",
    "Slovak": "áäčďéíľĺňóôŕšťúýž",
    "Hungarian": "áéíóöőúüű",
    "Romanian": "ăâîșțşţ",
    "Croatian": "čćđšž",
    "Turkish": "çğıöşüâİ",
    "Lithuanian": "ąčęėįšųūž",
    "Latvian": "āčēģīķļņšūž",
    "Estonian": "äõöüšž",
    "Welsh": "âêîôûŵŷ",
}
_RARE = {
    "Icelandic": -0.8,
    "Welsh": -0.5,
    "Turkish": -0.2,
    "Estonian": -0.4,
    "Latvian": -0.4,
    "Slovak": -0.3,
    "Romanian": -0.3,
    "Italian": -0.3,
    "Dutch": -0.3,
}
_SIGNS = "€£§°ªº«»“”„‘’‚–—…•·©®™±×¿¡½¼¾№\u00a0"
_WORD = re.compile(r"[^\W\d_]{0,40}[^\x00-\x7f](?:[^\W\d_]|[^\x00-\x7f]){0,40}")
# the only letters that stand behind it, as good as always
_LIGATURE = re.compile("œ[uitdbfp]", re.IGNORECASE)
MIXED = 0.1  # what it costs a word to be in a language of its own
# of a text that are looked at; and around each letter beyond ASCII
MOST_BYTES, AROUND = 20_000_000, 24
WORDS = 3_000  # that are looked at
LEAST_VALID = 3  # letters of UTF-8 for each byte that is broken, for a file to be UTF-8


@dataclass(frozen=True)
class Decoded:
    """A text, and how it was written."""

    text: str
    encoding: str  # as Python names it
    name: str  # for a person
    remarks: tuple[str, ...] = ()


def decode(data: bytes, wanted: str = "") -> Decoded:
    """Decode text.

    Args:
        data: The bytes.
        wanted: An encoding that a person named; "" to decide here.

    Returns:
        The text without its byte order mark, and its encoding.

    Raises:
        UnreadableFile: The bytes are no text, or not in the encoding named.
    """
    if wanted:
        try:
            return Decoded(
                data.decode(wanted).removeprefix("\ufeff"), wanted, _NAMES.get(wanted, wanted)
            )
        except (UnicodeDecodeError, LookupError) as error:
            raise UnreadableFile(
                f"The file is not written in {wanted}.", "Choose another encoding."
            ) from error
    for mark, name in _MARKS:
        if data.startswith(mark):
            return _tolerant(data[len(mark) :], name)
    if name := _wide(data):
        return _tolerant(data, name)
    head = data[:4000]
    if len(head.translate(None, _CONTROLS)) < 0.95 * len(head):
        raise UnreadableFile(
            "This is not text: the file holds bytes of a program's own format.",
            "Ask for a workbook (.xlsx) or a CSV file.",
        )
    try:
        return Decoded(data.decode("utf-8"), "utf-8", _NAMES["utf-8"])
    except UnicodeDecodeError:
        pass
    text = data.decode("utf-8", errors="replace")
    broken = text.count("\ufffd")
    plain = int(np.count_nonzero(np.frombuffer(data, np.uint8) < 0x80))
    valid = len(text) - plain - broken  # letters beyond ASCII that are whole
    if valid >= LEAST_VALID * broken or (
        broken == 1 and text.rstrip().endswith("\ufffd") and valid
    ):
        return _tolerant(data, "utf-8")
    name = _likeliest(data)
    return _tolerant(data, name)


def _tolerant(data: bytes, name: str) -> Decoded:
    """Decode, with a sign in place of what is broken, and say where."""
    text = data.decode(name, errors="replace")
    remarks: tuple[str, ...] = ()
    if "\ufffd" in text and "\ufffd".encode("utf-8") not in data:
        lines = [
            number
            for number, line in enumerate(re.split("\r\n|\r|\n", text), start=1)
            if "\ufffd" in line
        ]
        shown = ", ".join(map(str, lines[:5])) + (" …" if len(lines) > 5 else "")
        count = text.count("\ufffd")
        said = "1 letter is broken and" if count == 1 else f"{count:,} letters are broken and each"
        remarks = (f"{said} read as “\ufffd”: line {shown}.",)
    return Decoded(text, name, _NAMES.get(name, name), remarks)


def _wide(data: bytes) -> str:
    """Tell UTF-16 without a mark: of its separators, digits and line ends one byte in two is
    zero, always the same one.
    """
    head = data[:20_000]
    if len(head) < 4:
        return ""
    even, odd = head[::2].count(0), head[1::2].count(0)
    if even + odd < 0.02 * len(head) or min(even, odd) > 0.05 * max(even, odd):
        return ""
    name = "utf-16-le" if odd > even else "utf-16-be"
    try:
        text = head[: len(head) // 2 * 2].decode(name)
    except UnicodeDecodeError as error:
        if error.start < len(head) - 4:
            return ""
        text = head[: error.start].decode(name)
    likely = sum(
        1 for letter in text if letter in "\t\r\n\f" or " " <= letter < "\u0530" or letter in _SIGNS
    )
    return name if likely > 0.95 * len(text) else ""


def _likeliest(data: bytes) -> str:
    """Return the encoding in which the words with letters beyond ASCII are most like words of
    some language.
    """
    part = b"\n".join(_around(data))
    best, best_score = "windows-1252", -1e9
    read: dict[str, float] = {}
    for name, prior in _SINGLE:
        text = part.decode(name, errors="replace")
        score = read.get(text)
        if score is None:
            score = read[text] = _likelihood(text)
        if score + prior > best_score + 1e-9:
            best, best_score = name, score + prior
    return best


def _around(data: bytes) -> list[bytes]:
    """Cut out what stands around the bytes beyond ASCII: their words, and no more of a text
    however long.
    """
    places = np.flatnonzero(np.frombuffer(data[:MOST_BYTES], np.uint8) >= 0x80)[: 2 * WORDS]
    breaks = np.flatnonzero(np.diff(places) > AROUND)
    firsts, lasts = places[np.append(0, breaks + 1)], places[np.append(breaks, len(places) - 1)]
    return [
        data[max(0, first - AROUND) : last + AROUND]
        for first, last in zip(firsts.tolist(), lasts.tolist(), strict=True)
    ]


def _likelihood(text: str) -> float:
    """Score how like words the words of a text are, per word that has a letter beyond ASCII."""
    words = _WORD.findall(text)[:WORDS]
    if not words:
        return 0.0
    by_language = dict.fromkeys(_LATIN, 0.0) | {"Cyrillic": 0.0, "Greek": 0.0}
    common = 0.0
    mixed = 0.0  # members of a society have names of many countries
    for word in words:
        common += _oddities(word)
        fits = {name: _fits(word, name) for name in by_language}
        mixed += max(fits[name] + _RARE.get(name, 0.0) * 0.3 for name in fits) - MIXED
        for name, score in fits.items():
            by_language[name] += score
    best = max(
        mixed,
        *(
            score + min(3, len(words)) * _RARE.get(name, 0.0) * 0.3
            for name, score in by_language.items()
        ),
    )
    return (best + common) / max(1.0, len(words) / 8)


@lru_cache(50_000)
def _fits(word: str, language: str) -> float:
    if len(word) == 1 and word.isalpha():
        return 0.1  # a letter alone is no word
    score = 0.0
    letters = _LATIN.get(language, "")
    for letter in word:
        if letter <= "\x7f":
            if language in ("Cyrillic", "Greek") and letter.isalpha():
                score -= 3.0  # no word mixes these with Latin letters
            continue
        if language == "Cyrillic":
            score += 0.6 if "\u0400" <= letter <= "\u045f" else -2.0
        elif language == "Greek":
            score += 0.6 if "\u0370" <= letter <= "\u03ff" else -2.0
        elif letter in letters or letter.lower() in letters:
            score += (
                0.1
                if letter in "ĺŕĹŔ"
                else 1.0
                if letter not in "œŒ" or _LIGATURE.search(word)
                else -1.0
            )
        elif letter in _SIGNS:
            score += 0.2
        else:
            score -= 1.0 if letter.isalpha() and letter < "\u0250" else 3.0
    if language not in ("Cyrillic", "Greek"):
        run = max((len(part) for part in re.findall(r"[^\x00-\x7f]+", word)), default=0)
        score -= 1.5 * max(0, run - 2)
    return max(score, -12.0)


@lru_cache(50_000)
def _oddities(word: str) -> float:
    """Weigh what no language writes: capitals within a word, signs between letters, lines that
    are drawn, broken letters.
    """
    score = 0.0
    letters = [letter for letter in word if letter.isalpha()]
    inside = letters[1:]
    if any(letter.islower() for letter in letters):
        score -= 1.5 * sum(letter.isupper() and letter > "\x7f" for letter in inside)
    if (
        len(letters) > 1
        and min(letters) > "\x7f"
        and letters[0].islower()
        and any(letter.isupper() for letter in inside)
    ):
        score -= 4.0 if all(letter.isupper() for letter in inside) else 1.0
    for place, letter in enumerate(word):
        if letter <= "\x7f" or letter.isalpha():
            continue
        if letter == "\ufffd" or "\u2500" <= letter <= "\u259f" or "\x80" <= letter <= "\x9f":
            score -= 4.0
        elif letter in "’‘" and 0 < place < len(word) - 1:
            score += 0.5
        elif letter not in _SIGNS:
            score -= 2.0
        elif 0 < place < len(word) - 1 and letter not in "’‘–·":
            score -= 2.5
    return score
