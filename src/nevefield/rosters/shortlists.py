"""Shortlists: kept by hand, made of what a file did, or live by a condition."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.conditions import check_condition, holds
from nevefield.core.errors import WrongStep
from nevefield.rosters.errors import NoSuchShortlist
from nevefield.rosters.snapshots import load_definition, load_snapshot, require_roster
from nevefield.store import rosters as roster_store
from nevefield.store import shortlists as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Collection
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection

__all__ = ["change_shortlist", "drop_shortlist", "keep_shortlist", "places_of", "require_shortlist"]


def keep_shortlist(
    context: Context,
    name: str,
    title: str,
    account_id: int | None,
    *,
    records: Collection[int] = (),
    live: Any | None = None,
    is_shared: bool = True,
) -> int:
    """Keep a shortlist.

    Args:
        context: Database and clock.
        name: Of the roster.
        title: For people; one roster has each title once.
        account_id: Who.
        records: The records' numbers, of one that is kept by hand.
        live: The condition of a live one.
        is_shared: Whether others see it too.

    Returns:
        Its number.

    Raises:
        NoSuchRoster: There is none.
        WrongStep: It has no title, or one that another has, or records that the roster does not
            have.
        WrongDefinition: The condition cannot be understood.
    """
    if not title.strip():
        raise WrongStep("A shortlist has a title.")
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        definition = load_definition(connection, roster)
        if live is not None:
            check_condition(live, "live", definition.by_name)
        known = set(load_snapshot(connection, roster).ids.tolist())
        if any(number not in known for number in records):
            raise WrongStep("Some of these records are not in the roster any more.")
        if store.has_title(connection, roster.id, title.strip()):
            raise WrongStep(f"There is a shortlist “{title.strip()}” already; take another title.")
        number = store.insert_shortlist(
            connection,
            roster.id,
            title.strip()[:120],
            live,
            is_shared=is_shared,
            account_id=account_id,
            at=context.now(),
        )
        store.add_records(connection, number, records)
        insert_audit(
            connection,
            "shortlist-kept",
            title.strip(),
            account_id,
            context.now(),
            shortlist=number,
            records=len(records),
        )
    return number


def require_shortlist(
    connection: Connection, shortlist_id: int, account_id: int | None
) -> store.Shortlist:
    """Find a shortlist that an account sees.

    Raises:
        NoSuchShortlist: There is none, or it is another's own.
    """
    found = store.get_shortlist(connection, shortlist_id)
    if found is None or not (found.is_shared or found.account_id == account_id):
        raise NoSuchShortlist(shortlist_id)
    return found


def places_of(
    connection: Connection, shortlist: store.Shortlist, snapshot: Snapshot, today: date
) -> np.ndarray:
    """Find a shortlist's records in a roster, as places in it; those that left are passed over."""
    if shortlist.live is None:
        return np.flatnonzero(np.isin(snapshot.ids, store.list_records(connection, shortlist.id)))
    names = snapshot.definition.by_name
    check_condition(shortlist.live, "live", names)  # a later definition may have dropped a field
    return np.flatnonzero(
        holds(shortlist.live, lambda name: snapshot.columns[name], len(snapshot), today)
    )


def change_shortlist(
    context: Context,
    shortlist_id: int,
    account_id: int | None,
    *,
    add: Collection[int] = (),
    remove: Collection[int] = (),
) -> None:
    """Put records on a shortlist that is kept by hand, or take some off.

    Raises:
        NoSuchShortlist: There is none.
        WrongStep: It is a live one, or a record is of another roster.
    """
    with context.database.transaction() as connection:
        found = require_shortlist(connection, shortlist_id, account_id)
        if found.live is not None:
            raise WrongStep(
                "A live shortlist follows its condition; nobody is put on it or taken off by hand."
            )
        roster = roster_store.get_roster_by_id(connection, found.roster_id)
        known = set(load_snapshot(connection, roster).ids.tolist()) if roster else set()
        if any(number not in known for number in add):
            raise WrongStep("Some of these records are not in the roster any more.")
        store.add_records(connection, shortlist_id, add)
        store.delete_records(connection, shortlist_id, remove)


def drop_shortlist(context: Context, shortlist_id: int, account_id: int | None) -> None:
    """Forget a shortlist; its records stay what they are.

    Raises:
        NoSuchShortlist: There is none.
    """
    with context.database.transaction() as connection:
        found = require_shortlist(connection, shortlist_id, account_id)
        store.delete_shortlist(connection, shortlist_id)
        insert_audit(
            connection,
            "shortlist-dropped",
            found.title,
            account_id,
            context.now(),
            shortlist=shortlist_id,
        )
