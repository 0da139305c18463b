"""Spread people over groups: hard conditions met or the clash named, as few moves as possible, then
as even as possible.

Who goes where is an integer programme, solved exactly by HiGHS (Huangfu and Hall 2018, through
`scipy.optimize.milp`). People who differ in nothing that a condition looks at are one class of it,
and only counted; which of them goes where is settled after it by exchanging people of one class
between groups as long as that makes the groups more alike.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from scipy.optimize import LinearConstraint

__all__ = ["Clash", "Question", "Spread", "spread"]

SECONDS = 2.0  # for each of the programmes at most; the best that was found by then is taken
# price of breaking a condition by one person, when none can be met: far above any move
SLACK = 1_000.0
PASSES = 6  # over all people, when they are exchanged


@dataclass(frozen=True)
class Question:
    """Who is to be placed, over which groups, under which conditions."""

    current: NDArray[np.intp]  # of each person the group of today, -1 for none
    allowed: NDArray[np.bool_]  # people by groups
    least: NDArray[np.int64]  # of each group that has anybody
    most: NDArray[np.int64]  # of each group
    fixed: NDArray[np.int64]  # of each group: members who stay whatever happens
    bands: NDArray[np.intp]  # of each person a band of ages, -1 for unknown: fits everywhere
    fixed_bands: NDArray[np.intp]  # of each group the band of those who stay, -1 for none
    one_band: bool = False  # people of one band only in each group
    # people by properties: a code each
    traits: NDArray[np.intp] = field(default_factory=lambda: np.zeros((0, 0), np.intp))
    # of each property: groups by codes, how many of those who stay
    fixed_traits: tuple[NDArray[np.int64], ...] = ()
    together: tuple[tuple[int, ...], ...] = ()
    apart: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True)
class Clash:
    """A condition that no arrangement can meet beside the others."""

    # place: nowhere allowed; most: too many; least: too few; apart; together; band; time: none was
    # found in time
    kind: str
    group: int | None  # which, where it is about one
    people: tuple[int, ...]  # who, where it is about some
    by: int  # by how many people it is missed


@dataclass(frozen=True)
class Spread:
    """What came of a question."""

    group: NDArray[np.intp] | None  # of each person; None when the conditions clash
    moves: int  # people who leave the group of today
    clashes: tuple[Clash, ...] = ()
    is_least: bool = True  # whether it is proven that fewer moves cannot do


@dataclass(frozen=True)
class _Class:
    """People who differ in nothing that a condition looks at; or a set that stays together, as
    one.
    """

    units: tuple[tuple[int, ...], ...]
    groups: NDArray[np.intp]  # where they may go
    band: int
    moves: NDArray[np.int64]  # how many of a unit leave their group when it goes there

    @property
    def weight(self) -> int:
        return len(self.units[0])


def spread(question: Question) -> Spread:
    """Spread people over groups.

    Args:
        question: See there.

    Returns:
        Everybody's group: no condition is broken, and the moves are the fewest with which that can
        be; or the clashes.
    """
    lost = [person for person in range(len(question.current)) if not question.allowed[person].any()]
    if lost:
        return Spread(None, 0, (Clash("place", None, tuple(lost), len(lost)),))
    classes, torn = _classes(question)
    if torn:
        return Spread(None, 0, tuple(torn))
    if not classes:
        return Spread(question.current.copy(), 0)
    programme = _Programme(question, classes)
    counts = programme.solve()
    if counts is None:
        return Spread(None, 0, programme.clashes())
    group = np.full(len(question.current), -1, np.intp)
    for class_, chosen in zip(classes, counts, strict=True):
        _hand_out(class_, chosen, group, question)
    _even_out(question, classes, group)
    moves = int(((question.current >= 0) & (question.current != group)).sum())
    return Spread(group, moves, is_least=programme.is_proven)


def _classes(question: Question) -> tuple[list[_Class], list[Clash]]:
    """Form units of those who stay together, and classes of units that are alike; those who must
    be apart stand alone.
    """
    of = {
        person: place
        for place, people in enumerate(_joined(question.together))
        for person in people
    }
    sets: dict[int, list[int]] = {}
    for person in range(len(question.current)):
        sets.setdefault(of.get(person, -1 - person), []).append(person)
    wary = {person for pair in question.apart for person in pair}
    found: dict[
        tuple[int, bytes, int, tuple[int, ...], tuple[int, ...]], list[tuple[int, ...]]
    ] = {}
    torn = []
    for people in map(tuple, sets.values()):
        bands = {int(question.bands[person]) for person in people} - {-1}
        allowed = question.allowed[list(people)].all(axis=0)
        if not allowed.any() or (question.one_band and len(bands) > 1):
            torn.append(Clash("together", None, people, len(people)))
            continue
        band = bands.pop() if bands else -1
        own: tuple[int, ...] = people if wary.intersection(people) else ()
        now = tuple(sorted(question.current[list(people)].tolist()))
        found.setdefault(
            (len(people), allowed.tobytes(), band if question.one_band else -1, now, own), []
        ).append(people)
    classes = []
    for key, units in found.items():
        groups = np.flatnonzero(question.allowed[list(units[0])].all(axis=0))
        today = question.current[list(units[0])]
        moves = ((today[:, None] >= 0) & (today[:, None] != groups[None, :])).sum(axis=0)
        classes.append(_Class(tuple(units), groups, key[2], moves))
    return classes, torn


def _joined(together: tuple[tuple[int, ...], ...]) -> list[set[int]]:
    """Join sets that share somebody."""
    sets: list[set[int]] = []
    for people in together:
        mine = set(people)
        for numbers in [one for one in sets if one & mine]:
            mine |= numbers
            sets.remove(numbers)
        sets.append(mine)
    return sets


class _Programme:
    """The integer programme: for each class and group how many of the class go there."""

    def __init__(self, question: Question, classes: list[_Class]) -> None:
        self.question, self.classes = question, classes
        self.starts = np.cumsum([0, *(len(class_.groups) for class_ in classes)])
        self.groups = len(question.most)
        self.bands = sorted(
            {class_.band for class_ in classes if class_.band >= 0}
            | set(question.fixed_bands.tolist()) - {-1}
        )
        people = int(self.starts[-1])
        self.used = people  # then: of each group, whether anybody is in it
        # then: of each group and band, whether it is that band's
        self.band = self.used + self.groups
        self.first_slack = self.band + (self.groups * len(self.bands) if question.one_band else 0)
        # columns, factors, least, most
        self._rows: list[tuple[list[int], list[float], float, float]] = []
        self._slacks: list[tuple[str, int | None, tuple[int, ...]]] = []
        self.is_done = self.is_proven = True
        self._build()

    def _soft(self, kind: str, group: int | None, people: tuple[int, ...] = ()) -> int:
        """Add a slack: what a condition is missed by, allowed only to find out which conditions
        clash.
        """
        self._slacks.append((kind, group, people))
        return self.first_slack + len(self._slacks) - 1

    def _build(self) -> None:
        question, inside = self.question, self._inside()
        for number, class_ in enumerate(self.classes):
            columns = list(range(self.starts[number], self.starts[number + 1]))
            self._rows.append((columns, [1.0] * len(columns), len(class_.units), len(class_.units)))
        for group in range(self.groups):
            columns, weights = (
                [column for column, _ in inside[group]],
                [float(weight) for _, weight in inside[group]],
            )
            fixed = float(question.fixed[group])
            # Who is in it already stays, be they too many: then nobody joins them.
            most = max(float(question.most[group]), fixed)
            over, under = self._soft("most", group), self._soft("least", group)
            self._rows.append(
                ([*columns, over, self.used + group], [*weights, -1.0, fixed - most], -np.inf, 0.0)
            )
            least = float(question.least[group])
            self._rows.append(
                ([*columns, under, self.used + group], [*weights, 1.0, fixed - least], 0.0, np.inf)
            )
            if fixed:
                self._rows.append(([self.used + group], [1.0], 1.0, 1.0))
        if question.one_band:
            self._build_bands()
        for pair in question.apart:
            self._build_apart(pair)

    def _inside(self) -> list[list[tuple[int, int]]]:
        """List of each group the columns that put people into it, with how many people one of it
        is.
        """
        inside: list[list[tuple[int, int]]] = [[] for _ in range(self.groups)]
        for number, class_ in enumerate(self.classes):
            for column, group in enumerate(class_.groups.tolist(), int(self.starts[number])):
                inside[group].append((column, class_.weight))
        return inside

    def _build_bands(self) -> None:
        for group in range(self.groups):
            flags = [
                self.band + group * len(self.bands) + place for place in range(len(self.bands))
            ]
            mixed = self._soft("band", group)
            self._rows.append(([*flags, mixed], [1.0] * len(flags) + [-1.0], -np.inf, 1.0))
            for place, band in enumerate(self.bands):
                columns, weights = [], []
                for number, class_ in enumerate(self.classes):
                    at = np.flatnonzero(class_.groups == group)
                    if class_.band == band and len(at):
                        columns.append(int(self.starts[number] + at[0]))
                        weights.append(float(class_.weight))
                most = max(
                    float(self.question.most[group]),
                    float(self.question.fixed[group]),
                    float(sum(weights)) + 1,
                )
                if columns:
                    self._rows.append(([*columns, flags[place]], [*weights, -most], -np.inf, 0.0))
                if self.question.fixed_bands[group] == band:
                    self._rows.append(([flags[place]], [1.0], 1.0, 1.0))

    def _build_apart(self, pair: tuple[int, int]) -> None:
        where = {}
        for number, class_ in enumerate(self.classes):
            for person in pair:
                if any(person in unit for unit in class_.units):
                    where[person] = number
        first, second = (where[person] for person in pair)
        slack = self._soft("apart", None, pair)
        if first == second:  # they are to stay together too
            self._rows.append(([slack], [1.0], 1.0, np.inf))
            return
        for group in np.intersect1d(
            self.classes[first].groups, self.classes[second].groups
        ).tolist():
            columns = [
                int(self.starts[number] + np.flatnonzero(self.classes[number].groups == group)[0])
                for number in (first, second)
            ]
            self._rows.append(([*columns, slack], [1.0, 1.0, -1.0], -np.inf, 1.0))

    def _bounds(self, *, elastic: bool) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        total = self.first_slack + len(self._slacks)
        high = np.ones(total)
        for number, class_ in enumerate(self.classes):
            high[self.starts[number] : self.starts[number + 1]] = len(class_.units)
        high[self.first_slack :] = (
            float(len(self.question.current) + int(self.question.least.max(initial=0)))
            if elastic
            else 0.0
        )
        return np.zeros(total), high

    def _cost(self, *, elastic: bool) -> NDArray[np.float64]:
        cost = np.zeros(self.first_slack + len(self._slacks))
        for number, class_ in enumerate(self.classes):
            cost[self.starts[number] : self.starts[number + 1]] = class_.moves
        if elastic:
            cost[self.first_slack :] = SLACK
        return cost

    def _run(
        self, cost: NDArray[np.float64], more: list[LinearConstraint], *, elastic: bool
    ) -> NDArray[np.float64] | None:
        # it takes a second to load, and whoever reads a file needs none of it
        from scipy.optimize import Bounds, milp

        low, high = self._bounds(elastic=elastic)
        total = len(cost)
        low, high = (
            np.append(low, np.zeros(total - len(low))),
            np.append(high, np.full(total - len(high), np.inf)),
        )
        limits = _constraint(self._rows, total)
        whole = np.ones(total)
        whole[self.first_slack + len(self._slacks) :] = 0
        found = milp(
            cost,
            integrality=whole,
            bounds=Bounds(low, high),
            constraints=[limits, *more],
            options={"time_limit": SECONDS},
        )
        self.is_done = found.status in (0, 2)  # solved to the end, or proven to have no answer
        return None if found.x is None else np.asarray(found.x)

    def solve(self) -> list[NDArray[np.intp]] | None:
        """Give for each class how many of it go to each of its groups; None when the conditions
        clash.
        """
        cost = self._cost(elastic=False)
        found = self._run(cost, [], elastic=False)
        self.is_proven = self.is_done
        if found is None:
            return None
        even = self._even(cost, float(np.round(cost @ found)))
        found = even if even is not None else found
        counts = np.rint(found).astype(np.intp)
        return [
            counts[self.starts[number] : self.starts[number + 1]]
            for number in range(len(self.classes))
        ]

    def _even(self, cost: NDArray[np.float64], moves: float) -> NDArray[np.float64] | None:
        """Among arrangements with as few moves, take one whose groups are nearest in size, part
        by part.
        """
        parts: dict[bytes, list[int]] = {}
        for group in range(self.groups):
            parts.setdefault(self.question.allowed[:, group].tobytes(), []).append(group)
        total = len(cost)
        # of each part the largest and the smallest size
        wide = np.concatenate([cost * 0, np.tile([1.0, -1.0], len(parts))])
        inside = self._inside()
        limits: list[tuple[list[int], list[float], float, float]] = []
        for place, groups in enumerate(parts.values()):
            for group in groups:
                columns, weights = (
                    [column for column, _ in inside[group]],
                    [float(weight) for _, weight in inside[group]],
                )
                fixed = float(self.question.fixed[group])
                limits.append(([*columns, total + 2 * place], [*weights, -1.0], -np.inf, -fixed))
                limits.append(([*columns, total + 2 * place + 1], [*weights, -1.0], -fixed, np.inf))
        costly = np.flatnonzero(cost)
        limits.append((costly.tolist(), cost[costly].tolist(), -np.inf, moves + 0.5))
        return self._run(wide, [_constraint(limits, len(wide))], elastic=False)

    def clashes(self) -> tuple[Clash, ...]:
        """Name the conditions that must be missed, by as little as can be."""
        found = self._run(self._cost(elastic=True), [], elastic=True) if self.is_proven else None
        if found is None:
            return (Clash("time", None, (), len(self.question.current)),)
        slacks = (
            np.rint(found[self.first_slack : self.first_slack + len(self._slacks)])
            .astype(int)
            .tolist()
        )
        return tuple(
            Clash(kind, group, people, by)
            for (kind, group, people), by in zip(self._slacks, slacks, strict=True)
            if by > 0
        )


def _constraint(
    rows: list[tuple[list[int], list[float], float, float]], total: int
) -> LinearConstraint:
    """Make a constraint of rows: columns, factors, least, most."""
    from scipy.optimize import LinearConstraint
    from scipy.sparse import coo_array

    numbers = np.repeat(np.arange(len(rows)), [len(row[0]) for row in rows])
    columns = np.concatenate([np.array(row[0], np.intp) for row in rows])
    factors = np.concatenate([np.array(row[1], np.float64) for row in rows])
    matrix = coo_array((factors, (numbers, columns)), shape=(len(rows), total)).tocsr()
    return LinearConstraint(matrix, [row[2] for row in rows], [row[3] for row in rows])


def _hand_out(
    one: _Class, counts: NDArray[np.intp], group: NDArray[np.intp], question: Question
) -> None:
    """Give the units of a class their groups: in the order of their traits, in turn, so that
    none gets all of a kind.
    """
    units = sorted(
        one.units,
        key=lambda unit: (
            question.traits[list(unit)].tolist() if question.traits.size else [],
            unit,
        ),
    )
    left = dict(zip(one.groups.tolist(), counts.tolist(), strict=True))
    turn = [number for number, many in left.items() if many]
    place = 0
    for unit in units:
        while not left[turn[place % len(turn)]]:
            place += 1
        number = turn[place % len(turn)]
        left[number] -= 1
        group[list(unit)] = number
        place += 1


def _even_out(question: Question, classes: list[_Class], group: NDArray[np.intp]) -> None:
    """Exchange people of one class between groups as long as the groups' traits become more
    alike (sum of squares).
    """
    if not question.traits.size:
        return
    counts, wanted = _traits_now(question, group)
    for class_ in classes:
        if class_.weight > 1 or len(class_.units) < 2:
            continue
        people = np.array([unit[0] for unit in class_.units], np.intp)
        for _ in range(PASSES):
            if not _exchange(question, people, group, counts, wanted):
                break


def _traits_now(
    question: Question, group: NDArray[np.intp]
) -> tuple[list[NDArray[np.float64]], list[NDArray[np.float64]]]:
    """Count each group's people by each property, and what would be even: everybody's shares, in
    the group's size.
    """
    groups = len(question.most)
    counts, wanted = [], []
    for number in range(question.traits.shape[1]):
        codes = question.traits[:, number]
        fixed = (
            question.fixed_traits[number]
            if question.fixed_traits
            else np.zeros((groups, 0), np.int64)
        )
        size = max(int(codes.max(initial=-1)) + 1, fixed.shape[1])
        now = np.zeros((groups, size))
        now[:, : fixed.shape[1]] = fixed
        np.add.at(now, (group[codes >= 0], codes[codes >= 0]), 1)
        alike = np.zeros((groups, size))
        for part in _parts(question):
            total = now[part].sum(axis=0)
            alike[part] = now[part].sum(axis=1, keepdims=True) * total / max(total.sum(), 1)
        counts.append(now)
        wanted.append(alike)
    return counts, wanted


def _parts(question: Question) -> list[list[int]]:
    parts: dict[bytes, list[int]] = {}
    for number in range(len(question.most)):
        parts.setdefault(question.allowed[:, number].tobytes(), []).append(number)
    return list(parts.values())


def _exchange(
    question: Question,
    people: NDArray[np.intp],
    group: NDArray[np.intp],
    counts: list[NDArray[np.float64]],
    wanted: list[NDArray[np.float64]],
) -> bool:
    """Exchange each of some people with the one that makes most of it; tell whether anything was
    gained.
    """
    gained = False
    gaps = [now - alike for now, alike in zip(counts, wanted, strict=True)]
    for person in people.tolist():
        others = people[group[people] != group[person]]
        if not len(others):
            continue
        gain = np.zeros(len(others))
        for number, gap in enumerate(gaps):
            mine, theirs = question.traits[person, number], question.traits[others, number]
            home, away = group[person], group[others]
            known = (theirs >= 0) & (mine >= 0) & (theirs != mine)
            delta = 4 + 2 * (
                gap[home, theirs] - gap[home, mine] + gap[away, mine] - gap[away, theirs]
            )
            gain -= np.where(known, delta, 0)
        best = int(np.argmax(gain))
        if gain[best] <= 1e-9:
            continue
        other = int(others[best])
        for number, gap in enumerate(gaps):
            mine, theirs = int(question.traits[person, number]), int(question.traits[other, number])
            if min(mine, theirs) >= 0 and mine != theirs:
                for code, step in ((mine, -1), (theirs, 1)):
                    gap[group[person], code] += step
                    gap[group[other], code] -= step
        group[person], group[other] = group[other], group[person]
        gained = True
    for number, gap in enumerate(gaps):
        counts[number] = gap + wanted[number]
    return gained
