"""Fill values and composed ones, literally: which rows, which values, and whose stay as they
are.
"""

from __future__ import annotations

import pytest

from nevefield.core.columns.combining import cut_column, join_columns
from nevefield.core.columns.filling import find_blank
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.core.table import Column
from tests.core.world import TODAY, outcomes

CLUB = read_definition(
    {
        "name": "клуб",
        "primaryKey": "№",
        "missingValues": ["", "-", "няма"],
        "fields": [
            {"name": "№"},
            {"name": "име"},
            {"name": "град"},
            {"name": "карта", "constraints": {"unique": True}},
            {"name": "вноска", "type": "number"},
        ],
        "nevefield": {"likeness": {"off": True}},
    }
)
ROSTER = [
    {"№": "1", "име": "Ася", "град": "Варна"},
    {"№": "2", "име": "Боян"},
    {"№": "3", "име": "Вяра", "вноска": "5"},
]
FILE = "№;име;град\n1;Ася;\n2;Боян;-\n3;Вяра;Русе\n4;Гошо;няма\n"


def look(*steps: dict, text: str = FILE):
    snapshot = Snapshot.of_values(CLUB, [1, 2, 3], ROSTER, 1)
    return evaluate(
        Inputs(text.encode(), [read_step(one) for one in steps], CLUB, {}, snapshot, TODAY)
    )


def values(evaluation, name: str) -> list[str | None]:
    return [evaluation.facts.value(row, name) for row in range(len(evaluation.table))]


def fill(field: str, value: str, over: bool = False) -> dict:
    return {"kind": "fill", "field": field, "value": value, "over": over}


@pytest.mark.parametrize(
    ("steps", "town"),
    [
        ([], ["Варна", None, "Русе", None]),
        # For whom the roster has nothing, and for who is new; the roster's own stays.
        ([fill("град", "София")], ["Варна", "София", "Русе", "София"]),
        ([fill("град", "София", over=True)], ["София", "София", "Русе", "София"]),
        ([fill("град", "София"), fill("град", "")], ["Варна", None, "Русе", None]),
        ([fill("град", "София"), fill("град", "Плевен")], ["Варна", "Плевен", "Русе", "Плевен"]),
        # What somebody types counts before what is filled.
        (
            [
                fill("град", "София"),
                {"kind": "set", "cells": [{"line": 3, "field": "град", "value": "Лом"}]},
            ],
            ["Варна", "Лом", "Русе", "София"],
        ),
    ],
    ids=["nothing said", "filled", "over", "no more", "another", "a cell"],
)
def test_filled_where_there_is_nothing(steps, town):
    """Where the file has nothing, in whatever way it writes that."""
    evaluation = look(*steps)
    assert values(evaluation, "град") == town


def test_a_column_that_is_not_there():
    """A field that the file has no column for is filled for new people, and where the roster has
    nothing.
    """
    evaluation = look(fill("вноска", "7,5"))
    assert values(evaluation, "вноска") == ["7.5", "7.5", "5", "7.5"]
    assert outcomes(evaluation) == {2: "changed", 3: "changed", 4: "changed", 5: "new"}


def test_a_fill_value_is_read_like_any_other():
    """One that is no value of the field's type stops the rows that it would fill."""
    evaluation = look(fill("вноска", "много"))
    assert {line for line, one in outcomes(evaluation).items() if one == "stopped"} >= {5}


@pytest.mark.parametrize(
    ("pieces", "more", "made"),
    [
        ([{"field": "име", "letters": 2}], {}, ["ас", "бо", "вя", "го"]),
        (
            [{"field": "име"}, {"text": "-"}, {"field": "№"}],
            {"plain": False, "case": "upper"},
            ["АСЯ-1", "БОЯН-2", "ВЯРА-3", "ГОШО-4"],
        ),
        (
            [{"heading": "град", "letters": 3}, {"field": "№"}],
            {"unique": False},
            [None, "2", "рус3", "ням4"],
        ),
        ([{"text": "x"}], {}, ["x", "x2", "x3", "x4"]),
    ],
    ids=["letters", "texts", "a column", "made unique"],
)
def test_composed(pieces, more, made):
    """Of letters, texts and columns of the file; what a piece lacks gives no value."""
    pattern = {"pieces": pieces, **more}
    assert values(look({"kind": "compose", "field": "карта", "pattern": pattern}), "карта") == made


def test_what_the_roster_has_is_not_composed():
    """Whoever has a value keeps it, and nobody else is given it."""
    snapshot = Snapshot.of_values(CLUB, [1, 2], [{"№": "1", "карта": "ася"}, {"№": "2"}], 1)
    step = {"kind": "compose", "field": "карта", "pattern": {"pieces": [{"field": "име"}]}}
    evaluation = evaluate(
        Inputs("№;име\n1;Ася\n2;Ася\n".encode(), [read_step(step)], CLUB, {}, snapshot, TODAY)
    )
    assert values(evaluation, "карта") == ["ася", "ася2"]


@pytest.mark.parametrize(
    ("texts", "blank"),
    [
        ([], []),
        (["a", "", None, " ", "-", "няма", " - ", "нямам"], [1, 2, 3, 4, 5, 6]),
        (["x"] * 3, []),
    ],
)
def test_blank(texts, blank):
    """Nothing there, spaces, and what the definition takes for nothing."""
    assert find_blank(Column.of(texts), CLUB.missing).tolist() == blank


@pytest.mark.parametrize(
    ("texts", "at", "count", "parts"),
    [
        (["Адер, Инес"], ",", 2, [["Адер"], ["Инес"]]),
        (["Инес Мая Адер"], " ", 2, [["Инес Мая"], ["Адер"]]),
        (["2/K/3", "1", ""], "/", 2, [["2", "1", ""], ["K/3", "", ""]]),
    ],
)
def test_cut(texts, at, count, parts):
    """At a sign from the left, at spaces from the right; what is too much stays with the last or
    the first.
    """
    column = Column.of(texts)
    assert [
        cut_column(column, at, count, number).rows(range(len(texts))) for number in range(count)
    ] == parts


def test_joined():
    """Texts side by side; what is empty leaves no joint behind."""
    columns = [
        Column.of(["a", "", "c", ""]),
        Column.of(["1", "2", "", ""]),
        Column.of(["x", "", "z", ""]),
    ]
    assert join_columns(columns, "+").rows(range(4)) == ["a+1+x", "2", "c+z", ""]
