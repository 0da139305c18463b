"""Look at intakes: lists of them, what stands around one, what became of its lines."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.states import JobKind
from nevefield.intakes.errors import NoIntakeOfSheet
from nevefield.intakes.sources import KnownSource, known_sources
from nevefield.rosters.parts import name_part
from nevefield.store import intakes as store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.accounts import list_accounts
from nevefield.store.parts import get_part

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from nevefield.context import Context
    from nevefield.intakes.evaluating import Opened
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "Around",
    "IntakePage",
    "Listed",
    "find_intake_of_sheet",
    "find_outcome",
    "list_intakes",
    "list_receipt_lines",
    "look_around",
    "pulse",
]


@dataclass(frozen=True)
class Listed:
    """An intake in a list."""

    intake: store.Intake
    roster: Roster
    by: str
    applied: int | None  # the change set that it stands as
    taken_back: bool  # it was applied, and nothing of it stands


@dataclass(frozen=True)
class IntakePage:
    """A page of intakes, and how many there are."""

    listed: list[Listed]
    total: int
    thrown: int  # that were thrown away


@dataclass(frozen=True)
class Around:
    """What stands around an intake that its file does not say."""

    by: str  # who dropped it
    applied: int | None  # the last change set that it was applied as
    later: int  # change sets that rest on the one it stands as
    job: int | None  # that applies it right now
    absent_before: list[int]  # how many were absent from earlier files of the roster
    sources: list[KnownSource]
    within: str  # the part of the roster that it is for, in words; "" for all of it


def list_intakes(context: Context, start: int, limit: int, *, thrown: bool) -> IntakePage:
    """List a page of the intakes that may be seen, the last first; or of those thrown away."""
    with context.database.transaction() as connection:
        rosters = {roster.id: roster for roster in roster_store.list_seen(connection)}
        names = _names(connection)
        page = store.list_intakes(connection, rosters, start=start, limit=limit, thrown=thrown)
        applied = store.list_applied(connection, [intake.id for intake in page])
        total = store.count_intakes(connection, rosters, thrown=thrown)
        away = total if thrown else store.count_intakes(connection, rosters, thrown=True)
    listed = []
    for intake in page:
        standing, taken_back = applied.get(intake.id, (None, False))
        by = _who(intake, names)
        roster = rosters[intake.roster_id]
        listed.append(Listed(intake, roster, by, standing, taken_back and standing is None))
    return IntakePage(listed, total, away)


def look_around(context: Context, opened: Opened) -> Around:
    """Look at what stands around an intake."""
    intake, roster = opened.intake, opened.roster
    with context.database.transaction() as connection:
        applied = record_store.get_change_set_of(connection, intake.id)
        standing = record_store.get_standing(connection, intake.id)
        running = (
            job.id
            for job in job_store.list_running(connection, JobKind.APPLY)
            if job.arguments["intake"] == intake.id
        )
        return Around(
            by=_who(intake, _names(connection)),
            applied=applied.id if applied else None,
            later=(
                record_store.count_later(connection, roster.id, standing.version) if standing else 0
            ),
            job=next(running, None),
            absent_before=record_store.list_absent(connection, roster.id, intake.id),
            sources=[
                source
                for source in known_sources(connection, {roster.id: opened.evaluation.definition})
                if source.part_id == intake.part_id
            ],
            within=name_part(connection, roster, get_part(connection, intake.part_id)),
        )


def find_intake_of_sheet(context: Context, mark: str, allowed: Collection[int]) -> int:
    """Find the last intake of the file that an error sheet was made of.

    Args:
        context: Database.
        mark: Of the file, as the sheet carries it.
        allowed: Rosters in which corrections may be taken, by number.

    Raises:
        NoIntakeOfSheet: There is none in them.
    """
    with context.database.transaction() as connection:
        for intake in store.list_intakes_of(connection, mark):
            if intake.roster_id in allowed:
                return intake.id
    raise NoIntakeOfSheet


def find_outcome(
    context: Context, intake_id: int, line: int
) -> tuple[int, str, int | None, str] | None:
    """Find what became of a line when its intake was applied: the change set, the outcome, the
    record, the message; None when it was not.
    """
    with context.database.transaction() as connection:
        return store.get_outcome(connection, intake_id, line)


def list_receipt_lines(
    context: Context, change_set_id: int, outcome: str
) -> tuple[int | None, list[tuple[int, int | None, str]]]:
    """List the lines of a file that had an outcome when a change set was applied: the intake,
    and each line with its record and message; no intake when the change set is of none.
    """
    with context.database.transaction() as connection:
        change_set = record_store.get_change_set(connection, change_set_id)
        if change_set is None or change_set.intake_id is None:
            return None, []
        return change_set.intake_id, store.list_outcomes(connection, change_set_id, outcome)


def pulse(context: Context, intake_id: int) -> tuple[int, int]:
    """Tell how many steps an intake has, and the version of its roster."""
    with context.database.transaction() as connection:
        return store.get_pulse(connection, intake_id)


def _who(intake: store.Intake, names: Mapping[int, str]) -> str:
    """Say who an intake is from: somebody, the system that proposed it, or answers to letters; ""
    for a command.
    """
    if intake.kind in ("asked", "answered") and intake.account_id is None:
        return intake.file_name.removeprefix("from ")
    return names.get(intake.account_id or 0, "")


def _names(connection: Connection) -> dict[int, str]:
    return {account.id: account.name for account in list_accounts(connection)}
