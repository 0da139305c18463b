"""The audit trail."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = ["insert_audit"]


def insert_audit(
    connection: Connection,
    act: str,
    subject: str,
    account_id: int | None,
    at: datetime,
    **detail: Any,
) -> None:
    """Note who did what to what; never a value of a record, and never a secret."""
    connection.run(
        "INSERT INTO audit (at, account_id, act, subject, detail) VALUES (%s, %s, %s, %s, %s)",
        (at, account_id, act, subject[:120], json.dumps(detail, ensure_ascii=False)),
    )
