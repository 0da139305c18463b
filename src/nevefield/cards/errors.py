"""What can go wrong with cards.

CardError
├── NoSuchDesign     none of the name, or not for whoever asks
├── NoSuchRun        none of the number
├── NoSuchCard       the register has none of the number
├── NoSuchPicture    none of the digest, or nobody's photograph
├── DesignMoved      somebody else kept a version meanwhile
├── DesignTaken      there is a design of the name
├── NothingToMake    nobody of those chosen needs a card that can be made
├── OthersNeed       another number of people needs a card than was looked at
├── OtherNumbers     new cards would not be numbered like those that there are
├── CardsRefused     the register's checks stop what would be written
├── WrongPicture     a file is no picture that can be taken
└── WrongAct         what is asked cannot be done with this card
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = [
    "CardError",
    "CardsRefused",
    "DesignMoved",
    "DesignTaken",
    "NoSuchCard",
    "NoSuchDesign",
    "NoSuchPicture",
    "NoSuchRun",
    "NothingToMake",
    "OtherNumbers",
    "OthersNeed",
    "WrongAct",
    "WrongPicture",
]


class CardError(Exception):
    """Base of everything that services of cards raise."""


class NoSuchDesign(CardError):
    """There is no design of that name, or one of its rosters is not for whoever asks."""

    def __init__(self, name: str) -> None:
        super().__init__(f"There is no card design “{name}”.")


class NoSuchRun(CardError):
    """There is no run of that number."""

    def __init__(self, number: int) -> None:
        super().__init__(f"There is no run {number}.")


class NoSuchCard(CardError):
    """The register has no card of that number."""

    def __init__(self, number: int | str) -> None:
        super().__init__(f"The register has no card {number}; it may have left it meanwhile.")


class NoSuchPicture(CardError):
    """There is no such picture."""

    def __init__(self) -> None:
        super().__init__("There is no such picture.")


class DesignMoved(CardError):
    """Somebody else kept a version meanwhile.

    Args:
        seen: The version that was changed.
        now: The one in force.
    """

    def __init__(self, seen: int, now: int) -> None:
        self.seen, self.now = seen, now
        super().__init__(
            f"Somebody kept version {now} of this design while you changed version {seen}. Yours"
            " is not lost: look at theirs, then keep yours on top of it or leave it."
        )


class DesignTaken(CardError):
    """There is a design of the name."""

    def __init__(self, name: str) -> None:
        super().__init__(f"There is a card design “{name}” already; take another name.")


class NothingToMake(CardError):
    """Nobody of those chosen needs a card that can be made."""

    def __init__(self) -> None:
        super().__init__(
            "Nobody of those chosen needs a card that can be made now: they have one, or"
            " something is missing."
        )


class OthersNeed(CardError):
    """Another number of people needs a card than was looked at.

    Args:
        looked: How many were looked at.
        now: How many they are by now.
    """

    def __init__(self, looked: int, now: int) -> None:
        self.looked, self.now = looked, now
        super().__init__(
            f"{now:,} cards would be made by now, not the {looked:,} that you looked at, so none"
            " was. Look again, then make them."
        )


class CardsRefused(CardError):
    """The register's checks stop what would be written.

    Args:
        messages: What they say, the commonest first.
    """

    def __init__(self, messages: Sequence[str]) -> None:
        self.messages = tuple(messages)
        super().__init__(
            "The register's own checks stop this, so nothing was made: " + " ".join(messages[:5])
        )


class OtherNumbers(CardError):
    """New cards would not be numbered like those that there are.

    Args:
        there: A number of the register.
        new: What the first new one would be.
    """

    def __init__(self, there: str, new: str) -> None:
        self.there, self.new = there, new
        super().__init__(
            f"The cards that there are have numbers like “{there}”, and the first new one would be"
            f" “{new}”. Nothing was made; say under Numbers how a number is"
            " written: to 1 digit, if they are to be so."
        )


class WrongPicture(CardError):
    """A file is no picture that can be taken; its text says what would be."""


class WrongAct(CardError):
    """What is asked cannot be done with this card; its text says why."""
