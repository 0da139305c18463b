"""Whom a file is from: only on evidence, said with it, taken back, and nothing learnt from a
guess.
"""

from __future__ import annotations

import io
from datetime import date

import openpyxl
import pytest

from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongStep
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.rosters.requesting import write_request_sheet
from nevefield.store.sources import list_recipes, list_sources
from tests.conftest import PREPARES, Browser
from tests.institutions import federation
from tests.institutions.opened import open_institution
from tests.office import needs_office, open_and_save

# as the roster calls them
OWN = {"karta": "Карта №", "familiya": "Фамилия", "ime": "Име", "elo": "Рейтинг"}
NORTH = {
    "karta": "Карта №",
    "familiya": "Презиме",
    "ime": "Кръщелно",
    "elo": "Точки",
    "zala": "Зала",
}
SOUTH = {"karta": "карта", "familiya": "Фам.", "ime": "Собствено", "elo": "ЕЛО", "sektor": "Сектор"}


@pytest.fixture
def chess(bare):
    open_institution(bare, federation.make())
    return bare


def sheet(headings: dict[str, str], first: int, rows: int = 6, points: str = "2111") -> bytes:
    """What an office sends: members who are in the roster, with more points."""
    people = [federation.person(place) for place in range(first, first + rows)]
    lines = [
        [one.get(name, "2") if name != "elo" else points for name in headings] for one in people
    ]
    return "\n".join(",".join(line) for line in [list(headings.values()), *lines]).encode()


def take(context, data: bytes, name: str, **more) -> int:
    return receive_file(context, name, data, Claims(roster="sastezateli", **more))


def apply(context, intake: int) -> int:
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def learn(context, data: bytes, name: str, source: str, *steps: dict) -> int:
    """An office's first file, with where its columns go said by hand, applied."""
    intake = take(context, data, name, source=source)
    for step in steps:
        add_step(context, intake, step, None)
    apply(context, intake)
    return intake


def pairs_of(headings: dict[str, str]) -> list[dict]:
    return [
        {"kind": "pair", "heading": heading, "field": name if name in OWN else None}
        for name, heading in headings.items()
    ]


def versions(context) -> dict[str, int]:
    """The recipes' versions, by source."""
    with context.database.transaction() as connection:
        return {one.name: len(list_recipes(connection, one.id)) for one in list_sources(connection)}


def told(context, intake: int) -> tuple[str, str]:
    """The source, and how it is known."""
    said = open_intake(context, intake).evaluation.decisions.source
    return (said.name, said.by) if said else ("", "")


def test_the_rosters_own_headings_tell_nobody(chess):
    """A file headed as the roster is could be anybody's: the office that once sent such a one is
    not taken for its sender.
    """
    learn(chess, sheet(OWN, 0), "членове.csv", "Север")
    assert told(chess, take(chess, sheet(OWN, 10), "списък на юг.csv")) == ("", "")
    assert (
        open_intake(
            chess, take(chess, sheet(OWN, 10), "списък на юг.csv")
        ).evaluation.decisions.recipe
        is None
    )


def test_headings_of_one_office_tell(chess):
    """Headings that only one office's files have tell it; the evidence names them."""
    learn(chess, sheet(NORTH, 0), "a.csv", "Север", *pairs_of(NORTH))
    learn(chess, sheet(SOUTH, 6), "b.csv", "Юг", *pairs_of(SOUTH))
    intake = take(chess, sheet(SOUTH, 20), "c.csv")
    assert told(chess, intake) == ("Юг", "guess")
    why = open_intake(chess, intake).evaluation.decisions.source.why
    assert why.startswith(
        "5 of its 5 columns are headed as in the last one, 5 of them as in nobody else’s: “карта”"
    )


def test_two_offices_of_one_system(chess):
    """Of two offices whose files are headed alike, neither is credited by headings; a file's own
    name tells them apart.
    """
    learn(chess, sheet(NORTH, 0), "sever-2025-09.csv", "Север", *pairs_of(NORTH))
    learn(chess, sheet(NORTH, 6), "yug-2025-09.csv", "Юг", *pairs_of(NORTH))
    assert told(chess, take(chess, sheet(NORTH, 12), "export.csv")) == ("", "")
    assert told(chess, take(chess, sheet(NORTH, 12), "yug-2025-10.csv")) == ("Юг", "guess")


def test_nothing_is_learnt_from_a_guess(chess):
    """What is applied of a file whose source was guessed leaves the recipe as it is; once
    confirmed it is learnt from.
    """
    learn(chess, sheet(NORTH, 0), "a.csv", "Север", *pairs_of(NORTH))
    apply(chess, take(chess, sheet(NORTH, 10), "b.csv"))
    assert versions(chess) == {"Север": 1}
    intake = take(chess, sheet(NORTH, 20), "c.csv")
    before = len(open_intake(chess, intake).steps)
    add_step(chess, intake, {"kind": "source", "name": "север"}, None)
    opened = open_intake(chess, intake)
    # what was learnt is not taken over twice
    assert (told(chess, intake), len(opened.steps)) == (("Север", "hand"), before + 1)
    apply(chess, intake)
    assert versions(chess) == {"Север": 2}


def test_way_back(chess):
    """A wrong guess is taken back: what was learnt there counts no more, nothing is learnt, and
    Undo brings it again.
    """
    learn(chess, sheet(NORTH, 0), "a.csv", "Север", *pairs_of(NORTH))
    intake = take(chess, sheet(NORTH, 10), "b.csv")
    assert open_intake(chess, intake).evaluation.decisions.recipe is not None
    number = add_step(chess, intake, {"kind": "source", "name": ""}, None)
    assert open_intake(chess, intake).evaluation.decisions.recipe is None
    add_step(chess, intake, {"kind": "undo", "step": number}, None)
    assert open_intake(chess, intake).evaluation.decisions.recipe is not None
    add_step(chess, intake, {"kind": "source", "name": "Изток"}, None)
    decisions = open_intake(chess, intake).evaluation.decisions
    assert (decisions.source.name, decisions.recipe) == ("Изток", None)
    with pytest.raises(WrongStep, match="Only the product itself"):
        add_step(chess, intake, {"kind": "source", "name": "Юг", "by": "sheet"}, None)


@pytest.mark.parametrize("kind", ["xlsx", "csv"])
def test_request_sheet_is_of_whom_it_was_made_for(chess, kind):
    """Our own sheet, filled in and sent back under any name, is known to be that office's, and
    is no guess.
    """
    learn(chess, sheet(NORTH, 0), "a.csv", "Север", *pairs_of(NORTH))
    data = filled(kind, "Юг: Пловдив, „Тракия“")
    intake = take(chess, data, f"Книга1.{kind}")
    opened = open_intake(chess, intake)
    assert told(chess, intake) == ("Юг: Пловдив, „Тракия“", "sheet")
    assert [pair.field for pair in opened.evaluation.pairs] == ["karta", "elo"]
    assert opened.evaluation.tally.changed == 1
    apply(chess, intake)
    assert versions(chess) == {"Север": 1, "Юг: Пловдив, „Тракия“": 1}


@needs_office
def test_request_sheet_saved_by_a_spreadsheet(chess, tmp_path):
    """What a spreadsheet program makes of the sheet still says whom it was made for."""
    data = open_and_save(filled("xlsx", "Юг"), "xlsx", tmp_path / "office")
    assert told(chess, take(chess, data, "без име.xlsx")) == ("Юг", "sheet")


def filled(kind: str, office: str) -> bytes:
    """A request sheet for the card's number and the points, with one member in it."""
    definition = read_definition(federation.DOCUMENT)
    codes = read_codes(federation.CODES)
    made = write_request_sheet(
        definition, codes, date(2026, 2, 1), chosen=["elo"], made_for=office, kind=kind
    ).content
    if kind == "csv":
        return made + f"{federation.card(3)},2222\r\n".encode()
    book = openpyxl.load_workbook(io.BytesIO(made))
    for column, text in enumerate((federation.card(3), "2222"), 1):
        book["Data"].cell(3, column).value = text
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_claim_of_one_file_is_not_the_next_ones(chess):
    """What a file claims is remembered when that is said, and else holds for that file alone."""
    everybody = {"kind": "coverage", "of": "everybody"}
    learn(chess, sheet(NORTH, 0, 110), "a.csv", "Север", *pairs_of(NORTH))
    learn(chess, sheet(NORTH, 0, 118, "2112"), "b.csv", "Север", everybody)
    assert (
        open_intake(chess, take(chess, sheet(NORTH, 0, 100), "c.csv")).evaluation.decisions.coverage
        == "listed"
    )
    part = {
        "kind": "coverage",
        "of": "part",
        "when": {"field": "oblast", "is": ["ВТ"]},
        "remember": True,
    }
    learn(chess, sheet(NORTH, 0, 117, "2113"), "d.csv", "Север", part)
    again = open_intake(
        chess, take(chess, sheet(NORTH, 0, 100), "e.csv", source="Север")
    ).evaluation.decisions
    assert (again.coverage, again.part) == ("part", {"field": "oblast", "is": ["ВТ"]})
    learn(chess, sheet(NORTH, 0, 116, "2114"), "f.csv", "Север", everybody)
    assert (
        open_intake(
            chess, take(chess, sheet(NORTH, 0), "g.csv", source="Север")
        ).evaluation.decisions.coverage
        == "part"
    )


def test_request_sheet_of_chosen_fields(desk):
    """By the address: the key and what was asked for, whoever may look; an unknown field is
    refused with near ones.
    """
    own = Browser(desk, PREPARES)
    answer = own.send(
        "GET", "/api/rosters/cadets/request-sheet?format=csv&field=watch&field=mail&source=Boatshed"
    )
    lines = answer.data.decode("utf-8-sig").splitlines()
    assert lines[:2] == ["Request sheet made for Boatshed", "Cadet number,Mail,Watch"]
    wrong = own.send("GET", "/api/rosters/cadets/request-sheet?field=wach")
    assert (wrong.status_code, wrong.json["detail"]) == (
        422,
        "There is no field “wach” in Cadets; did you mean watch?",
    )
