"""Sources: what was learnt from their files, to read, edit, take elsewhere and bring."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import Response, json, jsonify
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.intakes.errors import NoSuchSource
from nevefield.intakes.sources import KnownSource, known_sources, write_recipe
from nevefield.rosters.snapshots import load_definition
from nevefield.store import rosters as roster_store
from nevefield.store import sources as store
from nevefield.web import models
from nevefield.web.access import account, context, level_in, needs
from nevefield.web.answering import download
from nevefield.web.describing import gives_file
from nevefield.web.step_words import word_step

__all__ = ["source_api"]

source_api = APIBlueprint("sources", __name__, url_prefix="/api")


def _brief(source: KnownSource, roster: roster_store.Roster) -> dict[str, Any]:
    recipe = source.recipe
    return {
        "id": source.id,
        "roster": roster.name,
        "roster_title": roster.title,
        "name": source.name,
        "version": source.version,
        "learnt": date.fromisoformat(recipe.learnt) if recipe else None,
        "file": recipe.file if recipe else "",
        "rows": list(recipe.expects.rows) if recipe else [],
        "level": level_in(roster.id),
    }


@source_api.get("/sources", responses={200: models.SourceList})
@needs(Level.LOOK)
def list_sources() -> Response:
    """List the sources of the rosters that may be looked at."""
    with context().database.transaction() as connection:
        rosters = {one.id: one for one in roster_store.list_seen(connection)}
        found = known_sources(
            connection,
            {number: load_definition(connection, one) for number, one in rosters.items()},
        )
    listed = [models.SourceBrief(**_brief(one, rosters[one.roster_id])) for one in found]
    return jsonify(models.SourceList(sources=listed).model_dump(mode="json"))


def _find(
    source_id: int,
) -> tuple[KnownSource, roster_store.Roster, list[models.RecipeVersion], list[str]]:
    with context().database.transaction() as connection:
        source = store.get_source(connection, source_id)
        roster = roster_store.get_roster_by_id(connection, source.roster_id) if source else None
        if roster is None:
            raise NoSuchSource(source_id)
        definition = load_definition(connection, roster)
        found = next(
            one for one in known_sources(connection, {roster.id: definition}) if one.id == source_id
        )
        versions = [
            models.RecipeVersion(version=version, intake=intake, by=by, at=at)
            for version, intake, by, at in store.list_recipes(connection, source_id)
        ]
    said = [word_step(step, definition) for step in found.recipe.steps] if found.recipe else []
    return found, roster, versions, said


@source_api.get("/sources/<int:source_id>", responses={200: models.SourceOut})
@needs(Level.LOOK, of="source")
def get_source(path: models.SourcePath) -> Response:
    """Give a source with its recipe, also in words."""
    found, roster, versions, said = _find(path.source_id)
    recipe = found.recipe.model_dump(mode="json") if found.recipe else None
    answer = models.SourceOut(**_brief(found, roster), recipe=recipe, said=said, versions=versions)
    return jsonify(answer.model_dump(mode="json"))


@source_api.get("/sources/<int:source_id>/recipe")
@needs(Level.LOOK, of="source")
@gives_file("application/json")
def get_recipe(path: models.SourcePath) -> Response:
    """Give a recipe as a file."""
    found, roster, _, _ = _find(path.source_id)
    if found.recipe is None:
        raise NoSuchSource(path.source_id)
    text = json.dumps(found.recipe.model_dump(mode="json"), ensure_ascii=False, indent=1)
    name = f"recipe-{roster.name}-{found.id}.json"
    return download(text.encode(), "application/json", name)


@source_api.put("/sources/<int:source_id>/recipe", responses={200: models.RecipeWritten})
@needs(Level.PREPARE, of="source")
def put_recipe(path: models.SourcePath, body: models.RecipeIn) -> Response:
    """Write a recipe by hand."""
    version = write_recipe(context(), path.source_id, body.recipe, account().id)
    return jsonify(models.RecipeWritten(version=version).model_dump(mode="json"))
