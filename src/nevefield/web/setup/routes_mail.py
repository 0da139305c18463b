"""Mails: where they are handed over, what waits and what became of it, links for passwords."""

from __future__ import annotations

from typing import Any

from flask import request

from nevefield.accounts import Level
from nevefield.mailing.linking import mail_link
from nevefield.mailing.returning import take_returned
from nevefield.mailing.serving import (
    decide,
    keep_server,
    list_mails,
    look_at_post,
    queue_test,
    switch_post,
)
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.describing import takes_file
from nevefield.web.setup import shapes_mail as shapes
from nevefield.web.setup.shapes_people import AccountPath

__all__ = ["mail_api"]

MOST_MESSAGES = 1_000  # at once

mail_api = Api("mail", __name__)


@mail_api.get("/mail", responses={200: shapes.PostOut})
@needs(Level.ADMINISTER, everywhere=True, polled=True)
def get_mail() -> Any:
    """Say how it is with mails."""
    return answer(_out())


@mail_api.put("/mail", responses={200: shapes.PostOut})
@needs(Level.ADMINISTER, everywhere=True)
def put_mail(body: shapes.MailServerIn) -> Any:
    """Keep where mails are handed over, and who writes; the password is never given out again."""
    keep_server(context(), body.server, body.password, account().id)
    return answer(_out())


@mail_api.post("/mail/switch", responses={200: shapes.PostOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_mail_switch(body: shapes.MailSwitch) -> Any:
    """Let mails go, or wait."""
    switch_post(context(), account().id, on=body.on)
    return answer(_out())


@mail_api.post("/mail/test", responses={202: shapes.PostOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_mail_test(body: shapes.MailAddress) -> Any:
    """Queue a test message."""
    queue_test(context(), body.address, account().id)
    return answer(_out(), 202)


@mail_api.get("/mails", responses={200: shapes.MailList})
@needs(Level.ADMINISTER, everywhere=True, polled=True)
def get_mails(query: shapes.MailQuery) -> Any:
    """List a page of mails, the last first."""
    return answer(
        shapes.MailList(
            mails=[
                shapes.MailOut.model_validate(
                    vars(one) | {"record": one.record_id, "has_text": one.body is not None}
                )
                for one in list_mails(context(), query.state, query.start)
            ]
        )
    )


@mail_api.post("/mails/decide", responses={200: shapes.MailDecided})
@needs(Level.ADMINISTER, everywhere=True)
def post_mails_decide(body: shapes.MailDecision) -> Any:
    """Let mails that came to nothing go again, or drop those that wait."""
    count = decide(context(), body.mails, body.what, account().id)
    return answer(shapes.MailDecided(mails=count))


@mail_api.post("/mails/returned", responses={201: shapes.MailsReturned})
@needs(Level.ADMINISTER, everywhere=True)
@takes_file()
def post_mails_returned() -> Any:
    """Take in messages by which mail servers say that mails were not delivered."""
    messages = [one.read() for one in request.files.getlist("file")[:MOST_MESSAGES]]
    found = take_returned(context(), messages, account().id)
    return answer(shapes.MailsReturned.model_validate(vars(found)), 201)


@mail_api.post("/accounts/<int:account_id>/link/mail", responses={202: common.Done})
@needs(Level.ADMINISTER, everywhere=True)
def post_link_mail(path: AccountPath, body: shapes.LinkMailIn) -> Any:
    """Mail somebody a link by which they choose a password; earlier ones count no more."""
    mail_link(context(), path.account_id, body.address, request.host_url, account())
    return answer(common.Done(done=True), 202)


def _out() -> shapes.PostOut:
    found = look_at_post(context())
    return shapes.PostOut(
        server=found.server.model_dump(mode="json") if found.server else None,
        has_password=found.has_password,
        is_on=found.is_on,
        is_practice=context().settings.practice,
        problem=found.problem,
        counts=found.counts,
    )
