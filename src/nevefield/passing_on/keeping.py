"""Destinations: begun, kept in versions, switched on and off; the token by which we are known."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from cryptography.fernet import Fernet, InvalidToken

from nevefield.core.errors import WrongDestination
from nevefield.core.passing.destination import AskedWay, FileWay
from nevefield.core.passing.proposing import propose_share
from nevefield.core.passing.reading import (
    check_destination,
    read_destination,
    read_way,
    write_destination,
)
from nevefield.passing_on.errors import (
    DestinationKept,
    DestinationTaken,
    NoKey,
    NoSuchDestination,
    NotTheirs,
)
from nevefield.rosters.snapshots import load_definition, require_roster
from nevefield.rosters.whole import find_whole
from nevefield.store import passing as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.errors import KeyTaken
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.context import Context
    from nevefield.core.passing.destination import Destination, Way
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "OpenDestination",
    "begin_destination",
    "keep_destination",
    "keep_token",
    "list_destinations",
    "list_versions",
    "open_destination",
    "outbox_of",
    "propose",
    "require_destination",
    "require_level",
    "switch",
    "token_of",
]


@dataclass(frozen=True)
class OpenDestination:
    """A destination, and the rosters of which it is told, or of which somebody is there."""

    row: store.DestinationRow
    destination: Destination
    rosters: Mapping[str, Roster]  # by name


def list_destinations(context: Context) -> list[OpenDestination]:
    """List the destinations of which all that they are told may be seen."""
    with context.database.transaction() as connection:
        found = (_open(connection, row) for row in store.list_destinations(connection))
        return [one for one in found if one is not None]


def open_destination(context: Context, name: str) -> OpenDestination:
    """Open a destination.

    Raises:
        NoSuchDestination: There is none, or what it is told may not be seen.
    """
    with context.database.transaction() as connection:
        return require_destination(connection, name)


def require_destination(connection: Connection, name: str) -> OpenDestination:
    """Open a destination inside the caller's transaction: as `open_destination`."""
    row = store.get_destination(connection, name)
    found = _open(connection, row) if row is not None else None
    if found is None:
        raise NoSuchDestination(name)
    return found


def _open(connection: Connection, row: store.DestinationRow) -> OpenDestination | None:
    destination = read_destination(row.document)
    # of whom somebody is there they are told too, though it is that they end
    used: dict[str, set[str]] = {name: set() for name in store.list_there(connection, row.id)}
    documents = [destination]
    if connection.sight.everywhere < Level.PREPARE:
        # what it was told before is still held there, and shown as what it holds
        versions = store.list_versions(connection, row.id)
        documents += [read_destination(version.document) for version in versions]
    for one in documents:
        for share in one.shares:
            if one is destination or share.roster in used:
                used.setdefault(share.roster, set()).update(share.fields())
    rosters = find_whole(connection, used)
    return None if rosters is None else OpenDestination(row, destination, rosters)


def require_level(connection: Connection, opened: OpenDestination, level: Level) -> None:
    """See that somebody has a level in all rosters of a destination, not in the first alone.

    Raises:
        NotTheirs: They have not.
    """
    for roster in opened.rosters.values():
        if connection.sight.level(roster.id) < level:
            raise NotTheirs(roster.title, level.name.lower())


def propose(context: Context, roster: str, way: Any) -> Any:
    """Propose what of a roster goes to a destination, as JSON.

    Raises:
        NoSuchRoster: There is none.
        WrongDestination: The way cannot be.
    """
    found = read_way(way)
    with context.database.transaction() as connection:
        definition = load_definition(connection, require_roster(connection, roster))
    share = propose_share(definition, found)
    return share.model_dump(mode="json", by_alias=True, exclude_defaults=True)


def begin_destination(context: Context, document: Any, account_id: int | None) -> str:
    """Begin a destination.

    Returns:
        Its name.

    Raises:
        WrongDestination: Something in it cannot be.
        DestinationTaken: There is one of the name.
    """
    destination = read_destination(document)
    with context.database.transaction() as connection:
        first = _require_rosters(context, connection, destination)
        try:
            store.insert_destination(
                connection,
                destination.name,
                first.id,
                write_destination(destination),
                account_id,
                context.now(),
            )
        except KeyTaken as error:
            raise DestinationTaken(destination.name) from error
        insert_audit(
            connection, "destination", destination.title, account_id, context.now(), version=1
        )
    return destination.name


def keep_destination(
    context: Context, name: str, document: Any, seen: int, account_id: int | None
) -> int:
    """Keep another version of a destination, which is in force from now on.

    Args:
        context: Database and clock.
        name: Of the destination, which stays what it is.
        document: The whole of it.
        seen: The version that was changed.
        account_id: Who.

    Returns:
        The version's number; that which is there when nothing changed.

    Raises:
        NoSuchDestination: There is none.
        WrongDestination: Something in it cannot be.
        DestinationKept: Somebody else kept a version meanwhile.
    """
    destination = read_destination(document)
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        now, _ = store.lock(connection, opened.row.id)
        if now != seen:
            raise DestinationKept(seen, now)
        if destination.name != name:
            raise WrongDestination("name", f"a destination keeps its name, which is “{name}”.")
        first = _require_rosters(context, connection, destination)
        if destination.way.kind != opened.destination.way.kind:
            raise WrongDestination(
                "way.kind", "what is told by another way is another destination: begin one."
            )
        written = write_destination(destination)
        if written == opened.row.document:
            return now
        store.insert_version(
            connection, opened.row.id, now + 1, first.id, written, account_id, context.now()
        )
        insert_audit(
            connection, "destination", destination.title, account_id, context.now(), version=now + 1
        )
    return now + 1


def list_versions(context: Context, name: str) -> list[store.Version]:
    """List the versions of a destination, the newest first.

    Raises:
        NoSuchDestination: There is none.
    """
    with context.database.transaction() as connection:
        return store.list_versions(connection, require_destination(connection, name).row.id)


def switch(context: Context, name: str, account_id: int | None, *, on: bool) -> None:
    """Let a destination be told by itself, or by hand alone.

    Raises:
        NoSuchDestination: There is none.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.ADMINISTER)
        store.set_destination(
            connection, opened.row.id, is_on=on, seen="", next_at=None, tries=0, problem=""
        )
        act = "destination-on" if on else "destination-off"
        insert_audit(connection, act, opened.destination.title, account_id, context.now())


def keep_token(context: Context, name: str, token: str, account_id: int | None) -> None:
    """Keep the token by which we are known at a destination; "" takes it away. It is never shown.

    Raises:
        NoSuchDestination: There is none.
        NoKey: The installation has no key for secrets.
    """
    sealed = _cipher(context).encrypt(token.encode()) if token else None
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.ADMINISTER)
        store.set_destination(
            connection, opened.row.id, token=sealed, next_at=None, tries=0, problem=""
        )
        insert_audit(
            connection, "destination-token", opened.destination.title, account_id, context.now()
        )


def token_of(context: Context, row: store.DestinationRow) -> str:
    """Give the token by which we are known at a destination; "" for none.

    Raises:
        NoKey: It was kept under another key.
    """
    if row.token is None:
        return ""
    try:
        return _cipher(context).decrypt(row.token).decode()
    except InvalidToken as error:
        raise NoKey from error


def _cipher(context: Context) -> Fernet:
    cipher = context.cipher()
    if cipher is None:
        raise NoKey
    return cipher


def outbox_of(context: Context) -> str | None:
    """Give the folder of the server in which files are laid, "" where there is none; None to whom
    it is not to say what is sent where.
    """
    may = context.database.sight.everywhere >= Level.ADMINISTER
    return context.settings.outbox if may else None


def _require_way(context: Context, connection: Connection, way: Way) -> None:
    """See that a way is one that whoever keeps it may choose, and that there is here."""
    is_folder = isinstance(way, FileWay) and way.into_folder
    is_sent = is_folder or not isinstance(way, FileWay | AskedWay)
    if is_sent and connection.sight.everywhere < Level.ADMINISTER:
        raise WrongDestination(
            "way.into_folder" if is_folder else "way.address",
            "where we send to is for who administers everything to say; a file is not sent.",
        )
    if is_folder and not context.settings.outbox:
        raise WrongDestination(
            "way.into_folder",
            "this installation has no folder for files: whoever runs it sets NEVEFIELD_OUTBOX.",
        )


def _require_rosters(context: Context, connection: Connection, destination: Destination) -> Roster:
    """See that a destination names only what whoever keeps it may see; give its first roster."""
    definitions = {
        roster.name: load_definition(connection, roster)
        for roster in roster_store.list_seen(connection)
        if roster.id not in connection.sight.parts
    }
    check_destination(destination, definitions)
    if isinstance(destination.way, AskedWay):
        # a third of a second, for who keeps such a one alone
        from nevefield.passing_on.schemas import check_way

        check_way(destination)
    _require_way(context, connection, destination.way)
    used = {share.roster: share.fields() for share in destination.shares}
    rosters = find_whole(connection, used)
    if rosters is None or any(
        connection.sight.level(roster.id) < Level.ADMINISTER for roster in rosters.values()
    ):
        raise WrongDestination(
            "shares", "what leaves of a roster is for who administers all of it to say."
        )
    return rosters[destination.shares[0].roster]
