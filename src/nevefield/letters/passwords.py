"""Who got a link sets their own password at a connected system: it goes there at once, and is
neither kept nor logged here.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.accounts.errors import WeakPassword
from nevefield.accounts.passwords import refuse_weak
from nevefield.core.errors import WrongTemplate
from nevefield.core.masking import sensitive_fields
from nevefield.core.passing.destination import ScimWay
from nevefield.destinations.errors import (
    Denied,
    DestinationError,
    Gone,
    Refused,
    Unintelligible,
    Unreachable,
)
from nevefield.letters.errors import NoAccountYet, NoPasswords, PasswordRefused, PasswordWaits
from nevefield.passing_on.errors import NoKey, NoSuchDestination
from nevefield.passing_on.keeping import list_destinations, require_destination
from nevefield.passing_on.ways import make_scim
from nevefield.store import passing as store

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.passing_on.keeping import OpenDestination
    from nevefield.store.connection import Connection

__all__ = [
    "Account",
    "SetsAt",
    "count_without",
    "find_account",
    "list_places",
    "refuse_closed",
    "require_place",
    "set_password",
]


@dataclass(frozen=True)
class SetsAt:
    """A system at which people of a roster may set their password."""

    name: str
    title: str
    least: int  # letters


@dataclass(frozen=True)
class Account:
    """Somebody's account at a system."""

    at: SetsAt
    ref: str  # by which it is known there
    login: str  # as which they sign in there; "" where that is kept, or not told


def list_places(context: Context, roster: str) -> list[SetsAt]:
    """List the systems at which people of a roster may set their password."""
    found = ((one, _least(one, roster)) for one in list_destinations(context))
    return [SetsAt(one.row.name, one.destination.title, least) for one, least in found if least]


def require_place(connection: Connection, name: str, roster: str) -> OpenDestination:
    """Open the destination at which people of a roster set their password.

    Raises:
        WrongTemplate: There is none of the name that may be seen, or they set none there.
    """
    try:
        opened = require_destination(connection, name)
    except NoSuchDestination as error:
        raise WrongTemplate("password", str(error)) from error
    if not _least(opened, roster):
        raise WrongTemplate(
            "password",
            f"people of this roster set none at {opened.destination.title}: allow it there first.",
        )
    return opened


def refuse_closed(context: Context, name: str, roster: str) -> None:
    """See that a system takes passwords, before links go to whom it would refuse; one that does
    not answer now may later.

    Raises:
        WrongTemplate: It says that it takes none.
    """
    with context.database.transaction() as connection:
        opened = require_place(connection, name, roster)
    scim = make_scim(context, opened)
    try:
        takes = scim.takes_passwords()
    except DestinationError:
        takes = True
    finally:
        scim.close()
    if not takes:
        raise WrongTemplate(
            "password", f"cannot be set at {opened.destination.title}: it says that it takes none."
        )


def count_without(connection: Connection, opened: OpenDestination, records: list[int]) -> int:
    """Count who of some has no account there that is switched on."""
    known = store.list_known(connection, opened.row.id, records)
    return len(records) - sum(one.is_there and bool(one.ref) for one in known.values())


def find_account(
    connection: Connection, name: str, roster: str, definition: Definition, record: int
) -> Account:
    """Find somebody's account at the system at which they set their password.

    Raises:
        NoPasswords: Nobody sets one there any more.
        NoAccountYet: They have none, or it is switched off.
    """
    try:
        opened = require_place(connection, name, roster)
    except WrongTemplate as error:
        raise NoPasswords from error
    at = SetsAt(name, opened.destination.title, _least(opened, roster))
    known = store.list_known(connection, opened.row.id, [record]).get(record)
    if known is None or not known.is_there or not known.ref:
        raise NoAccountYet(at.title)
    share = opened.destination.share_of(roster)
    names = [put for put in (share.puts if share else ()) if put.to.casefold() == "username"]
    login = ""
    if names and known.content and not {*names[0].fields()} & sensitive_fields(definition):
        login = known.content.fields.get(names[0].to, "")
    return Account(at, known.ref, login)


def set_password(context: Context, account: Account, password: str, *own: str) -> None:
    """Set somebody's password at a system.

    Args:
        context: Database, clock, and how requests travel.
        account: Whose, where.
        password: As they typed it.
        own: Words that others know of them.

    Raises:
        PasswordRefused: It is guessed soon, or the system refuses it.
        PasswordWaits: The system does not answer, or not as it should.
        NoAccountYet: It does not know them any more.
        NoPasswords: This is the practice copy, which tells nobody anything.
    """
    if context.settings.practice:
        raise NoPasswords
    title = account.at.title
    try:
        refuse_weak(password, account.login, *own, shortest=account.at.least)
    except WeakPassword as error:
        raise PasswordRefused(str(error)) from error
    try:
        with context.database.transaction() as connection:
            scim = make_scim(context, require_destination(connection, account.at.name))
    except NoKey as error:
        raise PasswordWaits(title) from error
    try:
        scim.set_password(account.ref, password)
    except Gone as error:
        raise NoAccountYet(title) from error
    except Refused as error:
        # what they say may hold what was typed
        said = error.problem if password not in error.problem else ""
        raise PasswordRefused(f"{title} does not take it. {said}".strip()) from error
    except (Unreachable, Denied, Unintelligible) as error:
        raise PasswordWaits(title) from error
    finally:
        scim.close()


def _least(opened: OpenDestination, roster: str) -> int:
    """Tell how many letters a password has at least; 0 where people of a roster set none."""
    way = opened.destination.way
    is_told = opened.destination.share_of(roster) is not None
    return way.least_password if isinstance(way, ScimWay) and is_told else 0
