"""Rosters and their records: lists, lives, comparisons, files to take along."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from flask import Response

from nevefield.accounts import Level
from nevefield.accounts.belonging import find_roster
from nevefield.core.columns.titles import name_person
from nevefield.core.ended import find_ended
from nevefield.core.masking import sensitive_fields
from nevefield.intakes.comparing import compare_any, export_difference
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.looked import cover, note_looked, uncover, uncovered_until
from nevefield.rosters.looking import (
    choose_records,
    export_roster,
    list_described,
    namer,
    open_life,
    open_roster,
)
from nevefield.rosters.requesting import make_request_sheet
from nevefield.rosters.shortlists import see_places
from nevefield.setup.trail import note_given
from nevefield.web import common
from nevefield.web.access import account, context, is_masked, level_in, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file
from nevefield.web.rosters import shapes_records
from nevefield.web.rosters.answers_compare import compared_answer

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime

    from nevefield.core.definition import Definition
    from nevefield.rosters import Roster
    from nevefield.rosters.looking import Ahead, Life, Move

__all__ = ["roster_api"]

roster_api = Api("rosters", __name__)


@roster_api.get("/rosters", responses={200: shapes_records.RosterList})
@needs(Level.LOOK)
def list_rosters() -> Any:
    """List rosters with their fields."""
    until = uncovered_until(context(), account().id)
    found = [_roster(*described, until) for described in list_described(context())]
    return answer(shapes_records.RosterList(rosters=found))


def _roster(
    roster: Roster,
    definition: Definition,
    count: int,
    within: str,
    uncovered: Mapping[int, datetime],
) -> shapes_records.RosterOut:
    fields = [
        shapes_records.FieldOut(
            name=field.name,
            title=field.title,
            type=field.type,
            code_list=field.code_list,
            several=bool(field.several),
            required=field.required,
            is_key=field.name in definition.primary_key,
            mono=field.identifier is not None
            or field.type in ("date", "datetime")
            or field.kind == "phone",
            means=field.means,
            owner=field.owner,
            is_mail=field.is_mail,
            is_kept=field.sensitive,
        )
        for field in definition.fields
    ]
    until = uncovered.get(roster.id)
    return shapes_records.RosterOut(
        name=roster.name,
        title=roster.title,
        version=roster.version,
        records=count,
        level=level_in(roster.id),
        within=within,
        is_covered=is_masked(roster.id) and bool(sensitive_fields(definition)),
        uncovered_until=until,
        fields=fields,
    )


@roster_api.get("/rosters/<name>/records", responses={200: shapes_records.RecordsOut})
@needs(Level.LOOK, of="roster")
def list_records(path: common.NamePath, query: shapes_records.RecordsQuery) -> Any:
    """Give a page of a roster's records, now or as of a day; sorted, filtered."""
    roster, snapshot = open_roster(context(), path.name, query.as_of)
    note_looked(context(), roster, snapshot.definition, account().id)
    day = query.as_of or context().today()
    chosen = choose_records(
        snapshot, text=query.q, filters=query.filter, sort=query.sort, down=query.down, today=day
    )
    ended = find_ended(snapshot, day)
    named = namer(context(), snapshot)
    if query.shortlist is not None:
        listed = see_places(context(), query.shortlist, snapshot, account().id)
        chosen = chosen[np.isin(chosen, listed)]
    rows = [
        shapes_records.RecordRow(
            id=int(snapshot.ids[place]),
            ended=bool(ended[place]),
            name=named(int(place)),
            values=snapshot.values(int(place)),
        )
        for place in chosen[query.start : query.start + query.limit]
    ]
    return answer(
        shapes_records.RecordsOut(
            total=len(chosen),
            of=len(snapshot),
            ended=int(ended.sum()),
            version=snapshot.version,
            rows=rows,
        )
    )


@roster_api.post("/rosters/<name>/uncover", responses={200: shapes_records.UncoveredOut})
@needs(Level.LOOK, of="roster")
def post_uncover(path: common.NamePath, body: shapes_records.UncoverIn) -> Any:
    """Uncover the sensitive fields of a roster for a task, for a quarter of an hour."""
    until = uncover(context(), path.name, body.reason, account().id)
    return answer(shapes_records.UncoveredOut(until=until))


@roster_api.post("/rosters/<name>/cover", responses={204: None})
@needs(Level.LOOK, of="roster")
def post_cover(path: common.NamePath) -> Any:
    """Cover the sensitive fields of a roster again."""
    cover(context(), path.name, account().id)
    return "", 204


@roster_api.get("/rosters/<name>/export")
@needs(Level.LOOK, of="roster")
@gives_file()
def export(path: common.NamePath, query: shapes_records.ExportQuery) -> Response:
    """Give a roster as a file."""
    roster, snapshot = open_roster(context(), path.name, query.as_of)
    if query.shortlist is not None:
        snapshot = snapshot.take(see_places(context(), query.shortlist, snapshot, account().id))
    file = export_roster(roster, snapshot, query.format)
    note_given(
        context(),
        "exported",
        roster.name,
        account().id,
        records=len(snapshot),
        format=query.format,
    )
    return download(file.content, file.media_type, file.file_name)


@roster_api.get("/rosters/<name>/compare", responses={200: shapes_records.ComparedOut})
@needs(Level.LOOK, of="roster")
def compare_states(path: common.NamePath, query: shapes_records.CompareQuery) -> Any:
    """Compare two states of a roster: days, files."""
    return answer(compared_answer(*compare_any(context(), path.name, query.old, query.new), query))


@roster_api.get("/rosters/<name>/compare/export")
@needs(Level.LOOK, of="roster")
@gives_file("text/csv")
def export_compared(path: common.NamePath, query: shapes_records.CompareQuery) -> Response:
    """Give what differs between two states of a roster as a file."""
    _, _, difference = compare_any(context(), path.name, query.old, query.new)
    note_given(
        context(),
        "exported",
        path.name,
        account().id,
        compared=[query.old, query.new],
        format="csv",
    )
    file = export_difference(difference, path.name)
    return download(file.content, file.media_type, file.file_name)


@roster_api.get("/rosters/<name>/request-sheet")
@needs(Level.LOOK, of="roster")
@gives_file()
def get_request_sheet(path: common.NamePath, query: shapes_records.RequestSheetQuery) -> Response:
    """Give a sheet to send to an office to ask for its data."""
    file = make_request_sheet(
        context(),
        path.name,
        owner=query.owner,
        chosen=query.field,
        made_for=query.source.strip(),
        kind=query.format,
    )
    return download(file.content, file.media_type, file.file_name)


@roster_api.get("/records/<int:record_id>", responses={200: shapes_records.LifeOut})
@needs(Level.LOOK, of="record")
def get_record(path: common.RecordPath) -> Any:
    """Give a record's life: every version, with the file and line that it came from."""
    life = open_life(context(), path.record_id)
    definition, roster = life.definition, life.roster
    note_looked(context(), roster, definition, account().id, [path.record_id])
    entries = [
        shapes_records.LifeEntry(
            version=version.version.valid_from,
            at=version.change_set.at,
            by=version.by,
            kind=version.change_set.kind,
            title=version.change_set.title,
            change_set=version.change_set.id,
            intake=version.change_set.intake_id,
            file=version.file,
            line=version.version.line,
            changes=_changes(definition, version.moves),
        )
        for version in life.versions
    ]
    entries += [
        shapes_records.LifeEntry(
            version=change_set.version,
            at=change_set.at,
            by=by,
            kind="left",
            title=change_set.title,
            change_set=change_set.id,
            intake=change_set.intake_id,
            file="",
            line=None,
            changes=[],
        )
        for change_set, by in life.leavings
    ]
    entries.sort(key=lambda entry: entry.version)
    return answer(
        shapes_records.LifeOut(
            id=path.record_id,
            roster=roster.name,
            roster_title=roster.title,
            name=name_person(definition, life.values.get) or _named(life),
            is_current=bool((life.snapshot.ids == path.record_id).any()),
            values=life.values,
            life=entries[::-1],
            ahead=[_ahead(definition, ahead) for ahead in life.ahead],
        )
    )


def _named(life: Life) -> str:
    place = life.snapshot.places().get(life.record_id)
    return namer(context(), life.snapshot)(place) if place is not None else ""


@roster_api.post("/records/<int:record_id>/edit", responses={200: shapes_records.EditOut})
@needs(Level.PREPARE, of="record")
def post_edit(path: common.RecordPath, body: shapes_records.EditIn) -> Any:
    """Set fields of a record by hand; done at once by who may apply, otherwise proposed."""
    roster_id = find_roster(context(), "record", path.record_id, account().id)
    done = edit_record(
        context(),
        Edit(path.record_id, body.values, reason=body.reason, until=body.until, day=body.day),
        account().id,
        may_apply=level_in(roster_id) >= Level.APPROVE,
    )
    return answer(shapes_records.EditOut(**vars(done)))


def _ahead(definition: Definition, ahead: Ahead) -> shapes_records.AheadOut:
    act = ahead.act
    return shapes_records.AheadOut(
        day=act.day,
        title=act.title,
        by=act.by,
        intake=act.intake,
        leaves=act.fields is None,
        changes=_changes(definition, ahead.moves),
    )


def _changes(definition: Definition, moves: Sequence[Move]) -> list[common.FieldChange]:
    titles = definition.title_of
    return [
        common.FieldChange(field=move.field, title=titles(move.field), old=move.old, new=move.new)
        for move in moves
    ]
