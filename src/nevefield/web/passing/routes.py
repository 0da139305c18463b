"""Passing on: destinations, where each record stands with them, what is sent."""

from __future__ import annotations

from typing import Any

from flask import Response

from nevefield.accounts import Level
from nevefield.passing_on.deciding import compose_anew, hold, say_same, try_again
from nevefield.passing_on.filing import fetch_file, make_fetch_token, take_file
from nevefield.passing_on.keeping import (
    begin_destination,
    keep_destination,
    keep_token,
    list_versions,
    outbox_of,
    propose,
    switch,
)
from nevefield.passing_on.looking import choose_rows, look_at, look_at_all, look_closely
from nevefield.passing_on.sending import request_comparing, request_telling
from nevefield.passing_on.tracing import list_delivered, trace
from nevefield.web.access import account, context, needs, open_to_all
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.common import RecordPath
from nevefield.web.describing import gives_file
from nevefield.web.passing import shapes
from nevefield.web.passing.answers import brief, destination_answer, rows_answer, went_answer
from nevefield.web.passing.scim import SCIM_PATH

__all__ = ["passing_api"]

passing_api = Api("passing", __name__)


@passing_api.get("/destinations", responses={200: shapes.DestinationList})
@needs(Level.LOOK, polled=True)
def get_destinations() -> Any:
    """List the destinations, each with where its records stand."""
    return answer(
        shapes.DestinationList(
            destinations=[brief(look) for look in look_at_all(context())],
            outbox=outbox_of(context()),
        )
    )


@passing_api.post("/destinations", responses={201: shapes.DestinationBegun})
@needs(Level.ADMINISTER)
def post_destination(body: shapes.DestinationIn) -> Any:
    """Begin a destination."""
    name = begin_destination(context(), body.document, account().id)
    return answer(shapes.DestinationBegun(name=name, version=1), 201)


@passing_api.post("/destinations/propose", responses={200: shapes.LayoutProposed})
@needs(Level.ADMINISTER)
def post_propose(body: shapes.LayoutAsked) -> Any:
    """Propose a layout for a roster, by what its fields mean and are called."""
    return answer(shapes.LayoutProposed(share=propose(context(), body.roster, body.way)))


@passing_api.get("/destinations/<destination>", responses={200: shapes.DestinationOut})
@needs(Level.LOOK, of="destination", whole=True, polled=True)
def get_destination(path: shapes.DestinationPath) -> Any:
    """Give a destination, and where everybody stands."""
    return answer(destination_answer(look_closely(context(), path.destination)))


@passing_api.put("/destinations/<destination>", responses={200: shapes.DestinationBegun})
@needs(Level.ADMINISTER, of="destination", whole=True)
def put_destination(path: shapes.DestinationPath, body: shapes.DestinationVersionIn) -> Any:
    """Keep another version of a destination."""
    version = keep_destination(
        context(), path.destination, body.document, body.version, account().id
    )
    return answer(shapes.DestinationBegun(name=path.destination, version=version))


@passing_api.get(
    "/destinations/<destination>/versions", responses={200: shapes.DestinationVersions}
)
@needs(Level.LOOK, of="destination", whole=True)
def get_destination_versions(path: shapes.DestinationPath) -> Any:
    """List the versions of a destination, the newest first."""
    return answer(
        shapes.DestinationVersions(
            versions=[
                shapes.DestinationVersion(
                    number=one.number, at=one.at, by=one.by, document=one.document
                )
                for one in list_versions(context(), path.destination)
            ]
        )
    )


@passing_api.get("/destinations/<destination>/records", responses={200: shapes.DestinationRows})
@needs(Level.LOOK, of="destination", whole=True)
def get_destination_records(path: shapes.DestinationPath, query: shapes.PassedQuery) -> Any:
    """Give a page of the records of a destination, what wants somebody first."""
    look = look_at(context(), path.destination)
    total, rows = choose_rows(
        context(),
        look,
        query.place,
        query.text,
        start=query.start,
        limit=query.limit,
        code=query.code,
    )
    return answer(rows_answer(total, rows))


@passing_api.get("/destinations/<destination>/delivered", responses={200: shapes.DeliveredOut})
@needs(Level.LOOK, of="destination", whole=True, polled=True)
def get_delivered(path: shapes.DestinationPath, query: shapes.DeliveredQuery) -> Any:
    """List what was sent to a destination, the newest first."""
    found = list_delivered(context(), path.destination, query.before)
    acts = [
        shapes.Delivered(
            number=number,
            record=row.record_id,
            key=key,
            name=name,
            act=row.act,
            moved=row.moved,
            answer=row.answer,
            ms=row.ms,
            at=row.at,
            by=row.by,
        )
        for number, row, (key, name) in found
    ]
    return answer(shapes.DeliveredOut(acts=acts))


@passing_api.post("/destinations/<destination>/tell", responses={202: shapes.Telling})
@needs(Level.APPROVE, of="destination", whole=True)
def post_tell(path: shapes.DestinationPath, body: shapes.TellIn) -> Any:
    """Send everything that is to be sent."""
    job = request_telling(context(), path.destination, body.seen, body.ends, account().id)
    return answer(shapes.Telling(job=job), 202)


@passing_api.post("/destinations/<destination>/compare", responses={202: shapes.Telling})
@needs(Level.PREPARE, of="destination", whole=True)
def post_compare(path: shapes.DestinationPath) -> Any:
    """Read back what it holds and compare: what is otherwise there is to be sent."""
    job = request_comparing(context(), path.destination, account().id)
    return answer(shapes.Telling(job=job), 202)


@passing_api.post("/destinations/<destination>/hold", responses={200: shapes.PassedDecided})
@needs(Level.PREPARE, of="destination", whole=True)
def post_hold(path: shapes.DestinationPath, body: shapes.HoldIn) -> Any:
    """Hold records back, with a reason; without one they go again."""
    reason = body.reason.strip() or None
    count = hold(context(), path.destination, body.records, reason, account().id)
    return answer(shapes.PassedDecided(records=count))


@passing_api.post("/destinations/<destination>/decide", responses={200: shapes.PassedDecided})
@needs(Level.PREPARE, of="destination", whole=True)
def post_decide(path: shapes.DestinationPath, body: shapes.RefusedIn) -> Any:
    """Decide of records that were refused: again, composed anew, or that they are the same."""
    decide = {
        "again": try_again,
        "anew": lambda *given: len(compose_anew(*given)),
        "same": say_same,
    }[body.what]
    count = decide(context(), path.destination, body.records, account().id)
    return answer(shapes.PassedDecided(records=count))


@passing_api.put("/destinations/<destination>/token", responses={200: shapes.PassedDecided})
@needs(Level.ADMINISTER, of="destination", whole=True)
def put_token(path: shapes.DestinationPath, body: shapes.PassedTokenIn) -> Any:
    """Keep the token by which we are known there; it is never given out again."""
    keep_token(context(), path.destination, body.token.strip(), account().id)
    return answer(shapes.PassedDecided(records=0))


@passing_api.post("/destinations/<destination>/switch", responses={200: shapes.PassedDecided})
@needs(Level.ADMINISTER, of="destination", whole=True)
def post_switch(path: shapes.DestinationPath, body: shapes.SwitchIn) -> Any:
    """Let it be told by itself, or by hand alone."""
    switch(context(), path.destination, account().id, on=body.on)
    return answer(shapes.PassedDecided(records=0))


@passing_api.get("/destinations/<destination>/files/<int:file_id>")
@needs(Level.APPROVE, of="destination", whole=True)
@gives_file("application/octet-stream")
def get_destination_file(path: shapes.PassedFilePath) -> Response:
    """Give a file that was made for a destination."""
    name, content = take_file(context(), path.destination, path.file_id, account().id)
    return download(content, "application/octet-stream", name)


@passing_api.post("/destinations/<destination>/address", responses={201: shapes.FetchAddress})
@needs(Level.ADMINISTER, of="destination", whole=True)
def post_address(path: shapes.DestinationPath) -> Any:
    """Make the address from which they fetch its files, or the token with which they ask; it is
    shown once.
    """
    token, is_asked = make_fetch_token(context(), path.destination, account().id)
    if is_asked:
        return answer(shapes.FetchAddress(path=SCIM_PATH, token=token), 201)
    return answer(shapes.FetchAddress(path=f"/api/fetch/{token}", token=""), 201)


@passing_api.get("/fetch/<token>")
@open_to_all
@gives_file("application/octet-stream")
def get_fetched(path: shapes.FetchPath) -> Response:
    """Give the newest file of a destination to whoever has its address."""
    name, content = fetch_file(context(), path.token)
    return download(content, "application/octet-stream", name)


@passing_api.get("/records/<int:record_id>/passing", responses={200: shapes.WentList})
@needs(Level.LOOK, of="record")
def get_passing(path: RecordPath) -> Any:
    """Tell where a record has gone: what each destination gets of it, holds of it, was sent."""
    return answer(went_answer(trace(context(), path.record_id)))
