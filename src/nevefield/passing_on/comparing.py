"""Compare what a destination holds with what it should: what is otherwise there is to be sent."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from nevefield.core.passing.destination import GateWay, ScimWay
from nevefield.core.passing.standing import Act
from nevefield.core.submitting.layout import means_same
from nevefield.destinations.scim import read_values
from nevefield.passing_on.errors import OthersSend, StaysHere, WrongRemedy
from nevefield.passing_on.keeping import require_destination
from nevefield.passing_on.looking import load_look
from nevefield.passing_on.ways import card_of, make_gates, make_scim
from nevefield.store import passing as store

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.destinations.scim import Held
    from nevefield.passing_on.looking import Look

__all__ = ["compare"]

DRIFT = "is otherwise there"


def compare(
    context: Context,
    name: str,
    job_id: int,
    until: datetime,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> dict[str, Any]:
    """Read back what a destination holds, and keep of whom it holds something else, or nothing:
    they are to be sent.

    Args:
        context: Database, clock and the way there.
        name: Of the destination.
        job_id: The job that does it.
        until: Until when nobody else may tell it.
        progress: Hears how far it is.

    Returns:
        How many were compared, of how many it holds something else, how many are gone there, and
        how many it has that are not ours.

    Raises:
        NoSuchDestination, StaysHere, OthersSend, NoKey: It cannot be.
        WrongRemedy: It cannot be read back.
        DestinationError: It does not answer.
    """
    if context.settings.practice:
        raise StaysHere
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        if not store.claim(connection, opened.row.id, job_id, context.now(), until):
            raise OthersSend
        look = load_look(context, connection, opened)
        there = [
            record for shared in look.shared for record, one in shared.told.items() if one.is_there
        ]
        known = store.list_known(connection, opened.row.id, there)
    try:
        progress(f"Reading what {opened.destination.title} holds", 0, len(known))
        if isinstance(opened.destination.way, ScimWay):
            found, strange = _compare_accounts(context, look, known, progress)
        elif isinstance(opened.destination.way, GateWay):
            found, strange = _compare_doors(context, look, known)
        else:
            raise WrongRemedy("It cannot be read back: what they made of it is not known.")
        _keep(context, look, found, known)
    finally:
        with context.database.transaction() as connection:
            store.release(connection, opened.row.id, job_id)
    gone = sum(not one.is_there for one in found.values())
    return {
        "compared": len(known),
        "otherwise": len(found) - gone,
        "gone": gone,
        "strange": strange,
    }


def _compare_accounts(
    context: Context,
    look: Look,
    known: Mapping[int, store.Known],
    progress: Callable[[str, int, int], None],
) -> tuple[dict[int, store.Known], int]:
    client = make_scim(context, look.opened)
    try:
        held: dict[str, Held] = {}
        for account in client.everybody():
            held[account.ref] = account
            progress(f"Reading what {look.opened.destination.title} holds", len(held), len(known))
        with context.database.transaction() as connection:
            groups = store.list_groups(connection, look.opened.row.id)
        members = {group: client.members_of(ref) for group, ref in groups.items()}
    finally:
        client.close()
    found = {}
    for record, one in known.items():
        theirs = held.get(one.ref)
        if theirs is None:
            found[record] = replace(one, ref="", is_there=False, problem="was not there any more")
        elif drift := _drift(one, theirs, members):
            found[record] = replace(one, problem=f"{DRIFT}: {', '.join(drift)}")
    ours = {each.ref for each in known.values()}
    return found, sum(ref not in ours for ref in held)


def _drift(one: store.Known, account: Held, members: Mapping[str, set[str]]) -> list[str]:
    """List the fields of theirs that are otherwise than they were sent."""
    if one.content is None:
        return []
    drift = [] if account.is_there else ["switched off"]
    for name in one.content.fields:
        theirs = read_values(account.resource, name)
        ours = one.content.values(name)
        if len(theirs) != len(ours) or not all(map(means_same, ours, theirs)):
            drift.append(name.rsplit(":", 1)[-1])
    groups = {group for group, refs in members.items() if one.ref in refs}
    if groups != set(one.content.groups):
        drift.append("groups")
    return drift


def _compare_doors(
    context: Context, look: Look, known: Mapping[int, store.Known]
) -> tuple[dict[int, store.Known], int]:
    """Compare each door that answers; the others stay as they are known."""
    client = make_gates(context, look.opened)
    try:
        doors = [one for one in client.doors() if one.answers]
        cards = {door.door: client.cards_of(door.door) for door in doors}
    finally:
        client.close()
    found: dict[int, store.Known] = {}
    ours: set[tuple[str, str]] = set()
    for record, one in known.items():
        card = card_of(one.content)
        zones = one.content.values("zones") if one.content else []
        ours |= {(door.door, card) for door in doors}
        drift = []
        for door in doors:
            held = cards[door.door].get(card)
            if (held is None) == bool(door.zones.intersection(zones)):
                drift.append(door.title)
            elif held is not None and one.content is not None:
                said = {name: one.content.fields.get(name, "") for name in ("name", "until")}
                if {name: str(held.get(name, "")) for name in said} != said:
                    drift.append(door.title)
        if drift:
            found[record] = replace(one, problem=f"{DRIFT}: {', '.join(drift)}")
    strange = sum((door, card) not in ours for door, some in cards.items() for card in some)
    return found, strange


def _keep(
    context: Context,
    look: Look,
    found: Mapping[int, store.Known],
    known: Mapping[int, store.Known],
) -> None:
    """Keep what is otherwise: nothing is known of it any more, and it is to be sent."""
    roster_of = {
        record: (shared.roster_id, shared.told[record].own)
        for shared in look.shared
        for record in shared.told
    }
    learnt = [
        store.Learnt(
            record,
            roster_of[record][0],
            Act.NONE,
            ref=one.ref,
            is_there=one.is_there,
            content=known[record].content,
            own=roster_of[record][1],
            problem=one.problem,
            version=one.version,
            answer=one.problem,
        )
        for record, one in found.items()
    ]
    with context.database.transaction() as connection:
        store.learn(connection, look.opened.row.id, learnt, None, context.now())
