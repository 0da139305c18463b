"""What can go wrong with the practice copy.

PractisingError
├── NoPlace        there is no database for one
└── UnderWay       one is being made
"""

from __future__ import annotations

__all__ = ["NoPlace", "PractisingError", "UnderWay"]


class PractisingError(Exception):
    """Base of them."""


class NoPlace(PractisingError):
    """There is no database for a practice copy, or this is one; the text says what to do."""


class UnderWay(PractisingError):
    """One is being made."""

    def __init__(self) -> None:
        super().__init__("The practice copy is being made; wait until it is there.")
