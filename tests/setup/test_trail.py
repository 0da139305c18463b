"""The trail: every act has its words, each line its seal, and what was tampered with is found."""

from __future__ import annotations

import ast
import csv
import io
from datetime import datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nevefield.core.trailing import BEGIN, Line, Seal, check_chain, digest_of
from nevefield.setup.acts import ACTS, BEGINNINGS, GROUPS
from nevefield.setup.trailing import Query, check_trail, list_trail, seal_trail
from tests.conftest import ADMINISTERS, APPROVES, PASSWORDS, ROOT, Browser


def acts_in_code() -> set[str]:
    """The acts that calls of `insert_audit` and `note_given` name as they stand."""
    found = set()
    for path in (ROOT / "src" / "nevefield").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            name = getattr(getattr(node, "func", None), "id", "")
            if name in ("insert_audit", "note_given") and isinstance(node.args[1], ast.Constant):
                found.add(node.args[1].value)
    return found


def test_every_act_has_words():
    """What the product notes has a kind and words."""
    assert acts_in_code() <= set(ACTS)
    assert {one.group for one in (*ACTS.values(), *BEGINNINGS.values())} <= set(GROUPS)


def chain(count: int) -> tuple[list[Seal], dict[int, Line]]:
    seals, lines, before = [], {}, BEGIN
    for number in range(1, count + 1):
        at = datetime(2026, 9, 1) + timedelta(minutes=number)
        lines[number * 3] = Line(number * 3, at, 1, "exported", f"cadets {number}", "{}", "::1")
        sealed = at + timedelta(seconds=20)
        before = digest_of(before, lines[number * 3], sealed)
        seals.append(Seal(number, number * 3, sealed, before))
    return seals, lines


def named(seals: list[Seal], lines: dict[int, Line]) -> list[tuple[str, int]]:
    return [(one.kind, one.audit_id) for one in check_chain(seals, lines)]


@given(st.integers(2, 30), st.data())
@settings(max_examples=200, deadline=None)
def test_tampering_is_found_and_named(count, data):
    """Whichever line is altered, removed, put in another's place, or taken out with its seal: the
    check names it or the one after it, and nothing else; an untouched chain is whole.
    """
    seals, lines = chain(count)
    assert check_chain(seals, lines) == []
    place = data.draw(st.integers(0, count - 1))
    line = lines[seals[place].audit_id]
    part, value = data.draw(
        st.sampled_from(
            [
                ("subject", "staff"),
                ("account_id", None),
                ("at", line.at + timedelta(microseconds=1)),
                ("address", ""),
                ("detail", '{"records": 1}'),
                ("act", "signed-in"),
            ]
        )
    )
    altered = lines | {line.id: Line(**{**line.__dict__, part: value})}
    assert [(one.kind, one.audit_id) for one in check_chain(seals, altered)] == [
        ("altered", line.id)
    ]
    gone = {number: one for number, one in lines.items() if number != line.id}
    assert named(seals, gone) == [("removed", line.id)]
    cut = [one for one in seals if one.audit_id != line.id]
    if place < count - 1:  # the last one taken off is found by who noted the head
        told = check_chain(cut, gone)
        assert [one.kind for one in told] == ["cut"]
        assert told[0].audit_id == seals[place + 1].audit_id
    other = data.draw(st.integers(0, count - 1))
    if other != place:
        twin = lines[seals[other].audit_id]
        swapped = lines | {
            line.id: Line(**{**twin.__dict__, "id": line.id}),
            twin.id: Line(**{**line.__dict__, "id": twin.id}),
        }
        assert {one.audit_id for one in check_chain(seals, swapped)} == {line.id, twin.id}


@pytest.mark.parametrize(
    ("statement", "kind"),
    [
        ("UPDATE audit SET subject = 'nobody' WHERE id = {id}", "altered"),
        ("UPDATE audit SET account_id = NULL WHERE id = {id}", "altered"),
        ("DELETE FROM audit WHERE id = {id}", "removed"),
        (
            "INSERT INTO audit (at, account_id, act, subject, detail)"
            " VALUES ('2020-01-01', 1, 'exported', 'cadets', '{{}}')",
            "added",
        ),
    ],
)
def test_tampering_in_the_database(desk, statement, kind):
    """What somebody does to the trail in the database is found, and named by its line."""
    Browser(desk, APPROVES)
    Browser(desk, ADMINISTERS)
    seal_trail(desk)
    assert check_trail(desk).broken == []
    with desk.database.transaction() as connection:
        (line,) = connection.row("SELECT MAX(id) FROM audit WHERE act = 'signed-in'")
        connection.run(statement.format(id=line))
        if kind == "added":
            (line,) = connection.row("SELECT MAX(id) FROM audit")
    assert [(one.kind, one.audit_id) for one in check_trail(desk).broken] == [(kind, line)]


def test_looking_through_it(desk):
    """It is filtered by kind, person, day and text; says who, what and from where; a look at it by
    others is refused.
    """
    Browser(desk).send("POST", "/api/session", json={"name": APPROVES, "password": "wrong one"})
    Browser(desk, APPROVES).get("/api/rosters/staff/export", format="csv")
    admin = Browser(desk, ADMINISTERS)
    taken = admin.get("/api/trail", group="taken")
    assert [(one["words"], one["subject"], one["address"]) for one in taken["lines"]] == [
        ("took a roster out as a file", "staff", "127.0.0.1")
    ]
    doors = [one["words"] for one in admin.get("/api/trail", group="doors")["lines"]]
    assert doors[:3] == ["signed in", "signed in", "a sign-in did not fit"]
    assert admin.get("/api/trail", group="rosters")["total"] > 0
    who = taken["lines"][0]["who"]
    people = admin.get("/api/accounts")["people"]
    number = next(one["id"] for one in people if one["name"] == who)
    assert {one["who"] for one in admin.get("/api/trail", account=number)["lines"]} == {who}
    assert admin.get("/api/trail", q="100%")["total"] == 0
    today = desk.today().isoformat()
    assert admin.get("/api/trail", first=today)["total"] >= 4
    assert admin.get("/api/trail", last="2020-01-01")["total"] == 0
    assert PASSWORDS[APPROVES] not in str(admin.get("/api/trail", limit=500))
    for method, path in (
        ("GET", "/api/trail"),
        ("GET", "/api/trail/file"),
        ("POST", "/api/trail/check"),
    ):
        assert Browser(desk, APPROVES).send(method, path).status_code == 403


def test_taken_out_as_a_file(desk):
    """The file has all lines, and opens safely in a spreadsheet; taking it is in the trail."""
    Browser(desk).send("POST", "/api/session", json={"name": "=1+1", "password": "x"})
    admin = Browser(desk, ADMINISTERS)
    rows = list(
        csv.DictReader(io.StringIO(admin.send("GET", "/api/trail/file").text.lstrip("\ufeff")))
    )
    assert len(rows) == admin.get("/api/trail")["total"] - 1
    assert "'=1+1" in [row["about"] for row in rows]
    assert list_trail(desk, Query(group="taken"), 0, 10).entries[0].line.act == "trail-taken"
