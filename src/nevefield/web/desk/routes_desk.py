"""The desk, jobs, and finding what somebody types."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from nevefield.accounts import Level
from nevefield.desk.looking import look_at_desk
from nevefield.desk.searching import search
from nevefield.setup.working import find_job
from nevefield.web.access import context, needs, sight
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.desk import shapes
from nevefield.web.desk.answers import desk_answer

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.desk.searching import Found

__all__ = ["desk_api"]

desk_api = Api("desk", __name__)
PLACES = 20


@desk_api.get("/jobs/<int:job_id>", responses={200: shapes.JobOut})
@needs(Level.LOOK, of="job", polled=True)
def get_job(path: shapes.JobPath) -> Any:
    """Tell how far a job is."""
    job = find_job(context(), path.job_id)
    fields = {name: getattr(job, name) for name in shapes.JobOut.model_fields}
    return answer(shapes.JobOut(**fields))


@desk_api.get("/search", responses={200: shapes.SearchOut})
@needs(Level.LOOK)
def get_search(query: shapes.SearchQuery) -> Any:
    """Find people, intakes, codes and lines of files."""
    found = list(_places(search(context(), query.q)))
    return answer(shapes.SearchOut(places=found[:PLACES]))


def _places(found: Found) -> Iterator[shapes.Place]:
    for card in found.cards:
        yield shapes.Place(
            kind="card",
            title=f"Card {card.number}",
            detail=f"{card.name or card.holder}{'' if card.is_good else ' · out of use'}",
            place=f"/cards/{card.design}/needed?q={quote(card.holder)}",
        )
    for intake in found.intakes:
        place = f"/intakes/{intake.id}/file"
        yield shapes.Place(kind="intake", title=intake.title, detail=intake.file_name, place=place)
    for intake in found.lines:
        place = f"/intakes/{intake.id}/problems?line={found.line}"
        yield shapes.Place(
            kind="line", title=f"Line {found.line}", detail=intake.title, place=place
        )
    for submission in found.submissions:
        side = "practice side" if submission.side == "practice" else "live side"
        yield shapes.Place(
            kind="submission",
            title=submission.title,
            detail=f"submission, {side}",
            place=f"/submissions/{submission.id}/contents",
        )
    for person in found.people:
        yield shapes.Place(
            kind="person",
            title=person.name,
            detail=f"{person.key} · {person.roster.title}",
            place=f"/rosters/{person.roster.name}?record={person.record}",
        )
    for name, code in found.codes:
        yield shapes.Place(
            kind="code", title=f"{code.code} {code.label}", detail=name, place=f"/codes/{name}"
        )


@desk_api.get("/desk", responses={200: shapes.DeskOut})
@needs(Level.LOOK)
def get_desk() -> Any:
    """Tell what is open, and what each file did to the rosters."""
    with_unforeseen = sight().everywhere >= Level.ADMINISTER
    return answer(desk_answer(look_at_desk(context(), with_unforeseen=with_unforeseen)))
