"""Columns of secrets are known by their heading or by what their values look like; ordinary
columns are not taken for them.
"""

from __future__ import annotations

import hashlib
import json
import random

import pytest

from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.reading import read_file


def read(heading: str, values: list[str], known: frozenset[str] = frozenset()) -> tuple[str, ...]:
    data = "\n".join(
        [f"No,{heading}", *(f"{number},{value}" for number, value in enumerate(values))]
    ).encode()
    return read_file(data, known=known)[1].secrets


CHANCE = random.Random(7)
MIXED = [
    "".join(CHANCE.choices("abcdefgh", k=5)).capitalize()
    + str(CHANCE.randrange(100))
    + CHANCE.choice("!?%+")
    for _ in range(20)
]


@pytest.mark.parametrize(
    "heading",
    ["password", "User Password", "PIN", "Portal-PIN", "pinCode", "Kennwort", "API key", "pwd2"],
)
def test_known_by_heading(heading):
    """A heading that says so is enough, whatever the values are."""
    assert read(heading, ["a"] * 3) == (heading,)


@pytest.mark.parametrize(
    "values",
    [
        MIXED,
        [hashlib.sha256(str(number).encode()).hexdigest() for number in range(12)],
        [f"$2b$12$abcdefghijkl{number:010d}" for number in range(12)],
        [f"{{SSHA}}q8Zt{number:012d}=" for number in range(12)],
    ],
)
def test_known_by_looks(values):
    """Mixed letters, digits and signs, and digests, are secrets under any heading that is not
    the roster's own.
    """
    assert read("Extra", values) == ("Extra",)
    assert read("Extra", values, frozenset({"extra"})) == ()


@pytest.mark.parametrize("roster", ["cadets", "staff", "fellows", "gate-passes"])
def test_rosters_own_values_are_none(made, roster):
    """No field of the demo's rosters looks like a secret, under any heading."""
    content = json.loads((made / f"roster-{roster}.json").read_text())
    definition = read_definition(content["definition"])
    for one in definition.fields:
        values = [record.get(one.name) or "" for record in content["records"][:300]]
        texts = [
            ";".join(value) if isinstance(value, list) else value.replace(",", " ")
            for value in values
        ]
        assert read("Extra", texts) == (), one.name
    assert not {"password", "pin"} & known_headings(definition)
