"""Submissions to an authority: what is in them, what was rejected, numbers, rounds."""

from __future__ import annotations

import base64
import uuid
from typing import TYPE_CHECKING, Any

from flask import Response, request

from nevefield.accounts import Level
from nevefield.core.conditions import say_condition
from nevefield.core.errors import WrongAnswer
from nevefield.core.submitting.published import read_published
from nevefield.rosters.coding import define_words, list_codes
from nevefield.rosters.errors import NoSuchRecord
from nevefield.rosters.looking import list_seen
from nevefield.submissions.answering import bring_answer, end_by_hand, open_answer
from nevefield.submissions.deciding import Said, decide, take_theirs
from nevefield.submissions.errors import WrongDecision
from nevefield.submissions.looking import list_submissions as find_submissions
from nevefield.submissions.looking import open_submission, open_with_rounds
from nevefield.submissions.opening import (
    Beginning,
    authority_of,
    begin_submission,
    change_layout,
    close,
    count_records,
    find_like,
    join_conditions,
    plan_layout,
    rename,
    set_policy,
    take_in,
    translate_code,
)
from nevefield.submissions.sending import build_round, send_again, write_body
from nevefield.web import common
from nevefield.web.access import account, context, level_in, needs, sight
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import asks_authority, gives_file, takes_file
from nevefield.web.submissions import shapes, shapes_layout, shapes_people
from nevefield.web.submissions.answers import layout_answer, line_answer, overview_answer
from nevefield.web.submissions.answers_people import (
    held_answer,
    people_answer,
    person_answer,
    requests_answer,
    rules_answer,
)

if TYPE_CHECKING:
    pass

__all__ = ["submission_api"]

submission_api = Api("submissions", __name__)


@submission_api.get("/submissions", responses={200: shapes.SubmissionList})
@needs(Level.LOOK)
def list_submissions() -> Any:
    """List the submissions of the rosters that one may see."""
    mine = [
        roster.name
        for roster in list_seen(context())
        if level_in(roster.id) >= Level.PREPARE and roster.id not in sight().parts
    ]
    lines = [
        line_answer(*open_with_rounds(context(), submission.id))
        for submission in find_submissions(context())
    ]
    return answer(shapes.SubmissionList(submissions=lines, may_begin=mine))


@submission_api.post("/rosters/<name>/submissions", responses={201: shapes.BeganOut})
@needs(Level.PREPARE, of="roster", whole=True)
@asks_authority
def post_submission(path: common.NamePath, body: shapes.BeginIn) -> Any:
    """Begin a submission."""
    layout, published, chosen = body.layout, None, body.chosen
    if body.like is not None:
        like = find_like(context(), body.like, path.name)
        # What is decided of numbers without asking is not taken over: that is said anew each time.
        layout, chosen = (
            layout or like.layout,
            join_conditions(like.chosen, chosen, instead=body.instead),
        )
        published = like.published if not context().settings.registry_url else None
    if layout is None:
        raise WrongDecision("Say where our fields go: a layout, or a submission that had one.")
    number = begin_submission(
        context(),
        Beginning(
            roster=path.name,
            title=body.title,
            side=body.side,
            day=body.day,
            layout=layout,
            chosen=chosen,
            due=body.due,
            published=published,
            starts_from=body.starts_from,
            key=uuid.uuid4().hex,
        ),
        account().id,
    )
    return answer(shapes.BeganOut(submission=number), 201)


@submission_api.post("/rosters/<name>/submission-count", responses={200: shapes.CountOut})
@needs(Level.PREPARE, of="roster")
def post_count(path: common.NamePath, body: shapes.CountIn) -> Any:
    """Count whom a submission would take in, before it is begun."""
    earlier = find_like(context(), body.like, path.name).chosen if body.like is not None else None
    chosen = join_conditions(earlier, body.chosen, instead=body.instead)
    records, parts = count_records(context(), path.name, chosen, body.day)
    definition, codes = define_words(context(), path.name)

    def label(name: str, value: str) -> str:
        code = codes[definition.by_name[name].code_list].by_code.get(value)
        return code.label or value if code else value

    listed = [
        shapes.CountedPart(
            title=definition.title_of(name),
            parts=[
                {"value": value, "label": label(name, value), "records": size}
                for value, size in part.items()
            ],
        )
        for name, part in parts.items()
    ]
    message = say_condition(chosen, definition.title_of) if chosen is not None else ""
    return answer(shapes.CountOut(records=records, said=message, parts=listed))


@submission_api.post("/submissions/<int:submission_id>/rename", responses={200: common.Done})
@needs(Level.PREPARE, of="submission")
def post_rename(path: shapes.SubmissionPath, body: shapes.RenameIn) -> Any:
    """Give it another title."""
    rename(context(), path.submission_id, body.title, account().id)
    return answer(common.Done(done=True))


@submission_api.post("/submissions/<int:submission_id>/close", responses={200: common.Done})
@needs(Level.APPROVE, of="submission")
def post_close(path: shapes.SubmissionPath, body: shapes.CloseIn) -> Any:
    """Close it, or open it again."""
    close(context(), path.submission_id, account().id, back=body.back)
    return answer(common.Done(done=True))


@submission_api.get(
    "/submissions/<int:submission_id>/requests", responses={200: shapes_people.RequestsOut}
)
@needs(Level.LOOK, of="submission")
def get_requests(path: shapes.SubmissionPath) -> Any:
    """List the changes of theirs that were asked for, with what became of each."""
    return answer(requests_answer(open_submission(context(), path.submission_id)))


@submission_api.get("/rosters/<name>/submission-layout", responses={200: shapes_layout.LayoutOut})
@needs(Level.PREPARE, of="roster", whole=True)
@asks_authority
def get_plan(path: common.NamePath, query: shapes_layout.SideQuery) -> Any:
    """Propose where a roster's fields go in the authority's layout."""
    published, layout = plan_layout(context(), path.name, query.side)
    definition, codes = define_words(context(), path.name)
    return answer(layout_answer(definition, codes, read_published(published), layout))


@submission_api.get(
    "/submissions/<int:submission_id>/layout", responses={200: shapes_layout.LayoutOut}
)
@needs(Level.LOOK, of="submission")
def get_layout(path: shapes.SubmissionPath) -> Any:
    """Give where our fields go."""
    opened = open_submission(context(), path.submission_id)
    codes = list_codes(context())
    return answer(
        layout_answer(opened.snapshot.definition, codes, opened.published, opened.submission.layout)
    )


@submission_api.put("/submissions/<int:submission_id>/layout", responses={200: common.Done})
@needs(Level.PREPARE, of="submission")
def put_layout(path: shapes.SubmissionPath, body: shapes_layout.LayoutIn) -> Any:
    """Write it otherwise from now on."""
    change_layout(context(), path.submission_id, body.layout, account().id)
    return answer(common.Done(done=True))


@submission_api.get("/submissions/<int:submission_id>", responses={200: shapes.SubmissionOut})
@needs(Level.LOOK, of="submission")
def get_submission(path: shapes.SubmissionPath) -> Any:
    """Give a submission as it stands."""
    return answer(overview_answer(*open_with_rounds(context(), path.submission_id)))


@submission_api.get(
    "/submissions/<int:submission_id>/people", responses={200: shapes_people.PeopleHere}
)
@needs(Level.LOOK, of="submission")
def get_people(path: shapes.SubmissionPath, query: shapes_people.PeopleIn) -> Any:
    """List the people in it."""
    return answer(people_answer(open_submission(context(), path.submission_id), query))


@submission_api.get(
    "/submissions/<int:submission_id>/rules", responses={200: shapes_people.RulesHere}
)
@needs(Level.LOOK, of="submission")
def get_rules(path: shapes.SubmissionPath, query: shapes_people.RulesQuery) -> Any:
    """List rules with their people."""
    return answer(rules_answer(open_submission(context(), path.submission_id), query.which))


@submission_api.get(
    "/submissions/<int:submission_id>/people/<int:record_id>",
    responses={200: shapes_people.PersonInFull},
)
@needs(Level.PREPARE, of="submission")
def get_person(path: shapes.SubmissionPersonPath, query: shapes_people.PersonQuery) -> Any:
    """Give one person: ours as sent, theirs as held today, the holders of a number."""
    opened = open_submission(context(), path.submission_id)
    if path.record_id not in opened.standings:
        raise NoSuchRecord(path.record_id)
    return answer(person_answer(opened, path.record_id, query.rule))


@submission_api.get(
    "/submissions/<int:submission_id>/people/<int:record_id>/held",
    responses={200: shapes_people.HeldOut},
)
@needs(Level.PREPARE, of="submission")
@asks_authority
def get_held(path: shapes.SubmissionPersonPath, query: shapes_people.PersonQuery) -> Any:
    """Look up what the authority holds right now under the number that was sent."""
    opened = open_submission(context(), path.submission_id)
    line = opened.lines.get(path.record_id)
    number = line.sent.get(opened.layout.number.to, "") if line is not None else ""
    if not number:
        raise WrongDecision("It was sent without a number; there is none to look up.")
    client = authority_of(context(), opened.submission.side)
    try:
        held = client.look_up(number)
    finally:
        client.close()
    if held is None:
        raise WrongDecision(f"{opened.published.authority} holds nobody under {number}.")
    return answer(
        shapes_people.HeldOut(fields=held_answer(opened, path.record_id, held, query.rule))
    )


@submission_api.post(
    "/submissions/<int:submission_id>/decide", responses={200: shapes_people.DecidedOut}
)
@needs(Level.PREPARE, of="submission")
def post_decide(path: shapes.SubmissionPath, body: shapes_people.DecideIn) -> Any:
    """Decide of records: ours is right, not this person, to send all the same, to keep back, to
    let a warning be.
    """
    if body.kind == "number":
        raise WrongDecision("Numbers are decided at /numbers, which asks for the level approve.")
    return _decide(path.submission_id, body)


@submission_api.post(
    "/submissions/<int:submission_id>/numbers", responses={200: shapes_people.DecidedOut}
)
@needs(Level.APPROVE, of="submission")
def post_number(path: shapes.SubmissionPath, body: shapes_people.DecideIn) -> Any:
    """Decide whose number it is: one of the holders, or a new one."""
    if body.kind not in ("number", "clear"):
        raise WrongDecision("Here numbers are decided, and nothing else.")
    return _decide(path.submission_id, body)


def _decide(number: int, body: shapes_people.DecideIn) -> Any:
    try:
        attachment = base64.b64decode(body.attachment, validate=True)
    except ValueError as error:  # binascii.Error is one; letters that are no ASCII are another
        raise WrongDecision("The attachment came damaged; attach it again.") from error
    said = Said(body.kind, body.value, body.rule, body.reason, body.attached, attachment)
    return answer(
        shapes_people.DecidedOut(
            records=decide(context(), number, body.records, said, account().id)
        )
    )


@submission_api.post(
    "/submissions/<int:submission_id>/take-theirs", responses={201: shapes_people.TookOver}
)
@needs(Level.PREPARE, of="submission")
def post_take_theirs(path: shapes.SubmissionPath, body: shapes_people.TakeTheirsIn) -> Any:
    """Take over what the authority holds, as an intake that is looked at and applied: ours is
    wrong.
    """
    number = take_theirs(context(), path.submission_id, body.records, body.fields, account().id)
    return answer(shapes_people.TookOver(intake=number), 201)


@submission_api.post("/submissions/<int:submission_id>/translate", responses={200: common.Done})
@needs(Level.PREPARE, of="submission")
@asks_authority
def post_translate(path: shapes.SubmissionPath, body: shapes_layout.TranslateIn) -> Any:
    """Send one of our codes as another of theirs from now on."""
    translate_code(context(), path.submission_id, body.field, body.ours, body.theirs, account().id)
    return answer(common.Done(done=True))


@submission_api.post("/submissions/<int:submission_id>/policy", responses={200: common.Done})
@needs(Level.APPROVE, of="submission")
def post_policy(path: shapes.SubmissionPath, body: shapes.PolicyIn) -> Any:
    """Say what is decided of numbers without asking."""
    set_policy(context(), path.submission_id, body.none, body.one, account().id)
    return answer(common.Done(done=True))


@submission_api.post("/submissions/<int:submission_id>/take-in", responses={200: shapes.TookIn})
@needs(Level.PREPARE, of="submission")
def post_take_in(path: shapes.SubmissionPath) -> Any:
    """Take in the records that belong to it by now."""
    return answer(shapes.TookIn(records=take_in(context(), path.submission_id, account().id)))


@submission_api.post("/submissions/<int:submission_id>/send", responses={201: shapes.SentOut})
@needs(Level.APPROVE, of="submission")
def post_send(path: shapes.SubmissionPath, body: shapes.SendIn) -> Any:
    """Send all that is ready as the next round."""
    key = uuid.uuid4().hex
    part = (body.part, body.value) if body.part else None
    number = build_round(
        context(),
        path.submission_id,
        account().id,
        key,
        seen=body.seen,
        by_hand=body.by_hand,
        part=part,
    )
    return answer(shapes.SentOut(round=number), 201)


@submission_api.post("/rounds/<int:round_id>/again", responses={200: common.Done})
@needs(Level.APPROVE, of="round")
def post_again(path: shapes.RoundPath) -> Any:
    """Send a round again that the authority refused."""
    send_again(context(), path.round_id, account().id)
    return answer(common.Done(done=True))


@submission_api.post("/rounds/<int:round_id>/end", responses={200: common.Done})
@needs(Level.APPROVE, of="round")
def post_end(path: shapes.RoundPath) -> Any:
    """End a round by hand of which a part was answered: what has no answer goes again."""
    end_by_hand(context(), path.round_id, account().id)
    return answer(common.Done(done=True))


@submission_api.get("/rounds/<int:round_id>/body")
@needs(Level.APPROVE, of="round")
@gives_file("application/json", "text/csv")
def get_body(path: shapes.RoundPath, query: shapes.FileQuery) -> Any:
    """Give what a round sends as a file."""
    return _file(
        write_body(context(), path.round_id, query.kind),
        f"round-{path.round_id}.{query.kind}",
        query.kind,
    )


@submission_api.get("/rounds/<int:round_id>/answer")
@needs(Level.APPROVE, of="round")
@gives_file("application/json")
def get_answer(path: shapes.RoundPath) -> Any:
    """Give the answer to a round as it came."""
    found = open_answer(context(), path.round_id)
    return _file(found, f"answer-{path.round_id}.json", "json")


def _file(data: bytes, name: str, kind: str) -> Response:
    return download(data, "application/json" if kind == "json" else "text/csv", name)


@submission_api.post("/rounds/<int:round_id>/answer", responses={200: common.Done})
@needs(Level.APPROVE, of="round")
@takes_file()
def post_answer(path: shapes.RoundPath) -> Any:
    """Take an answer that somebody brings as a file: multipart, `file`."""
    file = request.files.get("file")
    if file is None:
        raise WrongAnswer("No file came with the request; choose it and bring it again.")
    state = bring_answer(context(), path.round_id, file.read(), account().id)
    return answer(common.Done(done=state == "done"))
