"""Definitions: what they say, and where they are wrong."""

from __future__ import annotations

import copy
import json

import pytest

from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.opening import propose
from nevefield.core.reading import read_file
from tests.core.world import DOCUMENT, TODAY


def test_reads_the_demos(made):
    """The demo's definitions are read with their keys and schemes."""
    cadets = read_definition(json.loads((made / "roster-cadets.json").read_text())["definition"])
    assert cadets.primary_key == ("cadet_number",)
    assert cadets.keys[0] == ("cadet_number",)
    assert cadets.by_name["cadet_number"].identifier.check == "iso7064-mod11-2"
    assert cadets.by_name["programme"].parent == "department"
    assert cadets.by_name["bursaries"].several == ";"
    assert cadets.missing == {"", "-", "n/a"}


def change(*path, value):
    document = copy.deepcopy(DOCUMENT)
    place = document
    for part in path[:-1]:
        place = place.setdefault(part, {}) if isinstance(place, dict) else place[part]
    place[path[-1]] = value
    return document


def test_keys_of_no_fields_are_passed_over():
    """A key of no fields tells nobody apart, wherever it stands."""
    plain = read_definition(DOCUMENT)
    for path in (("nevefield", "keys"), ("uniqueKeys",)):
        found = change(*path, value=[[], list(plain.primary_key)])
        read = read_definition(found)
        assert () not in (*read.keys, *read.unique_keys)


@pytest.mark.parametrize(
    ("document", "place", "said"),
    [
        (
            change("fields", 3, "nevefield", value={"codeLst": "dept"}),
            "fields[3].nevefield.codeLst",
            "did you mean codeList?",
        ),
        (change("fields", 1, "name", value="no"), "fields[1].name", "earlier field"),
        (change("fields", 1, "type", value="sting"), "fields[1].type", "did you mean string?"),
        (
            change("fields", 1, "constraints", value={"requird": True}),
            "fields[1].constraints.requird",
            "did you mean required?",
        ),
        (
            change("fields", 1, "constraints", value={"pattern": "["}),
            "fields[1].constraints.pattern",
            "regular expression",
        ),
        (
            change("fields", 0, "nevefield", value={"identifier": {"check": "lunh"}}),
            "fields[0].nevefield.identifier.check",
            "did you mean luhn?",
        ),
        (
            change("fields", 0, "nevefield", value={"identifier": {"check": "weighted"}}),
            "fields[0].nevefield.identifier.check",
            "weights",
        ),
        (
            change("fields", 4, "nevefield", "parent", value="depth"),
            "fields[4].nevefield.parent",
            "did you mean dept?",
        ),
        (change("primaryKey", value="number"), "primaryKey", "no field “number”"),
        (change("uniqueKeys", value=[["male"]]), "uniqueKeys[0]", "did you mean mail?"),
        (change("nevefield", "keys", value=["nope"]), "nevefield.keys[0]", "no field “nope”"),
        (
            change("nevefield", "checks", value=[{"check": "ordr", "fields": ["from", "to"]}]),
            "nevefield.checks[0].check",
            "did you mean order?",
        ),
        (
            change("nevefield", "checks", value=[{"check": "order", "fields": ["from"]}]),
            "nevefield.checks[0].fields",
            "at least 2",
        ),
        (
            change("nevefield", "checks", value=[{"check": "order", "fields": ["from", "too"]}]),
            "nevefield.checks[0].fields",
            "did you mean to?",
        ),
        (
            change(
                "nevefield",
                "checks",
                value=[{"check": "order", "fields": ["from", "to"], "weight": "halt"}],
            ),
            "nevefield.checks[0].weight",
            "stop, ask, note",
        ),
        (change("fields", value=[]), "fields", "at least one field"),
        ([], "", "JSON object"),
        (change("fields", 2, value=7), "fields[2]", "JSON object"),
    ],
)
def test_refuses_with_the_place(document, place, said):
    """What is wrong is named with its place and what would be right."""
    with pytest.raises(WrongDefinition) as refused:
        read_definition(document)
    assert refused.value.place == place
    assert said in str(refused.value)


def test_proposes_from_columns():
    """Without a definition one is proposed: a field for each column, types from the values, a
    complete and distinct key.
    """
    table, _ = read_file(
        b"Staff"
        b" No,Name,Born,Credits,Mail\n004,Ines,14.3.2008,1.5,i@q.example\n005,Tove,1.1.2009,2,t@q.example\n"  # noqa: E501
    )
    definition = read_definition(propose(table, TODAY).document)
    assert definition.primary_key == ("staff_no",)
    assert [(one.name, one.type) for one in definition.fields] == [
        ("staff_no", "string"),
        ("name", "string"),
        ("born", "date"),
        ("credits", "number"),
        ("mail", "string"),
    ]
    assert definition.by_name["mail"].is_mail
