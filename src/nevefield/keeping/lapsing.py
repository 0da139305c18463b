"""What is kept for some days and then goes by itself at night: files, their rows, people who left,
the trail, who looked at what, letters and what was sent elsewhere. What nobody set is kept for
ever.
"""

from __future__ import annotations

import time
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.titles import name_fields
from nevefield.core.errors import CoreError
from nevefield.core.snapshot import Snapshot
from nevefield.keeping.erasing import erase
from nevefield.keeping.errors import KeepingError, WrongTerm
from nevefield.rosters.errors import RosterError
from nevefield.rosters.snapshots import load_snapshot
from nevefield.store import lapsing as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit, seal_new
from nevefield.store.errors import KeyTaken

if TYPE_CHECKING:
    from collections.abc import Iterable

    from nevefield.context import Context
    from nevefield.store.connection import Connection, Database
    from nevefield.store.lapsing import Left

__all__ = ["KINDS", "Lapse", "is_time", "lapse", "list_lapses", "look_at_term", "set_term"]

LEAST = {  # days
    "files": 30,
    "rows": 30,
    "left": 30,
    "trail": 365,
    "looked": 30,
    "letters": 30,
    "passed": 30,
}
KINDS = tuple(LEAST)
MOST = 36_500  # days
SOON = 30  # days
TRIES = 5  # while others seal what they wrote
_DELETE = {
    "rows": store.delete_rows,
    "looked": store.delete_looked,
    "letters": store.delete_letters,
    "passed": store.delete_passed,
}
NIGHT_SECONDS = 3 * 3_600  # after which who is not erased waits for the next night


@dataclass(frozen=True)
class Lapse:
    """What is kept for how long, and what goes of it when."""

    kind: str
    least: int  # days that may be chosen
    days: int | None  # None: for ever
    by: str  # who said so
    at: datetime | None  # when
    tonight: int  # files, rows, people, lines, notes, letters, acts
    soon: int  # within `SOON` days, tonight's among them


def list_lapses(context: Context) -> list[Lapse]:
    """List for how long things are kept, and what goes next."""
    with context.database.transaction() as connection:
        terms = {term.kind: term for term in store.list_terms(connection)}
    found = []
    for kind in KINDS:
        term = terms.get(kind)
        tonight, soon = look_at_term(context, kind, term.days) if term else (0, 0)
        found.append(
            Lapse(
                kind,
                LEAST[kind],
                term.days if term else None,
                term.by if term else "",
                term.at if term else None,
                tonight,
                soon,
            )
        )
    return found


def look_at_term(context: Context, kind: str, days: int) -> tuple[int, int]:
    """Count what would go tonight, and within `SOON` days, if something were kept for so long.

    Raises:
        WrongTerm: There is no such kind, or it is kept for longer in any case.
    """
    _require(kind, days)
    tonight = context.now() - timedelta(days=days)
    with context.database.transaction() as connection:
        return tuple(  # type: ignore[return-value]
            _count(connection, kind, before)
            for before in (tonight, tonight + timedelta(days=min(SOON, days)))
        )


def _require(kind: str, days: int) -> None:
    if kind not in LEAST:
        raise WrongTerm(f"There is no “{kind}” to keep; there are {', '.join(KINDS)}.")
    if not LEAST[kind] <= days <= MOST:
        raise WrongTerm(f"Choose from {LEAST[kind]:,} to {MOST:,} days, or keep it for ever.")


def _count(connection: Connection, kind: str, before: datetime) -> int:
    if kind == "files":
        return len(store.list_files(connection, before))
    if kind == "left":
        return len(_gone_for_good(connection, store.list_left(connection, before)))
    counts = {
        "rows": store.count_rows,
        "trail": store.count_trail,
        "looked": store.count_looked,
        "letters": store.count_letters,
        "passed": store.count_passed,
    }
    return counts[kind](connection, before)


def set_term(context: Context, kind: str, days: int | None, account_id: int) -> None:
    """Say for how many days something is kept; None for ever. It holds from the next night on.

    Raises:
        WrongTerm: There is no such kind, or it is kept for longer in any case.
    """
    if days is not None or kind not in LEAST:
        _require(kind, days or 0)
    with context.database.transaction() as connection:
        if days is None:
            store.delete_term(connection, kind)
        else:
            store.put_term(connection, kind, days, account_id, context.now())
        said = f"{days} days" if days is not None else "for ever"
        insert_audit(connection, "keeping-set", kind, account_id, context.now(), kept=said)


def is_time(context: Context) -> bool:
    """Tell whether what is too old was not deleted today yet, and the hour of copies has come where
    the institution is.
    """
    if context.local(context.now()).hour < context.settings.copy_hour:
        return False
    with context.database.transaction() as connection:
        return store.last_lapsed(connection) < context.today().toordinal()


def lapse(context: Context, owner: Database) -> dict[str, int]:
    """Delete what is too old.

    Args:
        context: Database and clock.
        owner: The database through the account that may delete lines of the trail.

    Returns:
        What went, by kind.
    """
    with context.database.transaction() as connection:
        store.set_lapsed(connection, context.today())
        terms = {term.kind: term.days for term in store.list_terms(connection)}
    now, gone = context.now(), dict[str, int]()
    for kind, days in terms.items():
        before = now - timedelta(days=days)
        if kind == "left":
            gone[kind] = _erase_left(context, before, days)
            continue
        if kind == "trail":
            gone[kind] = _cut_trail(owner, before, now)
            continue
        with context.database.transaction() as connection:
            if kind == "files":
                gone[kind] = store.delete_files(connection, before, now)
            else:
                gone[kind] = _DELETE[kind](connection, before)
    gone = {kind: count for kind, count in gone.items() if count}
    if gone:
        with context.database.transaction() as connection:
            insert_audit(connection, "keeping-done", "", None, context.now(), **gone)
    return gone


def _cut_trail(owner: Database, before: datetime, now: datetime) -> int:
    """Delete the beginning of the trail, and seal the line that says so with it: one without a seal
    is believed by nobody.
    """
    for _ in range(TRIES):
        with suppress(KeyTaken), owner.transaction() as connection:
            gone = store.cut_trail(connection, before, now)
            while gone and seal_new(connection, now):
                continue
            return gone
    return 0  # others sealed all the while: the next night


def _erase_left(context: Context, before: datetime, days: int) -> int:
    """Erase who left before a moment; who is not reached in a night waits for the next."""
    with context.database.transaction() as connection:
        left = _gone_for_good(connection, store.list_left(connection, before))
    erased, began = 0, time.monotonic()
    for one in left:
        if time.monotonic() - began > NIGHT_SECONDS:
            break
        try:
            erase(context, one.record_id, "keeping", f"left more than {days} days ago", None)
            erased += 1
        except (CoreError, KeepingError, RosterError):
            continue  # held meanwhile, or files came all the while: the next night
    return erased


def _gone_for_good(connection: Connection, left: Iterable[Left]) -> list[Left]:
    """Leave out who is in the roster under another number, or was put together with somebody: what
    tells who they are tells of somebody who is there.
    """
    by_roster: dict[int, list[Left]] = {}
    for one in left:
        by_roster.setdefault(one.roster_id, []).append(one)
    found = []
    for roster_id, some in by_roster.items():
        roster = roster_store.get_roster_by_id(connection, roster_id)
        if roster is None:
            continue
        now = load_snapshot(connection, roster)
        there = {mark for marks in _marks(now) for mark in marks}
        numbers = [one.record_id for one in some]
        last = store.list_last(connection, numbers)
        before = Snapshot.of_documents(now.definition, numbers, [last[one] for one in numbers])
        found += [
            one for one, marks in zip(some, _marks(before), strict=True) if there.isdisjoint(marks)
        ]
    return found


def _marks(snapshot: Snapshot) -> list[set[tuple[str, ...]]]:
    """Give of each record what tells who it is: keys, mail, phone, and name with day of birth."""
    definition, everyone = snapshot.definition, np.arange(len(snapshot))
    marks: list[set[tuple[str, ...]]] = [set(keys) for keys in snapshot.unique_keys()]
    alone = [[one.name] for one in definition.fields if one.is_telling]
    born = [one.name for one in definition.fields if one.means == "birth-date"]
    for names in [*alone, [*name_fields(definition), *born]]:
        columns = [snapshot.folded(name).rows(everyone) for name in names]
        for place, values in enumerate(zip(*columns, strict=True)):
            if all(values):
                marks[place].add(("+".join(names), *map(str, values)))
    return marks
