"""Do several things at once, on as many threads as there are processors for: most of the work
lets go of the interpreter.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import TYPE_CHECKING, TypeVar

import pyarrow as pa

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

__all__ = ["at_once", "both"]

One = TypeVar("One")
Other = TypeVar("Other")


def both(one: Callable[[], One], other: Callable[[], Other]) -> tuple[One, Other]:
    """Do two things at once; when both fail, the first one's error is raised."""
    with ThreadPoolExecutor(1) as pool:
        second = pool.submit(other)
        first = one()
        return first, second.result()


def at_once(tasks: Sequence[Callable[[], One]]) -> list[One]:
    """Do tasks that do not rest on each other; the answers are in their order."""
    threads = min(pa.cpu_count(), 4, len(tasks))
    if threads < 2:
        return [task() for task in tasks]
    with ThreadPoolExecutor(threads) as pool:
        return list(pool.map(lambda task: task(), tasks))
