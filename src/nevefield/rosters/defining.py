"""Definitions: looked at, tried against the records, and written, each as a version of its own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.conditions import fields_of
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.evaluate import require_lists
from nevefield.core.guarding import changes_between, why_two
from nevefield.core.states import ProposalState
from nevefield.core.trying import Trouble, try_definition
from nevefield.rosters.errors import DefinitionMoved, NeedsApproval, NoSuchVersion, NotApproved
from nevefield.rosters.snapshots import (
    load_codes,
    load_definition,
    load_others,
    load_snapshot,
    require_roster,
)
from nevefield.store import rosters as store
from nevefield.store import writing as writing_store
from nevefield.store.audit import insert_audit
from nevefield.store.parts import list_parts_in_use
from nevefield.store.proposals import decide_proposal

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection

__all__ = [
    "OpenDefinition",
    "Tried",
    "Version",
    "change_definition",
    "open_definition",
    "open_version",
    "say_why_two",
    "try_change",
]


def _read(connection: Connection, name: str, document: Any) -> Definition:
    """Read a definition for a roster that there is.

    A field keeps taking one value, or several, for as long as records have any: they are kept so.
    """
    definition = read_definition(document)
    snapshot = load_snapshot(connection, require_roster(connection, name))
    for number, field in enumerate(definition.fields):
        was = snapshot.definition.by_name.get(field.name)
        if (
            was
            and bool(was.several) != bool(field.several)
            and (snapshot.columns[field.name].codes >= 0).any()
        ):
            kept = "several values" if was.several else "one value"
            raise WrongDefinition(
                f"fields[{number}].nevefield.several",
                f"records have {kept} in {field.title}; add a field instead.",
            )
    if definition.name != name:
        raise WrongDefinition(
            "name",
            f"this is the definition of “{definition.name}”; a roster keeps its name, “{name}”.",
        )
    if not definition.primary_key:
        raise WrongDefinition(
            "primaryKey", "is missing; a roster needs a key by which its records are known."
        )
    require_lists(definition, load_codes(connection))
    for when in list_parts_in_use(connection, require_roster(connection, name).id):
        gone = [field for field in fields_of(when) if field not in definition.by_name]
        if gone:
            raise WrongDefinition(
                "fields",
                f"the field “{gone[0]}” is missing, by which somebody has a part of the roster;"
                " change what they may do first.",
            )
    return definition


@dataclass(frozen=True)
class OpenDefinition:
    """The definition in force in a roster, and what came before it."""

    roster: store.Roster
    document: dict[str, Any]
    versions: list[tuple[int, str, datetime]]  # number, by whom, when
    lists: list[str]  # code lists that there are


def open_definition(context: Context, name: str) -> OpenDefinition:
    """Open a roster's definition.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        return OpenDefinition(
            roster,
            store.get_definition(connection, roster.id, roster.definition),
            store.list_definitions(connection, roster.id),
            sorted(load_codes(connection)),
        )


@dataclass(frozen=True)
class Version:
    """A definition as it was, and what became another from it to the one in force."""

    number: int
    document: dict[str, Any]
    changes: list[str]


def open_version(context: Context, name: str, number: int) -> Version:
    """Open an earlier definition of a roster.

    Raises:
        NoSuchRoster: There is none.
        NoSuchVersion: It never had this one.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        document = store.get_definition(connection, roster.id, number)
        if document is None:
            raise NoSuchVersion(number)
        now = load_definition(connection, roster)
    return Version(number, document, changes_between(read_definition(document), now))


@dataclass(frozen=True)
class Tried:
    """What a definition would break in a roster's records, and why two have to approve it."""

    records: int
    troubles: list[Trouble]
    why: str  # "" when nobody else has to approve


def try_change(context: Context, name: str, document: Any) -> Tried:
    """Say what a definition would break in a roster, with nothing written.

    Raises:
        NoSuchRoster: There is none.
        WrongDefinition: With the place and what would be right.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        definition = _read(connection, name, document)
        snapshot, codes, others = (
            load_snapshot(connection, roster),
            load_codes(connection),
            load_others(connection, definition),
        )
    troubles = try_definition(definition, snapshot, codes, context.today(), others)
    return Tried(len(snapshot), troubles, why_two(snapshot.definition, definition))


def say_why_two(context: Context, name: str, document: Any) -> str:
    """Say why a second person has to approve a definition; "" when none has to.

    Raises:
        NoSuchRoster, WrongDefinition: As for writing it.
    """
    with context.database.transaction() as connection:
        definition = _read(connection, name, document)
        return why_two(load_definition(connection, require_roster(connection, name)), definition)


def change_definition(
    context: Context,
    name: str,
    document: Any,
    seen: int,
    account_id: int | None,
    *,
    proposal: int | None = None,
) -> int:
    """Put a definition in force; the one before is kept.

    Args:
        context: Database and clock.
        name: The roster's.
        document: The definition's JSON.
        seen: The number of the definition that it was made of.
        account_id: Who.
        proposal: The proposal by which somebody else wanted exactly this, which is approved
            with it.

    Returns:
        Its number.

    Raises:
        NoSuchRoster: There is none.
        WrongDefinition: With the place and what would be right.
        DefinitionMoved: Somebody else has written one meanwhile.
        KeyTaken: Two records share what is to be unique from now on.
        NeedsApproval: It changes what the roster's rule of two rests on.
        NotApproved: The proposal is not open any more.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        store.lock_roster(connection, roster.id)
        roster = require_roster(connection, name)
        if roster.definition != seen:
            raise DefinitionMoved(seen, roster.definition)
        definition = _read(connection, name, document)
        if proposal is not None:
            if not decide_proposal(
                connection, proposal, ProposalState.APPROVED, account_id, "", context.now()
            ):
                raise NotApproved("Somebody else has decided on this proposal meanwhile.")
        elif why := why_two(load_definition(connection, roster), definition):
            raise NeedsApproval(why)
        number = store.insert_definition(
            connection, roster.id, definition.title, document, account_id, context.now()
        )
        fresh = require_roster(connection, name)
        snapshot = load_snapshot(connection, fresh)
        # The keys that nobody else may have are written anew: the definition may have made others
        # of them.
        keys = [
            (key, content, int(record))
            for record, some in zip(snapshot.ids, snapshot.unique_keys(), strict=True)
            for key, content in some
        ]
        writing_store.replace_keys(connection, roster.id, keys)
        insert_audit(
            connection,
            "definition-written",
            name,
            account_id,
            context.now(),
            number=number,
            proposal=proposal,
        )
    return number
