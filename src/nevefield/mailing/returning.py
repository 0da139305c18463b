"""Mails that came back: what mail servers say of them afterwards is kept with each."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.mailing.returned import read_returned
from nevefield.store import mails as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Iterable

    from nevefield.context import Context
    from nevefield.core.mailing.returned import Returned

__all__ = ["CameBack", "take_returned"]


@dataclass
class CameBack:
    """What some messages were about."""

    returned: int = 0  # mails that did not get there
    late: int = 0  # mails that are tried still
    known: int = 0  # of which it was known already
    unknown: int = 0  # reports about mails that are none of ours
    others: int = 0  # messages that are no report


def take_returned(context: Context, messages: Iterable[bytes], account_id: int | None) -> CameBack:
    """Take in messages of mail servers about mails that were not delivered. The same one twice
    comes to the same.
    """
    found = CameBack()
    for data in messages:
        reports = read_returned(data)
        found.others += not reports
        for one in reports:
            _keep(context, one, account_id, found)
    return found


def _keep(context: Context, one: Returned, account_id: int | None, found: CameBack) -> None:
    said = one.words if one.status in one.words else f"{one.status} {one.words}".strip()
    with context.database.transaction() as connection:
        mail = store.lock_mail(connection, one.message_id)
        if mail is None:
            found.unknown += 1
        elif mail.state not in ("sent", "unclear"):
            found.known += 1
        elif one.is_final:
            words = f"it came back: {said}" if said else "it came back"
            store.note_returned(connection, mail.id, words, context.now())
            about = {"record": mail.record_id} if mail.record_id else {}
            insert_audit(
                connection, "mail-returned", f"Mail {mail.id}", account_id, context.now(), **about
            )
            found.returned += 1
        else:
            words = f"late: {said}" if said else "late"
            store.note_late(connection, mail.id, words)
            found.late += 1
