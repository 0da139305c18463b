"""Open a roster: its definition, code lists and first intake in one transaction; and take that
back while nothing was applied.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from nevefield.core.codes import CodeList
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import require_lists
from nevefield.core.opening import begin_from_nothing
from nevefield.core.opening.naming import make_name
from nevefield.intakes.receiving import title_of
from nevefield.openings.drafting import Draft, look, require
from nevefield.openings.errors import NameTaken, OpeningMoved, RosterInUse
from nevefield.rosters.snapshots import load_codes, load_definition, require_roster
from nevefield.store import intakes as intake_store
from nevefield.store import openings as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.context import Context
    from nevefield.core.borders import Json
    from nevefield.store.connection import Connection

__all__ = ["can_take_back", "open_draft", "open_from_nothing", "take_back_opening"]


def open_draft(context: Context, number: int, seen: int, account_id: int) -> tuple[str, int]:
    """Open the roster that is proposed for a file, with the file as its first intake.

    Args:
        context: Database and clock.
        number: Of the file that waits.
        seen: The version that was looked at.
        account_id: Whose it is.

    Returns:
        The roster's name, and the intake's number.

    Raises:
        NoSuchOpening: There is none of this account's.
        OpeningMoved: It was altered elsewhere meanwhile.
        NameTaken: There is a roster of that name.
    """
    draft = look(context, number, account_id)
    with context.database.transaction() as connection:
        opening = require(connection, number, account_id, lock=True)
        if opening.version != seen or draft.opening.version != seen:
            raise OpeningMoved
        content = store.get_content(connection, number)
        document, lists = _free_lists(
            connection, draft.proposal.document, draft.proposal.lists, draft.definition.name
        )
        roster_id = _insert(connection, context, document, lists, account_id)
        intake_id = _insert_intake(connection, context, draft, roster_id, content)
        store.set_opened(connection, number, roster_id, list(lists))
    return draft.definition.name, intake_id


def _free_lists(
    connection: Connection, document: Json, lists: Mapping[str, CodeList], roster: str
) -> tuple[Json, dict[str, CodeList]]:
    """Give code lists names that no list has yet: of two rosters that have a `grade` the second
    one's is its own.
    """
    taken = load_codes(connection.whole())
    names = {
        name: name if name not in taken else make_name(f"{roster} {name}", taken) for name in lists
    }
    fields = [
        {
            **one,
            "nevefield": {**one["nevefield"], "codeList": names[one["nevefield"]["codeList"]]},
        }
        if one.get("nevefield", {}).get("codeList") in names
        else one
        for one in document["fields"]
    ]
    return {**document, "fields": fields}, {
        names[name]: replace(one, name=names[name]) for name, one in lists.items()
    }


def _insert(
    connection: Connection,
    context: Context,
    document: Json,
    lists: Mapping[str, CodeList],
    account_id: int,
) -> int:
    """Add the roster and its code lists."""
    definition = read_definition(document)
    require_lists(definition, lists)
    if roster_store.get_roster(connection.whole(), definition.name) is not None:
        raise NameTaken(definition.name)
    for name, listed in lists.items():
        roster_store.replace_code_list(connection, name, listed.codes)
    roster_id = roster_store.insert_roster(
        connection, definition.name, definition.title, document, context.now()
    )
    insert_audit(
        connection,
        "roster-opened",
        definition.name,
        account_id,
        context.now(),
        fields=len(definition.fields),
        lists=list(lists),
    )
    return roster_id


def _insert_intake(
    connection: Connection, context: Context, draft: Draft, roster_id: int, content: bytes
) -> int:
    opening = draft.opening
    intake_store.insert_file(
        connection,
        opening.file_hash,
        content,
        context.now(),
        held_secrets=opening.held_secrets,
    )
    new = intake_store.NewIntake(
        roster_id=roster_id,
        title=title_of(opening.file_name),
        file_name=opening.file_name,
        file_hash=opening.file_hash,
        source="",
        coverage="listed",
        account_id=opening.account_id,
        at=context.now(),
    )
    return intake_store.insert_intake(connection, new)


def open_from_nothing(
    context: Context, kind: str, title: str, leave: frozenset[str], account_id: int
) -> str:
    """Open an empty roster with the usual fields of one kind of people.

    Args:
        context: Database and clock.
        kind: Of people, see `core.opening.PEOPLE`.
        title: Of the roster; "" for that of the kind.
        leave: Names of fields that it does without.
        account_id: Who.

    Returns:
        Its name.

    Raises:
        WrongDefinition: There is no such kind, or no field is left.
        NameTaken: There is a roster of that name.
    """
    document, lists = begin_from_nothing(kind)
    title = title.strip() or document["title"]
    document = _without(document, leave) | {"title": title, "name": make_name(title, [])}
    used = {one.get("nevefield", {}).get("codeList") for one in document["fields"]}
    lists = {name: one for name, one in lists.items() if name in used}
    with context.database.transaction() as connection:
        document, lists = _free_lists(connection, document, lists, document["name"])
        _insert(connection, context, document, lists, account_id)
    return str(document["name"])


def _without(document: Json, leave: frozenset[str]) -> dict[str, Any]:
    """Take fields out, with the checks that read them; what people are known by stays."""
    gone = leave - {document["primaryKey"]}
    own = document.get("nevefield", {})
    checks = [
        check
        for check in own.get("checks", [])
        if gone.isdisjoint(check["fields"])
        and gone.isdisjoint(check.get("of", []))
        and check.get("when", {}).get("field") not in gone
    ]
    fields = [one for one in document["fields"] if one["name"] not in gone]
    return {**document, "fields": fields, "nevefield": {**own, "checks": checks}}


def can_take_back(context: Context, name: str) -> bool:
    """Tell whether a roster was opened from a file, and nothing was applied to it yet.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        return store.get_opening_of(connection, roster.id) is not None and not store.has_history(
            connection, roster.id
        )


def take_back_opening(context: Context, name: str, account_id: int) -> None:
    """Take back that a roster was opened: it goes, with its intakes, their files and the code lists
    that were made with it and that no other roster uses; the trail keeps that it was there.

    Raises:
        NoSuchRoster: There is none.
        RosterInUse: Something was applied to it, or submitted from it.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        roster_store.lock_roster(connection, roster.id)
        if store.has_history(connection, roster.id):
            raise RosterInUse(roster.title)
        opening = store.get_opening_of(connection, roster.id)
        others = {
            field.code_list
            for other, _ in roster_store.list_rosters(connection.whole())
            if other.id != roster.id
            for field in load_definition(connection, other).fields
        }
        lists = [name for name in (opening.lists if opening else ()) if name not in others]
        store.delete_roster(connection, roster.id, lists)
        insert_audit(connection, "roster-taken-back", name, account_id, context.now())
