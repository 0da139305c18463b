"""What an evaluation takes over from the one before."""

from __future__ import annotations

import numpy as np

from nevefield.core.edits.memo import Memo


def test_large_things_by_identity_small_ones_by_value():
    """A part is taken over only while everything that it was made of is the very same."""
    big = np.arange(3)
    first = Memo()
    first.get("part", (big, {"a": 1}), lambda: "made")
    assert Memo(first).get("part", (big, {"a": 1}), lambda: "anew") == "made"
    assert Memo(first).get("part", (big.copy(), {"a": 1}), lambda: "anew") == "anew"
    assert Memo(first).get("part", (big, {"a": 2}), lambda: "anew") == "anew"


def test_kept_when_made_anew_and_no_other():
    """A part that comes out the same is the part before, so that what rests on it stays; another
    one is not.
    """
    first = Memo()
    one = first.keep("rows", (1,), lambda: np.array([1, 2]), np.array_equal)
    second = Memo(first)
    assert second.keep("rows", (2,), lambda: np.array([1, 2]), np.array_equal) is one
    third = Memo(second)
    assert third.keep("rows", (3,), lambda: np.array([1, 3]), np.array_equal).tolist() == [1, 3]


def test_forgotten():
    """Once it forgets the one before, an evaluation has only its own parts; what it did not ask
    for serves the next one.
    """
    first = Memo()
    first.get("part", (1,), lambda: "made")
    second = Memo(first)
    assert second.last("part") == ((1,), "made")
    second.get("other", (), lambda: "more")
    second.forget()
    assert second.last("part") is None
    third = Memo(second)
    assert third.get("part", (1,), lambda: "anew") == "made"
    assert third.get("other", (2,), lambda: "anew") == "anew"
