"""A code list made of what a field has: each value is a code as it stands."""

from __future__ import annotations

import pytest

from nevefield.accounts import Level, add_account
from nevefield.core.codes import Code
from nevefield.core.errors import WrongCodes
from nevefield.rosters.coding import list_codes, look_at_values, make_list_of
from nevefield.rosters.defining import change_definition, open_definition, try_change
from nevefield.rosters.errors import UnknownFields
from nevefield.rosters.opening import open_roster_with

CHOIR = {
    "name": "choir",
    "primaryKey": "nr",
    "fields": [
        {"name": "nr"},
        {"name": "голос"},
        {"name": "days", "nevefield": {"several": ";"}},
        {"name": "mail", "type": "string", "format": "email"},
        {"name": "note"},
        {"name": "joined", "type": "date"},
    ],
}
VOICES = ["Сопрано", "Альт", "Сопрано", "бас", "Бас ", "Сопрано"]


@pytest.fixture
def choir(bare):
    """A choir whose voices are written by hand, and who keeps it."""
    keeper = add_account(bare, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    open_roster_with(
        bare,
        CHOIR,
        [
            {
                "nr": str(place),
                "голос": voice,
                "days": ["Mo", "We"] if place % 2 else ["We"],
                "mail": f"s{place}@choir.example",
                "note": "x" * (61 + place),
                "joined": "2026-01-01",
            }
            for place, voice in enumerate(VOICES)
        ],
    )
    return bare, keeper


def test_values_become_codes(choir):
    """The commonest first, several values each for itself; with the list in the definition nothing
    in the records breaks. A second list of the same field has another name.
    """
    context, keeper = choir
    values = look_at_values(context, "choir", "голос")
    assert values.counts == (("Сопрано", 3), ("Альт", 1), ("Бас ", 1), ("бас", 1))
    name = make_list_of(context, "choir", "голос", keeper)
    assert [code.code for code in list_codes(context)[name].codes] == [
        text for text, _ in values.counts
    ]
    days = make_list_of(context, "choir", "days", keeper)
    assert list_codes(context)[days].codes == (Code("We", "We"), Code("Mo", "Mo"))
    assert make_list_of(context, "choir", "days", keeper) not in (days, name)

    opened = open_definition(context, "choir")
    document = opened.document
    document["fields"][2]["nevefield"]["codeList"] = days
    assert try_change(context, "choir", document).troubles == []
    change_definition(context, "choir", document, opened.roster.definition, keeper)
    with pytest.raises(WrongCodes, match="something else"):
        make_list_of(context, "choir", "days", keeper)


@pytest.mark.parametrize(
    ("field", "why"),
    [
        ("mail", "something else"),
        ("joined", "something else"),
        ("note", "up to 60 letters"),
    ],
)
def test_what_is_no_list(choir, field, why):
    """Addresses, days and long texts are no codes, and nothing is made of them."""
    context, keeper = choir
    before = list_codes(context)
    assert why in look_at_values(context, "choir", field).why_no_list
    with pytest.raises(WrongCodes, match=why):
        make_list_of(context, "choir", field, keeper)
    assert list_codes(context) == before


def test_a_field_that_there_is_not(choir):
    """It is said which ones there are."""
    with pytest.raises(UnknownFields, match="days"):
        look_at_values(choir[0], "choir", "dayz")
