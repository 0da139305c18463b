"""What came of a text: a value, what is wrong with it, how it was repaired."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nevefield.core.definition import Field

__all__ = ["LONGEST_MESSAGE", "Outcome", "Problem", "Reader", "Repair", "make_problem"]


LONGEST_MESSAGE = 400  # characters


@dataclass(frozen=True)
class Problem:
    """Why a text is no value of its field."""

    check: str
    message: str
    group: str  # with check and field: which texts one remedy would settle
    title: str  # of the cause
    suggestions: tuple[str, ...] = ()  # values that it may mean, the likeliest first
    shared: bool = False  # the suggestion holds for every text of the group


@dataclass(frozen=True)
class Repair:
    """What was done to a text to make it a value."""

    kind: str  # spaces, case, zeros, day, number, label
    message: str


Outcome = tuple["str | None", "Problem | None", "Repair | None"]
Reader = Callable[[str], Outcome]


def make_problem(
    field: Field,
    check: str,
    message: str,
    title: str,
    *,
    group: str = "",
    suggestions: tuple[str, ...] = (),
    shared: bool = False,
) -> Problem:
    if len(message) > LONGEST_MESSAGE:  # a cell may be megabytes
        message = f"{message[: LONGEST_MESSAGE // 2]} … {message[-LONGEST_MESSAGE // 4 :]}"
    return Problem(
        check,
        f"{field.title}: {message}",
        group or title,
        title[:LONGEST_MESSAGE],
        suggestions,
        shared,
    )
