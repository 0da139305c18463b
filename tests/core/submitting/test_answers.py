"""Answers as people bring them: many ways to write one, and what is none is refused with what
would be right.
"""

from __future__ import annotations

import json

import pytest

from nevefield.core.errors import WrongAnswer
from nevefield.core.submitting.answers import (
    LARGEST,
    read_answer,
    refuse_outcomes,
    said_of_changes,
    take_in,
)
from nevefield.core.submitting.standing import Line

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
    ids=[
        "commas",
        "semicolons",
        "tabs",
        "spaces and letters",
        "mark and line ends",
        "another order",
        "another column",
    ],
)
def test_read(text):
    """Separators, order, case, spaces, marks: the same answer each time."""
    assert read_answer(text.encode())["results"][:2] == [ONE, TWO] or text.startswith("ref;")
    # a semicolon between rules is one between cells: what is too much is passed over
    if text.startswith("ref;"):
        assert [one["ref"] for one in read_answer(text.encode())["results"]] == ["A1", "B2"]


def test_json_as_it_comes():
    """The authority's own JSON is taken as it is, with what it says to changes."""
    document = {
        "results": [{"ref": "A1", "outcome": "accepted"}],
        "changes": [{"id": "3", "state": "agreed"}],
        "more": 1,
    }
    assert read_answer(json.dumps(document).encode()) == {
        "results": document["results"],
        "changes": document["changes"],
    }


def test_columns_that_lack():
    """Number and rules may be missing; then there are none."""
    assert read_answer(b"REF;OUTCOME\nA1;accepted\n")["results"] == [
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
        (b'{"results": ' + b"[" * 200_000, "what no answer has"),
        (b'{"results": [{"ref": "A1", "number": ' + b"9" * 6_000 + b"}]}", "what no answer has"),
        (b'{"results": [{"ref": "\\ud800", "outcome": "accepted"}]}', "what no answer has"),
        (b'{"results": ["A1"]}', "Result 1 is no object"),
        (b'{"results": [{"ref": ["A1"], "outcome": "accepted"}]}', "has ref of another shape"),
        (
            b'{"results": [{"ref": "A1"}, {"ref": "B2", "rules": 5}]}',
            r"Result 2 \(of B2\) has rules",
        ),
        (b'{"results": [{"ref": "A1", "rules": [["E4"]]}]}', "has rules of another shape"),
        (b'{"results": [{"ref": "A1", "candidates": ["M7"]}]}', "has candidates of another shape"),
        (b'{"results": [{"ref": "A1", "held": "M7"}]}', "has held of another shape"),
        (b'{"results": [], "changes": 5}', "says to changes is a list"),
    ],
    ids=[
        "empty",
        "no row",
        "other columns",
        "no text",
        "cut",
        "other JSON",
        "huge",
        "deep",
        "long number",
        "half a letter",
        "no object",
        "list for a ref",
        "number for rules",
        "lists in rules",
        "text in candidates",
        "text for held",
        "number for changes",
    ],
)
def test_refused(data, said):
    """What is no answer is refused in a sentence, never with a trace."""
    with pytest.raises(WrongAnswer, match=said):
        read_answer(data)


@pytest.mark.parametrize(
    ("outcomes", "said"),
    [
        (["accepted", "warned", "rejected", "to number"], ""),
        (["ok"], "“ok” of R0"),
        (["", "accepted", ""], "“” of R0, R2"),
        (["x", "x", "x", "x", "x", "y"], "“x” of R0, R1, R2 …; “y” of R5"),
    ],
)
def test_outcomes_that_are_none(outcomes, said):
    """Each is named with the references that it stands at."""
    answer = {
        "results": [{"ref": f"R{place}", "outcome": one} for place, one in enumerate(outcomes)]
    }
    if not said:
        refuse_outcomes(answer)
        return
    with pytest.raises(WrongAnswer) as found:
        refuse_outcomes(answer)
    assert (
        str(found.value)
        == f"These outcomes are none: {said}. There are accepted, warned, rejected, to number."
        " Nothing of the file was taken."
    )


def test_many_outcomes_that_are_none():
    """Thousands of them are a sentence still, and none of them a page."""
    results = [{"ref": f"R{place}" * 50, "outcome": f"o{place}" * 200} for place in range(5_000)]
    with pytest.raises(WrongAnswer, match="and 4,995 more") as found:
        refuse_outcomes({"results": results})
    assert len(str(found.value)) < 1_000


@pytest.mark.parametrize("number", ["²", "9" * 30, "-1", "", None, "1; DROP", ["3"]])
def test_changes_of_nobody(number):
    """What is said to a change that has no number of ours is passed over."""
    said = said_of_changes(
        {
            "changes": [
                {"id": number, "state": "agreed"},
                {"id": 7, "state": "refused", "text": "no"},
                "x",
            ]
        }
    )
    assert said == {7: "refused: no"}


SENT = {"A1": {"REF": "A1", "NO": ""}, "B2": {"REF": "B2", "NO": "M5"}}
RECORDS = {"A1": 1, "B2": 2, "OLD": 3}
EARLIER = {3: Line(1, {"REF": "OLD", "NO": "M9"}, "rejected", "M9", ("E4",))}


def said(ref, outcome="accepted", **more):
    return {"ref": ref, "outcome": outcome, **more}


@pytest.mark.parametrize(
    ("results", "had", "kept", "strays", "counts"),
    [
        # what nothing is said of is unanswered
        (
            [said("A1")],
            {},
            [(1, "accepted", ""), (2, "", "M5")],
            [],
            {"accepted": 1, "unanswered": 1},
        ),
        # unless an earlier part spoke of it
        ([said("A1")], {2: "rejected"}, [(1, "accepted", "")], [], {"accepted": 1, "rejected": 1}),
        # a later part may say another thing than the earlier
        (
            [said("A1"), said("B2", number="M6")],
            {2: "rejected"},
            [(1, "accepted", ""), (2, "accepted", "M6")],
            [],
            {"accepted": 2},
        ),
        # twice of one: the first counts; outcomes that are none are no outcome
        (
            [said("A1", "rejected"), said("A1"), said("B2", "perhaps")],
            {},
            [(1, "rejected", ""), (2, "", "M5")],
            [],
            {"rejected": 1, "unanswered": 1},
        ),
        # of an earlier round the authority has changed its mind; of nobody here it is passed over
        (
            [said("OLD"), said("ZZ"), said("A1"), said("B2"), "no object"],
            {},
            [(1, "accepted", ""), (2, "accepted", "M5"), (3, "accepted", "M9")],
            ["ZZ"],
            {"accepted": 3},
        ),
    ],
    ids=["silent", "earlier part", "another mind", "twice", "of others"],
)
def test_taken_in(results, had, kept, strays, counts):
    """What is kept of each record, whom nothing is of, and how many have which outcome."""
    taken = take_in(results, SENT, RECORDS, EARLIER, had, "NO")
    assert sorted(line[:3] for line in taken.lines) == kept
    assert (taken.strays, taken.counts) == (strays, counts)
    assert all(line[3]["REF"] for line in taken.lines)
