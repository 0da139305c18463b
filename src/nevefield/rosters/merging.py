"""Merge one code into another, or retire it with a replacement: every record follows, as a
change set of its roster.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from nevefield.core.errors import WrongCodes
from nevefield.rosters.errors import NoSuchList
from nevefield.rosters.snapshots import load_codes, load_definition
from nevefield.rosters.writing import alter_roster, make_writes
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.records import NewChangeSet

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.codes import Code
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection

__all__ = ["Merged", "merge_code"]


@dataclass(frozen=True)
class Merged:
    """What merging does in one roster."""

    roster: str
    title: str
    records: int
    change_set: int | None  # None while it is only looked at


def merge_code(
    context: Context,
    name: str,
    code: str,
    into: str,
    account_id: int | None,
    *,
    retire: bool = False,
    look: bool = False,
) -> list[Merged]:
    """Give every record another code in the place of one, in all rosters, and let go of that one.

    Args:
        context: Database and clock.
        name: Of the code list.
        code: The one that goes.
        into: The one that takes its place.
        account_id: Who.
        retire: Keep the code with yesterday as its last day, for the past; otherwise it becomes
            another name of `into`.
        look: Only say what would happen.

    Returns:
        What happens in each roster that has such records. All of it is one transaction; each change
        set can be taken back.

    Raises:
        NoSuchList: There is no such list.
        WrongCodes: One of the codes is not in it, or both are one.
    """
    with context.database.transaction() as connection:
        roster_store.lock_code_list(connection, name)
        lists = load_codes(connection)
        if name not in lists:
            raise NoSuchList(name)
        known = lists[name].by_code
        for text in (code, into):
            if text not in known:
                raise WrongCodes(1, f"there is no code “{text}” in the list “{name}”.")
        if code == into:
            raise WrongCodes(1, f"“{code}” cannot be merged into itself.")
        today = context.today()
        if not known[into].is_used(today):
            raise WrongCodes(
                1, f"“{into}” {known[into].days(today)}; it cannot take the place of “{code}”."
            )
        merge = _Merge(name, code, into, look)
        new = NewChangeSet(
            kind="codes",
            title=f"{name}: {code} → {into}",
            account_id=account_id,
            at=context.now(),
        )
        mergeds = []
        for roster, _ in roster_store.list_rosters(connection):
            done = _merge_in(connection, roster, merge, new)
            if done is not None:
                mergeds.append(done)
        if not look:
            codes = _without(lists[name].codes, known[code], into, context, retire)
            roster_store.replace_code_list(connection, name, codes)
            kind = "code-retired" if retire else "code-merged"
            insert_audit(connection, kind, f"{name} {code} → {into}", account_id, context.now())
    return mergeds


def _without(
    codes: tuple[Code, ...], gone: Code, into: str, context: Context, retire: bool
) -> list[Code]:
    kept = []
    for code in codes:
        if code.code == gone.code and retire:
            kept.append(replace(code, last_day=context.today() - timedelta(days=1)))
        elif code.code == into and not retire:
            names = (*code.aliases, gone.code, *filter(None, (gone.label,)), *gone.aliases)
            kept.append(
                replace(
                    code, aliases=tuple(dict.fromkeys(name for name in names if name != code.label))
                )
            )
        elif code.code != gone.code:
            kept.append(code)
    return kept


@dataclass(frozen=True)
class _Merge:
    name: str  # of the list
    code: str
    into: str
    look: bool  # only to say what would happen


def _merge_in(
    connection: Connection, roster: roster_store.Roster, merge: _Merge, new: NewChangeSet
) -> Merged | None:
    definition = load_definition(connection, roster)
    fields = [field.name for field in definition.fields if field.code_list == merge.name]
    if not fields:
        return None
    version = roster_store.lock_roster(connection, roster.id)
    altered = [
        (number, text)
        for number, document in store.list_current(connection, roster.id)
        if (text := _altered(definition, json.loads(document), fields, merge.code, merge.into))
        is not None
    ]
    if not altered:
        return None
    if merge.look:
        return Merged(roster.name, roster.title, len(altered), None)
    writes = make_writes(definition, [(number, text, None, False) for number, text in altered])
    change_set, _, receipt = alter_roster(connection, roster, writes, new, seen=version)
    store.set_receipt(connection, change_set, receipt)
    return Merged(roster.name, roster.title, len(altered), change_set)


def _altered(
    definition: Definition, values: dict[str, Any], fields: list[str], code: str, into: str
) -> str | None:
    """Write a record with the other code in its place; None when it does not have the code."""
    touched = False
    for field in fields:
        value = values.get(field)
        if isinstance(value, list) and code in value:
            values[field] = list(dict.fromkeys(into if item == code else item for item in value))
            touched = True
        elif value == code:
            values[field] = into
            touched = True
    return json.dumps(values, ensure_ascii=False, separators=(",", ":")) if touched else None
