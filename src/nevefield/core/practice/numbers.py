"""Made-up identifiers: built as the real ones are, right where those are right, and none of
them.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from itertools import product
from string import ascii_lowercase, ascii_uppercase, digits
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.schemes import alphabet_of, check_length

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from numpy.typing import NDArray

    from nevefield.core.definition import Identifier
    from nevefield.core.practice.chance import Chance

__all__ = ["Numbers", "make_numbers"]

SHARED = 5  # identifiers that begin alike: the beginning is the institution's
ROOM = 3  # as many possible endings there are at least for each of those that share a beginning
ROUNDS = 60
CROWDED = 12  # rounds after which less of a beginning is kept
LONGER = 36  # rounds after which a number has a digit more every fourth round
BODIES = 4  # drawn for each before its check characters are given up


@dataclass(frozen=True)
class Numbers:
    """What became of identifiers.

    Args:
        made: By real one.
        given_on: How many became a real one of somebody else, as there was no room for others.
    """

    made: dict[str, str]
    given_on: int


def make_numbers(
    values: Sequence[str],
    right: Callable[[list[str]], NDArray[np.bool_]],
    random: Chance,
    scheme: Identifier | None = None,
) -> Numbers:
    """Make an identifier for each real one.

    Args:
        values: The real ones, each once.
        right: Tells which of some texts a field takes as they stand.
        random: The source of chance.
        scheme: How they are built, where the definition says.
    """
    real, made = frozenset(values), dict[str, str]()
    is_right = dict(zip(values, right(list(values)).tolist(), strict=True))
    kept = _beginnings(values, check_length(scheme.check) if scheme else 0)
    if scheme:
        kept = {
            value: max(length, len(scheme.prefix) if value.startswith(scheme.prefix) else 0)
            for value, length in kept.items()
        }
    if scheme and scheme.check:
        waiting = [value for value in values if is_right[value]]
        for _ in range(BODIES):
            waiting = _complete(waiting, kept, scheme, right, random, made, real)
            kept = {value: min(kept[value], len(scheme.prefix)) for value in waiting}
    kept = _beginnings(values, 0)
    for step in range(ROUNDS):
        waiting = [value for value in values if value not in made]
        if not waiting:
            break
        if step and not step % CROWDED:  # no room behind what others share
            kept = {value: kept[value] // 2 for value in waiting}
        # every other time letters stay: a pattern may ask for those and no others
        letters_stay, more = step % 2 == 1, "0" * max(0, (step - LONGER) // 4)
        drawn = [
            _draw(
                value + more if value.isdecimal() else value,
                kept[value],
                random,
                letters_stay=letters_stay,
            )
            for value in waiting
        ]
        _take(waiting, drawn, right(drawn).tolist(), is_right, made, real)
    left = [value for value in values if value not in made]
    for state in (True, False):
        # no room: they change places among each other
        same = [value for value in left if is_right[value] is state]
        made |= dict(zip(same, same[1:] + same[:1], strict=True))
    return Numbers(made, len(left))


def _beginnings(values: Sequence[str], checks: int) -> dict[str, int]:
    """Tell of each how many characters of its beginning stay: as many as others share, and as
    leave room enough for others behind them.
    """
    counts = Counter(value[:length] for value in values for length in range(len(value)))
    found = {}
    for value in values:
        room, found[value] = 1.0, 0
        body = len(value) - checks
        for length in range(body - 1, -1, -1):
            room *= 10 if value[length] in digits else 26 if value[length].isalpha() else 1
            if counts[value[:length]] >= SHARED and room >= ROOM * counts[value[:length]] + SHARED:
                found[value] = length
                break
    return found


def _draw(value: str, kept: int, random: Chance, *, letters_stay: bool = False) -> str:
    return value[:kept] + "".join(
        letter if letters_stay and letter.isalpha() else _another(letter, random)
        for letter in value[kept:]
    )


def _another(letter: str, random: Chance) -> str:
    for letters in (digits, ascii_uppercase, ascii_lowercase):
        if letter in letters:
            return random.choice(letters)
    return letter


def _complete(
    values: list[str],
    kept: dict[str, int],
    scheme: Identifier,
    right: Callable[[list[str]], NDArray[np.bool_]],
    random: Chance,
    made: dict[str, str],
    real: frozenset[str],
) -> list[str]:
    """Draw a body for each, and find the check characters for all at once.

    Returns:
        Those that got none.
    """
    length = check_length(scheme.check)
    bodies = [_draw(value, kept[value], random)[: len(value) - length] for value in values]
    tails = list(map("".join, product(alphabet_of(scheme.check)[1], repeat=length)))
    random.shuffle(tails)
    waiting, is_right = list(range(len(values))), dict.fromkeys(values, True)
    for tail in tails:
        if not waiting:
            break
        names, texts = (
            [values[place] for place in waiting],
            [bodies[place] + tail for place in waiting],
        )
        _take(names, texts, right(texts).tolist(), is_right, made, real)
        waiting = [place for place in waiting if values[place] not in made]
    return [values[place] for place in waiting]


def _take(
    values: list[str],
    drawn: list[str],
    right: list[bool],
    wanted: dict[str, bool],
    made: dict[str, str],
    real: frozenset[str],
) -> None:
    """Keep what was drawn where it is as right as the real one, nobody's, and not there yet."""
    taken = set(made.values())
    for value, text, is_right in zip(values, drawn, right, strict=True):
        if is_right is wanted[value] and text not in real and text not in taken:
            made[value] = text
            taken.add(text)
