"""Rosters as snapshots, kept in memory by roster version."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import TYPE_CHECKING

from nevefield.core.columns.titles import name_fields
from nevefield.core.defining.reading import read_definition
from nevefield.core.definition import Definition
from nevefield.core.masking import cover_snapshot, sensitive_fields
from nevefield.core.parts import take_part
from nevefield.core.snapshot import Snapshot
from nevefield.rosters.errors import NoSuchRoster
from nevefield.store import records as record_store
from nevefield.store import rosters as store
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Callable
    from typing import Any

    from nevefield.core.codes import CodeList
    from nevefield.store.connection import Connection

__all__ = [
    "Cache",
    "as_seen",
    "count_records",
    "load_codes",
    "load_definition",
    "load_others",
    "load_snapshot",
    "name_of",
    "require_roster",
    "unnamed_of",
]


class Cache:
    """A few things worked out before, the least used one going first; safe between threads."""

    def __init__(self, size: int) -> None:
        self._size = size
        self._lock = threading.Lock()
        self._kept: OrderedDict[Any, Any] = OrderedDict()

    def empty(self) -> None:
        """Forget everything."""
        with self._lock:
            self._kept.clear()

    def has(self, key: Any) -> bool:
        """Tell whether something is kept under a key."""
        with self._lock:
            return key in self._kept

    def get(self, key: Any, make: Callable[[], Any]) -> Any:
        """Return what is kept under a key, or make and keep it."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self._size:
                self._kept.popitem(last=False)
        return made


_SNAPSHOTS = Cache(6)
_PAST = Cache(3)  # apart, so that looking back does not push out what everybody works with
_DEFINITIONS = Cache(50)
_CODES = Cache(4)


def require_roster(connection: Connection, name: str) -> store.Roster:
    """Find a roster by its name.

    Raises:
        NoSuchRoster: There is none.
    """
    roster = store.get_roster(connection, name)
    if roster is None:
        raise NoSuchRoster(name)
    return roster


def load_definition(connection: Connection, roster: store.Roster) -> Definition:
    """Return the definition in force."""

    def make() -> Definition:
        return read_definition(store.get_definition(connection, roster.id, roster.definition))

    definition: Definition = _DEFINITIONS.get(
        (name_of(connection), roster.id, roster.definition), make
    )
    return definition


def load_codes(
    connection: Connection, versions: tuple[Any, ...] | None = None
) -> dict[str, CodeList]:
    """Return all code lists that may be seen: of whom not all rosters are, those that the others
    use.

    Args:
        connection: Inside a transaction.
        versions: The lists' versions, when the caller has asked for them already.
    """
    key = (
        name_of(connection),
        versions if versions is not None else store.get_code_versions(connection),
    )
    codes: dict[str, CodeList] = _CODES.get(key, lambda: store.list_code_lists(connection))
    if connection.sight.everywhere >= Level.LOOK:
        return codes
    used = {
        field.code_list
        for roster in store.list_seen(connection)
        for field in load_definition(connection, roster).fields
    }
    return {name: code for name, code in codes.items() if name in used}


def load_snapshot(
    connection: Connection, roster: store.Roster, version: int | None = None
) -> Snapshot:
    """Return a roster's records, now or at a version: of whoever has a part of it those in the
    part; kept fields are covered for who may only look at it.
    """
    wanted = roster.version if version is None else version
    definition = load_definition(connection, roster)

    def make() -> Snapshot:
        rows = (
            record_store.list_current(connection, roster.id)
            if wanted == roster.version
            else record_store.list_versions_at(connection, roster.id, wanted)
        )
        return Snapshot.of_documents(
            definition, [row[0] for row in rows], [row[1] for row in rows], wanted
        )

    key = (name_of(connection), roster.id, wanted, roster.definition, roster.erased)
    snapshot: Snapshot = (_SNAPSHOTS if wanted == roster.version else _PAST).get(key, make)
    return as_seen(connection, roster, snapshot)


def as_seen(connection: Connection, roster: store.Roster, snapshot: Snapshot) -> Snapshot:
    """Keep the records of the part that alone may be seen, and cover the kept fields for who may
    only look at the roster.
    """
    part = connection.sight.parts.get(roster.id)
    if part is not None and snapshot.part != part.when:
        whole, when = snapshot, part.when
        snapshot = whole.keep(f"part {part.id}", lambda: take_part(whole, when))
    return cover_snapshot(snapshot) if connection.sight.covers(roster.id) else snapshot


def count_records(connection: Connection, roster: store.Roster, count: int) -> int:
    """Count the records of a roster that may be seen, of as many as it has."""
    has_part = roster.id in connection.sight.parts
    return len(load_snapshot(connection, roster)) if has_part else count


def load_others(connection: Connection, definition: Definition) -> dict[str, Snapshot]:
    """Return the other rosters that a definition refers to, by name, as they stand; one that is not
    there is left away.

    Through `whole` all of them, for checks; else only those that may be seen.
    """
    names = {key.resource for key in definition.foreign_keys if key.resource}
    names |= {name for check in definition.checks for name, _ in check.names.rosters}
    rosters = {name: store.get_roster(connection, name) for name in sorted(names)}
    return {
        name: load_snapshot(connection, roster)
        for name, roster in rosters.items()
        if roster is not None
    }


def unnamed_of(connection: Connection, definition: Definition) -> frozenset[str]:
    """List the other rosters that a definition refers to of which nothing may be said to whoever
    the connection is for.

    Those are rosters that they may not see, and those of which names, or what is referred to, are
    kept from them; one of which they have a part; one that is not there at all is nobody's secret.
    """
    if connection.sight.everywhere >= Level.PREPARE and not connection.sight.parts:
        return frozenset()
    named = [(key.resource, key.target) for key in definition.foreign_keys if key.resource]
    named += [
        (name, (field,)) for check in definition.checks for name, field in check.names.rosters
    ]
    texts = set()
    for name, targets in named:
        roster = store.get_roster(connection, name)
        if roster is None:
            texts |= {name} if store.get_roster(connection.whole(), name) is not None else set()
        elif roster.id in connection.sight.parts:
            texts.add(name)  # what is found in all of it tells of those outside of the part
        elif connection.sight.covers(roster.id):
            other = load_definition(connection, roster)
            if sensitive_fields(other) & {*name_fields(other), *targets}:
                texts.add(name)
    return frozenset(texts)


def name_of(connection: Connection) -> tuple[str, str]:
    """Tell databases apart: tests use several in one process."""
    return connection.database
