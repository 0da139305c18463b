"""What requests carry: of the type that the route takes, and JSON that is JSON, or a sentence."""

from __future__ import annotations

import inspect
from typing import TYPE_CHECKING, Any

import orjson
from flask import current_app, request
from flask.json.provider import DefaultJSONProvider
from werkzeug.exceptions import BadRequest, UnsupportedMediaType

from nevefield.web.access import SAFE

if TYPE_CHECKING:
    from flask import Response

__all__ = ["StrictJSON", "check_body"]


class StrictJSON(DefaultJSONProvider):
    """JSON as RFC 8259 has it: in UTF-8, without NaN, without halves of characters, nested at
    most 1,024 deep.
    """

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        """Read a document."""
        return orjson.loads(s)


def check_body() -> Response | None:
    """Look at what a request carries, before its route does.

    Raises:
        UnsupportedMediaType: It is of a type that the route does not take.
        BadRequest: It is said to be JSON, and is none.
    """
    if request.method in SAFE or request.endpoint is None:
        return None
    view = current_app.view_functions[request.endpoint]
    if hasattr(view, "takes"):
        if request.mimetype != "multipart/form-data":
            raise UnsupportedMediaType("Send the file as multipart/form-data, under the name file.")
    elif "body" in inspect.signature(inspect.unwrap(view)).parameters:
        if not request.is_json:
            raise UnsupportedMediaType("Send JSON, and say so with Content-Type: application/json.")
        try:
            request.get_json()
        except BadRequest as error:
            raise BadRequest(_say(error)) from error
    return None


def _say(error: BadRequest) -> str:
    cause = error.__cause__ or error.__context__
    if isinstance(cause, orjson.JSONDecodeError):
        return f"What came is no JSON: {cause.msg}, line {cause.lineno}, column {cause.colno}."
    return "What came is no JSON."
