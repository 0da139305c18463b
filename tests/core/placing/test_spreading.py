"""Spreading: no hard condition is ever broken, moves are the fewest there can be, and what
clashes is named.
"""

from __future__ import annotations

import itertools
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nevefield.core.placing.spreading import Question, spread


def question(people, groups, **more) -> Question:
    """A question with nothing asked but what is said."""
    plain = {
        "current": np.full(people, -1, np.intp),
        "allowed": np.ones((people, groups), bool),
        "least": np.zeros(groups, np.int64),
        "most": np.full(groups, people, np.int64),
        "fixed": np.zeros(groups, np.int64),
        "bands": np.full(people, -1, np.intp),
        "fixed_bands": np.full(groups, -1, np.intp),
    }
    return Question(
        **{
            **plain,
            **{name: np.array(one) if isinstance(one, list) else one for name, one in more.items()},
        }
    )


def broken(asked: Question, group) -> list[str]:
    """Which conditions an arrangement breaks, worked out plainly."""
    found = []
    for number in range(len(asked.most)):
        inside = [person for person, one in enumerate(group) if one == number]
        size = len(inside) + int(asked.fixed[number])
        if inside and size > max(asked.most[number], asked.fixed[number]):
            found.append(f"most {number}")
        if size and size < asked.least[number]:
            found.append(f"least {number}")
        bands = {int(asked.bands[person]) for person in inside} | {int(asked.fixed_bands[number])}
        if asked.one_band and len(bands - {-1}) > 1:
            found.append(f"band {number}")
    found += ["allowed" for person, one in enumerate(group) if not asked.allowed[person, one]]
    found += [
        "together" for people in asked.together if len({group[person] for person in people}) > 1
    ]
    found += ["apart" for one, other in asked.apart if group[one] == group[other]]
    return found


@st.composite
def small(draw) -> Question:
    people, groups = draw(st.integers(1, 5)), draw(st.integers(1, 3))
    each = lambda least, most, count: [draw(st.integers(least, most)) for _ in range(count)]  # noqa: E731
    couples = [(one, other) for one in range(people) for other in range(one)]
    fixed = each(0, 3, groups)
    return question(
        people,
        groups,
        current=np.array(each(-1, groups - 1, people), np.intp),
        allowed=np.array([each(0, 3, groups) for _ in range(people)]) > 0,
        least=each(0, 3, groups),
        most=each(1, 4, groups),
        fixed=fixed,
        bands=np.array(each(-1, 1, people), np.intp),
        fixed_bands=np.array(
            [band if many else -1 for band, many in zip(each(-1, 1, groups), fixed, strict=True)],
            np.intp,
        ),
        one_band=draw(st.booleans()),
        traits=np.array([each(-1, 2, 2) for _ in range(people)], np.intp),
        together=tuple(draw(st.lists(st.sampled_from(couples), max_size=1))) if couples else (),
        apart=(
            tuple(draw(st.lists(st.sampled_from(couples), max_size=2, unique=True)))
            if couples
            else ()
        ),
    )


@settings(max_examples=150)
@given(small())
def test_against_every_arrangement(asked):
    """Of all arrangements that break nothing it gives one with the fewest moves; where there is
    none, it says what clashes.
    """
    fine = [
        arrangement
        for arrangement in itertools.product(range(len(asked.most)), repeat=len(asked.current))
        if not broken(asked, arrangement)
    ]
    found = spread(asked)
    if not fine:
        assert found.group is None
        assert found.clashes
        return
    assert found.group is not None, found.clashes
    assert broken(asked, found.group.tolist()) == []
    moves = [
        sum(now >= 0 and now != one for now, one in zip(asked.current, way, strict=True))
        for way in fine
    ]
    assert found.moves == min(moves)
    assert found.is_least


def test_even_in_size_and_kind():
    """Sixty people of three programmes and two ports over four groups: fifteen in each, every
    kind within one of its share.
    """
    chance = random.Random(4)
    traits = np.array(
        [[person % 3, person % 2] for person in chance.sample(range(60), 60)], np.intp
    )
    found = spread(question(60, 4, traits=traits, least=[8] * 4, most=[24] * 4))
    assert np.bincount(found.group, minlength=4).tolist() == [15] * 4
    for column, share in ((0, 5), (1, 7.5)):
        for group in range(4):
            counts = np.bincount(
                traits[found.group == group, column], minlength=3 if column == 0 else 2
            )
            assert np.abs(counts - share).max() <= 1


def test_those_who_are_placed_stay():
    """Who has a group that fits keeps it, even where the groups are more uneven for it; only the
    surplus moves.
    """
    current = [0] * 10 + [1] * 3 + [-1] * 2
    found = spread(question(15, 2, current=np.array(current, np.intp), most=[8, 12]))
    assert found.moves == 2
    assert np.bincount(found.group).tolist() == [8, 7]


@pytest.mark.parametrize(
    ("more", "kind", "by"),
    [
        ({"most": [3, 3]}, "most", 2),
        ({"least": [9, 9]}, "least", 1),
        ({"allowed": np.zeros((8, 2), bool)}, "place", 8),
        ({"apart": ((0, 1), (1, 2), (0, 2))}, "apart", 1),
        ({"together": ((0, 1),), "apart": ((0, 1),)}, "apart", 1),
        ({"together": ((0, 1),), "bands": np.array([0, 1] * 4), "one_band": True}, "together", 2),
    ],
)
def test_what_clashes_is_named(more, kind, by):
    """Where no arrangement meets all conditions, it is said which are missed, and by how many at
    least.
    """
    found = spread(question(8, 2, **more))
    assert found.group is None
    assert [one.kind for one in found.clashes] == [kind]
    assert sum(one.by for one in found.clashes) == by
