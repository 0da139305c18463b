"""The shapes of the API about errors that nobody foresaw."""

from __future__ import annotations

from pydantic import BaseModel

from nevefield.web.models import Model
from nevefield.web.moments import Moment

__all__ = ["UnforeseenList", "UnforeseenOut", "UnforeseenPath"]


class UnforeseenPath(Model):
    number: int


class UnforeseenOut(BaseModel):
    id: int
    doing: str  # method and route, or the kind of a job
    kind: str
    source: str  # module and line
    times: int  # since it was settled last
    mark: str  # of the last, in the log
    first_at: Moment
    last_at: Moment


class UnforeseenList(BaseModel):
    unforeseen: list[UnforeseenOut]
