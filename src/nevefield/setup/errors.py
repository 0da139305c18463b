"""What can go wrong with what keeps an installation going.

SetupError
├── WrongInstitution   its name or colour cannot be so
└── NoSuchUnforeseen   there is no such error that nobody foresaw, or it is settled
"""

from __future__ import annotations

__all__ = ["NoSuchUnforeseen", "SetupError", "WrongInstitution"]


class SetupError(Exception):
    """Base of them."""


class NoSuchUnforeseen(SetupError):
    """There is none with that number, or it is settled."""

    def __init__(self, number: int) -> None:
        super().__init__(
            f"There is no error {number} that waits to be looked at; somebody may have settled it."
        )


class WrongInstitution(SetupError):
    """Its name or colour cannot be so; the text says what to do."""
