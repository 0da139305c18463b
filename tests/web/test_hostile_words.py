"""Hostile words in every place of every request: a sentence with 4xx, never 5xx, and no answer
unknown to the document.
"""

from __future__ import annotations

import io
import itertools
import json
import os
import re
from collections.abc import Iterator
from typing import Any

import jsonschema
import pytest
from openapi_spec_validator import OpenAPIV31SpecValidator

from nevefield.context import Context
from nevefield.web import create_app
from nevefield.web.app import openapi_document
from tests.web.asking import KEY, SHEET, Call, Examples, Place, Rehearsed, open_rehearsed
from tests.web.houses import House, open_houses

LONG = os.environ.get("NEVEFIELD_EXAMPLES") == "long"
FEW = 3
TURN = itertools.count()
HUGE = 10**30
# Where a stranger may ask: to sign in, links of accounts and of letters, a file by its address.
OPEN_PATHS = {
    "/api/session",
    "/api/links/first",
    "/api/links/look",
    "/api/links/use",
    "/api/fetch/{token}",
    "/api/own/look",
    "/api/own/answer",
}
# What stands in a place for what belongs there.
WORDS: tuple[Any, ...] = (
    "",
    "\x00",
    "a\x00b",
    "\U0001f9d1‍🚀" * 50,
    "x" * 70_000,
    "=cmd|'/c calc'!A1",
    "' OR 1=1; DROP TABLE account; --",
    "../../../etc/passwd",
    "%00%ff",
    "2026-02-30",
    "9999-12-31",
    "0001-01-01",
    -1,
    2**31,
    2**63,
    -HUGE,
    0.5,
    None,
    True,
    [],
    [[]],
    {},
    {"": {"": []}},
)
# Bodies that are no JSON, or more than JSON may be.
BODIES = {
    "cut off": b'{"reason": "x',
    "deep": b'{"reason": ' + b"[" * 100_000 + b"]" * 100_000 + b"}",
    "half a character": b'{"reason": "\\ud800"}',
    "no UTF-8": b'{"reason": "\xff\xfe"}',
    "not a number": b'{"reason": NaN}',
    "endless": b'{"reason": 1e999999}',
    "many digits": b'{"reason": ' + b"9" * 10_000 + b"}",
    "nothing": b"",
    "twice": b"{}{}",
    "a list": b"[]",
    "a word": b'"x"',
    "null": b"null",
}


@pytest.fixture(scope="module")
def houses(server) -> Iterator[tuple[Context, Rehearsed, House, House]]:
    yield from open_rehearsed(server, open_houses)


class Asker:
    """The keeper, who may do everything, and looks at whether the document knows each answer."""

    def __init__(self, context: Context, database: Rehearsed) -> None:
        self.document = openapi_document()
        self.database = database
        self.client = create_app(context.settings, context).test_client()
        signed = self.client.post(
            "/api/session", json={"name": "keeper", "password": "password-of-keeper"}
        )
        self.headers = {"X-Nevefield-Token": signed.json["token"]}
        database.raw.commit()
        database.raw.begin()
        self.asked = 0

    def ask(
        self, call: Call, raw: bytes | None = None, media: str = "application/json"
    ) -> list[str]:
        """Ask, and list what is wrong with the answer."""
        self.asked += 1
        more: dict[str, Any] = (
            {"query_string": {name: _text(one) for name, one in call.query.items()}}
            if call.query
            else {}
        )
        if raw is not None:
            more |= {"data": raw, "content_type": media}
        elif call.form is not None:
            texts = {name: str(one) for name, one in call.form.items()}
            more["data"] = {"file": (io.BytesIO(SHEET), "sheet.csv"), **texts}
        elif call.body is not None:
            more["data"], more["content_type"] = json.dumps(call.body), media
        try:
            address = call.route.format(**{name: _in_path(one) for name, one in call.path.items()})
            answer = self.client.open(address, method=call.method, headers=self.headers, **more)
        except Exception as error:
            self.database.begin_anew(altered=True)
            return [f"{call.method} {call.route}: {type(error).__name__}: {error}"]
        self.database.begin_anew(altered=call.method != "GET" and answer.status_code < 300)
        return [f"{call.method} {call.route}: {one}" for one in self._wrong(call, answer)]

    def _wrong(self, call: Call, answer: Any) -> Iterator[str]:
        if answer.status_code >= 500:
            yield f"{answer.status_code} {answer.get_data()[:300]!r}"
            return
        known = self.document["paths"][call.route][call.method.lower()]["responses"].get(
            str(answer.status_code)
        )
        if known is None:
            if not (answer.status_code in (404, 405) and answer.json["title"]):
                yield f"{answer.status_code} is not in the document: {answer.get_data()[:200]!r}"
            return
        media = answer.mimetype
        content = known.get("content", {})
        if content and media not in content:
            yield f"{answer.status_code} came as {media}, the document knows {list(content)}"
        elif media.endswith("json") and content[media]["schema"]:
            schema = {**content[media]["schema"], "components": self.document["components"]}
            found = next(jsonschema.Draft202012Validator(schema).iter_errors(answer.json), None)
            if found is not None:
                yield (
                    f"{answer.status_code} is not as the document says: {found.message[:200]} at"
                    f" {list(found.path)}"
                )
        if answer.status_code >= 400 and not re.fullmatch(
            r".{8,}", answer.json["detail"], re.DOTALL
        ):
            yield f"{answer.status_code} says nothing: {answer.json}"


def _text(value: Any) -> Any:
    return value if isinstance(value, (str, list)) else json.dumps(value)


def _in_path(value: Any) -> str:
    text = value if isinstance(value, str) else json.dumps(value)
    return (
        "".join(
            f"%{one:02X}" if not chr(one).isalnum() else chr(one) for one in text[:300].encode()
        )
        or "%20"
    )


def test_document_is_valid():
    """The document is valid OpenAPI 3.1, says for each operation who may, and which refusals
    there are.
    """
    document = openapi_document()
    assert list(OpenAPIV31SpecValidator(document).iter_errors()) == []
    operations = [one for methods in document["paths"].values() for one in methods.values()]
    assert len(operations) > 100
    strangers = {
        path
        for path, methods in document["paths"].items()
        for one in methods.values()
        if "security" not in one
    }
    assert strangers == OPEN_PATHS
    assert all({"401", "422", "503"} <= one["responses"].keys() for one in operations)


def _wholes(place: Place) -> list[Any]:
    """What stands in a place: alone, and in a list where a list belongs."""
    words = [one for one in WORDS if isinstance(one, str)] if place.at[-1] == KEY else list(WORDS)
    if isinstance(place.whole, list) and len(place.at) == 2:
        words += [[one] for one in WORDS[:8]]
    if LONG:
        return words
    # each place in its turn some of the words: all words come, in the long run each in each place
    first = next(TURN) * FEW
    return [words[(first + step) % len(words)] for step in range(FEW)]


def test_hostile_values(houses):
    """Every hostile value in every place, in path, query and body."""
    context, database, own, _ = houses
    who = Asker(context, database)
    said = []
    for call, places in Examples(who.document, own).calls():
        said += who.ask(call)
        for place in places:
            for word in _wholes(place):
                said += [
                    f"{'.'.join(map(str, place.at))}={str(word)[:30]!r}: {one}"
                    for one in who.ask(call.but(place, word))
                ]
    print("ASKED", who.asked)
    assert not said, f"{len(said)}\n" + "\n".join(said[:60])


def test_hostile_bodies(houses):
    """What is no JSON, too deep, of another type, or nothing at all, to every operation that
    takes something.
    """
    context, database, own, _ = houses
    who = Asker(context, database)
    said = []
    for call, _ in Examples(who.document, own).calls():
        if call.body is None and call.form is None:
            continue
        for name, body in BODIES.items():
            said += [f"{name}: {one}" for one in who.ask(call, raw=body)]
        for media in (
            "text/plain",
            "application/x-www-form-urlencoded",
            "multipart/form-data",
            "multipart/form-data; boundary=x",
            "application/xml",
            "image/png",
            "",
        ):
            said += [f"{media}: {one}" for one in who.ask(call, raw=b"--x\r\n\r\n{}", media=media)]
    assert not said, f"{len(said)}\n" + "\n".join(said[:60])
