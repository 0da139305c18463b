"""What can go wrong with groups.

GroupError
├── KeptKind       who is in which group is kept from whoever asks
├── NoSuchKind
└── WrongPlacing   people cannot be put where somebody said
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection

__all__ = ["GroupError", "KeptKind", "NoSuchKind", "WrongPlacing"]


class GroupError(Exception):
    """Base of everything that services of groups raise."""


class KeptKind(GroupError):
    """Who is in which group is kept from whoever asks."""

    def __init__(self) -> None:
        super().__init__("Who is in these groups is kept from accounts that may only look.")


class NoSuchKind(GroupError):
    """There is no kind of group of that name in the roster."""

    def __init__(self, name: str, known: Collection[str]) -> None:
        self.name = name
        super().__init__(
            f"There is no kind of group “{name}”;"
            f" {near(name, known) if known else 'this roster has none.'}"
        )


class WrongPlacing(GroupError):
    """People cannot be put where somebody said."""
