"""What can go wrong with keeping.

KeepingError
├── HeldBack      somebody's data must stay, and why is said
├── Erased        they were erased already
├── WrongErasure  what is asked cannot be done so
└── WrongTerm     nothing is kept for so many days
"""

from __future__ import annotations

__all__ = ["Erased", "HeldBack", "KeepingError", "WrongErasure", "WrongTerm"]


class KeepingError(Exception):
    """Base of them."""


class HeldBack(KeepingError):
    """Somebody's data must stay."""

    def __init__(self, reason: str, by: str) -> None:
        super().__init__(
            f"This person's data must stay{f', says {by}' if by else ''}: {reason}. Nothing was"
            " erased; release it first."
        )


class Erased(KeepingError):
    """They were erased already."""

    def __init__(self) -> None:
        super().__init__("This person was erased already.")


class WrongErasure(KeepingError):
    """What is asked cannot be done so; the text says why."""


class WrongTerm(KeepingError):
    """Nothing is kept for so many days; the text says what may be chosen."""
