"""Let who asked for work see how far it is, while the request that does it runs."""

from __future__ import annotations

import re
import time
from contextlib import suppress
from typing import TYPE_CHECKING, Any

from nevefield.store.connection import Database
from nevefield.store.errors import StoreError
from nevefield.store.jobs import Job, get_job
from nevefield.store.work import delete_work, get_work, set_work

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context

__all__ = ["Job", "Working", "find_job", "how_far"]

PAUSE_SECONDS = 0.2


class Working:
    """Give a function that says how far work is, under a token that whoever asks made up; without
    one it says nothing.

    It writes through a connection of its own, so that others see it before the work commits.
    """

    def __init__(self, context: Context, token: str, account_id: int) -> None:
        self._context = context
        self._token = token if re.fullmatch(r"[0-9a-f]{32}", token) else ""
        self._account_id = account_id
        self._own: Database | None = None
        self._said = 0.0

    def __enter__(self) -> Callable[[str, int, int], None]:
        if self._token:
            self._own = Database(self._context.settings.database_url)
        return self._say

    def _say(self, doing: str, done: int, total: int) -> None:
        if self._own is None or time.monotonic() - self._said < PAUSE_SECONDS:
            return
        self._said = time.monotonic()
        # the work does not stand or fall by it
        with suppress(StoreError), self._own.transaction() as connection:
            set_work(
                connection, self._token, self._account_id, doing, done, total, self._context.now()
            )

    def __exit__(self, *_: Any) -> None:
        if self._own is not None:
            with suppress(StoreError), self._own.transaction() as connection:
                delete_work(connection, self._token, self._account_id)
            self._own.close()


def how_far(context: Context, token: str, account_id: int) -> tuple[str, int, int]:
    """Tell how far work is that an account asked for: what is being done, how much is done, of
    how much; nothing and zeros once it has ended.
    """
    with context.database.transaction() as connection:
        return get_work(connection, token, account_id) or ("", 0, 0)


def find_job(context: Context, job_id: int) -> Job | None:
    """Find a job of a roster that may be seen."""
    with context.database.transaction() as connection:
        return get_job(connection, job_id)
