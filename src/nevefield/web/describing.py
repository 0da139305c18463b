"""The API's document (OpenAPI 3.1): what the framework makes of the routes, with files, forms,
refusals and the session.
"""

from __future__ import annotations

import re
from http import HTTPStatus
from typing import TYPE_CHECKING, Any, TypeVar, cast

from nevefield.web.access import COOKIE, SAFE, TOKEN_HEADER

if TYPE_CHECKING:
    from collections.abc import Callable

    from flask import Flask

    from nevefield.web.access import Access

__all__ = ["PROBLEM", "asks_authority", "describe", "gives_file", "refuses", "takes_file"]

View = TypeVar("View", bound="Callable[..., Any]")
PROBLEM = "application/problem+json"
SHEETS = (
    "text/csv",
    "application/json",
    "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
)


def gives_file(*types: str) -> Callable[[View], View]:
    """Declare that a route answers with a file of one of some media types; without any, of those
    of sheets.
    """

    def declare(view: View) -> View:
        view.gives = types or SHEETS  # type: ignore[attr-defined]
        return view

    return declare


def takes_file(**fields: str) -> Callable[[View], View]:
    """Declare that a route takes a form with a file under `file`, and other texts, each with
    what it means.
    """

    def declare(view: View) -> View:
        view.takes = fields  # type: ignore[attr-defined]
        return view

    return declare


def refuses(*statuses: HTTPStatus) -> Callable[[View], View]:
    """Declare with what a route refuses, beside what every one of its kind does."""

    def declare(view: View) -> View:
        view.refuses = statuses  # type: ignore[attr-defined]
        return view

    return declare


def asks_authority(view: View) -> View:
    """Declare that a route asks the authority, which may not answer."""
    return refuses(HTTPStatus.CONFLICT, HTTPStatus.BAD_GATEWAY)(view)


def describe(app: Flask, document: dict[str, Any]) -> dict[str, Any]:
    """Complete the document that the framework made.

    Args:
        app: With its routes.
        document: As made; it is not altered.
    """
    paths: dict[str, Any] = {}
    for rule in app.url_map.iter_rules():
        address = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", str(rule))
        for method in sorted(rule.methods or ()):
            made = document["paths"].get(address, {}).get(method.lower())
            if made is not None:
                paths.setdefault(address, {})[method.lower()] = _operation(
                    method, app.view_functions[rule.endpoint], made
                )
    schemas = {
        name: one
        for name, one in document["components"]["schemas"].items()
        if not name.startswith("ValidationError")
    }
    schemas["Problem"] = {
        "type": "object",
        "title": "Problem",
        "description": "What is wrong, in one sentence with the place and the remedy (RFC 9457).",
        "required": ["type", "title", "status", "detail"],
        "properties": {
            "type": {"type": "string"},
            "title": {"type": "string"},
            "status": {"type": "integer"},
            "detail": {"type": "string"},
        },
    }
    components = {
        "schemas": dict(sorted(schemas.items())),
        "securitySchemes": {
            "session": {"type": "apiKey", "in": "cookie", "name": COOKIE},
            "token": {"type": "apiKey", "in": "header", "name": TOKEN_HEADER},
        },
    }
    return {
        **document,
        "paths": {address: paths[address] for address in sorted(paths)},
        "components": components,
    }


def _operation(method: str, view: Any, made: dict[str, Any]) -> dict[str, Any]:
    access = cast("Access", view.access)
    takes, gives = getattr(view, "takes", None), getattr(view, "gives", ())
    answers = {status: one for status, one in made["responses"].items() if status != "422"}
    if gives:
        content = {
            media: {"schema": {"type": "string"} if media.startswith("text/") else {}}
            for media in gives
        }
        answers["200"] = {"description": "The file", "content": content}
    body = (
        {"content": {"multipart/form-data": {"schema": _form(takes)}}, "required": True}
        if takes is not None
        else None
    )
    operation = {**made, "responses": {**answers, **_refusals(method, access, view, takes, made)}}
    if body:
        operation["requestBody"] = body
    elif "requestBody" in made:
        operation["requestBody"] = {**made["requestBody"], "required": True}
    if not access.is_open:
        operation["security"] = [
            {"session": []} if method in SAFE else {"session": [], "token": []}
        ]
    return dict(sorted(operation.items()))


def _form(fields: dict[str, str]) -> dict[str, Any]:
    texts = {name: {"type": "string", "description": meaning} for name, meaning in fields.items()}
    return {
        "type": "object",
        "required": ["file"],
        "properties": {
            "file": {"type": "string", "contentMediaType": "application/octet-stream"},
            **texts,
        },
    }


def _refusals(
    method: str, access: Access, view: Any, takes: Any, made: dict[str, Any]
) -> dict[str, Any]:
    """List the statuses with which an operation refuses, all as problems."""
    statuses = {
        HTTPStatus.UNPROCESSABLE_ENTITY,
        HTTPStatus.SERVICE_UNAVAILABLE,
        HTTPStatus.INTERNAL_SERVER_ERROR,
    }
    statuses.add(HTTPStatus.TOO_MANY_REQUESTS if access.is_open else HTTPStatus.FORBIDDEN)
    statuses.add(HTTPStatus.UNAUTHORIZED)
    if "parameters" in made:
        statuses.add(HTTPStatus.NOT_FOUND)
    if method not in SAFE:
        statuses |= {HTTPStatus.CONFLICT, HTTPStatus.NOT_FOUND, HTTPStatus.FORBIDDEN}
    if takes is not None or "requestBody" in made:
        statuses |= {
            HTTPStatus.BAD_REQUEST,
            HTTPStatus.REQUEST_ENTITY_TOO_LARGE,
            HTTPStatus.UNSUPPORTED_MEDIA_TYPE,
        }
    if takes is not None:
        statuses.add(HTTPStatus.TOO_MANY_REQUESTS)
    statuses |= set(getattr(view, "refuses", ()))
    schema = {"$ref": "#/components/schemas/Problem"}
    return {
        str(int(status)): {"description": status.phrase, "content": {PROBLEM: {"schema": schema}}}
        for status in sorted(statuses, key=int)
    }
