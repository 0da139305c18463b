"""Card designs: listed, opened, kept in versions."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.cards.errors import DesignMoved, DesignTaken, NoSuchDesign
from nevefield.cards.typefaces import load_typefaces
from nevefield.core.cards.faces import Faces
from nevefield.core.cards.needing import Printed
from nevefield.core.cards.reading import check_design, read_design, write_design
from nevefield.core.cards.registering import STATES, make_register, name_states
from nevefield.core.errors import WrongDesign
from nevefield.rosters.opening import insert_opened
from nevefield.rosters.snapshots import load_codes, load_definition, load_snapshot
from nevefield.rosters.whole import find_whole
from nevefield.store import cards as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.errors import KeyTaken

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.context import Context
    from nevefield.core.cards.design import Design
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "OpenDesign",
    "begin_design",
    "keep_design",
    "list_designs",
    "list_versions",
    "load_faces",
    "open_design",
    "read_rests",
    "require_design",
    "require_rosters",
]


@dataclass(frozen=True)
class OpenDesign:
    """A design, and the rosters that it is about."""

    row: store.DesignRow
    design: Design
    rosters: Mapping[str, Roster]  # by name, the register among them


def list_designs(context: Context) -> list[OpenDesign]:
    """List the designs of which all rosters may be seen as a whole."""
    found = []
    with context.database.transaction() as connection:
        for row in store.list_designs(connection):
            design = read_design(row.document)
            rosters = _rosters(connection, design)
            if rosters is not None:
                found.append(OpenDesign(row, design, rosters))
    return found


def open_design(context: Context, name: str) -> OpenDesign:
    """Open a design.

    Raises:
        NoSuchDesign: There is none, or one of its rosters may not be seen as a whole.
    """
    with context.database.transaction() as connection:
        return require_design(connection, name)


def require_design(connection: Connection, name: str) -> OpenDesign:
    """Open a design inside the caller's transaction: as `open_design`."""
    row = store.get_design(connection, name)
    if row is None:
        raise NoSuchDesign(name)
    design = read_design(row.document)
    rosters = _rosters(connection, design)
    if rosters is None:
        raise NoSuchDesign(name)
    return OpenDesign(row, design, rosters)


def begin_design(
    context: Context, document: Any, account_id: int | None, *, opens_register: bool = False
) -> str:
    """Begin a design.

    Args:
        context: Database and clock.
        document: The design.
        account_id: Who.
        opens_register: Whether a roster is opened for its cards, with the states that they have;
            what the document says of its register does not count then.

    Returns:
        Its name.

    Raises:
        WrongDesign: Something in it cannot be.
        DesignTaken: There is one of the name.
    """
    with context.database.transaction() as connection:
        if opens_register:
            document = _open_register(context, connection, document, account_id)
        design = read_design(document)
        rosters = require_rosters(connection, design)
        try:
            store.insert_design(
                connection,
                design.name,
                rosters[design.register_.roster].id,
                write_design(design),
                account_id,
                context.now(),
            )
        except KeyTaken as error:
            raise DesignTaken(design.name) from error
        insert_audit(connection, "card-design", design.name, account_id, context.now(), version=1)
    return design.name


def _open_register(
    context: Context, connection: Connection, document: Any, account_id: int | None
) -> Any:
    """Open a roster for the cards of a design; give the design with it."""
    draft = read_design({**document, "register": {"roster": "none", "number": "n", "holder": "h"}})
    taken = [roster.name for roster in roster_store.list_seen(connection.whole())]
    lists = load_codes(connection.whole())
    states = name_states(lists)
    definition, register = make_register(draft.name, draft.title, taken, states)
    if states not in lists:
        roster_store.replace_code_list(connection, states, STATES)
    insert_opened(
        connection, definition, [], at=context.now(), title=draft.title, account_id=account_id
    )
    insert_audit(connection, "roster-opened", definition["name"], account_id, context.now())
    return {**document, "register": register}


def keep_design(
    context: Context, name: str, document: Any, seen: int, account_id: int | None
) -> int:
    """Keep another version of a design, which is in force from now on.

    Args:
        context: Database and clock.
        name: Of the design, which stays what it is.
        document: The whole of it.
        seen: The version that was changed.
        account_id: Who.

    Returns:
        The version's number; that which is there when nothing changed.

    Raises:
        NoSuchDesign: There is none.
        WrongDesign: Something in it cannot be.
        DesignMoved: Somebody else kept a version meanwhile.
    """
    design = read_design(document)
    with context.database.transaction() as connection:
        row = require_design(connection, name).row
        now = store.lock_design(connection, row.id)
        if now != seen:
            raise DesignMoved(seen, now)
        if design.name != name:
            raise WrongDesign("name", f"a design keeps its name, which is “{name}”.")
        require_rosters(connection, design)
        if read_design(row.document).register_.roster != design.register_.roster:
            raise WrongDesign(
                "register.roster", "a design keeps its register; begin another design instead."
            )
        written = write_design(design)
        if written == row.document:
            return now
        store.insert_version(connection, row.id, now + 1, written, account_id, context.now())
        insert_audit(connection, "card-design", name, account_id, context.now(), version=now + 1)
    return now + 1


def list_versions(context: Context, name: str) -> list[store.VersionRow]:
    """List the versions of a design, the newest first.

    Raises:
        NoSuchDesign: There is none.
    """
    with context.database.transaction() as connection:
        return store.list_versions(connection, require_design(connection, name).row.id)


def load_faces(
    context: Context, connection: Connection, opened: OpenDesign, design: Design | None = None
) -> Faces:
    """Load everything that the cards of a design are filled from, as they stand.

    Args:
        context: Clock.
        connection: Inside a transaction.
        opened: The design.
        design: Another one of the same rosters, to be tried.
    """
    return Faces(
        design or opened.design,
        {name: load_snapshot(connection, roster) for name, roster in opened.rosters.items()},
        load_codes(connection),
        load_typefaces(),
        context.today(),
    )


def read_rests(rests: Mapping[str, Any], card: store.MadeCard) -> Printed:
    """Read what a card rests on, as it is kept."""
    return Printed(
        card.face,
        rests.get("values", {}),
        rests.get("shown", {}),
        card.photo.hex() if card.photo else "",
        card.spoiled_at is not None,
    )


def require_rosters(connection: Connection, design: Design) -> dict[str, Roster]:
    """Find the rosters of a design, and see that it names only what they have.

    Raises:
        WrongDesign: A roster is not there, may not be seen as a whole, or has not what is named.
    """
    definitions: dict[str, Definition] = {}
    for roster in roster_store.list_seen(connection):
        if roster.id not in connection.sight.parts:
            definitions[roster.name] = load_definition(connection, roster)
    check_design(design, definitions)
    rosters = _rosters(connection, design)
    if rosters is None:
        raise WrongDesign("faces", "something that stands on the cards is kept from you.")
    return rosters


def _rosters(connection: Connection, design: Design) -> dict[str, Roster] | None:
    """Find the rosters of a design; None when one of them may not be seen as a whole, or keeps
    something that stands on the cards: it would be read from them, or its cover be printed.
    """
    names = dict.fromkeys((design.register_.roster, *(face.roster for face in design.faces)))
    return find_whole(connection, {name: design.fields_in(name) for name in names})
