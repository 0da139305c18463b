"""What an outside system reads: what is held for it, as resources of the protocol, with what it
proposed over it.

What is held is what it was told to hold (`passing_on`): when, of whom and after whose word is said
there, as for destinations that are told.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from nevefield.asked.errors import NoSuchToken, NotHere
from nevefield.core.passing.destination import AskedWay
from nevefield.core.texts import SEVERAL
from nevefield.destinations.scim import shape_user
from nevefield.passing_on.filing import digest_of_token
from nevefield.passing_on.keeping import require_destination
from nevefield.passing_on.urns import GROUP, PROPOSAL
from nevefield.rosters.snapshots import Cache, name_of
from nevefield.store import proposed as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from scim2_models import ScimProvider

    from nevefield.context import Context
    from nevefield.core.passing.destination import Destination
    from nevefield.core.passing.outgoing import Content
    from nevefield.passing_on.keeping import OpenDestination
    from nevefield.store.connection import Connection
    from nevefield.store.proposed import Proposed

__all__ = [
    "Asked",
    "Document",
    "Held",
    "People",
    "group_id",
    "load_asked",
    "number_of",
    "open_asked",
    "resource_of",
    "user_id",
]

NOTED_EACH = timedelta(hours=1)  # how often the trail says that they ask
KEPT_EACH = timedelta(minutes=1)  # how exactly it is kept when they last did
_HELD, _PROPOSED, _PROVIDERS = Cache(3), Cache(20), Cache(20)
Document = dict[str, Any]


@dataclass(frozen=True)
class Held:
    """What is held for a system: resources by what it knows them by, people in the order of their
    records, groups by name.
    """

    people: People
    groups: Mapping[str, Document]
    records: Mapping[str, int]  # of people
    rosters: Mapping[int, int]  # by record
    indexes: dict[str, dict[str, list[str]]] = field(default_factory=dict)  # made when needed


@dataclass(frozen=True)
class Asked:
    """A destination that asks, with what it reads."""

    opened: OpenDestination
    held: Held
    proposed: Sequence[Proposed]
    became: Mapping[int, int]  # by record, the number by which they know whom they made
    provider: ScimProvider
    externals: Mapping[str, str]  # by what they know things themselves, by what they know them here

    @property
    def destination(self) -> Destination:
        """Give what it gets."""
        return self.opened.destination

    @property
    def may_propose(self) -> bool:
        """Tell whether what they write is taken as a proposal."""
        way = self.opened.destination.way
        return isinstance(way, AskedWay) and way.writes == "proposed"


def open_asked(context: Context, token: str) -> Asked:
    """Open what whoever has a token may read.

    Raises:
        NotHere: This is the practice copy.
        NoSuchToken: The token is none, or that of another way.
    """
    if context.settings.practice:
        raise NotHere
    with context.database.transaction() as connection:
        name = store.get_asked(connection, digest_of_token(token)) if token else None
        opened = require_destination(connection, name) if name else None
        if opened is None or not isinstance(opened.destination.way, AskedWay):
            raise NoSuchToken
        _note(context, connection, opened)
        return load_asked(connection, opened)


def load_asked(connection: Connection, opened: OpenDestination) -> Asked:
    """Load what a destination reads, inside the caller's transaction."""
    row = opened.row
    proposed = _list_proposed(connection, row.id)
    if any(one.intake_id is not None for one in proposed) and store.settle(connection, row.id):
        proposed = _list_proposed(connection, row.id)
    became = store.list_became(connection, row.id)
    key = (name_of(connection), row.id, row.version)
    held = _HELD.get((*key, row.touched, len(became)), lambda: _load(connection, row.id, became))
    way = opened.destination.way
    writes = isinstance(way, AskedWay) and way.writes == "proposed"
    provider = _PROVIDERS.get(key, lambda: _make_provider(opened.destination, writes=writes))
    externals = store.list_externals(connection, row.id)
    return Asked(opened, held, proposed, became, provider, externals)


def _make_provider(destination: Destination, *, writes: bool) -> ScimProvider:
    # the protocol takes seconds to load: who is never asked does without
    from nevefield.passing_on.schemas import make_provider

    return make_provider(destination, writes=writes)


def _note(context: Context, connection: Connection, opened: OpenDestination) -> None:
    row, now = opened.row, context.now()
    if row.asked_at is not None and row.asked_at > now - KEPT_EACH:
        return
    if (
        row.asked_at is None
        or row.asked_at.replace(minute=0, second=0, microsecond=0) + (NOTED_EACH) <= now
    ):
        insert_audit(connection, "destination-asked", opened.destination.title, None, now)
    store.note_asked(connection, row.id, now)


def _list_proposed(connection: Connection, destination_id: int) -> list[Proposed]:
    """List what they proposed; of most it is remembered what that was."""
    known: dict[tuple[int, int, int], Proposed] = _PROPOSED.get(
        (name_of(connection), destination_id), dict
    )
    marks = store.list_marks(connection, destination_id)
    lacking = [mark[0] for mark in marks if mark not in known]
    found = {one.id: one for one in store.list_proposed(connection, destination_id, lacking)}
    listed = [known.get(mark) or found[mark[0]] for mark in marks]
    for mark, one in zip(marks, listed, strict=True):
        known[mark] = one
    for mark in known.keys() - set(marks):
        known.pop(mark, None)
    return listed


class People(Mapping[str, Document]):
    """Whom a system holds, as resources: each is made when it is looked at."""

    def __init__(
        self, rows: Sequence[tuple[int, int, Content, str, datetime]], became: Mapping[int, int]
    ) -> None:
        self._rows = {user_id(row[0], became): row for row in rows}
        self._made: dict[str, Document] = {}

    def __getitem__(self, number: str) -> Document:
        if number not in self._made:
            _, _, content, digest, at = self._rows[number]
            user = shape_user(
                {"id": number, "active": True},
                {path: text.split(SEVERAL) for path, text in content.fields.items()},
            )
            if content.groups:
                user["groups"] = [
                    {"value": group_id(name), "$ref": f"Groups/{group_id(name)}", "display": name}
                    for name in content.groups
                ]
            user["meta"] = _meta("User", f'W/"{digest.lower()}"', at)
            self._made[number] = user
        return self._made[number]

    def values_of(self, name: str) -> Iterator[tuple[str, str]]:
        """Give the values of a plain attribute, by its name in small letters, nobody being made."""
        for number, row in self._rows.items():
            for path, text in row[2].fields.items():
                if path.casefold() == name:
                    yield from ((number, one) for one in text.split(SEVERAL))

    def __iter__(self) -> Iterator[str]:
        return iter(self._rows)

    def __len__(self) -> int:
        return len(self._rows)


def _load(connection: Connection, destination_id: int, became: Mapping[int, int]) -> Held:
    rows = store.list_held(connection, destination_id)
    names: dict[str, list[str]] = {}
    last: dict[str, datetime] = {}
    for record, _, content, _, at in rows:
        for name in content.groups:
            names.setdefault(name, []).append(user_id(record, became))
            last[name] = max(last.get(name, at), at)
    groups = {}
    for name in sorted(names):
        digest = hashlib.blake2b(" ".join(names[name]).encode(), digest_size=8).hexdigest()
        groups[group_id(name)] = {
            "schemas": [GROUP],
            "id": group_id(name),
            "displayName": name,
            "members": [
                {"value": one, "$ref": f"Users/{one}", "type": "User"} for one in names[name]
            ],
            "meta": _meta("Group", f'W/"{digest}"', last[name]),
        }
    records = {user_id(row[0], became): row[0] for row in rows}
    rosters = {row[0]: row[1] for row in rows}
    return Held(People(rows, became), groups, records, rosters)


def _meta(kind: str, version: str, at: datetime) -> Document:
    return {
        "resourceType": kind,
        "version": version,
        "lastModified": at.replace(tzinfo=UTC).isoformat(),
    }


def user_id(record: int, became: Mapping[int, int]) -> str:
    """Give by what somebody is known: whom they made themselves by what they were given then."""
    return f"p{became[record]}" if record in became else str(record)


@lru_cache(10_000)
def group_id(name: str) -> str:
    """Give by what a group is known, as long as it has its name."""
    return "g" + hashlib.blake2b(name.encode(), digest_size=12).hexdigest()


def number_of(one: Proposed, became: Mapping[int, int]) -> str:
    """Give by what they know what they wrote of."""
    if one.is_new:
        return f"p{one.id}"
    return group_id(one.group_name) if one.kind == "Group" else user_id(one.record_id or 0, became)


def resource_of(one: Proposed, became: Mapping[int, int]) -> Document:
    """Give what they wrote as they read it: with what became of it."""
    number = number_of(one, became)
    state = {"state": "waiting"}
    if one.intake_id is not None:
        state = {"state": "on the desk", "intake": str(one.intake_id)}
    content = {name: value for name, value in one.content.items() if name != PROPOSAL}
    if note := (one.content.get(PROPOSAL) or {}).get("note"):
        state["note"] = note
    meta = _meta(one.kind, f'W/"p{one.id}-{one.version}"', one.at)
    meta["created"] = one.made_at.replace(tzinfo=UTC).isoformat()
    schemas = list(dict.fromkeys([*content.get("schemas", []), PROPOSAL]))
    return content | {
        "schemas": schemas,
        "id": number,
        "meta": meta,
        PROPOSAL: state,
    }
