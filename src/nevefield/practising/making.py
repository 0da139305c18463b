"""Make the practice copy: everything that is the institution's as it is, and made-up people in the
place of the real ones.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.core.defining.reading import read_definition
from nevefield.core.practice import (
    Making,
    agree,
    kind_of_field,
    texts_in,
    with_reserved_domains,
)
from nevefield.core.recipes import read_recipe
from nevefield.rosters.opening import insert_opened
from nevefield.rosters.snapshots import load_codes, load_snapshot
from nevefield.store import practice as store
from nevefield.store import rosters as roster_store
from nevefield.store import sources as source_store
from nevefield.store.audit import insert_audit
from nevefield.store.institution import get_institution, put_institution
from nevefield.store.parts import ensure_part, get_part, list_parts_in_use
from nevefield.store.schema import migrate

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping
    from datetime import datetime

    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.practice.chance import Chance
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.sources import Source

__all__ = ["make_practice"]

OPENED = "Made-up people to practise with"


@dataclass(frozen=True)
class _Real:
    """What there is, all of one moment."""

    rosters: dict[str, Roster]
    documents: dict[str, Any]
    snapshots: dict[str, Snapshot]
    codes: Mapping[str, CodeList]
    sources: list[Source]
    literals: dict[str, frozenset[str]]


def make_practice(
    context: Context,
    practice: Context,
    random: Chance,
    progress: Callable[[str, int, int], None],
) -> dict[str, Any]:
    """Make the practice copy anew; that which is there stays whole until this one takes its place.

    Args:
        context: The real database and the clock.
        practice: The same with the database of the practice copy.
        random: The source of chance: one that nobody can foresee.
        progress: Hears what is done, how much of it, and of how much.

    Returns:
        What it has: `rosters` with title and number of records; `differs`, where checks find
        something else in the made-up people; `given_on`, identifiers that are a real one of
        somebody else, as there was no room for others.
    """
    progress("reading what there is", 0, 1)
    real = _read(context)
    making = Making(real.snapshots, real.codes, context.today(), random, real.literals)
    made = making.make(progress)
    domains = making.domains()
    documents = {name: with_reserved_domains(one, domains) for name, one in real.documents.items()}
    definitions = {name: read_definition(one) for name, one in documents.items()}
    differs = agree(making, made, definitions, progress)
    progress("writing", 0, len(made))
    migrate(practice.database)
    with context.database.transaction() as here, practice.database.transaction() as there:
        store.clear_all(there)
        institution = get_institution(here)
        put_institution(there, institution)
        for name, codes in real.codes.items():
            roster_store.replace_code_list(there, name, codes.codes)
        numbers = {}
        for place, (name, snapshot) in enumerate(made.items()):
            progress(f"writing {definitions[name].title}", place, len(made))
            records = _shuffled(snapshot, random)
            numbers[real.rosters[name].id] = insert_opened(
                there, documents[name], records, at=context.now(), title=OPENED
            )
        store.copy_accounts(here, there, numbers)
        store.copy_designs(here, there, numbers)
        for source in real.sources:
            _copy_source(here, there, source, context.now(), numbers, definitions)
        insert_audit(there, "practice-made", "", None, context.now())
    titled = {name: definitions[name].title_of for name in definitions}
    return {
        "rosters": [
            {"title": definitions[name].title, "records": len(one)} for name, one in made.items()
        ],
        "differs": [
            {
                "roster": definitions[one.roster].title,
                "check": one.check,
                "field": titled[one.roster](one.field) if one.field else "",
                "records": one.records,
            }
            for one in differs
        ],
        "given_on": [
            {
                "roster": definitions[name].title,
                "field": titled[name](field),
                "values": count,
            }
            for (name, field), count in making.given_on.items()
        ],
    }


def _read(context: Context) -> _Real:
    with context.database.transaction() as connection:
        rosters = {one.name: one for one in roster_store.list_seen(connection)}
        documents = {
            name: roster_store.get_definition(connection, one.id, one.definition)
            for name, one in rosters.items()
        }
        parts = {
            name: frozenset(texts_in(list_parts_in_use(connection, one.id)))
            for name, one in rosters.items()
        }
        return _Real(
            rosters,
            documents,
            {name: load_snapshot(connection, one) for name, one in rosters.items()},
            load_codes(connection),
            source_store.list_sources(connection),
            parts,
        )


def _shuffled(snapshot: Snapshot, random: Chance) -> list[dict[str, Any]]:
    """Give the records in another order: their numbers say nothing of whose place they take."""
    order = random.sample(range(len(snapshot)), len(snapshot))
    return [snapshot.values(place) for place in order]


def _copy_source(
    here: Connection,
    there: Connection,
    source: Source,
    at: datetime,
    numbers: Mapping[int, int],
    definitions: Mapping[str, Any],
) -> None:
    """Copy what is known of a source's files; of fields that are about persons not what stood in
    them.
    """
    if source.roster_id not in numbers:  # opened meanwhile
        return
    roster_id, part = numbers[source.roster_id], get_part(here, source.part_id)
    part_id = ensure_part(there, roster_id, part.when) if part else None
    added = source_store.ensure_source(there, roster_id, part_id, source.name, at)
    if source.recipe is None:
        return
    definition = definitions[source.recipe["roster"]]
    personal = {
        one.name
        for one in definition.fields
        if kind_of_field(definition, one) != "code" or one.sensitive
    }
    recipe = read_recipe(source.recipe, definition).without(personal)
    document = json.loads(recipe.model_dump_json(by_alias=True, exclude_none=True))
    source_store.insert_recipe(there, added, document, None, None, source.learnt or at)
