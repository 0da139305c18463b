"""What can go wrong when an outside system asks.

AskedError
├── NoSuchToken    the token is none, or counts no more
└── NotHere        this is the practice copy, which tells nobody anything
"""

from __future__ import annotations

__all__ = ["AskedError", "NoSuchToken", "NotHere"]


class AskedError(Exception):
    """Base of everything that these services raise."""


class NoSuchToken(AskedError):
    """The token is none, or counts no more."""

    def __init__(self) -> None:
        super().__init__("This token does not count: another was made since, or it is none.")


class NotHere(AskedError):
    """This is the practice copy."""

    def __init__(self) -> None:
        super().__init__("This is the practice copy: it tells nobody anything.")
