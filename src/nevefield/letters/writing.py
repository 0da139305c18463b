"""Write to people of a roster, by mail or on paper: a text with fields, looked at filled before it
goes, queued once. Each may be asked something by a link of their own.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Literal

from nevefield.accounts.signing import digest_of
from nevefield.context import KeyTaken
from nevefield.core.columns.days import say_day
from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.ended import find_ended
from nevefield.core.errors import WrongTemplate
from nevefield.core.mailing.asking import Asks, check_asks
from nevefield.core.mailing.message import read_address
from nevefield.core.mailing.template import (
    Filled,
    Template,
    check_template,
    fields_in,
    fill,
    say_value,
)
from nevefield.core.texts import SEVERAL, near
from nevefield.letters.errors import NobodyThere, NoLinks, NoSuchLetter, OthersNow
from nevefield.letters.passwords import count_without, refuse_closed, require_place
from nevefield.mailing.errors import MailStays, NoSecrets
from nevefield.mailing.serving import make_id, require_server
from nevefield.rosters.snapshots import load_codes, load_snapshot, require_roster
from nevefield.store import letters as letter_store
from nevefield.store import mails as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterator, Sequence
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.letters import LetterRow
    from nevefield.store.rosters import Roster

__all__ = [
    "PATH",
    "Letter",
    "LetterLooked",
    "Paper",
    "Person",
    "Sample",
    "Sent",
    "link_to",
    "look_at_letter",
    "may_answer",
    "require_letter",
    "send_letter",
    "work_out",
]

Paper = Literal["nobody", "the rest", "all"]
SHOWN = 3
NAMED = 10
PATH = "/yours#"  # behind which the token of a link stands: it is in no log of a server
SAMPLE = f"https://…{PATH}…"  # what stands for a link where it is looked at


@dataclass(frozen=True)
class Letter:
    """What is written, to whom of a roster."""

    roster: str
    records: Collection[int]
    field: str  # that has their address; "" for all on paper
    template: Template
    asks: Asks | None = None
    # who gets it on paper: nobody, who has no mail address, or all
    paper: Paper = "nobody"
    reminds: int | None = None  # the letter of which it reminds


@dataclass(frozen=True)
class Sample:
    """A letter as somebody would get it."""

    record: int
    key: str
    name: str
    to: str  # "" on paper
    filled: Filled


@dataclass(frozen=True)
class LetterLooked:
    """What would go, and what would not."""

    mails: int
    papers: int
    without: list[str]  # who has no address, by name; the first few
    without_count: int
    odd: list[str]  # who has none that can be, by name
    odd_count: int
    ended: int  # of those who would get one, how many have ended
    no_account: int  # who has none yet where they are to set their password
    lacking: dict[str, int]  # fields of the text that some have no value of: how many
    samples: list[Sample]


@dataclass(frozen=True)
class Sent:
    """What was queued, and what is to be printed."""

    letter: int
    mails: int
    papers: int


@dataclass(frozen=True)
class Person:
    """Somebody to whom it is written."""

    record: int
    key: str
    name: str
    to: str  # "" for who has no address
    is_odd: bool  # whether the address is none
    fill: Callable[[str], Filled]  # with their link
    has_ended: bool


def look_at_letter(context: Context, letter: Letter) -> LetterLooked:
    """Tell what would go to whom; nothing is queued.

    Raises:
        NoSuchRoster: There is none.
        WrongTemplate: The text cannot be filled, or what is asked cannot be.
    """
    with context.database.transaction() as connection:
        _, everybody = work_out(connection, letter, context.today())
        people = [one for one in everybody if one.to or letter.paper != "nobody"]
        no_account = 0
        if letter.asks and letter.asks.password_at:
            opened = require_place(connection, letter.asks.password_at, letter.roster)
            no_account = count_without(connection, opened, [one.record for one in people])
    link = SAMPLE if letter.asks else ""
    filled = {one.record: one.fill(link) for one in people}
    lacking: dict[str, int] = {}
    for text in filled.values():
        for name in text.lacking:
            lacking[name] = lacking.get(name, 0) + 1
    without = [one.name or one.key for one in everybody if not one.to and not one.is_odd]
    odd = [one.name or one.key for one in everybody if one.is_odd]
    mails = sum(bool(one.to) for one in people) if letter.paper != "all" else 0
    return LetterLooked(
        mails,
        len(people) - mails,
        without[:NAMED],
        len(without),
        odd[:NAMED],
        len(odd),
        sum(one.has_ended for one in people),
        no_account,
        lacking,
        [
            Sample(
                one.record,
                one.key,
                one.name,
                "" if letter.paper == "all" else one.to,
                filled[one.record],
            )
            for one in _tell_most(people, filled)
        ],
    )


def send_letter(
    context: Context, letter: Letter, seen: int, once: str, origin: str, account_id: int | None
) -> Sent:
    """Queue a mail to each of them who has an address, and keep who gets it on paper.

    Args:
        context: Database and clock.
        letter: What is written to whom.
        seen: How many would be written to, as somebody saw it.
        once: Made by whoever sends: the same is not queued twice.
        origin: Under which the product answers, as whoever sends sees it.
        account_id: Who.

    Raises:
        NoSuchRoster: There is none.
        WrongTemplate: The text cannot be filled, or what is asked cannot be.
        MailStays, NoServer: Nothing is mailed.
        NoSecrets: The installation has no key for secrets, and links are to go by mail.
        NobodyThere: Nobody can be written to.
        OthersNow: It would be others by now.
        NoLinks: Whoever writes has a part of the roster, and what they write is about all of it.
    """
    if context.settings.practice:
        raise MailStays
    if letter.asks and letter.asks.password_at:
        refuse_closed(context, letter.asks.password_at, letter.roster)
    try:
        with context.database.transaction() as connection:
            return _send(context, connection, letter, seen, once, origin, account_id)
    except KeyTaken:
        with context.database.transaction() as connection:
            known = store.get_batch(connection, once)  # by the same press, a moment ago
            if known is None:
                raise
            return _sent(connection, known)


def _send(
    context: Context,
    connection: Connection,
    letter: Letter,
    seen: int,
    once: str,
    origin: str,
    account_id: int | None,
) -> Sent:
    if (known := store.get_batch(connection, once)) is not None:
        return _sent(connection, known)
    roster, everybody = work_out(connection, letter, context.today())
    if (letter.asks or letter.paper != "nobody") and roster.id in connection.sight.parts:
        raise NoLinks(
            "You have a part of this roster: you write to its people by mail, without links. Who"
            " has all of it follows and prints letters."
        )
    people = [one for one in everybody if one.to or letter.paper != "nobody"]
    if not people:
        raise NobodyThere
    if len(people) != seen:
        raise OthersNow
    by_mail = [one for one in people if one.to and letter.paper != "all"]
    on_paper = {one.record for one in people} - {one.record for one in by_mail}
    batch = store.insert_batch(
        connection,
        store.NewBatch(
            once,
            letter.template.subject,
            roster.id,
            vars(letter.template),
            account_id,
            context.now(),
            letter.field,
            letter.asks.model_dump(mode="json") if letter.asks else None,
            letter.reminds,
        ),
    )
    numbers = letter_store.insert_addressees(
        connection,
        letter.reminds or batch,
        [(one.record, one.record in on_paper) for one in people],
    )
    if letter.reminds:
        letter_store.set_paper(connection, [numbers[record] for record in on_paper])
    queued = _Queued(letter, batch, by_mail, numbers, origin)
    _queue(context, connection, queued, account_id)
    insert_audit(
        connection,
        "mail-queued",
        letter.template.subject,
        account_id,
        context.now(),
        roster=roster.name,
        mails=len(by_mail),
        papers=len(on_paper),
        asks=letter.asks is not None,
    )
    return Sent(letter.reminds or batch, len(by_mail), len(on_paper))


@dataclass(frozen=True)
class _Queued:
    """What goes by mail."""

    letter: Letter
    batch: int
    people: Sequence[Person]
    numbers: dict[int, int]  # of addressees, by record
    origin: str


def _queue(
    context: Context, connection: Connection, queued: _Queued, account_id: int | None
) -> None:
    """Queue the mails; those with a link are encrypted until they go."""
    if not queued.people:
        return
    letter = queued.letter
    server, cipher = require_server(context, connection), context.cipher()
    if letter.asks and cipher is None:
        raise NoSecrets
    mails: list[store.NewMail] = []
    links: list[tuple[bytes, int]] = []
    for one in queued.people:
        link = ""
        if letter.asks:
            token, link = link_to(queued.origin)
            links.append((digest_of(token), queued.numbers[one.record]))
        filled = one.fill(link)
        text = filled.text
        if link and cipher is not None:
            text = cipher.encrypt(text.encode()).decode()
        kind = "asking" if link else "people"
        mails.append(store.NewMail(kind, one.to, filled.subject, text, make_id(server), one.record))
    letter_store.insert_links(connection, links, context.now())
    store.insert_mails(connection, mails, account_id, context.now(), queued.batch)


def _sent(connection: Connection, known: tuple[int, int]) -> Sent:
    number, mails = known
    found = letter_store.list_addressees(connection, number)
    return Sent(number, mails, sum(one.on_paper for one in found))


def link_to(origin: str) -> tuple[str, str]:
    """Make a link: its token, and the address with it."""
    token = secrets.token_urlsafe(32)
    return token, f"{origin.rstrip('/')}{PATH}{token}"


def require_letter(connection: Connection, number: int) -> LetterRow:
    """Give a letter.

    Raises:
        NoSuchLetter: There is none.
    """
    found = letter_store.get_letter(connection, number)
    if found is None:
        raise NoSuchLetter(number)
    return found


def may_answer(letter: LetterRow, today: date) -> Asks:
    """Give what a letter asks, where it can be answered still.

    Raises:
        NoLinks: It asks nothing, or its links work no more.
    """
    if letter.asks is None:
        raise NoLinks("This letter asks nothing by a link.")
    asks = Asks.model_validate(letter.asks)
    if letter.ended_at is not None:
        raise NoLinks("The links of this letter are withdrawn.")
    if asks.last_day < today:
        raise NoLinks(f"The links of this letter worked until {say_day(asks.last_day)}.")
    return asks


def work_out(connection: Connection, letter: Letter, today: date) -> tuple[Roster, list[Person]]:
    """Find everybody who is meant, with their address and how their text is filled.

    Raises:
        NoSuchRoster: There is none.
        WrongTemplate: The text cannot be filled, or what is asked cannot be.
    """
    roster = require_roster(connection, letter.roster)
    snapshot, codes = load_snapshot(connection, roster), load_codes(connection)
    definition = snapshot.definition
    known = [one.name for one in definition.fields if one.is_mail]
    if letter.field not in known and (letter.field or letter.paper != "all"):
        raise WrongTemplate(
            "address",
            f"is in no field “{letter.field}” that has mail addresses; {near(letter.field, known)}",
        )
    check_template(letter.template, definition, asks=letter.asks is not None)
    last_day = ""
    if letter.asks is not None:
        check_asks(letter.asks, definition, today)
        if letter.asks.password_at:
            require_place(connection, letter.asks.password_at, letter.roster)
        last_day = say_day(letter.asks.last_day)
    names, ended = fields_in(letter.template), find_ended(snapshot, today)
    people: list[Person] = []
    for place in _places(snapshot, letter.records):
        value = partial(_value, snapshot, place)
        to, is_odd = _address(value(letter.field) if letter.field else "")
        values = {
            one: say_value(definition.by_name[one], snapshot.columns[one].at(place) or "", codes)
            for one in names
        }
        people.append(
            Person(
                int(snapshot.ids[place]),
                person_key(definition, {one: value(one) for one in definition.primary_key}),
                name_person(definition, value),
                to,
                is_odd,
                partial(_fill, letter.template, values, last_day),
                bool(ended[place]),
            )
        )
    return roster, people


def _fill(template: Template, values: dict[str, str], last_day: str, link: str) -> Filled:
    return fill(template, values.__getitem__, link, last_day)


def _address(text: str | None) -> tuple[str, bool]:
    """Read somebody's address: the first of several; and whether there is one that is none."""
    first = (text or "").split(SEVERAL)[0]
    if not first:
        return "", False
    try:
        return read_address(first), False
    except ValueError:
        return "", True


def _value(snapshot: Snapshot, place: int, name: str) -> str | None:
    return snapshot.columns[name].at(place)


def _places(snapshot: Snapshot, records: Collection[int]) -> Iterator[int]:
    wanted = set(records)
    for place, record in enumerate(snapshot.ids.tolist()):
        if record in wanted:
            yield place


def _tell_most(people: list[Person], filled: dict[int, Filled]) -> list[Person]:
    """Choose the few that tell most: who lacks most, whose letter is longest, and the first."""
    if not people:
        return []

    def length(one: Person) -> int:
        return len(filled[one.record].text) + len(filled[one.record].subject)

    longest = max(people, key=length)
    poorest = max(people, key=lambda one: len(filled[one.record].lacking))
    chosen = dict.fromkeys(one.record for one in (poorest, longest, people[0], *people[:SHOWN]))
    by_record = {one.record: one for one in people}
    return [by_record[record] for record in list(chosen)[:SHOWN]]
