r"""Patterns that others write (definitions, authorities), matched in time that grows with the text
only.

They are regular expressions as XML Schema and Table Schema have them, without what needs going back
over the text: looking ahead or behind, and groups referred to. The engine is RE2 (Cox, *Regular
Expression Matching in the Wild*, 2010). `\d`, `\w` and `\s` mean Unicode's digits, letters and
spaces, as they do in XML Schema.
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import re2

from nevefield.core.borders import Foreign

if TYPE_CHECKING:
    pass

__all__ = ["LONGEST", "matches", "refuse_pattern"]

LONGEST = 1_000  # characters of a pattern
_CLASSES = {"d": r"\p{Nd}", "w": r"\pL\p{N}_", "s": r"\s\p{Z}"}
_BARE = {
    "d": r"\p{Nd}",
    "D": r"\P{Nd}",
    "w": r"[\pL\p{N}_]",
    "W": r"[^\pL\p{N}_]",
    "s": r"[\s\p{Z}]",
    "S": r"[^\s\p{Z}]",
}


def refuse_pattern(pattern: str) -> str:
    """Say why a pattern cannot be used; "" when it can.

    >>> refuse_pattern("[A-D][0-9]{3}"), refuse_pattern("(?=x)")
    ('', 'looks ahead or behind, or is written in another way that is not known here: “(?=”')
    """
    if len(pattern) > LONGEST:
        return f"is longer than {LONGEST:,} characters"
    try:
        _compile(pattern)
    except re2.error as error:
        arg = error.args[0]
        said, _, where = (arg.decode() if isinstance(arg, bytes) else str(arg)).partition(": ")
        return f"{_SAID.get(said, said)}: “{where[:60]}”" if where else _SAID.get(said, said)
    return ""


_SAID = {
    "invalid perl operator": (
        "looks ahead or behind, or is written in another way that is not known here"
    ),
    "invalid escape sequence": "refers back to a group, or has a backslash before what needs none",
    "invalid repetition size": "repeats more than 1,000 times",
    "bad repetition operator": "repeats what is repeated already",
    "no argument for repetition operator": "repeats nothing",
    "missing )": "lacks a closing parenthesis",
    "missing ]": "lacks a closing bracket",
    "unexpected )": "closes a parenthesis that was never opened",
    "invalid character class range": "has a range whose end comes before its beginning",
    "pattern too large - compile failed": "is too large: it repeats what is repeated itself",
}


def matches(pattern: str, text: str) -> bool:
    r"""Tell whether a whole text has the form that a pattern says.

    >>> matches(r"\d+", "٣٤"), matches("a", "a\n")
    (True, False)
    """
    return _compile(pattern).fullmatch(text) is not None


@lru_cache(1_000)
def _compile(pattern: str) -> Foreign:
    options = re2.Options()
    options.log_errors = False
    return re2.compile(_unicode(pattern), options=options)


def _unicode(pattern: str) -> str:
    """Write the short classes out for Unicode."""
    texts, place, is_within = [], 0, False
    while place < len(pattern):
        letter = pattern[place]
        pair = pattern[place : place + 2]
        if letter == "\\" and len(pair) == 2:
            kinds = _CLASSES if is_within else _BARE
            texts.append(kinds.get(pair[1], pair))
            place += 2
            continue
        if letter == "[" and not is_within:
            is_within = True
            opening = 2 if pattern[place + 1 : place + 2] == "^" else 1
            if pattern[place + opening : place + opening + 1] == "]":  # the first one is a letter
                opening += 1
            texts.append(pattern[place : place + opening])
            place += opening
            continue
        is_within = is_within and letter != "]"
        texts.append(letter)
        place += 1
    return "".join(texts)
