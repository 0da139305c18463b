"""A file that may become a roster: what is proposed for it, what was said of that, and what the
file would do.
"""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.core.checking.starting import starting_checks
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import UnreadableFile
from nevefield.core.evaluate import Evaluation, Inputs, evaluate, quiet
from nevefield.core.opening import Proposal, propose, read_choices
from nevefield.core.opening.looks import Look, find_missing, look_at
from nevefield.core.opening.naming import make_name, title_of_file
from nevefield.core.reading import ReadingChoice
from nevefield.core.reading.secrets import find_secrets
from nevefield.core.snapshot import Snapshot
from nevefield.core.stages import TOTAL
from nevefield.intakes.receiving import Fit, fit_rosters
from nevefield.openings.errors import NoSuchOpening, OpeningMoved
from nevefield.rosters.snapshots import Cache, name_of
from nevefield.store import openings as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.borders import Json
    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Progress
    from nevefield.core.reading import Reading
    from nevefield.core.table import Table
    from nevefield.store.connection import Connection

__all__ = ["Draft", "alter", "begin", "forget", "list_drafts", "look"]

KEPT = timedelta(days=14)  # that a file waits to become a roster
_READINGS = Cache(4)
_DRAFTS = Cache(8)
_FITS = Cache(8)


@dataclass(frozen=True)
class Draft:
    """A file that may become a roster, and all that follows from it.

    Args:
        opening: What is kept of it.
        reading: How the file is read.
        looks: What stands under each of its headings, in their order.
        proposal: With what was said; its document has the checks that such fields suggest.
        definition: Read from it.
        evaluation: What the file would do.
        taken: Names of rosters that there are.
        fits: How well the file fits the rosters that there are, the best first.
    """

    opening: store.Opening
    reading: Reading
    looks: tuple[Look, ...]
    proposal: Proposal
    definition: Definition
    evaluation: Evaluation
    taken: frozenset[str]
    fits: tuple[Fit, ...] = ()


def begin(
    context: Context, file_name: str, data: bytes, account_id: int, progress: Progress = quiet
) -> int:
    """Keep a file that may become a roster; of one that holds secrets the rows without them.

    Returns:
        The number under which it waits.

    Raises:
        UnreadableFile: It is no table, or one without rows.
    """
    name = re.split(r"[\\/]", file_name)[-1][:255] or "file"
    progress("Looking what kind of file it is", 0, TOTAL)
    table, reading = context.readers.read(data, account=account_id)
    if not any(map(_look_says, _look(table))):
        raise UnreadableFile(
            f"Nobody stands in “{name}”: it has no row with anything in it.",
            "Export it again with its people, or begin a roster from nothing.",
        )
    is_secret = bool(reading.secrets) or bool(find_secrets(table, frozenset()))
    kept = (
        context.readers.keep(data, ReadingChoice(), frozenset(), account=account_id)
        if is_secret
        else None
    )
    with context.database.transaction() as connection:
        store.delete_old(connection, context.now() - KEPT)
        number = store.insert_opening(
            connection,
            store.NewOpening(
                account_id=account_id,
                file_name=name,
                file_hash=hashlib.sha256(data).digest(),
                content=kept or data,
                held_secrets=kept is not None,
                at=context.now(),
            ),
        )
        insert_audit(connection, "opening-begun", name, account_id, context.now(), size=len(data))
    return number


def list_drafts(context: Context, account_id: int) -> list[store.Opening]:
    """List the files of an account that wait to become a roster, the last first."""
    with context.database.transaction() as connection:
        return store.list_openings(connection, account_id)


def look(context: Context, number: int, account_id: int, progress: Progress = quiet) -> Draft:
    """Look at a file that may become a roster.

    Raises:
        NoSuchOpening: There is none of this account's.
    """
    with context.database.transaction() as connection:
        opening = require(connection, number, account_id)
        key = _key(context, connection, opening)
    draft: Draft = _DRAFTS.get(
        key, lambda: _work_out(context, opening, _read(context, opening), key, progress)
    )
    return draft


@dataclass(frozen=True)
class _Key:
    """By what a draft is kept in memory."""

    database: object  # its name
    number: int
    version: int
    taken: frozenset[str]
    lists: frozenset[str]
    day: date


def _key(context: Context, connection: Connection, opening: store.Opening) -> _Key:
    return _Key(
        name_of(connection),
        opening.id,
        opening.version,
        frozenset(roster.name for roster, _ in roster_store.list_rosters(connection)),
        frozenset(name for name, _ in roster_store.get_code_versions(connection)),
        context.today(),
    )


@dataclass(frozen=True)
class _File:
    """A file as it is read, with what does not rest on what was said of its proposal."""

    table: Table
    reading: Reading
    looks: tuple[Look, ...]


def _read(context: Context, opening: store.Opening) -> _File:
    """Read the file, or what is kept of it."""

    def read() -> _File:
        with context.database.transaction() as connection:
            content = store.get_content(connection, opening.id)
        table, reading = context.readers.read(
            content, is_kept=opening.held_secrets, account=opening.account_id
        )
        return _File(table, reading, _look(table))

    with context.database.transaction() as connection:
        key = (name_of(connection), opening.id)
    found: _File = _READINGS.get(key, read)
    return found


def _look(table: Table) -> tuple[Look, ...]:
    missing = frozenset(find_missing(table.columns))
    return tuple(
        look_at(heading, column, missing)
        for heading, column in zip(table.headings, table.columns, strict=True)
    )


def _look_says(look: Look) -> bool:
    return look.filled > 0


def _fits(context: Context, key: _Key, file: _File) -> tuple[Fit, ...]:
    """Tell how well the file fits the rosters that there are: the same whatever is said of it."""
    known: tuple[Fit, ...] = _FITS.get(
        (key.database, key.number, key.taken),
        lambda: tuple(fit_rosters(context, file.table, file.reading)),
    )
    return known


def require(
    connection: Connection, number: int, account_id: int, *, lock: bool = False
) -> store.Opening:
    """Find a file that waits to become a roster.

    Raises:
        NoSuchOpening: There is none of this account's.
    """
    opening = store.get_opening(connection, number, lock=lock)
    if opening is None or opening.account_id != account_id or opening.roster_id is not None:
        raise NoSuchOpening(number)
    return opening


def _work_out(
    context: Context,
    opening: store.Opening,
    file: _File,
    key: _Key,
    progress: Progress,
) -> Draft:
    progress("Looking what stands under each heading", 0, TOTAL)
    choices = read_choices(opening.choices)
    title = title_of_file(opening.file_name)
    proposal = propose(
        file.table,
        context.today(),
        secrets=file.reading.secrets,
        name=make_name(title, key.taken),
        title=title,
        region=context.settings.region,
        choices=choices,
    )
    proposal = _complete(proposal)
    definition = read_definition(proposal.document)
    inputs = Inputs(
        b"",
        [],
        definition,
        proposal.lists,
        Snapshot.empty(definition),
        context.today(),
        read=(file.table, file.reading),
    )
    return Draft(
        opening,
        file.reading,
        file.looks,
        proposal,
        definition,
        evaluate(inputs, progress=progress),
        key.taken,
        _fits(context, key, file),
    )


def _complete(proposal: Proposal) -> Proposal:
    """Add the checks that such fields suggest to those that the file showed."""
    document = proposal.document
    own = dict(document.get("nevefield", {}))
    had = own.get("checks", [])
    definition = read_definition(document)
    declared = {(one["check"], tuple(one["fields"])) for one in had}
    # of people who are in a list already, what has ended or runs out is told and asks for nothing
    fresh = [
        {**one, "weight": "note"} if one["check"] in ("ended", "runs-out") else one
        for one in starting_checks(definition)
        if (one["check"], tuple(one["fields"])) not in declared
    ]
    checks = [*had, *fresh]
    own = {**own, "checks": checks}
    return Proposal({**document, "nevefield": own}, proposal.lists, proposal.seen)


def alter(context: Context, number: int, choices: Json, seen: int, account_id: int) -> Draft:
    """Keep what was said of a proposal, and work out what follows; what cannot be is not kept.

    Args:
        context: Database and clock.
        number: Of the file that may become a roster.
        choices: All that was said of the proposal, see `core.opening.choices`.
        seen: The version that this was said of.
        account_id: Whose it is.

    Raises:
        NoSuchOpening: There is none of this account's.
        OpeningMoved: It was altered elsewhere meanwhile.
        WrongDefinition: What was said cannot be.
    """
    document = read_choices(choices).model_dump(mode="json", exclude_defaults=True)
    with context.database.transaction() as connection:
        opening = require(connection, number, account_id)
        now = _key(context, connection, opening)
    if opening.version != seen:
        raise OpeningMoved
    after = replace(opening, choices=document, version=opening.version + 1)
    # what does not come to a definition is told before it is kept
    draft = _work_out(context, after, _read(context, opening), now, quiet)
    with context.database.transaction() as connection:
        if require(connection, number, account_id, lock=True).version != seen:
            raise OpeningMoved
        store.set_choices(connection, number, document)
        key = _key(context, connection, after)
    kept: Draft = _DRAFTS.get(key, lambda: draft)
    return kept


def forget(context: Context, number: int, account_id: int) -> None:
    """Throw a file away that waits to become a roster; nothing of it is left but a line in the
    trail.
    """
    with context.database.transaction() as connection:
        opening = require(connection, number, account_id, lock=True)
        store.delete_opening(connection, number)
        insert_audit(
            connection, "opening-thrown-away", opening.file_name, account_id, context.now()
        )
