"""Code lists as files, and codes that go: compared first, merged or retired with every record
following.
"""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from flask import Response, jsonify, request

from nevefield.accounts import Level
from nevefield.core.codes import Code, write_codes
from nevefield.core.errors import UnreadableFile
from nevefield.core.listing import LIST_HEADINGS, compare_codes
from nevefield.core.texts import safe_cell
from nevefield.rosters.coding import add_code, begin_list, list_in_use, look_at_list, write_list
from nevefield.rosters.merging import merge_code
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer, download
from nevefield.web.api import Api
from nevefield.web.codes import shapes
from nevefield.web.describing import gives_file, takes_file

__all__ = ["code_api"]

code_api = Api("codes", __name__)


@code_api.get("/codes", responses={200: shapes.CodeLists})
@needs(Level.LOOK)
def list_code_lists() -> Any:
    """List code lists."""
    found = [
        shapes.CodeListBrief(
            name=name, title=_title(name), codes=len(one.codes), used_in=list(places)
        )
        for name, (one, places) in list_in_use(context()).items()
    ]
    return answer(shapes.CodeLists(lists=found))


def _title(name: str) -> str:
    return name.replace("_", " ").capitalize()


@code_api.post("/codes", responses={201: shapes.ListBegun})
@needs(Level.ADMINISTER, everywhere=True)
def post_list(body: shapes.ListIn) -> Any:
    """Begin a code list without codes."""
    return answer(shapes.ListBegun(name=begin_list(context(), body.title, account().id)), 201)


@code_api.get("/codes/<name>", responses={200: shapes.CodeListOut})
@needs(Level.LOOK)
def get_code_list(path: common.NamePath) -> Any:
    """Give one code list with the number of records that use each code."""
    return answer(_code_list(path.name))


def _code_list(name: str) -> shapes.CodeListOut:
    found = look_at_list(context(), name)
    codes = [
        shapes.CodeInUse(
            code=code.code,
            label=code.label,
            parent=code.parent,
            aliases=list(code.aliases),
            first_day=code.first_day,
            last_day=code.last_day,
            used=found.used.get(code.code, 0),
        )
        for code in found.list.codes
    ]
    return shapes.CodeListOut(
        name=name,
        title=_title(name),
        version=found.version,
        used_in=list(found.places),
        codes=codes,
    )


@code_api.put("/codes/<name>", responses={200: shapes.CodeListOut})
@needs(Level.ADMINISTER, everywhere=True)
def put_code_list(path: common.NamePath, body: shapes.CodeListIn) -> Any:
    """Write a code list whole; a code that records use cannot go, only end."""
    codes = [
        Code(
            code.code.strip(),
            code.label.strip(),
            code.parent.strip(),
            tuple(alias.strip() for alias in code.aliases if alias.strip()),
            code.first_day,
            code.last_day,
        )
        for code in body.codes
    ]
    write_list(context(), path.name, codes, body.seen, account().id)
    return answer(_code_list(path.name))


@code_api.get("/codes/<name>/file")
@needs(Level.LOOK)
@gives_file("text/csv")
def get_codes_file(path: common.NamePath) -> Response:
    """Give a code list as CSV."""
    codes = look_at_list(context(), path.name).list
    text = write_codes({path.name: codes}, safe_cell)
    return download(text.encode(), "text/csv; charset=utf-8", f"codes-{path.name}.csv")


@code_api.post("/codes/<name>/compare", responses={200: shapes.CodesCompared})
@needs(Level.ADMINISTER, everywhere=True)
@takes_file()
def post_compare(path: common.NamePath) -> Any:
    """Read a code list from a file of any type (multipart, `file`) and say in what it differs;
    it is written only as the list.
    """
    file = request.files.get("file")
    if file is None:
        raise UnreadableFile("No file came with the request.", "Upload it again.")
    read = context().readers.read(file.read(), known=LIST_HEADINGS, account=account().id)
    here = look_at_list(context(), path.name)
    compared = compare_codes(read, path.name, here.list.codes, context().today())
    answer = shapes.CodesCompared(
        sentence=compared.sentence,
        problems=list(compared.problems),
        added=list(compared.added),
        gone=list(compared.gone),
        altered=list(compared.altered),
        used={code: here.used[code] for code in compared.gone if here.used.get(code)},
        codes=[
            shapes.CodeOut(**{**asdict(code), "aliases": list(code.aliases)})
            for code in compared.codes
        ],
    )
    return jsonify(answer.model_dump(mode="json"))


@code_api.post("/codes/<name>/codes", responses={201: shapes.CodeOut})
@needs(Level.ADMINISTER, everywhere=True)
def post_code(path: common.NamePath, body: shapes.CodeOut) -> Any:
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
    return jsonify(shapes.CodeOut(**{**asdict(code), "aliases": []}).model_dump(mode="json")), 201


@code_api.post("/codes/<name>/merge", responses={200: shapes.MergeDone})
@needs(Level.ADMINISTER, everywhere=True)
def post_merge(path: common.NamePath, body: shapes.MergeIn) -> Any:
    """Merge a code into another, or retire it with a replacement."""
    done = merge_code(
        context(), path.name, body.code, body.into, account().id, retire=body.retire, look=body.look
    )
    answer = shapes.MergeDone(rosters=[shapes.MergedOut(**asdict(merged)) for merged in done])
    return jsonify(answer.model_dump(mode="json"))
