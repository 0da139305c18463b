"""Hold ready what a destination reads by itself."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.core.passing.standing import Act, Place
from nevefield.passing_on.looking import content_of
from nevefield.passing_on.ways import Item, learn_done
from nevefield.store import passing as store
from nevefield.store.proposed import settle

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context
    from nevefield.passing_on.looking import Look
    from nevefield.store.connection import Connection

__all__ = ["hold_ready", "learn_all"]


def hold_ready(
    context: Context,
    look: Look,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> dict[str, Any]:
    """Hold what is to be sent for them to read, in one transaction; what they had proposed of it is
    settled in the same.

    Returns:
        How many were held ready.
    """
    row = look.opened.row
    progress(f"Holding it ready for {look.opened.destination.title}", 0, look.records)
    with context.database.transaction() as connection:
        store.lock(connection, row.id)
        learnt = learn_all(connection, look, "held for them")
        # as of the versions that were looked at: what was applied since is told next
        settle(connection, row.id, {one.roster_id: one.version for one in look.shared})
        store.learn(connection, row.id, learnt, account_id, context.now())
    return {"sent": 0, "held": len(learnt), "refused": 0, "left": 0}


def learn_all(connection: Connection, look: Look, answer: str) -> list[store.Learnt]:
    """Say of everybody who is to be sent that they hold it."""
    learnt = []
    for shared in look.shared:
        going = [
            one for one in shared.standings.values() if one.place in (Place.TO_SEND, Place.TO_END)
        ]
        known = store.list_known(connection, look.opened.row.id, [one.record for one in going])
        for standing in going:
            before = known.get(standing.record)
            item = Item(
                shared,
                standing,
                "",
                before.content if before and before.is_there else None,
                content_of(shared, standing) if standing.act != Act.END else None,
            )
            learnt.append(learn_done(item, "", answer, None))
    return learnt
