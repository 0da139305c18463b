"""What can go wrong with an authority.

AuthorityError
├── Unreachable     it does not answer, or is out of order: tried again by itself
├── Refused         it says no
└── Unintelligible  it answers with something that cannot be understood
"""

from __future__ import annotations

__all__ = ["AuthorityError", "Refused", "Unintelligible", "Unreachable"]


class AuthorityError(Exception):
    """Base of everything that talking to an authority raises."""


class Unreachable(AuthorityError):
    """It does not answer, or is out of order."""

    def __init__(self, why: str) -> None:
        super().__init__(
            f"The authority does not answer ({why}). It is tried again by itself; nothing is sent"
            " twice."
        )


class Refused(AuthorityError):
    """It says no."""

    def __init__(self, status: int, text: str) -> None:
        self.status = status
        super().__init__(f"The authority refuses: {text or f'status {status}'}")


class Unintelligible(AuthorityError):
    """It answers with something that cannot be understood."""

    def __init__(self, why: str) -> None:
        super().__init__(f"The authority's answer cannot be understood: {why}.")
