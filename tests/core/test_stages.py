"""The stages of an evaluation do what their list says: what each needs, makes, and keeps."""

from __future__ import annotations

import copy

import pytest

from nevefield.core.defining.reading import read_definition
from nevefield.core.edits.memo import Memo
from nevefield.core.evaluate import Inputs
from nevefield.core.snapshot import Snapshot
from nevefield.core.stages import STAGES, TOTAL, Work, draw_stages
from nevefield.core.steps import read_step
from tests.conftest import ROOT
from tests.core.edits.test_steps import CODES, DOCUMENT, OTHERS, PLACEMENT, ROSTER, TODAY

CHECKS = [
    {"check": "lead", "fields": [], "by": ["dept"], "lead": {"field": "prog", "is": "DECK"}},
    {"check": "order", "fields": ["from", "to"]},
    {"check": "unique-across", "fields": ["mail"], "rosters": {"others": "mail"}},
    {"check": "absent-share", "fields": [], "most": 0.2},
]
FILE = """no,family,given,born,mail,dept,prog,roles,from,to,mate,credits
1,Adair,Ines,2008-03-14,new@q.example,NAV,DECK,MEMBER,2026-09-01,2026-06-30,2,1
,Brandt,Tove,2009-01-02,taken@q.example,MEN,ENGR,REGIST,2026-09-01,soon,99,"12,5"
7,Okafor,Una,2007-06-30,x@,XX,Deck,registrar,,,7,many
7,Okafor,Una,2007-06-30,x@,XX,Deck,registrar,,,7,many
"""
STEPS = [
    {"kind": "set", "cells": [{"line": 2, "field": "given", "value": "Ivo"}]},
    {"kind": "fill", "field": "credits", "value": "1"},
    {"kind": "hold", "lines": [5], "reason": "asked"},
    {
        "kind": "compose",
        "field": "mate",
        "pattern": {"pieces": [{"field": "family", "letters": 3}]},
    },
    {"kind": "update", "field": "mail", "rule": "ours"},
    {"kind": "takes", "of": "known"},
]


class Watched(Work):
    """Work that tells what is taken from it and put there."""

    def __init__(self, inputs: Inputs, memo: Memo) -> None:
        self.taken: set[str] = set()
        self.put: set[str] = set()
        super().__init__(inputs, memo)

    def __getattribute__(self, name: str):
        # What it has put there itself it may look at again.
        if name in Work.__dataclass_fields__ and name not in object.__getattribute__(self, "put"):
            object.__getattribute__(self, "taken").add(name)
        return object.__getattribute__(self, name)

    def __setattr__(self, name: str, value) -> None:
        if name in Work.__dataclass_fields__:
            self.put.add(name)
        object.__setattr__(self, name, value)


def inputs(steps: list[dict]) -> Inputs:
    document = copy.deepcopy(DOCUMENT)
    document["nevefield"] = {"checks": CHECKS, "placement": PLACEMENT, "keys": ["no", "mail"]}
    document["foreignKeys"] = [
        {
            "fields": "mate",
            "reference": {"resource": "", "fields": "no"},
            "nevefield": {"hierarchy": True},
        }
    ]
    definition = read_definition(document)
    return Inputs(
        FILE.encode(),
        [read_step(step) for step in steps],
        definition,
        CODES,
        Snapshot.of_values(definition, [11, 12, 13, 14, 15], ROSTER, 4),
        TODAY,
        coverage="everybody",
        others={"others": OTHERS},
    )


@pytest.fixture(scope="module")
def seen():
    """What each stage took, put, and kept in the memo, of a file without steps and with all."""
    found = {stage.name: (set(), set(), set()) for stage in STAGES}
    for steps in ([], STEPS[:1], STEPS[:4], STEPS[:5], STEPS):
        work = Watched(inputs(steps), Memo())
        known: set = set()
        for stage in STAGES:
            work.taken, work.put = set(), set()
            stage.run(work)
            taken, put = set(work.taken), set(work.put)
            parts = {
                key[0] if isinstance(key, tuple) else key
                for key in work.memo._parts
                if key not in known
            }
            known = set(work.memo._parts)
            for some, more in zip(
                found[stage.name], (taken - {"inputs", "memo"}, put, parts), strict=True
            ):
                some |= more
    return found


@pytest.mark.parametrize("stage", STAGES, ids=lambda stage: stage.name)
def test_a_stage_does_what_is_declared(stage, seen):
    """It takes what it says that it needs and nothing else, and puts there what it says that it
    makes.
    """
    taken, put, parts = seen[stage.name]
    assert (taken, put) == (set(stage.needs), set(stage.makes))
    assert parts <= set(stage.parts)


def test_architecture_shows_them():
    """The table in ARCHITECTURE.md is that of the list."""
    assert draw_stages() in (ROOT / "ARCHITECTURE.md").read_text(), "run scripts/documents.py"


def test_stages_follow_from_each_other():
    """What a stage needs was made before it; all that there is of the work is made."""
    made: set[str] = set()
    for stage in STAGES:
        assert set(stage.needs) <= made, stage.name
        made |= set(stage.makes)
    assert made | {"inputs", "memo"} == set(Work.__dataclass_fields__)
    assert sum(stage.weight for stage in STAGES if stage.doing) == TOTAL
