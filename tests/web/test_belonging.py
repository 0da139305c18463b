"""Nobody sees across rosters: every route with the numbers and names of another roster, in every
place, as every kind of account.

What may not be seen and what does not exist must answer alike, and no word of the other house may
stand in any answer.
"""

from __future__ import annotations

import itertools
import json
import os
import re
from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from typing import Any

import pytest

from nevefield.context import Context
from nevefield.web import create_app
from nevefield.web.app import openapi_document
from tests.web.asking import Asker, Call, Examples, Rehearsed, open_rehearsed
from tests.web.houses import NONE, THEIRS, House, open_houses

LONG = os.environ.get("NEVEFIELD_EXAMPLES") == "long"
ACCOUNTS = ("nobody", "look", "prepare", "approve", "administer", "both")
# In the long run every account in both worlds; else those that tell the most.
RUNS = [(world, name) for world in ("easy", "hard") for name in ACCOUNTS]
RUNS = (
    RUNS
    if LONG
    else [("easy", "nobody"), ("easy", "administer"), ("hard", "look"), ("hard", "both")]
)
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


@pytest.fixture(scope="module")
def houses(server, request) -> Iterator[tuple[Context, Rehearsed, House, House]]:
    yield from open_rehearsed(server, partial(open_houses, hard=request.param == "hard"))


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
    for call, places in Examples(openapi_document(), own).calls():
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
                elif (
                    name != "both"
                    and first[0] >= 400
                    and _bare(first[1], theirs) != _bare(second[1], nothing)
                ):
                    said.append(f"{where}: {first[1][:200]} / {second[1][:200]}")
                said += [
                    f"{where}: {one[0]} {one[1][:200]}" for one in (first, second) if one[0] >= 500
                ]
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
    """A code list that both houses use counts the records of the house that may be seen, and
    names no other.
    """
    context, database, own, other = houses
    with database.transaction() as connection:
        document = {**other.document, "fields": [
            {**one, "nevefield": {**one["nevefield"], "codeList": "ownfolkteam"}} if one["name"] == "team" else one  # noqa: E501
            for one in other.document["fields"]
        ]}  # fmt: skip
        connection.run(
            "UPDATE definition SET document = %s WHERE roster_id = %s AND number = 1",
            (json.dumps(document), other.roster),
        )
        connection.run(
            "UPDATE record_version SET content = JSON_SET(content, '$.team', 'ot1') WHERE roster_id"
            " = %s",
            (other.roster,),
        )
        mine = connection.rows(
            "SELECT JSON_VALUE(content, '$.team'), COUNT(*) FROM record_version"
            " WHERE roster_id = %s AND valid_to IS NULL GROUP BY 1",
            (own.roster,),
        )
        (theirs,) = connection.row(
            "SELECT COUNT(*) FROM record_version WHERE roster_id = %s AND valid_to IS NULL",
            (other.roster,),
        )
    database.nodes.name = ("counts", "")  # what was worked out before is of another time
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
