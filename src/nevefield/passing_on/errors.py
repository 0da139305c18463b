"""What can go wrong with passing on.

PassingError
├── NoSuchDestination
├── DestinationTaken     there is one of the name
├── DestinationKept      somebody kept a version while another one was changed
├── DestinationMoved     something is otherwise than it was looked at
├── NothingToTell        everything is in step, or waits for somebody
├── TooManyEnds          more would be switched off than goes without somebody's word
├── OthersSend           somebody sends already
├── NoKey                the installation has no key for secrets
├── StaysHere            this is the practice copy, which tells nobody anything
├── NotTheirs            somebody has the level in some of the rosters alone
└── WrongRemedy          what was decided does not fit the record
"""

from __future__ import annotations

__all__ = [
    "DestinationKept",
    "DestinationMoved",
    "DestinationTaken",
    "NoKey",
    "NoSuchDestination",
    "NoSuchFile",
    "NotTheirs",
    "NothingToTell",
    "OthersSend",
    "PassingError",
    "StaysHere",
    "TooManyEnds",
    "WrongRemedy",
]


class PassingError(Exception):
    """Base of everything that these services raise."""


class NoSuchDestination(PassingError):
    """There is no destination of that name, or not all of its rosters may be seen."""

    def __init__(self, name: str) -> None:
        super().__init__(f"There is no destination “{name}”.")


class NoSuchFile(PassingError):
    """There is no file of that number, or it is not kept any more."""

    def __init__(self) -> None:
        super().__init__("That file is not kept any more; another can be made.")


class DestinationTaken(PassingError):
    """There is one of the name."""

    def __init__(self, name: str) -> None:
        super().__init__(f"There is a destination “{name}” already.")


class DestinationKept(PassingError):
    """Somebody kept a version meanwhile.

    Args:
        seen: The version that was changed.
        now: The one in force.
    """

    def __init__(self, seen: int, now: int) -> None:
        self.seen, self.now = seen, now
        super().__init__(
            f"Somebody kept version {now} of this destination while you changed version {seen}."
            " Yours is not lost: look at theirs, then keep yours on top of it or leave it."
        )


class DestinationMoved(PassingError):
    """Something is otherwise than when it was looked at: a version, a record, what they hold."""

    def __init__(self) -> None:
        super().__init__(
            "Something is otherwise by now: look again at what would be sent, then send it."
        )


class NothingToTell(PassingError):
    """Everything is in step, or waits for somebody."""

    def __init__(self) -> None:
        super().__init__("There is nothing to send: everything is in step, or waits for somebody.")


class TooManyEnds(PassingError):
    """More would be switched off than goes without somebody's word.

    Args:
        ends: How many.
        there: Of how many that are there.
    """

    def __init__(self, ends: int, there: int) -> None:
        self.ends = ends
        super().__init__(
            f"{ends:,} of the {there:,} who are there would be switched off. If that is meant, say"
            f" the number {ends} with it."
        )


class OthersSend(PassingError):
    """Somebody sends already."""

    def __init__(self) -> None:
        super().__init__("It is being told already; wait until that is done.")


class NoKey(PassingError):
    """The installation has no key for secrets."""

    def __init__(self) -> None:
        super().__init__(
            "No secret can be kept here: the installation has no NEVEFIELD_STEP_KEY, or another"
            " one than before."
        )


class StaysHere(PassingError):
    """This is the practice copy."""

    def __init__(self) -> None:
        super().__init__("This is the practice copy: it tells nobody anything.")


class NotTheirs(PassingError):
    """Somebody has the level in some of the rosters alone."""

    def __init__(self, title: str, level: str) -> None:
        super().__init__(f"This needs the level “{level}” in {title} too.")


class WrongRemedy(PassingError):
    """What was decided does not fit the record."""
