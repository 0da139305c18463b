"""What is sensitive is kept from who may only look: in every column, value, finding and remedy."""

from __future__ import annotations

import copy

import pytest

from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.masking import (
    COVER,
    cover_evaluation,
    cover_snapshot,
    cover_values,
    sensitive_fields,
)
from nevefield.core.snapshot import Snapshot
from tests.institutions import hospital

SECRET = ["urodzony", "poczta", "etat"]


def document(names=SECRET) -> dict:
    made = copy.deepcopy(hospital.DOCUMENT)
    for field in made["fields"]:
        if field["name"] in names:
            field.setdefault("nevefield", {})["sensitive"] = True
    made["nevefield"]["checks"] = [
        {"check": "age", "fields": ["urodzony"], "on": "today", "most": 60, "weight": "ask"},
        {"check": "stand-in", "fields": ["poczta"]},
    ]
    return made


@pytest.fixture(scope="module")
def ward():
    """Some people, of whom a file says things that are wrong and that are secret."""
    definition = read_definition(document())
    roster = [
        {name: value for name, value in hospital.person(place).items() if value}
        for place in range(6)
    ]
    snapshot = Snapshot.of_values(definition, list(range(10, 16)), roster, 2)
    rows = [
        {**hospital.person(0), "urodzony": "1958-03-05"},
        {**hospital.person(1), "poczta": "none3@dom.example"},
        {**hospital.person(2), "etat": "2,5"},
        {**hospital.person(7), "poczta": "p1@szpital.example"},
        {**hospital.person(8), "urodzony": "31.02.1999"},
    ]
    names = list(hospital.person(0))
    data = "\n".join(
        ";".join(row) for row in [names, *([row[name] for name in names] for row in rows)]
    ).encode()
    made = hospital.make()
    return evaluate(Inputs(data, [], definition, read_codes(made.codes), snapshot, made.today))


def everything(evaluation) -> str:
    """All texts that could be shown of an evaluation."""
    told = []
    for cause in evaluation.causes:
        told += [
            cause.hit.title,
            str(cause.value),
            str(cause.hit.texts),
            str(cause.hit.suggestions),
        ]
        told += [f"{one.message} {one.value}" for one in iter_findings(cause, evaluation.facts)]
        told += [f"{one.label} {one.value}" for one in cause.remedies]
    rows = range(len(evaluation.table))
    told += [str(evaluation.table.row(row)) for row in rows]
    told += [
        str(evaluation.facts.value(row, name)) for row in rows for name in evaluation.facts.typed
    ]
    told += [str(evaluation.snapshot.values(place)) for place in range(len(evaluation.snapshot))]
    return " ".join(told)


def test_it_is_there_to_be_covered(ward):
    """Uncovered, the secrets are in what is shown: else the next test would prove nothing."""
    shown = everything(ward)
    assert all(
        one in shown for one in ("none3@dom.example", "31.02.1999", "2,5", "p1@szpital.example")
    )


def test_nothing_of_it_is_shown(ward):
    """Covered, no secret of file or roster is anywhere; what is no secret still is, and the
    tally is the same.
    """
    covered = cover_evaluation(ward)
    shown = everything(covered)
    people = [hospital.person(place) for place in range(9)]
    secrets = {person[name] for person in people for name in ("urodzony", "poczta")} | {
        "none3@dom.example",
        "31.02.1999",
        "2,5",
    }
    assert {one for one in secrets if one in shown} == set()
    assert all(person["nazwisko"] in shown for person in people[:3])
    assert covered.tally == ward.tally
    assert [cause.id for cause in covered.causes] == [cause.id for cause in ward.causes]


def test_what_is_empty_stays_empty():
    """Whether somebody has a value may be seen, what it is may not."""
    definition = read_definition(document())
    assert sensitive_fields(definition) == set(SECRET)
    values = {"numer": "KB1", "urodzony": "1958-03-05", "poczta": None, "etat": ""}
    assert cover_values(definition, values) == {
        "numer": "KB1",
        "urodzony": COVER,
        "poczta": None,
        "etat": "",
    }


def test_a_roster_tells_nothing_by_order_or_number_of_values():
    """Of a covered column all that is filled is alike: neither sorting nor counting tells
    anything.
    """
    definition = read_definition(document())
    roster = [
        {"numer": f"KB{place}", "poczta": f"a{place % 2}@b.example"} if place else {"numer": "KB0"}
        for place in range(5)
    ]
    covered = cover_snapshot(Snapshot.of_values(definition, list(range(5)), roster, 1))
    assert [covered.columns["poczta"].at(place) for place in range(5)] == [
        None,
        COVER,
        COVER,
        COVER,
        COVER,
    ]
    assert covered.columns["poczta"].counts().tolist() == [4]
    assert [covered.columns["numer"].at(place) for place in range(5)] == [
        f"KB{place}" for place in range(5)
    ]


def test_without_secrets_nothing_is_made_anew(ward):
    """Where no field is sensitive the very same is given back."""
    plain = Snapshot.of_values(read_definition(hospital.DOCUMENT), [1], [{"numer": "KB1"}], 1)
    assert cover_snapshot(plain) is plain
