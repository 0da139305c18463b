"""Answers as people bring them: many ways to write one, and what is none is refused with what would be right."""

from __future__ import annotations

import json

import pytest

from nevefield.submissions.answering import LARGEST, _read_answer, _refuse_outcomes
from nevefield.submissions.errors import WrongAnswer

ONE = {"ref": "A1", "outcome": "rejected", "number": "", "rules": ["E4", "Y1"]}
TWO = {"ref": "B2", "outcome": "to number", "number": "M77", "rules": []}


@pytest.mark.parametrize(
    "text",
    [
        "REF,OUTCOME,NUMBER,RULES\nA1,rejected,,E4 Y1\nB2,to number,M77,\n",
        "REF;OUTCOME;NUMBER;RULES\nA1;rejected;;E4,Y1\nB2;to number;M77;\n",
        "REF\tOUTCOME\tNUMBER\tRULES\nA1\trejected\t\tE4;Y1\nB2\tto number\tM77\t\n",
        "ref;Outcome;number;rules\n A1 ; REJECTED ;; E4; Y1\nB2;To Number; M77 ;\n",
        "\ufeffREF;OUTCOME;NUMBER;RULES\r\nA1;rejected;;E4 Y1\r\nB2;to number;M77;\r\n",
        'RULES,NUMBER,OUTCOME,REF\n"E4, Y1",,rejected,A1\n,M77,to number,B2\n',
        "REF;Remark;OUTCOME;NUMBER;RULES\nA1;x;rejected;;E4 Y1\nB2;y;to number;M77;\n",
    ],
    ids=["commas", "semicolons", "tabs", "spaces and letters", "mark and line ends", "another order", "another column"],
)
def test_read(text):
    """Separators, order, case, spaces, marks: the same answer each time."""
    assert _read_answer(text.encode())["results"][:2] == [ONE, TWO] or text.startswith("ref;")
    if text.startswith("ref;"):  # a semicolon between rules is one between cells: what is too much is passed over
        assert [one["ref"] for one in _read_answer(text.encode())["results"]] == ["A1", "B2"]


def test_json_as_it_comes():
    """The authority's own JSON is taken as it is, with what it says to changes."""
    document = {"results": [{"ref": "A1", "outcome": "accepted"}], "changes": [{"id": "3", "state": "agreed"}], "more": 1}
    assert _read_answer(json.dumps(document).encode()) == {"results": document["results"], "changes": document["changes"]}


def test_columns_that_lack():
    """Number and rules may be missing; then there are none."""
    assert _read_answer(b"REF;OUTCOME\nA1;accepted\n")["results"] == [
        {"ref": "A1", "outcome": "accepted", "number": "", "rules": []}
    ]


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "this one has none"),
        (b"REF,OUTCOME\n", "has the columns REF, OUTCOME"),
        (b"Number;Result\n1;ok\n", "this one has Number, Result"),
        (b"\xff\xfe\x00R", "in UTF-8"),
        (b'{"results": [', "breaks off or is damaged at line 1"),
        (b'{"answers": []}', "An answer has results"),
        (b"a" * (LARGEST + 1), "at most 60 MB"),
    ],
    ids=["empty", "no row", "other columns", "no text", "cut", "other JSON", "huge"],
)
def test_refused(data, said):
    """What is no answer is refused in a sentence, never with a trace."""
    with pytest.raises(WrongAnswer, match=said):
        _read_answer(data)


@pytest.mark.parametrize(
    ("outcomes", "said"),
    [
        (["accepted", "warned", "rejected", "to number"], ""),
        (["ok"], "'ok' of R0"),
        (["", "accepted", ""], "'' of R0, R2"),
        (["x", "x", "x", "x", "x", "y"], "'x' of R0, R1, R2 …; 'y' of R5"),
    ],
)
def test_outcomes_that_are_none(outcomes, said):
    """Each is named with the references that it stands at."""
    answer = {"results": [{"ref": f"R{place}", "outcome": one} for place, one in enumerate(outcomes)]}
    if not said:
        _refuse_outcomes(answer)
        return
    with pytest.raises(WrongAnswer) as found:
        _refuse_outcomes(answer)
    assert str(found.value) == (
        f"These outcomes are none: {said}. There are accepted, warned, rejected, to number. Nothing of the file was taken."
    )
