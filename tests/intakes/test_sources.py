"""What is learnt from a source's file, used for its next one, forgotten, written by hand."""

from __future__ import annotations

import csv
import hashlib
import io
import json

import pytest

from nevefield.core.errors import WrongRecipe
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.intakes.sources import write_recipe
from nevefield.store import intakes as store
from nevefield.store.sources import list_sources
from tests.conftest import APPROVES, LOOKS


@pytest.fixture
def september(made) -> str:
    return (made / "september-joiners.csv").read_text()


def apply(desk, intake: int) -> None:
    opened = open_intake(desk, intake)
    apply_intake(desk, intake, len(opened.steps), opened.roster.version, None)


@pytest.fixture
def learnt(desk, september) -> int:
    """The September file, from Admissions, with decisions of every kind, applied; the intake."""
    intake = receive_file(
        desk, "september-joiners.csv", september.encode(), Claims(source="Admissions")
    )
    for step in (
        {
            "kind": "translate",
            "field": "programme",
            "texts": ["Deck dept", "deck Dept."],
            "to": "DECK",
        },
        {"kind": "pair", "heading": "Interviewed by", "field": None},
        {"kind": "fill", "field": "deposit", "value": "150"},
    ):
        add_step(desk, intake, step, None)
    apply(desk, intake)
    return intake


def next_file(september: str, rows: int = 300, **renamed: str) -> bytes:
    """The next file of Admissions: the first rows with other numbers and addresses, perhaps
    other headings.
    """
    lines = september.splitlines(keepends=True)
    text = "".join([*lines[:5], *lines[5 : 5 + rows]]).replace("@tarnquay", "@next")
    for old, new in renamed.items():
        text = text.replace(old, new)
    return text.encode()


def test_next_file_is_known(desk, september, learnt, truth):
    """The next file finds its source by itself, and every decision about the source holds
    without asking.
    """
    intake = receive_file(desk, "october-joiners.csv", next_file(september))
    opened = open_intake(desk, intake)
    assert opened.intake.source == "Admissions"
    assert [row.step["kind"] for row in opened.steps] == ["source", "recipe"]
    evaluation = opened.evaluation
    assert {pair.heading: pair.reason for pair in evaluation.pairs}["Course"] == "same as last time"
    assert all(pair.certain for pair in evaluation.pairs if pair.field)
    stopped = {cause.hit.field for cause in evaluation.causes if cause.hit.weight == "stop"}
    assert "programme" not in stopped
    assert evaluation.decisions.fills == {"deposit": "150"}


def test_differences_are_said(desk, september, learnt, browser):
    """What differs from the last file is said: columns gone and come, far fewer rows, codes
    never seen.
    """
    data = next_file(september, 60, **{"Lives in": "Boards", "North Quay": "N. Quay"})
    own = browser(APPROVES)
    intake = own.drop(data, "october-joiners.csv").json["intake"]
    said = own.get(f"/api/intakes/{intake}")["unlike"]
    sites = sum(
        row[8] == "N. Quay" for row in csv.reader(io.StringIO(data.decode())) if len(row) > 8
    )
    assert said == [
        "The column “Lives in” is gone.",
        "The column “Boards” is new.",
        "60 rows, where there were 348 before.",
        f"Campus: never seen from this source: “N. Quay” ({sites}).",
    ]


def test_undo_forgets(desk, september, learnt):
    """Undoing the recipe's step reads the file as if nothing had been learnt."""
    intake = receive_file(desk, "october-joiners.csv", next_file(september))
    add_step(desk, intake, {"kind": "undo", "step": 2}, None)
    evaluation = open_intake(desk, intake).evaluation
    assert {pair.heading: pair.reason for pair in evaluation.pairs}[
        "Course"
    ] == "another name of it"
    assert "programme" in {
        cause.hit.field for cause in evaluation.causes if cause.hit.weight == "stop"
    }


def test_named_later_takes_over(desk, september, learnt):
    """A file whose source is named only later takes the recipe over, under what was decided by
    hand before.
    """
    data = next_file(
        september,
        300,
        **{
            "Course": "A",
            "SURNAME": "B",
            "First names": "C",
            "d.o.b.": "D",
            "Site": "E",
            "Room": "F",
        },
    )
    intake = receive_file(desk, "x.csv", data.replace(b"Home Port", b"G").replace(b"Watch,", b"H,"))
    assert open_intake(desk, intake).intake.source == ""
    add_step(desk, intake, {"kind": "fill", "field": "deposit", "value": "75"}, None)
    add_step(desk, intake, {"kind": "source", "name": "Admissions"}, None)
    decisions = open_intake(desk, intake).evaluation.decisions
    assert (decisions.source.name, decisions.fills) == ("Admissions", {"deposit": "75"})
    assert decisions.translations[("programme", "Deck dept")] == "DECK"


def test_recipe_goes_out_and_back(desk, learnt, browser):
    """A recipe is read as JSON, edited, and written as the next version; who may only look may
    not write it.
    """
    own = browser(APPROVES)
    (brief,) = own.get("/api/sources")["sources"]
    assert (brief["name"], brief["version"], brief["rows"]) == ("Admissions", 1, [348])
    recipe = json.loads(own.send("GET", f"/api/sources/{brief['id']}/recipe").data)
    assert {
        "kind": "translate",
        "field": "programme",
        "texts": ["Deck dept", "deck Dept."],
        "to": "DECK",
    } in recipe["steps"]
    recipe["steps"] = [step for step in recipe["steps"] if step["kind"] != "fill"]
    answer = own.send("PUT", f"/api/sources/{brief['id']}/recipe", json={"recipe": recipe})
    assert (answer.status_code, answer.json) == (200, {"version": 2})
    assert not any("filled" in said for said in own.get(f"/api/sources/{brief['id']}")["said"])
    other = browser(LOOKS)
    assert (
        other.send("PUT", f"/api/sources/{brief['id']}/recipe", json={"recipe": recipe}).status_code
        == 403
    )


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"roster": "staff"}, "recipe for “staff”, not for “cadets”"),
        (
            {"steps": [{"kind": "fill", "field": "depsit", "value": "1"}]},
            r"steps.0.field.*did you mean deposit",
        ),
        ({"steps": [{"kind": "hold", "lines": [4], "reason": "x"}]}, r"steps.0"),
        ({"moon": 1}, "moon"),
    ],
)
def test_wrong_recipe_is_refused(desk, learnt, change, said):
    """A recipe that cannot be is refused with the place, and nothing is written."""
    with desk.database.transaction() as connection:
        (source,) = list_sources(connection)
    with pytest.raises(WrongRecipe, match=said):
        write_recipe(desk, source.id, {**source.recipe, **change}, None)
    with desk.database.transaction() as connection:
        assert list_sources(connection)[0].version == 1


def test_learns_nothing_without_a_name(desk, september):
    """A file without a source teaches nothing."""
    apply(desk, receive_file(desk, "september-joiners.csv", september.encode()))
    with desk.database.transaction() as connection:
        assert list_sources(connection) == []


def test_a_reading_that_cannot_be_followed_is_left(desk, september, learnt):
    """A source named later whose recipe reads a line that this file lacks does not close the
    intake.
    """
    with desk.database.transaction() as connection:
        (source,) = list_sources(connection)
    steps = [{"kind": "reading", "header_line": 300}, *source.recipe["steps"]]
    write_recipe(desk, source.id, {**source.recipe, "steps": steps}, None)
    intake = receive_file(desk, "x.csv", b"Cadet number,Watch\nTQ1970008,SKUA\n")
    add_step(desk, intake, {"kind": "source", "name": "Admissions"}, None)
    opened = open_intake(desk, intake)
    assert (opened.evaluation.reading.header_line, opened.evaluation.decisions.source.name) == (
        1,
        "Admissions",
    )


def test_bytes_kept_whole_are_kept_without_secrets_later(desk):
    """The same bytes, taken in once before they were known to hold a secret, are kept without it
    from then on.
    """
    data = b"Cadet number,Watch,PIN\nTQ1970008,SKUA,4711\n"
    digest = hashlib.sha256(data).digest()
    with desk.database.transaction() as connection:
        store.insert_file(connection, digest, data, desk.now())
    receive_file(desk, "x.csv", data)
    with desk.database.transaction() as connection:
        content, held_secrets = store.get_file(connection, digest)
    assert (held_secrets, content == data) == (True, False)
