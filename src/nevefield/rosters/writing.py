"""Alter a roster: the one way in which anything ever does."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

from nevefield.core.checking.privileges import count_raised, find_meeting, has_privileges
from nevefield.core.parts import is_in_part
from nevefield.core.snapshot import Snapshot
from nevefield.rosters.errors import (
    BeyondPart,
    NeedsApproval,
    NeverTogether,
    NotReconciled,
    RosterMoved,
)
from nevefield.rosters.snapshots import load_definition
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.parts import find_part, get_part
from nevefield.store.writing import Write, write_records

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.sight import Part

__all__ = ["alter_roster", "make_writes"]


def make_writes(
    definition: Definition, records: Sequence[tuple[int, str | None, int | None, bool]]
) -> list[Write]:
    """Make writes of records: number, content (None: it leaves), line, whether it is new; the
    keys are worked out here.
    """
    staying = [record for record in records if record[1] is not None]
    snapshot = Snapshot.of_documents(
        definition, [one[0] for one in staying], [one[1] or "{}" for one in staying]
    )
    keys = dict(zip((one[0] for one in staying), snapshot.unique_keys(), strict=True))
    return [
        Write(number, content, line, is_new, keys.get(number, []))
        for number, content, line, is_new in records
    ]


def alter_roster(
    connection: Connection,
    roster: Roster,
    writes: Sequence[Write],
    new: store.NewChangeSet,
    *,
    seen: int,
    approved: bool = False,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> tuple[int, int, dict[str, Any]]:
    """Write a change set inside the caller's transaction.

    Args:
        connection: Inside a transaction.
        roster: The roster.
        writes: What becomes of each record.
        new: The change set.
        seen: The roster's version for which the writes were worked out.
        approved: Whether a second account has approved exactly this, where one has to.
        progress: See `write_records`.

    Returns:
        The change set's number, the roster's new version, and the receipt, which is stored by the
        caller's `set_receipt`.

    Raises:
        RosterMoved: The roster has another version by now.
        NeedsApproval: A second account has to approve first.
        NeverTogether: Values that must never meet in one record would.
        BeyondPart: Somebody outside of the part within which it is done would be altered.
        NotReconciled: What was read back is not what was planned.
    """
    now = roster_store.lock_roster(connection, roster.id)
    if now != seen:
        raise RosterMoved(seen, now)
    # Here and nowhere else, so that no way round it can be forgotten.
    if new.kind != "opening":
        _refuse_privileges(connection, roster, writes, approved=approved)
    part_id = find_part(
        connection, roster.id, intake_id=new.intake_id, change_set_id=new.undoes or new.part_of
    )
    if (part := get_part(connection, part_id)) is not None:
        _refuse_beyond(connection, roster, writes, part)
    version = now + 1
    change_set_id = store.insert_change_set(connection, roster.id, version, new, part_id)
    written = write_records(connection, roster.id, version, writes, progress)
    planned = {
        "joined": sum(write.is_new for write in writes),
        "changed": sum(not write.is_new and write.content is not None for write in writes),
        "left": sum(write.content is None for write in writes),
    }
    found = {"joined": written.joined, "changed": written.changed, "left": written.left}
    if planned != found:
        raise NotReconciled(planned, found)
    roster_store.set_version(connection, roster.id, version)
    insert_audit(
        connection,
        f"change-set-{new.kind}",
        f"{roster.name} {version}",
        new.account_id,
        new.at,
        **found,
    )
    return change_set_id, version, {"planned": planned, "found": found}


def _refuse_beyond(
    connection: Connection, roster: Roster, writes: Sequence[Write], part: Part
) -> None:
    """See that nobody outside of a part is altered, and nobody is put there.

    Raises:
        BeyondPart: When not.
    """
    definition = load_definition(connection, roster)
    known = [write.record_id for write in writes if not write.is_new]
    before = [json.loads(text) for _, text in store.list_contents(connection, roster.id, known)]
    after = [json.loads(write.content) for write in writes if write.content is not None]
    outside = ~is_in_part(part.when, definition.by_name, [*before, *after])
    if outside.any():
        raise BeyondPart(int(outside.sum()))


def _refuse_privileges(
    connection: Connection, roster: Roster, writes: Sequence[Write], *, approved: bool
) -> None:
    """See that what is written needs no second account, or has one, and that no two values meet
    that must not.

    Raises:
        NeedsApproval, NeverTogether: When not.
    """
    definition = load_definition(connection, roster)
    raised = 0
    if has_privileges(definition):
        after = {
            write.record_id: json.loads(write.content)
            for write in writes
            if write.content is not None
        }
        if meeting := find_meeting(definition, after.values()):
            raise NeverTogether(meeting)
        before = {
            number: json.loads(text)
            for number, text in store.list_contents(connection, roster.id, list(after))
        }
        raised = count_raised(
            definition, ((before.get(number), content) for number, content in after.items())
        )
    if not approved and (why := definition.approval.why(len(writes), raised)):
        raise NeedsApproval(why)
