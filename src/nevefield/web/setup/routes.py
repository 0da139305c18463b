"""Errors that nobody foresaw, for administrators."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from nevefield.accounts import Level
from nevefield.setup.unforeseen import list_open, settle
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.setup import shapes

__all__ = ["unforeseen_api"]

unforeseen_api = Api("unforeseen", __name__)


@unforeseen_api.get("/unforeseen", responses={200: shapes.UnforeseenList})
@needs(Level.ADMINISTER, everywhere=True)
def get_unforeseen() -> Any:
    """List errors that nobody foresaw and nobody settled, the last first."""
    found = list_open(context())
    return answer(
        shapes.UnforeseenList(unforeseen=[shapes.UnforeseenOut(**asdict(error)) for error in found])
    )


@unforeseen_api.post("/unforeseen/<int:number>/settle", responses={204: None})
@needs(Level.ADMINISTER, everywhere=True)
def post_settle(path: shapes.UnforeseenPath) -> Any:
    """Put one aside until it happens again."""
    settle(context(), path.number, account().id)
    return "", 204
