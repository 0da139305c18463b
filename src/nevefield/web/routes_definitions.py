"""Definitions: read, tried against the records, written; a roster opened with one."""

from __future__ import annotations

from typing import Any

from flask import Response, json
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.starting import with_starting_checks
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.proposals.agreeing import propose_definition
from nevefield.rosters.defining import change_definition, say_why_two, try_change
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.snapshots import load_codes, load_snapshot, require_roster
from nevefield.store import rosters as store
from nevefield.web import models
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer, download
from nevefield.web.describing import gives_file

__all__ = ["definition_api"]

definition_api = APIBlueprint("definitions", __name__, url_prefix="/api")


@definition_api.get("/rosters/<name>/definition", responses={200: models.DefinitionOut})
@needs(Level.LOOK, of="roster")
def get_definition(path: models.NamePath) -> Any:
    """Give the definition in force, its versions, and the checks that there are."""
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        document = store.get_definition(connection, roster.id, roster.definition)
        versions = store.list_definitions(connection, roster.id)
        lists = sorted(load_codes(connection))
    kinds = [
        models.CheckKind(
            name=one.name,
            holds=one.holds,
            weight=one.weight,
            options=[
                models.CheckOption(
                    name=option.name,
                    kind=option.kind,
                    label=option.label or option.name,
                    words=option.words,
                    example=option.example,
                    needed=option.is_needed,
                    choices=list(option.choices),
                )
                for option in one.options
            ],
            fewest=one.fewest,
            most=one.most,
            example=one.example,
        )
        for one in DECLARED.values()
    ]
    told = [models.DefinitionVersion(number=number, by=by, at=at) for number, by, at in versions]
    return answer(
        models.DefinitionOut(
            number=roster.definition, document=document, versions=told, lists=lists, checks=kinds
        )
    )


@definition_api.get("/rosters/<name>/definition/document")
@needs(Level.LOOK, of="roster")
@gives_file("application/json")
def get_document(path: models.NamePath) -> Response:
    """Give the definition in force as a Table Schema file."""
    with context().database.transaction() as connection:
        roster = require_roster(connection, path.name)
        document = store.get_definition(connection, roster.id, roster.definition)
    return download(
        json.dumps(document, ensure_ascii=False, indent=1).encode(),
        "application/json",
        f"{roster.name}.json",
    )


@definition_api.post("/rosters/<name>/definition/try", responses={200: models.TriedOut})
@needs(Level.ADMINISTER, of="roster")
def post_try(path: models.NamePath, body: models.DefinitionIn) -> Any:
    """Say what a definition would break in the records, with nothing written."""
    troubles = try_change(context(), path.name, body.document)
    why = say_why_two(context(), path.name, body.document)
    with context().database.transaction() as connection:
        records = len(load_snapshot(connection, require_roster(connection, path.name)))
    return answer(
        models.TriedOut(
            records=records,
            why=why,
            troubles=[
                models.TroubleOut(
                    check=one.check,
                    field=one.field,
                    said=one.said,
                    records=one.records,
                    keys=[
                        " ".join(map(str, key)) if isinstance(key, list) else str(key)
                        for key in one.keys
                    ],
                )
                for one in troubles
            ],
        )
    )


@definition_api.put("/rosters/<name>/definition", responses={200: models.DefinitionWritten})
@needs(Level.ADMINISTER, of="roster")
def put_definition(path: models.NamePath, body: models.DefinitionIn) -> Any:
    """Put a definition in force."""
    number = change_definition(context(), path.name, body.document, body.seen, account().id)
    return answer(models.DefinitionWritten(number=number))


@definition_api.post("/rosters/<name>/definition/propose", responses={201: models.ProposalDone})
@needs(Level.ADMINISTER, of="roster")
def post_propose(path: models.NamePath, body: models.DefinitionIn) -> Any:
    """Propose a definition, for a second person to agree to."""
    number = propose_definition(context(), path.name, body.document, body.seen, account().id)
    return answer(models.ProposalDone(proposal=number), 201)


@definition_api.post("/definitions", responses={201: models.RosterOpened})
@needs(Level.ADMINISTER, everywhere=True)
def post_roster(body: models.DefinitionIn) -> Any:
    """Open an empty roster with its definition; one that names no checks has those that its
    fields suggest.
    """
    definition = read_definition(body.document)
    with context().database.transaction() as connection:
        if store.get_roster(connection, definition.name) is not None:
            raise WrongDefinition("name", f"there is a roster {definition.name!r} already.")
    open_roster_with(context(), with_starting_checks(body.document, definition), [], account().id)
    return answer(models.RosterOpened(name=definition.name), 201)
