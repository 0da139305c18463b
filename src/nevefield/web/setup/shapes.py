"""The shapes of the API about what keeps an installation going."""

from __future__ import annotations

from pydantic import BaseModel

from nevefield.web.common import Model
from nevefield.web.moments import Moment

__all__ = ["UnforeseenList", "UnforeseenOut", "UnforeseenPath"]


class UnforeseenPath(Model):
    """A path to an error that nobody foresaw."""

    number: int


class UnforeseenOut(BaseModel):
    """An error that nobody foresaw, without what it was about."""

    id: int
    doing: str  # method and route, or the kind of a job
    kind: str
    source: str  # module and line
    times: int  # since it was settled last
    mark: str  # of the last, in the log
    first_at: Moment
    last_at: Moment


class UnforeseenList(BaseModel):
    """Errors that nobody foresaw, the last first."""

    unforeseen: list[UnforeseenOut]
