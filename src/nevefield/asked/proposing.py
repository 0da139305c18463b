"""What outside systems proposed becomes an intake, like any file: one for each roster, of all that
was written until they paused.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.asked.opening import load_asked, resource_of
from nevefield.core.passing.incoming import read_groups, read_said
from nevefield.destinations.scim import read_values
from nevefield.intakes.evaluating import open_intake
from nevefield.passing_on.keeping import open_destination, require_destination
from nevefield.passing_on.urns import PROPOSAL
from nevefield.proposals.changing import SaidRow, SaidRows, keep_said
from nevefield.rosters.snapshots import load_codes, load_snapshot
from nevefield.store import passing as passing_store
from nevefield.store import proposed as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence

    from nevefield.asked.opening import Asked, Document
    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.passing.destination import Share
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.proposed import Proposed
    from nevefield.store.rosters import Roster

__all__ = ["PAUSE", "take_in", "take_in_due"]

PAUSE = timedelta(seconds=30)  # in which they wrote nothing
LONGEST = timedelta(minutes=10)  # since the first that waits


@dataclass
class _Person:
    """What they want of one person."""

    record: int | None
    before: Document
    after: Document
    proposal: int | None = None
    gained: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class _Row(SaidRow):
    """A row of the intake, and the proposal that it comes from."""

    proposal: int | None = None


def take_in_due(context: Context) -> list[int]:
    """Make intakes of what was written and is not written on; return their numbers."""
    if context.settings.practice:
        return []
    now, made = context.now(), []
    with context.database.transaction() as connection:
        waiting = store.list_waiting(connection)
    for name, first, last in waiting:
        if last <= now - PAUSE or first <= now - LONGEST:
            made += take_in(context, name)
    return made


def take_in(context: Context, name: str) -> list[int]:
    """Make intakes of what a destination proposed and nobody looks at yet.

    Of a group that nobody is in nothing comes: a roster has the groups that somebody is in.

    Returns:
        The intakes' numbers.

    Raises:
        NoSuchDestination: There is none.
    """
    made: list[int] = []
    destination_id = open_destination(context, name).row.id
    with context.database.transaction() as connection:
        # before anything is read: several workers look at the same moment
        passing_store.lock(connection, destination_id)
        opened = require_destination(connection, name)
        asked = load_asked(connection, opened)
        waiting = [one for one in asked.proposed if one.intake_id is None]
        people = _gather(asked, waiting)
        codes = load_codes(connection)
        groups = [one for one in waiting if one.kind == "Group"]
        for share in asked.destination.shares:
            roster = opened.rosters[share.roster]
            mine = [one for one in people if _is_of(asked, one, share, roster.id)]
            snapshot = load_snapshot(connection, roster)
            rows = [row for one in mine if (row := _read(share, one, snapshot, codes)) is not None]
            for number in {one.proposal for one in mine} - {row.proposal for row in rows}:
                if number is not None:
                    store.withdraw(connection, number)  # it says what is so already
            if rows:
                number = _keep(context, connection, asked, roster, snapshot, rows)
                made.append(number)
                store.take_in(connection, number, dict.fromkeys(one.id for one in groups))
                groups = []
        for one in groups:
            if one.is_new:
                store.set_idle(connection, one.id)
            else:
                store.withdraw(connection, one.id)
    for number in made:
        open_intake(context, number)
    return made


def _gather(asked: Asked, waiting: Sequence[Proposed]) -> list[_Person]:
    """List whom what was written is about, each once: people that are written, and members of
    groups that come or go.
    """
    people: dict[str, _Person] = {}
    for one in waiting:
        if one.kind != "User":
            continue
        after = resource_of(one, asked.became)
        number = after["id"]
        before = asked.held.people.get(number, {})
        people[number] = _Person(one.record_id, dict(before), after, one.id)
    for one in waiting:
        if one.kind != "Group":
            continue
        group = resource_of(one, asked.became)
        known = asked.held.groups.get(group["id"], {})
        name = str(known.get("displayName") or group.get("displayName") or "")
        was = {member["value"] for member in known.get("members", ())}
        is_now = {str(member.get("value")) for member in group.get("members") or ()}
        for number in sorted(was ^ is_now):
            person = people.get(number) or _known(asked, number)
            if person is None:
                continue
            people[number] = person
            (person.gained if number in is_now else person.lost).append(name)
    return list(people.values())


def _known(asked: Asked, number: str) -> _Person | None:
    held = asked.held.people.get(number)
    if held is not None:
        return _Person(asked.held.records[number], dict(held), dict(held))
    # somebody new, of whom an intake is on the desk already
    one = next((p for p in asked.proposed if p.is_new and f"p{p.id}" == number), None)
    if one is None or one.is_gone:
        return None
    return _Person(None, {}, resource_of(one, asked.became), one.id)


def _is_of(asked: Asked, person: _Person, share: Share, roster_id: int) -> bool:
    """Tell whether somebody is of a roster; who is new is of the first."""
    if person.record is None:
        return share is asked.destination.shares[0]
    return asked.held.rosters.get(person.record) == roster_id


def _read(
    share: Share, person: _Person, snapshot: Snapshot, codes: Mapping[str, CodeList]
) -> _Row | None:
    """Read what is wanted of somebody in our fields; None when it is so already."""
    definition = snapshot.definition
    place = -1
    if person.record is not None:
        places = (snapshot.ids == person.record).nonzero()[0]
        if not len(places):
            return None  # who has left the roster since
        place = int(places[0])

    def had(name: str) -> str:
        return (snapshot.columns[name].at(place) or "") if place >= 0 else ""

    said = read_said(
        share,
        lambda path: read_values(person.before, path),
        lambda path: read_values(person.after, path),
        definition,
        codes,
    )
    said |= read_groups(share, person.gained, person.lost, had, definition, codes)
    # it may come to what the roster says by now
    typed = {name: definition.by_name[name].typed(had(name)) for name in said}
    if place >= 0 and all(typed[name] == text for name, text in said.items()):
        return None
    if not said:
        return None
    return _Row(person.record, said, person.proposal)


def _keep(
    context: Context,
    connection: Connection,
    asked: Asked,
    roster: Roster,
    snapshot: Snapshot,
    rows: Sequence[_Row],
) -> int:
    """Keep rows as an intake, and in which line of it what they wrote is looked at."""
    title, mine = asked.destination.title, {row.proposal for row in rows}
    notes = {
        str(note)
        for one in asked.proposed
        if one.id in mine and (note := (one.content.get(PROPOSAL) or {}).get("note"))
    }
    new = sum(row.record is None for row in rows)
    parts = [
        f"{count:,} {word}" for count, word in ((new, "new"), (len(rows) - new, "changed")) if count
    ]
    made = SaidRows(
        rows=rows,
        title=f"{title} proposes: {', '.join(parts)}{_say(notes)}",
        kind="asked",
        file_name=f"from {title}",
    )
    number = keep_said(context, connection, roster, snapshot, made, None)
    lines = {row.proposal: line for line, row in enumerate(rows, 1) if row.proposal is not None}
    store.take_in(connection, number, lines)
    insert_audit(
        connection,
        "destination-proposed",
        title,
        None,
        context.now(),
        intake=number,
        rows=len(rows),
    )
    return number


def _say(notes: Collection[str]) -> str:
    """Say what they say of it themselves, where that is one thing."""
    return f" (“{next(iter(notes))[:80]}”)" if len(notes) == 1 else ""
