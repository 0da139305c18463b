"""Signing in and out, jobs, search, the desk."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

from flask import Response, g, jsonify, request
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level, end_others, places_of, sight_of, sign_in, sign_out
from nevefield.core.columns.days import say_day
from nevefield.core.columns.titles import name_person, person_key
from nevefield.rosters.looking import find_people
from nevefield.rosters.snapshots import load_codes, load_snapshot
from nevefield.store import intakes as intake_store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store.accounts import Session
from nevefield.store.door import DEVICE_DAYS
from nevefield.store.proposals import Proposal, list_proposals
from nevefield.store.scheduled import Scheduled, list_scheduled
from nevefield.store.submissions import list_submissions
from nevefield.store.unforeseen import Unforeseen, list_unforeseen
from nevefield.submissions.looking import OpenSubmission, open_submission
from nevefield.web import models
from nevefield.web.access import (
    COOKIE,
    DEVICE_COOKIE,
    account,
    context,
    level_in,
    needs,
    open_to_all,
    roster_ids,
    sight,
)

__all__ = ["session_api"]

session_api = APIBlueprint("session", __name__, url_prefix="/api")
PEOPLE_FOUND = 8
FILES_FOUND = 6


@session_api.post("/session", responses={200: models.Me})
@open_to_all
def begin_session(body: models.SignIn) -> Response:
    """Sign in."""
    device = request.cookies.get(DEVICE_COOKIE, "")[:100]
    signed = sign_in(context(), body.name, body.password, request.remote_addr or "", device)
    answer = _me(signed.session, signed.token)
    age = timedelta(hours=context().settings.session_hours)
    safe: dict[str, Any] = {
        "httponly": True,
        "samesite": "Strict",
        "secure": request.is_secure or context().settings.secure_cookies,
    }
    answer.set_cookie(COOKIE, signed.token, max_age=age, path="/", **safe)
    answer.set_cookie(
        DEVICE_COOKIE,
        signed.device,
        max_age=timedelta(days=DEVICE_DAYS),
        path="/api/session",
        **safe,
    )
    return answer


@session_api.get("/session", responses={200: models.Me})
@needs(Level.NONE)
def get_session() -> Response:
    """Tell who is signed in."""
    return _me(g.session, request.cookies.get(COOKIE, ""))


@session_api.post("/session/others/end", responses={200: models.Done})
@needs(Level.NONE)
def post_end_others() -> Response:
    """Sign out everywhere else."""
    ended = end_others(context(), account(), request.cookies.get(COOKIE, ""))
    return jsonify(models.Done(done=ended > 0).model_dump(mode="json"))


@session_api.delete("/session", responses={204: None})
@needs(Level.NONE)
def end_session() -> Any:
    """Sign out."""
    sign_out(context(), request.cookies.get(COOKIE, ""))
    answer = Response(status=204)
    answer.delete_cookie(COOKIE, path="/")
    return answer


def _me(session: Session, token: str) -> Response:
    g.session, g.sight = session, sight_of(context(), session.account)
    with context().database.transaction() as connection:
        rosters = roster_store.list_seen(connection)
    found = [
        models.RosterBrief(name=one.name, title=one.title, level=level_in(one.id))
        for one in rosters
    ]
    settings = context().settings
    places = places_of(context(), session.account, token)
    me = models.Me(
        name=session.account.name,
        sign_in=session.account.sign_in,
        level=sight().highest,
        token=session.csrf,
        practice=settings.practice,
        largest_mb=settings.max_upload_mb,
        rosters=found,
        elsewhere=[
            models.PlaceOut(address=one.address, at=one.at, seen=one.seen_at)
            for one in places
            if not one.is_this
        ],
        address=next((one.address for one in places if one.is_this), ""),
    )
    return jsonify(me.model_dump(mode="json"))


@session_api.get("/jobs/<int:job_id>", responses={200: models.JobOut})
@needs(Level.LOOK, of="job", polled=True)
def get_job(path: models.JobPath) -> Response:
    """Tell how far a job is."""
    with context().database.transaction() as connection:
        job = job_store.get_job(connection, path.job_id)
    fields = {name: getattr(job, name) for name in models.JobOut.model_fields}
    return jsonify(models.JobOut(**fields).model_dump(mode="json"))


@session_api.get("/search", responses={200: models.SearchOut})
@needs(Level.LOOK)
def search(query: models.SearchQuery) -> Response:
    """Find people, intakes, codes and lines of files."""
    allowed = roster_ids(Level.LOOK)
    hits: list[models.Hit] = []
    text = query.q.strip()
    if not text:
        return jsonify(models.SearchOut(hits=[]).model_dump(mode="json"))
    line, named = _line_in(text)
    with context().database.transaction() as connection:
        for one in intake_store.list_intakes(connection, allowed, text=text, limit=FILES_FOUND):
            hits.append(
                models.Hit(
                    kind="intake",
                    title=one.title,
                    detail=one.file_name,
                    place=f"/intakes/{one.id}/file",
                )
            )
        for one in (
            intake_store.list_intakes(connection, allowed, text=named, limit=FILES_FOUND)
            if line
            else ()
        ):
            place = f"/intakes/{one.id}/problems?line={line}"
            hits.append(
                models.Hit(kind="line", title=f"Line {line}", detail=one.title, place=place)
            )
        for sent in list_submissions(connection):
            if text.casefold() in sent.title.casefold():
                detail = "practice side" if sent.side == "practice" else "live side"
                place = f"/submissions/{sent.id}/contents"
                hits.append(
                    models.Hit(
                        kind="submission",
                        title=sent.title,
                        detail=f"submission, {detail}",
                        place=place,
                    )
                )
        for roster in roster_store.list_seen(connection):
            snapshot = load_snapshot(connection, roster)
            for person in find_people(snapshot, text, PEOPLE_FOUND):
                values = snapshot.values(person)
                name = name_person(snapshot.definition, values.get)
                place = f"/rosters/{roster.name}?record={int(snapshot.ids[person])}"
                detail = f"{person_key(snapshot.definition, values)} · {roster.title}"
                hits.append(models.Hit(kind="person", title=name, detail=detail, place=place))
        for name, codes in load_codes(connection).items():
            for code in codes.codes:
                if text.casefold() in (code.code.casefold(), code.label.casefold()):
                    hits.append(
                        models.Hit(
                            kind="code",
                            title=f"{code.code} {code.label}",
                            detail=name,
                            place=f"/codes/{name}",
                        )
                    )
    return jsonify(models.SearchOut(hits=hits[:20]).model_dump(mode="json"))


def _line_in(text: str) -> tuple[str, str]:
    """Read which line is looked for, and words of the file's name: "line 4 mentoring",
    "mentoring 4", "4".
    """
    found = re.search(r"\bline\s+(\d{1,7})\b", text, re.IGNORECASE) or re.search(
        r"(?:^|\s)(\d{1,7})(?=\s|$)", text
    )
    if found is None:
        return "", ""
    rest = f"{text[: found.start()]} {text[found.end() :]}"
    return found[1], " ".join(
        word for word in rest.split() if word.casefold() not in ("of", "in", "line")
    )


@session_api.get("/desk", responses={200: models.DeskOut})
@needs(Level.LOOK)
def get_desk() -> Response:
    """Tell what is open, and what each file did to the rosters."""
    allowed = roster_ids(Level.LOOK)
    items: list[models.OpenItem] = []
    rosters: list[models.RosterOnDesk] = []
    with context().database.transaction() as connection:
        proposals = list_proposals(connection)
        put_off = list_scheduled(connection)
        proposed = {one.intake_id for one in proposals} | {one.intake_id for one in put_off}
        items += [_proposed(one) for one in proposals]
        opened = intake_store.list_intakes(connection, allowed, is_open=True)
        standing = intake_store.list_applied(connection, [one.id for one in opened])
        for intake in opened:
            found = _open_items(intake, standing.get(intake.id, (None, False))[0])
            # What is proposed, or waits for its day, is said as such, and not as ready a second
            # time.
            items += [one for one in found if one.weight != "note" or intake.id not in proposed]
        items += [_put_off(one) for one in put_off]
        for roster, count in roster_store.list_rosters(connection):
            sets = record_store.list_change_sets(connection, roster.id, most=12)
            history = [
                models.CoreOut(
                    change_set=one.id,
                    kind=one.kind,
                    title=one.title,
                    at=one.at,
                    tally=(
                        models.TallyOut(**one.receipt["tally"]) if "tally" in one.receipt else None
                    ),
                    undone=undone is not None,
                )
                for one, _, undone in reversed(sets)
            ]
            rosters.append(
                models.RosterOnDesk(
                    name=roster.name, title=roster.title, records=count, history=history
                )
            )
        sent = [one for one in list_submissions(connection) if one.closed_at is None]
        unforeseen = list_unforeseen(connection) if sight().everywhere >= Level.ADMINISTER else []
    items += [_submitted(open_submission(context(), one.id)) for one in sent]
    items += [_unforeseen(unforeseen)] if unforeseen else []
    items = [one for one in items if one.lead]
    order = {"stop": 0, "ask": 1, "note": 2}
    items.sort(key=lambda item: order[item.weight])
    return jsonify(models.DeskOut(open=items, rosters=rosters).model_dump(mode="json"))


def _unforeseen(found: list[Unforeseen]) -> models.OpenItem:
    last, times = found[0], sum(one.times for one in found)
    return models.OpenItem(
        weight="ask",
        lead=_count(len(found), "error") + " that nobody foresaw",
        rest=f"happened {_count(times, 'time')}",
        detail=f"the last at {last.doing}",
        place="/unforeseen",
        at=last.last_at,
    )


def _submitted(opened: OpenSubmission) -> models.OpenItem:
    """Say what is open of a submission; without a lead when nothing is."""
    one, tally = opened.submission, opened.tally
    told = [
        f"{tally.rejected:,} rejected" if tally.rejected else "",
        f"{tally.to_number:,} to number" if tally.to_number else "",
    ]
    lead = ", ".join(filter(None, told)) or (
        f"{len(opened.ready):,} ready to be sent" if opened.ready else ""
    )
    left = (one.due - context().today()).days if one.due else None
    due = (
        ""
        if left is None
        else f" · due in {left} day{'s' * (left != 1)}"
        if left >= 0
        else " · due day is over"
    )
    place = f"/submissions/{one.id}/{'rejected' if tally.rejected else 'numbers' if tally.to_number else 'contents'}"  # noqa: E501
    detail = f"to {opened.published.authority}{due}"
    weight: models.Weight = "stop" if tally.rejected else "ask" if tally.to_number else "note"
    return models.OpenItem(
        weight=weight, lead=lead, rest=f"in {one.title}", detail=detail, place=place, at=one.at
    )


def _proposed(proposal: Proposal) -> models.OpenItem:
    may_agree = (
        proposal.account_id != account().id and level_in(proposal.roster_id) >= Level.APPROVE
    )
    return models.OpenItem(
        weight="ask",
        lead="Proposed, and waits for you or another" if may_agree else "Waits for a second person",
        rest=proposal.title,
        detail=f"proposed by {proposal.by or 'somebody'}"
        + (f": {proposal.why}" if proposal.why else ""),
        place=_where(proposal),
        at=proposal.at,
    )


def _where(proposal: Proposal) -> str:
    if proposal.intake_id:
        return f"/intakes/{proposal.intake_id}/apply"
    if proposal.act["kind"] == "definition":
        return f"/rosters/{proposal.act['roster']}/definition?proposal={proposal.id}"
    return f"/receipts/{proposal.act['change_set']}/undo?proposal={proposal.id}"


def _put_off(one: Scheduled) -> models.OpenItem:
    does = sum(one.counts.values())
    is_stopped = one.state == "stopped"
    return models.OpenItem(
        weight="stop" if is_stopped else "note",
        lead=f"Not done on {say_day(one.day)}" if is_stopped else f"Waits for {say_day(one.day)}",
        rest=one.title,
        detail=(
            one.reason
            if is_stopped
            else f"{_count(does, 'change')}, put off by {one.by or 'somebody'}"
        ),
        place=f"/intakes/{one.intake_id}/apply",
        at=one.at,
    )


def _open_items(intake: intake_store.Intake, applied: int | None) -> list[models.OpenItem]:
    tally = intake.tally or {}
    where = f"in {intake.title}"

    def item(weight: Any, lead: str, detail: str, page: str) -> models.OpenItem:
        return models.OpenItem(
            weight=weight,
            lead=lead,
            rest=where,
            detail=detail,
            place=f"/intakes/{intake.id}/{page}",
            at=intake.at,
        )

    found = []
    if stopped := tally.get("stopped"):
        found.append(
            item(
                "stop",
                _count(stopped, "row") + " stopped",
                f"of {tally['read']} rows of {intake.file_name}",
                "problems?outcome=stopped",
            )
        )
    if waiting := tally.get("waiting"):
        found.append(
            item(
                "ask",
                _count(waiting, "row") + " waiting",
                "for a yes with a reason",
                "problems?outcome=waiting",
            )
        )
    if held := tally.get("held"):
        found.append(
            item(
                "ask",
                _count(held, "row") + " held",
                "parked by hand, with a reason",
                "problems?outcome=held",
            )
        )
    if absent := tally.get("absent_held"):
        who = _count(absent, "absent person", "absent people")
        found.append(item("ask", f"{who} held", "for a look", "changes?family=absent"))
    ready = tally.get("ready", tally.get("new", 0) + tally.get("changed", 0))
    if applied is not None and ready:
        found.append(
            item(
                "note",
                _count(ready, "more row") + " ready to apply",
                f"beside receipt {applied}",
                "apply",
            )
        )
    elif ready:
        said = f"{tally.get('new', 0)} new, {tally.get('changed', 0)} changed"
        found.append(item("note", _count(ready, "row") + " ready to apply", said, "apply"))
    return found


def _count(number: int, word: str, many: str = "") -> str:
    return f"{number:,} {word if number == 1 else many or word + 's'}"
