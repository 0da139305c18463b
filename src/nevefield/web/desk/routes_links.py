"""Links that set a password: the first administrator's, invitations, new passwords. A link's token
comes in the body, never in an address, so that no log has it.
"""

from __future__ import annotations

import ipaddress
from http import HTTPStatus
from typing import Any

from flask import request

from nevefield.accounts.people import look_at_link, needs_first, use_link
from nevefield.setup.institution import name_institution, the_institution
from nevefield.web.access import Forbidden, context, open_to_all
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.describing import refuses
from nevefield.web.desk import shapes

__all__ = ["link_api"]

link_api = Api("links", __name__)


@link_api.get("/links/first", responses={200: shapes.FirstOut})
@open_to_all
def get_first() -> Any:
    """Say whether nobody can sign in yet, and whose product this is."""
    institution = the_institution(context())
    return answer(
        shapes.FirstOut(
            needed=needs_first(context()),
            institution=institution.name,
            colour=institution.colour,
            practice=context().settings.practice,
        )
    )


@link_api.post("/links/look", responses={200: shapes.LinkOut})
@open_to_all
@refuses(HTTPStatus.GONE)
def post_look(body: shapes.LinkIn) -> Any:
    """Say what a link is for."""
    _refuse_open_ways()
    link, account = look_at_link(context(), body.token)
    return answer(
        shapes.LinkOut(
            kind=link.kind,
            name=account.name if account else "",
            sign_in=account.sign_in if account else "",
            institution=the_institution(context()).name,
        )
    )


@link_api.post("/links/use", responses={200: shapes.NameOut})
@open_to_all
@refuses(HTTPStatus.GONE)
def post_use(body: shapes.LinkUse) -> Any:
    """Choose a password by a link."""
    _refuse_open_ways()
    link, _ = look_at_link(context(), body.token)
    sign_in = use_link(context(), body.token, body.password, sign_in=body.sign_in, name=body.name)
    if link.kind == "first" and body.institution.strip():
        name_institution(context(), body.institution, shapes.COLOUR, None)
    return answer(shapes.NameOut(sign_in=sign_in))


def _refuse_open_ways() -> None:
    """See that a password travels over https, or not at all: on this machine."""
    try:
        near = ipaddress.ip_address(request.remote_addr or "").is_loopback
    except ValueError:
        near = False
    if not (request.is_secure or near or context().settings.secure_cookies):
        raise Forbidden("A password is chosen over https only: open the link with https://.")
