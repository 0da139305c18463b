"""Compare any two states of a roster: days, versions, files; with export."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass, replace
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.changes.states import Difference, compare_states
from nevefield.core.columns.titles import name_person
from nevefield.core.errors import WrongStep
from nevefield.core.masking import cover_snapshot
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column
from nevefield.core.texts import read_whole, safe_cell
from nevefield.intakes.errors import NoSuchIntake
from nevefield.intakes.evaluating import open_intake
from nevefield.rosters.looking import Export, open_roster
from nevefield.rosters.snapshots import require_roster
from nevefield.store.intakes import get_intake

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["State", "compare_any", "export_difference"]

LONGEST_NUMBER = 9  # digits of an intake's number


@dataclass(frozen=True)
class State:
    """One state of a roster."""

    snapshot: Snapshot
    title: str
    fields: frozenset[str] | None  # that it fills; None for all
    is_file: bool


def _open_state(context: Context, name: str, what: str) -> State:
    """Open a state of a roster, in whole: what differs is found in what is kept from somebody, too.

    Args:
        context: Database and clock.
        name: Of the roster.
        what: `today`, `day:2026-08-31` (the end of that day, UTC) or `intake:7` (the rows of a file
            as they are read).

    Raises:
        WrongStep: It is none of these, or the file is of another roster.
        NoSuchRoster, NoSuchIntake: There is none.
    """
    kind, _, rest = what.partition(":")
    number = read_whole(rest, LONGEST_NUMBER)
    if kind == "intake" and number is not None:
        with context.database.transaction() as connection:
            if get_intake(connection, number) is None:
                raise NoSuchIntake(number)
        opened = open_intake(context.whole(), number)
        if opened.roster.name != name:
            raise WrongStep(
                f"The file {opened.intake.file_name} is of another roster, {opened.roster.title}."
            )
        evaluation = opened.evaluation
        nothing = Column.constant(None, len(evaluation.table))
        typed = evaluation.facts.typed
        columns = {
            field.name: typed[field.name].stored if field.name in typed else nothing
            for field in evaluation.definition.fields
        }
        kept = np.flatnonzero(evaluation.facts.joined.is_lead & ~evaluation.facts.aside)
        snapshot = Snapshot(
            evaluation.definition,
            evaluation.table.lines[kept],
            {name: column.take(kept) for name, column in columns.items()},
        )
        return State(snapshot, opened.intake.file_name, frozenset(typed), True)
    try:
        day = date.fromisoformat(rest) if kind == "day" else None
    except ValueError as error:
        raise WrongStep(f"“{rest}” is no day; write it as 2026-08-31.") from error
    if day is None and what != "today":
        raise WrongStep(
            f"“{what}” is no state of a roster; known are today, day:2026-08-31, intake:7."
        )
    roster, snapshot = open_roster(context.whole(), name, day)
    return State(snapshot, f"{roster.title} {'today' if day is None else f'on {day}'}", None, False)


def compare_any(context: Context, name: str, old: str, new: str) -> tuple[State, State, Difference]:
    """Compare two states of a roster.

    Raises:
        WrongStep, NoSuchRoster, NoSuchIntake: See `_open_state`.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        covers = connection.sight.covers(roster.id)
    first, second = _open_state(context, name, old), _open_state(context, name, new)
    filled = [state.fields for state in (first, second) if state.fields is not None]
    fields = frozenset.intersection(*filled) if filled else None
    by_number = not (first.is_file or second.is_file)
    difference = compare_states(first.snapshot, second.snapshot, fields=fields, by_number=by_number)
    if covers:  # that they differ is still counted
        difference = replace(
            difference, old=cover_snapshot(difference.old), new=cover_snapshot(difference.new)
        )
    return first, second, difference


def export_difference(difference: Difference, name: str) -> Export:
    """Write a difference as CSV, a line for each value that differs and each person who joined
    or is absent.
    """
    definition = difference.new.definition
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["what", *definition.primary_key, "name", "field", "old", "new"])

    def line(
        what: str, snapshot: Snapshot, place: int, field: str = "", old: str = "", new: str = ""
    ) -> None:
        values = [snapshot.columns[name].at(place) or "" for name in definition.primary_key]
        person = name_person(definition, lambda one: snapshot.columns[one].at(place))
        texts = [what, *values, person, field, old.replace("\x1f", ";"), new.replace("\x1f", ";")]
        writer.writerow([safe_cell(text) for text in texts])

    for place in difference.joined.tolist():
        line("joined", difference.new, place)
    for place in difference.absent.tolist():
        line("absent", difference.old, place)
    mine, theirs = difference.pairs
    for field, where in difference.changes.items():
        for place in where.tolist():
            was = difference.old.columns[field].at(int(theirs[place])) or ""
            line(
                "changed",
                difference.new,
                int(mine[place]),
                field,
                was,
                difference.new.columns[field].at(int(mine[place])) or "",
            )
    return Export(
        b"\xef\xbb\xbf" + out.getvalue().encode(), "text/csv; charset=utf-8", f"{name}-compared.csv"
    )
