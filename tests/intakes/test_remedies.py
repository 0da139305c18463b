"""Every remedy of every kind of cause settles it, whatever the weight: no cause leads nowhere."""

from __future__ import annotations

import pytest

from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.rows import OfRows
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.intakes.remedies import step_for
from tests.core.checking.test_catalog import CODES, FIELDS, OTHERS, ROSTER
from tests.core.world import TODAY
from tests.institutions.test_institutions import MADE

ELSEWHERE = ("reading", "set", "edit")  # done on another page, or with a value that somebody types


def settles(work_out, evaluation, cause) -> None:
    """Try each remedy of a cause: afterwards it is not open, or the rows that the remedy was for
    are not.
    """
    for remedy in cause.remedies:
        if remedy.kind in ELSEWHERE:
            continue
        step = step_for(
            evaluation,
            cause.id,
            remedy.kind,
            value=remedy.value,
            reason="asked",
            lines=None,
            until="2027-01-01",
        )
        if cause.hit.check != "raised":
            step.pop("until", None)
        after = work_out(step)
        left = next((one for one in after.causes if one.id == cause.id), None)
        settled = left is None or not left.is_open or len(left.open_rows) < len(cause.open_rows)
        assert settled, f"{cause.hit.title}: {remedy.label}"


@pytest.mark.parametrize("weight", ["stop", "ask"])
@pytest.mark.parametrize("name", DECLARED)
def test_each_check_of_the_catalog(name, weight):
    """The example that fails has a cause with remedies, at either weight, and each of them
    settles it.
    """
    one = DECLARED[name]
    check = {**one.example, "weight": weight}
    definition = read_definition(
        {"name": "x", "primaryKey": "key", "fields": FIELDS, "nevefield": {"checks": [check]}}
    )
    values = [dict(part.split("=", 1) for part in row.split()) for row in one.fails.split("\n")]
    headings = list(dict.fromkeys(name for row in values for name in row))
    data = (
        "\n".join(
            [
                ",".join(headings),
                *(",".join(row.get(name, "") for name in headings) for row in values),
            ]
        )
        + "\n"
    )
    snapshot = (
        Snapshot.of_values(definition, [1], ROSTER, 1)
        if not isinstance(one.run, OfRows)
        else Snapshot.empty(definition)
    )
    others = {"others": Snapshot.of_values(OTHERS, [1], [{"mail": "taken@x.example"}], 1)}

    def work_out(*steps):
        parsed = [read_step(step) for step in steps]
        return evaluate(
            Inputs(
                data.encode(),
                parsed,
                definition,
                CODES,
                snapshot,
                TODAY,
                coverage="everybody",
                others=others,
            )
        )

    evaluation = work_out()
    causes = [cause for cause in evaluation.causes if cause.hit.check == name]
    assert causes
    for cause in causes:
        assert cause.remedies
        settles(work_out, evaluation, cause)


@pytest.mark.parametrize("name", MADE)
def test_each_cause_of_an_institution(name):
    """So with whatever the checks that need no declaration find in other institutions' files."""
    made = MADE[name]
    evaluation = made.work_out()
    for cause in evaluation.causes:
        if cause.hit.weight != "note" and not cause.follows:
            assert cause.remedies, cause.hit.title
            settles(made.work_out, evaluation, cause)
