"""Definitions: read, tried against the records, written; a roster opened with one."""

from __future__ import annotations

from typing import Any

from flask import Response, json

from nevefield.accounts import Level
from nevefield.core.checking.catalog import DECLARED
from nevefield.proposals.approving import propose_definition
from nevefield.rosters.coding import look_at_values, make_list_of
from nevefield.rosters.defining import (
    change_definition,
    open_definition,
    open_version,
    try_change,
)
from nevefield.rosters.opening import open_empty
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.describing import gives_file
from nevefield.web.rosters import shapes_definitions

__all__ = ["definition_api"]

VALUES_SHOWN = 6
definition_api = Api("definitions", __name__)


@definition_api.get("/rosters/<name>/definition", responses={200: shapes_definitions.DefinitionOut})
@needs(Level.LOOK, of="roster")
def get_definition(path: common.NamePath) -> Any:
    """Give the definition in force, its versions, and the checks that there are."""
    opened = open_definition(context(), path.name)
    kinds = [
        shapes_definitions.CheckKind(
            name=declared.name,
            holds=declared.holds,
            weight=declared.weight,
            options=[
                shapes_definitions.CheckOption(
                    name=option.name,
                    kind=option.kind,
                    label=option.label or option.name,
                    words=option.words,
                    example=option.example,
                    needed=option.is_needed,
                    choices=list(option.choices),
                )
                for option in declared.options
            ],
            fewest=declared.fewest,
            most=declared.most,
            example=declared.example,
        )
        for declared in DECLARED.values()
    ]
    return answer(
        shapes_definitions.DefinitionOut(
            number=opened.roster.definition,
            document=opened.document,
            versions=[
                shapes_definitions.DefinitionVersion(number=number, by=by, at=at)
                for number, by, at in opened.versions
            ],
            lists=opened.lists,
            checks=kinds,
        )
    )


@definition_api.get(
    "/rosters/<name>/definition/versions/<int:number>",
    responses={200: shapes_definitions.VersionOut},
)
@needs(Level.LOOK, of="roster")
def get_version(path: shapes_definitions.VersionPath) -> Any:
    """Give an earlier definition, and what became another from it to the one in force."""
    version = open_version(context(), path.name, path.number)
    return answer(
        shapes_definitions.VersionOut(
            number=version.number, document=version.document, changes=version.changes
        )
    )


@definition_api.get("/rosters/<name>/definition/document")
@needs(Level.LOOK, of="roster")
@gives_file("application/json")
def get_document(path: common.NamePath) -> Response:
    """Give the definition in force as a Table Schema file."""
    opened = open_definition(context(), path.name)
    text = json.dumps(opened.document, ensure_ascii=False, indent=1)
    return download(text.encode(), "application/json", f"{opened.roster.name}.json")


@definition_api.post("/rosters/<name>/definition/try", responses={200: shapes_definitions.TriedOut})
@needs(Level.ADMINISTER, of="roster")
def post_try(path: common.NamePath, body: shapes_definitions.DefinitionIn) -> Any:
    """Say what a definition would break in the records, with nothing written."""
    tried = try_change(context(), path.name, body.document)
    return answer(
        shapes_definitions.TriedOut(
            records=tried.records,
            why=tried.why,
            troubles=[
                shapes_definitions.TroubleOut(
                    check=trouble.check,
                    field=trouble.field,
                    said=trouble.said,
                    records=trouble.records,
                    keys=[
                        " ".join(map(str, key)) if isinstance(key, list) else str(key)
                        for key in trouble.keys
                    ],
                )
                for trouble in tried.troubles
            ],
        )
    )


@definition_api.put(
    "/rosters/<name>/definition", responses={200: shapes_definitions.DefinitionWritten}
)
@needs(Level.ADMINISTER, of="roster")
def put_definition(path: common.NamePath, body: shapes_definitions.DefinitionIn) -> Any:
    """Put a definition in force."""
    number = change_definition(context(), path.name, body.document, body.seen, account().id)
    return answer(shapes_definitions.DefinitionWritten(number=number))


@definition_api.post("/rosters/<name>/definition/propose", responses={201: common.ProposalDone})
@needs(Level.ADMINISTER, of="roster")
def post_propose(path: common.NamePath, body: shapes_definitions.DefinitionIn) -> Any:
    """Propose a definition, for a second person to approve."""
    number = propose_definition(context(), path.name, body.document, body.seen, account().id)
    return answer(common.ProposalDone(proposal=number), 201)


@definition_api.get(
    "/rosters/<name>/fields/<field>/values", responses={200: shapes_definitions.FieldValues}
)
@needs(Level.ADMINISTER, of="roster")
def get_values(path: shapes_definitions.FieldPath) -> Any:
    """Give the different values that a field has in the records, the commonest first."""
    values = look_at_values(context(), path.name, path.field)
    return answer(
        shapes_definitions.FieldValues(
            different=len(values.counts),
            commonest=[
                shapes_definitions.FieldValue(value=text, records=count)
                for text, count in values.counts[:VALUES_SHOWN]
            ],
            why_no_list=values.why_no_list,
        )
    )


@definition_api.post(
    "/rosters/<name>/fields/<field>/list", responses={201: shapes_definitions.ListMade}
)
@needs(Level.ADMINISTER, everywhere=True)
def post_list_of(path: shapes_definitions.FieldPath) -> Any:
    """Make a code list of the values that a field has."""
    name = make_list_of(context(), path.name, path.field, account().id)
    return answer(shapes_definitions.ListMade(name=name), 201)


@definition_api.post("/definitions", responses={201: shapes_definitions.RosterOpened})
@needs(Level.ADMINISTER, everywhere=True)
def post_roster(body: shapes_definitions.DefinitionIn) -> Any:
    """Open an empty roster with its definition; one that names no checks has those that its
    fields suggest.
    """
    name = open_empty(context(), body.document, account().id)
    return answer(shapes_definitions.RosterOpened(name=name), 201)
