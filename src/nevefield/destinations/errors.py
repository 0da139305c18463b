"""What can go wrong with a destination.

DestinationError
├── Unreachable     it does not answer, or not now: what was not sent is sent later
│   └── Lost        the answer was lost, and it may have been done
├── Denied          it does not take our token
├── Unintelligible  it answers something that cannot be understood
├── Unsigned        there is no secret by which calls are signed
├── NotLaid         a file cannot be laid in the folder from which they take it
├── Gone            it has nothing under the name by which it was asked
└── Refused         it refuses one record
"""

from __future__ import annotations

__all__ = [
    "Denied",
    "DestinationError",
    "Gone",
    "Lost",
    "NotLaid",
    "Refused",
    "Unintelligible",
    "Unreachable",
    "Unsigned",
]


class DestinationError(Exception):
    """Base of the errors of destinations; the text is one plain sentence."""


class Unreachable(DestinationError):
    """It does not answer, or not now: nothing is known of what was sent last.

    Args:
        why: In short.
        after: Seconds after which it may be asked again, where it says so.
    """

    def __init__(self, why: str, after: float | None = None) -> None:
        super().__init__(f"It does not answer ({why}). What was not sent is sent later.")
        self.after = after


class Lost(Unreachable):
    """The answer was lost: it may have been done, or not."""


class Unintelligible(DestinationError):
    """It answers something that cannot be understood."""

    def __init__(self, why: str) -> None:
        super().__init__(f"Its answer cannot be understood: {why}.")


class Denied(DestinationError):
    """It does not take the token by which we are known there."""

    def __init__(self) -> None:
        super().__init__("It does not take our token (401). Ask there for another, and keep it.")


class Unsigned(DestinationError):
    """There is no secret by which calls are signed.

    Args:
        least: How many letters it has at least.
    """

    def __init__(self, least: int) -> None:
        super().__init__(
            f"Calls are signed, and no secret of at least {least} letters is kept: agree on one"
            " with them, and keep it here (“The secret for signing …”)."
        )


class NotLaid(DestinationError):
    """A file cannot be laid in the folder from which they take it.

    Args:
        why: In short, with the folder.
    """

    def __init__(self, why: str) -> None:
        super().__init__(f"It is not in the folder yet ({why}). It is tried again by itself.")


class Gone(DestinationError):
    """It has nothing under the name by which it was asked."""

    def __init__(self) -> None:
        super().__init__("It has nothing under that name any more.")


class Refused(DestinationError):
    """It refuses one record.

    Args:
        status: Of HTTP.
        code: Why, in one word of theirs; "" where they say none.
        problem: Why, in their words.
    """

    def __init__(self, status: int, code: str, problem: str) -> None:
        super().__init__(problem or f"It refuses ({status}).")
        self.status = status
        self.code = code or str(status)
        self.problem = problem
