"""What is learnt from a file: each decision becomes a step of the recipe, and what was of single
rows does not.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongRecipe
from nevefield.core.reading import read_file
from nevefield.core.recipes import Recipe, differences, learn, likeness_to_last, read_recipe
from nevefield.core.steps import decide, read_step
from tests.institutions import school

MADE = school.make()
TODAY = date(2026, 9, 2)
FILE = (
    "Élèves de l’école\n\nCode;Nom de famille;Prénom;Né"
    " le;Niveau;Cantine;Solde\nELA000X;Lefèvre;Zoé;05/06/2019;cours"
    " prep;oui;12,50\nELB001Y;Noël;Théo;13/01/2018;CE1;non;3,00\n"
)


def look(*steps: dict, text: str = FILE):
    return MADE.work_out(*steps, data=text.encode())


def learnt(*steps: dict, before: Recipe | None = None, text: str = FILE) -> list[dict]:
    """The recipe's steps, without what is left out when it is as usual."""
    made = learn(look(*steps, text=text), "eleves", "Mairie", "liste 2026-09.csv", TODAY, before)
    return [step.model_dump(mode="json", exclude_defaults=True) for step in made.steps]


@pytest.mark.parametrize(
    "step",
    [
        {"kind": "pair", "heading": "Solde", "field": "garde"},
        {"kind": "translate", "field": "niveau", "texts": ["cours prep"], "to": "CP"},
        {"kind": "fill", "field": "cantine", "value": "oui"},
        {"kind": "fill", "field": "cantine", "value": "oui", "over": True},
        {"kind": "update", "field": "classe", "rule": "blanks"},
        {"kind": "known_by", "keys": [["code"]]},
        {"kind": "takes", "of": "known"},
        {"kind": "reading", "header_line": 3},
        {"kind": "reading", "no_header": True},
        {"kind": "reading", "separator": ";"},
        {"kind": "reading", "encoding": "utf-8"},
        {"kind": "coverage", "of": "everybody", "remember": True},
    ],
    ids=lambda step: (
        f"{step['kind']} {' '.join(key for key in step if key not in ('kind', 'field'))}"
    ),
)
def test_is_remembered(step):
    """What is said of the source's files is a step of the recipe, and does there what it did
    here.
    """
    found = learnt(step)
    told = {key: value for key, value in step.items() if key != "remember"}
    assert any(told.items() <= one.items() or told == {**told, **one} for one in found), found
    again = decide(
        [
            read_step(
                {
                    "kind": "recipe",
                    "source": "Mairie",
                    "version": 1,
                    "learnt": "2026-09-02",
                    "steps": found,
                }
            )
        ]
    )
    again.reading = replace(again.reading, headings=())  # see `test_a_chosen_header_is_found_again`
    here = decide([read_step(step)])
    for name in ("fills", "fills_over", "translations", "rules", "keys", "takes", "reading"):
        if step["kind"] != "coverage":
            assert getattr(again, name) == getattr(here, name) or name not in _about(step)


def _about(step: dict) -> set[str]:
    return {
        "translate": {"translations"},
        "fill": {"fills", "fills_over"},
        "update": {"rules"},
        "known_by": {"keys"},
        "takes": {"takes"},
        "reading": {"reading"},
    }.get(step["kind"], set())


@pytest.mark.parametrize("notes", [0, 1, 3, 7])
def test_a_chosen_header_is_found_again(notes):
    """Where the next file has more or fewer lines above it, the line with its headings is meant,
    not the line of that number.
    """
    odd = FILE.replace(
        "Code;Nom de famille;Prénom;Né le;Niveau;Cantine;Solde", "k1;k2;k3;k4;k5;k6;k7"
    )
    found = learnt({"kind": "reading", "header_line": 3}, text=odd)
    recipe = {
        "kind": "recipe",
        "source": "Mairie",
        "version": 1,
        "learnt": "2026-09-02",
        "steps": found,
    }
    later = "".join(f"a;b;c;d;e;f;{place}\n" for place in range(notes)) + odd.split("\n\n")[
        1
    ].replace("12,50", "14,00")
    evaluation = look(recipe, text=later)
    assert (evaluation.table.headings[:3], evaluation.reading.header_line) == (
        ("k1", "k2", "k3"),
        notes + 1,
    )
    assert len(evaluation.table) == 2
    told = any("chosen earlier was line 3" in remark for remark in evaluation.reading.remarks)
    assert told == (notes != 2)
    # What is said of this file goes before.
    chosen = look(recipe, {"kind": "reading", "header_line": notes + 2}, text=later)
    assert chosen.reading.header_line == notes + 2


@pytest.mark.parametrize(
    "step",
    [
        {"kind": "set", "cells": [{"line": 4, "field": "nom", "value": "Autre"}]},
        {"kind": "hold", "lines": [4], "reason": "demandé"},
        {"kind": "leave_out", "lines": [5], "reason": "parti"},
        {"kind": "person", "choices": [{"line": 4, "record": None}]},
        {"kind": "update", "field": "classe", "rule": "ours", "lines": [4]},
        {"kind": "waive", "check": "age", "field": "naissance", "lines": [4], "reason": "accord"},
        {"kind": "source", "name": "Mairie"},
        {"kind": "limits", "certain": 90, "nobody": 2},
    ],
    ids=lambda step: step["kind"],
)
def test_is_this_files_alone(step):
    """What is said of single rows, or of this file, teaches nothing."""
    assert learnt(step) == learnt()


def test_a_claim_of_one_file():
    """Said for this file alone, the earlier claim stays; without an earlier one, nothing is
    claimed.
    """
    everybody = {"kind": "coverage", "of": "everybody"}
    assert [step for step in learnt(everybody) if step["kind"] == "coverage"] == []
    before = learn(look({**everybody, "remember": True}), "eleves", "Mairie", "a.csv", TODAY, None)
    listed = {"kind": "coverage", "of": "listed"}
    claims = [step for step in learnt(listed, before=before) if step["kind"] == "coverage"]
    assert [step["of"] for step in claims] == ["everybody"]


def test_what_differs_is_said():
    """Columns that came and went, an unusual number of rows, codes never seen: each in a
    sentence.
    """
    many = FILE + "".join(
        f"ELC{place:03d}Z;Noël;Théo;13/01/2018;CE1;non;3,00\n" for place in range(300)
    )
    before = learn(look(text=many), "eleves", "Mairie", "a.csv", TODAY, None)
    other = (
        "Code;Prénom;Né le;Niveau;Classe;Cantine;Solde\nELA000X;Zoé;25/06/2019;CP;CP-A;oui;12.50\n"
    )
    said = [one.text for one in differences(before.expects, look(text=other))]
    assert said == [
        "The column “Nom de famille” is gone.",
        "The column “Classe” is new.",
        "1 rows, where there were 302 before.",
        "Niveau: never seen from this source: “CP” (1).",
    ]
    assert differences(before.expects, look(text=many)) == []


@pytest.mark.parametrize(
    ("text", "file", "least", "most"),
    [
        (FILE, "liste 2026-10.csv", 1.29, 1.31),  # the same headings, type, and a like name
        (FILE, "autre.csv", 1.09, 1.11),
        (FILE.replace("Solde", "Reste"), "autre.csv", 0.8, 0.95),
        ("a;b\n1;2\n3;4\n", "liste 2026-10.csv", 0.29, 0.31),
    ],
)
def test_likeness(text, file, least, most):
    """The share of headings that both have, what a like name and the same type add."""
    made = learn(look(), "eleves", "Mairie", "liste 2026-09.csv", TODAY, None)
    assert least <= likeness_to_last(made, *read_file(text.encode()), file) <= most


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"roster": "autre"}, "this is a recipe for “autre”, not for “eleves”"),
        (
            {"steps": [{"kind": "known_by", "keys": [["codde"]]}]},
            r"steps.0.keys: there is no field “codde”.*did you mean code",
        ),
        ({"steps": [{"kind": "takes", "of": "some"}]}, r"steps\.0"),
        ({"source": ""}, "source"),
        ({"expects": {"rows": "many"}}, "expects.rows"),
    ],
)
def test_refused_with_the_place(change, said):
    """A recipe that cannot be is refused with where and what would be right."""
    made = learn(look(), "eleves", "Mairie", "a.csv", TODAY, None).model_dump(mode="json")
    with pytest.raises(WrongRecipe, match=said):
        read_recipe({**made, **change}, read_definition(school.DOCUMENT))
