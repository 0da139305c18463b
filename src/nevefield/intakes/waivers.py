"""Waivers that last: kept when what was let in is applied, listed, withdrawn."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Literal

import pyarrow as pa

from nevefield.core.columns.folding import fold_values
from nevefield.core.keeping import list_waivers
from nevefield.core.masking import cover_values, sensitive_fields
from nevefield.core.steps import active_steps, read_step
from nevefield.core.steps.kinds import WaiveStep
from nevefield.intakes.errors import NoSuchWaiver
from nevefield.rosters.snapshots import load_snapshot, require_roster
from nevefield.store import rosters as roster_store
from nevefield.store import waivers as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date, datetime

    import numpy as np

    from nevefield.context import Context
    from nevefield.core.snapshot import Snapshot
    from nevefield.intakes.evaluating import Opened
    from nevefield.store.connection import Connection

__all__ = ["OpenWaivers", "keep_waivers", "open_waivers", "withdraw"]

State = Literal["stands", "changed", "over", "taken back", "gone", "withdrawn"]


@dataclass(frozen=True)
class OpenWaivers:
    """A page of what was let in of whom, the last first."""

    snapshot: Snapshot  # as it may be seen
    total: int
    standing: int  # how many of all still count
    listed: list[tuple[store.WaiverRow, State]]
    covered: frozenset[str]  # fields of which the values are kept from whoever it was opened for


def keep_waivers(
    connection: Connection, opened: Opened, change_set_id: int, record_of_row: np.ndarray
) -> None:
    """Keep the yeses of the rows that go in with a change set, each with who said it and when."""
    waivers = list_waivers(opened.evaluation)
    if not waivers:
        return
    said: dict[tuple[str, str | None, int], tuple[int | None, datetime]] = {}
    for number, step in active_steps([read_step(row.step) for row in opened.steps]):
        if isinstance(step, WaiveStep):
            row = opened.steps[number - 1]
            said |= dict.fromkeys(
                [(step.check, step.field, line) for line in step.lines], (row.account_id, row.at)
            )
    kept = [
        (waiver, int(record_of_row[waiver.row]), *said[waiver.check, waiver.field, waiver.line])
        for waiver in waivers
    ]
    store.insert_waivers(connection, opened.roster.id, change_set_id, kept)


def open_waivers(
    context: Context, name: str, *, record: int | None, start: int, limit: int
) -> OpenWaivers:
    """Open a page of a roster's waivers, and tell which still count.

    Args:
        context: Database and clock.
        name: Of the roster.
        record: Those of one record alone.
        start: How many to pass over.
        limit: How many at most.

    Raises:
        NoSuchRoster: There is none.
    """
    today = context.today()
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        # Whether values are as they were is found in the values, also of who may not see them.
        whole, shown = load_snapshot(connection.whole(), roster), load_snapshot(connection, roster)
        records = None if record is None else {record}
        if shown.part is not None:
            records = set(shown.ids.tolist()) & (records or set(shown.ids.tolist()))
        total, waivers = store.list_waivers(
            connection, roster.id, records=records, start=start, limit=limit
        )
        standing = store.list_standing(connection, roster.id, today)
        covered = (
            sensitive_fields(shown.definition)
            if connection.sight.covers(roster.id)
            else frozenset()
        )
    places = whole.places()
    states = [_state(waiver, whole, places, today) for waiver in waivers]
    if covered:
        waivers = [
            replace(waiver, values=cover_values(shown.definition, waiver.values))
            for waiver in waivers
        ]
    count = sum(
        record in (None, waiver.record_id) and _is_as_it_was(waiver, whole, places)
        for waiver in standing
    )
    return OpenWaivers(shown, total, count, list(zip(waivers, states, strict=True)), covered)


def _state(
    waiver: store.WaiverRow, snapshot: Snapshot, places: Mapping[int, int], today: date
) -> State:
    if waiver.withdrawn_at is not None:
        return "withdrawn"
    if waiver.taken_back:
        return "taken back"
    if waiver.record_id not in places:
        return "gone"
    if waiver.until is not None and waiver.until < today:
        return "over"
    return "stands" if _is_as_it_was(waiver, snapshot, places) else "changed"


def _is_as_it_was(waiver: store.WaiverRow, snapshot: Snapshot, places: Mapping[int, int]) -> bool:
    """Tell whether a person's values are still those that a waiver is about."""
    place = places.get(waiver.record_id)
    if place is None or any(name not in snapshot.columns for name in waiver.values):
        return False
    fields = snapshot.definition.by_name
    return all(
        snapshot.folded(name).at(place)
        == (fold_values(fields[name], pa.array([text]))[0].as_py() if text is not None else None)
        for name, text in waiver.values.items()
    )


def withdraw(context: Context, waiver_id: int, account_id: int | None) -> None:
    """Withdraw a waiver: from now on it is asked again.

    Raises:
        NoSuchWaiver: There is none that stands.
    """
    with context.database.transaction() as connection:
        roster_id = store.get_waiver_roster(connection, waiver_id)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        if roster is None or not store.withdraw_waiver(
            connection, waiver_id, account_id, context.now()
        ):
            raise NoSuchWaiver(waiver_id)
        insert_audit(
            connection, "waiver-withdrawn", roster.name, account_id, context.now(), waiver=waiver_id
        )
