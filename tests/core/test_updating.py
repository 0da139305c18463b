"""Update rules and parts: what becomes of a record's value, and who may be absent."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.changes.plan import plan_changes
from nevefield.core.changes.taking import kept_blanks, taken_away
from nevefield.core.changes.updating import rules_of, update_value
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongStep
from nevefield.core.steps import read_step, refuse_unknown
from tests.core.world import CREW, DOCUMENT, ROSTER, findings, outcomes, work_out

FILE = "no,name,mail,credits,port\n1,Ines,new@q.example,2.5,TQY\n2,Tove,,1,SKV;TQY\n3,Una,una@q.example,4,\n"  # noqa: E501


def rule(field: str, name: str, *lines: int) -> dict:
    return {"kind": "update", "field": field, "rule": name, "lines": list(lines)}


def planned(*steps: dict, text: str = FILE) -> dict[str, dict]:
    """What records become, by number; those that change."""
    plan = plan_changes(work_out(text, *steps))
    return {document["no"]: document for document in map(json.loads, plan.documents)}


@pytest.mark.parametrize(
    ("step", "field", "expected"),
    [
        (rule("credits", "file"), "credits", ["2.5", "1", "4"]),
        (rule("credits", "ours"), "credits", ["12.5", None, None]),
        (rule("credits", "blanks"), "credits", ["12.5", "1", "4"]),
        (rule("credits", "add"), "credits", ["15", "1", "4"]),
        (rule("credits", "remove"), "credits", ["10", "-1", "-4"]),
        (rule("credits", "ours", 2), "credits", ["12.5", "1", "4"]),
        (rule("port", "file"), "port", [["TQY"], ["SKV", "TQY"], None]),
        (rule("port", "add"), "port", [["TQY"], ["DNS", "SKV", "TQY"], None]),
        (rule("port", "remove"), "port", [None, ["DNS"], None]),
        (rule("mail", "blanks"), "mail", ["ines@q.example", "tove@q.example", "una@q.example"]),
        (rule("mail", "ours"), "mail", ["ines@q.example", "tove@q.example", None]),
        (rule("mail", "filled"), "mail", ["new@q.example", "tove@q.example", "una@q.example"]),
        (rule("mail", "file"), "mail", ["new@q.example", None, "una@q.example"]),
        (rule("mail", "file", 3), "mail", ["new@q.example", None, "una@q.example"]),
    ],
)
def test_rules(step, field, expected):
    """Each rule gives each record the value that it says, whole columns or single lines."""
    found = planned(step, rule("credits", "file") if field != "credits" else rule("port", "file"))
    values = [found[number].get(field) for number in ("1", "2", "3")]
    assert values == expected


def test_nothing_is_taken_away_unasked():
    """By default an empty cell empties nothing and several values are added; what is kept so can
    be seen, and asked for.
    """
    evaluation = work_out(FILE)
    assert {name: rows.tolist() for name, rows in evaluation.changes.items()} == {
        "mail": [0, 2],
        "port": [0, 1],
        "credits": [0, 1, 2],
    }
    assert planned()["2"] == {**ROSTER[1], "port": ["DNS", "SKV", "TQY"], "credits": "1"}
    assert kept_blanks(evaluation, "mail").tolist() == [1]
    assert all(not len(taken_away(evaluation, name)) for name in evaluation.changes)
    asked = work_out(FILE, rule("mail", "file"), rule("port", "file"))
    assert taken_away(asked, "mail").tolist() == [1]
    assert taken_away(asked, "port").tolist() == [1]  # one of several is taken away as well
    assert kept_blanks(asked, "mail").tolist() == []


def test_new_people_get_what_the_file_has():
    """Whatever the rule, who joins gets the file's values."""
    text = "no,name,mail,port\n7,Kit,kit@q.example,TQY\n"
    for name in rules_of(CREW.by_name["port"]):
        fields = [rule("port", name)] + (
            [rule("mail", name)] if name in rules_of(CREW.by_name["mail"]) else []
        )
        assert planned(*fields, text=text)["7"] == {
            "no": "7",
            "name": "Kit",
            "mail": "kit@q.example",
            "port": ["TQY"],
        }


def test_unused_wrong_value_stops_nothing():
    """Where the roster's value stays, a wrong one in the file stops no row; a new row's still
    does.
    """
    text = "no,name,mail\n1,Ines,nonsense\n7,Kit,nonsense\n"
    evaluation = work_out(text, rule("mail", "ours"))
    assert findings(evaluation) == {(3, "mail", "format")}
    assert outcomes(evaluation) == {2: "same", 3: "stopped"}


@given(
    st.sampled_from(["add", "remove"]),
    st.decimals(-99, 99, places=2),
    st.decimals(-99, 99, places=2),
)
def test_adding_is_taken_back(name, ours, theirs):
    """Adding and then removing the same gives the number that was there."""
    one = CREW.by_name["credits"]
    once = update_value(one, name, str(ours), format(theirs.normalize(), "f"))
    back = update_value(one, "remove" if name == "add" else "add", str(ours), once)
    assert back == (format(theirs.normalize(), "f") if theirs else "0")


@given(
    st.lists(st.sampled_from("ABCD"), unique=True),
    st.lists(st.sampled_from("ABCD"), min_size=1, unique=True),
)
def test_several_as_sets(had, brought):
    """Adding and removing several values is as with sets; what was there keeps its order."""
    one = CREW.by_name["port"]
    ours, theirs = "\x1f".join(brought), "\x1f".join(had) or None
    added, removed = (
        (update_value(one, name, ours, theirs) or "").split("\x1f") for name in ("add", "remove")
    )
    assert set(added) == {*had, *brought}
    assert added[: len(had)] == had
    assert {*removed} - {""} == {*had} - {*brought}


def test_rules_fit_their_field():
    """Only numbers and several values can be added to; a part needs a condition on fields that
    there are.
    """
    assert rules_of(CREW.by_name["mail"]) == ("filled", "file", "ours", "blanks")
    for step in (
        rule("mail", "add"),
        {"kind": "coverage", "of": "part"},
        {"kind": "coverage", "of": "part", "when": {"field": "moon", "is": "x"}},
    ):
        with pytest.raises(WrongStep):
            refuse_unknown(read_step(step), CREW)


def test_sum_over_its_limit():
    """A sum that the field cannot hold stops its row, and says the sum."""
    fields = [
        {**one, "constraints": {"maximum": 14}} if one["name"] == "credits" else one
        for one in DOCUMENT["fields"]
    ]
    document = {**DOCUMENT, "fields": fields}
    evaluation = work_out(FILE, rule("credits", "add"), definition=read_definition(document))
    assert findings(evaluation) == {(2, "credits", "maximum")}
    (cause,) = [one for one in evaluation.causes if one.hit.check == "maximum"]
    assert "“15” is more than 14" in cause.hit.say(0)


def test_absent_of_a_part():
    """A file that claims everybody of a department makes nobody else absent."""
    text = "no,name\n1,Ines\n"
    part = {"kind": "coverage", "of": "part", "when": {"field": "dept", "is": "MEN"}}
    assert work_out(text, {"kind": "coverage", "of": "everybody"}).tally.absent == 2
    evaluation = work_out(text, part)
    assert [evaluation.snapshot.keys(evaluation.absent)[0], evaluation.tally.absent] == ["2", 1]


FILL = {"kind": "fill", "field": "dept", "value": "NAV"}


@pytest.mark.parametrize(
    ("steps", "expected"),
    [
        ([FILL], ["NAV", "MEN", "NAV", "NAV", "MEN"]),
        ([{**FILL, "over": True}], ["NAV", "NAV", "NAV", "NAV", "MEN"]),
        # filled is not emptied
        ([FILL, rule("dept", "file")], ["NAV", "MEN", "NAV", "NAV", "MEN"]),
        ([FILL, rule("dept", "ours")], ["NAV", "MEN", None, "NAV", "MEN"]),
        ([FILL, {**FILL, "value": ""}], ["NAV", "MEN", None, None, "MEN"]),  # no more
    ],
)
def test_fill_values_fill(steps, expected):
    """New people get it; people of the roster where the roster has nothing, or all of them where
    somebody says so.
    """
    evaluation = work_out("no,name,dept\n1,Ines,\n2,Tove,\n3,Una,\n7,Kit,\n8,Kim,MEN\n", *steps)
    assert [evaluation.facts.value(row, "dept") for row in range(5)] == expected
    missing = work_out("no,name\n1,Ines\n2,Tove\n3,Una\n7,Kit\n", *steps)  # no column at all
    assert [missing.facts.value(row, "dept") for row in range(4)] == expected[:4]


def test_fill_adds_nothing_to_a_number():
    """A fill value is no number to add: who has one keeps it."""
    evaluation = work_out(
        "no,name,credits\n1,Ines,\n7,Kit,\n",
        rule("credits", "add"),
        {"kind": "fill", "field": "credits", "value": "5"},
    )
    assert [evaluation.facts.value(row, "credits") for row in (0, 1)] == ["12.5", "5"]


def test_what_must_be_filled_is_said():
    """An empty cell of a required field stops its row, of people who are there too; one remedy
    keeps the roster's.
    """
    text = "no,name,mail\n1,,new@q.example\n7,,\n"
    evaluation = work_out(text)
    assert findings(evaluation) == {(2, "name", "required"), (3, "name", "required")}
    kept = work_out(text, rule("name", "ours", 2))
    assert (outcomes(kept), planned(rule("name", "ours", 2), text=text)["1"]["name"]) == (
        {2: "changed", 3: "stopped"},
        "Ines",
    )
    assert findings(work_out(text, rule("name", "filled"))) == {(3, "name", "required")}
