"""What can go wrong with groups.

GroupError
├── NoSuchKind
└── WrongPlacing   people cannot be put where somebody said
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Collection

__all__ = ["GroupError", "NoSuchKind", "WrongPlacing"]


class GroupError(Exception):
    """Base of everything that services of groups raise."""


class NoSuchKind(GroupError):
    """There is no kind of group of that name in the roster."""

    def __init__(self, name: str, known: Collection[str]) -> None:
        self.name = name
        super().__init__(f"There is no kind of group {name!r}; {near(name, known) if known else 'this roster has none.'}")


class WrongPlacing(GroupError):
    """People cannot be put where somebody said."""
