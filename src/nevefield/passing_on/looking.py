"""Where every record stands with a destination, what sending would do, and why."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.conditions import say_condition
from nevefield.core.passing.destination import FileWay
from nevefield.core.passing.formats import fault_of
from nevefield.core.passing.outgoing import lay_out, lay_out_nothing
from nevefield.core.passing.standing import (
    Act,
    Place,
    count_places,
    find_causes,
    find_moved,
    is_too_many,
    stand,
)
from nevefield.core.states import JobKind
from nevefield.passing_on.keeping import list_destinations, require_destination
from nevefield.rosters.snapshots import Cache, load_codes, load_definition, load_snapshot, name_of
from nevefield.store import passing as store
from nevefield.store.jobs import list_running
from nevefield.store.passed_files import list_files
from nevefield.store.proposed import count_waiting, list_intakes
from nevefield.store.rosters import get_code_versions, get_definition
from nevefield.store.sight import Level
from nevefield.store.touching import list_last_contents, list_reasons

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterator, Mapping
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.passing.destination import Destination, Put
    from nevefield.core.passing.outgoing import Content, Outgoing
    from nevefield.core.passing.standing import Cause, Moved, Standing, Told
    from nevefield.core.snapshot import Snapshot
    from nevefield.passing_on.keeping import OpenDestination
    from nevefield.store.connection import Connection
    from nevefield.store.passed_files import FileRow
    from nevefield.store.touching import Reason

__all__ = [
    "Look",
    "Looked",
    "Row",
    "Shared",
    "SharedRoster",
    "choose_rows",
    "content_of",
    "load_look",
    "look_at",
    "look_at_all",
    "look_closely",
    "names_of_records",
    "say_because",
]

_LOOKS = Cache(6)
NAMED = 6  # of who would be switched off, or lose a privilege
# what wants somebody, or goes next, first
ORDER = (
    Place.REFUSED,
    Place.TO_END,
    Place.TO_SEND,
    Place.HELD,
    Place.IN_STEP,
    Place.NOT_THEIRS,
)


@dataclass(frozen=True)
class Shared:
    """Where the records of one roster stand."""

    roster: str
    roster_id: int
    version: int
    outgoing: Outgoing
    told: Mapping[int, Told]
    standings: Mapping[int, Standing]  # by record
    taken: Mapping[str, Collection[str]]  # what others have there, by their field


@dataclass(frozen=True)
class Look:
    """A destination, and where everybody stands."""

    opened: OpenDestination
    shared: tuple[Shared, ...]
    counts: Mapping[Place, int]
    causes: tuple[Cause, ...]
    takes: tuple[int, ...]  # the records that would lose a privilege, and stay there

    @property
    def records(self) -> int:
        """Count the records that stand anywhere."""
        return sum(self.counts.values())

    @property
    def there(self) -> int:
        """Count the records that are there."""
        return sum(one.is_there for shared in self.shared for one in shared.told.values())

    @property
    def sendable(self) -> int:
        """Count the records that sending would do something with."""
        return self.counts[Place.TO_SEND] + self.counts[Place.TO_END]

    @property
    def is_guarded(self) -> bool:
        """Tell whether so many would be switched off that somebody's word is needed."""
        most = self.opened.destination.most_ends
        return is_too_many(self.counts[Place.TO_END], self.there, most)

    def find(self, record: int) -> tuple[Shared, Standing] | None:
        """Find where a record stands; None when it is of no roster that is shared."""
        for shared in self.shared:
            if record in shared.standings:
                return shared, shared.standings[record]
        return None


@dataclass(frozen=True)
class Row:
    """A record as it is shown: what sending would change there, and because of what."""

    record: int
    roster: str
    key: str
    name: str
    standing: Standing
    moved: tuple[Moved, ...] = ()
    takes_privileges: bool = False
    reason: Reason | None = None  # the last receipt since it was sent
    held_reason: str = ""
    because: str = ""  # of what it is to be sent, in words


def look_at(context: Context, name: str) -> Look:
    """Tell where everybody stands with a destination.

    Raises:
        NoSuchDestination: There is none.
    """
    with context.database.transaction() as connection:
        return load_look(context, connection, require_destination(connection, name))


@dataclass(frozen=True)
class SharedRoster:
    """A roster of which a destination is told, as it is laid out."""

    roster: str
    title: str
    fields: list[Any]
    where: str  # in words; "" for everybody


@dataclass(frozen=True)
class Looked:
    """A destination with everything that its page shows."""

    look: Look
    shares: list[SharedRoster]
    names: Mapping[int, tuple[str, str]]  # of who is said by name: number and name
    ends: list[int]  # the first who would be switched off
    anew: Mapping[int, str]  # what would be composed for them instead
    files: list[FileRow]
    late: Mapping[str, int]  # by door: how many cards it was not told of yet
    proposed: int  # of what they wrote, how much is in no intake yet
    proposed_in: list[tuple[int, str]]  # intakes of it, by number and title
    job: int | None
    may_decide: bool
    may_tell: bool
    may_change: bool


def look_closely(context: Context, name: str) -> Looked:
    """Give a destination with everything that its page shows.

    Raises:
        NoSuchDestination: There is none.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        look = load_look(context, connection, opened)
        refused = {record for cause in look.causes for record in cause.records[:3]}
        ends = [
            one.record
            for shared in look.shared
            for one in shared.standings.values()
            if one.place == Place.TO_END
        ]
        named = refused | {*ends[:NAMED], *look.takes[:NAMED]}
        least = min(connection.sight.level(one.id) for one in opened.rosters.values())
        jobs = list_running(connection, JobKind.TELL)
        shares = []
        for share in opened.destination.shares:
            roster = opened.rosters[share.roster]
            definition = load_definition(connection, roster)
            where = "" if share.where is None else say_condition(share.where, definition.title_of)
            document = get_definition(connection, roster.id, roster.definition)
            shares.append(SharedRoster(share.roster, roster.title, document["fields"], where))
        return Looked(
            look,
            shares,
            names_of_records(connection, look, named),
            ends[:NAMED],
            {record: text for record in refused if (text := _compose_next(look, record))},
            list_files(connection, opened.row.id),
            store.count_late(connection, opened.row.id),
            count_waiting(connection, opened.row.id),
            list_intakes(connection, opened.row.id),
            next((job.id for job in jobs if job.arguments["destination"] == name), None),
            least >= Level.PREPARE,
            least >= Level.APPROVE and not context.settings.practice,
            least >= Level.ADMINISTER,
        )


def _compose_next(look: Look, record: int) -> str:
    place = look.find(record)
    if place is None or place[1].at < 0:
        return ""
    found = place[0].outgoing.compose_next(place[1].at, place[0].taken)
    return next(iter(found.values()), "")


def look_at_all(context: Context) -> list[Look]:
    """Tell where everybody stands with each destination that may be seen."""
    found = list_destinations(context)
    with context.database.transaction() as connection:
        return [load_look(context, connection, opened) for opened in found]


def load_look(context: Context, connection: Connection, opened: OpenDestination) -> Look:
    """Tell where everybody stands, inside the caller's transaction."""
    row, today = opened.row, context.today()
    key = (
        name_of(connection),
        row.id,
        row.version,
        row.touched,
        today,
        get_code_versions(connection),
        *(
            (one.id, one.version, one.definition, one.erased, connection.sight.covers(one.id))
            for _, one in sorted(opened.rosters.items())
        ),
    )

    def make() -> tuple[tuple[Shared, ...], dict[Place, int], tuple[Cause, ...], tuple[int, ...]]:
        shared = _share_all(connection, opened, today)
        standings = [one for each in shared for one in each.standings.values()]
        takes = tuple(record for each in shared for record in _taking(connection, row.id, each))
        return shared, count_places(standings), tuple(find_causes(standings)), takes

    return Look(opened, *_LOOKS.get(key, make))


def _taking(connection: Connection, destination_id: int, shared: Shared) -> Iterator[int]:
    """List who would lose a privilege and stay."""
    if not shared.outgoing.privileges:
        return
    changing = [
        one
        for one in shared.standings.values()
        if one.place == Place.TO_SEND and one.act == Act.CHANGE
    ]
    known = store.list_known(connection, destination_id, [one.record for one in changing])
    for standing in changing:
        before, after = known[standing.record].content, content_of(shared, standing)
        if before is not None and after is not None:
            lost = set(before.groups) - set(after.groups)
            if lost & shared.outgoing.privileges:
                yield standing.record


def _share_all(connection: Connection, opened: OpenDestination, today: date) -> tuple[Shared, ...]:
    """Lay out all rosters: who has a name there, of whichever roster, keeps others from it."""
    unique = {put.to for share in opened.destination.shares for put in share.puts if put.is_unique}
    told = {
        name: store.list_told(connection, opened.row.id, roster.id)
        for name, roster in opened.rosters.items()
    }

    def composes(name: str) -> bool:
        share = opened.destination.share_of(name)
        return share is not None and any(put.is_unique for put in share.puts)

    taken = {to: set(opened.row.taken.get(to, ())) for to in unique}
    found = []
    # first those whose names are what they are
    for name in sorted(opened.rosters, key=lambda name: (composes(name), name)):
        mine = {to: set(texts) for to, texts in taken.items()}
        for other, known in told.items():
            if other != name:
                for one in known.values():
                    for to, text in one.own.items():
                        mine.setdefault(to, set()).add(text)
        shared = _share(connection, opened, name, told[name], mine, today)
        puts = shared.outgoing.share.puts
        for put, column in zip(puts, shared.outgoing.columns, strict=True):
            if put.to in unique:
                taken[put.to].update(text for text in column if text)
        found.append(shared)
    return tuple(sorted(found, key=lambda shared: shared.roster))


def _share(
    connection: Connection,
    opened: OpenDestination,
    name: str,
    told: Mapping[int, Told],
    taken: Mapping[str, Collection[str]],
    today: date,
) -> Shared:
    roster, share = opened.rosters[name], opened.destination.share_of(name)
    snapshot = load_snapshot(connection, roster)
    outgoing = (
        lay_out_nothing(name)
        if share is None
        else lay_out(
            share,
            snapshot,
            load_codes(connection),
            today,
            {record: one.own for record, one in told.items() if one.own},
            taken,
            _faults(opened.destination),
        )
    )
    # of a roster that is shared no more, those alone who are still there
    records = [] if share is None else snapshot.ids.tolist()
    by_record = {one.record: one for one in stand(outgoing, records, told)}
    return Shared(name, roster.id, roster.version, outgoing, told, by_record, taken)


def _faults(destination: Destination) -> Callable[[Put, str], str]:
    way = destination.way

    def of(put: Put, text: str) -> str:
        return fault_of(way, put, text) if isinstance(way, FileWay) else ""

    return of


def content_of(shared: Shared, standing: Standing) -> Content | None:
    """Give what a destination should hold of a record; None for nothing."""
    return shared.outgoing.content(standing.at) if standing.at >= 0 else None


def choose_rows(
    context: Context,
    look: Look,
    place: str,
    text: str,
    *,
    start: int,
    limit: int,
    code: str | None = None,
) -> tuple[int, list[Row]]:
    """Give a page of the records of a destination, what wants somebody first.

    Args:
        context: Database.
        look: The destination.
        place: Where those stand that are wanted; "" for anywhere.
        text: What their number or name has in it; "" for anything.
        start: How many are passed over.
        limit: How many are given.
        code: By which they are refused; None for any.

    Returns:
        How many there are, and the page.
    """
    with context.database.transaction() as connection:
        wanted = text.casefold().strip()
        chosen: list[tuple[Shared, Standing]] = []
        for shared in look.shared:
            snapshot = load_snapshot(connection, look.opened.rosters[shared.roster])
            names = _Names(connection, shared, snapshot)
            for standing in shared.standings.values():
                if place not in ("", standing.place) or code not in (None, standing.code):
                    continue
                if wanted and not any(
                    wanted in one.casefold() for one in names.of(standing.record)
                ):
                    continue
                chosen.append((shared, standing))
        chosen.sort(key=lambda pair: ORDER.index(pair[1].place))
        page = chosen[start : start + limit]
        return len(chosen), _rows(connection, look, page)


def _rows(connection: Connection, look: Look, page: list[tuple[Shared, Standing]]) -> list[Row]:
    takes = set(look.takes)
    known = store.list_known(connection, look.opened.row.id, [one.record for _, one in page])
    rows = []
    for shared in look.shared:
        mine = [standing for each, standing in page if each is shared]
        snapshot = load_snapshot(connection, look.opened.rosters[shared.roster])
        names = _Names(connection, shared, snapshot)
        moving = [one.record for one in mine if one.act != Act.NONE]
        since = {record: known[record].version if record in known else 0 for record in moving}
        reasons = list_reasons(connection, shared.roster_id, since)
        for standing in mine:
            record = standing.record
            key, name = names.of(record)
            before = known[record].content if record in known and known[record].is_there else None
            after = content_of(shared, standing) if standing.act != Act.END else None
            moved = tuple(find_moved(before, after)) if standing.act != Act.NONE else ()
            rows.append(
                Row(
                    record,
                    shared.roster,
                    key,
                    name,
                    standing,
                    moved,
                    record in takes,
                    reasons.get(record),
                    (known[record].held_reason or "") if record in known else "",
                    say_because(standing, reasons.get(record), known.get(record)),
                )
            )
    order = {standing.record: place for place, (_, standing) in enumerate(page)}
    return sorted(rows, key=lambda row: order[row.record])


def say_because(standing: Standing, reason: Reason | None, known: store.Known | None) -> str:
    """Say because of what a record is to be sent."""
    if standing.act == Act.NONE:
        return ""
    if reason is not None:
        return f"receipt {reason.change_set}" if reason.kind != "opening" else "the opening"
    if known is None or known.content is None:
        return "in the roster"
    return known.problem or "the layout, or its day"


class _Names:
    """Names records, those that have left their roster too."""

    def __init__(self, connection: Connection, shared: Shared, snapshot: Snapshot) -> None:
        self._snapshot = snapshot
        self._places = snapshot.places()
        gone = [record for record in shared.standings if record not in self._places]
        self._left: dict[int, str] = {}
        if gone and not connection.sight.covers(shared.roster_id):
            self._left = list_last_contents(connection, gone)

    def of(self, record: int) -> tuple[str, str]:
        """Give the number by which a record is known, and its name."""
        definition = self._snapshot.definition
        place = self._places.get(record)
        if place is not None:
            columns = self._snapshot.columns
            keys = [columns[name].at(place) or "" for name in definition.primary_key]
            return " ".join(keys), name_person(definition, lambda name: columns[name].at(place))
        values = json.loads(self._left.get(record) or "{}")
        return person_key(definition, values), name_person(
            definition, lambda name: str(values.get(name) or "")
        )


def names_of_records(
    connection: Connection, look: Look, records: Collection[int]
) -> dict[int, tuple[str, str]]:
    """Name some records: number and name, by record."""
    found: dict[int, tuple[str, str]] = {}
    for shared in look.shared:
        snapshot = load_snapshot(connection, look.opened.rosters[shared.roster])
        names = _Names(connection, shared, snapshot)
        found |= {record: names.of(record) for record in records if record in shared.standings}
    return found
