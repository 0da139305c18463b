"""Code lists as files, and codes that go: compared first, merged or retired with every record
following.
"""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, jsonify, request
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.codes import Code, write_codes
from nevefield.core.errors import UnreadableFile
from nevefield.core.listing import LIST_HEADINGS, compare_codes
from nevefield.core.texts import safe_cell
from nevefield.rosters.coding import add_code
from nevefield.rosters.errors import NoSuchRoster
from nevefield.rosters.looking import count_uses
from nevefield.rosters.merging import merge_code
from nevefield.rosters.snapshots import load_codes
from nevefield.web import models
from nevefield.web.access import account, context, needs
from nevefield.web.answering import download
from nevefield.web.describing import gives_file, takes_file

__all__ = ["code_api"]

code_api = APIBlueprint("codes", __name__, url_prefix="/api")


def _list(name: str) -> tuple[Code, ...]:
    with context().database.transaction() as connection:
        lists = load_codes(connection)
    if name not in lists:
        raise NoSuchRoster(name)
    return lists[name].codes


@code_api.get("/codes/<name>/file")
@needs(Level.LOOK)
@gives_file("text/csv")
def get_codes_file(path: models.NamePath) -> Response:
    """Give a code list as CSV."""
    with context().database.transaction() as connection:
        lists = load_codes(connection)
    if path.name not in lists:
        raise NoSuchRoster(path.name)
    text = write_codes({path.name: lists[path.name]}, safe_cell)
    return download(text.encode(), "text/csv; charset=utf-8", f"codes-{path.name}.csv")


@code_api.post("/codes/<name>/compare", responses={200: models.CodesCompared})
@needs(Level.ADMINISTER, everywhere=True)
@takes_file()
def post_compare(path: models.NamePath) -> Any:
    """Read a code list from a file of any type (multipart, `file`) and say in what it differs;
    it is written only as the list.
    """
    file = request.files.get("file")
    if file is None:
        raise UnreadableFile("No file came with the request.", "Choose a file and bring it again.")
    read = context().readers.read(file.read(), known=LIST_HEADINGS, account=account().id)
    found = compare_codes(read, path.name, _list(path.name), context().today())
    with context().database.transaction() as connection:
        used = count_uses(connection, path.name)
    answer = models.CodesCompared(
        sentence=found.sentence,
        problems=list(found.problems),
        added=list(found.added),
        gone=list(found.gone),
        altered=list(found.altered),
        used={code: used[code] for code in found.gone if used.get(code)},
        codes=[
            models.CodeOut(**{**asdict(one), "aliases": list(one.aliases)}) for one in found.codes
        ],
    )
    return jsonify(answer.model_dump(mode="json"))


@code_api.post("/codes/<name>/codes", responses={201: models.CodeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_code(path: models.NamePath, body: models.CodeOut) -> Any:
    """Add one code to a list."""
    code = Code(
        body.code.strip(),
        body.label.strip(),
        body.parent.strip(),
        (),
        body.first_day,
        body.last_day,
    )
    add_code(context(), path.name, code, account().id)
    return jsonify(models.CodeOut(**{**asdict(code), "aliases": []}).model_dump(mode="json")), 201


@code_api.post("/codes/<name>/merge", responses={200: models.MergeDone})
@needs(Level.ADMINISTER, everywhere=True)
def post_merge(path: models.NamePath, body: models.MergeIn) -> Any:
    """Merge a code into another, or retire it with a replacement."""
    done = merge_code(
        context(), path.name, body.code, body.into, account().id, retire=body.retire, look=body.look
    )
    answer = models.MergeDone(rosters=[models.MergedOut(**asdict(one)) for one in done])
    return jsonify(answer.model_dump(mode="json"))
