"""Files for destinations are laid in the folder of the server from which others carry them on."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.core.passing.destination import FileWay
from nevefield.destinations.errors import NotLaid
from nevefield.destinations.folders import lay
from nevefield.passing_on.keeping import list_destinations
from nevefield.store import passed_files as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.passing_on.keeping import OpenDestination

__all__ = ["lay_due"]

FIRST_WAIT, LONGEST_WAIT = 5.0, 300.0  # seconds before a folder is tried again
LEASE = timedelta(seconds=120)  # that laying one may take


def lay_due(context: Context) -> int:
    """Lay every file that waits for it, of each destination the oldest first; return how many. One
    that cannot be laid waits, with the reason, and the later ones of its destination behind it.
    """
    if context.settings.practice:
        return 0
    with context.database.transaction() as connection:
        waiting = store.list_waiting(connection)
    if not waiting:
        return 0
    laid = 0
    for one in list_destinations(context):
        if one.row.id in waiting:
            while _lay_next(context, one):
                laid += 1
    return laid


def _lay_next(context: Context, opened: OpenDestination) -> bool:
    way, title, now = opened.destination.way, opened.destination.title, context.now()
    with context.database.transaction() as connection:
        if not isinstance(way, FileWay) or not way.into_folder:
            store.end_waiting(connection, opened.row.id)
            return False
        found = store.claim_waiting(connection, opened.row.id, now, now + LEASE)
    if found is None:
        return False
    outbox, folder = context.settings.outbox, opened.destination.name
    try:
        name = lay(outbox, folder, found.file_name, found.content, keeps=way.only_changes)
    except NotLaid as error:
        wait = timedelta(seconds=min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(found.tries, 12)))
        with context.database.transaction() as connection:
            store.put_off(connection, found.id, str(error), context.now() + wait)
        return False
    with context.database.transaction() as connection:
        store.note_laid(connection, found.id, name, context.now())
        insert_audit(connection, "destination-laid", title, None, context.now(), file=name)
    return True
