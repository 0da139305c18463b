"""People who work here: invited, let do more or less, closed and opened again; the institution."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.accounts.alone import Lone, find_alone
from nevefield.accounts.people import (
    LinkMade,
    May,
    alter,
    close,
    find_account,
    invite,
    list_people,
    make_link,
    reopen,
    sign_out_everywhere,
)
from nevefield.accounts.second import turn_off_of, with_second
from nevefield.setup.institution import name_institution
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.setup import shapes_people as shapes
from nevefield.web.setup.answers_people import account_answer, rosters_by_number

__all__ = ["account_api"]

account_api = Api("accounts", __name__)


@account_api.get("/accounts", responses={200: shapes.AccountsOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_accounts() -> Any:
    """List everybody who works here or did, with what each may do, and where one stands alone."""
    rosters, second = rosters_by_number(context()), with_second(context())
    people = [
        account_answer(context(), one, rosters, own=account().id, second=second)
        for one in list_people(context())
    ]
    return answer(
        shapes.AccountsOut(people=people, alone=[_lone(one) for one in find_alone(context())])
    )


def _lone(one: Lone) -> shapes.LoneOut:
    return shapes.LoneOut(
        roster=one.roster.name, title=one.roster.title, who=one.who, needs_two=one.needs_two
    )


def _may(body: shapes.AccountIn) -> May:
    levels = {name: Level(level) for name, level in body.rosters.items() if 0 < level <= 4}
    return May(Level(body.level), levels, body.last_day, body.parts, body.may_uncover)


def _link(made: LinkMade) -> Any:
    shape = shapes.LinkMadeOut(
        account=made.account_id or 0, token=made.token, until=made.expires_at
    )
    return answer(shape, 201)


@account_api.post("/accounts", responses={201: shapes.LinkMadeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_account(body: shapes.InviteIn) -> Any:
    """Invite somebody: the link is for them to choose a password, and is shown this once."""
    return _link(invite(context(), body.sign_in, body.name, _may(body), account()))


@account_api.put("/accounts/<int:account_id>", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def put_account(path: shapes.AccountPath, body: shapes.AccountIn) -> Any:
    """Write what somebody is called and may do."""
    alter(context(), path.account_id, body.name, _may(body), account())
    return "", 204


@account_api.post("/accounts/<int:account_id>/link", responses={201: shapes.LinkMadeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_link(path: shapes.AccountPath) -> Any:
    """Make a link by which somebody chooses a password; it is shown this once."""
    return _link(make_link(context(), path.account_id, account()))


@account_api.post("/accounts/<int:account_id>/close", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def post_close(path: shapes.AccountPath) -> Any:
    """Close an account; what it did stays."""
    close(context(), path.account_id, account())
    return "", 204


@account_api.post("/accounts/<int:account_id>/open", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def post_open(path: shapes.AccountPath) -> Any:
    """Open a closed account again."""
    reopen(context(), path.account_id, account())
    return "", 204


@account_api.post("/accounts/<int:account_id>/second-step-off", responses={200: common.Done})
@needs(Level.ADMINISTER, everywhere=True)
def post_second_off(path: shapes.AccountPath) -> Any:
    """Take the second step of somebody away who lost their app and their codes."""
    done = turn_off_of(context(), find_account(context(), path.account_id), account())
    return answer(common.Done(done=done))


@account_api.post("/accounts/<int:account_id>/sign-out", responses={200: common.Done})
@needs(Level.ADMINISTER, everywhere=True)
def post_sign_out(path: shapes.AccountPath) -> Any:
    """Sign somebody out of all browsers."""
    ended = sign_out_everywhere(context(), path.account_id, account())
    return answer(common.Done(done=ended > 0))


@account_api.put("/institution", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def put_institution(body: shapes.InstitutionIn) -> Any:
    """Say what the institution is called, and the colour of its mark."""
    name_institution(context(), body.name, body.colour, account().id)
    return "", 204
