"""Do again what was lost: others were writing the same, or a node of the database went away."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, TypeVar

import structlog

from nevefield.store.errors import Contended, DatabaseGone

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

__all__ = ["PAUSES", "do_again"]

PAUSES = (0.05, 0.2, 0.8)  # seconds before each further try
Result = TypeVar("Result")
_log = structlog.get_logger()


def do_again(
    work: Callable[[], Result],
    *,
    pauses: Sequence[float] = PAUSES,
    may_be: Callable[[], bool] = lambda: True,
) -> Result:
    """Do something, and again when it was lost.

    Args:
        work: What is done; done twice it must come to no more than once.
        pauses: The seconds before each further try.
        may_be: Asked after each loss whether it may be done again.

    Raises:
        Contended, DatabaseGone: It was lost each time, or may not be done again.
    """
    for pause in pauses:
        try:
            return work()
        except (Contended, DatabaseGone) as error:
            if not may_be():
                raise
            _log.warning("again", problem=type(error).__name__)
        time.sleep(pause)
    return work()
