"""Letters: written, followed, printed; what people say of themselves by their links."""

from __future__ import annotations

import io
from http import HTTPStatus
from typing import Any

from flask import Response, request

from nevefield.accounts import Level
from nevefield.core.mailing.template import Template
from nevefield.letters.answering import give_answer, look_at_own
from nevefield.letters.following import (
    end_letter,
    list_letters,
    list_of_record,
    open_letter,
    part_of,
    reminder,
    still_open,
)
from nevefield.letters.passwords import list_places
from nevefield.letters.printing import Printing, look_at_printing, print_letters
from nevefield.letters.taking import take_in
from nevefield.letters.writing import Letter, look_at_letter, send_letter
from nevefield.rosters.looking import list_seen
from nevefield.rosters.shortlists import Meant, find_meant
from nevefield.setup.working import Working
from nevefield.web import common
from nevefield.web.access import account, context, level_in, needs, open_to_all
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file, refuses
from nevefield.web.letters import shapes
from nevefield.web.letters.answers import brief_answer, looked_answer, open_answer, own_answer

__all__ = ["letter_api"]

letter_api = Api("letters", __name__)


@letter_api.post("/rosters/<name>/letter/look", responses={200: shapes.LetterOut})
@needs(Level.APPROVE, of="roster")
def post_letter_look(path: common.NamePath, body: shapes.LetterIn) -> Any:
    """Say what would be written to whom, with a few filled; nothing is sent."""
    return answer(looked_answer(look_at_letter(context(), _letter(path.name, body))))


@letter_api.post("/rosters/<name>/letter", responses={202: shapes.LetterSent})
@needs(Level.APPROVE, of="roster")
def post_letter(path: common.NamePath, body: shapes.LetterSend) -> Any:
    """Queue a mail to each of them who has an address, and keep who gets it on paper."""
    letter = _letter(path.name, body)
    sent = send_letter(context(), letter, body.seen, body.once, request.host_url, account().id)
    return answer(shapes.LetterSent(**vars(sent)), 202)


@letter_api.get("/rosters/<name>/letters", responses={200: shapes.LetterList})
@needs(Level.PREPARE, of="roster", whole=True, polled=True)
def get_letters(path: common.NamePath) -> Any:
    """List the letters to people of a roster, the last first."""
    found = list_letters(context(), path.name)
    return answer(shapes.LetterList(letters=[brief_answer(one) for one in found]))


@letter_api.get("/rosters/<name>/letters/places", responses={200: shapes.PasswordPlaces})
@needs(Level.APPROVE, of="roster", whole=True)
def get_password_places(path: common.NamePath) -> Any:
    """List the systems at which people of a roster may set their password by a link."""
    found = list_places(context(), path.name)
    places = [shapes.PasswordPlace(name=one.name, title=one.title) for one in found]
    return answer(shapes.PasswordPlaces(places=places))


@letter_api.get("/letters/<int:letter_id>", responses={200: shapes.LetterOpen})
@needs(Level.PREPARE, of="letter", whole=True, polled=True)
def get_letter(path: shapes.LetterPath, query: shapes.LetterQuery) -> Any:
    """Give a letter, and those to whom it was written."""
    opened = open_letter(context(), path.letter_id)
    names = {roster.id: roster.name for roster in list_seen(context())}
    number = opened.row.roster_id
    return answer(
        open_answer(opened, query, names[number], len(still_open(opened)), int(level_in(number)))
    )


@letter_api.post("/letters/<int:letter_id>/remind/look", responses={200: shapes.LetterOut})
@needs(Level.APPROVE, of="letter", whole=True)
def post_reminder_look(path: shapes.LetterPath, body: shapes.ReminderIn) -> Any:
    """Say what would be written to those who have not answered; nothing is sent."""
    letter = reminder(context(), path.letter_id, _template(body), body.paper)
    return answer(looked_answer(look_at_letter(context(), letter)))


@letter_api.post("/letters/<int:letter_id>/remind", responses={202: shapes.LetterSent})
@needs(Level.APPROVE, of="letter", whole=True)
def post_reminder(path: shapes.LetterPath, body: shapes.ReminderSend) -> Any:
    """Write to those who have not answered; each gets another link."""
    letter = reminder(context(), path.letter_id, _template(body), body.paper)
    sent = send_letter(context(), letter, body.seen, body.once, request.host_url, account().id)
    return answer(shapes.LetterSent(**vars(sent)), 202)


@letter_api.post("/letters/<int:letter_id>/end", responses={200: common.Done})
@needs(Level.APPROVE, of="letter", whole=True)
def post_letter_end(path: shapes.LetterPath) -> Any:
    """Withdraw the links of a letter; what waits of it does not go."""
    end_letter(context(), path.letter_id, account().id)
    return answer(common.Done(done=True))


@letter_api.post("/letters/<int:letter_id>/take", responses={200: shapes.LetterTaken})
@needs(Level.PREPARE, of="letter", whole=True)
def post_letter_take(path: shapes.LetterPath) -> Any:
    """Make an intake of the corrections that are in none yet."""
    return answer(shapes.LetterTaken(intake=take_in(context(), path.letter_id, account().id)))


@letter_api.get("/letters/<int:letter_id>/print", responses={200: shapes.LetterPrintLook})
@needs(Level.APPROVE, of="letter", whole=True)
def get_letter_print(path: shapes.LetterPath, query: shapes.LetterPrintQuery) -> Any:
    """Say how many letters would be printed, and in whose letters stand that cannot be set."""
    papers, odd = look_at_printing(context(), Printing(path.letter_id, query.who))
    return answer(shapes.LetterPrintLook(papers=papers, odd=odd))


@letter_api.post("/letters/<int:letter_id>/print")
@needs(Level.APPROVE, of="letter", whole=True)
@gives_file("application/pdf")
def post_letter_print(path: shapes.LetterPath, body: shapes.LetterPrintIn) -> Response:
    """Print a letter as PDF; each gets another link, of which all work until they answer."""
    out = io.BytesIO()
    with Working(context(), body.work, account().id) as progress:
        printing = Printing(path.letter_id, body.who, body.paper)
        print_letters(context(), printing, out, request.host_url, account().id, progress)
    return download(out.getvalue(), "application/pdf", f"letter {path.letter_id}.pdf")


@letter_api.get("/records/<int:record_id>/letters", responses={200: shapes.LettersOfRecord})
@needs(Level.LOOK, of="record")
def get_letters_of_record(path: common.RecordPath) -> Any:
    """List the letters to one person, the last first."""
    found = [
        shapes.LetterToRecord(
            letter=letter.id,
            title=letter.title,
            at=letter.at,
            part=part_of(one.stand, asks=letter.asks is not None),
            answered_at=one.answered_at,
            fields=list(one.fields),
            intake=one.intake_id,
        )
        for letter, one in list_of_record(context(), path.record_id)
    ]
    return answer(shapes.LettersOfRecord(letters=found))


@letter_api.post("/own/look", responses={200: shapes.OwnOut})
@open_to_all
@refuses(HTTPStatus.GONE, HTTPStatus.FORBIDDEN, HTTPStatus.CONFLICT)
def post_own_look(body: shapes.OwnLook) -> Any:
    """Show somebody what is kept of them, by the link that they got."""
    own = look_at_own(context(), body.token, body.proof)
    return answer(own_answer(context(), own, context().today()))


@letter_api.post("/own/answer", responses={200: shapes.OwnAnswered})
@open_to_all
@refuses(HTTPStatus.GONE, HTTPStatus.FORBIDDEN, HTTPStatus.CONFLICT, HTTPStatus.BAD_GATEWAY)
def post_own_answer(body: shapes.OwnAnswer) -> Any:
    """Keep what somebody says of themselves; their link works no more after."""
    found = give_answer(context(), body.token, body.proof, body.said, body.password)
    return answer(shapes.OwnAnswered(**vars(found)))


def _template(body: shapes.LetterText) -> Template:
    return Template(body.subject, body.text, body.address)


def _letter(name: str, body: shapes.LetterIn) -> Letter:
    meant = Meant(
        body.records,
        shortlist=body.shortlist,
        text=body.q,
        filters=body.filter,
        everybody=body.everybody,
    )
    records = find_meant(context(), name, meant, account().id)
    return Letter(name, records, body.field, _template(body), body.asks, body.paper)
