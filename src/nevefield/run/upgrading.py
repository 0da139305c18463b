"""A newer version alters the database: it says what, and makes a copy of before first."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.copies.making import make_copy
from nevefield.store.schema import known_migrations, pending

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import datetime

    from nevefield.copies.making import Place
    from nevefield.store.connection import Database

__all__ = ["copy_before"]

SHOWN = 5  # of what is altered, in words


def copy_before(
    database: Database, place: Place, at: datetime, say: Callable[[str], None]
) -> str | None:
    """Make a copy where a database that people worked with is to be altered.

    Args:
        database: Through the account that may alter it.
        place: Where it is, and its copies.
        at: Now, in UTC and without a zone.
        say: Hears what is done.

    Returns:
        The copy's name; None where none was needed: nothing is altered, or it is new.

    Raises:
        CopyFailed, NoPrograms, ProgramFailed: It could not be made; nothing was altered.
        OtherVersion: The database is of a newer version.
    """
    with database.transaction() as connection:
        waiting = pending(connection)
    if not waiting or len(waiting) == len(known_migrations()):
        return None
    words = [name.partition("_")[2].removesuffix(".sql").replace("_", " ") for name in waiting]
    more = f" and {len(words) - SHOWN} more" if len(words) > SHOWN else ""
    say(f"This version alters the database: {', '.join(words[:SHOWN])}{more}.")
    say("A copy of before is made first ...")
    name, _ = make_copy(place, at)
    say(f"It is {place.folder / name}; with the older version, it brings the older state back.")
    return name
