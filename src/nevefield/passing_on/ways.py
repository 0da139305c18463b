"""The ways by which a destination is told of one record after another."""

from __future__ import annotations

import hashlib
import threading
from dataclasses import dataclass, replace
from datetime import UTC
from typing import TYPE_CHECKING, Protocol

from nevefield.core.passing.destination import CallWay, GateWay, ScimWay
from nevefield.core.passing.standing import END, Act, find_moved
from nevefield.core.texts import SEVERAL
from nevefield.destinations.asking import Asking
from nevefield.destinations.calls import Calls
from nevefield.destinations.errors import Refused
from nevefield.destinations.gates import Door, Gates, Spread
from nevefield.destinations.scim import Scim
from nevefield.passing_on.keeping import token_of
from nevefield.store import passing as store
from nevefield.store.delivered import next_call

if TYPE_CHECKING:
    from collections.abc import Iterable

    from nevefield.context import Context
    from nevefield.core.passing.outgoing import Content
    from nevefield.core.passing.standing import Standing
    from nevefield.passing_on.keeping import OpenDestination
    from nevefield.passing_on.looking import Shared

__all__ = [
    "CallSender",
    "GateSender",
    "Item",
    "ScimSender",
    "Sender",
    "card_of",
    "learn_done",
    "learn_refused",
    "make_gates",
    "make_scim",
    "make_sender",
]

SCIM_MEDIA = "application/scim+json"


@dataclass(frozen=True)
class Item:
    """A record that a destination is told of."""

    shared: Shared
    standing: Standing
    ref: str
    before: Content | None
    after: Content | None
    version: int = 0  # of the roster when it was last told to the end
    is_known: bool = True  # whether what it holds is known, and not only what it was sent


class Sender(Protocol):
    """Tells of one record; safe between threads."""

    def at_once(self) -> int:
        """Tell how many may be told at a time.

        Raises:
            DestinationError: It does not answer.
        """

    def send(self, item: Item) -> store.Learnt:
        """Tell of a record; told twice it comes to the same.

        Raises:
            DestinationError: It does not answer; a refusal is what is learnt.
        """

    def troubles(self) -> str:
        """Say what stayed behind although nothing was refused; it is told again by itself."""

    def close(self) -> None:
        """Let go of the connections."""


def make_sender(context: Context, opened: OpenDestination) -> Sender:
    """Make what tells a destination.

    Raises:
        LookupError: It is not told record by record.
        NoKey: Its token was kept under another key.
    """
    if isinstance(opened.destination.way, ScimWay):
        return ScimSender(context, opened)
    if isinstance(opened.destination.way, GateWay):
        return GateSender(context, opened)
    if isinstance(opened.destination.way, CallWay):
        return CallSender(context, opened)
    raise LookupError(opened.destination.way.kind)


def make_gates(context: Context, opened: OpenDestination) -> Gates:
    """Make the client of a destination of gate controllers.

    Raises:
        LookupError: It is told by another way.
        NoKey: Its token was kept under another key.
    """
    way = opened.destination.way
    if not isinstance(way, GateWay):
        raise LookupError(way.kind)
    return Gates(Asking(way.address, token_of(context, opened.row), context.transport))


def make_scim(context: Context, opened: OpenDestination) -> Scim:
    """Make the client of a destination that is told by SCIM.

    Raises:
        LookupError: It is told by another way.
        NoKey: Its token was kept under another key.
    """
    way = opened.destination.way
    if not isinstance(way, ScimWay):
        raise LookupError(way.kind)
    token = token_of(context, opened.row)
    asking = Asking(way.address, token, context.transport, media=SCIM_MEDIA, at_once=way.at_once)
    return Scim(asking, way.finds_by, takes_out=way.ends == "take out")


class ScimSender:
    """Tells by SCIM: people, then their groups."""

    def __init__(self, context: Context, opened: OpenDestination) -> None:
        way = opened.destination.way
        self._at_once = way.at_once if isinstance(way, ScimWay) else 1
        self._scim = make_scim(context, opened)
        self._context = context
        self._destination_id = opened.row.id
        self._lock = threading.Lock()
        self._members: dict[str, set[str]] = {}  # by group, when they were asked
        with context.database.transaction() as connection:
            self._groups = store.list_groups(connection, opened.row.id)

    def at_once(self) -> int:
        """Tell how many may be told at a time: more than may be asked, where they write together.

        Raises:
            DestinationError: It does not answer.
        """
        return self._scim.together(self._at_once)

    def send(self, item: Item) -> store.Learnt:
        """Tell of a record; told twice it comes to the same."""
        with self._scim.part():
            return self._send(item)

    def _send(self, item: Item) -> store.Learnt:
        standing, after = item.standing, item.after
        try:
            if standing.act == Act.END:
                if not item.ref:
                    return learn_done(item, "", "not there", 0)
                groups = set(item.before.groups) if item.before else set()
                if not item.is_known:
                    groups |= self._groups_there(item.ref)
                for name in sorted(groups):
                    self._scim.move(self._group(name), [], [item.ref])
                done = self._scim.end(item.ref)
                return learn_done(item, done.ref, done.answer, done.ms)
            if after is None:
                raise LookupError(standing.record)
            fields = {name: text.split(SEVERAL) for name, text in after.fields.items()}
            external = (fields.pop("externalId", None) or [str(standing.record)])[0]
            done = self._scim.put(item.ref, external, fields)
            is_known = item.is_known and not done.was_there
            before = set(item.before.groups if item.before and is_known else ())
            if not is_known:
                before |= self._groups_there(done.ref)
            # where it is not known, who is in already is let in again: that comes to the same
            for name in sorted(set(after.groups) - (before if is_known else set())):
                self._scim.move(self._group(name), [done.ref], [])
            for name in sorted(before - set(after.groups)):
                self._scim.move(self._group(name), [], [done.ref])
            return learn_done(item, done.ref, done.answer, done.ms)
        except Refused as error:
            return learn_refused(item, error)

    def troubles(self) -> str:
        """Nothing stays behind."""
        return ""

    def close(self) -> None:
        """Let go of the connections."""
        self._scim.close()

    def _groups_there(self, ref: str) -> set[str]:
        """List the groups of ours that somebody is in there."""
        said = self._scim.groups_of(ref)
        if said:
            return {name for name, group in self._groups.items() if group in said}
        # it may not say so with a person: then the groups are asked, each once
        with self._lock:
            for name, group in self._groups.items():
                if name not in self._members:
                    self._members[name] = self._scim.members_of(group)
        return {name for name, members in self._members.items() if ref in members}

    def _group(self, name: str) -> str:
        """Give by what a group is known there; it is made where there is none."""
        with self._lock:
            if name not in self._groups:
                ref = self._scim.find_group(name)
                with self._context.database.transaction() as connection:
                    store.put_group(connection, self._destination_id, name, ref)
                self._groups[name] = ref
            return self._groups[name]


class GateSender:
    """Tells gate controllers: each card to the doors of its zones."""

    def __init__(self, context: Context, opened: OpenDestination) -> None:
        self._gates = make_gates(context, opened)
        self._doors = self._look_at_doors(context, opened)
        self._late: set[str] = set()

    def at_once(self) -> int:
        """Tell how many may be told at a time."""
        return 6

    def _look_at_doors(self, context: Context, opened: OpenDestination) -> list[Door]:
        """Ask the doors how they are; one that has fewer cards than it was told is told anew."""
        doors = self._gates.doors()
        with context.database.transaction() as connection:
            told = store.count_doors(connection, opened.row.id)
            for door in doors:
                if door.answers and door.holds < told.get(door.door, 0):
                    store.forget_door(connection, opened.row.id, door.door)
            seen = [
                {
                    "door": door.door,
                    "title": door.title,
                    "zones": sorted(door.zones),
                    "answers": door.answers,
                    "holds": door.holds,
                    "room": door.room,
                    "at": context.now().isoformat(),
                }
                for door in doors
            ]
            before = [{**one, "at": ""} for one in opened.row.doors]
            if before != [{**one, "at": ""} for one in seen]:
                store.set_destination(connection, opened.row.id, touches=False, doors=seen)
        return doors

    def send(self, item: Item) -> store.Learnt:
        """Tell of a card; told twice it comes to the same."""
        before, *known = item.ref.split() or [""]
        knew = set(known)
        # where it was begun and broken off, any door may know of it
        if before and not knew:
            knew = {door.door for door in self._doors}
        try:
            if item.standing.act == Act.END or item.after is None:
                gone = self._gates.drop(before, knew) if before else Spread()
                return self._learn(item, before, gone)
            card, fields = card_of(item.after), item.after.fields
            gone = self._gates.drop(before, knew) if before and before != card else Spread()
            said = {name: fields.get(name, "") for name in ("name", "until")}
            opens = item.after.values("zones")
            done = self._gates.put(card, said, opens, knew, self._doors)
            done.missing = sorted({*done.missing, *gone.missing})
            return self._learn(item, card, done)
        except Refused as error:
            return learn_refused(item, error)

    def _learn(self, item: Item, card: str, done: Spread) -> store.Learnt:
        if not done.missing:
            return learn_done(item, _ref_of(card, done.knows), "", done.ms)
        titles = {door.door: door.title for door in self._doors}
        names = ", ".join(sorted(titles.get(door, door) for door in done.missing))
        self._late |= set(done.missing)
        known = sorted({*done.knows, *done.missing})
        whole = learn_done(item, _ref_of(card, known), f"not at {names}", done.ms)
        # it is there as far as we know, and not in step
        return replace(
            whole, is_there=True, digest=b"", problem=f"not told yet: {names}", version=item.version
        )

    def troubles(self) -> str:
        """Say which doors could not be told."""
        titles = {door.door: door.title for door in self._doors}
        names = ", ".join(sorted(titles.get(door, door) for door in self._late))
        return f"Not told yet, because they do not answer: {names}." if names else ""

    def close(self) -> None:
        """Let go of the connections."""
        self._gates.close()


class CallSender:
    """Calls a program with what changed, one record after the other, by rising numbers."""

    def __init__(self, context: Context, opened: OpenDestination) -> None:
        way = opened.destination.way
        if not isinstance(way, CallWay):
            raise LookupError(way.kind)
        self._calls = Calls(way.address, token_of(context, opened.row), context.transport)
        self._context = context
        self._opened = opened

    def at_once(self) -> int:
        """Tell that one is told after the other."""
        return 1

    def send(self, item: Item) -> store.Learnt:
        """Call with a record; told twice, it is told under the same name."""
        standing, after = item.standing, item.after
        if standing.act == Act.END and not item.ref:
            return learn_done(item, "", "not there", 0)
        with self._context.database.transaction() as connection:
            number = next_call(connection, self._opened.row.id)
        at = self._context.now().replace(tzinfo=UTC)
        moved = find_moved(item.before if item.is_known else None, after)
        document = {
            "id": self._name_of(item),
            "sequence": number,
            "at": at.isoformat(timespec="seconds").replace("+00:00", "Z"),
            "act": "end" if standing.act == Act.END else "put",
            "roster": item.shared.roster,
            "record": standing.record,
            "fields": self._fields_of(item),
            "groups": sorted(after.groups) if after else [],
            "changed": [one.what or "groups" for one in moved],
        }
        try:
            done = self._calls.call(document, at)
        except Refused as error:
            return learn_refused(item, error)
        ref = "" if standing.act == Act.END else str(standing.record)
        return learn_done(item, ref, str(done.status), done.ms)

    def _fields_of(self, item: Item) -> dict[str, list[str]]:
        """List the values of each field of the layout; of whom ends, none."""
        share = self._opened.destination.share_of(item.shared.roster)
        if share is None or item.after is None or item.standing.act == Act.END:
            return {}
        texts = {put.to: item.after.fields.get(put.to, "") for put in share.puts}
        return {name: text.split(SEVERAL) if text else [] for name, text in texts.items()}

    def _name_of(self, item: Item) -> str:
        """Name what is told: the same for the same content at the same version of the roster."""
        standing, shared = item.standing, item.shared
        digest = "" if standing.act == Act.END else shared.outgoing.digests[standing.at].hex()
        said = f"{self._opened.row.id} {standing.record} {shared.version} {digest}"
        return hashlib.sha256(said.encode()).hexdigest()[:32]

    def troubles(self) -> str:
        """Nothing stays behind."""
        return ""

    def close(self) -> None:
        """Let go of the connections."""
        self._calls.close()


def _ref_of(card: str, doors: Iterable[str]) -> str:
    """Write by what a card is known at doors: itself, and the doors that know it."""
    return " ".join((card, *sorted(doors))) if card else ""


def card_of(content: Content | None) -> str:
    """Give the card by which doors know it; "" for none."""
    if content is None or not content.fields.get("number"):
        return ""
    return f"{content.fields.get('facility') or '0'}-{content.fields['number']}"


def learn_done(item: Item, ref: str, answer: str, ms: int | None) -> store.Learnt:
    """Say what they hold of a record now that they were told of it."""
    shared, standing = item.shared, item.standing
    moved = tuple(one.what or "groups" for one in find_moved(item.before, item.after))
    if standing.act == Act.END:
        known = shared.told.get(standing.record)
        return store.Learnt(
            standing.record,
            shared.roster_id,
            standing.act,
            ref=ref,
            content=item.before,
            # switched off, the account keeps its name
            own=known.own if ref and known is not None else None,
            version=shared.version,
            answer=answer,
            ms=ms,
        )
    return store.Learnt(
        standing.record,
        shared.roster_id,
        standing.act,
        ref=ref,
        is_there=True,
        digest=shared.outgoing.digests[standing.at],
        content=item.after,
        own=shared.outgoing.own(standing.at),
        version=shared.version,
        moved=moved,
        answer=answer,
        ms=ms,
    )


def learn_refused(item: Item, error: Refused) -> store.Learnt:
    """Say that a record was refused."""
    shared, standing = item.shared, item.standing
    tried = END if standing.act == Act.END else shared.outgoing.digests[standing.at]
    return store.Learnt(
        standing.record,
        shared.roster_id,
        standing.act,
        tried=tried,
        code=error.code,
        problem=error.problem,
        version=shared.version,
        answer=f"{error.status} {error.code}".strip(),
    )
