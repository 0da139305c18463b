"""Values composed by a pattern, made unique, and only where nothing is."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.composing import Pattern, Piece, compose, compose_all, say_pattern
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from tests.core.world import TODAY

SIGN_IN = {
    "pieces": [{"field": "family", "letters": 5}, {"field": "given", "letters": 1, "word": 1}]
}
STAFF = read_definition(
    {
        "name": "staff",
        "primaryKey": "no",
        "fields": [{"name": "no"}, {"name": "family"}, {"name": "given"}, {"name": "login"}],
    }
)


@pytest.mark.parametrize(
    ("pattern", "made"),
    [
        (SIGN_IN, "oneils"),
        ({**SIGN_IN, "case": "upper"}, "ONEILS"),
        ({**SIGN_IN, "case": "as it is", "plain": False}, "Ó NeiS"),
        (
            {"pieces": [{"field": "given", "word": -1}, {"text": "."}, {"field": "family"}]},
            "oisin.oneill",
        ),
        ({"pieces": [{"field": "given", "word": 3, "letters": 2}, {"text": "x"}]}, "x"),
        ({"pieces": [{"field": "nothing"}, {"text": "x"}]}, ""),
    ],
)
def test_composes(pattern, made):
    """Pieces, words, letters, case and plain letters make the value; without one of its fields
    there is none.
    """
    values = {"family": "Ó Neill", "given": "Siân Oisín"}
    assert compose(Pattern.model_validate(pattern), lambda piece: values.get(piece.field)) == made


def test_words_for_a_pattern():
    """A pattern is said in words."""
    pattern = Pattern(
        pieces=(Piece(field="f", letters=5), Piece(text="."), Piece(field="g", letters=1, word=-1))
    )
    assert (
        say_pattern(pattern, {"f": "Family name", "g": "Given names"}.__getitem__)
        == "Family name 1–5 + “.” + Given names, last word 1"
    )


def work_out(*rows: str, heading: str = "no,family,given", roster=()):
    steps = [read_step({"kind": "compose", "field": "login", "pattern": SIGN_IN})]
    snapshot = Snapshot.of_values(STAFF, list(range(len(roster))), list(roster), 1)
    return evaluate(Inputs("\n".join([heading, *rows]).encode(), steps, STAFF, {}, snapshot, TODAY))


def logins(evaluation) -> list[str | None]:
    column = evaluation.facts.typed["login"].stored
    return [column.at(row) for row in range(len(column))]


def test_unique_against_file_and_roster():
    """What somebody in the roster or the file has already gets a number; case tells nobody
    apart.
    """
    roster = [{"no": "9", "family": "Adair", "given": "Ida", "login": "ADAIRI"}]
    assert logins(work_out("1,Adair,Ines", "2,Adair,Ivo", "3,Belling,Pia", roster=roster)) == [
        "adairi2",
        "adairi3",
        "bellip",
    ]


def test_only_where_nothing_is():
    """The file's own values stay, and a record keeps what it has; the row of one without gets a
    value.
    """
    roster = [
        {"no": "1", "family": "Adair", "given": "Ines", "login": "ines"},
        {"no": "2", "family": "Belling", "given": "Pia"},
    ]
    evaluation = work_out(
        "1,Adair,Ines,",
        "2,Belling,Pia,",
        "3,Corran,Una,una",
        heading="no,family,given,login",
        roster=roster,
    )
    assert logins(evaluation) == ["ines", "bellip", "una"]
    assert {name: rows.tolist() for name, rows in evaluation.changes.items()} == {"login": [1]}


@given(
    st.lists(st.tuples(st.text(max_size=6), st.text(max_size=6)), max_size=12),
    st.lists(st.text(max_size=6), max_size=4),
)
def test_never_twice(names, taken):
    """Whatever the names, no value is made twice, or like one that is taken."""
    pattern = Pattern.model_validate(SIGN_IN)
    value = lambda row, field: names[row][0 if field == "family" else 1]  # noqa: E731
    made, numbered = compose_all(pattern, range(len(names)), value, taken)
    folded = [text.casefold() for text in made.values()]
    assert len(set(folded)) == len(folded)
    assert not set(folded) & {text.casefold() for text in taken}
    assert numbered <= len(made)
