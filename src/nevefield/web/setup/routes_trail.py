"""The trail: looked through, taken out, checked."""

from __future__ import annotations

from typing import Any

from flask import Response

from nevefield.accounts import Level
from nevefield.rosters.looked import list_looked
from nevefield.setup.acts import GROUPS, words_of_act
from nevefield.setup.trailing import (
    Query,
    check_trail,
    detail_words,
    list_trail,
    take_trail,
)
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file
from nevefield.web.setup import shapes_trail as shapes

__all__ = ["trail_api"]

trail_api = Api("trail", __name__)


def _query(asked: shapes.TrailFileQuery) -> Query:
    return Query(asked.group, asked.account, asked.q, asked.first, asked.last)


@trail_api.get("/trail", responses={200: shapes.TrailOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_trail(query: shapes.TrailQuery) -> Any:
    """List a page of the trail, the last line first."""
    page = list_trail(context(), _query(query), query.start, query.limit)
    lines = [
        shapes.TrailLine(
            id=entry.line.id,
            at=entry.line.at,
            who=entry.who,
            address=entry.line.address,
            words=words_of_act(entry.line.act).words,
            subject=entry.line.subject,
            detail=detail_words(entry.line.detail),
            is_sealed=entry.is_sealed,
        )
        for entry in page.entries
    ]
    groups = [shapes.TrailGroup(name=name, words=words) for name, words in GROUPS.items()]
    return answer(shapes.TrailOut(total=page.total, lines=lines, groups=groups))


@trail_api.get("/looked", responses={200: shapes.LookedOut})
@needs(Level.ADMINISTER, everywhere=True)
def get_looked(query: shapes.LookedQuery) -> Any:
    """List who looked at sensitive fields, the last first."""
    total, found = list_looked(
        context(),
        account_id=query.account,
        roster_name=query.roster,
        record_id=query.record,
        start=query.start,
        limit=query.limit,
    )
    lines = [
        shapes.LookedLine(
            hour=one.look.hour,
            who=one.look.who,
            roster=one.roster.name,
            roster_title=one.roster.title,
            record=one.look.record_id or None,
            whom=one.whom,
            reason=one.look.reason,
        )
        for one in found
    ]
    return answer(shapes.LookedOut(total=total, lines=lines))


@trail_api.get("/trail/file")
@needs(Level.ADMINISTER, everywhere=True)
@gives_file()
def get_trail_file(query: shapes.TrailFileQuery) -> Response:
    """Give what is looked for of the trail as a file; that is in the trail too."""
    data = take_trail(context(), _query(query), account().id)
    return download(data, "text/csv; charset=utf-8", "trail.csv")


@trail_api.post("/trail/check", responses={200: shapes.TrailChecked})
@needs(Level.ADMINISTER, everywhere=True)
def post_check() -> Any:
    """Check whether each line of the trail is what it was."""
    checked = check_trail(context())
    broken = [shapes.BrokenOut(line=one.audit_id, said=one.said) for one in checked.broken]
    return answer(shapes.TrailChecked(lines=checked.lines, head=checked.head, broken=broken))
