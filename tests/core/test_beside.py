"""Things that are done at once: answers in their order, errors not swallowed."""

from __future__ import annotations

import threading

import pytest

from nevefield.core.beside import at_once, both


def test_both_are_done_at_once():
    """Each waits for the other: one behind the other would never end."""
    meeting = threading.Barrier(2, timeout=20)
    assert both(lambda: ("one", meeting.wait())[0], lambda: ("other", meeting.wait())[0]) == (
        "one",
        "other",
    )


def test_answers_are_in_their_order():
    assert at_once([lambda number=number: number * number for number in range(50)]) == [
        number * number for number in range(50)
    ]
    assert at_once([]) == []


@pytest.mark.parametrize("wrong", [(True, False), (False, True), (True, True)])
def test_an_error_of_either_is_raised_when_both_have_ended(wrong):
    """The first one's where both fail: what is said of two unreadable files does not rest on
    which thread was quicker.
    """
    ended = []

    def work(name, fails):
        try:
            if fails:
                raise ValueError(name)
        finally:
            ended.append(name)

    with pytest.raises(ValueError, match="roster" if wrong[0] else "file"):
        both(lambda: work("roster", wrong[0]), lambda: work("file", wrong[1]))
    assert sorted(ended) == ["file", "roster"]
