"""Let who asked for work see how far it is, while the request that does it runs."""

from __future__ import annotations

import re
import time
from contextlib import suppress
from typing import TYPE_CHECKING, Any

from nevefield.store.connection import Database
from nevefield.store.errors import StoreError
from nevefield.store.work import delete_work, set_work

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context

__all__ = ["Working"]

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
