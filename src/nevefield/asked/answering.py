"""Answer one request of an outside system; the protocol itself is a package's.

Source: RFC 7644.
"""

from __future__ import annotations

import json
import re
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import structlog
from scim2_models import ForbiddenException, SCIMException, UnauthorizedException
from scim2_server.handler import ScimHandler
from scim2_server.requests import ScimRequest
from scim2_server.routing import Operation
from scim2_server.service import ScimService

from nevefield.asked.errors import NoSuchToken, NotHere
from nevefield.asked.opening import open_asked
from nevefield.asked.passing_over import leave_out, taken_of
from nevefield.asked.questions import MEDIA, Answer
from nevefield.asked.storage import Shelf

if TYPE_CHECKING:
    from collections.abc import Mapping

    from scim2_models import ResourceType
    from scim2_server.responses import ScimResponse
    from scim2_server.routing import Target

    from nevefield.asked.opening import Asked
    from nevefield.asked.questions import Question
    from nevefield.context import Context

__all__ = ["IGNORED", "TOLD", "answer_question"]

TOLD = "Nevefield-Proposal"  # the header that tells of a proposal what became of it
IGNORED = "Nevefield-Ignored"  # the header that says what was passed over
PLAIN = re.compile(r"[A-Za-z0-9$:._\-\[\]\" ]{1,200}")
MOST_IGNORED = 20
READS = frozenset({Operation.query, Operation.search, Operation.search_with_body})
_log = structlog.get_logger()


class _Service(ScimService):
    """The protocol, with what a destination may do."""

    def __init__(self, asked: Asked) -> None:
        super().__init__(asked.provider)
        self._asked = asked

    def authorize(self, request: ScimRequest, target: Target, resource_type: ResourceType) -> None:
        """Refuse what changes something, where that is not taken."""
        if target.operation not in READS and not self._asked.may_propose:
            raise ForbiddenException(
                detail=f"{self._asked.destination.title} may read here, and propose nothing."
            )


def answer_question(context: Context, question: Question) -> Answer:
    """Answer a question: always in the words of the protocol, never with how it went wrong here."""
    try:
        asked = open_asked(context, _token(question.headers))
    except NoSuchToken as error:
        return _refuse(UnauthorizedException(detail=str(error)))
    except NotHere as error:
        return _refuse(ForbiddenException(detail=str(error)))
    question, left = _pass_over(question, asked)
    request = ScimRequest(
        method=question.method,
        base_url=question.base,
        path=question.path.removesuffix(".scim"),
        query=question.query,
        headers=question.headers,
        body=question.body,
    )
    service, shelf = _Service(asked), Shelf(context, asked)
    try:
        response = ScimHandler(service, shelf).handle(request)
    except SCIMException as error:
        response = service.error_response(error)
    number = (response.body or {}).get("id") or question.path.rstrip("/").rsplit("/", 1)[-1]
    if state := shelf.state_of(str(number)):
        response.headers[TOLD] = state
    if left:
        response.headers[IGNORED] = ", ".join(left)
    response.headers.setdefault("Cache-Control", "no-store")
    return _write(response)


def _pass_over(question: Question, asked: Asked) -> tuple[Question, list[str]]:
    """Leave out what they write of people beyond what is taken here, and say what that is."""
    is_person = question.path.strip("/").partition("/")[0].casefold() == "users"
    if not is_person or question.method not in ("POST", "PUT", "PATCH") or not asked.may_propose:
        return question, []
    if question.path.casefold().endswith("/.search"):
        return question, []
    body, left = leave_out(question.body, taken_of(asked.provider))
    # a header is one line of plain letters
    said = [name for name in dict.fromkeys(left) if PLAIN.fullmatch(name)][:MOST_IGNORED]
    if not body:
        return replace(question, method="GET", body=b""), said
    return replace(question, body=body), said


def _token(headers: Mapping[str, str]) -> str:
    given = next((text for name, text in headers.items() if name.lower() == "authorization"), "")
    kind, _, token = given.partition(" ")
    return token.strip() if kind.lower() == "bearer" else ""


def _refuse(error: SCIMException) -> Answer:
    body = error.to_error().model_dump()
    headers = {"Content-Type": MEDIA, "Cache-Control": "no-store"}
    if isinstance(error, UnauthorizedException):
        headers["WWW-Authenticate"] = 'Bearer realm="SCIM"'
    return Answer(int(error.status or 400), json.dumps(body).encode(), headers)


def _write(response: ScimResponse) -> Answer:
    body: Any = response.body
    data = b"" if body is None else json.dumps(body, ensure_ascii=False).encode()
    headers = {str(name): str(text) for name, text in response.headers.items()}
    if data:
        headers.setdefault("Content-Type", MEDIA)
    return Answer(int(response.status), data, headers)
