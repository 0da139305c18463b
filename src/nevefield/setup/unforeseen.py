"""Errors that nobody foresaw: written to the log with their trace under a mark, and counted for
administrators.
"""

from __future__ import annotations

import secrets
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import structlog

from nevefield.setup.errors import NoSuchUnforeseen
from nevefield.store import unforeseen as store
from nevefield.store.audit import insert_audit
from nevefield.store.errors import StoreError

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["list_open", "note", "settle"]

PACKAGE = Path(__file__).parents[1]
_log = structlog.get_logger()


def note(context: Context, doing: str, error: BaseException) -> str:
    """Write an error to the log, and count it. Its words go to the log only: they may say what it
    was about.

    Args:
        context: Database and clock.
        doing: What was asked for: method and route, or the kind of a job; without a number or name.
        error: What went wrong.

    Returns:
        The mark under which it stands in the log.
    """
    mark = secrets.token_hex(4)
    source = _source_of(error)
    _log.error("unforeseen", mark=mark, doing=doing, source=source, exc_info=error)
    with suppress(StoreError):  # the database may be what failed: then the log alone has it
        context.database.again(
            lambda connection: store.count_unforeseen(
                connection, doing, type(error).__name__, source, mark, context.now()
            )
        )
    return mark


def _source_of(error: BaseException) -> str:
    """Say in which of our modules and lines it arose; "" when in none."""
    text = ""
    trace = error.__traceback__
    while trace is not None:
        path = Path(trace.tb_frame.f_code.co_filename)
        if path.is_relative_to(PACKAGE):
            text = f"{path.relative_to(PACKAGE).with_suffix('').as_posix().replace('/', '.')}:{trace.tb_lineno}"  # noqa: E501
        trace = trace.tb_next
    return text


def list_open(context: Context) -> list[store.Unforeseen]:
    """List those that nobody settled, the last first."""
    with context.database.transaction() as connection:
        return store.list_unforeseen(connection)


def settle(context: Context, number: int, account_id: int) -> None:
    """Put one aside until it happens again.

    Raises:
        NoSuchUnforeseen: There is none that is not settled.
    """
    with context.database.transaction() as connection:
        if not store.settle_unforeseen(connection, number, context.now()):
            raise NoSuchUnforeseen(number)
        insert_audit(connection, "unforeseen-settled", str(number), account_id, context.now())
