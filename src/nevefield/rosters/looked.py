"""Sensitive fields: uncovered for a task by who may, and who looked at them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.core.columns.titles import name_openly
from nevefield.core.masking import sensitive_fields
from nevefield.rosters.errors import NotUncovered
from nevefield.rosters.snapshots import Cache, load_snapshot, require_roster
from nevefield.store import looked as store
from nevefield.store import rosters as roster_store
from nevefield.store.accounts import get_account_by_id
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.looked import Look
    from nevefield.store.rosters import Roster

__all__ = ["Looked", "cover", "list_looked", "note_looked", "uncover", "uncovered_until"]

UNCOVERED = timedelta(minutes=15)
SHORTEST_REASON = 4  # characters
A_LIST = 0  # in the place of a record's number
MOST_KNOWN = 50_000  # of what this process has noted already
_NOTED = Cache(MOST_KNOWN)


@dataclass(frozen=True)
class Looked:
    """Somebody saw sensitive fields."""

    look: Look
    roster: Roster
    whom: str  # "" for a list


def note_looked(
    context: Context,
    roster: Roster,
    definition: Definition,
    account_id: int,
    records: Sequence[int] = (A_LIST,),
) -> None:
    """Note that somebody is shown sensitive fields of records, or of a list; nothing where they
    are covered for them, or where the roster has none.
    """
    if not sensitive_fields(definition) or context.database.sight.covers(roster.id):
        return
    hour = context.now().replace(minute=0, second=0, microsecond=0)
    keys = [(context.database.nodes.name, account_id, roster.id, hour, one) for one in records]
    fresh = [key for key in keys if not _NOTED.has(key)]
    if not fresh:
        return
    with context.database.transaction() as connection:
        store.insert_looks(connection, account_id, roster.id, [int(key[-1]) for key in fresh], hour)
    for key in fresh:  # once it is kept: a transaction that failed is tried again
        _NOTED.get(key, lambda: True)


def list_looked(
    context: Context,
    *,
    account_id: int | None,
    roster_name: str,
    record_id: int | None,
    start: int,
    limit: int,
) -> tuple[int, list[Looked]]:
    """Count who looked at sensitive fields, and list a page of them, the last first.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        rosters = {roster.id: roster for roster in roster_store.list_seen(connection)}
        wanted = require_roster(connection, roster_name).id if roster_name else None
        total, looks = store.list_looks(
            connection,
            account_id=account_id,
            roster_id=wanted,
            record_id=record_id,
            start=start,
            limit=limit,
        )
        return total, [
            Looked(look, rosters[look.roster_id], _name(connection, rosters[look.roster_id], look))
            for look in looks
            if look.roster_id in rosters
        ]


def _name(connection: Connection, roster: Roster, look: Look) -> str:
    if look.record_id == A_LIST:
        return ""
    snapshot = load_snapshot(connection, roster)
    place = snapshot.places().get(look.record_id)
    if place is None:
        return f"record {look.record_id}, which left"
    values = snapshot.values(place)
    return name_openly(snapshot.definition, values.get) or f"record {look.record_id}"


def uncover(context: Context, name: str, reason: str, account_id: int) -> datetime:
    """Uncover the sensitive fields of a roster for somebody, for a quarter of an hour.

    Args:
        context: Database and clock.
        name: Of the roster.
        reason: Which the trail keeps.
        account_id: For whom.

    Returns:
        Until when.

    Raises:
        NotUncovered: They may not, or no reason is given.
        NoSuchRoster: There is none.
    """
    reason = " ".join(reason.split())
    if len(reason) < SHORTEST_REASON:
        raise NotUncovered("Say for which task: who looks after the data will read it.")
    now = context.now()
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        account = get_account_by_id(connection, account_id)
        if account is None or not account.may_uncover:
            raise NotUncovered(
                "You may not uncover sensitive fields; ask who administers to let you."
            )
        until = now + UNCOVERED
        store.insert_uncovered(connection, account_id, roster.id, reason, now, until)
        insert_audit(connection, "uncovered", roster.name, account_id, now, reason=reason)
    return until


def cover(context: Context, name: str, account_id: int) -> None:
    """Cover the sensitive fields of a roster again, before the time is over.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        if store.end_uncovered(connection, account_id, roster.id, context.now()):
            insert_audit(connection, "covered-again", roster.name, account_id, context.now())


def uncovered_until(context: Context, account_id: int) -> dict[int, datetime]:
    """List by roster until when its sensitive fields are uncovered for somebody."""
    with context.database.transaction() as connection:
        return store.list_uncovered(connection, account_id, context.now())
