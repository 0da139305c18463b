"""Rosters, records, change sets, code lists."""

from __future__ import annotations

from http import HTTPStatus
from typing import TYPE_CHECKING, Any

import numpy as np
from flask import Response
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.codes import Code
from nevefield.core.columns.titles import name_fields, name_member, name_person
from nevefield.core.ended import find_ended
from nevefield.intakes.applying import take_back
from nevefield.intakes.comparing import compare_any, export_difference
from nevefield.proposals.agreeing import propose_take_back, read_choice
from nevefield.proposals.editing import edit_record
from nevefield.rosters.coding import write_list
from nevefield.rosters.errors import NoSuchChangeSet, NoSuchRoster
from nevefield.rosters.looking import (
    choose_records,
    code_users,
    count_uses,
    export_roster,
    open_life,
    open_roster,
)
from nevefield.rosters.requesting import write_request_sheet
from nevefield.rosters.shortlists import places_of
from nevefield.rosters.snapshots import (
    load_codes,
    load_definition,
    load_others,
    require_roster,
    unnamed_of,
)
from nevefield.rosters.undoing import Choice, plan_undo
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit
from nevefield.web import models
from nevefield.web.access import account, context, is_masked, level_in, needs
from nevefield.web.answering import answer, download
from nevefield.web.compare_answers import compared_answer
from nevefield.web.describing import gives_file, refuses
from nevefield.web.shortlists import see_shortlist
from nevefield.web.undo_answers import undo_answer

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from nevefield.core.definition import Definition
    from nevefield.core.snapshot import Snapshot
    from nevefield.rosters.looking import Ahead, Move
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = ["roster_api"]

roster_api = APIBlueprint("rosters", __name__, url_prefix="/api")


@roster_api.get("/rosters", responses={200: models.RosterList})
@needs(Level.LOOK)
def list_rosters() -> Any:
    """List rosters with their fields."""
    with context().database.transaction() as connection:
        found = [
            _roster(connection, roster, count)
            for roster, count in roster_store.list_rosters(connection)
        ]
    return answer(models.RosterList(rosters=found))


def _roster(connection: Connection, roster: Roster, count: int) -> models.RosterOut:
    definition = load_definition(connection, roster)
    fields = [
        models.FieldOut(
            name=one.name,
            title=one.title,
            type=one.type,
            code_list=one.code_list,
            several=bool(one.several),
            required=one.required,
            is_key=one.name in definition.primary_key,
            mono=one.identifier is not None
            or one.type in ("date", "datetime")
            or one.kind == "phone",
            means=one.means,
            owner=one.owner,
        )
        for one in definition.fields
    ]
    return models.RosterOut(
        name=roster.name,
        title=roster.title,
        version=roster.version,
        records=count,
        level=level_in(roster.id),
        fields=fields,
    )


@roster_api.get("/rosters/<name>/records", responses={200: models.RecordsOut})
@needs(Level.LOOK, of="roster")
def list_records(path: models.NamePath, query: models.RecordsQuery) -> Any:
    """Give a page of a roster's records, now or as of a day; sorted, filtered."""
    _, snapshot = open_roster(context(), path.name, query.as_of)
    day = query.as_of or context().today()
    chosen = choose_records(
        snapshot, text=query.q, filters=query.filter, sort=query.sort, down=query.down, today=day
    )
    ended = find_ended(snapshot, day)
    named = _namer(snapshot)
    if query.shortlist is not None:
        with context().database.transaction() as connection:
            found = see_shortlist(connection, query.shortlist, snapshot)
            chosen = chosen[
                np.isin(chosen, places_of(connection, found, snapshot, context().today()))
            ]
    rows = [
        models.RecordRow(
            id=int(snapshot.ids[place]),
            ended=bool(ended[place]),
            name=named(int(place)),
            values=snapshot.values(int(place)),
        )
        for place in chosen[query.start : query.start + query.limit]
    ]
    return answer(
        models.RecordsOut(
            total=len(chosen),
            of=len(snapshot),
            ended=int(ended.sum()),
            version=snapshot.version,
            rows=rows,
        )
    )


def _named(snapshot: Snapshot, record_id: int) -> str:
    place = snapshot.places().get(record_id)
    return _namer(snapshot)(place) if place is not None else ""


def _namer(snapshot: Snapshot) -> Callable[[int], str]:
    """Make what names the person of a record by another roster; nothing where records have names
    of their own.
    """
    definition = snapshot.definition
    if name_fields(definition) or not any(key.resource for key in definition.foreign_keys):
        return lambda place: ""
    with context().database.transaction() as connection:
        hidden = unnamed_of(connection, definition)
        seen = {
            name: one
            for name, one in load_others(connection, definition).items()
            if name not in hidden
        }
    return lambda place: name_member(
        definition, lambda field: snapshot.columns[field].at(place), seen
    )


@roster_api.get("/rosters/<name>/export")
@needs(Level.LOOK, of="roster")
@gives_file()
def export(path: models.NamePath, query: models.ExportQuery) -> Response:
    """Give a roster as a file."""
    roster, snapshot = open_roster(context(), path.name, query.as_of)
    if query.shortlist is not None:
        with context().database.transaction() as connection:
            found = see_shortlist(connection, query.shortlist, snapshot)
            snapshot = snapshot.take(places_of(connection, found, snapshot, context().today()))
    file = export_roster(roster, snapshot, query.format)
    with context().database.transaction() as connection:
        insert_audit(
            connection,
            "exported",
            roster.name,
            account().id,
            context().now(),
            records=len(snapshot),
            format=query.format,
        )
    return download(file.content, file.media_type, file.file_name)


@roster_api.get("/rosters/<name>/compare", responses={200: models.ComparedOut})
@needs(Level.LOOK, of="roster")
def compare_states(path: models.NamePath, query: models.CompareQuery) -> Any:
    """Compare two states of a roster: days, files."""
    return answer(compared_answer(*compare_any(context(), path.name, query.old, query.new), query))


@roster_api.get("/rosters/<name>/compare/export")
@needs(Level.LOOK, of="roster")
@gives_file("text/csv")
def export_compared(path: models.NamePath, query: models.CompareQuery) -> Response:
    """Give what differs between two states of a roster as a file."""
    _, _, found = compare_any(context(), path.name, query.old, query.new)
    with context().database.transaction() as connection:
        insert_audit(
            connection,
            "exported",
            path.name,
            account().id,
            context().now(),
            compared=[query.old, query.new],
            format="csv",
        )
    file = export_difference(found, path.name)
    return download(file.content, file.media_type, file.file_name)


@roster_api.get("/rosters/<name>/request-sheet")
@needs(Level.LOOK, of="roster")
@gives_file()
def get_request_sheet(path: models.NamePath, query: models.RequestSheetQuery) -> Response:
    """Give a sheet to send to an office to ask for its data."""
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        definition, codes = load_definition(connection, roster), load_codes(connection)
    file = write_request_sheet(
        definition,
        codes,
        context().today(),
        owner=query.owner,
        chosen=query.field,
        made_for=query.source.strip(),
        kind=query.format,
    )
    return download(file.content, file.media_type, file.file_name)


@roster_api.get("/rosters/<name>/change-sets", responses={200: models.ChangeSetList})
@needs(Level.LOOK, of="roster")
def list_change_sets(path: models.NamePath) -> Any:
    """List what altered a roster, the last first."""
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        sets = store.list_change_sets(connection, roster.id)
    return answer(
        models.ChangeSetList(
            change_sets=[_change_set(roster.name, one, by, undone) for one, by, undone in sets]
        )
    )


def _change_set(
    roster: str, one: store.ChangeSet, by: str, undone_by: int | None
) -> models.ChangeSetOut:
    receipt = one.receipt
    return models.ChangeSetOut(
        id=one.id,
        roster=roster,
        version=one.version,
        kind=one.kind,
        title=one.title,
        by=by,
        at=one.at,
        intake=one.intake_id,
        undone_by=undone_by,
        undoes=one.undoes,
        part_of=one.part_of,
        absent=receipt.get("absent", {}),
        undone=receipt.get("undone", {}),
        planned=receipt.get("planned", {}),
        found=receipt.get("found", {}),
        tally=models.TallyOut(**receipt["tally"]) if "tally" in receipt else None,
        rows=receipt.get("rows", {}),
        fields=receipt.get("fields", {}),
        taken_away=receipt.get("taken_away", {}),
        looked_at=receipt.get("looked_at"),
    )


@roster_api.get("/change-sets/<int:change_set_id>", responses={200: models.ChangeSetOut})
@needs(Level.LOOK, of="change_set")
def get_change_set(path: models.ChangeSetPath) -> Any:
    """Give a change set's receipt."""
    return _receipt(path.change_set_id)


def _receipt(number: int) -> Any:
    with context().database.transaction() as connection:
        found = store.find_change_set(connection, number)
        roster = roster_store.get_roster_by_id(connection, found[0].roster_id) if found else None
    if found is None or roster is None:
        raise NoSuchChangeSet(number)
    told = _change_set(roster.name, *found)
    if not is_masked(roster.id):  # names may be kept from who only looks
        told.who = {
            word: [
                models.ReceiptPerson(record=record, name=name, key=key)
                for record, name, key in people
            ]
            for word, people in found[0].receipt.get("who", {}).items()
        }
    return answer(told)


@roster_api.get("/change-sets/<int:change_set_id>/undo", responses={200: models.UndoOut})
@needs(Level.LOOK, of="change_set")
@refuses(HTTPStatus.CONFLICT)
def get_undo(path: models.ChangeSetPath, query: models.UndoQuery) -> Any:
    """Say what taking a change set back, or a part of it, would do, and what stays because
    something later rests on it.
    """
    with context().database.transaction() as connection:
        plan = plan_undo(connection, path.change_set_id, _choice(query))
        definition = load_definition(connection, plan.roster)
    return answer(undo_answer(plan, definition, query))


@roster_api.post("/change-sets/<int:change_set_id>/take-back", responses={200: models.ChangeSetOut})
@needs(Level.APPROVE, of="change_set")
def post_take_back(path: models.ChangeSetPath, body: models.UndoIn) -> Any:
    """Take a change set back, or chosen people or fields of it."""
    return _receipt(
        take_back(
            context(), path.change_set_id, account().id, choice=_choice(body), as_far=body.as_far
        )
    )


@roster_api.post(
    "/change-sets/<int:change_set_id>/propose-take-back", responses={200: models.ProposalDone}
)
@needs(Level.PREPARE, of="change_set")
def post_propose_take_back(path: models.ChangeSetPath, body: models.UndoIn) -> Any:
    """Propose to take a change set, or a part of it, back."""
    number = propose_take_back(
        context(), path.change_set_id, _choice(body), body.as_far, account().id
    )
    return answer(models.ProposalDone(proposal=number))


def _choice(said: models.UndoQuery | models.UndoIn) -> Choice:
    return read_choice(said.model_dump())


@roster_api.get("/records/<int:record_id>", responses={200: models.LifeOut})
@needs(Level.LOOK, of="record")
def get_record(path: models.RecordPath) -> Any:
    """Give a record's life: every version, with the file and line that it came from."""
    life = open_life(context(), path.record_id)
    definition, roster = life.definition, life.roster
    entries = [
        models.LifeEntry(
            version=one.version.valid_from,
            at=one.change_set.at,
            by=one.by,
            kind=one.change_set.kind,
            title=one.change_set.title,
            change_set=one.change_set.id,
            intake=one.change_set.intake_id,
            file=one.file,
            line=one.version.line,
            changes=_changes(definition, one.moves),
        )
        for one in life.versions
    ]
    entries += [
        models.LifeEntry(
            version=one.version,
            at=one.at,
            by=by,
            kind="left",
            title=one.title,
            change_set=one.id,
            intake=one.intake_id,
            file="",
            line=None,
            changes=[],
        )
        for one, by in life.leavings
    ]
    entries.sort(key=lambda entry: entry.version)
    return answer(
        models.LifeOut(
            id=path.record_id,
            roster=roster.name,
            roster_title=roster.title,
            name=name_person(definition, life.values.get) or _named(life.snapshot, path.record_id),
            is_current=bool((life.snapshot.ids == path.record_id).any()),
            values=life.values,
            life=entries[::-1],
            ahead=[_ahead(definition, one) for one in life.ahead],
        )
    )


@roster_api.post("/records/<int:record_id>/edit", responses={200: models.EditOut})
@needs(Level.PREPARE, of="record")
def post_edit(path: models.RecordPath, body: models.EditIn) -> Any:
    """Set fields of a record by hand; done at once by who may apply, otherwise proposed."""
    with context().database.transaction() as connection:
        roster_id = store.get_record_roster(connection, path.record_id)
    may_apply = roster_id is not None and level_in(roster_id) >= Level.APPROVE
    done = edit_record(
        context(),
        path.record_id,
        body.values,
        account().id,
        reason=body.reason,
        until=body.until,
        may_apply=may_apply,
        day=body.day,
    )
    return answer(models.EditOut(**vars(done)))


def _ahead(definition: Definition, one: Ahead) -> models.AheadOut:
    act = one.act
    return models.AheadOut(
        day=act.day,
        title=act.title,
        by=act.by,
        intake=act.intake,
        leaves=act.fields is None,
        changes=_changes(definition, one.moves),
    )


def _changes(definition: Definition, moves: Sequence[Move]) -> list[models.FieldChange]:
    titles = definition.title_of
    return [
        models.FieldChange(field=one.field, title=titles(one.field), old=one.old, new=one.new)
        for one in moves
    ]


@roster_api.get("/codes", responses={200: models.CodeLists})
@needs(Level.LOOK)
def list_code_lists() -> Any:
    """List code lists."""
    with context().database.transaction() as connection:
        lists = load_codes(connection)
        users = code_users(connection)
    found = [
        models.CodeListBrief(
            name=name,
            title=_title(name),
            codes=len(one.codes),
            used_in=[place for place, _, _ in users.get(name, [])],
        )
        for name, one in lists.items()
    ]
    return answer(models.CodeLists(lists=found))


def _title(name: str) -> str:
    return name.replace("_", " ").capitalize()


@roster_api.get("/codes/<name>", responses={200: models.CodeListOut})
@needs(Level.LOOK)
def get_code_list(path: models.NamePath) -> Any:
    """Give one code list with the number of records that use each code."""
    with context().database.transaction() as connection:
        return answer(_code_list(connection, path.name))


def _code_list(connection: Connection, name: str) -> models.CodeListOut:
    lists = load_codes(connection)
    if name not in lists:
        raise NoSuchRoster(name)
    users = code_users(connection).get(name, [])
    used = count_uses(connection, name)
    codes = [
        models.CodeInUse(
            code=one.code,
            label=one.label,
            parent=one.parent,
            aliases=list(one.aliases),
            first_day=one.first_day,
            last_day=one.last_day,
            used=used.get(one.code, 0),
        )
        for one in lists[name].codes
    ]
    version = dict(roster_store.get_code_versions(connection))[name]
    places = [place for place, _, _ in users]
    return models.CodeListOut(
        name=name, title=_title(name), version=version, used_in=places, codes=codes
    )


@roster_api.put("/codes/<name>", responses={200: models.CodeListOut})
@needs(Level.ADMINISTER, everywhere=True)
def put_code_list(path: models.NamePath, body: models.CodeListIn) -> Any:
    """Write a code list whole; a code that records use cannot go, only end."""
    codes = [
        Code(
            one.code.strip(),
            one.label.strip(),
            one.parent.strip(),
            tuple(alias.strip() for alias in one.aliases if alias.strip()),
            one.first_day,
            one.last_day,
        )
        for one in body.codes
    ]
    write_list(context(), path.name, codes, body.seen, account().id)
    with context().database.transaction() as connection:
        return answer(_code_list(connection, path.name))
