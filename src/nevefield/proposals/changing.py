"""Change many records at once: as an intake of the roster's own records, with the same plan,
guards, approval, receipt, undo.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.changes.many import check_acts, say_act, write_rows
from nevefield.core.errors import WrongStep
from nevefield.intakes.evaluating import open_intake
from nevefield.rosters.snapshots import load_definition, load_snapshot, require_roster
from nevefield.store import intakes as store

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.context import Context
    from nevefield.core.changes.many import Act
    from nevefield.core.evaluate import Progress
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "MadeRows",
    "SaidRow",
    "SaidRows",
    "change_many",
    "first_steps",
    "keep_rows",
    "keep_said",
]


def change_many(
    context: Context,
    name: str,
    records: Sequence[int],
    acts: Sequence[Act],
    account_id: int | None,
    *,
    title: str = "",
    progress: Progress = lambda doing, done, total: None,
) -> int:
    """Work out what acts make of records, as an intake that somebody looks at and applies.

    Args:
        context: Database and clock.
        name: Of the roster.
        records: The records' numbers; those that have left the roster are passed over.
        acts: What becomes of them.
        account_id: Who.
        title: Of the intake; worded from the acts when left out.
        progress: Hears how far it is.

    Returns:
        The intake's number.

    Raises:
        NoSuchRoster: There is none.
        WrongStep: No record is chosen, or the acts cannot be done.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        definition, snapshot = (
            load_definition(connection, roster),
            load_snapshot(connection, roster),
        )
    check_acts(definition, acts)
    wanted = set(records)
    places = [place for place, number in enumerate(snapshot.ids.tolist()) if number in wanted]
    if not places:
        raise WrongStep("No record that is in the roster is chosen.")
    message = (
        title
        or f"{'; '.join(say_act(definition, act) for act in acts)}, {len(places):,} record{'s' * (len(places) != 1)}"  # noqa: E501
    )
    data = write_rows(snapshot, places, acts)
    fields = [act.field for act in acts]
    with context.database.transaction() as connection:
        number = keep_rows(
            context,
            connection,
            roster,
            snapshot,
            MadeRows(data=data, places=places, fields=fields, title=message),
            account_id,
        )
    open_intake(context, number, progress)
    return number


@dataclass(frozen=True)
class MadeRows:
    """Rows about known records that were made here."""

    data: bytes  # JSON lines
    places: Sequence[int]  # in the roster, of each row
    fields: Sequence[str]  # of which what the rows say counts
    title: str
    kind: str = "many"
    file_name: str = "by hand"
    # with which the intake begins; those of `first_steps` when left out
    steps: Sequence[dict[str, Any]] | None = None


def keep_rows(
    context: Context,
    connection: Connection,
    roster: Roster,
    snapshot: Snapshot,
    rows: MadeRows,
    account_id: int | None,
) -> int:
    """Keep rows that were made here as an intake; who each row is, and that its values count, are
    its first steps.
    """
    digest = hashlib.sha256(rows.data).digest()
    store.insert_file(connection, digest, rows.data, context.now())
    number = store.insert_intake(
        connection,
        store.NewIntake(
            roster_id=roster.id,
            title=rows.title[:200],
            file_name=rows.file_name[:255],
            file_hash=digest,
            source="",
            coverage="listed",
            account_id=account_id,
            at=context.now(),
            kind=rows.kind,
        ),
    )
    steps = rows.steps
    if steps is None:
        steps = first_steps(snapshot, rows.places, rows.fields)
    for place, step in enumerate(steps, 1):
        store.insert_step(connection, number, place, step, account_id, context.now())
    return number


@dataclass(frozen=True)
class SaidRow:
    """What somebody outside says of one person."""

    record: int | None  # None for somebody new
    values: Mapping[str, str]  # by field, as it is typed; of other fields nothing is said


@dataclass(frozen=True)
class SaidRows:
    """What somebody outside says of several, to be looked at."""

    rows: Sequence[SaidRow]
    title: str
    kind: str
    file_name: str


def keep_said(
    context: Context,
    connection: Connection,
    roster: Roster,
    snapshot: Snapshot,
    said: SaidRows,
    account_id: int | None,
) -> int:
    """Keep what somebody outside says as an intake: of each person counts what is said of them, and
    nothing else.
    """
    made = MadeRows(
        data=_write_said(snapshot, said.rows),
        places=(),
        fields=(),
        title=said.title,
        kind=said.kind,
        file_name=said.file_name,
        steps=_steps_of(said.rows),
    )
    return keep_rows(context, connection, roster, snapshot, made, account_id)


def _write_said(snapshot: Snapshot, rows: Sequence[SaidRow]) -> bytes:
    """Write rows as JSON lines: the key, and every field that any of them is about; what is not
    said of somebody is empty, and does not count.
    """
    key = snapshot.definition.primary_key
    names = dict.fromkeys((*key, *(name for row in rows for name in row.values)), "")
    places = {int(record): place for place, record in enumerate(snapshot.ids.tolist())}
    lines = []
    for row in rows:
        place = places.get(row.record, -1) if row.record is not None else -1
        own = {name: snapshot.columns[name].at(place) or "" for name in key if place >= 0}
        lines.append(json.dumps(names | own | dict(row.values), ensure_ascii=False))
    return ("\n".join(lines) + "\n").encode()


def _steps_of(rows: Sequence[SaidRow]) -> list[dict[str, Any]]:
    """Make the first steps: who each is that is known, and that of every field what is said counts,
    in the rows that say it.
    """
    lines: dict[str, list[int]] = {}
    for line, row in enumerate(rows, 1):
        for name in row.values:
            lines.setdefault(name, []).append(line)
    choices = [
        {"line": line, "record": row.record}
        for line, row in enumerate(rows, 1)
        if row.record is not None
    ]
    steps: list[dict[str, Any]] = [{"kind": "person", "choices": choices}] if choices else []
    for name, mine in lines.items():
        steps.append({"kind": "update", "field": name, "rule": "filled"})
        steps.append({"kind": "update", "field": name, "rule": "file", "lines": mine})
    return steps


def first_steps(
    snapshot: Snapshot, places: Sequence[int], fields: Sequence[str]
) -> list[dict[str, Any]]:
    """Make the steps with which rows about known records begin: who each is, and that what is
    said of a field counts.
    """
    choices = [
        {"line": line, "record": int(snapshot.ids[place])} for line, place in enumerate(places, 1)
    ]
    rules = [{"kind": "update", "field": name, "rule": "file"} for name in dict.fromkeys(fields)]
    return [{"kind": "person", "choices": choices}, *rules]
