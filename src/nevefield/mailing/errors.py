"""What can go wrong with mails.

MailError
├── NoServer     nobody said where mails are handed over
├── WrongServer  what was said of the mail server cannot be
├── NoSecrets    the installation has no key for secrets
└── MailStays    this is the practice copy, which writes to nobody
"""

from __future__ import annotations

__all__ = [
    "MailError",
    "MailStays",
    "NoSecrets",
    "NoServer",
    "WrongServer",
]


class MailError(Exception):
    """Base of everything that these services raise."""


class NoServer(MailError):
    """Nobody said where mails are handed over."""

    def __init__(self) -> None:
        super().__init__("Nothing is mailed yet: say in Setup, Mail, where mails are handed over.")


class WrongServer(MailError):
    """What was said of the mail server cannot be.

    Args:
        place: Of what.
        problem: What would be right.
    """

    def __init__(self, place: str, problem: str) -> None:
        self.place = place
        super().__init__(f"{place}: {problem}" if place else problem)


class NoSecrets(MailError):
    """The installation has no key for secrets."""

    def __init__(self) -> None:
        super().__init__(
            "No password can be kept here: the installation has no NEVEFIELD_STEP_KEY, or another"
            " one than before."
        )


class MailStays(MailError):
    """This is the practice copy."""

    def __init__(self) -> None:
        super().__init__("This is the practice copy: it writes to nobody.")
