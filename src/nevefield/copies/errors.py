"""What can go wrong with copies.

CopyError
├── CopyFailed   a copy could not be made, tried or brought back; nothing was altered
└── NoSuchCopy   there is no file of that name
"""

from __future__ import annotations

__all__ = ["CopyError", "CopyFailed", "NoSuchCopy"]


class CopyError(Exception):
    """Base of them."""


class CopyFailed(CopyError):
    """A copy could not be made, tried or brought back; the text says why. Nothing was altered."""


class NoSuchCopy(CopyError):
    """There is no file of that name."""

    def __init__(self, name: str) -> None:
        super().__init__(f"There is no copy “{name}”; nevefield copy list shows them.")
