"""What was applied is history: it stays as it was, is found again, and what was dropped by
mistake can be thrown away.
"""

from __future__ import annotations

import pytest

from nevefield.core.changes.plan import plan_changes
from nevefield.core.errors import WrongStep
from nevefield.intakes.applying import apply_intake, request_apply, take_back
from nevefield.intakes.errors import NotThrown
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step
from nevefield.intakes.throwing import throw_away
from nevefield.proposals.editing import Edit, edit_record
from nevefield.store import intakes as store
from nevefield.store import records as record_store
from tests.conftest import PREPARES, Browser
from tests.core.world import outcomes
from tests.crew import apply_text, contents, drop, numbers, open_crew

TEXT = "no,name,dept\n1,Inés,NAV\n2,Tove,MEN\n7,Kit,NAV\n8,,NAV\n9,Kim,Naav\n"
THEN = {2: "changed", 3: "same", 4: "new", 5: "stopped", 6: "stopped"}


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


def apply(context, intake: int) -> int:
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def test_stays_as_it_was(crew):
    """Whatever becomes of the roster later, the intake shows what it did, and offers nothing of
    it anew.
    """
    intake = drop(crew, TEXT)
    apply(crew, intake)
    edit_record(crew, Edit(numbers(crew)["7"], {"name": "Somebody else"}), None)
    apply_text(crew, "no,name\n1,Ines Marie\n12,New\n")
    opened = open_intake(crew, intake)
    assert outcomes(opened.evaluation) == THEN
    assert len(plan_changes(opened.evaluation)) == 0
    assert opened.evaluation.ready.to_json() == {
        **dict.fromkeys(opened.evaluation.ready.to_json(), 0),
        "read": 2,
        "stopped": 2,
    }


def test_absent_later_are_not_absent_then(crew):
    """Of a file that claimed everybody, whoever joins afterwards by another is not missing in
    it.
    """
    intake = drop(crew, "no,name\n1,Ines\n2,Tove\n7,Kit\n", coverage="everybody")
    apply(crew, intake)
    apply_text(crew, "no,name\n12,New\n13,Newer\n")
    opened = open_intake(crew, intake)
    assert opened.evaluation.tally.absent == 1
    assert [
        opened.evaluation.snapshot.values(int(one))["no"] for one in opened.evaluation.absent
    ] == ["3"]


def test_what_stayed_open_goes_in_later(crew):
    """A row that was stopped is settled and applied alone; both receipts say what they did, and
    add up.
    """
    intake = drop(crew, TEXT)
    apply(crew, intake)
    add_step(
        crew, intake, {"kind": "translate", "field": "dept", "texts": ["Naav"], "to": "NAV"}, None
    )
    opened = open_intake(crew, intake)
    assert plan_changes(opened.evaluation).lines.tolist() == [6]
    second = apply(crew, intake)
    assert outcomes(open_intake(crew, intake).evaluation) == {**THEN, 6: "new"}
    with crew.database.transaction() as connection:
        receipt = record_store.get_change_set(connection, second).receipt
    assert (receipt["tally"]["new"], receipt["tally"]["same"], receipt["tally"]["stopped"]) == (
        1,
        3,
        1,
    )
    assert receipt["rows"]["new"] == receipt["found"]["joined"] == 1
    take_back(crew, second, None)
    assert outcomes(open_intake(crew, intake).evaluation) == {**THEN, 6: "new"}
    assert plan_changes(open_intake(crew, intake).evaluation).lines.tolist() == [6]
    assert "9" not in contents(crew)


def test_undo_ends_at_the_receipt(crew):
    """What was decided before a receipt is not undone behind it, nor is a line altered that went
    in; taken back, it can be.
    """
    intake = drop(crew, TEXT)
    add_step(crew, intake, {"kind": "hold", "lines": [6], "reason": "asked"}, None)
    number = apply(crew, intake)
    with pytest.raises(WrongStep, match=f"before receipt {number}"):
        add_step(crew, intake, {"kind": "undo", "step": 1}, None)
    with pytest.raises(WrongStep, match=f"Line 4 is in the roster since receipt {number}"):
        add_step(
            crew,
            intake,
            {"kind": "set", "cells": [{"line": 4, "field": "name", "value": "X"}]},
            None,
        )
    with pytest.raises(WrongStep, match="take that back first"):
        add_step(crew, intake, {"kind": "reading", "no_header": True}, None)
    add_step(crew, intake, {"kind": "release", "lines": [6]}, None)  # what stayed open is free
    take_back(crew, number, None)
    add_step(crew, intake, {"kind": "undo", "step": 1}, None)
    assert outcomes(open_intake(crew, intake).evaluation) == THEN


def test_thrown_away_and_taken_back(crew):
    """A wrong file goes from the lists and the desk, is not worked on, can be taken back, and
    the trail has both.
    """
    wrong, right = drop(crew, "no,name\n7,Wrong\n"), drop(crew, TEXT)
    apply(crew, right)
    with pytest.raises(NotThrown, match="take that back first"):
        throw_away(crew, right, None)
    throw_away(crew, wrong, None)
    with pytest.raises(NotThrown):
        add_step(crew, wrong, {"kind": "hold", "lines": [2], "reason": "asked"}, None)
    opened = open_intake(crew, wrong)
    with pytest.raises(NotThrown):
        request_apply(crew, wrong, len(opened.steps), opened.roster.version, None)
    with crew.database.transaction() as connection:
        assert [one.id for one in store.list_intakes(connection, [1])] == [right]
        assert [one.id for one in store.list_intakes(connection, [1], thrown=True)] == [wrong]
        assert (store.count_intakes(connection, [1]), store.count_intakes(connection, [])) == (1, 0)
    throw_away(crew, wrong, None, back=True)
    with crew.database.transaction() as connection:
        assert [one.id for one in store.list_intakes(connection, [1])] == [right, wrong]
        acts = [
            act
            for (act,) in connection.rows(
                "SELECT act FROM audit WHERE act LIKE %s ORDER BY id", ("intake-t%",)
            )
        ]
    assert acts == ["intake-thrown-away", "intake-taken-back"]


def test_listed_in_pages(crew):
    """Every intake is reached, page by page, and only those of rosters that one may see."""
    made = [drop(crew, f"no,name\n7,Kit{number}\n") for number in range(5)][::-1]
    with crew.database.transaction() as connection:
        pages = [
            [one.id for one in store.list_intakes(connection, [1], start=start, limit=2)]
            for start in (0, 2, 4)
        ]
        assert [one for page in pages for one in page] == made
        assert store.list_intakes(connection, [2]) == []


def test_found_by_line_and_name(browser):
    """ "line 4 mentoring" finds line 4 of the file of that name, and of no other."""
    own: Browser = browser(PREPARES)
    for name in ("mentoring-credits.csv", "others.csv"):
        assert (
            own.drop(
                b"cadet_number,family_name\nTQ2044105,Adair\n", name, roster="cadets"
            ).status_code
            == 201
        )
    for text in (
        "line 4 mentoring",
        "mentoring line 4",
        "Mentoring 4",
        "line 4 of mentoring credits",
    ):
        hits = [one for one in own.get("/api/search", q=text)["places"] if one["kind"] == "line"]
        assert [(one["title"], one["detail"]) for one in hits] == [
            ("Line 4", "Mentoring credits")
        ], text
    assert (
        len([one for one in own.get("/api/search", q="line 4")["places"] if one["kind"] == "line"])
        == 2
    )
