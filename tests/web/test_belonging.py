"""Nobody sees across rosters: every route with the numbers and names of another roster, in every place, as every kind of account.

What may not be seen and what does not exist must answer alike, and no word of the other house may stand in any answer.
"""

from __future__ import annotations

import io
import itertools
import json
import os
import re
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from typing import Any

import pytest

from nevefield.context import Context
from nevefield.store.connection import Connection, Database
from nevefield.web import create_app
from tests.web.houses import NONE, THEIRS, House, open_houses

LONG = os.environ.get("NEVEFIELD_EXAMPLES") == "long"
ACCOUNTS = ("nobody", "look", "prepare", "approve", "administer", "both")
# In the long run every account in both worlds; else those that tell the most.
RUNS = [(world, name) for world in ("easy", "hard") for name in ACCOUNTS]
RUNS = RUNS if LONG else [("easy", "nobody"), ("easy", "administer"), ("hard", "look"), ("hard", "both")]
# What stands for something of the other house, beside the same of what is not there.
NUMBERS = ((THEIRS, NONE),)
TEXTS = (
    ("farfolk", "farfolx"),
    (f"intake:{THEIRS}", f"intake:{NONE}"),
    (str(THEIRS), str(NONE)),
    ("zq0bfarteam", "zq0bfarteax"),
    ("zq0b-009", "zq0b-0x0"),
    ("Bitternzq0b", "Bitternzqxx"),
    ("zsxb1@example.org", "zsxb1@example.orx"),
    ("zq0bt1", "zq0btx"),
)
# Where the codes of a kept field are told to everybody: they are of its list, not of anybody.
TELLING_CODES = ("/definition", "/definition/document", "/request-sheet", "/layout", "/codes/ownfolkcreed")


class Rehearsed(Database):
    """A database in which nothing lasts: all transactions stand in one, which is never committed."""

    def __init__(self, url: str) -> None:
        super().__init__(url)
        self.counter = itertools.count()
        self.raw = self._connect()
        self.raw.begin()

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        point = f"p{next(self.counter)}"
        with self.raw.cursor() as cursor:
            cursor.execute(f"SAVEPOINT {point}")
            try:
                yield Connection(self.raw, self._sight)
            except BaseException:
                cursor.execute(f"ROLLBACK TO SAVEPOINT {point}")
                raise

    def begin_anew(self, *, altered: bool) -> None:
        self.raw.rollback()
        self.raw.begin()
        if altered:  # what was worked out is kept by the database's name: none of it is of now
            self.raw.host = f"rehearsal-{next(self.counter)}"


@dataclass(frozen=True)
class Place:
    """Where something may stand in a request: part, name, and the way on inside; with the whole of what stands under the name."""

    at: tuple[Any, ...]
    value: Any
    whole: Any = None


@dataclass(frozen=True)
class Call:
    """A request, by its parts."""

    method: str
    route: str
    path: dict[str, Any] = field(default_factory=dict)
    query: dict[str, Any] = field(default_factory=dict)
    body: Any = None
    form: dict[str, Any] | None = None

    @property
    def address(self) -> str:
        return self.route.format(**self.path)

    def but(self, place: Place, value: Any) -> Call:
        """The same with another value in one place."""
        part, name, *rest = place.at
        whole = getattr(self, part)
        return replace(self, **{part: {**whole, name: _put(whole.get(name, place.whole), tuple(rest), value)}})


def _put(whole: Any, place: tuple[Any, ...], value: Any) -> Any:
    if not place:
        return value
    if isinstance(whole, list):
        return [_put(one, place[1:], value) if at == place[0] else one for at, one in enumerate(whole)]
    if place[0] == KEY:  # the name of an entry, not what is under it
        return {value: next(iter(whole.values()))}
    return {**whole, place[0]: _put(whole[place[0]], place[1:], value)}


NUMBER = itertools.count()
KEY = "<key>"


def _places(part: str, name: str, value: Any) -> Iterator[Place]:
    value = [0] if value == [] else value
    for at, one in _leaves(value, (part, name)):
        yield Place(at, one, value)


def _leaves(value: Any, at: tuple[Any, ...]) -> Iterator[tuple[tuple[Any, ...], Any]]:
    if isinstance(value, dict):
        if value and all(str(name).isdigit() for name in value):
            yield (*at, KEY), 0
        for name, one in value.items():
            yield from _leaves(one, (*at, name))
    elif isinstance(value, list):
        for place, one in enumerate(value[:2]):
            yield from _leaves(one, (*at, place))
    elif not isinstance(value, bool):
        yield at, value


class Examples:
    """Values of the own house for every place in the document."""

    def __init__(self, document: dict[str, Any], own: House) -> None:
        self.document = document
        record = own.numbers["record"]
        self.record = record
        numbers = {f"{kind}_id": number for kind, number in own.numbers.items()}
        step = {"kind": "person", "choices": [{"line": 2, "record": record}]}
        recipe = {"name": "Office", "steps": [{"kind": "pair", "heading": "note", "field": "note"}]}
        self.values: dict[str, Any] = {
            **numbers,
            "name": own.name,
            "kind": "team",
            "line": 2,
            "token": "0" * 32,
            "records": [record, record + 1],
            "record": record,
            "one": record,
            "other": record + 1,
            "keep": record,
            "gone": record + 1,
            "add": [record],
            "remove": [record],
            "but": [record],
            "moves": {str(record): "ot2"},
            "leaving": {str(record): "ot1"},
            "acts": [{"field": "note", "act": "set", "value": "x"}],
            "live": {"field": "team", "is": "ot1"},
            "chosen": {"field": "team", "is": "ot1"},
            "rules": [{"when": {"field": "team", "is": "ot1"}, "field": "note", "value": "x"}],
            "values": {"note": "x"},
            "document": own.document,
            "layout": own.layout,
            "recipe": recipe,
            "step": step,
            "steps": 5,
            "roster_version": 2,
            "version": 2,
            "reason": "so",
            "title": "A title",
            "shortlist": own.numbers["shortlist"],
            "change_set": own.numbers["change_set"],
            "like": own.numbers["submission"],
            "starts_from": own.numbers["submission"],
            "old": "today",
            "new": f"intake:{own.numbers['intake']}",
            "roster": own.name,
            "day": "2026-09-30",
            "as_of": "2026-09-01",
            "until": "2026-10-01",
            "due": "2026-10-01",
            "sort": "family",
            "filter": ["team:ot1"],
            "q": "Adder",
            "field": "note",
            "fields": "note",
            "find": "noted",
            "put": "said",
            "pattern": {"parts": [{"field": "family"}]},
            "cause": "no cause",
            "code": "ot3",
            "into": "ot4",
            "codes": [{"code": "ot1", "label": "x"}],
            "key": ["ot1"],
            "password": "a long password",
            "rule": "R1",
            "ours": "ot1",
            "theirs": "T",
            "value": "x",
            "part": "",
            "family": "team",
            "format": "csv",
            "outcome": "new",
            "of": "all",
        }
        self.special: dict[tuple[str, str], Any] = {
            ("/api/submissions/{submission_id}/decide", "kind"): "hold",
            ("/api/submissions/{submission_id}/numbers", "kind"): "clear",
            ("/api/intakes/{intake_id}/remedies", "kind"): "hold",
            ("/api/intakes/{intake_id}/remedies/preview", "kind"): "hold",
            ("/api/submissions/{submission_id}/take-theirs", "fields"): ["NAME"],
            ("/api/change-sets/{change_set_id}/take-back", "fields"): ["note"],
            ("/api/change-sets/{change_set_id}/propose-take-back", "fields"): ["note"],
            ("/api/submissions/{submission_id}/send", "part"): "team",
            ("/api/groups/{name}/{kind}/spread", "part"): [],
            ("/api/submissions/{submission_id}/send", "value"): "ot1",
            ("/api/rosters/{name}/submissions", "title"): "A title",
        }
        for route in document["paths"]:
            if route.startswith("/api/codes/"):
                self.special[route, "name"] = f"{own.name}team"

    def of(self, route: str, name: str, schema: dict[str, Any]) -> Any:
        """A value of the own house, or a plain one of the right type."""
        if (route, name) in self.special:
            return self.special[route, name]
        if name in self.values:
            return self.values[name]
        schema = self._resolve(schema)
        if "enum" in schema:
            return schema["enum"][0]
        plain = {"integer": 1, "boolean": False, "number": 60.0, "array": [], "object": {}}
        return plain.get(schema.get("type", "string"), "x")

    def _resolve(self, schema: dict[str, Any]) -> dict[str, Any]:
        if "$ref" in schema:
            return self._resolve(self.document["components"]["schemas"][schema["$ref"].split("/")[-1]])
        some = [one for one in schema.get("anyOf", []) if one.get("type") != "null"]
        return self._resolve(some[0]) if some else schema

    def calls(self) -> Iterator[tuple[Call, list[Place]]]:
        """Each operation as a call of the own house, with every place in which something else may stand."""
        for route, methods in self.document["paths"].items():
            for method, operation in methods.items():
                if (method, route) in (("post", "/api/session"), ("delete", "/api/session")):
                    continue
                yield self._call(route, method.upper(), operation)

    def _call(self, route: str, method: str, operation: dict[str, Any]) -> tuple[Call, list[Place]]:
        path, query, places = {}, {}, []
        for one in operation.get("parameters", ()):
            value = self.of(route, one["name"], one["schema"])
            part = path if one["in"] == "path" else query
            if one["in"] == "path" or one.get("required"):
                part[one["name"]] = value
            places += list(_places(one["in"], one["name"], value))
        content = operation.get("requestBody", {}).get("content", {})
        body, form = None, None
        if "application/json" in content:
            body, some = self._object(route, content["application/json"]["schema"], "body")
            places += some
        if "multipart/form-data" in content or (method, route) in FORMS:
            form, some = {}, [Place(("form", name), "") for name in FORMS.get((method, route), ())]
            places += some
        return Call(method, route, path, query, body, form), places

    def _object(self, route: str, schema: dict[str, Any], part: str) -> tuple[dict[str, Any], list[Place]]:
        schema = self._resolve(schema)
        made, places = {}, []
        for name, one in schema.get("properties", {}).items():
            value = self.of(route, name, one)
            if name in schema.get("required", ()):
                made[name] = value
            places += list(_places(part, name, value))
        return made, places


FORMS = {
    ("POST", "/api/intakes"): ("roster", "source", "work"),
    ("POST", "/api/codes/{name}/compare"): (),
    ("POST", "/api/rounds/{round_id}/answer"): (),
}
SHEET = b"nr;family;given;note;friend\n900;Adder;Una;x;FARR-001\n"


class Asker:
    """Somebody who asks, and reads what is answered to the last letter."""

    def __init__(self, context: Context, database: Rehearsed, app: Any, name: str, forbidden: tuple[str, ...]) -> None:
        self.database, self.name, self.forbidden = database, name, forbidden
        self.client = app.test_client()
        answer = self.client.post("/api/session", json={"name": name, "password": f"password-of-{name}"})
        self.token = answer.json["token"] if answer.status_code == 200 else ""
        database.raw.commit()
        database.raw.begin()

    def ask(self, call: Call) -> tuple[int, str]:
        more: dict[str, Any] = {"query_string": call.query} if call.query else {}
        if call.form is not None:
            more["data"] = {"file": (io.BytesIO(SHEET), "sheet.csv"), **call.form}
        elif call.body is not None:
            more["json"] = call.body
        answer = self.client.open(call.address, method=call.method, headers={"X-Nevefield-Token": self.token}, **more)
        altered = call.method != "GET" and answer.status_code < 300
        self.database.begin_anew(altered=altered)
        data = answer.get_data()
        if data[:2] == b"PK":
            with zipfile.ZipFile(io.BytesIO(data)) as packed:
                data = b"".join(packed.read(name) for name in packed.namelist())
        return answer.status_code, data.decode("utf-8", "replace") + json.dumps(dict(answer.headers))

    def leaks(self, address: str, text: str, said: str = "") -> list[str]:
        """Words of the other house in an answer, but for what was in the question."""
        plain = text.casefold().replace(said.casefold(), "@") if said else text.casefold()
        if address.endswith(TELLING_CODES) or address == "/api/codes":
            plain = re.sub("creed zsx[ab] [1-4]|zsx[ab]c[1-4]", "@", plain)
        return [one for one in self.forbidden if one in plain]


@pytest.fixture(scope="module")
def houses(server, request) -> Iterator[tuple[Context, Rehearsed, House, House]]:
    from nevefield.settings import Settings
    from nevefield.store.schema import migrate
    from tests.conftest import Clock, _make_database

    name = f"nevefield_house_{next(NUMBER)}"
    _make_database(server, name)
    url = f"{server.rsplit('/', 1)[0]}/{name}"
    context = Context(Database(url), Settings(database_url=url), Clock())
    migrate(context.database)
    own, other = open_houses(context, lambda name: f"password-of-{name}", hard=request.param == "hard")
    database = Rehearsed(url)
    yield replace(context, database=database), database, own, other
    database.raw.close()
    context.database.close()


def _forbidden(name: str) -> tuple[str, ...]:
    return {
        "nobody": ("zq0b", "zsxb", "zsxa", "adder"),
        "look": ("zq0b", "zsxb", "zsxa", "2191-"),
        "both": ("zsxb",),
    }.get(name, ("zq0b", "zsxb"))


def _substitutes(name: str, value: Any) -> tuple[tuple[Any, Any], ...]:
    if isinstance(value, (int, float)):
        return NUMBERS
    if re.fullmatch(r"\d{4}-\d\d-\d\d", value):
        return ()
    return TEXTS if LONG else TEXTS[:6] if name == "administer" else TEXTS[:2]


@pytest.mark.parametrize(("houses", "name"), RUNS, indirect=["houses"])
def test_nothing_of_the_other_house(houses, name):
    """No answer has a word of the other house, and each refusal is that of what does not exist."""
    context, database, own, _ = houses
    app = create_app(context.settings, context)
    who = Asker(context, database, app, name, _forbidden(name))
    said: list[str] = []
    asked = 0
    for call, places in Examples(app.api_doc, own).calls():
        status, text = who.ask(call)
        asked += 1
        if found := who.leaks(call.address, text):
            said.append(f"{call.method} {call.address}: {status}, has {found}")
        for seats in _of_seats(call, own):
            asked += 1
            status, text = who.ask(seats)
            if found := who.leaks(seats.address, text):
                said.append(f"{seats.method} {seats.address}: {status}, has {found}")
        for place in places:
            for theirs, nothing in _substitutes(name, place.value):
                asked += 2
                first, second = (who.ask(call.but(place, one)) for one in (theirs, nothing))
                where = f"{call.method} {call.route} {'.'.join(map(str, place.at))} = {theirs}"
                if found := who.leaks(call.but(place, theirs).address, first[1], str(theirs)):
                    said.append(f"{where}: {first[0]}, has {found}")
                if name != "both" and first[0] != second[0]:
                    said.append(f"{where}: {first[0]}, of what is not there {second[0]}")
                elif name != "both" and first[0] >= 400 and _bare(first[1], theirs) != _bare(second[1], nothing):
                    said.append(f"{where}: {first[1][:200]} / {second[1][:200]}")
                said += [f"{where}: {one[0]} {one[1][:200]}" for one in (first, second) if one[0] >= 500]
    print("ASKED", name, asked)
    assert not said, "\n".join(said)


def _of_seats(call: Call, own: House) -> Iterator[Call]:
    """The same call about the seats of the own house, whose holders are people of the other."""
    known = [[(name, one) for one in own.seats[name]] for name in call.path if name in own.seats]
    if known and not call.route.startswith("/api/codes"):
        for some in itertools.product(*known):
            yield replace(call, path={**call.path, **dict(some)})


def _bare(text: str, said: Any) -> str:
    plain = text.split("}{")[0].casefold().replace(str(said).casefold(), "@")
    return plain.replace(str(THEIRS), "@").replace(str(NONE), "@")


@pytest.mark.parametrize("houses", ["easy"], indirect=True)
def test_counts_are_of_what_may_be_seen(houses):
    """A code list that both houses use counts the records of the house that may be seen, and names no other."""
    context, database, own, other = houses
    with database.transaction() as connection:
        document = {**other.document, "fields": [
            {**one, "nevefield": {**one["nevefield"], "codeList": "ownfolkteam"}} if one["name"] == "team" else one
            for one in other.document["fields"]
        ]}  # fmt: skip
        connection.run(
            "UPDATE definition SET document = %s WHERE roster_id = %s AND number = 1", (json.dumps(document), other.roster)
        )
        connection.run(
            "UPDATE record_version SET content = JSON_SET(content, '$.team', 'ot1') WHERE roster_id = %s", (other.roster,)
        )
        mine = connection.rows(
            "SELECT JSON_VALUE(content, '$.team'), COUNT(*) FROM record_version"
            " WHERE roster_id = %s AND valid_to IS NULL GROUP BY 1",
            (own.roster,),
        )
        (theirs,) = connection.row(
            "SELECT COUNT(*) FROM record_version WHERE roster_id = %s AND valid_to IS NULL", (other.roster,)
        )
    database.raw.host = "counts"  # what was worked out before is of another time
    app = create_app(context.settings, context)
    counts, places = {}, {}
    for name in ("administer", "both"):
        told = app.test_client()
        told.post("/api/session", json={"name": name, "password": f"password-of-{name}"})
        found = told.get("/api/codes/ownfolkteam").json
        counts[name] = {one["code"]: one["used"] for one in found["codes"] if one["used"]}
        places[name] = found["used_in"]
    database.begin_anew(altered=True)
    assert counts["administer"] == dict(mine)
    assert places["administer"] == ["People, Team"]
    assert counts["both"] == {**dict(mine), "ot1": dict(mine)["ot1"] + theirs}
    assert len(places["both"]) == 2
