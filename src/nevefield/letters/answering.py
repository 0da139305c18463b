"""Who got a link looks at what is kept of them, and says whether it is right: once, by nothing but
the link, and what only they know where that is asked.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.accounts.signing import digest_of
from nevefield.core.columns.days import say_day
from nevefield.core.columns.titles import name_openly
from nevefield.core.mailing.asking import MOST_TRIES, Asks, is_proof, open_fields, read_answer
from nevefield.letters.errors import (
    BeingSent,
    LettersError,
    LinkOver,
    NoLinks,
    NoPasswords,
    NotThem,
    WrongAnswers,
)
from nevefield.letters.passwords import Account, find_account, set_password
from nevefield.letters.writing import may_answer, require_letter
from nevefield.rosters.snapshots import load_codes, load_snapshot
from nevefield.store import letters as store
from nevefield.store.audit import insert_audit
from nevefield.store.rosters import get_roster_by_id

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.store.connection import Connection
    from nevefield.store.letters import Addressee

__all__ = ["Answered", "Own", "give_answer", "look_at_own"]

# that an answer is under way at most: three questions to a system that answers slowly
BUSY = timedelta(minutes=3)


@dataclass(frozen=True)
class Own:
    """What somebody is shown of themselves."""

    title: str  # of the letter
    asks: Asks
    proof: Field | None  # what they have to say first; then nothing else is told
    name: str
    definition: Definition
    fields: list[Field]
    values: dict[str, str]  # by field, as it is kept
    codes: Mapping[str, CodeList]
    account: Account | None = None  # of which they set the password


@dataclass(frozen=True)
class Answered:
    """What somebody sent."""

    corrected: list[str]  # the fields' titles
    password_at: str  # the title of the system at which they set their password; "" for none


@dataclass(frozen=True)
class _Opened:
    addressee: Addressee
    own: Own
    had: dict[str, str]
    roster: str


def look_at_own(context: Context, token: str, proof: str = "") -> Own:
    """Show somebody what is kept of them.

    Args:
        context: Database and clock.
        token: Of their link.
        proof: What only they know.

    Returns:
        What is kept of them; where they have to say something first and have not, only what.

    Raises:
        LinkOver: The link works no more.
        NotThem: What they said is not what is kept.
    """
    opened, refused = _open(context, token, proof)
    if refused is not None:
        raise refused
    own = opened.own
    if own.proof is not None and not proof.strip():
        return own
    with context.database.transaction() as connection:
        return replace(own, account=_account(connection, opened))


def give_answer(
    context: Context, token: str, proof: str, said: Mapping[str, str], password: str = ""
) -> Answered:
    """Keep what somebody says of themselves; the link works no more after.

    Args:
        context: Database and clock.
        token: Of their link.
        proof: What only they know.
        said: By field what they say; what is left out is right.
        password: That they set, where they are asked to.

    Raises:
        LinkOver: The link works no more.
        NotThem: What they said is not what is kept.
        WrongAnswers: A value cannot be; nothing is kept.
        NoPasswords, NoAccountYet, PasswordRefused, PasswordWaits: The password cannot be set;
            nothing is kept, and the link works still.
        BeingSent: They are sending by another window.
    """
    # on its own: a try that failed is counted, whatever becomes of the request
    _, refused = _open(context, token, proof)
    if refused is not None:
        raise refused
    with context.database.transaction() as connection:
        opened = _find(context, connection, token)
        own, today = opened.own, context.today()
        if not _is_they(opened, proof, today):
            raise NotThem(MOST_TRIES - opened.addressee.tries)
        corrected, problems = read_answer(own.fields, said, opened.had, own.codes, today)
        if problems:
            titles = {one.name: one.title for one in own.fields}
            raise WrongAnswers(problems, titles)
        account = _account(connection, opened)
        if account is None:
            return _keep(context, connection, opened, corrected)
        now = context.now()
        if not store.begin_answer(connection, opened.addressee.id, now, now + BUSY):
            raise BeingSent
    # somebody else's system is asked with nothing locked here
    try:
        set_password(context, account, password, own.name, *opened.had.values())
    except LettersError:
        with context.database.transaction() as connection:
            store.break_off_answer(connection, opened.addressee.id)
        raise
    with context.database.transaction() as connection:
        return _keep(context, connection, opened, corrected, account)


def _account(connection: Connection, opened: _Opened) -> Account | None:
    """Find the account of which they set the password; None for none, where they are asked more.

    Raises:
        NoPasswords: Nobody sets one there any more, and there is nothing else to do.
        NoAccountYet: They have none.
    """
    own = opened.own
    if not own.asks.password_at:
        return None
    try:
        return find_account(
            connection,
            own.asks.password_at,
            opened.roster,
            own.definition,
            opened.addressee.record_id,
        )
    except NoPasswords:
        if not own.fields:
            raise
        return None


def _keep(
    context: Context,
    connection: Connection,
    opened: _Opened,
    corrected: Mapping[str, str],
    account: Account | None = None,
) -> Answered:
    """Keep what somebody answered, that they set their password too."""
    own, addressee = opened.own, opened.addressee
    answer = "corrected" if corrected else "confirmed" if own.asks.fields else "set"
    store.answer(connection, addressee.id, answer, corrected, context.now())
    insert_audit(
        connection,
        "letter-answered",
        own.title,
        None,
        context.now(),
        letter=addressee.batch_id,
        record=addressee.record_id,
        fields=sorted(corrected),
        password_at=account.at.name if account else "",
    )
    return Answered(
        [one.title for one in own.fields if one.name in corrected],
        account.at.title if account else "",
    )


def _open(context: Context, token: str, proof: str) -> tuple[_Opened, LinkOver | NotThem | None]:
    """Open a link, and see whether it is they; a try that fails is counted."""
    with context.database.transaction() as connection:
        opened = _find(context, connection, token)
        own, addressee = opened.own, opened.addressee
        if own.proof is not None:
            if not proof.strip():
                return replace(opened, own=_nothing(own), had={}), None
            if not _is_they(opened, proof, context.today()):
                store.count_try(connection, addressee.id)
                insert_audit(
                    connection,
                    "letter-not-them",
                    own.title,
                    None,
                    context.now(),
                    letter=addressee.batch_id,
                    record=addressee.record_id,
                )
                return opened, NotThem(max(0, MOST_TRIES - addressee.tries - 1))
        if addressee.seen_at is None:
            store.set_seen(connection, addressee.id, context.now())
            insert_audit(
                connection,
                "letter-seen",
                own.title,
                None,
                context.now(),
                letter=addressee.batch_id,
                record=addressee.record_id,
            )
    return opened, None


def _is_they(opened: _Opened, proof: str, today: date) -> bool:
    """Tell whether somebody said what only they know, or need not."""
    own = opened.own
    if own.proof is None:
        return True
    return is_proof(own.proof, proof, opened.had[own.proof.name], own.codes, today)


def _nothing(own: Own) -> Own:
    """Tell nothing but what has to be said first."""
    return Own(own.title, own.asks, own.proof, "", own.definition, [], {}, own.codes)


def _find(context: Context, connection: Connection, token: str) -> _Opened:
    """Find whose a link is, and what is kept of them.

    Raises:
        LinkOver: It works no more.
    """
    addressee = store.find_link(connection, digest_of(token))
    if addressee is None:
        raise LinkOver(
            "This link is not known here. Perhaps it was cut off: copy all of it from the letter."
        )
    letter = require_letter(connection, addressee.batch_id)
    if addressee.answered_at is not None:
        day = say_day(context.local(addressee.answered_at).date())
        corrections = f"sent {len(addressee.fields)} correction{'s' * (len(addressee.fields) != 1)}"
        did = {"confirmed": "said that all is right", "set": "set your password"}
        said = did.get(addressee.answer, corrections)
        raise LinkOver(f"You have answered: on {day} you {said}. Nothing is left to do.")
    if addressee.tries >= MOST_TRIES:
        raise LinkOver("This link works no more: ask the office for another.")
    try:
        asks = may_answer(letter, context.today())
    except NoLinks as error:
        raise LinkOver(f"{error} Ask the office if something is not right.") from error
    roster = get_roster_by_id(connection, letter.roster_id)
    snapshot = load_snapshot(connection, roster) if roster else None
    places = [] if snapshot is None else (snapshot.ids == addressee.record_id).nonzero()[0]
    if snapshot is None or not len(places):
        raise LinkOver("This link works no more: you are not in the roster any longer.")
    definition, place = snapshot.definition, int(places[0])
    had = {one.name: snapshot.columns[one.name].at(place) or "" for one in definition.fields}
    fields = open_fields(asks, definition)
    own = Own(
        letter.title,
        asks,
        definition.by_name.get(asks.proof),
        name_openly(definition, had.get),
        definition,
        fields,
        {one.name: had[one.name] for one in fields},
        load_codes(connection),
    )
    return _Opened(addressee, own, had, roster.name if roster else "")
