"""Open rosters: create them with a definition, code lists and their first records."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

from nevefield.core.checking.starting import with_starting_checks
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.evaluate import require_lists
from nevefield.rosters.snapshots import load_codes
from nevefield.rosters.writing import alter_roster, make_writes
from nevefield.store import records as record_store
from nevefield.store import rosters as store
from nevefield.store.records import NewChangeSet

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = ["insert_opened", "is_empty", "open_empty", "open_roster_with"]

OPENED = "Opening of the roster"


def is_empty(context: Context) -> bool:
    """Tell whether there is no roster yet."""
    with context.database.transaction() as connection:
        return not store.list_rosters(connection)


def open_empty(context: Context, document: Any, account_id: int | None) -> str:
    """Open a roster without records; one that names no checks has those that its fields suggest.

    Returns:
        Its name.

    Raises:
        WrongDefinition: The definition is wrong, or there is a roster of that name.
    """
    definition = read_definition(document)
    with context.database.transaction() as connection:
        if store.get_roster(connection, definition.name) is not None:
            raise WrongDefinition("name", f"there is a roster “{definition.name}” already.")
    open_roster_with(context, with_starting_checks(document, definition), [], account_id)
    return definition.name


def open_roster_with(
    context: Context,
    document: Any,
    records: Sequence[dict[str, Any]],
    account_id: int | None = None,
) -> int:
    """Create a roster with its first records, as its opening change set.

    Returns:
        The roster's number.
    """
    with context.database.transaction() as connection:
        return insert_opened(
            connection, document, records, account_id=account_id, at=context.now(), title=OPENED
        )


def insert_opened(
    connection: Connection,
    document: Any,
    records: Sequence[dict[str, Any]],
    *,
    at: datetime,
    title: str,
    account_id: int | None = None,
) -> int:
    """Create a roster with its first records inside the caller's transaction.

    Args:
        connection: Inside a transaction.
        document: Its definition.
        records: As JSON objects.
        at: Now, in UTC and without a zone.
        title: Of the change set by which they come.
        account_id: Who.

    Returns:
        The roster's number.
    """
    definition = read_definition(document)
    require_lists(definition, load_codes(connection))
    roster_id = store.insert_roster(connection, definition.name, definition.title, document, at)
    roster = store.get_roster_by_id(connection, roster_id)
    if roster is None or not records:
        return roster_id
    first = record_store.reserve_numbers(connection, len(records))
    texts = [json.dumps(record, ensure_ascii=False, separators=(",", ":")) for record in records]
    writes = make_writes(
        definition, [(first + place, text, None, True) for place, text in enumerate(texts)]
    )
    new = NewChangeSet(kind="opening", title=title, account_id=account_id, at=at)
    number, version, receipt = alter_roster(connection, roster, writes, new, seen=0)
    count = len(records)
    tally = dict.fromkeys(
        ("changed", "same", "waiting", "stopped", "held", "left_out", "absent"), 0
    )
    record_store.set_receipt(
        connection,
        number,
        {**receipt, "version": version, "tally": {"read": count, "new": count, **tally}},
    )
    return roster_id
