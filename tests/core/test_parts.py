"""Parts of a roster: what can be one, who is in it, and that nothing of anybody beyond is left."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.parts import check_part, is_in_part, one_value, take_part
from nevefield.core.snapshot import Snapshot

FIELDS = ("no", "name", "branch", "roles")
MEMBERS = read_definition(
    {
        "name": "members",
        "primaryKey": "no",
        "fields": [
            {"name": "no", "constraints": {"required": True, "unique": True}},
            {"name": "name"},
            {"name": "branch"},
            {"name": "roles", "nevefield": {"several": ";", "codeList": "role"}},
            {"name": "born", "type": "date"},
            {"name": "faith", "nevefield": {"sensitive": True}},
        ],
    }
)
WORDS = st.text("αβΣж語aé", max_size=2)


def roster(rows: list[dict]) -> Snapshot:
    return Snapshot.of_values(MEMBERS, list(range(1, len(rows) + 1)), rows, 3)


@given(
    st.lists(
        st.fixed_dictionaries(
            {},
            optional={
                "name": WORDS.filter(bool),
                "branch": st.sampled_from(["SKG", "ATH", "Ἀθῆναι"]),
                "roles": st.lists(WORDS.filter(bool), min_size=1, max_size=2, unique=True),
            },
        ),
        max_size=12,
    ),
    st.sampled_from(
        [
            {"field": "branch", "is": "SKG"},
            {"field": "branch", "is": ["ATH", "Ἀθῆναι"]},
            {"field": "branch", "not": "ATH"},
            {"field": "branch", "filled": False},
            {"any": [{"field": "branch", "is": "SKG"}, {"field": "name", "filled": False}]},
            {"none": [{"field": "branch", "is": "SKG"}, {"field": "roles", "has": "α"}]},
            {"field": "gone", "not": "x"},
        ]
    ),
)
def test_everybody_is_in_it_or_beyond(rows, when):
    """Each record is in the part or beyond it, once; in whichever, as it was; and a part has no
    value that none of its records has, not even as something to choose from.
    """
    whole = roster([{"no": f"{place}", **row} for place, row in enumerate(rows)])
    part = take_part(whole, when)
    assert sorted([*part.ids.tolist(), *part.beyond.ids.tolist()]) == whole.ids.tolist()
    for some in (part, part.beyond):
        for place, number in enumerate(some.ids.tolist()):
            assert some.values(place) == whole.values(number - 1)
        for name, column in some.columns.items():
            held = {text for text in column.rows(np.arange(len(some))) if text is not None}
            assert set(column.texts()) == held, name
    contents = [whole.values(place) for place in range(len(whole))]
    inside = is_in_part(when, MEMBERS.by_name, contents)
    assert (np.flatnonzero(inside) + 1).tolist() == part.ids.tolist()


def test_a_part_that_lost_its_field_has_nobody():
    """Where the definition has the field no more, nobody is in the part: also where it says not."""
    part = take_part(roster([{"no": "1", "branch": "SKG"}]), {"field": "gone", "not": "x"})
    assert (len(part), len(part.beyond)) == (0, 1)


@pytest.mark.parametrize(
    ("when", "said"),
    [
        ({"field": "brnch", "is": "SKG"}, "branch"),
        ({"field": "faith", "is": "any"}, "sensitive"),
        (
            {"all": [{"field": "branch", "is": "x"}, {"field": "faith", "filled": True}]},
            "sensitive",
        ),
        ({"field": "born", "under": 18}, "every day"),
        ({"field": "born", "age": [16, 18], "on": "today"}, "every day"),
        (
            {"any": [{"field": "branch", "is": "x"}, {"field": "born", "from": "today"}]},
            "every day",
        ),
        ("SKG", "JSON object"),
        ({}, "field"),
    ],
)
def test_what_cannot_be_a_part(when, said):
    """A condition that is none, that changes with the day, or that rests on a sensitive field is
    refused with the place and what would be right.
    """
    with pytest.raises(WrongDefinition, match=said) as caught:
        check_part(when, "parts.members", MEMBERS)
    assert str(caught.value).startswith("parts.members")


def test_what_can_be_a_part():
    """Days and ages on a certain day can."""
    for when in (
        {"field": "born", "under": 18, "on": "2026-09-01"},
        {"field": "born", "from": "2000-01-01", "until": "2010-12-31"},
        {"field": "roles", "has": "chair"},
    ):
        check_part(when, "parts.members", MEMBERS)
        assert one_value(when) is None
    assert one_value({"field": "branch", "is": "SKG"}) == ("branch", "SKG")
