"""Mails that wait, went or came to nothing; the mail server."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "Mail",
    "NewBatch",
    "NewMail",
    "ServerRow",
    "begin_handing",
    "claim",
    "count_recent",
    "count_states",
    "drop_waiting",
    "end_overdue",
    "finish",
    "forget_mails",
    "forget_old",
    "get_batch",
    "get_server",
    "insert_batch",
    "insert_mails",
    "list_mails",
    "lock_mail",
    "note_late",
    "note_returned",
    "put_off",
    "put_server",
    "release",
    "set_server",
    "try_again",
]

BATCH = 500


@dataclass(frozen=True)
class ServerRow:
    """The mail server, as it is kept."""

    document: Mapping[str, Any]
    password: bytes | None
    is_on: bool
    problem: str
    tries: int
    next_at: datetime | None


@dataclass(frozen=True)
class NewMail:
    """A mail that is to go."""

    kind: str
    recipient: str
    subject: str
    body: str
    message_id: str
    record_id: int | None = None


@dataclass(frozen=True)
class NewBatch:
    """What is written to several."""

    once: str  # made by whoever sends: the same is not queued twice
    title: str
    roster_id: int
    template: Mapping[str, str]
    account_id: int | None
    at: datetime
    field: str  # that has their addresses
    asks: Mapping[str, Any] | None = None
    reminds: int | None = None  # the letter of which it reminds


@dataclass(frozen=True)
class Mail:
    """A mail."""

    id: int
    kind: str
    record_id: int | None
    recipient: str
    subject: str
    body: str | None
    message_id: str
    state: str
    tries: int
    next_at: datetime
    answer: str
    by: str
    at: datetime
    done_at: datetime | None


_COLUMNS = (
    "m.id, m.kind, m.record_id, m.recipient, m.subject, m.body, m.message_id, m.state, m.tries,"
    " m.next_at, m.answer, COALESCE(a.name, ''), m.at, m.done_at"
)


def get_server(connection: Connection) -> ServerRow | None:
    """Give the mail server; None where none was ever said."""
    row = connection.row(
        "SELECT document, password, is_on, problem, tries, next_at FROM mail_server WHERE id = 1"
    )
    if row is None:
        return None
    return ServerRow(json.loads(row[0]), row[1], bool(row[2]), row[3], row[4], row[5])


def put_server(connection: Connection, document: Mapping[str, Any], password: bytes | None) -> None:
    """Keep the mail server; what waits is tried with it at once."""
    connection.run(
        "INSERT INTO mail_server (id, document, password) VALUES (1, %s, %s)"
        " ON DUPLICATE KEY UPDATE document = VALUES(document), password = VALUES(password),"
        " problem = '', tries = 0, next_at = NULL",
        (json.dumps(document, ensure_ascii=False), password),
    )


def set_server(connection: Connection, **values: Any) -> None:
    """Keep how the mail server does."""
    names = ", ".join(f"{name} = %s" for name in values)
    connection.run(f"UPDATE mail_server SET {names} WHERE id = 1", (*values.values(),))  # noqa: S608


def get_batch(connection: Connection, once: str) -> tuple[int, int] | None:
    """Find what was queued under a name: its number (of a reminder, that of the letter), and how
    many mails it has.
    """
    row = connection.row(
        "SELECT COALESCE(b.reminds, b.id),"
        " (SELECT COUNT(*) FROM mail m WHERE m.batch_id = b.id) FROM mail_batch b"
        " WHERE b.once = %s",
        (once,),
    )
    return (int(row[0]), int(row[1])) if row else None


def insert_batch(connection: Connection, new: NewBatch) -> int:
    """Keep what is written to several.

    Raises:
        KeyTaken: It was queued under this name before.
    """
    return connection.insert(
        "INSERT INTO mail_batch (once, title, roster_id, template, account_id, at, field, asks,"
        " reminds) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            new.once,
            new.title[:200],
            new.roster_id,
            json.dumps(new.template, ensure_ascii=False),
            new.account_id,
            new.at,
            new.field,
            json.dumps(new.asks, ensure_ascii=False) if new.asks else None,
            new.reminds,
        ),
    )


def insert_mails(
    connection: Connection,
    mails: Sequence[NewMail],
    account_id: int | None,
    at: datetime,
    batch_id: int | None = None,
) -> None:
    """Queue mails."""
    for first in range(0, len(mails), BATCH):
        connection.run_many(
            "INSERT INTO mail (kind, batch_id, record_id, recipient, subject, body, message_id,"
            " next_at, account_id, at) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [
                (
                    one.kind,
                    batch_id,
                    one.record_id,
                    one.recipient,
                    one.subject[:300],
                    one.body,
                    one.message_id,
                    at,
                    account_id,
                    at,
                )
                for one in mails[first : first + BATCH]
            ],
        )


def claim(
    connection: Connection, worker: str, at: datetime, until: datetime, limit: int
) -> list[Mail]:
    """Take some mails that are due for one worker, the oldest first."""
    connection.run(
        "UPDATE mail SET worker = %s, lease_until = %s WHERE state = 'waiting' AND next_at <= %s"
        " AND (lease_until IS NULL OR lease_until < %s) ORDER BY id LIMIT %s",
        (worker, until, at, at, limit),
    )
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM mail m LEFT JOIN account a ON a.id = m.account_id"  # noqa: S608
        " WHERE m.worker = %s AND m.state = 'waiting' AND m.lease_until = %s ORDER BY m.id",
        (worker, until),
    )
    return [Mail(*row) for row in rows]


def begin_handing(connection: Connection, number: int, worker: str, until: datetime) -> bool:
    """Keep that a mail is about to be handed over; False when it is not this worker's any more."""
    return bool(
        connection.run(
            "UPDATE mail SET state = 'handing', tries = tries + 1, lease_until = %s"
            " WHERE id = %s AND worker = %s AND state = 'waiting'",
            (until, number, worker),
        )
    )


def finish(
    connection: Connection, number: int, worker: str, state: str, answer: str, at: datetime
) -> None:
    """Keep what became of a mail; the text of one that went is not kept, nor is a link."""
    connection.run(
        "UPDATE mail SET state = %s, answer = %s, done_at = %s, lease_until = NULL, worker = '',"
        " body = IF(%s = 'sent' OR kind = 'link', NULL, body) WHERE id = %s AND worker = %s",
        (state, answer[:300], at, state, number, worker),
    )


def lock_mail(connection: Connection, message_id: str) -> Mail | None:
    """Find a mail by the number of its message, and hold others off it; None for none of ours."""
    row = connection.row(
        f"SELECT {_COLUMNS} FROM mail m LEFT JOIN account a ON a.id = m.account_id"  # noqa: S608
        " WHERE m.message_id = %s FOR UPDATE",
        (message_id,),
    )
    return Mail(*row) if row else None


def note_returned(connection: Connection, number: int, answer: str, at: datetime) -> None:
    """Keep that a mail which went came back; its text is not kept."""
    connection.run(
        "UPDATE mail SET state = 'refused', answer = %s, done_at = %s, body = NULL WHERE id = %s",
        (answer[:300], at, number),
    )


def note_late(connection: Connection, number: int, answer: str) -> None:
    """Keep that a mail which went is not there yet."""
    connection.run("UPDATE mail SET answer = %s WHERE id = %s", (answer[:300], number))


def put_off(
    connection: Connection, number: int, worker: str, answer: str, next_at: datetime
) -> None:
    """Let a mail that was not taken wait until a moment."""
    connection.run(
        "UPDATE mail SET tries = tries + IF(state = 'waiting' AND %s <> '', 1, 0),"
        " state = 'waiting', answer = %s, next_at = %s, lease_until = NULL, worker = ''"
        " WHERE id = %s AND worker = %s",
        (answer, answer[:300], next_at, number, worker),
    )


def drop_waiting(connection: Connection, batch_id: int, at: datetime) -> int:
    """Drop what waits of a letter and of what reminds of it; return how many."""
    return connection.run(
        "UPDATE mail SET state = 'dropped', done_at = %s WHERE state = 'waiting' AND"
        " (lease_until IS NULL OR lease_until < %s) AND batch_id IN"
        " (SELECT id FROM mail_batch WHERE id = %s OR reminds = %s)",
        (at, at, batch_id, batch_id),
    )


def release(connection: Connection, worker: str) -> None:
    """Let what a worker claimed and did not hand over wait again."""
    connection.run(
        "UPDATE mail SET worker = '', lease_until = NULL WHERE worker = %s AND state = 'waiting'",
        (worker,),
    )


def end_overdue(connection: Connection, at: datetime) -> int:
    """Say of mails that somebody was handing over and never said what became of them that nobody
    knows; return how many.
    """
    return connection.run(
        "UPDATE mail SET state = 'unclear', done_at = %s, lease_until = NULL,"
        " answer = 'broken off while it was handed over'"
        " WHERE state = 'handing' AND lease_until < %s",
        (at, at),
    )


def count_recent(connection: Connection, since: datetime) -> int:
    """Count the mails that went since a moment."""
    row = connection.row(
        "SELECT COUNT(*) FROM mail WHERE state = 'sent' AND done_at >= %s", (since,)
    )
    return int(row[0]) if row else 0


def count_states(connection: Connection) -> dict[str, int]:
    """Count the mails by what became of them."""
    return {
        str(state): int(count)
        for state, count in connection.rows("SELECT state, COUNT(*) FROM mail GROUP BY state")
    }


def list_mails(
    connection: Connection, states: Collection[str], start: int, limit: int
) -> list[Mail]:
    """List mails, the last first."""
    some = ", ".join(["%s"] * len(states))
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM mail m LEFT JOIN account a ON a.id = m.account_id"  # noqa: S608
        f" WHERE m.state IN ({some}) ORDER BY m.id DESC LIMIT %s OFFSET %s",
        (*states, limit, start),
    )
    return [Mail(*row) for row in rows]


def try_again(connection: Connection, numbers: Collection[int], state: str, at: datetime) -> int:
    """Let mails that came to nothing wait again, or drop those that wait; return how many."""
    if not numbers:
        return 0
    some = ", ".join(["%s"] * len(numbers))
    known = ("refused", "unclear", "dropped") if state == "waiting" else ("waiting",)
    return connection.run(
        "UPDATE mail SET state = %s, next_at = %s, done_at = IF(%s = 'waiting', NULL, %s),"  # noqa: S608
        f" tries = 0, worker = '' WHERE id IN ({some}) AND body IS NOT NULL"
        f" AND state IN ({', '.join(['%s'] * len(known))})"
        " AND (lease_until IS NULL OR lease_until < %s)",
        (state, at, state, at, *numbers, *known, at),
    )


def forget_old(connection: Connection, before: datetime) -> int:
    """Forget the texts of what came to nothing before a moment; return how many."""
    return connection.run(
        "UPDATE mail SET body = NULL WHERE body IS NOT NULL AND state NOT IN ('waiting', 'handing')"
        " AND done_at < %s",
        (before,),
    )


def forget_mails(connection: Connection, record_id: int) -> int:
    """Forget what was written to somebody; what waits does not go."""
    return connection.run(
        "UPDATE mail SET body = NULL, subject = '', recipient = '', answer = '',"
        " state = IF(state IN ('waiting', 'handing'), 'dropped', state) WHERE record_id = %s",
        (record_id,),
    )
