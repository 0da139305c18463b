"""Where one record has gone: what each destination gets of it, holds of it, and was sent."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.masking import sensitive_fields
from nevefield.core.passing.standing import Act, find_moved
from nevefield.passing_on.keeping import list_destinations, require_destination
from nevefield.passing_on.looking import content_of, load_look, names_of_records, say_because
from nevefield.rosters.errors import NoSuchRecord
from nevefield.rosters.snapshots import load_definition
from nevefield.store import passing as store
from nevefield.store.delivered import list_delivered as list_acts
from nevefield.store.records import get_record_roster
from nevefield.store.touching import list_reasons

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.passing.outgoing import Content
    from nevefield.core.passing.standing import Moved, Standing
    from nevefield.passing_on.keeping import OpenDestination
    from nevefield.store.touching import Reason

__all__ = ["Went", "list_delivered", "trace"]


@dataclass(frozen=True)
class Went:
    """Where a record stands with one destination."""

    opened: OpenDestination
    standing: Standing
    wanted: Content | None  # what it should hold
    held: store.Known | None
    moved: tuple[Moved, ...]
    reason: Reason | None
    acts: tuple[store.ActRow, ...]
    because: str
    never: tuple[str, ...]  # titles of fields that are kept, and do not go there


def trace(context: Context, record: int, only: str = "") -> list[Went]:
    """Tell where a record has gone.

    Args:
        context: As seen by who asks.
        record: The record.
        only: A destination's name; "" for all of its roster.

    Raises:
        NoSuchRecord: There is none that may be seen.
    """
    destinations = [one for one in list_destinations(context) if only in ("", one.destination.name)]
    found = []
    with context.database.transaction() as connection:
        roster_id = get_record_roster(connection, record)
        if roster_id is None:
            raise NoSuchRecord(record)
        for opened in destinations:
            roster = next((one for one in opened.rosters.values() if one.id == roster_id), None)
            if roster is None:
                continue
            look = load_look(context, connection, opened)
            place = look.find(record)
            if place is None:
                continue
            shared, standing = place
            known = store.list_known(connection, opened.row.id, [record]).get(record)
            wanted = content_of(shared, standing) if standing.act != Act.END else None
            before = known.content if known is not None and known.is_there else None
            moved = find_moved(before, wanted) if standing.act != Act.NONE else []
            since = {record: known.version if known is not None else 0}
            reasons = list_reasons(connection, roster_id, since) if standing.act != Act.NONE else {}
            definition = load_definition(connection, roster)
            share = opened.destination.share_of(roster.name)
            goes = share.fields() if share is not None else frozenset()
            kept = sensitive_fields(definition) - goes
            found.append(
                Went(
                    opened,
                    standing,
                    wanted,
                    known,
                    tuple(moved),
                    reasons.get(record),
                    tuple(store.list_acts(connection, record, opened.row.id, 10)),
                    say_because(standing, reasons.get(record), known),
                    tuple(field.title for field in definition.fields if field.name in kept),
                )
            )
    return found


def list_delivered(
    context: Context, name: str, before: int = 0, limit: int = 100
) -> list[tuple[int, store.ActRow, tuple[str, str]]]:
    """List what was sent to a destination, the newest first.

    Args:
        context: As seen by who asks.
        name: Of the destination.
        before: Only what has a lower number; 0 for all.
        limit: How many at most.

    Returns:
        Of each its number, what it was, and the record's number and name.

    Raises:
        NoSuchDestination: There is none.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        look = load_look(context, connection, opened)
        acts = list_acts(connection, opened.row.id, before, limit)
        names = names_of_records(connection, look, {row.record_id for _, row in acts})
        return [(number, row, names.get(row.record_id, ("", ""))) for number, row in acts]
