"""Checks within a row, between rows and against the roster, on a small crew."""

from __future__ import annotations

import copy

import pytest

from nevefield.core.defining.reading import read_definition
from nevefield.core.snapshot import Snapshot
from tests.core.world import CREW, DOCUMENT, findings, outcomes, work_out


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("no,name\n7,\n", {(2, "name", "required")}),
        ("no,name\n,Kit\n", {(2, "no", "required")}),
        (  # no column for it, and both numbers are nobody's
            "no\n7\n8\n",
            {
                (line, field, check)
                for line in (2, 3)
                for field, check in (("name", "required"), ("no", "unknown-key"))
            },
        ),
        ("no\n1\n", set()),  # known already: the record has a name
        ("no,name,from,to\n7,Kit,2026-09-07,2026-06-30\n", {(2, "to", "order")}),
        ("no,name,from,to\n7,Kit,2026-09-07,2026-09-07\n", set()),
        ("no,name,from,to\n7,Kit,,2026-06-30\n", set()),
        # 18 on the day after
        ("no,name,born,guardian\n7,Kit,2008-09-02,\n", {(2, "guardian", "required-when")}),
        ("no,name,born,guardian\n7,Kit,2008-09-01,\n", set()),  # 18 on the day
        ("no,name,born,guardian\n7,Kit,2009-01-01,Rask\n", set()),
        ("no,name,dept,prog\n7,Kit,NAV,ENGR\n", {(2, "prog", "parent")}),
        ("no,name,dept,prog\n7,Kit,MEN,ENGR\n", set()),
        ("no,prog\n1,ENGR\n", {(2, "prog", "parent")}),  # the record's department counts
        # what follows from it is not said
        ("no,name,dept,prog\n7,Kit,Naav,ENGR\n", {(2, "dept", "code")}),
        ("no,name\n7,Kit\n7,Kim\n", {(2, "no", "duplicate"), (3, "no", "duplicate")}),
        ("no,name\n7,Kit\n7,Kit\n", set()),  # equal: a note, and the later one is left out
        (
            "no,name,mail\n7,Kit,k@q.example\n8,Kim,K@Q.example\n",
            {(2, "mail", "unique"), (3, "mail", "unique")},
        ),
        (
            "no,name,mail\n3,Una,ines@q.example\n",
            {(2, "mail", "keys-disagree"), (2, "mail", "unique-in-roster")},
        ),
        # freed in the same file
        (
            "no,name,mail\n1,Ines,new@q.example\n3,Una,ines@q.example\n",
            {(3, "mail", "keys-disagree")},
        ),
    ],
)
def test_finds(text, found):
    """Each small file has exactly these findings."""
    assert findings(work_out(text)) == found


def test_unique_in_roster():
    """A mail address of somebody else in the roster is a stop that names the holder."""
    definition = read_definition({**DOCUMENT, "nevefield": {"checks": []}})
    snapshot = Snapshot.of_values(
        definition, [11], [{"no": "1", "name": "Ines", "mail": "ines@q.example"}], 1
    )
    evaluation = work_out(
        "no,name,mail\n7,Kit,INES@q.example\n", snapshot=snapshot, definition=definition
    )
    # or it is Ines after all
    assert findings(evaluation) == {(2, "mail", "unique-in-roster"), (2, None, "who")}
    assert "belongs to 1" in evaluation.causes[0].hit.say(0)


def test_equal_rows_go_in_once():
    """Of equal rows of one person the first goes in, and the note tells each of the other."""
    evaluation = work_out("no,name,born\n7,Kit,3.4.1999\n8,Kim,1.1.2000\n7,Kit,1999-04-03\n")
    assert outcomes(evaluation) == {2: "new", 3: "new", 4: "left_out"}
    note = next(cause for cause in evaluation.causes if cause.hit.check == "duplicate")
    assert (note.hit.weight, note.hit.rows.tolist()) == ("note", [0, 2])


def test_held_rows_stand_in_nobodys_way():
    """When one of two rows of a person is held, the other is free to go in."""
    text = "no,name\n7,Kit\n7,Kim\n"
    assert outcomes(work_out(text)) == {2: "stopped", 3: "stopped"}
    assert outcomes(work_out(text, {"kind": "hold", "lines": [3], "reason": "asked"})) == {
        2: "new",
        3: "held",
    }


def test_known_by_either_key():
    """A row without a number is known by its mail; with both, they must agree."""
    evaluation = work_out("name;mail\nInes;INES@q.example\nKit;kit@q.example\n")
    assert evaluation.known.record.tolist() == [0, -1]
    assert findings(evaluation) == {(3, "no", "required"), (3, "mail", "unknown-key")}


def test_wrong_key_matches_nobody():
    """A value that is no value of a key's field does not make anybody known."""
    definition = read_definition(
        {**DOCUMENT, "fields": [{"name": "no", "type": "integer"}, *DOCUMENT["fields"][1:]]}
    )
    snapshot = Snapshot.of_values(definition, [11], [{"no": "one", "name": "Ines"}], 1)
    evaluation = work_out("no,name\none,Ines\n", snapshot=snapshot, definition=definition)
    assert evaluation.known.record.tolist() == [-1]


def test_folds_many_single_texts():
    """A column of thousands of texts that are no codes is one cause, and a code that is likely
    keeps its own.
    """
    rows = "".join(f"{number},Kit {number},zz{number}qq\n" for number in range(100, 300))
    evaluation = work_out("no,name,dept\n" + rows + "999,Kim,Navigatoin\n")
    causes = [cause for cause in evaluation.causes if cause.hit.check == "code"]
    assert [(len(cause.hit.rows), cause.hit.suggestions) for cause in causes] == [
        (200, ()),
        (1, ("NAV",)),
    ]


def test_follows_nothing_when_empty():
    """A file with a header and no rows has no findings and an empty tally."""
    evaluation = work_out("no,name,mail\n")
    assert findings(evaluation, notes=True) == set()
    assert evaluation.tally.read == 0
    assert evaluation.tally.adds_up


def test_checks_are_declared():
    """Every check that the definition can name is read with its fields and weight."""
    assert [(one.check, one.fields, one.weight) for one in CREW.checks] == [
        ("order", ("from", "to"), "stop"),
        ("required-when", ("guardian",), "stop"),
    ]


def test_unknown_key_is_the_one_cause():
    """In a file that cannot bring anybody new, a number that is nobody's is one cause, and what
    is missing follows from it.
    """
    document = copy.deepcopy(DOCUMENT)
    document["fields"][5]["constraints"] = {"required": True}  # born
    definition = read_definition(document)
    snapshot = Snapshot.of_values(
        definition, [11], [{"no": "1", "name": "Ines", "born": "2001-02-03"}], 1
    )
    evaluation = work_out(
        "no,mail\n1,a@q.example\n77,b@q.example\n78,c@q.example\n",
        snapshot=snapshot,
        definition=definition,
    )
    first, *rest = [cause for cause in evaluation.causes if cause.hit.weight == "stop"]
    assert (first.hit.check, first.hit.field, first.open_rows.tolist()) == (
        "unknown-key",
        "no",
        [1, 2],
    )
    assert first.frees == 2
    assert [(cause.hit.check, cause.hit.field, cause.follows) for cause in rest] == [
        ("required", "born", (first.id,)),
        ("required", "name", (first.id,)),
    ]
    assert outcomes(evaluation) == {2: "changed", 3: "stopped", 4: "stopped"}
    assert "77 is nobody’s in Crew" in first.hit.say(1)
    mended = work_out(
        "no,mail\n1,\n77,b@q.example\n",
        {
            "kind": "set",
            "cells": [
                {"line": 3, "field": "no", "value": "1"},
                {"line": 2, "field": "no", "value": ""},
            ],
        },
        snapshot=snapshot,
        definition=definition,
    )
    assert outcomes(mended)[3] == "changed"
    # Where the columns are there, a new person lacks what is empty; in an empty roster everybody is
    # new.
    whole = work_out("no,name,born\n77,,2001-01-01\n", snapshot=snapshot, definition=definition)
    assert findings(whole) == {(2, "name", "required")}
    empty = work_out(
        "no,mail\n77,b@q.example\n", snapshot=Snapshot.empty(definition), definition=definition
    )
    assert {check for _, _, check in findings(empty)} == {"required"}


@pytest.mark.parametrize(
    ("one", "other", "check"),
    [
        ("Adair,Ines,2008-03-14", "Brandt,Kornel,1999-01-02", "number-shared"),
        ("Adair,Ines,2008-03-14", "Adair,Kornel,1999-01-02", "number-shared"),  # brother and sister
        ("Adair,Ines,", "Brandt,Kornel,1999-01-02", "number-shared"),
        ("Adair,Ines,2008-03-14", "Adair,Ines,1999-01-02", "duplicate"),
        ("Adair,Ines,2008-03-14", "Brandt,Ines,2008-03-14", "duplicate"),  # married
        ("Adair,William,2008-03-14", "Adair,Bill,2008-03-15", "duplicate"),
        ("Adair,Ines,2008-03-14", "Adiar,Inse,", "duplicate"),
        ("Желязков,Ясен,2008-03-14", "Щерева,Гергана,1999-01-02", "number-shared"),
        ("Αθανασίου,Ελένη,2008-03-14", "Αθανασιου,Ελενη,2008-04-14", "duplicate"),
        ("王,小明,2008-03-14", "李,丽,1999-01-02", "number-shared"),
    ],
)
def test_two_people_or_one_twice(one, other, check):
    """Rows under one number are two people when names and days of birth plainly differ, in any
    letters; else one person twice.
    """
    fields = [
        {"name": "no", "constraints": {"required": True, "unique": True}},
        {"name": "family", "nevefield": {"means": "family-name"}},
        {"name": "given", "nevefield": {"means": "given-name"}},
        {"name": "born", "type": "date", "nevefield": {"means": "birth-date"}},
    ]
    definition = read_definition({"name": "x", "primaryKey": "no", "fields": fields})
    text = f"no,family,given,born\n7,{one}\n7,{other}\n"
    evaluation = work_out(text, snapshot=Snapshot.empty(definition), definition=definition)
    assert findings(evaluation) == {(2, "no", check), (3, "no", check)}
    held = work_out(
        text,
        {"kind": "hold", "lines": [3], "reason": "asked"},
        snapshot=Snapshot.empty(definition),
        definition=definition,
    )
    assert outcomes(held) == {2: "new", 3: "held"}
