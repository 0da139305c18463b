"""Hand over what waits: each mail once, whatever breaks.

A mail is said to be handed over before it is, and to be gone after the server took it. What was
broken off between the two nobody knows (RFC 1047): it does not go again by itself, and is said.
"""

from __future__ import annotations

import threading
import time
import uuid
from contextlib import suppress
from datetime import UTC, timedelta
from typing import TYPE_CHECKING

import structlog
from cryptography.fernet import InvalidToken

from nevefield.context import Contended, DatabaseGone
from nevefield.core.mailing.message import Outbound, write_message
from nevefield.mailing.errors import NoSecrets
from nevefield.mailing.serving import KEPT, open_server
from nevefield.posting.errors import Later, Never, PostError, ServerAway, ServerDenies, Unclear
from nevefield.posting.line import Line
from nevefield.store import mails as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context
    from nevefield.mailing.serving import MailServer
    from nevefield.posting.line import Server

__all__ = ["keep_sending", "send_due"]

AT_ONCE = 20  # mails over one line
LEASE = timedelta(minutes=5)
FIRST_WAIT, LONGEST_WAIT = 20.0, 3_600.0  # seconds
LONGEST = timedelta(days=3)  # for which a mail is tried (RFC 5321, 4.5.4.1 has four to five)
PAUSE_SECONDS = 2.0
SEALED = ("link", "asking")  # kinds of mails whose text is kept encrypted: a link stands in it
OTHER_KEY = "its text was encrypted under another key"
INSISTED, BETWEEN_SECONDS = 240, 0.5
_log = structlog.get_logger()


def keep_sending(context: Context, stop: threading.Event) -> None:
    """Send what is due until it is time to stop; a server that is slow holds nobody else up."""
    while not stop.wait(PAUSE_SECONDS):
        try:
            while not stop.is_set() and send_due(context, stopped=stop.is_set):
                pass
        except (DatabaseGone, Contended) as error:
            _log.warning("mail", problem=str(error))
        except Exception:  # it is tried again; what was being handed over is said to be unclear
            _log.exception("mail")


def send_due(
    context: Context,
    dial: Callable[[Server], Line] = Line,
    stopped: Callable[[], bool] = lambda: False,
) -> int:
    """Send a few of the mails that are due.

    Args:
        context: Database and clock.
        dial: Opens a line to the server.
        stopped: Tells whether it is time to stop: then what was not handed over waits.

    Returns:
        How many were handed over or refused: where any were, more may be due.
    """
    if context.settings.practice:
        return 0
    now, worker = context.now(), uuid.uuid4().hex
    with context.database.transaction() as connection:
        row = store.get_server(connection)
        if row is None:
            return 0
        store.end_overdue(connection, now)
        if now.minute == 0:
            store.forget_old(connection, now - KEPT)
        if not row.is_on or (row.next_at is not None and row.next_at > now):
            return 0
        mail_server = row.document
        left = int(mail_server.get("per_minute", 60)) - store.count_recent(
            connection, now - timedelta(minutes=1)
        )
        mails = store.claim(connection, worker, now, now + LEASE, max(0, min(AT_ONCE, left)))
    if not mails:
        return 0
    done = 0
    try:
        found, server = open_server(context, row)
        with dial(server) as line:
            for mail in mails:
                if stopped():
                    break
                _hand(context, found, line, mail, worker)
                done += 1
        _all_is_well(context, row)
        return done
    except (ServerAway, ServerDenies, NoSecrets) as error:
        _wait(context, row, str(error))
        return 0
    finally:
        if done < len(mails):
            _let_go(context, worker)


def _hand(context: Context, server: MailServer, line: Line, mail: store.Mail, worker: str) -> None:
    """Hand one mail over, and keep what became of it."""
    begun = False

    def about_to() -> None:
        nonlocal begun
        now = context.now()
        with context.database.transaction() as connection:
            if not store.begin_handing(connection, mail.id, worker, now + LEASE):
                raise _NotOurs
        begun = True

    def later(why: str) -> None:
        if mail.at + LONGEST < context.now():
            _keep(context, mail, worker, "refused", f"given up: {why}")
        else:
            _put_back(context, mail, worker, why, _pause(mail.tries))

    try:
        message = _write(context, mail, server)
        answer = line.hand(server.address, mail.recipient, message, about_to)
    except _NotOurs:
        raise ServerAway("somebody else sends this mail") from None
    except (DatabaseGone, Contended):
        # it was not handed over, whether that could be kept or not
        _put_back(context, mail, worker, "", timedelta(0))
        raise
    except Unclear as error:
        _keep(context, mail, worker, "unclear", str(error))
        raise ServerAway("the line broke") from error
    except (Never, _NoAddress) as error:
        _keep(context, mail, worker, "refused", str(error))
    except (Later, _Unreadable) as error:
        later(str(error))
    except PostError:
        raise
    except Exception:  # a mistake of ours with this mail holds no other mail up
        if not begun:
            later("it could not be handed over")
        raise
    else:
        _keep(context, mail, worker, "sent", answer)


def _write(context: Context, mail: store.Mail, server: MailServer) -> bytes:
    """Write a mail as it goes.

    Raises:
        _Unreadable: Its text was encrypted under another key.
        _NoAddress: It can be sent to nobody.
    """
    outbound = Outbound(mail.message_id, mail.recipient, mail.subject, _text_of(context, mail))
    try:
        return write_message(outbound, server.sender(), mail.at.replace(tzinfo=UTC))
    except ValueError as error:
        raise _NoAddress(f"no address: {error}") from error


def _text_of(context: Context, mail: store.Mail) -> str:
    """Give the text of a mail; that with a link is kept encrypted.

    Raises:
        _Unreadable: It was encrypted under another key.
    """
    text = mail.body or ""
    if mail.kind not in SEALED:
        return text
    cipher = context.cipher()
    if cipher is None:
        raise _Unreadable(OTHER_KEY)
    try:
        return cipher.decrypt(text.encode()).decode()
    except InvalidToken as error:
        raise _Unreadable(OTHER_KEY) from error


class _Unreadable(PostError):
    """The text of a mail cannot be read: the key may come back, so it waits as one put off does."""


class _NoAddress(PostError):
    """A mail can be sent to nobody."""


class _NotOurs(PostError):
    """Somebody else has the mail by now."""


def _keep(context: Context, mail: store.Mail, worker: str, state: str, answer: str) -> None:
    """Keep what became of a mail."""
    act = {"sent": "mail-sent", "refused": "mail-refused"}.get(state, "mail-unclear")

    def write() -> None:
        with context.database.transaction() as connection:
            now = context.now()
            store.finish(connection, mail.id, worker, state, answer, now)
            about = {"record": mail.record_id} if mail.record_id else {}
            # whom it was for by number: the trail is not altered when somebody is erased
            insert_audit(connection, act, f"Mail {mail.id}", None, now, **about)

    _insist(write)


def _put_back(
    context: Context, mail: store.Mail, worker: str, answer: str, pause: timedelta
) -> None:
    """Let a mail that was not taken wait again."""

    def write() -> None:
        with context.database.transaction() as connection:
            store.put_off(connection, mail.id, worker, answer, context.now() + pause)

    _insist(write)


def _insist(write: Callable[[], None]) -> None:
    """Keep something although the database is away for a while: what is known of a mail must not be
    lost, or nobody would know whether it went.
    """
    for _ in range(INSISTED):
        try:
            return write()
        except (DatabaseGone, Contended):
            time.sleep(BETWEEN_SECONDS)
    return write()


def _all_is_well(context: Context, row: store.ServerRow) -> None:
    if row.problem or row.tries:
        with context.database.transaction() as connection:
            store.set_server(connection, problem="", tries=0, next_at=None)


def _wait(context: Context, row: store.ServerRow, problem: str) -> None:
    """Leave the server alone for a while, unless another one was set meanwhile."""
    next_at = context.now() + _pause(row.tries)
    with suppress(DatabaseGone, Contended), context.database.transaction() as connection:
        now = store.get_server(connection)
        if now and (now.document, now.password) == (row.document, row.password):
            tries = row.tries + 1
            store.set_server(connection, problem=problem[:500], tries=tries, next_at=next_at)


def _let_go(context: Context, worker: str) -> None:
    """Let what was claimed and not handed over wait again; else it lies until its lease is over."""
    with suppress(DatabaseGone, Contended), context.database.transaction() as connection:
        store.release(connection, worker)


def _pause(tries: int) -> timedelta:
    return timedelta(seconds=min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(tries, 12)))
