"""Where mails are handed over: kept, looked at, tried with a test message."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING, Annotated, Any, Literal

from cryptography.fernet import InvalidToken
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from nevefield.core.mailing.message import Sender, read_address
from nevefield.core.validating import say_wrong
from nevefield.mailing.errors import MailStays, NoSecrets, NoServer, WrongServer
from nevefield.posting.line import Server
from nevefield.store import mails as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.context import Context
    from nevefield.store.connection import Connection

__all__ = [
    "MailServer",
    "Post",
    "decide",
    "keep_server",
    "list_mails",
    "look_at_post",
    "make_id",
    "open_server",
    "queue_test",
    "require_server",
    "switch_post",
]

PAGE = 100
SHOWN: dict[str, tuple[str, ...]] = {
    "": ("waiting", "handing", "sent", "refused", "unclear", "dropped"),
    "waiting": ("waiting", "handing"),
    "sent": ("sent",),
    "refused": ("refused",),
    "unclear": ("unclear",),
    "dropped": ("dropped",),
}
KEPT = timedelta(days=30)  # for how long the text of what came to nothing is kept


class MailServer(BaseModel):
    """The mail server, and who writes."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    host: Annotated[str, Field(pattern=r"^[A-Za-z0-9._:-]{1,255}$")]
    port: Annotated[int, Field(ge=1, le=65_535)] = 587
    security: Literal["starttls", "tls", "none"] = "starttls"
    user: Annotated[str, Field(pattern=r"^[^\r\n]{0,200}$")] = ""
    address: Annotated[str, Field(max_length=254)]  # of who writes
    name: Annotated[str, Field(pattern=r"^[^\r\n]{0,100}$")] = ""
    reply_to: Annotated[str, Field(max_length=254)] = ""
    per_minute: Annotated[int, Field(ge=1, le=10_000)] = 60  # mails at most
    # of a stand-in that catches them: where they are shown
    shown_at: Annotated[str, Field(pattern=r"^(http://127\.0\.0\.1:\d{1,5}/)?$")] = ""

    def sender(self) -> Sender:
        """Give who writes."""
        return Sender(self.address, self.name, self.reply_to)


@dataclass(frozen=True)
class Post:
    """How it is with mails."""

    server: MailServer | None
    has_password: bool
    is_on: bool
    problem: str
    counts: dict[str, int]


def look_at_post(context: Context) -> Post:
    """Tell how it is with mails."""
    with context.database.transaction() as connection:
        row = store.get_server(connection)
        counts = store.count_states(connection)
    if row is None:
        return Post(None, has_password=False, is_on=False, problem="", counts=counts)
    server = MailServer.model_validate(row.document)
    return Post(server, row.password is not None, row.is_on, row.problem, counts)


def keep_server(
    context: Context, document: Any, password: str | None, account_id: int | None
) -> None:
    """Keep where mails are handed over, and who writes.

    Args:
        context: Database and clock.
        document: As `MailServer`.
        password: "" for none; None for the one that is kept.
        account_id: Who.

    Raises:
        WrongServer: Something in it cannot be.
        NoSecrets: The installation has no key for secrets.
        MailStays: This is the practice copy.
    """
    if context.settings.practice:
        raise MailStays
    try:
        server = MailServer.model_validate(document)
    except ValidationError as error:
        raise WrongServer(*say_wrong(error, "a mail server", "")) from error
    for place, text in (("address", server.address), ("reply_to", server.reply_to)):
        if text or place == "address":
            try:
                read_address(text)
            except ValueError as error:
                raise WrongServer(place, f"“{text}” is no mail address.") from error
    sealed: bytes | None = None
    if password:
        cipher = context.cipher()
        if cipher is None:
            raise NoSecrets
        sealed = cipher.encrypt(password.encode())
    with context.database.transaction() as connection:
        before = store.get_server(connection)
        if password is None and before is not None:
            same = before.document.get("host") == server.host
            # a password is told to the host that it was kept for, and to no other
            sealed = before.password if same else None
        store.put_server(connection, server.model_dump(mode="json"), sealed)
        insert_audit(connection, "mail-server", server.host, account_id, context.now())


def switch_post(context: Context, account_id: int | None, *, on: bool) -> None:
    """Let mails go, or wait.

    Raises:
        NoServer: There is none.
    """
    with context.database.transaction() as connection:
        if store.get_server(connection) is None:
            raise NoServer
        store.set_server(connection, is_on=on, problem="", tries=0, next_at=None)
        act = "mail-on" if on else "mail-off"
        insert_audit(connection, act, "Mail", account_id, context.now())


def open_server(context: Context, row: store.ServerRow) -> tuple[MailServer, Server]:
    """Give the mail server, with its password.

    Raises:
        NoSecrets: It was kept under another key.
    """
    found = MailServer.model_validate(row.document)
    password = ""
    if row.password is not None:
        cipher = context.cipher()
        if cipher is None:
            raise NoSecrets
        try:
            password = cipher.decrypt(row.password).decode()
        except InvalidToken as error:
            raise NoSecrets from error
    server = Server(found.host, found.port, found.security, found.user, password)
    return found, server


def require_server(context: Context, connection: Connection) -> MailServer:
    """Give the mail server, where there is one and mails go.

    Raises:
        MailStays: This is the practice copy.
        NoServer: There is none.
    """
    if context.settings.practice:
        raise MailStays
    row = store.get_server(connection)
    if row is None:
        raise NoServer
    return MailServer.model_validate(row.document)


def make_id(server: MailServer) -> str:
    """Make the number of a message, which no other has (RFC 5322, 3.6.4)."""
    return f"{uuid.uuid4().hex}@{server.address.rpartition('@')[2]}"


def queue_test(context: Context, address: str, account_id: int | None) -> None:
    """Queue a test message to an address.

    Raises:
        WrongServer: The address is none.
        MailStays, NoServer: Nothing is mailed.
    """
    try:
        to = read_address(address)
    except ValueError as error:
        raise WrongServer("", f"“{address}” is no mail address.") from error
    now = context.now()
    with context.database.transaction() as connection:
        server = require_server(context, connection)
        body = (
            "This is a test message from Nevefield.\n\nIf you read it, mails arrive: with letters"
            " such as é, ß, Ł, Ω, Ж, 李."
        )
        subject = "A test message: é, ß, Ł, Ω, Ж, 李"
        mail = store.NewMail("test", to, subject, body, make_id(server))
        store.insert_mails(connection, [mail], account_id, now)
        store.set_server(connection, next_at=None)
        insert_audit(connection, "mail-test", to, account_id, now)


def list_mails(context: Context, shown: str, start: int) -> list[store.Mail]:
    """List a page of mails, the last first; "" for all."""
    with context.database.transaction() as connection:
        return store.list_mails(connection, SHOWN[shown], start, PAGE)


def decide(
    context: Context, numbers: Sequence[int], what: Literal["again", "drop"], account_id: int | None
) -> int:
    """Let mails that came to nothing go again, or drop those that wait; return how many."""
    state = "waiting" if what == "again" else "dropped"
    with context.database.transaction() as connection:
        count = store.try_again(connection, numbers, state, context.now())
        if count:
            act = "mail-again" if what == "again" else "mail-dropped"
            insert_audit(connection, act, "Mail", account_id, context.now(), mails=count)
    return count
