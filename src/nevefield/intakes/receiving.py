"""Take a file in: which roster and source it is of, and the first reading; nothing is stored of
a file that cannot be read.
"""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.columns.pairing import known_headings, look_at_values, pair_columns
from nevefield.core.crediting import Candidate, credit_file
from nevefield.core.errors import CoreError, NotRead, UnreadableFile, WrongStep
from nevefield.core.evaluate import quiet
from nevefield.core.reading import ReadingChoice
from nevefield.core.reading.secrets import find_secrets
from nevefield.core.recipes import is_named, likeness_to_last
from nevefield.core.stages import TOTAL
from nevefield.core.steps import (
    active_steps,
    decide,
    read_step,
    refuse_moving,
    refuse_past,
    refuse_reason,
    refuse_unknown,
)
from nevefield.core.steps.kinds import PersonStep, ReadingStep, SetStep, SourceStep
from nevefield.core.texts import key_of
from nevefield.intakes.errors import CellConflict, NoSuchIntake, NotThrown, WrongRoster
from nevefield.intakes.evaluating import read_stored, within
from nevefield.intakes.sources import KnownSource, known_sources, recipe_of, recipe_step
from nevefield.rosters.snapshots import load_codes, load_definition, require_roster
from nevefield.store import intakes as store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.store.sources import ensure_source

if TYPE_CHECKING:
    from typing import Any

    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.crediting import Credit
    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Progress
    from nevefield.core.reading import Reading
    from nevefield.core.steps import Step
    from nevefield.core.table import Table
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = ["Claims", "Fit", "add_step", "fit_rosters", "receive_file", "title_of"]

# share of the file's columns that must fit a roster for it to be taken for one of its files
ENOUGH = 0.4


@dataclass(frozen=True)
class Fit:
    """How well a file fits a roster."""

    roster: Roster
    columns: int  # of the file
    fitting: int  # that go to a field with certainty, or where there is no header, go to one at all
    has_key: bool


@dataclass(frozen=True)
class _Place:
    """Where a file belongs, and how it was read to find out."""

    roster: Roster
    definition: Definition
    source: KnownSource | None
    table: Table
    reading: Reading
    choice: ReadingChoice
    credit: Credit | None = None  # by which evidence the source was found


@dataclass(frozen=True)
class Claims:
    """What is said of a file that is dropped; the rest is found out."""

    roster: str = ""  # its name; "" to find it by source and columns
    coverage: str = ""  # "" as the source's last file did, else only the people in it
    source: str = ""  # the office or system that it comes from; "" to find it by evidence
    allowed: frozenset[int] | set[int] | None = None  # rosters that may be taken; None for all


def receive_file(
    context: Context,
    file_name: str,
    data: bytes,
    claims: Claims | None = None,
    *,
    account_id: int | None = None,
    progress: Progress = quiet,
) -> int:
    """Take a file in as a new intake.

    A file is taken for one of a source on evidence (see `crediting`); that and what was learnt
    there are the intake's first steps. Of a file that holds secrets only the rows without them are
    kept.

    Args:
        context: Database and clock.
        file_name: As the browser or the shell gave it; only its last part is kept.
        data: The bytes.
        claims: What is said of it; nothing when left out.
        account_id: Who.
        progress: Hears what is being done.

    Returns:
        The intake's number.

    Raises:
        UnreadableFile: It is no table; the attempt is noted.
        WrongRoster: It is for another roster, or for none.
    """
    claims = claims or Claims()
    name = re.split(r"[\\/]", file_name)[-1][:255] or "file"
    progress("Looking what kind of file it is", 0, TOTAL)
    try:
        place = _find_place(context, name, data, claims, account_id)
        known = known_headings(place.definition)
        secret = bool(place.reading.secrets) or bool(find_secrets(place.table, known))
        kept = (
            context.readers.keep(data, place.choice, known, account=account_id) if secret else None
        )
    except (CoreError, WrongRoster) as error:
        _note_refused(context, name, str(error), len(data), account_id)
        raise
    progress("Keeping the file", 0, TOTAL)
    digest = hashlib.sha256(data).digest()
    first = _first_steps(place, claims)
    source = next((step["name"] for step in first if step["kind"] == "source"), "")
    with context.database.transaction() as connection:
        store.insert_file(
            connection, digest, kept or data, context.now(), held_secrets=kept is not None
        )
        if source:
            part_id = connection.sight.part_id(place.roster.id)
            ensure_source(connection, place.roster.id, part_id, source, context.now())
        new = store.NewIntake(
            roster_id=place.roster.id,
            title=title_of(name),
            file_name=name,
            file_hash=digest,
            source=source,
            coverage=claims.coverage or "listed",
            account_id=account_id,
            at=context.now(),
        )
        intake_id = store.insert_intake(connection, new)
        for number, step in enumerate(first, 1):
            store.insert_step(connection, intake_id, number, step, account_id, context.now())
        insert_audit(
            connection,
            "file-received",
            name,
            account_id,
            context.now(),
            intake=intake_id,
            size=len(data),
        )
    return intake_id


def _note_refused(context: Context, name: str, why: str, size: int, account_id: int | None) -> None:
    with context.database.transaction() as connection:
        insert_audit(
            connection, "file-refused", name, account_id, context.now(), why=why, size=size
        )


def _first_steps(place: _Place, claims: Claims) -> list[dict[str, Any]]:
    """Make the steps with which an intake begins: where the file is from and why, what was
    learnt there, what it claims.
    """
    credit = place.credit
    steps: list[dict[str, Any]] = []
    if claims.source or place.source:
        name = place.source.name if place.source else claims.source
        by, why = (credit.by, credit.why) if credit else ("given", "")
        steps.append({"kind": "source", "name": name, "by": by, "why": why})
    elif place.reading.made_for:
        name = place.reading.made_for
        steps.append(
            {
                "kind": "source",
                "name": name,
                "by": "sheet",
                "why": f"It is our request sheet, made for {name}.",
            }
        )
    if place.source and place.source.recipe:
        steps.append(recipe_step(place.source, place.choice))
        if claims.coverage:  # what is said now counts before what was so last time
            steps.append({"kind": "coverage", "of": claims.coverage})
    return steps


def title_of(name: str) -> str:
    """Make an intake's title of its file's name."""
    stem = re.sub(r"\.[A-Za-z0-9]{1,5}$", "", name)
    words = re.sub(r"[_-]+", " ", stem).strip() or name
    return (words[:1].upper() + words[1:])[:200]


def _find_place(
    context: Context,
    file_name: str,
    data: bytes,
    claims: Claims,
    account_id: int | None,
) -> _Place:
    """Find the roster and source of a file: the source whose last file it is like, else the
    roster whose fields fit best.
    """
    wanted, source = claims.roster, claims.source
    with context.database.transaction() as connection:
        if wanted:
            require_roster(connection, wanted)
        rosters = [
            roster
            for roster, _ in roster_store.list_rosters(connection)
            if claims.allowed is None or roster.id in claims.allowed
        ]
        definitions = {roster.id: load_definition(connection, roster) for roster in rosters}
        every = [
            known
            for known in known_sources(connection, definitions)
            if known.part_id == connection.sight.part_id(known.roster_id)
        ]
        codes = load_codes(connection)
    if not rosters:
        raise WrongRoster("There is no roster that you may prepare a file for.")
    known = frozenset().union(*(known_headings(definition) for definition in definitions.values()))
    table, reading = context.readers.read(data, known=known, account=account_id)
    by_name = {roster.name: roster for roster in rosters}
    if wanted and wanted not in by_name:
        raise WrongRoster("You may not prepare a file for this roster.")
    at_home = [source for source in every if not wanted or source.roster_id == by_name[wanted].id]
    credit = None
    if source:
        found = _named_source(at_home, source, table, reading, file_name)
    else:
        candidates = [
            Candidate(source.name, source.recipe, known_headings(definitions[source.roster_id]))
            for source in at_home
        ]
        credit = credit_file(candidates, table, reading, file_name)
        found = at_home[credit.place] if credit else None
    if found is not None and (credit or found.recipe is not None):
        roster = next(roster for roster in rosters if roster.id == found.roster_id)
        definition = definitions[roster.id]
        again = _read_as_learnt(context, data, found, known_headings(definition), account_id)
        return _Place(
            roster, definition, found, *(again or (table, reading, ReadingChoice())), credit
        )
    fits = [
        _fit(roster, definitions[roster.id], table, reading, codes, context) for roster in rosters
    ]
    roster = _choose(fits, wanted)
    named = (
        one
        for one in every
        if source and one.roster_id == roster.id and key_of(one.name) == key_of(source)
    )
    return _Place(
        roster, definitions[roster.id], next(named, None), table, reading, ReadingChoice()
    )


def _named_source(
    sources: list[KnownSource], name: str, table: Table, reading: Reading, file_name: str
) -> KnownSource | None:
    """Find a source by its name; of several rosters' the one whose last file this one is most
    like.
    """
    mine = [source for source in sources if key_of(source.name) == key_of(name)]
    return max(
        mine,
        key=lambda one: (
            likeness_to_last(one.recipe, table, reading, file_name) if one.recipe else 0.0
        ),
        default=None,
    )


def _read_as_learnt(
    context: Context,
    data: bytes,
    source: KnownSource,
    known: frozenset[str],
    account_id: int | None,
) -> tuple[Table, Reading, ReadingChoice] | None:
    """Read a file as the source's earlier ones were; None when it cannot be read so, and the
    reading is decided afresh.
    """
    step = recipe_step(source) if source.recipe else None
    choice = decide([read_step(step)]).reading if step else ReadingChoice()
    try:
        return (*context.readers.read(data, choice, known, account=account_id), choice)
    except NotRead:
        raise
    except UnreadableFile:
        return None


def _fit(
    roster: Roster,
    definition: Definition,
    table: Table,
    reading: Reading,
    codes: dict[str, CodeList],
    context: Context,
) -> Fit:
    named = is_named(reading)
    evidence = look_at_values(table, definition, codes, context.today(), named=named)
    pairs = pair_columns(table.headings, definition, reading.secrets, evidence=evidence)
    sent = {
        name
        for pair in pairs
        if pair.certain or not named
        for name in (pair.field, *pair.parts)
        if name
    }
    has_key = bool(definition.primary_key) and all(name in sent for name in definition.primary_key)
    return Fit(roster, len(table.headings), len(sent), has_key)


def fit_rosters(context: Context, table: Table, reading: Reading) -> list[Fit]:
    """Tell how well a file fits the rosters that there are, the best first."""
    with context.database.transaction() as connection:
        rosters = [roster for roster, _ in roster_store.list_rosters(connection)]
        definitions = {roster.id: load_definition(connection, roster) for roster in rosters}
        codes = load_codes(connection)
    fits = [
        _fit(roster, definitions[roster.id], table, reading, codes, context) for roster in rosters
    ]
    return sorted(fits, key=lambda fit: (fit.has_key, fit.fitting), reverse=True)


def _choose(fits: list[Fit], wanted: str) -> Roster:
    best = max(fits, key=lambda fit: (fit.has_key, fit.fitting))
    if not wanted:
        if best.fitting < max(1, ENOUGH * best.columns) and not best.has_key:
            raise WrongRoster(
                f"The columns fit no roster: of {best.columns}, {best.fitting} are known in"
                f" {best.roster.title}. Is this the right file? Its headings should name what the"
                " columns hold."
            )
        return best.roster
    chosen = next(fit for fit in fits if fit.roster.name == wanted)
    if best.has_key and not chosen.has_key and best.fitting > chosen.fitting:
        raise WrongRoster(
            f"This looks like a file for {best.roster.title} ({best.fitting} of"
            f" {best.columns} columns fit), not for {chosen.roster.title} ({chosen.fitting} fit)."
            " Drop it there instead."
        )
    if chosen.fitting == 0:
        raise WrongRoster(
            f"No column of the file fits {chosen.roster.title}. Is this the right file?"
        )
    return chosen.roster


def add_step(
    context: Context, intake_id: int, document: Any, account_id: int | None, seen: int | None = None
) -> int:
    """Add a step to an intake.

    Args:
        context: Database and clock.
        intake_id: The intake.
        document: The step's JSON.
        account_id: Who.
        seen: How many steps there were when it was decided; None when nobody looked.

    Returns:
        The step's number.

    Raises:
        NoSuchIntake: There is none.
        UnreadableFile: It is about the reading, and the file cannot be read so.
        WrongStep: It is none.
        CellConflict: It sets a cell that somebody else has set to something else since `seen`.
    """
    step = read_step(document)
    with context.database.transaction() as connection:
        # The lock comes before the first plain read, which fixes what the transaction sees: others'
        # steps must be in it.
        number = store.lock_intake(connection, intake_id) + 1
        intake = store.get_intake(connection, intake_id)
        if intake is None:
            raise NoSuchIntake(intake_id)
        if intake.thrown_at is not None:
            raise NotThrown("this file was thrown away; take it back first")
        before = [read_step(step.step) for step in store.list_steps(connection, intake_id)]
        refuse_past(step, before)
        if isinstance(step, ReadingStep):
            # A file that cannot be read so would close the intake: it is read in the new way before
            # the step is kept.
            _read_anew(context, connection, intake, decide([*before, step]).reading)
        roster = roster_store.get_roster_by_id(connection, intake.roster_id)
        if roster is not None:
            definition = load_definition(connection, roster)
            refuse_unknown(step, definition)
            refuse_reason(step, definition, load_codes(connection), context.today())
            refuse_moving(step, decide(before), definition)
        if isinstance(step, PersonStep):
            _refuse_strangers(within(connection, intake), step, intake.roster_id)
        if seen is not None and isinstance(step, SetStep) and seen < number - 1:
            _refuse_conflict(connection, intake_id, step, seen, account_id)
        known = None
        if isinstance(step, SourceStep):
            if step.by != "hand":
                raise WrongStep("Only the product itself guesses where a file is from.")
            if step.name and roster:
                known = recipe_of(connection, roster, intake.part_id, step.name)
            step = step.model_copy(update={"name": known.name if known else step.name})
        store.insert_step(
            connection, intake_id, number, step.model_dump(mode="json"), account_id, context.now()
        )
        if isinstance(step, SourceStep) and step.name:
            # What was learnt there before is taken over, under what was decided in this intake.
            ensure_source(connection, intake.roster_id, intake.part_id, step.name, context.now())
            if known and known.recipe and not _has_recipe(before, known):
                number += 1
                learnt = _followable(
                    context, connection, intake, intake_id, recipe_step(known), known
                )
                store.insert_step(connection, intake_id, number, learnt, account_id, context.now())
    return number


def _has_recipe(steps: list[Step], known: KnownSource) -> bool:
    """Tell whether what was learnt from a source was taken over already, as it stands: saying so
    again says nothing new.
    """
    recipe = decide(steps).recipe
    return recipe is not None and (recipe.source, recipe.version) == (known.name, known.version)


def _followable(
    context: Context,
    connection: Connection,
    intake: store.Intake,
    intake_id: int,
    learnt: dict[str, Any],
    known: KnownSource,
) -> dict[str, Any]:
    """Leave the reading out of what was learnt when this file cannot be read so: it would close
    the intake.
    """
    steps = [read_step(step.step) for step in store.list_steps(connection, intake_id)]
    try:
        _read_anew(context, connection, intake, decide([*steps, read_step(learnt)]).reading)
    except UnreadableFile:
        return recipe_step(known, ReadingChoice())
    return learnt


def _refuse_strangers(connection: Connection, step: PersonStep, roster_id: int) -> None:
    """See that a step about who rows are names records of this roster only."""
    for choice in step.choices:
        if (
            choice.record is not None
            and record_store.get_record_roster(connection, choice.record) != roster_id
        ):
            raise WrongStep(
                f"There is no record {choice.record} in this roster; line {choice.line} cannot"
                " be it."
            )


def _refuse_conflict(
    connection: Connection, intake_id: int, step: SetStep, seen: int, account_id: int | None
) -> None:
    """See that nobody else has set one of a step's cells to something else since it was decided."""
    mine = {(cell.line, cell.field): cell.value for cell in step.cells}
    rows = store.list_steps(connection, intake_id)
    holding = {number for number, _ in active_steps([read_step(row.step) for row in rows])}
    for row in rows[seen:]:
        if row.step["kind"] != "set" or row.number not in holding or row.account_id == account_id:
            continue
        for cell in row.step["cells"]:
            yours = mine.get((cell["line"], cell["field"]))
            if yours is not None and yours != cell["value"]:
                raise CellConflict(row.account, cell["line"], cell["field"], cell["value"], yours)


def _read_anew(
    context: Context, connection: Connection, intake: store.Intake, choice: ReadingChoice
) -> None:
    """Read an intake's file in another way; secrets that come to light by it are taken out of
    what is kept.
    """
    content, held_secrets = store.get_file(connection, intake.file_hash)
    _, reading = read_stored(context, content, held_secrets, choice, frozenset())
    if reading.secrets and not held_secrets:
        kept = context.readers.keep(content, choice, frozenset())
        if kept is not None:
            store.replace_file(connection, intake.file_hash, kept)
