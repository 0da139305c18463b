"""The shapes of the API about sources and recipes."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import BaseModel

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = [
    "RecipeIn",
    "RecipeVersion",
    "RecipeWritten",
    "SourceBrief",
    "SourceList",
    "SourceOut",
    "SourcePath",
]


class SourceBrief(BaseModel):
    """A source, and what was learnt of it."""

    id: int
    roster: str
    roster_title: str
    name: str
    version: int
    learnt: date | None
    file: str
    rows: list[int]
    level: int


class SourceList(BaseModel):
    """The sources that one may see."""

    sources: list[SourceBrief]


class RecipeVersion(BaseModel):
    """One writing of a recipe."""

    version: int
    intake: int | None
    by: str
    at: Moment


class SourceOut(SourceBrief):
    """A source with its recipe."""

    recipe: dict[str, Any] | None
    said: list[str]
    versions: list[RecipeVersion]


class SourcePath(Model):
    """A path to a source."""

    source_id: int


class RecipeIn(Model):
    """A recipe to be written."""

    recipe: dict[str, Any]


class RecipeWritten(BaseModel):
    """The version of a recipe that was written."""

    version: int
