"""What can go wrong with intakes.

IntakeError
├── NoSuchIntake
├── NoSuchSource
├── NoSuchWaiver     there is none that stands
├── FileGone         the file was deleted by its time
├── NoIntakeOfSheet  the file that an error sheet belongs to was never dropped
├── WrongRoster      the file is for another roster, or for none
├── CellConflict     somebody else set the same cell meanwhile
├── NothingToApply
├── NotThrown        what cannot be thrown away, or was and is worked on
├── WrongEdit        a check stops what somebody typed, or asks about it
├── NeedsWaiver      the whole file needs approval
├── NotAhead         a day to put something off to is today or over
└── OutOfDate        steps were added since the plan was looked at
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.columns.days import say_day

if TYPE_CHECKING:
    from datetime import date

__all__ = [
    "CellConflict",
    "FileGone",
    "IntakeError",
    "NeedsWaiver",
    "NoIntakeOfSheet",
    "NoSuchIntake",
    "NoSuchSource",
    "NoSuchWaiver",
    "NotAhead",
    "NotThrown",
    "NothingToApply",
    "OutOfDate",
    "WrongEdit",
    "WrongRoster",
    "WrongSheet",
]


class IntakeError(Exception):
    """Base of everything that services of intakes raise."""


class NoSuchIntake(IntakeError):
    """There is no intake with that number."""

    def __init__(self, intake_id: int) -> None:
        self.intake_id = intake_id
        super().__init__(f"There is no intake {intake_id}.")


class FileGone(IntakeError):
    """The file was deleted by its time."""

    def __init__(self, day: date) -> None:
        super().__init__(
            f"This file was deleted on {say_day(day)}, as files are kept for some days only. What"
            " came of it stands in its receipt."
        )


class NoSuchWaiver(IntakeError):
    """There is no waiver with that number that stands."""

    def __init__(self, waiver_id: int) -> None:
        self.waiver_id = waiver_id
        super().__init__(f"There is no waiver {waiver_id} that still stands.")


class WrongRoster(IntakeError):
    """The file is for another roster, or for none that is here."""

    def __init__(self, text: str) -> None:
        super().__init__(text)


class NoSuchSource(IntakeError):
    """There is no source with that number, or it has no recipe."""

    def __init__(self, source_id: int) -> None:
        self.source_id = source_id
        super().__init__(f"There is no source {source_id} with a recipe.")


class NoIntakeOfSheet(IntakeError):
    """An error sheet came whose file was never dropped here."""

    def __init__(self) -> None:
        super().__init__(
            "This is an error sheet, but the file that it belongs to is not here. Drop that file"
            " first, then this sheet."
        )


class NothingToApply(IntakeError):
    """No row is new or changed."""

    def __init__(self) -> None:
        super().__init__("No row is new or changed, so there is nothing to apply.")


class NotThrown(IntakeError):
    """An intake cannot be thrown away, or was."""

    def __init__(self, why: str) -> None:
        self.why = why
        super().__init__(f"This cannot be done: {why}.")


class CellConflict(IntakeError):
    """Somebody else set the same cell to something else meanwhile."""

    def __init__(self, by: str, line: int, field: str, theirs: str, yours: str) -> None:
        self.by, self.line, self.field, self.theirs, self.yours = by, line, field, theirs, yours
        super().__init__(
            f"{by or 'Somebody'} has set {field} of line {line} to “{theirs}” meanwhile; yours,"
            f" “{yours}”, was not taken. Set it once more if yours is to stand."
        )


class WrongEdit(IntakeError):
    """A check stops what somebody typed into a record, or asks about it and no reason was given."""

    def __init__(self, found: list[tuple[str, str]], *, waits: bool, ends: bool = False) -> None:
        # ends: a privilege is gained, for which there may be an end day
        self.found, self.waits, self.ends = found, waits, ends
        said = " ".join(message for _, message in found)
        super().__init__(
            f"{said} Say why it is right, or alter it." if waits else f"{said} Nothing was changed."
        )


class NeedsWaiver(IntakeError):
    """Something about the whole file waits for somebody's yes."""

    def __init__(self, texts: list[str]) -> None:
        self.said = texts
        super().__init__(
            f"{'; '.join(texts)}: this has to be settled first, on the Problems page. Nothing was"
            " applied."
        )


class NeedsNumber(IntakeError):
    """So much would change that its number must be typed."""

    def __init__(self, texts: list[str], number: int) -> None:
        self.said, self.number = texts, number
        super().__init__(
            f"{' '.join(texts)} Type {number} to say that you mean it. Nothing was applied."
        )


class NotAhead(IntakeError):
    """A day to put something off to is today or over."""

    def __init__(self, day: date) -> None:
        self.day = day
        super().__init__(f"{say_day(day)} is not ahead. Choose a later day, or apply it now.")


class OutOfDate(IntakeError):
    """Steps were added since the plan was looked at."""

    def __init__(self, seen: int, now: int) -> None:
        self.seen, self.now = seen, now
        super().__init__(
            "Steps were added to the intake meanwhile, so nothing was applied. Look at the changes"
            " again, then apply."
        )


class WrongSheet(IntakeError):
    """A corrected sheet is that of another file, or no error sheet at all."""

    def __init__(self, mark: str, file_name: str) -> None:
        self.mark, self.file_name = mark, file_name
        said = (
            f"This is the error sheet of another file than {file_name}."
            if mark
            else "This is no error sheet: its first column is not “line of …”."
        )
        super().__init__(f"{said} Nothing was taken in.")
