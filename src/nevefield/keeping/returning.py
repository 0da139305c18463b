"""Everything is brought back from a copy, over a running installation: by hand, or by a click that
the process of copies works off.
"""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.context import Context
from nevefield.copies.errors import CopyError, NoSuchCopy
from nevefield.copies.making import bring_back, list_copies
from nevefield.core.errors import WrongCopy
from nevefield.keeping.outlasting import erase_again, note_erasures, read_noted
from nevefield.store import copies as copy_store
from nevefield.store.audit import insert_audit
from nevefield.store.connection import Database
from nevefield.store.copies import CopyBack, CopyMade
from nevefield.store.errors import StoreError
from nevefield.store.schema import limit_account, migrate

if TYPE_CHECKING:
    from nevefield.copies.making import Place

__all__ = [
    "MARK",
    "CopyBack",
    "Returned",
    "look_at_return",
    "order_return",
    "return_to",
    "work_off_return",
]

LISTED = 60
ALL = 100_000
MARK = "brought-back"  # a file by which whoever keeps the processes running begins them anew


@dataclass(frozen=True)
class Returned:
    """Everything is as it was when a copy was made."""

    before: str  # the database in which what was there before is kept
    again: int  # who had been erased since, and were erased again
    problems: list[str]  # why others were not


def return_to(context: Context, place: Place, name: str, *, by: str = "") -> Returned:
    """Bring a copy back in place of what there is, which is kept beside it.

    Args:
        context: Database and clock.
        place: Where the database and the copies are.
        name: Of the copy.
        by: Who asked for it, for the trail.

    Raises:
        NoSuchCopy, WrongCopy, CopyFailed, StoreError: It cannot be; nothing was altered.
    """
    known: list[CopyMade] = []
    with suppress(StoreError):  # what is there may be what is broken
        note_erasures(context, place.folder)
        with context.database.transaction() as connection:
            made_ones = copy_store.list_made(connection, ALL)
            known = [one for one in made_ones if one.state == "good"]
    made = next((one.at for one in list_copies(place.folder) if one.name == name), None)
    before = bring_back(place, name, context.now())
    owner = Database(place.owner_url)
    migrate(owner)
    if place.owner_url != place.url:
        limit_account(owner, Database(place.url))
    owner.close()
    again, problems = erase_again(context, read_noted(place.folder), made or context.now())
    with context.database.transaction() as connection:
        copy_store.delete_return(connection)
        copy_store.keep_known(connection, known)
        insert_audit(connection, "copy-brought-back", name, None, context.now(), by=by, kept=before)
    return Returned(before, again, problems)


def order_return(context: Context, name: str, account_id: int) -> None:
    """Order that a copy is brought back.

    Raises:
        NoSuchCopy: No good one has that name.
    """
    with context.database.transaction() as connection:
        good = {
            one.file_name for one in copy_store.list_made(connection, LISTED) if one.state == "good"
        }
        if name not in good:
            raise NoSuchCopy(name)
        copy_store.put_return(connection, name, account_id, context.now())
        insert_audit(connection, "copy-back-ordered", name, account_id, context.now())


def look_at_return(context: Context) -> CopyBack | None:
    """Say which copy is being brought back, or could not be; None for none."""
    with context.database.transaction() as connection:
        return copy_store.get_return(connection)


def work_off_return(context: Context, place: Place) -> bool:
    """Bring back what was ordered; what cannot be is said, and nothing was altered.

    Returns:
        Whether something was ordered.
    """
    ordered = look_at_return(context)
    if ordered is None or ordered.said:
        return False
    try:
        return_to(context, place, ordered.file_name, by=ordered.by)
        (place.folder.parent / MARK).write_text(ordered.file_name)
    except (CopyError, StoreError, WrongCopy) as error:
        with context.database.transaction() as connection:
            copy_store.fail_return(connection, str(error))
    return True
