"""Every check of the catalog: its own examples, its place in the documents, its options."""

from __future__ import annotations

import json

import pytest

from nevefield.core.changes.ending import find_ends
from nevefield.core.checking.always import ALWAYS
from nevefield.core.checking.catalog import DECLARED, Declared
from nevefield.core.checking.causes import iter_findings
from nevefield.core.checking.documents import write_documents
from nevefield.core.checking.options import OptionKind
from nevefield.core.checking.rows import OfRows
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from tests.conftest import ROOT
from tests.core.world import TODAY

CODES = read_codes(
    "list,code,label\nrole,MEMBER,Member\nrole,REGIST,Registrar\nrole,ARMOUR,Keyholder\n"
)
FIELDS = [
    {"name": "key"},
    *({"name": name, "type": "date"} for name in ("first", "last", "born", "medical")),
    *({"name": name, "type": "string", "format": "email"} for name in ("mail", "other_mail")),
    *({"name": name} for name in ("guardian", "port", "band", "mariner", "watch", "position")),
    {"name": "roles", "nevefield": {"codeList": "role", "several": ";"}},
]
ROSTER = [
    {"key": "1", "watch": "SKUA", "position": "CAPT"},
]
OTHERS = read_definition({"name": "others", "fields": [{"name": "mail", "format": "email"}]})


def found(check: dict, rows: str) -> list[tuple[str, str]]:
    """Checks and weights of what is found in rows as the documents write them."""
    definition = read_definition(
        {"name": "x", "primaryKey": "key", "fields": FIELDS, "nevefield": {"checks": [check]}}
    )
    values = [dict(part.split("=", 1) for part in row.split()) for row in rows.split("\n")]
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
    is_of_rows = isinstance(DECLARED[check["check"]].run, OfRows)
    snapshot = (
        Snapshot.of_values(definition, [1], ROSTER, 1)
        if not is_of_rows
        else Snapshot.empty(definition)
    )
    others = {"others": Snapshot.of_values(OTHERS, [1], [{"mail": "taken@x.example"}], 1)}
    evaluation = evaluate(
        Inputs(
            data.encode(),
            [],
            definition,
            CODES,
            snapshot,
            TODAY,
            coverage="everybody",
            others=others,
        )
    )
    findings = [
        one for cause in evaluation.causes for one in iter_findings(cause, evaluation.facts)
    ]
    return [(one.check, one.weight) for one in findings if one.check == check["check"]]


@pytest.mark.parametrize("one", DECLARED.values(), ids=DECLARED)
def test_examples_do_as_they_say(one: Declared):
    """The example that passes is not found, the one that fails is, with the check's usual weight
    or the one declared.
    """
    assert found(one.example, one.passes) == []
    assert set(found(one.example, one.fails)) == {(one.name, one.weight)}
    assert set(found({**one.example, "weight": "note"}, one.fails)) == {(one.name, "note")}
    assert found({**one.example, "off": True}, one.fails) == []


@pytest.mark.parametrize("one", DECLARED.values(), ids=DECLARED)
def test_what_it_needs_is_asked_for(one: Declared):
    """Without an option that it needs, a check is refused with the place; with an unknown one,
    too.
    """
    for name in (option.name for option in one.options if option.is_needed):
        with pytest.raises(WrongDefinition, match=rf"checks\[0\]\.{name}.*is missing"):
            found(
                {given: value for given, value in one.example.items() if given != name}, one.passes
            )
    with pytest.raises(WrongDefinition, match=r"checks\[0\]\.moon"):
        found({**one.example, "moon": 1}, one.passes)


def test_own_words_are_said():
    """A check's own text takes the place of ours."""
    check = {"check": "order", "fields": ["first", "last"], "text": "Leaves before the first day"}
    definition = read_definition({"name": "x", "fields": FIELDS, "nevefield": {"checks": [check]}})
    data = b"first,last\n2026-09-01,2025-01-01\n"
    evaluation = evaluate(Inputs(data, [], definition, CODES, Snapshot.empty(definition), TODAY))
    (cause,) = (one for one in evaluation.causes if one.hit.check == "order")
    assert (cause.hit.title, cause.hit.say(0)) == (
        "Leaves before the first day",
        "Leaves before the first day",
    )


def test_documents_are_up_to_date():
    """`docs/checks.md` is what the catalog writes; no check that code reports is missing from
    it.
    """
    assert (ROOT / "docs" / "checks.md").read_text() == write_documents(), (
        "run .venv/bin/python scripts/documents.py"
    )
    names = {one.name for one in ALWAYS} | set(DECLARED)
    for path in (ROOT / "src" / "nevefield" / "core").rglob("*.py"):
        for line in path.read_text().splitlines():
            if "Hit(" in line and 'Hit("' in line:
                assert line.split('Hit("')[1].split('"')[0] in names, (path.name, line)


@pytest.mark.parametrize(
    ("when", "place"),
    [
        ({"field": "watsh", "is": "x"}, r"when\.field.*did you mean watch"),
        ({"field": "watch", "iss": "x"}, r"when\.iss.*did you mean is"),
        ({"field": "watch"}, r"when.*needs a comparison"),
        ({"all": []}, r"when\.all"),
        (
            {"any": [{"field": "watch", "is": "x"}, {"field": "born", "under": "x"}]},
            r"when\.any\[1\]\.under",
        ),
        ({"field": "born", "age": [1]}, r"when\.age"),
        ({"field": "born", "from": "1.9.2026"}, r"when\.from"),
        ("x", r"when"),
    ],
)
def test_wrong_conditions_are_placed(when, place):
    """A condition that cannot be understood is refused with the place and what would be right."""
    with pytest.raises(WrongDefinition, match=place):
        found({"check": "required-when", "fields": ["guardian"], "when": when}, "key=1")
    assert json.dumps(when)


WRONG = {
    OptionKind.CONDITION: ["x", {"field": "moon", "is": "x"}, {"field": "born"}],
    OptionKind.VALUES: ["NQ", [], [1]],
    OptionKind.FIELDS: ["watch", [], ["moon"]],
    OptionKind.NUMBER: ["many", -1, True],
    OptionKind.BANDS: ["16-17", [], [[17, 16]], [[16]], [["16", "17"]]],
    OptionKind.CHOICE: ["other", 1],
    OptionKind.DAY: ["soon", 20260901, "2026-9-1"],
    OptionKind.ROSTERS: ["staff.mail", {}, {"staff": 1}],
    OptionKind.CODE_LIST: [["x"], 1],
    OptionKind.FLAG: ["true", 1, "yes"],
}
OPTIONS = [(check, option) for check in DECLARED.values() for option in check.options]


@pytest.mark.parametrize(("check", "option"), OPTIONS, ids=lambda one: one.name)
def test_wrong_options_are_refused(check, option):
    """What an option cannot be is refused with its place; its own example is taken, and does no
    harm to the check's.
    """
    for value in WRONG[option.kind]:
        document = {
            "fields": FIELDS,
            "nevefield": {"checks": [{**check.example, option.name: value}]},
        }
        with pytest.raises(WrongDefinition, match=rf"checks\[0\]\.{option.name}"):
            read_definition(document)
    document = {
        "fields": FIELDS,
        "nevefield": {"checks": [{**check.example, option.name: option.example}]},
    }
    (read,) = read_definition(document).checks
    assert read.options[option.name] == option.example


@pytest.mark.parametrize("check", DECLARED.values(), ids=DECLARED)
def test_fields_looked_at_are_known(check):
    """Every field that stands in a whole declaration is among those that the check says it looks
    at, and no other.
    """
    declaration = {**{option.name: option.example for option in check.options}, **check.example}
    document = {"fields": FIELDS, "nevefield": {"checks": [declaration]}}
    text = json.dumps(
        {name: value for name, value in declaration.items() if name not in ("check", "rosters")}
    )
    names = {field["name"] for field in FIELDS}
    assert set(read_definition(document).checks[0].reads) == {
        name for name in names if f'"{name}"' in text
    }


def test_flags_and_bands_are_kept():
    """What the editor writes for them is what the check reads."""
    checks = [
        {"check": "raised", "fields": ["roles"], "lowest": ["MEMBER"], "ends": True},
        {"check": "group-ages", "fields": ["born"], "by": ["watch"], "bands": [[16, 17], [18, 99]]},
    ]
    read = read_definition({"fields": FIELDS, "nevefield": {"checks": checks}}).checks
    assert (read[0].options["ends"], read[1].options["bands"]) == (True, [[16, 17], [18, 99]])


def test_codes_with_a_slash_are_one_code():
    """A privilege whose code has a slash in it is one privilege, with its end day and its name."""
    codes = read_codes(
        "list,code,label\nrole,MEMBER,Member\nrole,A/B,Armoury and bridge\nrole,A,Armoury\n"
    )
    check = {"check": "raised", "fields": ["roles"], "lowest": ["MEMBER"], "ends": True}
    definition = read_definition(
        {"name": "x", "primaryKey": "key", "fields": FIELDS, "nevefield": {"checks": [check]}}
    )
    waive = {
        "kind": "waive",
        "check": "raised",
        "field": "roles",
        "lines": [2],
        "reason": "agreed",
        "until": "2027-01-01",
    }
    data = b"key,roles\n1,A/B;A\n"
    evaluation = evaluate(
        Inputs(data, [read_step(waive)], definition, codes, Snapshot.empty(definition), TODAY)
    )
    (cause,) = [one for one in evaluation.causes if one.hit.check == "raised"]
    assert cause.hit.title == "Roles raised to Armoury and bridge and Armoury"
    assert [end.codes for end in find_ends(evaluation)] == [("A/B", "A")]


def test_privileges_need_no_code_list():
    """A field of plain texts can be a privilege as well."""
    check = {"check": "raised", "fields": ["position"], "lowest": ["HAND"]}
    assert found(check, "position=CAPT") == [("raised", "ask")]
