"""What can go wrong at the database.

StoreError
├── DatabaseGone     no connection could be made
├── Contended        others were writing the same; nothing was kept, and doing it again may well go
├── KeyTaken         another record has a key already
└── LoadRefused      a bulk load lost or altered rows; nothing was kept
"""

from __future__ import annotations

__all__ = ["Contended", "DatabaseGone", "KeyTaken", "LoadRefused", "StoreError"]


class StoreError(Exception):
    """Base of everything that the store raises."""


class DatabaseGone(StoreError):
    """No connection could be made."""

    def __init__(self, reason: str) -> None:
        self.reason = reason
        super().__init__(f"The database does not answer: {reason}.")


class Contended(StoreError):
    """Others were writing the same at the same moment, and the database gave this transaction up (1213) or its wait (1205)."""

    def __init__(self) -> None:
        super().__init__("Somebody else was writing the same at that moment, so nothing was changed. Try again.")


class KeyTaken(StoreError):
    """Another record has a key already; the database refused the whole change."""

    def __init__(self, reason: str) -> None:
        self.reason = reason
        super().__init__(f"A value that must be unique is taken already: {reason}. Nothing was changed.")


class LoadRefused(StoreError):
    """A bulk load lost or altered rows."""

    def __init__(self, table: str, wanted: int, loaded: int, warning: str) -> None:
        self.table, self.wanted, self.loaded, self.warning = table, wanted, loaded, warning
        super().__init__(
            f"Of {wanted} rows for {table}, {loaded} were taken ({warning or 'no reason given'}). Nothing was changed."
        )
