"""Every kind of step in words: a log that says what was done, in the roster's own titles."""

from __future__ import annotations

from typing import get_args

import pytest

from nevefield.core.defining.reading import read_definition
from nevefield.core.steps import Step, read_step
from nevefield.web.intakes.step_words import word_step
from tests.institutions import hospital

DEFINITION = read_definition(hospital.DOCUMENT)
WORDS = [
    ({"kind": "reading", "header_line": 3}, "Reading: header line 3"),
    ({"kind": "pair", "heading": "Etat %", "field": "etat"}, "“Etat %” goes to Etat"),
    ({"kind": "pair", "heading": "Etat %", "field": None}, "“Etat %” is left in the file"),
    (
        {
            "kind": "pairs",
            "pairs": [{"heading": "a", "field": "od"}, {"heading": "b", "field": "do"}],
        },
        "2 columns go where they were guessed to",
    ),
    (
        {"kind": "split", "heading": "Kto", "at": " ", "into": ["imie", "nazwisko"]},
        "“Kto” is cut at “ ” into Imię and Nazwisko",
    ),
    ({"kind": "date_order", "field": "od", "order": "mdy"}, "Zatrudniony od: month first"),
    (
        {"kind": "date_order", "field": "od", "order": "dmy", "turned": True},
        "Zatrudniony od: day first, turned back",
    ),
    ({"kind": "decimal_mark", "field": "etat", "mark": ","}, "Etat: a comma before the decimals"),
    ({"kind": "fill", "field": "klinika", "value": "POL"}, "Klinika filled with “POL”"),
    ({"kind": "fill", "field": "klinika", "value": ""}, "Klinika filled no more"),
    ({"kind": "compose", "field": "poczta", "pattern": None}, "E-mail composed no more"),
    (
        {
            "kind": "compose",
            "field": "poczta",
            "pattern": {
                "pieces": [{"field": "imie", "letters": 1}, {"text": "@"}, {"heading": "Dom"}]
            },
        },
        "E-mail composed of Imię 1 + “@” + the column “Dom”",
    ),
    (
        {"kind": "translate", "field": "klinika", "texts": ["chir.", "CH"], "to": "CHIR"},
        "Klinika: “chir.”, “CH” means CHIR",
    ),
    ({"kind": "set", "cells": [{"line": 7, "field": "etat", "value": "1"}]}, "Line 7: Etat is “1”"),
    ({"kind": "set", "cells": [{"line": 7, "field": "etat", "value": ""}]}, "Line 7: Etat emptied"),
    ({"kind": "hold", "lines": [4], "reason": "pytamy"}, "Held: line 4 · “pytamy”"),
    (
        {"kind": "leave_out", "lines": [4, 5], "reason": "nie nasi"},
        "Left out: 2 lines · “nie nasi”",
    ),
    ({"kind": "release", "lines": [4]}, "Taken back in: line 4"),
    (
        {
            "kind": "waive",
            "check": "age",
            "field": "urodzony",
            "lines": [4],
            "reason": "tak",
            "until": "2026-12-01",
        },
        "Approved until 1 Dec 2026: line 4 · “tak”",
    ),
    (
        {"kind": "person", "choices": [{"line": 4, "record": None}]},
        "Line 4 is nobody in the roster",
    ),
    ({"kind": "undecided", "lines": [4]}, "Left to keys and likeness: line 4"),
    (
        {"kind": "limits", "certain": 90, "nobody": 2.5},
        "Likeness settles from 90 on, and nobody up to 2.5",
    ),
    ({"kind": "update", "field": "etat", "rule": "blanks"}, "Etat: only where the roster has none"),
    (
        {"kind": "update", "field": "etat", "rule": "ours", "lines": [3]},
        "Etat: the roster's stays in line 3",
    ),
    ({"kind": "coverage", "of": "everybody"}, "The file claims everybody"),
    ({"kind": "coverage", "of": "groups"}, "The file claims all the people of the groups in it"),
    (
        {"kind": "coverage", "of": "part", "when": {"field": "klinika", "is": "POL"}},
        "The file claims everybody where Klinika is POL",
    ),
    (
        {"kind": "known_by", "keys": [["numer"], ["nazwisko", "imie"]]},
        "People are known by Numer pracownika, then Nazwisko and Imię",
    ),
    ({"kind": "known_by", "keys": []}, "People are known by likeness alone"),
    ({"kind": "known_by", "keys": None}, "People are known as the roster has it"),
    ({"kind": "takes", "of": "new"}, "The file only adds people"),
    ({"kind": "takes", "of": "both"}, "The file adds and changes people"),
    (
        {"kind": "absent", "act": "end", "field": "do", "day": "2026-08-31"},
        "The absent: Zatrudniony do is 2026-08-31",
    ),
    ({"kind": "absent", "act": "leave", "records": [3, 4]}, "2 of the absent: leave the roster"),
    (
        {"kind": "end", "field": "do", "ends": [{"record": 3, "day": "2026-08-31"}]},
        "1 other record ends, because another takes the place",
    ),
    ({"kind": "source", "name": "Kadry"}, "The file comes from Kadry"),
    (
        {"kind": "source", "name": "Kadry", "by": "guess", "why": "…"},
        "The file seems to come from Kadry",
    ),
    ({"kind": "source", "name": ""}, "The file comes from no source that is known"),
    (
        {"kind": "recipe", "source": "Kadry", "version": 2, "learnt": "2026-07-01", "steps": []},
        "What was learnt from Kadry until 2026-07-01",
    ),
    ({"kind": "applied", "change_set": 9}, "Applied, receipt 9"),
    ({"kind": "taken_back", "change_set": 9}, "Taken back, receipt 9"),
]


@pytest.mark.parametrize(
    ("step", "words"),
    WORDS,
    ids=[f"{step['kind']}-{place}" for place, (step, _) in enumerate(WORDS)],
)
def test_words(step, words):
    """A step is worded as a person would say it."""
    assert word_step(read_step(step), DEFINITION) == words


def test_every_kind_is_worded():
    """No kind of step is without words; an undo is told by what it undoes."""
    kinds = {kind.model_fields["kind"].annotation.__args__[0] for kind in get_args(Step)}
    assert kinds - {step["kind"] for step, _ in WORDS} == {"undo"}


def test_a_field_that_is_gone():
    """A field that the definition has no more is named as it was."""
    assert (
        word_step(read_step({"kind": "fill", "field": "pesel", "value": "1"}), DEFINITION)
        == "pesel filled with “1”"
    )
