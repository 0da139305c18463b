"""What people are known by in one file, and whom it is for: said for the file, kept to, and told
as it was.
"""

from __future__ import annotations

import pytest

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongStep
from nevefield.core.recipes import learn
from nevefield.core.steps import read_step, refuse_unknown
from nevefield.web.intakes import shapes_people as shapes
from nevefield.web.intakes.answers_people import people_answer
from tests.core.world import TODAY, findings, outcomes
from tests.institutions import federation

MADE = federation.make()
NAMES = ("familiya", "ime", "roden")
HEAD = "карта;фамилия;име;роден;рейтинг\n"


def known_by(*keys: tuple[str, ...]) -> dict:
    return {"kind": "known_by", "keys": keys}


def takes(whom: str) -> dict:
    return {"kind": "takes", "of": whom}


def row(place: int, **other: str) -> str:
    """A member's row; whoever is from 120 on is nobody in the roster."""
    person = {**federation.person(place), "elo": "2345", **other}
    return ";".join(person[name] for name in ("karta", *NAMES, "elo")) + "\n"


def work_out(text: str, *steps: dict):
    return MADE.work_out(*steps, data=(HEAD + text).encode())


def records(evaluation) -> list[int | None]:
    """Who each row is, by the place in the roster."""
    return [int(one) if one >= 0 else None for one in evaluation.known.record]


def told(evaluation) -> dict[str, int]:
    """What People says that rows are known by."""
    answer = people_answer(evaluation, shapes.PeopleQuery(state="possible", start=0, limit=10))
    return {one.title: one.rows for one in answer.keys if one.used} | {
        "passed over": answer.passed_over
    }


def test_by_the_roster_when_nothing_is_said():
    """The roster's keys in their order; People says by which how many were known."""
    evaluation = work_out(row(1) + row(2, karta="") + row(3))
    assert records(evaluation) == [1, 2, 3]
    assert told(evaluation) == {"Карта №": 2, "Фамилия and Име and Роден": 1, "passed over": 0}


def test_by_names_where_the_numbers_are_anothers():
    """An office that numbers people in its own way: its numbers know nobody once the names are
    said to.
    """
    swapped = row(1, karta=federation.card(2)) + row(2, karta=federation.card(1))
    assert {check for _, _, check in findings(work_out(swapped))} >= {"keys-disagree"}
    evaluation = work_out(
        swapped, known_by(NAMES), {"kind": "pair", "heading": "карта", "field": None}
    )
    assert (records(evaluation), findings(evaluation)) == ([1, 2], set())
    assert told(evaluation) == {"Фамилия and Име and Роден": 2, "passed over": 0}


def test_by_likeness_alone():
    """No number is trusted: who agrees in names and day of birth is found by likeness, and that
    is what People says.
    """
    evaluation = work_out(row(1, karta="") + row(2, karta=""), known_by())
    assert told(evaluation) == {"passed over": 0}
    people = evaluation.facts.people
    assert {int(people.score(place)) >= 90 for place in (0, 1)} == {True}
    assert records(evaluation) == [1, 2]
    again = work_out(row(1, karta=""), known_by(), {"kind": "known_by", "keys": None})
    assert records(again) == [1]


def test_order_decides():
    """Of two keys that point to two people the first in the order that was said counts, and the
    row stops for the other.
    """
    text = row(1, karta=federation.card(2))
    for keys, who in (((("karta",), NAMES), 2), ((NAMES, ("karta",)), 1)):
        evaluation = work_out(text, known_by(*keys))
        assert records(evaluation) == [who]
        assert ("keys-disagree" in {check for _, _, check in findings(evaluation)}) is True


@pytest.mark.parametrize(
    ("whom", "ends"),
    [
        ("both", {2: "changed", 3: "new", 4: "stopped"}),
        ("new", {2: "left_out", 3: "new", 4: "stopped"}),
        ("known", {2: "changed", 3: "left_out", 4: "stopped"}),
    ],
)
def test_whom_the_file_is_for(whom, ends):
    """Rows of the others are left out, with that for their reason; one whose card is wrong in
    itself may be anybody's.
    """
    evaluation = work_out(row(1) + row(130) + row(140, karta="БФ-0140"), takes(whom))
    assert outcomes(evaluation) == ends
    assert evaluation.tally.adds_up
    (left,) = [cause for cause in evaluation.causes if cause.hit.check == "passed-over"] or [None]
    assert (left is None) == (whom == "both")
    assert told(evaluation)["passed over"] == (whom != "both")


def test_what_is_wrong_in_them_stands_in_nobodys_way():
    """Rows that the file is not for are checked for nothing, claim nobody, and are not missing."""
    text = row(1, elo="99") + row(1, elo="98") + row(130, karta=federation.card(2))
    evaluation = work_out(text, takes("new"))
    assert set(outcomes(evaluation).values()) == {"left_out"}
    assert not [
        cause for cause in evaluation.causes if cause.is_open and cause.hit.weight != "note"
    ]
    everybody = work_out(row(1), takes("new"), {"kind": "coverage", "of": "everybody"})
    assert len(everybody.absent) == 119


def test_a_question_stays_a_question():
    """Who may be somebody is asked about first; what is said decides whether the row is left
    out.
    """
    text, limits = row(1, karta="", ime="Г."), {"kind": "limits", "certain": 100, "nobody": 0}
    assert outcomes(work_out(text, takes("known"), limits)) == {2: "waiting"}
    said = work_out(
        text, takes("known"), limits, {"kind": "person", "choices": [{"line": 2, "record": None}]}
    )
    assert outcomes(said) == {2: "left_out"}


def test_refuses_what_tells_nobody_apart():
    """A field that many share is no key; the message names those that are."""
    definition = read_definition(federation.DOCUMENT)
    with pytest.raises(
        WrongStep,
        match="Област does not tell people apart in Състезатели; known keys are Карта №; Фамилия",
    ):
        refuse_unknown(read_step(known_by(("oblast",))), definition)
    with pytest.raises(
        WrongStep, match="There is no field “kartta” in Състезатели; did you mean karta"
    ):
        refuse_unknown(read_step(known_by(("kartta",))), definition)


def test_remembered_by_the_source():
    """Both are part of what is learnt; what was never said is not."""
    evaluation = work_out(row(1), known_by(NAMES), takes("known"))
    steps = [
        step.model_dump(mode="json")
        for step in learn(evaluation, "sastezateli", "Север", "a.csv", TODAY, None).steps
    ]
    assert {"kind": "known_by", "keys": [list(NAMES)]} in steps
    assert {"kind": "takes", "of": "known"} in steps
    plain = learn(work_out(row(1)), "sastezateli", "Север", "a.csv", TODAY, None)
    assert not {"known_by", "takes"} & {step.kind for step in plain.steps}
