"""Intakes: drop a file, look at it from every side, add steps, apply."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, request
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.errors import UnreadableFile, WrongStep
from nevefield.core.masking import COVER
from nevefield.core.recipes import differences
from nevefield.intakes.applying import request_apply
from nevefield.intakes.errors import NoIntakeOfSheet
from nevefield.intakes.evaluating import Opened, open_intake, what_if
from nevefield.intakes.moving import what_moved
from nevefield.intakes.receiving import add_step, receive_file
from nevefield.intakes.remedies import replace_step, step_for
from nevefield.intakes.sheets import mark_of_file, take_corrections, write_error_sheet
from nevefield.intakes.sources import KnownSource, known_sources, source_of
from nevefield.intakes.throwing import throw_away
from nevefield.proposals.looking import look_at_proposal, look_at_scheduled
from nevefield.setup.working import Working
from nevefield.store import intakes as store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store import work as work_store
from nevefield.store.accounts import list_accounts
from nevefield.store.audit import insert_audit
from nevefield.store.proposals import get_proposal_of
from nevefield.store.scheduled import get_scheduled_of
from nevefield.web import models
from nevefield.web.access import account, context, level_in, needs, roster_ids
from nevefield.web.answering import answer, download
from nevefield.web.change_answers import changes_answer, family_answer
from nevefield.web.describing import gives_file, takes_file
from nevefield.web.intake_answers import causes_answer, columns_answer, intake_answer, lines_answer
from nevefield.web.rehearsal_answers import compose_answer, rehearsal_answer
from nevefield.web.routes_proposals import proposal_answer
from nevefield.web.routes_scheduled import scheduled_answer
from nevefield.web.rows import name_of_row, page_of_rows, row_detail, row_key, where_is

__all__ = ["intake_api"]

intake_api = APIBlueprint("intakes", __name__, url_prefix="/api")
MOVED_SHOWN = 50
# in place of words that hold values, written when they were there to see
KEPT = "It may name what is kept from you."
OWN_STEPS = ("applied", "taken_back", "recipe")  # written by the product only


@intake_api.get("/intakes", responses={200: models.IntakeList})
@needs(Level.LOOK)
def list_intakes(query: models.IntakesQuery) -> Any:
    """List a page of the intakes that the account may see, the last first; or of those that were
    thrown away.
    """
    with context().database.transaction() as connection:
        rosters = {roster.id: roster for roster in roster_store.list_seen(connection)}
        names = {one.id: one.name for one in list_accounts(connection)}
        listed = store.list_intakes(
            connection, rosters, start=query.start, limit=query.limit, thrown=query.thrown
        )
        applied = store.list_applied(connection, [one.id for one in listed])
        total = store.count_intakes(connection, rosters, thrown=query.thrown)
        thrown = total if query.thrown else store.count_intakes(connection, rosters, thrown=True)
    found = []
    for one in listed:
        standing, taken_back = applied.get(one.id, (None, False))
        found.append(
            models.IntakeBrief(
                id=one.id,
                title=one.title,
                file_name=one.file_name,
                roster=rosters[one.roster_id].name,
                roster_title=rosters[one.roster_id].title,
                at=one.at,
                by=names.get(one.account_id or 0, ""),
                tally=models.TallyOut(**one.tally) if one.tally else None,
                ready=_ready(one),
                applied=standing,
                taken_back=taken_back and standing is None,
            )
        )
    return answer(models.IntakeList(total=total, thrown=thrown, intakes=found))


def _ready(intake: store.Intake) -> int:
    tally = intake.tally or {}
    return tally.get("ready", tally.get("new", 0) + tally.get("changed", 0))


@intake_api.post("/intakes/<int:intake_id>/throw-away", responses={200: models.ThrownOut})
@needs(Level.PREPARE, of="intake")
def post_throw_away(path: models.IntakePath, body: models.ThrowIn) -> Any:
    """Throw an intake away that was dropped by mistake, or take it back; the trail keeps both."""
    throw_away(context(), path.intake_id, account().id, back=body.back)
    return answer(models.ThrownOut(thrown=not body.back))


@intake_api.post("/intakes", responses={201: models.Created})
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
        raise UnreadableFile("No file came with the request.", "Choose a file and drop it again.")
    coverage = request.form.get("coverage", "")
    data = file.read()
    if mark := mark_of_file(context(), data, account().id):
        return answer(_correct(mark, data), 201)
    with Working(context(), request.form.get("work", ""), account().id) as progress:
        intake_id = receive_file(
            context(),
            file.filename or "file",
            data,
            roster_name=request.form.get("roster", ""),
            allowed=roster_ids(Level.PREPARE),
            coverage=coverage if coverage in ("listed", "everybody") else "",
            source=request.form.get("source", "")[:120],
            account_id=account().id,
            progress=progress,
        )
        open_intake(context(), intake_id, progress)
    return answer(models.Created(intake=intake_id), 201)


@intake_api.get("/work/<token>", responses={200: models.WorkOut})
@needs(Level.PREPARE, polled=True)
def get_work(path: models.WorkPath) -> Any:
    """Say how far work is that this account asked for."""
    with context().database.transaction() as connection:
        found = work_store.get_work(connection, path.token, account().id)
    doing, done, total = found or ("", 0, 0)
    return answer(models.WorkOut(doing=doing, done=done, total=total))


def _correct(mark: str, data: bytes) -> models.Created:
    """Take a corrected error sheet into the last intake of its file that whoever dropped it may
    prepare.
    """
    allowed = roster_ids(Level.PREPARE)
    with context().database.transaction() as connection:
        intakes = [
            one for one in store.list_intakes_of(connection, mark) if one.roster_id in allowed
        ]
    if not intakes:
        raise NoIntakeOfSheet
    found = take_corrections(context(), intakes[0].id, data, account().id)
    return models.Created(intake=intakes[0].id, corrections=models.CorrectionsOut(**asdict(found)))


@intake_api.get("/intakes/<int:intake_id>/errors")
@needs(Level.LOOK, of="intake")
@gives_file()
def get_error_sheet(path: models.IntakePath, query: models.SheetQuery) -> Response:
    """Give the error sheet: the rows that are stopped or wait, with what is wrong."""
    opened = open_intake(context(), path.intake_id)
    file = write_error_sheet(
        opened.evaluation,
        opened.intake.file_name,
        opened.intake.file_hash,
        opened.intake.title,
        query.format,
    )
    with context().database.transaction() as connection:
        insert_audit(
            connection,
            "error-sheet",
            opened.intake.title,
            account().id,
            context().now(),
            intake=path.intake_id,
        )
    return download(file.content, file.media_type, file.file_name)


@intake_api.get("/intakes/<int:intake_id>", responses={200: models.IntakeOut})
@needs(Level.LOOK, of="intake")
def get_intake(path: models.IntakePath) -> Any:
    """Give an intake's overview."""
    opened = open_intake(context(), path.intake_id)
    with context().database.transaction() as connection:
        applied = record_store.get_change_set_of(connection, path.intake_id)
        standing = record_store.get_standing(connection, path.intake_id)
        later = (
            record_store.count_later(connection, opened.roster.id, standing.version)
            if standing
            else 0
        )
        jobs = [
            job.id
            for job in job_store.list_running(connection, "apply")
            if job.arguments["intake"] == path.intake_id
        ]
        names = {one.id: one.name for one in list_accounts(connection)}
        past = record_store.list_absent(connection, opened.roster.id, path.intake_id)
        proposal = get_proposal_of(connection, path.intake_id)
        proposed = proposal_answer(look_at_proposal(connection, proposal)) if proposal else None
        waiting = get_scheduled_of(connection, path.intake_id)
        scheduled = (
            scheduled_answer(look_at_scheduled(connection, waiting))
            if waiting and waiting.state != "done"
            else None
        )
        definitions = {opened.roster.id: opened.evaluation.definition}
        sources = known_sources(connection, definitions)
    return answer(
        intake_answer(
            opened,
            level=level_in(opened.roster.id),
            by=names.get(opened.intake.account_id or 0, ""),
            applied=applied.id if applied else None,
            job=jobs[0] if jobs else None,
            later=later,
            unlike=[one for one in _unlike(opened, sources) if COVER not in one],
            covers=bool(opened.covered),
            sources=[one.name for one in sources],
            past=past,
            proposal=proposed,
            scheduled=scheduled,
        )
    )


def _unlike(opened: Opened, sources: list[KnownSource]) -> list[str]:
    """List in what a file differs from the last of its source; of an applied one nothing: it is
    the last itself.
    """
    name = source_of(opened.evaluation.decisions, opened.intake)
    source = next((one for one in sources if one.name == name), None)
    if (
        source is None
        or source.recipe is None
        or any(row.step["kind"] == "applied" for row in opened.steps)
    ):
        return []
    return [one.text for one in differences(source.recipe.expects, opened.evaluation)]


@intake_api.get("/intakes/<int:intake_id>/lines", responses={200: models.LinesOut})
@needs(Level.LOOK, of="intake")
def get_lines(path: models.IntakePath, query: models.LinesQuery) -> Any:
    """Give the file's lines as they stand."""
    return answer(lines_answer(open_intake(context(), path.intake_id).evaluation, query))


@intake_api.get("/intakes/<int:intake_id>/columns", responses={200: models.ColumnsOut})
@needs(Level.LOOK, of="intake")
def get_columns(path: models.IntakePath) -> Any:
    """Give the file's columns and where they go."""
    return answer(columns_answer(open_intake(context(), path.intake_id).evaluation))


@intake_api.post("/intakes/<int:intake_id>/compose-preview", responses={200: models.ComposePreview})
@needs(Level.PREPARE, of="intake")
def preview_pattern(path: models.IntakePath, body: models.ComposeIn) -> Any:
    """Say what a pattern would compose, with nothing kept."""
    evaluation = what_if(
        context(), path.intake_id, {"kind": "compose", "field": body.field, "pattern": body.pattern}
    )
    return answer(compose_answer(evaluation, body.field))


@intake_api.get("/intakes/<int:intake_id>/rehearsal", responses={200: models.RehearsalOut})
@needs(Level.LOOK, of="intake")
def get_rehearsal(path: models.IntakePath, query: models.RehearsalQuery) -> Any:
    """Say what would become of the first five rows, of a sample, or of all, with nothing stored."""
    return answer(rehearsal_answer(open_intake(context(), path.intake_id).evaluation, query))


@intake_api.get("/intakes/<int:intake_id>/causes", responses={200: models.CausesOut})
@needs(Level.LOOK, of="intake")
def get_causes(path: models.IntakePath) -> Any:
    """Give all problems by cause."""
    return answer(causes_answer(open_intake(context(), path.intake_id).evaluation))


@intake_api.get("/intakes/<int:intake_id>/rows", responses={200: models.RowsOut})
@needs(Level.LOOK, of="intake")
def get_rows(path: models.IntakePath, query: models.RowsQuery) -> Any:
    """Give a page of rows."""
    return answer(page_of_rows(open_intake(context(), path.intake_id).evaluation, query))


@intake_api.get("/intakes/<int:intake_id>/rows/<int:line>", responses={200: models.RowDetail})
@needs(Level.LOOK, of="intake")
def get_row(path: models.LinePath) -> Any:
    """Give the row that begins at a line, in full."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    row = evaluation.row_of(path.line)
    if row is None:
        raise WrongStep(f"No row of the file begins at line {path.line}.")
    return answer(row_detail(evaluation, row))


def _is_kept(opened: Opened) -> bool:
    """Tell whether words that were written for somebody who sees more may name what is kept from
    who is signed in.
    """
    return bool(opened.covered or opened.evaluation.facts.unnamed)


@intake_api.get("/intakes/<int:intake_id>/where/<int:line>", responses={200: models.WhereOut})
@needs(Level.LOOK, of="intake")
def get_where(path: models.LinePath) -> Any:
    """Say where a line ended up: as applied, else as it would."""
    opened = open_intake(context(), path.intake_id)
    found = where_is(opened.evaluation, path.line)
    with context().database.transaction() as connection:
        kept = store.get_outcome(connection, path.intake_id, path.line)
    if kept is None:
        return answer(found)
    change_set, outcome, record, message = kept
    message = KEPT if message and _is_kept(opened) else message
    said = {
        "new": "It joined the roster.",
        "changed": "It changed its record.",
        "same": "Its record was the same already.",
    }
    when = f"Receipt {change_set}: "
    text = when + " ".join(filter(None, [said.get(outcome, ""), message]))
    return answer(
        found.model_copy(
            update={"outcome": outcome, "said": text, "record": record, "applied": True}
        )
    )


@intake_api.get("/change-sets/<int:change_set_id>/lines", responses={200: models.ReceiptLines})
@needs(Level.LOOK, of="change_set")
def get_receipt_lines(path: models.ChangeSetPath, query: models.ReceiptQuery) -> Any:
    """Give the lines of the file that had an outcome when a change set was applied."""
    with context().database.transaction() as connection:
        change_set = record_store.get_change_set(connection, path.change_set_id)
        kept = store.list_outcomes(connection, path.change_set_id, query.outcome)
    if change_set is None or change_set.intake_id is None:
        return answer(models.ReceiptLines(total=0, lines=[]))
    opened = open_intake(context(), change_set.intake_id)
    evaluation, covers = opened.evaluation, _is_kept(opened)
    lines = []
    for line, record, told in kept[query.start : query.start + query.limit]:
        row = evaluation.row_of(line)
        message = KEPT if told and covers else told
        name, key = (
            ("", "") if row is None else (name_of_row(evaluation, row), row_key(evaluation, row))
        )
        lines.append(
            models.ReceiptLine(line=line, record=record, name=name, key=key, message=message)
        )
    return answer(models.ReceiptLines(total=len(kept), lines=lines))


@intake_api.post("/intakes/<int:intake_id>/steps", responses={201: models.StepDone})
@needs(Level.PREPARE, of="intake")
def post_step(path: models.IntakePath, body: models.StepIn) -> Any:
    """Add a step."""
    if body.step.get("kind") in OWN_STEPS:
        raise WrongStep("Only the product itself writes such a step.")
    number = add_step(context(), path.intake_id, body.step, account().id, body.seen)
    open_intake(context(), path.intake_id)
    return answer(models.StepDone(number=number), 201)


@intake_api.post("/intakes/<int:intake_id>/remedies", responses={201: models.StepDone})
@needs(Level.PREPARE, of="intake")
def post_remedy(path: models.IntakePath, body: models.RemedyIn) -> Any:
    """Settle a cause by one of its remedies, in all its rows or in some."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    step = step_for(
        evaluation,
        body.cause,
        body.kind,
        value=body.value,
        reason=body.reason,
        lines=body.lines,
        until=body.until,
    )
    number = add_step(context(), path.intake_id, step, account().id, body.seen)
    open_intake(context(), path.intake_id)
    return answer(models.StepDone(number=number), 201)


@intake_api.post("/intakes/<int:intake_id>/remedies/preview", responses={200: models.EffectOut})
@needs(Level.PREPARE, of="intake")
def preview_remedy(path: models.IntakePath, body: models.RemedyIn) -> Any:
    """Say what the tally would be after a remedy, with nothing kept."""
    evaluation = open_intake(context(), path.intake_id).evaluation
    reason = body.reason or "to see what it does"
    step = step_for(
        evaluation, body.cause, body.kind, value=body.value, reason=reason, lines=body.lines
    )
    after = what_if(context(), path.intake_id, step)
    return answer(models.EffectOut(tally=models.TallyOut(**after.tally.to_json())))


@intake_api.post("/intakes/<int:intake_id>/replace", responses={200: models.ReplaceOut})
@needs(Level.PREPARE, of="intake")
def post_replace(path: models.IntakePath, body: models.ReplaceIn) -> Any:
    """Find and replace inside a column, as one step."""
    opened = open_intake(context(), path.intake_id)
    step = replace_step(
        opened.evaluation, body.field, body.find, body.put, whole=body.whole, cause_id=body.cause
    )
    if step is None:
        return answer(models.ReplaceOut(cells=0, number=None))
    number = add_step(context(), path.intake_id, step, account().id, len(opened.steps))
    open_intake(context(), path.intake_id)
    return answer(models.ReplaceOut(cells=len(step["cells"]), number=number))


@intake_api.get("/intakes/<int:intake_id>/pulse", responses={200: models.PulseOut})
@needs(Level.LOOK, of="intake", polled=True)
def get_pulse(path: models.IntakePath) -> Any:
    """Say how many steps there are, and the roster's version: asked often, to see what others
    do.
    """
    with context().database.transaction() as connection:
        steps, version = store.get_pulse(connection, path.intake_id)
    return answer(models.PulseOut(steps=steps, version=version))


@intake_api.get("/intakes/<int:intake_id>/changes", responses={200: models.ChangesOut})
@needs(Level.LOOK, of="intake")
def get_changes(path: models.IntakePath) -> Any:
    """Give what would change, by family."""
    return answer(changes_answer(open_intake(context(), path.intake_id).evaluation))


@intake_api.get("/intakes/<int:intake_id>/family", responses={200: models.FamilyDetail})
@needs(Level.LOOK, of="intake")
def get_family(path: models.IntakePath, query: models.FamilyQuery) -> Any:
    """Give one family of change with its people."""
    return answer(family_answer(open_intake(context(), path.intake_id).evaluation, query))


@intake_api.get("/intakes/<int:intake_id>/moved", responses={200: models.MovedOut})
@needs(Level.LOOK, of="intake")
def get_moved(path: models.IntakePath, query: models.MovedQuery) -> Any:
    """Say for which rows the plan is another than at an earlier version of the roster."""
    opened, found = what_moved(context(), path.intake_id, query.version)
    evaluation = opened.evaluation
    rows = []
    for one in found[:MOVED_SHOWN]:
        row = evaluation.row_of(one.line)
        name = name_of_row(evaluation, row) if row is not None else ""
        titles = [evaluation.definition.title_of(field) for field in one.fields]
        rows.append(
            models.MovedRow(line=one.line, name=name, before=one.before, now=one.now, fields=titles)
        )
    return answer(models.MovedOut(total=len(found), rows=rows))


@intake_api.post("/intakes/<int:intake_id>/apply", responses={202: models.ApplyOut})
@needs(Level.APPROVE, of="intake")
def post_apply(path: models.IntakePath, body: models.ApplyIn) -> Any:
    """Apply the plan that was looked at."""
    job, change_set = request_apply(
        context(), path.intake_id, body.steps, body.roster_version, account().id, body.typed
    )
    return answer(models.ApplyOut(job=job or None, change_set=change_set or None), 202)
