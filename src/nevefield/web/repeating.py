"""Do a request again whose transaction was lost: others were writing the same, or a node of the
database went away.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from flask import request
from flask_openapi3 import OpenAPI

from nevefield.context import do_again

if TYPE_CHECKING:
    from flask.typing import ResponseReturnValue

    from nevefield.context import Context

__all__ = ["Repeating"]


class Repeating(OpenAPI):
    """An application that does a request again, as long as nothing of it can have been kept."""

    def preprocess_request(self) -> ResponseReturnValue | None:
        """Find out who asks and what they may; done twice it does no more than once."""
        return do_again(super().preprocess_request)

    def dispatch_request(self) -> ResponseReturnValue:
        """Do what is asked: again when it only looked, or when no transaction that wrote was
        committed, or may have been.
        """
        context: Context = self.extensions["nevefield"]
        before, work = context.database.kept, super().dispatch_request

        def may_be() -> bool:
            if request.method not in ("GET", "HEAD") and context.database.kept != before:
                return False
            _rewind()
            return True

        return do_again(work, may_be=may_be)


def _rewind() -> None:
    """Let the files of a form be read from their beginning again."""
    for _, files in request.files.lists():
        for file in files:
            file.stream.seek(0)
