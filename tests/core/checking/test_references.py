"""References between records: who refers to nobody, and who goes in a circle, held to following
them one by one.
"""

from __future__ import annotations

import csv
import io
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.checking.causes import iter_findings
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step

STAFF = read_definition(
    {
        "name": "staff",
        "primaryKey": "no",
        "fields": ["no", "boss"],
        "foreignKeys": [
            {
                "fields": "boss",
                "reference": {"resource": "", "fields": "no"},
                "nevefield": {"hierarchy": True},
            }
        ],
    }
)
PEOPLE = st.sampled_from([str(number) for number in range(8)])
ROSTERS = st.dictionaries(PEOPLE, st.none() | PEOPLE, max_size=6)
FILES = st.dictionaries(PEOPLE, st.none() | PEOPLE, min_size=1, max_size=7)


def found(file, roster, *steps):
    """Evaluate a file of bosses against a roster of bosses: rows by check, as the numbers of
    their people.
    """
    out = io.StringIO(newline="")
    csv.writer(out).writerows([["no", "boss"], *((own, boss or "") for own, boss in file.items())])
    records = [{"no": own, **({"boss": boss} if boss else {})} for own, boss in roster.items()]
    snapshot = Snapshot.of_values(STAFF, list(range(len(records))), records, 1)
    parsed = [read_step(step) for step in steps]
    evaluation = evaluate(
        Inputs(out.getvalue().encode(), parsed, STAFF, {}, snapshot, date(2026, 9, 1))
    )
    people: dict[str, set[str]] = {"reference": set(), "loop": set()}
    for cause in evaluation.causes:
        for finding in iter_findings(cause, evaluation.facts):
            people.setdefault(finding.check, set()).add(
                evaluation.facts.typed["no"].stored.at(finding.row)
            )
    return people


@given(FILES, ROSTERS)
def test_followed_one_by_one(file, roster):
    """Nobody is at the end of a reference to neither record nor row; whoever comes back to
    themselves goes in a circle.
    """
    people = found(file, roster)
    # an empty cell takes nobody's boss away
    after = roster | {own: boss or roster.get(own) for own, boss in file.items()}
    assert people["reference"] == {own for own, boss in file.items() if boss and boss not in after}

    def comes_back(own):
        at = after[own]
        for _ in range(len(after)):
            if at is None or at == own:
                return at == own
            at = after.get(at)
        return False

    # A circle that runs through the roster's records alone was there before the file.
    assert people["loop"] == {own for own in file if comes_back(own)}


def test_a_number_that_was_edited_away():
    """Whoever refers to a row's number refers to nobody once that number is edited, and to the
    row under its new one.
    """
    file = {"1": None, "2": "1", "3": "7"}
    assert found(file, {})["reference"] == {"3"}
    renumber = {"kind": "set", "cells": [{"line": 2, "field": "no", "value": "7"}]}
    assert found(file, {}, renumber)["reference"] == {"2"}
