"""Take a file in: which roster it is for, and the first reading; nothing is stored of a file that cannot be read."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.columns.pairing import known_headings, pair_columns
from nevefield.core.errors import CoreError
from nevefield.core.reading import read_file
from nevefield.core.steps import decide, read_step
from nevefield.intakes.errors import NoSuchIntake, WrongRoster
from nevefield.rosters.snapshots import load_definition, require_roster
from nevefield.store import intakes as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from typing import Any

    from nevefield.context import Context
    from nevefield.store.rosters import Roster

__all__ = ["add_step", "receive_file"]

ENOUGH = 0.4  # share of the file's columns that must fit a roster for it to be taken for one of its files


@dataclass(frozen=True)
class _Fit:
    roster: Roster
    columns: int  # of the file
    fitting: int  # that go to a field with certainty
    has_key: bool


def receive_file(
    context: Context,
    file_name: str,
    data: bytes,
    *,
    roster_name: str = "",
    allowed: set[int] | None = None,
    coverage: str = "listed",
    source: str = "",
    account_id: int | None = None,
) -> int:
    """Take a file in as a new intake.

    Args:
        context: Database and clock.
        file_name: As the browser or the shell gave it; only its last part is kept.
        data: The bytes.
        roster_name: "" to find the roster by the columns.
        allowed: Rosters that may be taken; None for all.
        coverage: What the file claims to be.
        source: The office or system that it comes from.
        account_id: Who.

    Returns:
        The intake's number.

    Raises:
        UnreadableFile: It is no table; the attempt is noted.
        WrongRoster: It is for another roster, or for none.
    """
    name = re.split(r"[\\/]", file_name)[-1][:255] or "file"
    try:
        roster = _find_roster(context, data, roster_name, allowed)
    except (CoreError, WrongRoster) as error:
        with context.database.transaction() as connection:
            insert_audit(connection, "file-refused", name, account_id, context.now(), why=str(error), size=len(data))
        raise
    digest = hashlib.sha256(data).digest()
    with context.database.transaction() as connection:
        store.insert_file(connection, digest, data, context.now())
        intake_id = store.insert_intake(
            connection, roster.id, _title_of(name), name, digest, source, coverage, account_id, context.now()
        )
        insert_audit(connection, "file-received", name, account_id, context.now(), intake=intake_id, size=len(data))
    return intake_id


def _title_of(name: str) -> str:
    stem = re.sub(r"\.[A-Za-z0-9]{1,5}$", "", name)
    words = re.sub(r"[_-]+", " ", stem).strip() or name
    return (words[:1].upper() + words[1:])[:200]


def _find_roster(context: Context, data: bytes, wanted: str, allowed: set[int] | None) -> Roster:
    """Find the roster whose fields the columns fit best."""
    with context.database.transaction() as connection:
        if wanted:
            require_roster(connection, wanted)
        rosters = [roster for roster, _ in roster_store.list_rosters(connection) if allowed is None or roster.id in allowed]
        definitions = {roster.id: load_definition(connection, roster) for roster in rosters}
    if not rosters:
        raise WrongRoster("There is no roster that you may prepare a file for.")
    known = frozenset().union(*(known_headings(one) for one in definitions.values()))
    table, reading = read_file(data, known=known)
    fits = []
    for roster in rosters:
        definition = definitions[roster.id]
        pairs = pair_columns(table.headings, definition, reading.secrets)
        certain = {pair.field for pair in pairs if pair.field and pair.certain}
        has_key = all(name in certain for name in definition.primary_key)
        fits.append(_Fit(roster, len(table.headings), len(certain), has_key))
    best = max(fits, key=lambda fit: (fit.has_key, fit.fitting))
    if not wanted:
        if best.fitting < max(1, ENOUGH * best.columns) and not best.has_key:
            raise WrongRoster(
                f"The columns fit no roster: of {best.columns}, {best.fitting} are known in {best.roster.title}. "
                "Is this the right file? Its headings should name what the columns hold."
            )
        return best.roster
    chosen = next((fit for fit in fits if fit.roster.name == wanted), None)
    if chosen is None:
        raise WrongRoster("You may not prepare a file for this roster.")
    if best.has_key and not chosen.has_key and best.fitting > chosen.fitting:
        raise WrongRoster(
            f"This looks like a file for {best.roster.title} ({best.fitting} of {best.columns} columns fit), "
            f"not for {chosen.roster.title} ({chosen.fitting} fit). Drop it there instead."
        )
    if chosen.fitting == 0:
        raise WrongRoster(f"No column of the file fits {chosen.roster.title}. Is this the right file?")
    return chosen.roster


def add_step(context: Context, intake_id: int, document: Any, account_id: int | None) -> int:
    """Add a step to an intake.

    Returns:
        The step's number.

    Raises:
        NoSuchIntake: There is none.
        UnreadableFile: It is about the reading, and the file cannot be read so.
        WrongStep: It is none.
    """
    step = read_step(document)
    with context.database.transaction() as connection:
        intake = store.get_intake(connection, intake_id)
        if intake is None:
            raise NoSuchIntake(intake_id)
        if step.kind == "reading":
            # A file that cannot be read so would close the intake: it is read in the new way before the step is kept.
            before = [read_step(one.step) for one in store.list_steps(connection, intake_id)]
            read_file(store.get_file(connection, intake.file_hash), decide([*before, step]).reading)
        number = store.lock_intake(connection, intake_id) + 1
        store.insert_step(connection, intake_id, number, step.model_dump(), account_id, context.now())
    return number
