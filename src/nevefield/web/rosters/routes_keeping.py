"""One person's data: taken out for them, kept from being erased, erased."""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from typing import TYPE_CHECKING, Any

from flask import Response

from nevefield.accounts import Level
from nevefield.accounts.belonging import find_roster
from nevefield.keeping.erasing import hold_back, how_erased, list_erased, queue_erasure, release
from nevefield.keeping.held import gather_held, write_page
from nevefield.keeping.lapsing import list_lapses, look_at_term, set_term
from nevefield.rosters.looking import list_seen
from nevefield.setup.institution import the_institution
from nevefield.web import common
from nevefield.web.access import account, context, level_in, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file
from nevefield.web.rosters import shapes_keeping as shapes

if TYPE_CHECKING:
    from nevefield.keeping.erasing import Erasure

__all__ = ["keeping_api"]

keeping_api = Api("keeping", __name__)


@keeping_api.get("/records/<int:record_id>/held")
@needs(Level.ADMINISTER, of="record")
@gives_file("application/json", "text/html")
def get_held(path: common.RecordPath, query: shapes.HeldQuery) -> Response:
    """Give all that is held about a person, as a page or as JSON."""
    held = gather_held(context(), path.record_id, account().id)
    if query.format == "json":
        data = json.dumps(held.document, ensure_ascii=False, indent=1).encode()
        return download(data, "application/json", f"record-{path.record_id}.json")
    page = write_page(held, the_institution(context()).name, context().today().isoformat())
    return download(page.encode(), "text/html; charset=utf-8", f"record-{path.record_id}.html")


@keeping_api.get("/records/<int:record_id>/keeping", responses={200: shapes.KeepingOut})
@needs(Level.LOOK, of="record")
def get_keeping(path: common.RecordPath) -> Any:
    """Tell whether a person was erased, or that their data must stay; why, and who said so, is
    told to who administers the roster.
    """
    erasure, held = how_erased(context(), path.record_id)
    kept_for, kept_by = held or ("", "")
    if level_in(find_roster(context(), "record", path.record_id, account().id)) < Level.ADMINISTER:
        kept_for, kept_by = ("a reason is kept" if held else ""), ""
        erasure = replace(erasure, asked_by="", reason="", counts={}) if erasure else None
    return answer(
        shapes.KeepingOut(
            erased=_erasure(erasure, "", "") if erasure else None,
            kept_for=kept_for,
            kept_by=kept_by,
        )
    )


@keeping_api.post("/records/<int:record_id>/erase", responses={202: shapes.ErasureQueued})
@needs(Level.ADMINISTER, of="record")
def post_erase(path: common.RecordPath, body: shapes.EraseIn) -> Any:
    """Erase a person; it cannot be taken back. The job's answer says what was taken out."""
    job = queue_erasure(context(), path.record_id, body.asked_by, body.reason, account().id)
    return answer(shapes.ErasureQueued(job_id=job), 202)


@keeping_api.post("/records/<int:record_id>/hold-back", responses={204: None})
@needs(Level.ADMINISTER, of="record")
def post_hold_back(path: common.RecordPath, body: shapes.HoldBackIn) -> Any:
    """Keep a person's data from being erased."""
    hold_back(context(), path.record_id, body.reason, account().id)
    return "", 204


@keeping_api.post("/records/<int:record_id>/release", responses={204: None})
@needs(Level.ADMINISTER, of="record")
def post_release(path: common.RecordPath) -> Any:
    """Let a person's data be erased again."""
    release(context(), path.record_id, account().id)
    return "", 204


@keeping_api.get("/keeping", responses={200: shapes.LapsesOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_lapses() -> Any:
    """List for how long things are kept, and what goes next."""
    return answer(_lapses())


@keeping_api.post("/keeping/look", responses={200: shapes.GoesOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_look_at_term(body: shapes.TermIn) -> Any:
    """Count what would go if something were kept for so many days."""
    tonight, soon = look_at_term(context(), body.kind, body.days) if body.days else (0, 0)
    return answer(shapes.GoesOut(tonight=tonight, soon=soon))


@keeping_api.put("/keeping", responses={200: shapes.LapsesOut})
@needs(Level.ADMINISTER, everywhere=True)
def put_term(body: shapes.TermIn) -> Any:
    """Say for how many days something is kept; it holds from the next night on."""
    set_term(context(), body.kind, body.days, account().id)
    return answer(_lapses())


def _lapses() -> shapes.LapsesOut:
    return shapes.LapsesOut(
        lapses=[shapes.LapseOut(**asdict(one)) for one in list_lapses(context())],
        hour=context().settings.copy_hour,
    )


@keeping_api.get("/erasures", responses={200: shapes.ErasuresOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_erasures() -> Any:
    """List who was erased, the last first: who asked for it, and what was taken out of where."""
    rosters = {roster.id: roster for roster in list_seen(context())}
    found, renewed = list_erased(context())
    erasures = [
        _erasure(one, rosters[one.roster_id].name, rosters[one.roster_id].title, one.id <= renewed)
        for one in found
    ]
    return answer(shapes.ErasuresOut(erasures=erasures))


def _erasure(one: Erasure, name: str, title: str, is_renewed: bool = False) -> shapes.ErasureOut:
    return shapes.ErasureOut(
        record=one.record_id,
        roster=name,
        roster_title=title,
        asked_by=one.asked_by,
        reason=one.reason,
        by=one.by,
        at=one.at,
        counts=one.counts,
        is_renewed=is_renewed,
    )
