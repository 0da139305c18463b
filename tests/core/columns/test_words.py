"""Yes, no and months as offices write them in their own languages."""

from __future__ import annotations

from datetime import date

import pytest

from nevefield.core.columns.days import read_day
from nevefield.core.columns.values import ValueContext, convert
from nevefield.core.columns.words import NO, YES, month_of
from nevefield.core.definition import Field
from nevefield.core.table import Column

TODAY = date(2026, 9, 1)
CONTEXT = ValueContext({}, frozenset(), TODAY)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        *(
            ("Ja", "true"),
            ("NEIN", "false"),
            ("oui", "true"),
            ("non", "false"),
            ("sí", "true"),
            ("Tak", "true"),
        ),
        *(
            ("nie", "false"),
            ("да", "true"),
            ("όχι", "false"),
            ("X", "true"),
            ("maybe", None),
            ("janein", None),
        ),
    ],
)
def test_yes_and_no(text, value):
    """A word for yes or no is one in whatever case; any other is neither, and said."""
    typed = convert(Field("paid", "Paid", "boolean"), Column.of([text]), CONTEXT)
    assert typed.problem_rows().tolist() == [value is None]
    assert value is None or typed.stored.at(0) == value


def test_no_word_is_both():
    """What is yes in one language is no in none, and the other way round."""
    assert not YES & NO


@pytest.mark.parametrize(
    "text",
    [
        "14. März 2014",
        "14 mars 2014",
        "14 de marzo de 2014",
        "14 marca 2014",
        "14. břez. 2014",
        "14 Mart 2014",
        "14-Mrz-2014",
    ],
)
def test_months_in_their_own_words(text):
    """A day with the month in words is that day, in the languages in which headings are read."""
    assert read_day(text, "", TODAY).day == date(2014, 3, 14)


@pytest.mark.parametrize(
    "text", ["14 ma 2014", "14 čer 2014", "14 lis 2014x", "14 Name 2014", "31 lutego 2014"]
)
def test_what_may_be_two_months_is_none(text):
    """What may be two months, or none, is no day."""
    assert read_day(text, "", TODAY) is None


@pytest.mark.parametrize("number", range(1, 13))
def test_every_month_has_its_word(number):
    """English months, whole and cut short to three letters, stay what they were."""
    name = date(2014, number, 1).strftime("%B")
    assert month_of(name) == month_of(name[:3]) == number
