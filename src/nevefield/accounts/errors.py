"""What can go wrong with accounts.

AccountError
├── NoSuchAccount    there is none with that number
├── WrongAccount     a name is taken or none, or a level cannot be so
├── WrongPassword    the password so far does not fit
├── WeakPassword     a password that is guessed soon
├── WrongCode        a code of the second step does not fit
├── NotBegun         there is no second step, or one already
├── NoStepKey        the installation has no key for secrets of second steps, or another one
├── LinkGone         a link was used, replaced, or ran out
└── LastAdministrator  nobody would be left who administers
"""

from __future__ import annotations

__all__ = [
    "AccountError",
    "LastAdministrator",
    "LinkGone",
    "NoStepKey",
    "NoSuchAccount",
    "NotBegun",
    "WeakPassword",
    "WrongAccount",
    "WrongCode",
    "WrongPassword",
]


class AccountError(Exception):
    """Base of them."""


class NoSuchAccount(AccountError):
    """There is none with that number."""

    def __init__(self, number: int) -> None:
        super().__init__(f"There is no account {number}.")


class WrongAccount(AccountError):
    """A name is taken or none, or a level cannot be so; the text says what to do."""


class WeakPassword(AccountError):
    """A password that is guessed soon; the text says why."""


class WrongCode(AccountError):
    """A code of the second step does not fit."""

    def __init__(self) -> None:
        super().__init__(
            "That code does not fit. Take the one that the app shows now, and see that its clock is"
            " right."
        )


class NotBegun(AccountError):
    """There is no second step, or one already; the text says which."""


class NoStepKey(AccountError):
    """The installation has no key for the secrets of second steps, or another one than they were
    kept by.
    """

    def __init__(self) -> None:
        super().__init__(
            "The key by which secrets of second steps are kept is not set here, or is another one;"
            " whoever runs this installation has to set NEVEFIELD_STEP_KEY."
        )


class LinkGone(AccountError):
    """A link that sets a password no more."""

    def __init__(self) -> None:
        super().__init__(
            "This link sets no password any more: it was used, another one was made, or its time"
            " is over. Ask whoever sent it for a new one."
        )


class LastAdministrator(AccountError):
    """Nobody would be left who administers."""

    def __init__(self, name: str) -> None:
        super().__init__(
            f"{name} is the last one who administers everything. Let somebody else do so first."
        )


class WrongPassword(AccountError):
    """The password so far does not fit. The session goes on: it is no failed sign-in."""

    def __init__(self) -> None:
        super().__init__("That is not your password so far.")
