"""The practice copy is ordered by a click, made beside all that people do, and thrown away."""

from __future__ import annotations

import socket
import time
from contextlib import suppress
from dataclasses import replace
from random import SystemRandom
from typing import TYPE_CHECKING

from nevefield.context import Context, do_again
from nevefield.core.errors import CoreError
from nevefield.practising.errors import NoPlace, UnderWay
from nevefield.practising.making import make_practice
from nevefield.rosters.errors import RosterError
from nevefield.setup.unforeseen import note
from nevefield.store import practice as store
from nevefield.store.audit import insert_audit
from nevefield.store.connection import Database
from nevefield.store.errors import StoreError

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.practice import PracticeCopy

__all__ = [
    "answers",
    "break_off_practice",
    "look_at_practice",
    "made_at",
    "order_practice",
    "place_of",
    "throw_practice_away",
    "work_off_practice",
]

PROBE_SECONDS = 0.3
AWAY = (1.0, 4.0, 15.0, 60.0)  # seconds for which the database may be away
SAID_EACH = 0.3  # seconds between two words of progress
UNFORESEEN = "Something went wrong that we did not foresee; it stands in the log as"
BROKEN_OFF = "It was broken off before it was done; the one before stayed. Order it again."


def place_of(context: Context) -> Context:
    """Give the context of the practice copy.

    Raises:
        NoPlace: There is no database for one, or this is one.
    """
    if context.settings.practice:
        raise NoPlace("This is the practice copy; it is made and renewed in the real one.")
    if not context.settings.practice_url:
        raise NoPlace(
            "There is no place for a practice copy: with a database of your own, make a second,"
            " empty one for it and name it in NEVEFIELD_PRACTICE_URL."
        )
    url = context.settings.practice_url
    settings = replace(context.settings, database_url=url, practice=True)
    return replace(context, database=Database(url), settings=settings)


def look_at_practice(context: Context) -> PracticeCopy | None:
    """Say how the practice copy stands; None where nobody ever ordered one."""
    with context.database.transaction() as connection:
        return store.get_practice(connection)


def order_practice(context: Context, account_id: int | None) -> None:
    """Order the practice copy, made or renewed; one order at a time is enough.

    Raises:
        NoPlace: There is no database for one, or this is one.
    """
    place_of(context)
    with context.database.transaction() as connection:
        now = store.get_practice(connection)
        if now is not None and now.state in ("ordered", "making"):
            return
        store.order_practice(connection, account_id, context.now())
        insert_audit(connection, "practice-ordered", "", account_id, context.now())


def throw_practice_away(context: Context, account_id: int | None) -> None:
    """Throw the practice copy away, with all that was done in it.

    Raises:
        NoPlace: There is no database for one, or this is one.
        UnderWay: It is being made.
    """
    practice = place_of(context)
    with context.database.transaction() as connection:
        now = store.get_practice(connection)
        if now is None or now.state in ("ordered", "making"):
            raise UnderWay
        store.set_thrown_away(connection)
        insert_audit(connection, "practice-thrown-away", "", account_id, context.now())
    with practice.database.transaction() as connection:
        if store.has_tables(connection):
            store.clear_all(connection)
    practice.database.close()


def made_at(context: Context) -> datetime | None:
    """Tell when the practice copy that is there was made; None where none is, whatever is noted:
    its database may have gone.
    """
    if not context.settings.practice_url or context.settings.practice:
        return None
    now = look_at_practice(context)
    if now is None or now.made_at is None:
        return None
    practice = place_of(context)
    try:
        with practice.database.transaction() as connection:
            is_there = store.has_tables(connection)
    finally:
        practice.database.close()
    if not is_there:
        with context.database.transaction() as connection:
            store.set_thrown_away(connection)
    return now.made_at if is_there else None


def answers(context: Context) -> bool:
    """Tell whether the practice copy answers: it takes some seconds after it was made."""
    try:
        where = ("127.0.0.1", context.settings.practice_port)
        socket.create_connection(where, PROBE_SECONDS).close()
    except OSError:
        return False
    return True


def work_off_practice(context: Context) -> bool:
    """Make what is ordered.

    Returns:
        Whether something was.
    """
    if not context.settings.practice_url or context.settings.practice:
        return False
    with context.database.transaction() as connection:
        if not store.start_practice(connection):
            return False
    said = [0.0]
    own = Database(context.settings.database_url)

    def progress(doing: str, done: int, total: int) -> None:
        if time.monotonic() - said[0] < SAID_EACH:
            return
        said[0] = time.monotonic()
        # the work does not stand or fall by it
        with suppress(StoreError), own.transaction() as connection:
            store.set_progress(connection, doing, done, total)

    practice = place_of(context)
    try:
        contents = make_practice(context, practice, SystemRandom(), progress)
    except (CoreError, RosterError, StoreError) as error:
        _fail(context, str(error))
        return True
    except Exception as error:
        _fail(context, f"{UNFORESEEN} {note(context, 'practice copy', error)}.")
        return True
    finally:
        own.close()
        practice.database.close()
    with context.database.transaction() as connection:
        store.set_ready(connection, contents, context.now())
    return True


def _fail(context: Context, said: str) -> None:
    """Say why it failed; where the database itself went away, when it answers again: else it would
    be under way for ever.
    """
    do_again(
        lambda: context.database.again(lambda connection: store.fail_practice(connection, said)),
        pauses=AWAY,
    )


def break_off_practice(context: Context) -> None:
    """Say of what somebody was making, who is there no more, that it came to nothing."""
    with context.database.transaction() as connection:
        now = store.get_practice(connection)
        if now is not None and now.state == "making":
            store.fail_practice(connection, BROKEN_OFF)
