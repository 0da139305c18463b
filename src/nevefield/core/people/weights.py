"""How much each agreement counts: the model of Fellegi and Sunter (1969), its shares estimated from
the data at hand.

Of each level of agreement it asks how often pairs of one person are at it (`same`) and how often
pairs of two people (`chance`); the logarithm of their ratio, in bits, is what the level adds to the
evidence. `same` is estimated by expectation-maximisation over the candidate pairs (Dempster, Laird
and Rubin 1977; Winkler 1988), with the shares of `LEVELS` counted in as if they were pairs seen
before, so that little data moves it little; pairs known by key count as seen too. `chance` is
counted over pairs of rows and records taken at fixed strides. For a value that is the same on both
sides the chance is how common that value is: a rare name counts more (Newcombe et al. 1959).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Array, Json
from nevefield.core.people.levels import LEVELS, NOTHING, level_pairs

if TYPE_CHECKING:
    from collections.abc import Mapping

    from numpy.typing import NDArray

    from nevefield.core.people.traits import Forms

__all__ = ["Weights", "estimate_weights", "weigh_pairs"]

PRIOR_PAIRS = 200.0  # pairs that the shares of `LEVELS` count for beside what is estimated
KNOWN_PAIRS = 500.0  # that pairs known by key count for at most
MOST_PAIRS = 2_000.0  # that candidate pairs count for at most
CHANCE_PAIRS = 60_000  # pairs of two people that are looked at
ROUNDS = 12
LEAST_SHARE = 2e-6  # nothing is rarer than this, however few rows there are
HOUSEHOLD = ("family", "street", "postcode", "town", "phone", "mail")
CHANGED = ("family", "street", "postcode", "town", "phone", "mail")
# of what each further agreement of a household counts: people who live together agree in all of
# them at once
SHARED = 0.4
# bits that a slip counts less where what it makes is a name that others have: one of sixteen slips
# does
OTHER_NAME = 4.0
SLIPS = [
    place
    for place, level in enumerate(LEVELS["family"])
    if level.word in ("nearly", "sounds alike")
]
# of what each further one that differs counts: who marries or moves changes several at once
MOVED = 0.4


@dataclass(frozen=True)
class Weights:
    """The shares by kind of trait, one for each level."""

    same: Mapping[str, NDArray[np.float64]]
    chance: Mapping[str, NDArray[np.float64]]


def estimate_weights(
    forms: Mapping[str, Forms],
    levels: Mapping[str, NDArray[np.int8]],
    known: Mapping[str, NDArray[np.int8]],
    rows: int,
) -> Weights:
    """Estimate the shares.

    Args:
        forms: The traits' values, by kind.
        levels: Of the candidate pairs, by kind.
        rows: How many rows the candidates are of.
        known: Of pairs that are known to be one person by their keys, by kind; may be empty.
    """
    chance = _estimate_chance(forms)
    defaults = {kind: np.array([level.same for level in LEVELS[kind]]) for kind in forms}
    counts: dict[str, Json] = {
        kind: PRIOR_PAIRS * defaults[kind] / defaults[kind].sum() for kind in forms
    }
    for kind, found in known.items():
        # whoever is known by a number says nothing of those who are not
        if kind in counts and kind != "number":
            seen = np.bincount(found[found >= 0], minlength=len(LEVELS[kind]))[
                : len(LEVELS[kind])
            ].astype(np.float64)
            counts[kind] = np.asarray(
                counts[kind] + seen * min(1.0, KNOWN_PAIRS / max(float(seen.sum()), 1.0))
            )
    same: dict[str, NDArray[np.float64]] = {
        kind: count / count.sum() for kind, count in counts.items()
    }
    if not forms or not len(next(iter(levels.values()))):
        return Weights(same, chance)
    patterns, weight = _patterns(levels)
    # of candidate pairs that are one person
    share = float(np.clip(0.5 * rows / weight.sum(), 1e-4, 0.5))
    # Chance among candidates, who agree in some key: begun from all of them, of whom most are two
    # people.
    among: dict[str, Json] = {
        kind: _spread(column, weight, len(LEVELS[kind])) for kind, column in patterns.items()
    }
    for _ in range(ROUNDS):
        log = np.full(len(weight), np.log(share / (1 - share)))
        for kind, column in patterns.items():
            filled = column >= 0
            ratio = np.log(same[kind]) - np.log(among[kind])
            log[filled] += ratio[column[filled]]
        likely = weight / (1 + np.exp(-np.clip(log, -500, 500)))
        share = float(np.clip(likely.sum() / weight.sum(), 1e-4, 0.9))
        for kind, column in patterns.items():
            filled, size = column >= 0, len(LEVELS[kind])
            agreeing = np.bincount(column[filled], weights=likely[filled], minlength=size)
            mixed: Array = counts[kind] + agreeing * min(
                1.0, MOST_PAIRS / max(float(agreeing.sum()), 1.0)
            )
            same[kind] = mixed / mixed.sum()
            among[kind] = _spread(column, weight - likely, size)
    return Weights(same, chance)


def _spread(column: NDArray[np.int8], weight: Array, size: int) -> Array:
    filled = column >= 0
    seen = np.bincount(column[filled], weights=weight[filled], minlength=size) + 1
    return np.asarray(seen / seen.sum())


def _estimate_chance(forms: Mapping[str, Forms]) -> dict[str, NDArray[np.float64]]:
    """Count levels over pairs at fixed strides: hardly any of them is one person."""
    form = next(iter(forms.values()), None)
    if form is None:
        return {}
    ours, theirs = len(form.ours.codes), len(form.theirs.codes)
    pairs = min(CHANCE_PAIRS, ours * theirs)
    place = np.arange(pairs, dtype=np.int64)
    rows = place % max(ours, 1)
    records = (place * 7_919 + (place // max(ours, 1)) * 31 + 1) % max(theirs, 1)
    levels = level_pairs(forms, rows, records)
    chance = {}
    for kind, level in levels.items():
        defaults = np.array([level.chance for level in LEVELS[kind]])
        seen = np.bincount(level[level >= 0], minlength=len(defaults)).astype(np.float64)
        mixed = seen + 2_000 * defaults / defaults.sum()
        chance[kind] = np.maximum(mixed / mixed.sum(), LEAST_SHARE)
    return chance


def _patterns(
    levels: Mapping[str, NDArray[np.int8]],
) -> tuple[dict[str, NDArray[np.int8]], NDArray[np.float64]]:
    """List the distinct combinations of levels, with how many pairs have each."""
    number = np.zeros(len(next(iter(levels.values()))), np.int64)
    for kind, level in levels.items():
        number = number * (len(LEVELS[kind]) + 1) + level + 1
    order = np.argsort(number, kind="stable")
    ordered = number[order]
    first = np.flatnonzero(np.concatenate([[True], ordered[1:] != ordered[:-1]]))
    counts = np.diff(np.append(first, len(ordered))).astype(np.float64)
    return {kind: level[order[first]] for kind, level in levels.items()}, counts


def weigh_pairs(
    weights: Weights,
    forms: Mapping[str, Forms],
    levels: Mapping[str, NDArray[np.int8]],
    rows: NDArray[np.int64],
) -> dict[str, NDArray[np.float32]]:
    """Say what each trait adds to the evidence that a pair is one person.

    Args:
        weights: The shares.
        forms: The traits' values.
        levels: Of the pairs.
        rows: The row of each pair.

    Returns:
        By kind, in bits; 0 where nothing can be compared. What a household shares counts once in
        full, the rest in part; so do the family name and addresses that differ.
    """
    parts: dict[str, NDArray[np.float32]] = {}
    for kind, level in levels.items():
        filled = level > NOTHING
        ratio = np.log2(weights.same[kind]) - np.log2(weights.chance[kind])
        bits = np.zeros(len(level), np.float32)
        bits[filled] = ratio[level[filled]]
        best = len(LEVELS[kind]) - 1
        if LEVELS[kind][best].by_share:
            top = np.flatnonzero(level == best)
            share = np.maximum(forms[kind].share[forms[kind].ours.codes[rows[top]]], LEAST_SHARE)
            bits[top] = np.log2(weights.same[kind][best] / share)
        if kind == "mail":
            bits[_follows_from_names(forms, levels, rows)] = 0
        if kind == "family":
            bits[_is_other_name(forms[kind], level, rows)] -= OTHER_NAME
        parts[kind] = bits
    _lessen(parts, HOUSEHOLD, 1, SHARED)
    _lessen(parts, CHANGED, -1, MOVED)
    return parts


def _follows_from_names(
    forms: Mapping[str, Forms], levels: Mapping[str, NDArray[np.int8]], rows: NDArray[np.int64]
) -> NDArray[np.intp]:
    """List the pairs whose mail addresses are alike because both are made of the same names:
    they say no more than these.
    """
    if "family" not in forms or "given" not in forms:
        return np.zeros(0, np.intp)
    mail, family, given = (forms[kind].ours for kind in ("mail", "family", "given"))
    alike = (
        (levels["mail"] > 0)
        & (levels["mail"] < len(LEVELS["mail"]) - 1)
        & (levels["family"] > 0)
        & (levels["given"] > 0)
    )
    locals_ = mail.local.to_pylist() if alike.any() else []
    numbers = []
    for pair, row in zip(np.flatnonzero(alike).tolist(), rows[alike].tolist(), strict=True):
        first, *_ = given.texts[given.codes[row]].split(" ")
        last = family.texts[family.codes[row]]
        letters = locals_[mail.codes[row]].strip("0123456789")
        names = (last.replace(" ", ""), last.split(" ")[0], last.split(" ")[-1])
        if any(
            letters in (first + name, name + first, first[:1] + name, name + first[:1], name)
            for name in names
        ):
            numbers.append(pair)
    return np.array(numbers, np.intp)


def _is_other_name(
    form: Forms, found: NDArray[np.int8], rows: NDArray[np.int64]
) -> NDArray[np.bool_]:
    """Tell of which pairs a family name that is nearly the record's is that of others in the
    roster: hardly a slip, then.
    """
    others = np.zeros(len(form.ours) + 1)
    there = form.same >= 0
    others[:-1][there] = form.theirs.counts[form.same[there]]
    return np.isin(found, SLIPS) & (others[form.ours.codes[rows]] >= 2)


def _lessen(
    parts: dict[str, NDArray[np.float32]], kinds: tuple[str, ...], sign: int, by: float
) -> None:
    """Of what several kinds say for (or against) a pair at once, count the strongest in full and
    the rest in part.
    """
    together = [kind for kind in kinds if kind in parts]
    if len(together) < 2:
        return
    most = np.stack([np.maximum(sign * parts[kind], 0) for kind in together]).argmax(axis=0)
    for place, kind in enumerate(together):
        lesser = (sign * parts[kind] > 0) & (most != place)
        parts[kind] = np.where(lesser, parts[kind] * by, parts[kind]).astype(np.float32)
