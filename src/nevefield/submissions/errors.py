"""What can go wrong with submissions.

SubmissionError
├── NoSuchSubmission
├── NoSuchRound
├── NothingToSend
├── RoundUnderWay    one is sent and not answered yet
├── WrongDecision    what was decided does not fit the record
├── NoAuthority      the settings name none
└── OnlyPractice     this is the practice copy, and that would count
"""

from __future__ import annotations

__all__ = [
    "NoAuthority",
    "NoSuchRound",
    "NoSuchSubmission",
    "NothingToSend",
    "OnlyPractice",
    "RoundUnderWay",
    "SubmissionError",
    "WrongDecision",
]


class SubmissionError(Exception):
    """Base of everything that services of submissions raise."""


class NoSuchSubmission(SubmissionError):
    """There is no submission of that number."""

    def __init__(self, number: int) -> None:
        super().__init__(f"There is no submission {number}.")


class NoSuchRound(SubmissionError):
    """There is no round of that number, or it has nothing of the kind."""

    def __init__(self, number: int) -> None:
        super().__init__(f"There is no round {number}, or it has no answer yet.")


class OnlyPractice(SubmissionError):
    """This is the practice copy, and that would count."""

    def __init__(self) -> None:
        super().__init__(
            "This is the practice copy: nothing of it goes to the authority's live side. Use its"
            " practice side, or submit from the real rosters."
        )


class NothingToSend(SubmissionError):
    """Nothing is ready."""

    def __init__(self) -> None:
        super().__init__(
            "Nothing is ready to be sent: what is open waits for a decision, or is kept back."
        )


class RoundUnderWay(SubmissionError):
    """A round is sent and not answered yet."""

    def __init__(self, number: int) -> None:
        super().__init__(f"Round {number} is not answered yet; the next one is sent after it.")


class WrongDecision(SubmissionError):
    """What was decided does not fit the record."""


class NoAuthority(SubmissionError):
    """The settings name no authority."""

    def __init__(self) -> None:
        super().__init__(
            "No authority is set up here (NEVEFIELD_REGISTRY_URL, NEVEFIELD_REGISTRY_TOKEN). The"
            " round can be written as a file and its answer brought back by hand."
        )
