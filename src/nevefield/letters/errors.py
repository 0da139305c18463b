"""What can go wrong with letters.

LettersError
├── NobodyThere   nobody who was chosen can be written to
├── OthersNow     others than were looked at would be written to by now
├── NoSuchLetter  there is none
├── NoLinks       a letter asks nothing, or its links are withdrawn or over
├── LinkOver      a link that works no more, and why
├── NotThem       whoever has the link did not say what only they know
├── WrongAnswers  what somebody says of themselves cannot be
├── NoPasswords   nobody sets a password at a system any more
├── NoAccountYet  somebody has no account at a system yet, or it is switched off
├── PasswordRefused  a password is guessed soon, or the system does not take it
├── PasswordWaits  the system does not answer
└── BeingSent     what somebody says is under way by the same link
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = [
    "BeingSent",
    "LettersError",
    "LinkOver",
    "NoAccountYet",
    "NoLinks",
    "NoPasswords",
    "NoSuchLetter",
    "NobodyThere",
    "NotThem",
    "OthersNow",
    "PasswordRefused",
    "PasswordWaits",
    "WrongAnswers",
]


class LettersError(Exception):
    """Base of everything that these services raise."""


class NobodyThere(LettersError):
    """Nobody who was chosen can be written to."""

    def __init__(self) -> None:
        super().__init__("Nobody of them has an address in that field.")


class OthersNow(LettersError):
    """Others than were looked at would be written to by now."""

    def __init__(self) -> None:
        super().__init__(
            "Others would be written to by now: look again at who they are, then send it."
        )


class NoSuchLetter(LettersError):
    """There is no such letter.

    Args:
        number: As it was given.
    """

    def __init__(self, number: object) -> None:
        super().__init__(f"There is no letter {number} here.")


class NoLinks(LettersError):
    """A letter asks nothing by a link, or its links work no more."""


class LinkOver(LettersError):
    """A link that works no more.

    Args:
        why: In words for whom it was written to.
    """

    def __init__(self, why: str) -> None:
        super().__init__(why)


class NotThem(LettersError):
    """Whoever has the link did not say what only they know.

    Args:
        left: How often they may try again.
    """

    def __init__(self, left: int) -> None:
        again = "once more" if left == 1 else f"{left} times more"
        super().__init__(
            f"That is not what the office has. You can try {again}."
            if left
            else "That is not what the office has. This link works no more: ask the office."
        )


class WrongAnswers(LettersError):
    """What somebody says of themselves cannot be.

    Args:
        problems: By field what is wrong.
        titles: By field its title.
    """

    def __init__(self, problems: Mapping[str, str], titles: Mapping[str, str]) -> None:
        self.problems = dict(problems)
        parts = (f"{titles[name]}: {problem}" for name, problem in problems.items())
        super().__init__("Nothing was sent. " + " ".join(parts))


class NoPasswords(LettersError):
    """Nobody sets a password at a system any more."""

    def __init__(self) -> None:
        super().__init__("No password is set by this link any more: ask the office.")


class NoAccountYet(LettersError):
    """Somebody has no account at a system yet, or it is switched off.

    Args:
        title: Of the system.
    """

    def __init__(self, title: str) -> None:
        super().__init__(
            f"You have no account at {title} yet. Try this link again later; nothing is lost."
        )


class PasswordRefused(LettersError):
    """A password is guessed soon, or the system does not take it.

    Args:
        why: In words for whose it is.
    """

    def __init__(self, why: str) -> None:
        self.problems = {"": why}  # no field has that name
        super().__init__(f"Nothing was sent. {why}")


class PasswordWaits(LettersError):
    """The system at which a password is set does not answer as it should.

    Args:
        title: Of the system.
    """

    def __init__(self, title: str) -> None:
        super().__init__(f"{title} does not answer now. Your link still works: try it again later.")


class BeingSent(LettersError):
    """What somebody says is under way by the same link."""

    def __init__(self) -> None:
        super().__init__("This is being sent already, from another window. Wait three minutes.")
