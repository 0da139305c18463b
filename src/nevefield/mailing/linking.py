"""A link by which somebody chooses a password, sent by mail: encrypted until it goes, and not kept
after.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.accounts.people import find_account, make_link
from nevefield.core.columns.days import say_day
from nevefield.core.mailing.message import read_address
from nevefield.mailing.errors import NoSecrets, WrongServer
from nevefield.mailing.serving import make_id, require_server
from nevefield.store import mails as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.accounts import Account

__all__ = ["mail_link"]


def mail_link(context: Context, account_id: int, address: str, origin: str, by: Account) -> None:
    """Make another link for somebody, and queue a mail with it; earlier ones count no more.

    Args:
        context: Database and clock.
        account_id: For whom.
        address: Where it goes.
        origin: Under which the product answers, as whoever asks sees it.
        by: Who.

    Raises:
        NoSuchAccount, WrongAccount: There is nobody who could use it.
        WrongServer: The address is none.
        MailStays, NoServer: Nothing is mailed.
        NoSecrets: The installation has no key for secrets.
    """
    try:
        to = read_address(address)
    except ValueError as error:
        raise WrongServer("", f"“{address}” is no mail address.") from error
    cipher = context.cipher()
    if cipher is None:
        raise NoSecrets
    with context.database.transaction() as connection:
        server = require_server(context, connection)
    account = find_account(context, account_id)
    made = make_link(context, account_id, by)
    until = say_day(context.local(made.expires_at).date())
    text = (
        f"Dear {account.name},\n\nwith this link you choose your password at Nevefield, where you"
        f" sign in as {account.sign_in}:\n\n{origin.rstrip('/')}/join#{made.token}\n\nIt works"
        f" once, until {until}. If you did not expect it, leave it: nothing happens then."
    )
    sealed = cipher.encrypt(text.encode()).decode()
    subject = "Your password at Nevefield"
    now = context.now()
    with context.database.transaction() as connection:
        mail = store.NewMail("link", to, subject, sealed, make_id(server))
        store.insert_mails(connection, [mail], by.id, now)
        insert_audit(connection, "mail-link", account.sign_in, by.id, now)
