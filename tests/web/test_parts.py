"""Who has a part of a roster finds nothing of another: every route of the API, with the numbers
and names of the other part in every place.

What was made in another part, or of the whole roster, and what does not exist must answer alike;
no word of anybody outside of the part may stand in any answer.
"""

from __future__ import annotations

import os
import re
from collections import Counter
from collections.abc import Iterator
from typing import Any

import pytest

from nevefield.context import Context
from nevefield.web import create_app
from nevefield.web.app import openapi_document
from tests.web.asking import Asker, Examples, Rehearsed, open_rehearsed
from tests.web.houses import NONE, PEOPLE, THEIRS, House
from tests.web.wings import open_wings

LONG = os.environ.get("NEVEFIELD_EXAMPLES") == "long"
FORBIDDEN = {"look": ("zq0b", "zsxb", "zsxa"), "prepare": ("zq0b", "zsxb")}
FORBIDDEN["approve"] = FORBIDDEN["prepare"]
TEXTS = (
    (f"intake:{THEIRS}", f"intake:{NONE}"),
    (str(THEIRS), str(NONE)),
    ("zq0b-009", "zq0b-0x0"),
    ("Bitternzq0b", "Bitternzqxx"),
    ("zsxb1@example.org", "zsxb1@example.orx"),
)


@pytest.fixture(scope="module")
def wings(server) -> Iterator[tuple[Context, Rehearsed, House, House]]:
    yield from open_rehearsed(server, open_wings)


def _substitutes(value: Any) -> tuple[tuple[Any, Any], ...]:
    if isinstance(value, (int, float)):
        return ((THEIRS, NONE),)
    if re.fullmatch(r"\d{4}-\d\d-\d\d", value):
        return ()
    return TEXTS if LONG else TEXTS[:2]


@pytest.mark.parametrize("name", ["look", "prepare", "approve"] if LONG else ["look", "approve"])
def test_nothing_of_another_part(wings, name):
    """No answer has a word of the other part, and each refusal is that of what does not exist."""
    context, database, own, _ = wings
    app = create_app(context.settings, context)
    who = Asker(context, database, app, name, FORBIDDEN[name])
    said: list[str] = []
    for call, places in Examples(openapi_document(), own).calls():
        status, text = who.ask(call)
        if found := who.leaks(call.address, text):
            said.append(f"{call.method} {call.address}: {status}, has {found}")
        for place in places:
            for theirs, nothing in _substitutes(place.value):
                first, second = (who.ask(call.but(place, one)) for one in (theirs, nothing))
                where = f"{call.method} {call.route} {'.'.join(map(str, place.at))} = {theirs}"
                if found := who.leaks(call.but(place, theirs).address, first[1], str(theirs)):
                    said.append(f"{where}: {first[0]}, has {found}")
                if first[0] != second[0]:
                    said.append(f"{where}: {first[0]}, of what is not there {second[0]}")
                elif first[0] >= 400 and _bare(first[1], theirs) != _bare(second[1], nothing):
                    said.append(f"{where}: {first[1][:200]} / {second[1][:200]}")
                said += [
                    f"{where}: {one[0]} {one[1][:200]}" for one in (first, second) if one[0] >= 500
                ]
    assert not said, "\n".join(said)


def _bare(text: str, said: Any) -> str:
    plain = text.split("}{")[0].casefold().replace(str(said).casefold(), "@")
    return plain.replace(str(THEIRS), "@").replace(str(NONE), "@")


def test_counts_are_of_the_part(wings):
    """Records, codes, groups, the desk and what is taken out count the part alone, as it is counted
    in the database.
    """
    context, database, own, _ = wings
    with database.transaction() as connection:
        rows = connection.rows(
            "SELECT JSON_VALUE(content, '$.nr'), JSON_VALUE(content, '$.team') FROM record_version"
            " WHERE roster_id = %s AND valid_to IS NULL AND JSON_VALUE(content, '$.site') = 'near'",
            (own.roster,),
        )
    near = sorted(number for number, _ in rows)
    teams = Counter(team for _, team in rows)
    assert len(near) > PEOPLE
    app = create_app(context.settings, context)
    told = app.test_client()
    told.post("/api/session", json={"name": "approve", "password": "password-of-approve"})
    roster = told.get("/api/rosters").json["rosters"][0]
    assert (roster["records"], roster["within"]) == (len(near), "Site is near")
    page = told.get("/api/rosters/ownfolk/records?limit=1000").json
    assert sorted(row["values"]["nr"] for row in page["rows"]) == near
    assert page["total"] == len(near)
    exported = told.get("/api/rosters/ownfolk/export?format=json").json
    assert sorted(one["nr"] for one in exported["records"]) == near
    codes = told.get("/api/codes/ownfolkteam").json["codes"]
    assert {one["code"]: one["used"] for one in codes if one["used"]} == teams
    kinds = {one["kind"]: one["people"] for one in told.get("/api/groups").json["kinds"]}
    assert kinds["team"] == len(near)
    desk = told.get("/api/desk").json
    assert [one["records"] for one in desk["rosters"]] == [len(near)]
    assert told.get("/api/submissions").json == {"submissions": [], "may_begin": []}
    database.begin_anew(altered=True)


def test_what_is_about_all_is_refused(wings):
    """Who has a part begins no submission of the whole roster."""
    context, database, own, _ = wings
    app = create_app(context.settings, context)
    who = Asker(context, database, app, "prepare", FORBIDDEN["prepare"])
    examples = {call.route: call for call, _ in Examples(openapi_document(), own).calls()}
    status, text = who.ask(examples["/api/rosters/{name}/submissions"])
    assert status == 403
    assert "you have a part of it" in text
