"""Texts on which a regular expression would go back and forth: made of the expression itself.

For each repeat in it: what leads to the repeat, then what is repeated, over and over, then
something that fits nowhere. An expression that tries the same letters in two ways takes the square
of their number, or worse, on one of them.
"""

from __future__ import annotations

import re
from re import _constants as sre  # type: ignore[attr-defined]
from re import _parser as parser  # type: ignore[attr-defined]
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Iterator

__all__ = ["hostile_texts"]

OFTEN = 16  # a repeat that may come more often than this is worth attacking
TAILS = ("\x00", "!", "\x00\n", "")
_CATEGORIES = {
    sre.CATEGORY_DIGIT: "7",
    sre.CATEGORY_NOT_DIGIT: "a",
    sre.CATEGORY_SPACE: " ",
    sre.CATEGORY_NOT_SPACE: "a",
    sre.CATEGORY_WORD: "a",
    sre.CATEGORY_NOT_WORD: "-",
}
_COMMON = "a7 -.,;:'\"(/\t\n\u00e9@=_"


def hostile_texts(pattern: re.Pattern[Any], size: int) -> Iterator[str]:
    """Yield texts of about a number of letters."""
    text = (
        pattern.pattern.decode("latin-1") if isinstance(pattern.pattern, bytes) else pattern.pattern
    )
    tree = parser.parse(
        text, pattern.flags & ~re.UNICODE if isinstance(pattern.pattern, bytes) else pattern.flags
    )
    seen = set()
    for lead, pump in _pumps(list(tree), ""):
        for unit in pump:
            if (lead, unit) not in seen:
                seen.add((lead, unit))
                for ahead in ("", "\x00"):  # something before it, from which a search goes on
                    yield from (ahead + lead + unit * (size // len(unit)) + tail for tail in TAILS)


def _pumps(nodes: list[Any], lead: str) -> Iterator[tuple[str, list[str]]]:
    """Walk the repeats: the text that leads to each, and what may be repeated there."""
    for place, (kind, value) in enumerate(nodes):
        before = lead + "".join(_sample([node]) for node in nodes[:place])
        if kind in (sre.MAX_REPEAT, sre.MIN_REPEAT, sre.POSSESSIVE_REPEAT):
            _, most, body = value
            if most > OFTEN:
                letters = list(dict.fromkeys(_letters(list(body))))[:8]
                after = list(dict.fromkeys(_letters(nodes[place + 1 :])))[:4]
                pairs = [
                    one + other
                    for one in letters[:4]
                    for other in (*letters[:4], *after)
                    if one != other
                ]
                yield before, [unit for unit in (_sample(list(body)), *letters, *pairs) if unit]
            yield from _pumps(list(body), before)
        elif kind is sre.BRANCH:
            for branch in value[1]:
                yield from _pumps(list(branch), before)
        elif kind in (sre.SUBPATTERN, sre.ASSERT, sre.ASSERT_NOT, sre.ATOMIC_GROUP):
            yield from _pumps(list(value[-1] if isinstance(value, tuple) else value), before)


def _letters(nodes: list[Any]) -> Iterator[str]:
    """Yield letters that parts of an expression match, common ones first."""
    for kind, value in nodes:
        if kind is sre.LITERAL:
            yield chr(value)
        elif kind in (sre.ANY, sre.NOT_LITERAL):
            yield from (letter for letter in _COMMON if kind is sre.ANY or ord(letter) != value)
        elif kind is sre.IN:
            yield from _class(value)
        elif kind in (sre.MAX_REPEAT, sre.MIN_REPEAT, sre.POSSESSIVE_REPEAT):
            yield from _letters(list(value[2]))
        elif kind is sre.BRANCH:
            for branch in value[1]:
                yield from _letters(list(branch))
        elif kind in (sre.SUBPATTERN, sre.ATOMIC_GROUP):
            yield from _letters(list(value[-1] if isinstance(value, tuple) else value))


def _class(items: list[Any]) -> Iterator[str]:
    is_not = items[0][0] is sre.NEGATE

    def holds(letter: str) -> bool:
        code = ord(letter)
        found = False
        for kind, value in items:
            if kind is sre.LITERAL:
                found |= code == value
            elif kind is sre.RANGE:
                found |= value[0] <= code <= value[1]
            elif kind is sre.CATEGORY:
                found |= re.match(parser_category(value), letter) is not None
        return found != is_not

    yield from filter(holds, _COMMON)
    if not is_not:
        for kind, value in items:
            if kind in (sre.LITERAL, sre.RANGE):
                yield chr(value if kind is sre.LITERAL else value[0])


def parser_category(category: Any) -> str:
    """Write a category as an expression of its own."""
    names = {sre.CATEGORY_DIGIT: r"\d", sre.CATEGORY_SPACE: r"\s", sre.CATEGORY_WORD: r"\w"}
    others = {
        sre.CATEGORY_NOT_DIGIT: r"\D",
        sre.CATEGORY_NOT_SPACE: r"\S",
        sre.CATEGORY_NOT_WORD: r"\W",
    }
    return (names | others)[category]


def _sample(nodes: list[Any]) -> str:
    """Write the shortest text that parts of an expression match, as far as that is plain."""
    text = ""
    for kind, value in nodes:
        if kind in (sre.MAX_REPEAT, sre.MIN_REPEAT, sre.POSSESSIVE_REPEAT):
            text += _sample(list(value[2])) * min(value[0], 50)
        elif kind is sre.BRANCH:
            text += min((_sample(list(branch)) for branch in value[1]), key=len)
        elif kind in (sre.SUBPATTERN, sre.ATOMIC_GROUP):
            text += _sample(list(value[-1] if isinstance(value, tuple) else value))
        elif kind is sre.CATEGORY:
            text += _CATEGORIES[value]
        else:
            text += next(_letters([(kind, value)]), "")
    return text
