"""What a machine watches: the queue, copies, the trail's seals, errors, how much there is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.store import measures as store
from nevefield.store.schema import pending

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["Measures", "measure", "not_ready"]


@dataclass(frozen=True)
class Measures:
    """Numbers of this moment; ages in seconds."""

    jobs: dict[tuple[str, str], int]  # by kind and state
    records: dict[str, int]  # by roster
    ages: dict[str, float]  # oldest_job, last_copy, last_seal
    unforeseen: int


def measure(context: Context) -> Measures:
    """Take the numbers of this moment."""
    with context.database.transaction() as connection:
        return Measures(
            store.count_jobs(connection),
            store.count_records(connection),
            store.find_ages(connection, context.now()),
            store.sum_unforeseen(connection),
        )


def not_ready(context: Context) -> str:
    """Say why nobody can work yet; "" when they can.

    Raises:
        DatabaseGone, OtherVersion: The database does not answer, or is of another version.
    """
    with context.database.transaction() as connection:
        waiting = pending(connection)
    if not waiting:
        return ""
    some = "1 migration" if len(waiting) == 1 else f"{len(waiting)} migrations"
    return f"The database waits for {some}; ./start brings it on."
