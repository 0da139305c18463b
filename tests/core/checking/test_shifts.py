"""Rows whose cells slipped a column to the side."""

from __future__ import annotations

from nevefield.core.checking.shifts import shift_of
from nevefield.core.defining.reading import read_definition
from tests.core.world import DOCUMENT, findings, outcomes, work_out

HEAD = "no,mail,dept,prog,born,from,to\n"
RIGHT = "4,una@q.example,NAV,DECK,2001-05-05,2020-01-01,\n5,ada@q.example,MEN,ENGR,2002-06-05,2021-01-01,\n"  # noqa: E501
LOST = "6,NAV,DECK,2003-05-05,2020-01-01,,\n"  # the mail address is gone, all after it moved left
# an empty cell too many: all after it moved right
MORE = "7,,tove2@q.example,MEN,ENGR,2004-05-05,2022-01-01\n"


def evaluate(*rows: str):
    """A crew without names, so that only the shift stops a row."""
    loose = {
        **DOCUMENT,
        "fields": [
            {**one, "constraints": {}} if one["name"] == "name" else one
            for one in DOCUMENT["fields"]
        ],
    }
    return work_out(HEAD + RIGHT + "".join(rows), definition=read_definition(loose))


def test_cells_left_of_their_column():
    """Everything from the lost cell to the next empty one moves right, in the file's order;
    nothing is lost.
    """
    evaluation = evaluate(LOST)
    shifted = [cause for cause in evaluation.causes if cause.hit.check == "shifted"]
    assert [cause.hit.fields for cause in shifted] == [("mail", "dept", "prog", "born", "from")]
    row = evaluation.row_of(4)
    moved = shift_of(evaluation.facts, shifted[0].hit, row)
    assert moved == {
        "mail": "",
        "dept": "NAV",
        "prog": "DECK",
        "born": "2003-05-05",
        "from": "2020-01-01",
    }
    assert outcomes(evaluation) == {2: "new", 3: "new", 4: "stopped"}
    back = work_out(
        HEAD + RIGHT + LOST,
        {
            "kind": "set",
            "cells": [{"line": 4, "field": name, "value": text} for name, text in moved.items()],
        },
        definition=evaluation.definition,
    )
    assert outcomes(back)[4] == "new"


def test_cells_right_of_their_column():
    """After an empty cell too many, everything up to the last wrong cell moves left."""
    evaluation = evaluate(MORE)
    (cause,) = [cause for cause in evaluation.causes if cause.hit.check == "shifted"]
    moved = shift_of(evaluation.facts, cause.hit, evaluation.row_of(4))
    assert (moved["mail"], moved["dept"], moved["prog"]) == ("tove2@q.example", "MEN", "ENGR")


def test_wrong_cells_fold_under_the_shift():
    """What is wrong with the single cells is no work of its own; equal shifts of several rows
    are one cause.
    """
    evaluation = evaluate(LOST, LOST.replace("6,", "8,").replace("2003", "2000"))
    stops = [cause for cause in evaluation.causes if cause.hit.weight == "stop"]
    (shift,) = [cause for cause in stops if not cause.follows]
    assert (shift.hit.check, len(shift.open_rows), shift.frees) == ("shifted", 2, 2)
    assert {cause.follows for cause in stops if cause is not shift} == {(shift.id,)}


def test_no_shift_where_it_would_lose_or_not_fit():
    """A row whose wrong cells fit no better a column on, or have no empty cell to move into,
    keeps its single findings.
    """
    evaluation = evaluate(
        "9,x,y,DECK,2001-05-05,2020-01-01,\n",
        "10,NAV,DECK,2003-05-05,2020-01-01,2021-01-01,2022-01-01\n",
    )
    assert {line for line, _, check in findings(evaluation) if check == "shifted"} == set()
