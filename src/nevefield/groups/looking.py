"""Open the kinds of group that rosters have, and the groups of one kind as they are on a day."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.masking import sensitive_fields
from nevefield.core.placing.groups import Groups, find_groups, kind_of_value
from nevefield.core.texts import SEVERAL
from nevefield.groups.errors import KeptKind, NoSuchKind
from nevefield.rosters.looking import open_roster
from nevefield.rosters.snapshots import as_seen, load_codes, load_snapshot, require_roster
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.confirmed import insert_confirmed, list_confirmed

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence
    from datetime import date, datetime

    from nevefield.context import Context
    from nevefield.core.codes import Code, CodeList
    from nevefield.core.definition import GroupKind
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.rosters import Roster

__all__ = [
    "KindHere",
    "OpenKind",
    "Origin",
    "confirm_members",
    "find_origins",
    "list_kinds",
    "list_ticked",
    "open_kind",
    "sizes_over_year",
]


@dataclass(frozen=True)
class KindHere:
    """A kind of group that a roster has."""

    roster: Roster
    kind: GroupKind
    groups: int
    people: int


@dataclass(frozen=True)
class Origin:
    """Since when somebody is in a group, and through what."""

    since: date
    change_set: int
    title: str
    by: str


@dataclass(frozen=True)
class OpenKind:
    """The groups of a kind on a day."""

    roster: Roster
    kind: GroupKind
    day: date
    snapshot: Snapshot  # where the groups' places are: of people, or of memberships
    people: Snapshot  # who they are
    found: Groups
    lists: Mapping[str, CodeList]

    def persons(self, places: np.ndarray) -> np.ndarray:
        """Turn places of members into places among the people; -1 for a membership whose person
        is not there.
        """
        if not self.kind.each:
            return places
        named = self.snapshot.columns[self.kind.person].take(places)
        known = self.people.columns[_key_of(self.people)]
        first = np.full(len(known.values) + 1, -1, np.int64)
        first[known.codes] = np.where(known.codes >= 0, np.arange(len(known)), -1)
        first[-1] = -1
        return np.asarray(first[np.maximum(named.place(known), -1)])

    def label(self, value: str) -> str:
        """Name a group's own name for a person."""
        return self._word(self.kind.field, value) or value

    def part(self, key: Sequence[str]) -> str:
        """Name the part of the institution that a group belongs to: "North Quay · year 1"."""
        titles = self.snapshot.definition.title_of
        return " · ".join(
            self._word(name, value) or f"{titles(name).lower()} {value}"
            for name, value in zip(self.kind.part, key, strict=False)
        )

    def _word(self, name: str, value: str) -> str:
        listed = self.lists.get(self.snapshot.definition.by_name[name].code_list)
        code = listed.by_code.get(value) if listed else None
        return code.label if code else ""


def _key_of(snapshot: Snapshot) -> str:
    return snapshot.definition.primary_key[0]


def list_kinds(context: Context, day: date) -> list[KindHere]:
    """List the kinds of group that may be seen, with how many groups and people there are on a
    day.
    """
    kinds = []
    with context.database.transaction() as connection:
        lists = load_codes(connection)
        for roster in roster_store.list_seen(connection):
            snapshot = load_snapshot(connection.whole(), roster)
            covered = (
                sensitive_fields(snapshot.definition)
                if connection.sight.covers(roster.id)
                else frozenset()
            )
            for kind in snapshot.definition.groups:
                if covered & kind.reads:
                    continue
                for one in _each(kind, snapshot, lists):
                    groups = find_groups(
                        one,
                        snapshot,
                        day,
                        one.name if kind.each else "",
                        _codes(one, snapshot, lists),
                    )
                    people = sum(len(group.members) for group in groups.groups)
                    kinds.append(KindHere(roster, one, len(groups.groups), people))
    return kinds


def _each(kind: GroupKind, snapshot: Snapshot, lists: dict[str, CodeList]) -> list[GroupKind]:
    """List the kind itself, or those that its field's codes stand for."""
    if not kind.each:
        return [kind]
    listed = lists.get(snapshot.definition.by_name[kind.each].code_list)
    if listed is not None:
        return [kind_of_value(kind, code.code, code.label or code.code) for code in listed.codes]
    return [kind_of_value(kind, text, text) for text in sorted(snapshot.columns[kind.each].texts())]


def _codes(kind: GroupKind, snapshot: Snapshot, lists: Mapping[str, CodeList]) -> list[Code] | None:
    """List the groups' own names, of the kind where several share a list; None where they are no
    codes.
    """
    field = snapshot.definition.by_name[kind.field]
    listed = lists.get(field.code_list)
    if listed is None:
        return None
    return [
        code
        for code in listed.codes
        if not kind.each or field.parent != kind.each or code.parent == kind.name
    ]


def open_kind(context: Context, name: str, kind_name: str, day: date) -> OpenKind:
    """Open the groups of a kind as they are on a day: in the past, today or ahead.

    Args:
        context: Database and clock.
        name: Of the roster.
        kind_name: Of the kind.
        day: Which.

    Raises:
        NoSuchRoster, NoSuchKind: There is none.
        KeptKind: A field that is kept from whoever asks says who is in its groups.
    """
    as_of = day if day != context.today() else None
    with context.database.transaction() as connection:
        require_roster(connection, name)
        lists = load_codes(connection)
    # Who is in which group is the same whoever looks; people are shown as they may be seen.
    roster, snapshot = open_roster(context.whole(), name, as_of)
    definition = snapshot.definition
    kinds = [one for kind in definition.groups for one in _each(kind, snapshot, lists)]
    kind = next((kind for kind in kinds if kind.name == kind_name), None)
    if kind is None:
        raise NoSuchKind(kind_name, [kind.name for kind in kinds])
    groups = find_groups(
        kind, snapshot, day, kind.name if kind.each else "", _codes(kind, snapshot, lists)
    )
    with context.database.transaction() as connection:
        covers = connection.sight.covers(roster.id)
        snapshot = as_seen(connection, roster, snapshot)
    if covers and sensitive_fields(definition) & kind.reads:
        raise KeptKind
    return OpenKind(
        roster, kind, day, snapshot, _people(context, kind, name, snapshot, as_of), groups, lists
    )


def _people(
    context: Context, kind: GroupKind, name: str, snapshot: Snapshot, as_of: date | None
) -> Snapshot:
    """Find who the members are: the records themselves, or those of the roster that memberships
    refer to, if it may be seen.
    """
    if not kind.each:
        return snapshot
    target = (
        next(
            (key.resource for key in snapshot.definition.foreign_keys if kind.person in key.fields),
            "",
        )
        or name
    )
    with context.database.transaction() as connection:
        if roster_store.get_roster(connection, target) is None:
            return snapshot.take(np.zeros(0, np.intp))
    return open_roster(context, target, as_of)[1]


def sizes_over_year(
    context: Context, name: str, kind_name: str, key: tuple[str, ...], days: list[date]
) -> list[int]:
    """Count a group's members on some days.

    Raises:
        NoSuchRoster, NoSuchKind: There is none.
    """
    with context.database.transaction() as connection:
        require_roster(connection, name)
    sizes = []
    for day in days:
        opened = open_kind(context, name, kind_name, day)
        sizes.append(
            next((len(group.members) for group in opened.found.groups if group.key == key), 0)
        )
    return sizes


def confirm_members(
    context: Context,
    name: str,
    kind_name: str,
    key: tuple[str, ...],
    records: Collection[int],
    account_id: int | None,
) -> int:
    """Tick members off in a review: they are rightly in the group. It is kept who said so and when.

    Args:
        context: Database and clock.
        name: Of the roster.
        kind_name: Of the kind.
        key: Of the group.
        records: The members' numbers; those who are not in it are passed over.
        account_id: Who.

    Returns:
        How many were ticked off.

    Raises:
        NoSuchRoster, NoSuchKind: There is none.
    """
    opened = open_kind(context, name, kind_name, context.today())
    group = next((group for group in opened.found.groups if group.key == key), None)
    members = set(opened.snapshot.ids[group.members].tolist()) if group is not None else set()
    found = sorted(members & set(records))
    with context.database.transaction() as connection:
        insert_confirmed(
            connection,
            opened.roster.id,
            kind_name,
            SEVERAL.join(key),
            found,
            account_id,
            context.now(),
        )
        title = f"{opened.kind.title} {' '.join(key)}"
        insert_audit(
            connection,
            "confirmed",
            title,
            account_id,
            context.now(),
            roster=name,
            records=len(found),
        )
    return len(found)


def list_ticked(
    context: Context, roster_id: int, kind_name: str, key: tuple[str, ...]
) -> dict[int, tuple[datetime, str]]:
    """List by record when a member was ticked off last in a review of a group, and by whom."""
    with context.database.transaction() as connection:
        return list_confirmed(connection, roster_id, kind_name, SEVERAL.join(key))


def find_origins(
    context: Context, opened: OpenKind, key: tuple[str, ...], places: Sequence[int]
) -> dict[int, Origin]:
    """Find since when people are in a group without a break, and through which change set.

    Args:
        context: Database and clock.
        opened: The kind.
        key: Of the group.
        places: Its members.

    Returns:
        By place; those whose life says nothing of it are left out.
    """
    origins = {}
    with context.database.transaction() as connection:
        for place in places:
            since: Origin | None = None
            for version, change_set, _, by in record_store.list_life(
                connection, int(opened.snapshot.ids[place])
            ):
                values = json.loads(version.content)
                if not _is_in(opened, key, values):
                    since = None
                elif since is None:
                    since = Origin(
                        context.day_of(change_set.at), change_set.id, change_set.title, by
                    )
            if since is not None:
                origins[place] = since
    return origins


def _is_in(opened: OpenKind, key: tuple[str, ...], values: Mapping[str, Any]) -> bool:
    for name, wanted in zip(opened.kind.by, key, strict=True):
        value = values.get(name)
        if value != wanted and not (isinstance(value, list) and wanted in value):
            return False
    return True
