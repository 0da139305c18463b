"""Shortlists: kept by hand, made of what a file did, or live by a condition."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.conditions import check_condition, fields_of, holds
from nevefield.core.errors import WrongStep
from nevefield.core.masking import sensitive_fields
from nevefield.rosters.errors import NoSuchChangeSet, NoSuchRoster, NoSuchShortlist
from nevefield.rosters.looking import choose_records
from nevefield.rosters.snapshots import load_definition, load_snapshot, require_roster
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store import shortlists as store
from nevefield.store.audit import insert_audit
from nevefield.store.intakes import list_outcomes

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection

__all__ = [
    "Counted",
    "Meant",
    "change_shortlist",
    "drop_shortlist",
    "find_meant",
    "keep_shortlist",
    "list_counted",
    "open_shortlist",
    "places_of",
    "records_on",
    "require_shortlist",
    "see_places",
]


@dataclass(frozen=True)
class Counted:
    """A shortlist, and how many it holds today."""

    shortlist: store.Shortlist
    definition: Definition  # of its roster
    count: int


@dataclass(frozen=True)
class Meant:
    """Which records of a roster are meant: those named, those that a file brought, those of a
    shortlist, or all that a text and filters let through.
    """

    records: Sequence[int] | None = None
    change_set: int | None = None
    outcome: str = ""  # of the change set's lines
    shortlist: int | None = None
    text: str = ""
    filters: Sequence[str] = ()
    everybody: bool = False  # also without a text or a filter


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
    shortlist = store.get_shortlist(connection, shortlist_id)
    if shortlist is None or not (shortlist.is_shared or shortlist.account_id == account_id):
        raise NoSuchShortlist(shortlist_id)
    return shortlist


def list_counted(context: Context, name: str, account_id: int) -> list[Counted]:
    """List the shortlists of a roster that an account may see, with how many they hold today.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        snapshot = load_snapshot(connection, roster)
        return [
            _count(context, connection, shortlist, snapshot)
            for shortlist in store.list_shortlists(connection, roster.id, account_id)
            if _may_see(connection, shortlist, snapshot)
        ]


def open_shortlist(context: Context, shortlist_id: int, account_id: int) -> Counted:
    """Open a shortlist.

    Raises:
        NoSuchShortlist: There is none, or it is another's own.
        NoSuchRoster: Its roster may not be seen.
    """
    with context.database.transaction() as connection:
        shortlist = require_shortlist(connection, shortlist_id, account_id)
        roster = roster_store.get_roster_by_id(connection, shortlist.roster_id)
        if roster is None:
            raise NoSuchRoster("")
        return _count(context, connection, shortlist, load_snapshot(connection, roster))


def see_places(
    context: Context, shortlist_id: int, snapshot: Snapshot, account_id: int
) -> NDArray[np.intp]:
    """Find the records of a shortlist that an account may see, as places in its roster.

    Raises:
        NoSuchShortlist: There is none for them; so it is with a live one that rests on fields that
            are kept from them.
    """
    with context.database.transaction() as connection:
        shortlist = require_shortlist(connection, shortlist_id, account_id)
        if not _may_see(connection, shortlist, snapshot):
            raise NoSuchShortlist(shortlist_id)
        return places_of(connection, shortlist, snapshot, context.today())


def find_meant(context: Context, name: str, meant: Meant, account_id: int) -> list[int]:
    """List the numbers of the records that are meant; of those that a file brought, those that
    are still in the roster.

    Raises:
        NoSuchRoster: There is none.
        NoSuchChangeSet: There is none in this roster.
        NoSuchShortlist: There is none, or it is another's own.
        WrongStep: Nothing says which.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        snapshot = load_snapshot(connection, roster)
        if meant.change_set is not None:
            brought = _brought(connection, roster.id, meant.change_set, meant.outcome)
            return sorted({*(meant.records or ()), *(brought & set(snapshot.ids.tolist()))})
        if meant.records is not None:
            return list(meant.records)
        if meant.shortlist is not None:
            shortlist = require_shortlist(connection, meant.shortlist, account_id)
            places = places_of(connection, shortlist, snapshot, context.today())
            return [int(number) for number in snapshot.ids[places]]
    if not (meant.everybody or meant.text or meant.filters):
        raise WrongStep("Say which records are meant.")
    places = choose_records(snapshot, text=meant.text, filters=meant.filters, today=context.today())
    return [int(number) for number in snapshot.ids[places]]


def _brought(connection: Connection, roster_id: int, change_set_id: int, outcome: str) -> set[int]:
    change_set = record_store.get_change_set(connection, change_set_id)
    if change_set is None or change_set.roster_id != roster_id:
        raise NoSuchChangeSet(change_set_id)
    return {record for _, record, _ in list_outcomes(connection, change_set_id, outcome) if record}


def _count(
    context: Context, connection: Connection, shortlist: store.Shortlist, snapshot: Snapshot
) -> Counted:
    places = places_of(connection, shortlist, snapshot, context.today())
    return Counted(shortlist, snapshot.definition, len(places))


def _may_see(connection: Connection, shortlist: store.Shortlist, snapshot: Snapshot) -> bool:
    """Tell whether a shortlist says nothing that is kept from whom the connection is for: a live
    one may rest on sensitive fields.
    """
    reads = set(fields_of(shortlist.live)) if shortlist.live is not None else set()
    hides = connection.sight.covers(shortlist.roster_id)
    return not (hides and reads & sensitive_fields(snapshot.definition))


def places_of(
    connection: Connection, shortlist: store.Shortlist, snapshot: Snapshot, today: date
) -> NDArray[np.intp]:
    """Find a shortlist's records in a roster, as places in it; those that left are passed over."""
    if shortlist.live is None:
        return np.flatnonzero(np.isin(snapshot.ids, store.list_records(connection, shortlist.id)))
    names = snapshot.definition.by_name
    check_condition(shortlist.live, "live", names)  # a later definition may have dropped a field
    return np.flatnonzero(
        holds(shortlist.live, lambda name: snapshot.columns[name], len(snapshot), today)
    )


def records_on(context: Context, shortlist_id: int, account_id: int) -> frozenset[int]:
    """List the records of a shortlist that are in its roster.

    Raises:
        NoSuchShortlist: There is none, or it is another's own.
    """
    with context.database.transaction() as connection:
        shortlist = require_shortlist(connection, shortlist_id, account_id)
        roster = roster_store.get_roster_by_id(connection, shortlist.roster_id)
        if roster is None:
            raise NoSuchShortlist(shortlist_id)
        snapshot = load_snapshot(connection, roster)
        places = places_of(connection, shortlist, snapshot, context.today())
        return frozenset(snapshot.ids[places].tolist())


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
        shortlist = require_shortlist(connection, shortlist_id, account_id)
        if shortlist.live is not None:
            raise WrongStep(
                "A live shortlist follows its condition; nobody is put on it or taken off by hand."
            )
        roster = roster_store.get_roster_by_id(connection, shortlist.roster_id)
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
        shortlist = require_shortlist(connection, shortlist_id, account_id)
        store.delete_shortlist(connection, shortlist_id)
        insert_audit(
            connection,
            "shortlist-dropped",
            shortlist.title,
            account_id,
            context.now(),
            shortlist=shortlist_id,
        )
