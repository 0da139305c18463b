"""What can go wrong when a roster is opened.

OpeningError
├── NoSuchOpening   there is none, it is somebody else's, or its roster is open
├── OpeningMoved    it was altered elsewhere since it was looked at
├── NameTaken       there is a roster of that name
└── RosterInUse     something was applied to the roster: taking the opening back would lose it
"""

from __future__ import annotations

__all__ = ["NameTaken", "NoSuchOpening", "OpeningError", "OpeningMoved", "RosterInUse"]


class OpeningError(Exception):
    """Base of them."""


class NoSuchOpening(OpeningError):
    """There is none with that number."""

    def __init__(self, number: int) -> None:
        super().__init__(
            f"There is no file {number} that waits to become a roster: its roster is open by now,"
            " or it was thrown away. Upload the file again."
        )


class OpeningMoved(OpeningError):
    """It was altered elsewhere since it was looked at."""

    def __init__(self) -> None:
        super().__init__(
            "It was altered in another window meanwhile. Look at it as it stands, then go on."
        )


class NameTaken(OpeningError):
    """There is a roster of that name."""

    def __init__(self, name: str) -> None:
        self.name = name
        super().__init__(f"There is a roster “{name}” already; give this one another name.")


class RosterInUse(OpeningError):
    """Something was applied to it."""

    def __init__(self, title: str) -> None:
        super().__init__(
            f"{title} has receipts, and they would be lost with it. Take its receipts back instead;"
            " the roster stays, empty."
        )
