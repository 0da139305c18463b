"""Intakes: drop a file, see how it reads, take an error sheet along."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, request

from nevefield.accounts import Level
from nevefield.core.errors import UnreadableFile
from nevefield.core.masking import COVER
from nevefield.core.recipes import differences
from nevefield.intakes import Intake
from nevefield.intakes.due import set_due
from nevefield.intakes.evaluating import Opened, open_intake, what_if
from nevefield.intakes.looking import (
    Listed,
    find_intake_of_sheet,
    look_around,
    pulse,
)
from nevefield.intakes.looking import list_intakes as list_page
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.intakes.sheets import mark_of_file, take_corrections, write_error_sheet
from nevefield.intakes.sources import KnownSource, source_of
from nevefield.intakes.throwing import throw_away
from nevefield.proposals.looking import look_at_intake
from nevefield.setup.trail import note_given
from nevefield.setup.working import Working, how_far
from nevefield.web import common
from nevefield.web.access import account, context, level_in, needs, roster_ids
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file, takes_file
from nevefield.web.intakes import shapes_columns, shapes_files
from nevefield.web.intakes.answers_columns import columns_answer, lines_answer
from nevefield.web.intakes.answers_overview import intake_answer
from nevefield.web.intakes.answers_rehearsal import compose_answer, rehearsal_answer
from nevefield.web.proposals.routes_proposals import proposal_answer
from nevefield.web.proposals.routes_scheduled import scheduled_answer

__all__ = ["file_api"]

file_api = Api("files", __name__)


@file_api.get("/intakes", responses={200: shapes_files.IntakeList})
@needs(Level.LOOK)
def list_intakes(query: shapes_files.IntakesQuery) -> Any:
    """List a page of the intakes that the account may see, the last first; or of those that were
    thrown away.
    """
    page = list_page(context(), query.start, query.limit, thrown=query.thrown)
    return answer(
        shapes_files.IntakeList(
            total=page.total, thrown=page.thrown, intakes=[_brief(listed) for listed in page.listed]
        )
    )


def _brief(listed: Listed) -> shapes_files.IntakeBrief:
    intake = listed.intake
    return shapes_files.IntakeBrief(
        id=intake.id,
        title=intake.title,
        file_name=intake.file_name,
        roster=listed.roster.name,
        roster_title=listed.roster.title,
        at=intake.at,
        by=listed.by,
        tally=common.TallyOut(**intake.tally) if intake.tally else None,
        ready=_ready(intake),
        applied=listed.applied,
        taken_back=listed.taken_back,
    )


def _ready(intake: Intake) -> int:
    tally = intake.tally or {}
    return tally.get("ready", tally.get("new", 0) + tally.get("changed", 0))


@file_api.post("/intakes/<int:intake_id>/throw-away", responses={200: shapes_files.ThrownOut})
@needs(Level.PREPARE, of="intake")
def post_throw_away(path: common.IntakePath, body: shapes_files.ThrowIn) -> Any:
    """Throw an intake away that was dropped by mistake, or take it back; the trail keeps both."""
    throw_away(context(), path.intake_id, account().id, back=body.back)
    return answer(shapes_files.ThrownOut(thrown=not body.back))


@file_api.put("/intakes/<int:intake_id>/due", responses={200: shapes_files.DueIn})
@needs(Level.PREPARE, of="intake")
def put_due(path: common.IntakePath, body: shapes_files.DueIn) -> Any:
    """Say by which day a file has to be in its roster."""
    set_due(context(), path.intake_id, body.day, account().id)
    return answer(body)


@file_api.post("/intakes", responses={201: common.Created})
@needs(Level.PREPARE)
@takes_file(
    roster="its name; without it the roster is found",
    coverage="listed or everybody",
    source="the office or system that it comes from",
    work="a token of 32 hexadecimal digits, to ask how far it is",
)
def drop_file() -> Any:
    """Take a file in: multipart, `file`, and if wanted `roster`, `coverage`, `source`, `work`
    (to ask how far it is).
    """
    file = request.files.get("file")
    if file is None:
        raise UnreadableFile("No file came with the request.", "Upload it again.")
    coverage = request.form.get("coverage", "")
    data = file.read()
    if mark := mark_of_file(context(), data, account().id):
        return answer(_correct(mark, data), 201)
    with Working(context(), request.form.get("work", ""), account().id) as progress:
        intake_id = receive_file(
            context(),
            file.filename or "file",
            data,
            Claims(
                roster=request.form.get("roster", ""),
                coverage=coverage if coverage in ("listed", "everybody") else "",
                source=request.form.get("source", "")[:120],
                allowed=roster_ids(Level.PREPARE),
            ),
            account_id=account().id,
            progress=progress,
        )
        open_intake(context(), intake_id, progress)
    return answer(common.Created(intake=intake_id), 201)


@file_api.get("/work/<token>", responses={200: shapes_files.WorkOut})
@needs(Level.PREPARE, polled=True)
def get_work(path: shapes_files.WorkPath) -> Any:
    """Say how far work is that this account asked for."""
    doing, done, total = how_far(context(), path.token, account().id)
    return answer(shapes_files.WorkOut(doing=doing, done=done, total=total))


def _correct(mark: str, data: bytes) -> common.Created:
    """Take a corrected error sheet into the last intake of its file that whoever dropped it may
    prepare.
    """
    intake_id = find_intake_of_sheet(context(), mark, roster_ids(Level.PREPARE))
    corrections = take_corrections(context(), intake_id, data, account().id)
    return common.Created(
        intake=intake_id, corrections=common.CorrectionsOut(**asdict(corrections))
    )


@file_api.get("/intakes/<int:intake_id>/errors")
@needs(Level.LOOK, of="intake")
@gives_file()
def get_error_sheet(path: common.IntakePath, query: shapes_files.SheetQuery) -> Response:
    """Give the error sheet: the rows that are stopped or wait, with what is wrong."""
    opened = open_intake(context(), path.intake_id)
    file = write_error_sheet(
        opened.evaluation,
        opened.intake.file_name,
        opened.intake.file_hash,
        opened.intake.title,
        query.format,
    )
    note_given(context(), "error-sheet", opened.intake.title, account().id, intake=path.intake_id)
    return download(file.content, file.media_type, file.file_name)


@file_api.get("/intakes/<int:intake_id>", responses={200: shapes_files.IntakeOut})
@needs(Level.LOOK, of="intake")
def get_intake(path: common.IntakePath) -> Any:
    """Give an intake's overview."""
    opened = open_intake(context(), path.intake_id)
    around = look_around(context(), opened)
    proposed, waiting = look_at_intake(context(), path.intake_id)
    return answer(
        intake_answer(
            opened,
            around,
            level_in(opened.roster.id),
            [text for text in _unlike(opened, around.sources) if COVER not in text],
            asks=account().id,
            proposal=proposal_answer(proposed) if proposed else None,
            scheduled=scheduled_answer(waiting) if waiting else None,
        )
    )


def _unlike(opened: Opened, sources: list[KnownSource]) -> list[str]:
    """List in what a file differs from the last of its source; of an applied one nothing: it is
    the last itself.
    """
    name = source_of(opened.evaluation.decisions, opened.intake)
    source = next((source for source in sources if source.name == name), None)
    if (
        source is None
        or source.recipe is None
        or any(row.step["kind"] == "applied" for row in opened.steps)
    ):
        return []
    return [difference.text for difference in differences(source.recipe.expects, opened.evaluation)]


@file_api.get("/intakes/<int:intake_id>/lines", responses={200: shapes_files.LinesOut})
@needs(Level.LOOK, of="intake")
def get_lines(path: common.IntakePath, query: shapes_files.LinesQuery) -> Any:
    """Give the file's lines as they stand."""
    return answer(lines_answer(open_intake(context(), path.intake_id).evaluation, query))


@file_api.get("/intakes/<int:intake_id>/columns", responses={200: shapes_columns.ColumnsOut})
@needs(Level.LOOK, of="intake")
def get_columns(path: common.IntakePath) -> Any:
    """Give the file's columns and where they go."""
    return answer(columns_answer(open_intake(context(), path.intake_id).evaluation))


@file_api.post(
    "/intakes/<int:intake_id>/compose-preview", responses={200: shapes_columns.ComposePreview}
)
@needs(Level.PREPARE, of="intake")
def preview_pattern(path: common.IntakePath, body: shapes_columns.ComposeIn) -> Any:
    """Say what a pattern would compose, with nothing kept."""
    evaluation = what_if(
        context(), path.intake_id, {"kind": "compose", "field": body.field, "pattern": body.pattern}
    )
    return answer(compose_answer(evaluation, body.field))


@file_api.get("/intakes/<int:intake_id>/rehearsal", responses={200: shapes_columns.RehearsalOut})
@needs(Level.LOOK, of="intake")
def get_rehearsal(path: common.IntakePath, query: shapes_columns.RehearsalQuery) -> Any:
    """Say what would become of the first five rows, of a sample, or of all, with nothing stored."""
    return answer(rehearsal_answer(open_intake(context(), path.intake_id).evaluation, query))


@file_api.get("/intakes/<int:intake_id>/pulse", responses={200: shapes_files.PulseOut})
@needs(Level.LOOK, of="intake", polled=True)
def get_pulse(path: common.IntakePath) -> Any:
    """Say how many steps there are, and the roster's version: asked often, to see what others
    do.
    """
    steps, version = pulse(context(), path.intake_id)
    return answer(shapes_files.PulseOut(steps=steps, version=version))
