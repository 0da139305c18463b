"""Which shortlists who is signed in may see."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.conditions import fields_of
from nevefield.core.masking import sensitive_fields
from nevefield.rosters.errors import NoSuchShortlist
from nevefield.rosters.shortlists import require_shortlist
from nevefield.web.access import account, is_masked

if TYPE_CHECKING:
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.shortlists import Shortlist

__all__ = ["may_see", "see_shortlist"]


def may_see(shortlist: Shortlist, snapshot: Snapshot) -> bool:
    """Tell whether a shortlist says nothing that is kept from who is signed in: a live one may
    rest on sensitive fields.
    """
    reads = set(fields_of(shortlist.live)) if shortlist.live is not None else set()
    return not (is_masked(shortlist.roster_id) and reads & sensitive_fields(snapshot.definition))


def see_shortlist(connection: Connection, shortlist_id: int, snapshot: Snapshot) -> Shortlist:
    """Find a shortlist that who is signed in may see.

    Raises:
        NoSuchShortlist: There is none for them.
    """
    found = require_shortlist(connection, shortlist_id, account().id)
    if not may_see(found, snapshot):
        raise NoSuchShortlist(shortlist_id)
    return found
