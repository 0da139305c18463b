"""Note in the trail what somebody took out of the product."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["note_given"]


def note_given(context: Context, event: str, subject: str, account_id: int, **details: Any) -> None:
    """Note that a file was given out; nothing of what stands in it.

    Args:
        context: Database and clock.
        event: A word of the trail: exported, error-sheet.
        subject: What it is a file of, as people call it.
        account_id: To whom.
        details: What else may be known of it: how many, in which format.
    """
    with context.database.transaction() as connection:
        insert_audit(connection, event, subject, account_id, context.now(), **details)
