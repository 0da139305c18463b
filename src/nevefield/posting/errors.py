"""What can go wrong with a mail server.

PostError
├── ServerAway    it does not answer, or takes nothing now
├── ServerDenies  it does not take our name and password, or our way of talking
├── Later         it does not take this mail now
├── Never         it will not take this mail
└── Unclear       it had the whole mail, and did not say whether it took it
"""

from __future__ import annotations

__all__ = ["Later", "Never", "PostError", "ServerAway", "ServerDenies", "Unclear"]


class PostError(Exception):
    """Base of the errors of mail servers; the text is one plain sentence."""


class ServerAway(PostError):
    """It does not answer, or takes nothing now."""

    def __init__(self, why: str) -> None:
        super().__init__(f"The mail server does not answer ({why}). What waits goes later.")


class ServerDenies(PostError):
    """It does not take our name and password, or our way of talking."""


class _Said(PostError):
    """What it said of one mail.

    Args:
        code: Its reply code (RFC 5321, 4.2).
        text: Its words.
    """

    def __init__(self, code: int, text: str) -> None:
        self.code = code
        self.text = text
        super().__init__(f"{code} {text}".strip())


class Later(_Said):
    """It does not take this mail now."""


class Never(_Said):
    """It will not take this mail."""


class Unclear(PostError):
    """It had the whole mail, and did not say whether it took it."""

    def __init__(self) -> None:
        super().__init__("It had the whole mail, and did not say whether it took it.")
