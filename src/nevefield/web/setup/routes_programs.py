"""Programs: what they may do, and the tokens by which they ask."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.accounts import Level
from nevefield.accounts.people import May
from nevefield.accounts.programs import add_program, end, list_programs, make_token
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.setup import shapes_people as shapes
from nevefield.web.setup.answers_people import account_answer, rosters_by_number

if TYPE_CHECKING:
    from nevefield.accounts.programs import TokenMade

__all__ = ["program_api"]

program_api = Api("programs", __name__)


@program_api.get("/programs", responses={200: shapes.ProgramsOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_programs() -> Any:
    """List programs, with what each may do and its tokens."""
    rosters, today = rosters_by_number(context()), context().today()
    programs = [
        shapes.ProgramOut(
            account=account_answer(context(), program.person, rosters, own=0, second=set()),
            tokens=[
                shapes.TokenOut(
                    id=token.id,
                    made_at=token.made_at,
                    by=token.by,
                    last_day=token.last_day,
                    used_at=token.used_at,
                    counts=token.ended_at is None
                    and (token.last_day is None or token.last_day >= today),
                )
                for token in program.tokens
            ],
        )
        for program in list_programs(context())
    ]
    return answer(shapes.ProgramsOut(programs=programs))


@program_api.post("/programs", responses={201: shapes.TokenMadeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_program(body: shapes.ProgramIn) -> Any:
    """Add a program; its token is shown this once."""
    levels = {name: Level(level) for name, level in body.rosters.items() if 0 < level <= 4}
    may = May(Level(body.level), levels, body.last_day, body.parts)
    return _made(add_program(context(), body.name, may, body.token_until, account()))


@program_api.post("/programs/<int:account_id>/tokens", responses={201: shapes.TokenMadeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_token(path: shapes.AccountPath, body: shapes.TokenIn) -> Any:
    """Make another token for a program; it is shown this once."""
    return _made(make_token(context(), path.account_id, body.token_until, account()))


@program_api.delete("/programs/<int:account_id>/tokens/<int:token_id>", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def delete_token(path: shapes.TokenPath) -> Any:
    """End a token."""
    end(context(), path.account_id, path.token_id, account())
    return "", 204


def _made(made: TokenMade) -> Any:
    return answer(shapes.TokenMadeOut(account=made.account_id, token=made.token), 201)
