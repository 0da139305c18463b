"""Files of other institutions: every planted problem is found, and nothing else."""

from __future__ import annotations

import pytest

from tests.core.world import findings, outcomes
from tests.institutions import federation, hospital, school

MADE = {one.name: one for one in (federation.make(), hospital.make(), school.make())}


@pytest.mark.parametrize("name", MADE)
def test_what_is_wrong_and_nothing_else(name):
    """The findings that stop or ask are those of the truth, no more and no less."""
    made = MADE[name]
    found = findings(made.work_out())
    assert {one for one in made.truth if one not in found} == set()
    assert {one for one in found if one not in made.truth} == set()


@pytest.mark.parametrize("name", MADE)
def test_where_every_line_ends(name):
    """Each line has the outcome that it should have."""
    made = MADE[name]
    evaluation = made.work_out()
    assert {
        line: one for line, one in outcomes(evaluation).items() if one != "same"
    } == made.outcomes
    assert evaluation.tally.read == len(made.rows)
