"""Do a request again whose transaction was lost: others were writing the same, or a node of the database went away."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, TypeVar

import structlog
from flask import request
from flask_openapi3 import OpenAPI

from nevefield.store.connection import PAUSES
from nevefield.store.errors import Contended, DatabaseGone

if TYPE_CHECKING:
    from collections.abc import Callable

    from flask.typing import ResponseReturnValue

    from nevefield.context import Context

__all__ = ["Repeating"]

Result = TypeVar("Result")
_log = structlog.get_logger()


class Repeating(OpenAPI):
    """An application that does a request again, as long as nothing of it can have been kept."""

    def preprocess_request(self) -> ResponseReturnValue | None:
        """Find out who asks and what they may; done twice it does no more than once."""
        return _again(super().preprocess_request, lambda: True)

    def dispatch_request(self) -> ResponseReturnValue:
        """Do what is asked: again when it only looked, or when no transaction that wrote was committed, or may have been."""
        context: Context = self.extensions["nevefield"]
        before = context.database.kept
        return _again(super().dispatch_request, lambda: request.method in ("GET", "HEAD") or context.database.kept == before)


def _again(work: Callable[[], Result], may_be: Callable[[], bool]) -> Result:
    for pause in PAUSES:
        try:
            return work()
        except (Contended, DatabaseGone) as error:
            if not may_be():
                raise
            _log.warning("again", path=request.path, kind=type(error).__name__)
        time.sleep(pause)
        _rewind()
    return work()


def _rewind() -> None:
    """Let the files of a form be read from their beginning again."""
    for _, files in request.files.lists():
        for one in files:
            one.stream.seek(0)
