"""The door for outside systems that ask by SCIM 2.0: `asked` answers, this only carries."""

from __future__ import annotations

import json

from flask import Response, request

from nevefield.asked.questions import MEDIA, Question
from nevefield.passing_on.urns import MOST_BYTES
from nevefield.web.access import context, open_to_all

__all__ = ["SCIM_PATH", "ask_scim"]

SCIM_PATH = "/scim/v2"
ERROR = "urn:ietf:params:scim:api:messages:2.0:Error"


@open_to_all
def ask_scim(rest: str = "") -> Response:
    """Answer by the token that comes with the request; without one that counts, nothing."""
    if (request.content_length or 0) > MOST_BYTES:
        body = {
            "schemas": [ERROR],
            "status": "413",
            "detail": f"At most {MOST_BYTES:,} bytes at a time.",
        }
        return Response(json.dumps(body), 413, mimetype=MEDIA)
    # the protocol takes seconds to load: who is never asked does without
    from nevefield.asked.answering import answer_question

    found = answer_question(
        context(),
        Question(
            method=request.method,
            base=request.host_url.rstrip("/") + SCIM_PATH,
            path="/" + rest,
            query=request.args.to_dict(),
            headers=dict(request.headers),
            body=request.get_data(),
        ),
    )
    return Response(found.body, found.status, headers=dict(found.headers))
