"""Sources: what was learnt from their files, taken over by the next one, read and written by
hand.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.masking import sensitive_fields
from nevefield.core.recipes import Recipe, learn, read_recipe
from nevefield.core.texts import key_of
from nevefield.intakes.errors import NoSuchSource
from nevefield.rosters.snapshots import load_definition
from nevefield.store import rosters as roster_store
from nevefield.store import sources as store
from nevefield.store.audit import insert_audit
from nevefield.store.intakes import set_source

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.reading import ReadingChoice
    from nevefield.core.steps import Decisions
    from nevefield.store.connection import Connection
    from nevefield.store.intakes import Intake
    from nevefield.store.rosters import Roster

__all__ = [
    "KnownSource",
    "OpenSource",
    "is_guessed",
    "known_sources",
    "learn_from",
    "list_sources",
    "open_source",
    "recipe_of",
    "recipe_step",
    "source_of",
    "write_recipe",
]


@dataclass(frozen=True)
class KnownSource:
    """A source with its recipe, if it has one."""

    id: int
    roster_id: int
    name: str
    version: int
    recipe: Recipe | None
    part_id: int | None = None  # of the roster, from which its files come


def known_sources(
    connection: Connection, definitions: Mapping[int, Definition]
) -> list[KnownSource]:
    """List the sources of some rosters; a recipe that a later definition made wrong counts as none.

    Of a roster that may only be looked at, recipes say nothing of kept fields.

    Args:
        connection: Inside a transaction.
        definitions: By the roster's number.
    """
    sources = []
    for source in store.list_sources(connection):
        if source.roster_id in definitions:
            recipe = _recipe(source, definitions[source.roster_id])
            if recipe is not None and connection.sight.covers(source.roster_id):
                recipe = recipe.without(sensitive_fields(definitions[source.roster_id]))
            sources.append(
                KnownSource(
                    source.id,
                    source.roster_id,
                    source.name,
                    source.version,
                    recipe,
                    source.part_id,
                )
            )
    return sources


@dataclass(frozen=True)
class OpenSource:
    """A source, the roster that its files are for, and the versions of its recipe."""

    source: KnownSource
    roster: Roster
    definition: Definition
    versions: list[tuple[int, int | None, str, datetime]]  # number, intake, by whom, when


def list_sources(context: Context) -> list[tuple[KnownSource, Roster]]:
    """List the sources of the rosters that may be looked at, each with its roster."""
    with context.database.transaction() as connection:
        rosters = {roster.id: roster for roster in roster_store.list_seen(connection)}
        definitions = {
            number: load_definition(connection, roster) for number, roster in rosters.items()
        }
        return [
            (source, rosters[source.roster_id]) for source in known_sources(connection, definitions)
        ]


def open_source(context: Context, source_id: int) -> OpenSource:
    """Open a source.

    Raises:
        NoSuchSource: There is none.
    """
    with context.database.transaction() as connection:
        found = store.get_source(connection, source_id)
        roster = roster_store.get_roster_by_id(connection, found.roster_id) if found else None
        if roster is None:
            raise NoSuchSource(source_id)
        definition = load_definition(connection, roster)
        known = known_sources(connection, {roster.id: definition})
        source = next(source for source in known if source.id == source_id)
        return OpenSource(source, roster, definition, store.list_recipes(connection, source_id))


def _recipe(source: store.Source, definition: Definition) -> Recipe | None:
    if source.recipe is None:
        return None
    steps = [step for step in source.recipe.get("steps", []) if _fits(step, definition)]
    return read_recipe({**source.recipe, "steps": steps}, definition)


def _fits(step: dict[str, Any], definition: Definition) -> bool:
    """Tell whether a step is about fields that the definition still has."""
    names = [
        step.get("field"),
        *step.get("into", ()),
        *(name for key in step.get("keys") or () for name in key),
    ]
    names += [piece.get("field") for piece in (step.get("pattern") or {}).get("pieces", ())]
    return all(name in definition.by_name for name in names if name)


def recipe_step(source: KnownSource, choice: ReadingChoice | None = None) -> dict[str, Any]:
    """Make the step that takes a recipe over.

    Args:
        source: With its recipe.
        choice: How the file was read in the end: a reading that could not be followed is left away.
    """
    if source.recipe is None:
        raise NoSuchSource(source.id)
    steps = [step.model_dump(mode="json") for step in source.recipe.steps]
    if choice is not None and not any(choice.__dict__.values()):
        steps = [step for step in steps if step["kind"] != "reading"]
    return {
        "kind": "recipe",
        "source": source.name,
        "version": source.version,
        "learnt": source.recipe.learnt,
        "steps": steps,
    }


def source_of(decisions: Decisions, intake: Intake) -> str:
    """Return the source that an intake's file comes from; "" for none."""
    return intake.source if decisions.source is None else decisions.source.name


def is_guessed(decisions: Decisions) -> bool:
    """Tell whether the source is a guess that nobody has confirmed."""
    return decisions.source is not None and decisions.source.by == "guess"


def recipe_of(
    connection: Connection, roster: Roster, part_id: int | None, name: str
) -> KnownSource | None:
    """Find a source of a roster, or of a part of it, by its name."""
    definition = load_definition(connection, roster)
    sources = known_sources(connection, {roster.id: definition})
    return next(
        (
            source
            for source in sources
            if source.part_id == part_id and key_of(source.name) == key_of(name)
        ),
        None,
    )


def learn_from(
    context: Context,
    connection: Connection,
    intake: Intake,
    roster: Roster,
    evaluation: Evaluation,
    account_id: int | None,
) -> int:
    """Learn from an intake that was applied, for the next file of its source.

    Returns:
        The version of the recipe; 0 when the intake has no source, or one that was guessed and that
        nobody has confirmed.
    """
    name = source_of(evaluation.decisions, intake)
    if name != intake.source:
        set_source(connection, intake.id, name)
    if not name or is_guessed(evaluation.decisions):
        return 0
    source_id = store.ensure_source(connection, roster.id, intake.part_id, name, context.now())
    known = recipe_of(connection, roster, intake.part_id, name)
    before = known.recipe if known else None
    recipe = learn(evaluation, roster.name, name, intake.file_name, context.today(), before)
    document = recipe.model_dump(mode="json")
    return store.insert_recipe(
        connection, source_id, document, intake.id, account_id, context.now()
    )


def write_recipe(context: Context, source_id: int, document: Any, account_id: int | None) -> int:
    """Put a recipe written by hand, or brought from elsewhere, in the place of the one that was
    learnt.

    Returns:
        Its version.

    Raises:
        NoSuchSource: There is none.
        WrongRecipe: With the place and what would be right.
    """
    with context.database.transaction() as connection:
        source = store.get_source(connection, source_id)
        roster = roster_store.get_roster_by_id(connection, source.roster_id) if source else None
        if source is None or roster is None:
            raise NoSuchSource(source_id)
        given = {**document, "source": source.name} if isinstance(document, dict) else document
        recipe = read_recipe(given, load_definition(connection, roster))
        version = store.insert_recipe(
            connection, source_id, recipe.model_dump(mode="json"), None, account_id, context.now()
        )
        insert_audit(
            connection, "recipe-written", source.name, account_id, context.now(), version=version
        )
    return version
