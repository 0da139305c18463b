"""Tell the people of one household apart: brothers, sisters and twins, parents and children."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.people.levels import LEVELS, NOTHING

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

__all__ = ["SAME_INITIAL", "are_two", "tells"]


SAME_INITIAL = [level.word for level in LEVELS["given"]].index("same initial")


def are_two(
    levels: Mapping[str, NDArray[np.int8]],
    generations: NDArray[np.bool_],
    in_two_scripts: NDArray[np.bool_],
) -> NDArray[np.bool_]:
    """Tell which pairs are two people of one household, or of one name.

    Brothers, sisters and twins: the given name plainly differs, or it and the day of birth do.
    Parents and children: nothing of the days of birth agrees, and a generation lies between them.
    But nothing may agree that is somebody's own.

    Args:
        levels: Of the pairs, by kind.
        generations: Which pairs' births lie a generation apart.
        in_two_scripts: Whose given names are in other letters than each other: those do not differ
            plainly.
    """
    pairs = len(generations)
    if "given" not in levels:
        return np.zeros(pairs, bool)
    given, birth = levels["given"], levels.get("birth", np.full(pairs, NOTHING, np.int8))
    own = np.zeros(pairs, bool)
    # a mail address made of the name says no more than it
    for kind, least in (("mail", len(LEVELS["mail"]) - 1), ("number", 1)):
        if kind in levels:
            own |= levels[kind] >= least
    differ = (birth == 0) & ((given == 0) | (given == SAME_INITIAL))
    # who has another name altogether and a mail address of theirs has typed it wrongly
    if "family" in levels:
        differ &= ~own | (levels["family"] == 0)
    kin = (birth > 0) | (levels["family"] > 0) if "family" in levels else birth > 0
    siblings = (given == 0) & ~in_two_scripts & ~own & kin
    generation = generations & (given > 0) & ~own
    return np.asarray(differ | siblings | generation)


# What tells people of one household apart: while one of these differs, nothing is settled by
# itself.
TELLING = ("given", "birth")
SLIPS = [
    place for place, level in enumerate(LEVELS["given"]) if level.word in ("nearly", "sounds alike")
]


def tells(levels: Mapping[str, NDArray[np.int8]], pairs: NDArray[np.intp]) -> NDArray[np.bool_]:
    """Tell for which pairs nothing that tells a household's people apart differs, and at least
    one such thing agrees.
    """
    fine = np.ones(len(pairs), bool)
    agrees = np.zeros(len(pairs), bool)
    for kind in TELLING:
        if kind in levels:
            found = levels[kind][pairs]
            fine &= found != 0
            if kind == "given":
                fine &= found != SAME_INITIAL
                # two names that are nearly the same, each with an address of its own: twins are
                # named so
                if "mail" in levels:
                    fine &= ~np.isin(found, SLIPS) | (levels["mail"][pairs] != 0)
            agrees |= found > 0
    own = np.zeros(len(pairs), bool)
    for kind in ("mail", "phone", "street", "postcode"):
        if kind in levels:
            own |= levels[kind][pairs] == len(LEVELS[kind]) - 1
    for kind in ("mail", "phone"):
        if kind in levels:
            agrees |= levels[kind][pairs] == len(LEVELS[kind]) - 1
    if "number" in levels:
        own |= levels["number"][pairs] > 0
    # another family name is believed only where given name, day of birth and something else agree
    if "family" in levels:
        rest = [levels[kind][pairs] > 0 for kind in TELLING if kind in levels]
        fine &= (levels["family"][pairs] != 0) | (
            (np.all(rest, axis=0) if len(rest) == len(TELLING) else False) & own
        )
    if "birth" in levels:  # so is another day
        birth = levels["birth"][pairs]
        fine &= (birth == NOTHING) | (birth == len(LEVELS["birth"]) - 1) | own
    return np.asarray(fine & agrees)
