"""What a hand chose stays: columns sent to fields, and values composed of columns that go
nowhere.
"""

from __future__ import annotations

import pytest

from nevefield.core.errors import WrongStep
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from tests.institutions import school
from tests.institutions.opened import open_institution

FIELDS = {one["name"]: one.get("title", one["name"]) for one in school.DOCUMENT["fields"]}


@pytest.fixture
def classes(bare):
    open_institution(bare, school.make())
    return bare


def take(context, text: str) -> int:
    return receive_file(
        context, "eleves.csv", text.encode(), Claims(roster=school.DOCUMENT["name"])
    )


def where(context, intake: int) -> dict[str, str | None]:
    return {pair.heading: pair.field for pair in open_intake(context, intake).evaluation.pairs}


def why(context, intake: int) -> dict[str, str]:
    return {pair.heading: pair.reason for pair in open_intake(context, intake).evaluation.pairs}


def send(context, intake: int, heading: str, field: str | None, **more) -> None:
    add_step(context, intake, {"kind": "pair", "heading": heading, "field": field, **more}, None)


TWO = "Code élève;Nom;Prénom;Contact A;Contact B\n" + "".join(
    f"{one['code']};{one['nom']};{one['prenom']};Mme {place};M. {place}\n"
    for place, one in enumerate(map(school.pupil, range(6)))
)


def test_no_hand_is_overruled_unasked(classes):
    """A second column for a field is refused while somebody's choice stands there; both, or in
    its place, has to be said.
    """
    intake = take(classes, TWO)
    send(classes, intake, "Contact A", "garde")
    with pytest.raises(WrongStep, match="“Contact A” was sent to Personne autorisée by hand"):
        send(classes, intake, "Contact B", "garde")
    assert where(classes, intake)["Contact A"] == "garde"
    send(classes, intake, "Contact B", "garde", beside=True)
    assert [where(classes, intake)[heading] for heading in ("Contact A", "Contact B")] == [
        "garde",
        "garde",
    ]
    assert open_intake(classes, intake).evaluation.facts.value(0, "garde") == "Mme 0 M. 0"


def test_in_its_place_when_said(classes):
    """Said to be in its place, the new column is alone; the other stays in the file and says
    why. Undo brings it back.
    """
    intake = take(classes, TWO)
    send(classes, intake, "Contact A", "garde")
    send(classes, intake, "Contact B", "garde", instead=True)
    found = where(classes, intake)
    assert (found["Contact A"], found["Contact B"]) == (None, "garde")
    add_step(classes, intake, {"kind": "undo", "step": 2}, None)
    assert where(classes, intake)["Contact A"] == "garde"


def test_the_rest_stands_where_it_stood(classes):
    """Sending one column by hand moves no other that a hand chose, whichever way round."""
    intake = take(classes, TWO)
    for heading, field in (("Nom", "prenom"), ("Prénom", "nom"), ("Contact A", "garde")):
        send(classes, intake, heading, field)
        found = where(classes, intake)
    assert (found["Nom"], found["Prénom"], found["Contact A"]) == ("prenom", "nom", "garde")
    send(classes, intake, "Contact B", "telephone")
    assert where(classes, intake) == {**found, "Contact B": "telephone"}


def test_a_guess_that_moves_is_said(classes):
    """A column that was only guessed makes room, and says for which column."""
    intake = take(classes, TWO)
    assert where(classes, intake)["Nom"] == "nom"
    send(classes, intake, "Contact A", "nom")
    assert (where(classes, intake)["Nom"], why(classes, intake)["Nom"]) == (
        None,
        "“Contact A” was chosen for Nom",
    )


def test_cut_columns_ask_too(classes):
    """Cutting a column into fields that somebody has filled otherwise is refused in the same
    way, and so is the reverse.
    """
    intake = take(classes, TWO)
    send(classes, intake, "Contact A", "garde")
    cut = {"kind": "split", "heading": "Contact B", "at": " ", "into": ["garde", "telephone"]}
    with pytest.raises(WrongStep, match="by hand"):
        add_step(classes, intake, cut, None)
    add_step(classes, intake, {**cut, "instead": True}, None)
    with pytest.raises(WrongStep, match="“Contact B” was sent to Téléphone by hand"):
        send(classes, intake, "Contact A", "telephone")


def test_composed_of_columns_that_go_nowhere(classes):
    """A value is put together of columns that stay in the file, beside fields; a column that a
    file lacks gives none.
    """
    text = "Code élève;Nom;Prénom;Naissance;Niveau;Rue;N°\n" + "".join(
        f"{school.code(place)};Müller-Çelik;Zoé;05/06/2019;CP;{street};{number}\n"
        for place, street, number in (
            (120, "rue des Érables", "12 bis"),
            (121, "", "3"),
            (122, "rue des Érables", "12 bis"),
        )
    )
    intake = take(classes, text)
    pieces = [
        {"heading": "N°"},
        {"text": ", "},
        {"heading": "Rue"},
        {"text": " / "},
        {"field": "nom", "letters": 3},
    ]
    pattern = {"pieces": pieces, "case": "as it is", "plain": False, "unique": False}
    add_step(classes, intake, {"kind": "compose", "field": "garde", "pattern": pattern}, None)
    evaluation = open_intake(classes, intake).evaluation
    made = [evaluation.facts.value(row, "garde") for row in range(3)]
    assert made == ["12 bis, rue des Érables / Mül", None, "12 bis, rue des Érables / Mül"]
    pieces[0]["heading"] = "Numéro"
    add_step(
        classes,
        intake,
        {"kind": "compose", "field": "garde", "pattern": {**pattern, "pieces": pieces}},
        None,
    )
    assert open_intake(classes, intake).evaluation.facts.typed["garde"].stored.rows([0, 1, 2]) == [
        None,
        None,
        None,
    ]


def test_a_piece_is_one_thing(classes):
    """A piece that is a field and a column at once is refused with the place."""
    intake = take(classes, TWO)
    pattern = {"pieces": [{"field": "nom", "heading": "Nom"}]}
    with pytest.raises(
        WrongStep, match=r"compose\.pattern\.pieces\.0.*a piece is a text, or of a field"
    ):
        add_step(classes, intake, {"kind": "compose", "field": "garde", "pattern": pattern}, None)
