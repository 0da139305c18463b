"""A sample shows every outcome, cause and code; and never more rows than things to show."""

from __future__ import annotations

from nevefield.core.sampling import choose_sample, first_rows
from tests.core.test_demo_files import work_out


def test_sample_shows_everything(made):
    """Of the September file, the sample has a row for every outcome, every cause and every text
    of a coded column.
    """
    evaluation, _ = work_out(made, "september-joiners.xlsx")
    sample = choose_sample(evaluation)
    rows = {row for row, _ in sample}
    assert {int(evaluation.outcomes[row]) for row in rows} == set(evaluation.outcomes.tolist())
    assert all(
        rows & set(cause.open_rows.tolist()) for cause in evaluation.causes if len(cause.open_rows)
    )
    for typed in evaluation.facts.typed.values():
        if typed.field.code_list:
            texts = {typed.raw.at(row) for row in range(len(evaluation.table))}
            assert {typed.raw.at(row) for row in rows} == texts, typed.field.name
    shown = [thing for _, things in sample for thing in things]
    assert len(shown) == len(set(shown))
    assert all(things for _, things in sample)
    assert len(sample) < 60


def test_first_rows(made):
    """The first five are the first five, and all of a shorter file."""
    evaluation, _ = work_out(made, "gate-dump.txt")
    assert [row for row, _ in first_rows(evaluation)] == [0, 1, 2, 3, 4]
    assert len(first_rows(evaluation, 10_000)) == len(evaluation.table)
