"""Alter a roster: the one way in which anything ever does."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.core.snapshot import Snapshot
from nevefield.rosters.errors import NoSuchChangeSet, NotReconciled, NotTakenBack, RosterMoved
from nevefield.rosters.snapshots import load_definition, load_snapshot
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.writing import Write, write_records

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = ["alter_roster", "make_writes", "take_back"]

NAMES_SHOWN = 20


def make_writes(definition: Definition, records: Sequence[tuple[int, str | None, int | None, bool]]) -> list[Write]:
    """Make writes of records: number, content (None: it leaves), line, whether it is new; the keys are worked out here."""
    staying = [one for one in records if one[1] is not None]
    snapshot = Snapshot.of_documents(definition, [one[0] for one in staying], [one[1] or "{}" for one in staying])
    keys = dict(zip((one[0] for one in staying), snapshot.unique_keys(), strict=True))
    return [Write(number, content, line, is_new, keys.get(number, [])) for number, content, line, is_new in records]


def alter_roster(
    context: Context,
    connection: Connection,
    roster: Roster,
    writes: Sequence[Write],
    *,
    seen: int,
    kind: str,
    title: str,
    account_id: int | None,
    intake_id: int | None = None,
    steps: int | None = None,
    undoes: int | None = None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> tuple[int, int, dict[str, Any]]:
    """Write a change set inside the caller's transaction.

    Args:
        context: Clock.
        connection: Inside a transaction.
        roster: The roster.
        writes: What becomes of each record.
        seen: The roster's version for which the writes were worked out.
        kind: opening, intake or undo.
        title: For people.
        account_id: Who does it.
        intake_id: The intake that it comes from.
        steps: The intake's number of steps.
        undoes: The change set that it takes back.
        progress: See `write_records`.

    Returns:
        The change set's number, the roster's new version, and the receipt, which is stored by the caller's `set_receipt`.

    Raises:
        RosterMoved: The roster has another version by now.
        NotReconciled: What was read back is not what was planned.
    """
    now = roster_store.lock_roster(connection, roster.id)
    if now != seen:
        raise RosterMoved(seen, now)
    version = now + 1
    change_set_id = store.insert_change_set(
        connection,
        roster.id,
        version,
        kind,
        title,
        intake_id=intake_id,
        steps=steps,
        undoes=undoes,
        account_id=account_id,
        at=context.now(),
    )
    written = write_records(connection, roster.id, version, writes, progress)
    planned = {
        "joined": sum(one.is_new for one in writes),
        "changed": sum(not one.is_new and one.content is not None for one in writes),
        "left": sum(one.content is None for one in writes),
    }
    found = {"joined": written.joined, "changed": written.changed, "left": written.left}
    if planned != found:
        raise NotReconciled(planned, found)
    roster_store.set_version(connection, roster.id, version)
    insert_audit(connection, f"change-set-{kind}", f"{roster.name} {version}", account_id, context.now(), **found)
    return change_set_id, version, {"planned": planned, "found": found}


def take_back(context: Context, connection: Connection, change_set: store.ChangeSet, account_id: int | None) -> int:
    """Take a whole change set back, as a change set of its own, inside the caller's fresh transaction.

    Returns:
        The new change set's number.

    Raises:
        NotTakenBack: It was taken back already, or later changes rest on it.
    """
    # The lock comes before the first plain read, which fixes what the transaction sees: it must be what the lock guards.
    now = roster_store.lock_roster(connection, change_set.roster_id)
    roster = roster_store.get_roster_by_id(connection, change_set.roster_id)
    if roster is None:
        raise NoSuchChangeSet(change_set.id)
    definition = load_definition(connection, roster)
    _refuse(connection, roster, definition, change_set)
    touched = store.list_touched(connection, roster.id, change_set.version)
    writes = make_writes(definition, [(number, before, None, False) for number, before, _ in touched])
    number, _, receipt = alter_roster(
        context,
        connection,
        roster,
        writes,
        seen=now,
        kind="undo",
        title=change_set.title,
        account_id=account_id,
        undoes=change_set.id,
    )
    store.set_receipt(connection, number, receipt)
    return number


def _refuse(connection: Connection, roster: Roster, definition: Definition, change_set: store.ChangeSet) -> None:
    if change_set.kind == "opening":
        raise NotTakenBack("This is the opening of the roster; there is nothing before it to go back to.")
    found = store.find_change_set(connection, change_set.id)
    if found is not None and found[2] is not None:
        raise NotTakenBack("This was taken back already.")
    later = store.list_dependent(connection, roster.id, change_set.version)
    if later:
        snapshot = load_snapshot(connection, roster)
        places = {int(number): place for place, number in enumerate(snapshot.ids.tolist())}
        names = [_name(snapshot, places[record]) for record in later if record in places][:NAMES_SHOWN]
        count = len(later)
        people = "record was" if count == 1 else "records were"
        raise NotTakenBack(f"{count} {people} changed again later, so this can no longer be taken back as a whole.", names)


def _name(snapshot: Snapshot, place: int) -> str:
    values = snapshot.values(place)
    by_meaning = {one.means: values.get(one.name, "") for one in snapshot.definition.fields if one.means}
    name = ", ".join(filter(None, [by_meaning.get("family-name"), by_meaning.get("given-name")]))
    key = " ".join(str(values.get(one, "")) for one in snapshot.definition.primary_key)
    return f"{name} {key}".strip()
