"""Signing in and out."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from flask import Response, g, jsonify, request

from nevefield import __version__
from nevefield.accounts import (
    DEVICE_DAYS,
    Keys,
    Level,
    Session,
    choose_keys,
    end_others,
    keys_of,
    places_of,
    sight_of,
    sign_out,
    who,
)
from nevefield.accounts.passwords import change_password
from nevefield.accounts.second import enter
from nevefield.rosters.looking import list_seen
from nevefield.setup.institution import the_institution
from nevefield.web import common
from nevefield.web.access import (
    COOKIE,
    DEVICE_COOKIE,
    account,
    context,
    cookie_name,
    level_in,
    needs,
    open_to_all,
    session_token,
    sight,
)
from nevefield.web.api import Api
from nevefield.web.desk import shapes

__all__ = ["session_api"]

session_api = Api("session", __name__)


@session_api.post("/session", responses={200: shapes.Me})
@open_to_all
def begin_session(body: shapes.SignIn) -> Response:
    """Sign in."""
    device = request.cookies.get(cookie_name(DEVICE_COOKIE), "")[:100]
    address = request.remote_addr or ""
    signed = enter(context(), body.name, body.password, address, device, body.code)
    answer = _me(signed.session, signed.token)
    age = timedelta(hours=context().settings.session_hours)
    safe: dict[str, Any] = {
        "httponly": True,
        "samesite": "Strict",
        "secure": request.is_secure or context().settings.secure_cookies,
    }
    answer.set_cookie(cookie_name(COOKIE), signed.token, max_age=age, path="/", **safe)
    answer.set_cookie(
        cookie_name(DEVICE_COOKIE),
        signed.device,
        max_age=timedelta(days=DEVICE_DAYS),
        path="/api/session",
        **safe,
    )
    return answer


@session_api.get("/session", responses={200: shapes.Me, 204: None})
@open_to_all
def get_session() -> Response:
    """Tell who is signed in; that nobody is, is no error."""
    token = session_token()
    session = who(context(), token)
    return _me(session, token) if session else Response(status=204)


@session_api.post("/session/others/end", responses={200: common.Done})
@needs(Level.NONE)
def post_end_others() -> Response:
    """Sign out everywhere else."""
    ended = end_others(context(), account(), session_token())
    return jsonify(common.Done(done=ended > 0).model_dump(mode="json"))


@session_api.put("/session/keys", responses={200: shapes.Keys})
@needs(Level.NONE)
def put_keys(body: shapes.Keys) -> Response:
    """Choose the keys by which one works."""
    choose_keys(context(), account(), Keys(body.single, body.changed))
    return jsonify(body.model_dump(mode="json"))


@session_api.put("/session/password", responses={204: None})
@needs(Level.NONE)
def put_password(body: shapes.PasswordIn) -> Any:
    """Change one's own password; everywhere else one is signed out."""
    token, address = session_token(), request.remote_addr or ""
    change_password(context(), account(), body.old, body.new, token, address)
    return "", 204


@session_api.delete("/session", responses={204: None})
@needs(Level.NONE)
def end_session() -> Any:
    """Sign out."""
    sign_out(context(), session_token())
    answer = Response(status=204)
    answer.delete_cookie(cookie_name(COOKIE), path="/")
    return answer


def _me(session: Session, token: str) -> Response:
    g.session, g.sight = session, sight_of(context(), session.account)
    found = [
        shapes.RosterBrief(name=roster.name, title=roster.title, level=level_in(roster.id))
        for roster in list_seen(context())
    ]
    settings, institution = context().settings, the_institution(context())
    keys = keys_of(context(), session.account)
    places = places_of(context(), session.account, token)
    me = shapes.Me(
        name=session.account.name,
        sign_in=session.account.sign_in,
        level=sight().highest,
        everywhere=sight().everywhere,
        institution=institution.name,
        colour=institution.colour,
        token=session.csrf,
        version=__version__,
        practice=settings.practice,
        largest_mb=settings.max_upload_mb,
        zone=settings.zone,
        rosters=found,
        keys=shapes.Keys(single=keys.single, changed=dict(keys.changed)),
        elsewhere=[
            shapes.PlaceOut(address=place.address, at=place.at, seen=place.seen_at)
            for place in places
            if not place.is_this
        ],
        may_uncover=bool(session.account.may_uncover),
        address=next((place.address for place in places if place.is_this), ""),
    )
    return jsonify(me.model_dump(mode="json"))
