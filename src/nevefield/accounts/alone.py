"""Find where one person alone stands between work and its approval."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.accounts.signing import idle_time
from nevefield.rosters.snapshots import load_definition
from nevefield.store import accounts as store
from nevefield.store import rosters as roster_store
from nevefield.store.sight import Level, Sight

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.rosters import Roster

__all__ = ["Lone", "find_alone"]


@dataclass(frozen=True)
class Lone:
    """A roster in which at most one person may approve.

    Args:
        roster: Which.
        who: That person's name; "" where nobody may.
        needs_two: Whether its definition asks for a second person, so that nothing can be applied
            while that one is away.
    """

    roster: Roster
    who: str
    needs_two: bool


def find_alone(context: Context) -> list[Lone]:
    """List the rosters in which one person alone may approve, or nobody."""
    now, today = context.now(), context.today()
    with context.database.transaction() as connection:
        people = [
            one
            for one in store.list_people(connection, now, now - idle_time(context))
            if one.account.is_open(today) and one.account.password_hash
        ]
        found = []
        for roster in roster_store.list_seen(connection):
            approval = load_definition(connection, roster).approval
            needs_two = approval.least is not None or approval.raising
            able = [
                one.account.name
                for one in people
                if _sight(one).level(roster.id) >= Level.APPROVE and roster.id not in one.parts
            ]
            # of two who approve, one may be the one who proposed
            if len(able) < 2:
                found.append(Lone(roster, able[0] if able else "", needs_two))
    return found


def _sight(person: store.Person) -> Sight:
    levels = {roster: Level(level) for roster, level in person.levels.items()}
    return Sight(Level(person.account.level), levels)
