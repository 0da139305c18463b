"""Runs: cards that are made together, with their numbers, as one change set of the register."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from nevefield.cards.designs import OpenDesign, require_design
from nevefield.cards.errors import (
    CardsRefused,
    NoSuchCard,
    NoSuchRun,
    NothingToMake,
    OtherNumbers,
    OthersNeed,
    WrongAct,
)
from nevefield.cards.looking import Standing, lay_one, load_standing, used_numbers
from nevefield.core.cards.filling import Card
from nevefield.core.cards.needing import Need, is_number, note_printed
from nevefield.core.cards.numbers import find_unlike, give_numbers, write_number
from nevefield.core.checking.causes import iter_findings
from nevefield.core.snapshot import Snapshot, to_json
from nevefield.core.trying import check_roster
from nevefield.rosters.errors import RosterMoved
from nevefield.rosters.snapshots import load_codes, load_others, load_snapshot
from nevefield.rosters.writing import alter_roster, make_writes
from nevefield.store import cards as store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.again import do_again
from nevefield.store.audit import insert_audit
from nevefield.store.cards import MadeCard, Run
from nevefield.store.records import NewChangeSet

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Sequence

    from nevefield.context import Context
    from nevefield.core.cards.design import Face
    from nevefield.core.cards.needing import Person
    from nevefield.store.connection import Connection

__all__ = [
    "Asked",
    "MadeCard",
    "OpenRun",
    "Run",
    "RunCard",
    "Whose",
    "find_scanned",
    "hand_over",
    "list_runs",
    "make_run",
    "mark_card",
    "open_run",
]

MAKING = (Need.MAKE, Need.ANEW)


@dataclass(frozen=True)
class Asked:
    """Whose cards are to be made: of everybody who needs one, or of those named."""

    records: frozenset[int] | None = None
    anew: bool = False  # also for those of them who have a good card
    count: int | None = None  # as it was looked at; another one by now is refused
    # The register's version as it was looked at, for cards that are made although there is a good
    # one: asked again after an answer that was lost, they are not made twice.
    seen: int | None = None


def make_run(
    context: Context,
    name: str,
    asked: Asked,
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> int:
    """Make cards: give the numbers and keep what stands on each, all in one transaction.

    Args:
        context: Database and clock.
        name: Of the design.
        asked: Whose.
        account_id: Who makes them.
        progress: Hears how far it is.

    Returns:
        The run's number.

    Raises:
        NoSuchDesign: There is none.
        NothingToMake: Nobody of those needs a card that can be made.
        NoNumbersLeft: There are too few numbers.
        OtherNumbers: The cards that there are have their numbers written otherwise.
        CardsRefused: The register's checks stop what would be written.
        RosterMoved: The register has another version by now.
        OthersNeed: It would be another number of cards by now than was looked at.
        NeedsApproval: A second account has to approve what is written into the register.
    """
    with context.database.transaction() as connection:
        register_id = require_design(connection, name).row.register_id
    return do_again(lambda: _make(context, name, register_id, asked, account_id, progress))


def _make(
    context: Context,
    name: str,
    register_id: int,
    asked: Asked,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> int:
    with context.database.transaction() as connection:
        # The lock comes first: two runs at once choose their numbers one after the other.
        now = roster_store.lock_roster(connection, register_id)
        if asked.seen is not None and asked.seen != now:
            raise RosterMoved(asked.seen, now)
        standing = load_standing(context, connection, require_design(connection, name))
        people = _choose(standing, asked)
        if asked.count is not None and asked.count != len(people):
            raise OthersNeed(asked.count, len(people))
        made = _Making(context, connection, standing, people)
        made.refuse_unfit(progress)
        change_set, _, receipt = alter_roster(
            connection,
            standing.opened.rosters[standing.opened.design.register_.roster],
            make_writes(made.definition, made.writes()),
            NewChangeSet(
                kind="run",
                title=f"{standing.opened.design.title}: {len(people):,}"
                f" card{'s' * (len(people) != 1)} made",
                account_id=account_id,
                at=context.now(),
            ),
            seen=now,
            progress=progress,
        )
        run_id = store.insert_run(
            connection,
            store.NewRun(
                standing.opened.row.id,
                standing.opened.row.version,
                change_set,
                account_id,
                context.now(),
            ),
            made.cards,
        )
        record_store.set_receipt(
            connection, change_set, {**receipt, "run": run_id, "cards": len(people)}
        )
        insert_audit(
            connection, "card-run", name, account_id, context.now(), run=run_id, cards=len(people)
        )
    return run_id


def _choose(standing: Standing, asked: Asked) -> list[Person]:
    people = [
        person
        for person in standing.needed.people
        if (asked.records is None or person.record in asked.records)
        and (person.need in MAKING or (asked.anew and person.need == Need.HAS))
    ]
    if not people:
        raise NothingToMake
    return people


class _Making:
    """The cards of a run before they are kept."""

    def __init__(
        self,
        context: Context,
        connection: Connection,
        standing: Standing,
        people: Sequence[Person],
    ) -> None:
        design = standing.opened.design
        self._standing, self._people, self._register = standing, people, design.register_
        self._today = context.today().isoformat()
        self.definition = standing.faces.snapshots[self._register.roster].definition
        since = context.now() - timedelta(days=design.numbering.rests)
        used = used_numbers(connection, standing.opened, standing.held, since)
        self._numbers = give_numbers(
            [self._value(person, "site") for person in people], design.numbering.ranges, used
        )
        self._refuse_unlike()
        first = record_store.reserve_numbers(connection, len(people))
        self._ids = range(first, first + len(people))
        self._contents = [
            self._content(person, *number)
            for person, number in zip(people, self._numbers, strict=True)
        ]
        _refuse(context, connection, self.definition, self._ids, self._contents)
        self.cards = self._fill()

    def _value(self, person: Person, option: str) -> str:
        """Give somebody's value of a field that the face names for a purpose."""
        face = self._face(person)
        name = getattr(face, option)
        return (self._standing.faces.value(face, person.place, name) or "") if name else ""

    def _face(self, person: Person) -> Face:
        return self._standing.opened.design.face(person.face)

    def _write(self, number: int) -> str:
        return write_number(number, self._standing.opened.design.numbering)

    def _refuse_unlike(self) -> None:
        """See that new cards are numbered like those that there are.

        Raises:
            OtherNumbers: They are not.
        """
        there = (card.number for card in self._standing.held)
        unlike = find_unlike(there, self._standing.opened.design.numbering)
        if unlike and self._numbers:
            raise OtherNumbers(unlike, self._write(self._numbers[0][1]))

    def _content(self, person: Person, facility: int, number: int) -> dict[str, Any]:
        register = self._register
        face = self._face(person)
        values = {
            register.number: self._write(number),
            register.facility: str(facility),
            register.holder: person.key,
            register.state: register.in_use[0] if register.in_use else "",
            register.until: self._value(person, "until"),
            register.name: self._standing.faces.door_name(face, person.place),
        }
        # what the card before opened, the new one opens
        before = person.cards[-1] if person.cards else None
        content: dict[str, Any] = {}
        if before is not None:
            cards = self._standing.faces.snapshots[register.roster]
            content = dict(cards.values(cards.places()[before.record]))
            for name in values:
                content.pop(name, None)
        return content | {
            name: to_json(self.definition, name, text)
            for name, text in values.items()
            if name and text
        }

    def refuse_unfit(self, progress: Callable[[str, int, int], None]) -> None:
        """See that each card fits with its own number, and each code is read back.

        Raises:
            CardsRefused: One does not.
        """
        for done, (person, card) in enumerate(zip(self._people, self.cards, strict=True)):
            progress("Laying the cards", done, len(self._people))
            face, shown = self._face(person), set(card.rests["stands"])
            has_photo = card.photo is not None
            sides = lay_one(self._standing.faces, face, card.texts, shown, has_photo=has_photo)
            for laid in sides.values():
                if laid.findings:
                    name = self._standing.name(face.roster, person.place)
                    raise CardsRefused([f"{name}: {laid.findings[0].why}"])

    def writes(self) -> list[tuple[int, str | None, int | None, bool]]:
        """What becomes of the register's records."""
        new = [
            (number, _write(content), None, True)
            for number, content in zip(self._ids, self._contents, strict=True)
        ]
        return [*new, *self._replaced()]

    def _replaced(self) -> list[tuple[int, str | None, int | None, bool]]:
        """Put the cards out of use that these take the place of, where the design says how."""
        register = self._register
        if not register.state or not register.replaced:
            return []
        cards = self._standing.faces.snapshots[register.roster]
        altered: list[tuple[int, str | None, int | None, bool]] = []
        for person in self._people:
            for card in person.cards:
                if card.is_good:
                    content = cards.values(cards.places()[card.record])
                    content[register.state] = register.replaced
                    altered.append((card.record, _write(content), None, False))
        return altered

    def _fill(self) -> list[MadeCard]:
        """Fill the cards as they are kept with the run."""
        faces = self._standing.faces
        made = []
        for place, (person, (facility, number), card_id) in enumerate(
            zip(self._people, self._numbers, self._ids, strict=True)
        ):
            face = self._face(person)
            card = Card(
                self._write(number), str(facility), self._value(person, "until"), self._today
            )
            photo = self._standing.photos.get(person.record)
            rests = note_printed(faces, face, person.place, photo.digest.hex() if photo else "")
            made.append(
                MadeCard(
                    card_id,
                    0,
                    place,
                    person.record,
                    person.face,
                    faces.texts(face, person.place, card),
                    {
                        "values": dict(rests.values),
                        "shown": dict(rests.shown),
                        "stands": sorted(faces.shown(face, person.place)),
                    },
                    photo.digest if photo else None,
                )
            )
        return made


def _refuse(
    context: Context,
    connection: Connection,
    definition: Any,
    ids: Sequence[int],
    contents: Sequence[dict[str, Any]],
) -> None:
    """See that the register's own checks let new cards pass.

    Raises:
        CardsRefused: When not.
    """
    snapshot = Snapshot.of_documents(definition, list(ids), [_write(one) for one in contents])
    others = load_others(connection.whole(), definition)
    evaluation = check_roster(
        definition, snapshot, load_codes(connection.whole()), context.today(), others
    )
    stopping = [
        cause
        for cause in evaluation.causes
        if cause.is_open and cause.hit.weight == "stop" and not cause.hit.whole
    ]
    messages = []
    for cause in sorted(stopping, key=lambda cause: -len(cause.open_rows)):
        first = next(iter_findings(cause, evaluation.facts, cause.open_rows[:1]))
        title = f"{definition.title_of(cause.hit.field)}: " if cause.hit.field else ""
        count = len(cause.open_rows)
        messages.append(f"{title}{first.message}{f' ({count:,} cards)' if count > 1 else ''}")
    if messages:
        raise CardsRefused(messages)


def list_runs(context: Context, name: str) -> list[tuple[Run, list[MadeCard]]]:
    """List the runs of a design, the newest first, each with its cards.

    Raises:
        NoSuchDesign: There is none.
    """
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        cards: dict[int, list[MadeCard]] = {}
        for card in store.list_made_of(connection, design_id=opened.row.id):
            cards.setdefault(card.run_id, []).append(card)
        runs = store.list_runs(connection, opened.row.id)
    return [(run, cards.get(run.id, [])) for run in runs]


@dataclass(frozen=True)
class RunCard:
    """A card of a run as it stands today."""

    card: MadeCard
    name: str
    number: str
    facility: str
    state: str  # in words; "" when it is in the register no more


@dataclass(frozen=True)
class OpenRun:
    """A run and its cards."""

    opened: OpenDesign  # as it is today
    run: Run
    cards: list[RunCard]


def open_run(context: Context, name: str, run_id: int) -> OpenRun:
    """Open a run.

    Raises:
        NoSuchDesign, NoSuchRun: There is none.
    """
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        run = store.get_run(connection, run_id)
        if run is None or run.design_id != opened.row.id:
            raise NoSuchRun(run_id)
        standing = load_standing(context, connection, opened)
        made = store.list_made(connection, run_id)
    held = {card.record: card for card in standing.held}
    cards = []
    for card in made:
        there = held.get(card.card_id)
        cards.append(
            RunCard(
                card,
                _name_of(standing, card.record_id),
                there.number if there else "",
                there.facility if there else "",
                standing.faces.say_state(there.state) if there else "",
            )
        )
    return OpenRun(opened, run, cards)


def _name_of(standing: Standing, record: int) -> str:
    for roster in {face.roster for face in standing.opened.design.faces}:
        place = standing.faces.snapshots[roster].places().get(record)
        if place is not None:
            return standing.name(roster, place)
    return ""


@dataclass(frozen=True)
class Whose:
    """Whose a card is."""

    card: int  # its record in the register
    record: int | None
    name: str
    key: str
    number: str
    facility: str
    is_good: bool


def find_scanned(context: Context, name: str, scanned: str) -> Whose:
    """Find a card by what a scanner reads from it: its number, with or without its facility, or
    what names its holder; of several cards of one holder the one in use that was made last.

    Raises:
        NoSuchDesign: There is none.
        NoSuchCard: No card is so, or several people's are.
    """
    with context.database.transaction() as connection:
        standing = load_standing(context, connection, require_design(connection, name))
    text = scanned.strip()
    found = [
        card
        for card in standing.held
        if card.holder.casefold() == text.casefold() or is_number(card, text)
    ]
    found = [card for card in found if card.is_good] or found
    if not found:
        raise NoSuchCard(text)
    if len({card.holder for card in found}) > 1:
        raise WrongAct(
            f"“{text}” is the number of cards of {len(found)} facilities; give the facility too,"
            f" as in {found[0].facility}·{found[0].number}."
        )
    card = found[-1]
    record, person = None, ""
    for one in standing.needed.people:
        if card in one.cards:
            face = standing.opened.design.face(one.face)
            record, person = one.record, standing.name(face.roster, one.place)
    return Whose(card.record, record, person, card.holder, card.number, card.facility, card.is_good)


def hand_over(
    context: Context,
    name: str,
    cards: Collection[int],
    account_id: int | None,
    *,
    is_over: bool = True,
) -> int:
    """Keep that cards were handed over to those whose they are, or that they were not after all.

    Args:
        context: Database and clock.
        name: Of the design.
        cards: Their records in the register.
        account_id: Who handed them over.
        is_over: Whether they were.

    Returns:
        How many of them there are.

    Raises:
        NoSuchDesign: There is none.
        WrongAct: One was not made with this design, or its run was taken back.
    """
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        made = {
            card.card_id: card for card in store.list_made_of(connection, design_id=opened.row.id)
        }
        runs = {run.id: run for run in store.list_runs(connection, opened.row.id)}
        for number in cards:
            if number not in made:
                raise WrongAct("This card was not made in a run here, so it is not handed over.")
            if runs[made[number].run_id].undone_by is not None:
                raise WrongAct("The run of this card was taken back; it is not handed over.")
        store.set_handed(connection, cards, account_id, context.now() if is_over else None)
        insert_audit(
            connection,
            "card-handed" if is_over else "card-not-handed",
            name,
            account_id,
            context.now(),
            cards=sorted(cards),
        )
    return len(cards)


def mark_card(
    context: Context, name: str, card_id: int, what: str, account_id: int | None
) -> int | None:
    """Say that a card was lost, spoiled or given back: it is out of use from now on.

    Args:
        context: Database and clock.
        name: Of the design.
        card_id: Its record in the register.
        what: lost, spoiled or returned.
        account_id: Who says so.

    Returns:
        The change set of the register; None when its state does not say it.

    Raises:
        NoSuchDesign, NoSuchCard: There is none.
        WrongAct: The design does not say what a lost card's state is, or it is so already.
    """
    with context.database.transaction() as connection:
        register_id = require_design(connection, name).row.register_id
        now = roster_store.lock_roster(connection, register_id)
        opened = require_design(connection, name)
        register = opened.design.register_
        roster = opened.rosters[register.roster]
        snapshot = load_snapshot(connection, roster)
        place = snapshot.places().get(card_id)
        if place is None:
            raise NoSuchCard(card_id)
        state = getattr(register, what)
        content = dict(snapshot.values(place))
        if what == "spoiled":
            store.set_spoiled(connection, [card_id], context.now())
        if not (register.state and state):
            if what == "spoiled":
                insert_audit(
                    connection, "card-spoiled", name, account_id, context.now(), card=card_id
                )
                return None
            raise WrongAct(
                f"The design does not say which state of {snapshot.definition.title} means"
                f" “{what}”; set it under Numbers."
            )
        if content.get(register.state) == state:
            raise WrongAct(f"This card is {what} already.")
        content[register.state] = state
        number = content.get(register.number, "")
        change_set, _, receipt = alter_roster(
            connection,
            roster,
            make_writes(snapshot.definition, [(card_id, _write(content), None, False)]),
            NewChangeSet(
                kind="card",
                title=f"{opened.design.title} {number}: {what}",
                account_id=account_id,
                at=context.now(),
            ),
            seen=now,
        )
        record_store.set_receipt(connection, change_set, {**receipt, "card": card_id, "is": what})
        insert_audit(connection, f"card-{what}", name, account_id, context.now(), card=card_id)
    return change_set


def _write(content: dict[str, Any]) -> str:
    return json.dumps(content, ensure_ascii=False, separators=(",", ":"))
