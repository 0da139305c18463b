"""Sources: what was learnt from their files, to read, edit, take elsewhere and bring."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import Response, json

from nevefield.accounts import Level
from nevefield.intakes.errors import NoSuchSource
from nevefield.intakes.sources import KnownSource, list_sources, open_source, write_recipe
from nevefield.rosters import Roster
from nevefield.web.access import account, context, level_in, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file
from nevefield.web.intakes import shapes_sources
from nevefield.web.intakes.step_words import word_step

__all__ = ["source_api"]

source_api = Api("sources", __name__)


def _brief(source: KnownSource, roster: Roster) -> dict[str, Any]:
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


@source_api.get("/sources", responses={200: shapes_sources.SourceList})
@needs(Level.LOOK)
def get_sources() -> Any:
    """List the sources of the rosters that may be looked at."""
    listed = [
        shapes_sources.SourceBrief(**_brief(source, roster))
        for source, roster in list_sources(context())
    ]
    return answer(shapes_sources.SourceList(sources=listed))


@source_api.get("/sources/<int:source_id>", responses={200: shapes_sources.SourceOut})
@needs(Level.LOOK, of="source")
def get_source(path: shapes_sources.SourcePath) -> Any:
    """Give a source with its recipe, also in words."""
    opened = open_source(context(), path.source_id)
    recipe = opened.source.recipe
    return answer(
        shapes_sources.SourceOut(
            **_brief(opened.source, opened.roster),
            recipe=recipe.model_dump(mode="json") if recipe else None,
            said=[word_step(step, opened.definition) for step in recipe.steps] if recipe else [],
            versions=[
                shapes_sources.RecipeVersion(version=version, intake=intake, by=by, at=at)
                for version, intake, by, at in opened.versions
            ],
        )
    )


@source_api.get("/sources/<int:source_id>/recipe")
@needs(Level.LOOK, of="source")
@gives_file("application/json")
def get_recipe(path: shapes_sources.SourcePath) -> Response:
    """Give a recipe as a file."""
    opened = open_source(context(), path.source_id)
    if opened.source.recipe is None:
        raise NoSuchSource(path.source_id)
    recipe = opened.source.recipe.model_dump(mode="json")
    text = json.dumps(recipe, ensure_ascii=False, indent=1)
    name = f"recipe-{opened.roster.name}-{opened.source.id}.json"
    return download(text.encode(), "application/json", name)


@source_api.put("/sources/<int:source_id>/recipe", responses={200: shapes_sources.RecipeWritten})
@needs(Level.PREPARE, of="source")
def put_recipe(path: shapes_sources.SourcePath, body: shapes_sources.RecipeIn) -> Any:
    """Write a recipe by hand."""
    version = write_recipe(context(), path.source_id, body.recipe, account().id)
    return answer(shapes_sources.RecipeWritten(version=version))
