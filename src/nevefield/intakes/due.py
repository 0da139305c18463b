"""Say by which day a file has to be in its roster: what is due first stands first on the desk."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.intakes.errors import NoSuchIntake
from nevefield.store import intakes as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from datetime import date

    from nevefield.context import Context

__all__ = ["set_due"]


def set_due(context: Context, intake_id: int, day: date | None, account_id: int | None) -> None:
    """Say by which day an intake is due; None for none.

    Raises:
        NoSuchIntake: There is none.
    """
    with context.database.transaction() as connection:
        store.lock_intake(connection, intake_id)
        intake = store.get_intake(connection, intake_id)
        if intake is None:
            raise NoSuchIntake(intake_id)
        if intake.due == day:
            return
        store.set_due(connection, intake_id, day)
        insert_audit(
            connection,
            "intake-due",
            intake.title,
            account_id,
            context.now(),
            intake=intake_id,
            day=day.isoformat() if day else "",
        )
