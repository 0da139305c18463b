"""Copies that are ordered by a click or by the clock: made, tried, and the old ones thrown away."""

from __future__ import annotations

import os
import signal
import threading
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING

import structlog

from nevefield.copies.errors import CopyError
from nevefield.copies.making import Place, list_copies, make_copy, outdated, try_copy
from nevefield.core.errors import WrongCopy
from nevefield.store import copies as store
from nevefield.store.audit import insert_audit
from nevefield.store.copies import Became
from nevefield.store.errors import NoPrograms, ProgramFailed, StoreError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from nevefield.context import Context
    from nevefield.store.copies import CopyMade

__all__ = ["is_due", "keep_copying", "list_orders", "order", "work_off"]

LISTED = 60
PAUSE_SECONDS = 2.0
BROKEN_OFF = (
    "It was broken off before it was done, or is the copy that was brought back. Order another one."
)
_log = structlog.get_logger()


def order(context: Context, account_id: int | None) -> int:
    """Order a copy; one that is ordered or under way is enough.

    Returns:
        Its number.
    """
    with context.database.transaction() as connection:
        for one in store.list_made(connection, LISTED):
            if one.state in ("ordered", "making", "trying"):
                return one.id
        if account_id is not None:
            insert_audit(connection, "copy-ordered", "", account_id, context.now())
        return store.insert_order(connection, account_id, context.now())


def list_orders(context: Context) -> list[CopyMade]:
    """List what was ordered, the last first."""
    with context.database.transaction() as connection:
        return store.list_made(connection, LISTED)


def is_due(context: Context) -> bool:
    """Tell whether today's copy was not made yet, and its hour has come where the institution
    is.
    """
    now = context.local(context.now())
    hour = now.replace(hour=context.settings.copy_hour, minute=0, second=0, microsecond=0)
    if now < hour:
        return False
    since = hour.astimezone(UTC).replace(tzinfo=None)
    return not any(
        one.ordered_at >= since and (one.state != "failed" or _is_fresh(context, one))
        for one in list_orders(context)
    )


def _is_fresh(context: Context, one: CopyMade) -> bool:
    """Tell whether a copy failed only lately: it is tried again after an hour."""
    return one.ordered_at > context.now() - timedelta(hours=1)


def work_off(context: Context, place: Place) -> bool:
    """Make the copy that was ordered first, try it, and throw away what is kept no longer.

    Returns:
        Whether one was ordered.
    """
    with context.database.transaction() as connection:
        number = store.next_order(connection)
        if number is None:
            return False
        store.set_state(connection, number, Became("making"))
    made, said = Became("making"), ""
    try:
        name, trailer = make_copy(place, context.now())
        size, rows = (place.folder / name).stat().st_size, sum(trailer.rows.values())
        made = Became("trying", None, name, size, rows)
        _write(context, number, made)
        try_copy(place, name)
        _throw_away(context, place)
    except (CopyError, WrongCopy, NoPrograms, ProgramFailed) as error:
        said = str(error)
        _log.warning("copy", problem=said)
    ended = replace(made, state="failed" if said else "good", at=context.now(), said=said)
    _write(context, number, ended)
    return True


def _write(context: Context, number: int, became: Became) -> None:
    with context.database.transaction() as connection:
        store.set_state(connection, number, became)


def _throw_away(context: Context, place: Place) -> None:
    """Throw away what is kept no longer; only after a new one was tried and is good."""
    settings = context.settings
    for one in outdated(
        list_copies(place.folder),
        context.now(),
        days=settings.copy_days,
        weeks=settings.copy_weeks,
    ):
        (place.folder / one.name).unlink(missing_ok=True)


def keep_copying(
    context: Context, place: Place, others: Sequence[Callable[[Context], bool]] = ()
) -> None:
    """Make what is ordered and what is due until a signal says stop.

    Args:
        context: Database and clock.
        place: Where copies are.
        others: What else is done beside: each tells whether there was something to do.
    """
    stop = threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: stop.set())
    parent = os.getppid()
    looked: datetime | None = None
    with context.database.transaction() as connection:
        store.break_off(connection, context.now(), BROKEN_OFF)
    while not stop.is_set() and os.getppid() == parent:
        try:
            now = context.now()
            if looked is None or now - looked > timedelta(minutes=1):
                looked = now
                if is_due(context):
                    order(context, None)
            if not any([work_off(context, place), *(other(context) for other in others)]):
                stop.wait(PAUSE_SECONDS)
        except StoreError as error:
            _log.warning("database", problem=str(error))
            stop.wait(PAUSE_SECONDS)
