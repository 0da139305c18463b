"""The stand-in: what it publishes is documented, its rules are known before sending as it judges
them, accounts are apart.
"""

from __future__ import annotations

import json
from datetime import date

import httpx
import pytest
from hypothesis import given
from hypothesis import strategies as st
from stand_ins.registry.judging import judge
from stand_ins.registry.layout import FIELDS, RULES, check_of, published

from nevefield.authority.client import Authority
from nevefield.authority.errors import Refused
from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongLayout
from nevefield.core.submitting.layout import read_layout, translate
from nevefield.core.submitting.proposing import propose_layout
from nevefield.core.submitting.published import find_known, read_published, say_held
from nevefield.store import submissions as store
from nevefield.submissions.deciding import Said, decide
from tests.conftest import ROOT
from tests.submissions.conftest import TOKEN

DAY = date(2026, 9, 30)
SPOILT = st.fixed_dictionaries(
    {
        "REF": st.sampled_from(["1", "2"]),
        "MARINER": st.sampled_from(["", "M1970009", "M1970008", "1970009"]),
        "NUMBER": st.just(""),
        "FAMILY": st.sampled_from(["Adair", "", "Ad4ir"]),
        "GIVEN": st.sampled_from(["Una", "", "U;na"]),
        "BORN": st.sampled_from(
            ["2005-03-01", "2009-10-01", "2009-09-30", "1930-01-01", "1.3.2005", "2015-01-01"]
        ),
        "COLLEGE": st.sampled_from(["TQMC", "NONE"]),
        "KIND": st.sampled_from(["P", "X"]),
        "ENR_FROM": st.sampled_from(["2025-09-07", "soon"]),
        "ENR_TO": st.sampled_from(["2028-06-30", "2024-06-30", ""]),
        "PROGRAMME": st.sampled_from(["D3", "D9"]),
        "YEAR": st.sampled_from(["2", "7", ""]),
        "HOME_PORT": st.sampled_from(["SKA", "SKM", "NUL", ""]),
        "MEDICAL_TO": st.sampled_from(["2026-09-30", "2026-09-29", ""]),
        "GUARDIAN": st.sampled_from(["", "Adair, Tess"]),
        "MAIL": st.sampled_from(["", "una@tarnquay.example"]),
        "PHONE": st.just(""),
    }
)


@given(st.lists(SPOILT, min_size=1, max_size=4))
def test_known_before_sending(rows):
    """What is said before sending is what the stand-in says of the same records, by every rule
    that can be known.
    """
    theirs = read_published(published(DAY))
    known = find_known(theirs, rows, DAY)
    # D1: the check digit is theirs alone
    knowable = {one["rule"] for one in RULES if one["check"]} - {"D1"}
    refs, numbers = ([row[name] for row in rows if row[name]] for name in ("REF", "MARINER"))
    for place, row in enumerate(rows):
        twice = {one for one in refs if refs.count(one) > 1}
        again = {one for one in numbers if numbers.count(one) > 1}
        said = set(judge(row, None, "TQMC", DAY, twice=twice, again=again))
        assert {rule for rule, some in known.items() if place in some} & knowable == said & knowable


OTHERS = {
    "authority": "Biuro Licencji",
    "fields": [
        {"name": "KLUB", "codes": "kluby", "held": "place"},
        {"name": "OD", "held": "from"},
        {"name": "DO", "held": "to"},
        {"name": "KLASA", "held": "there"},
        {"name": "ODD", "held": "elsewhere"},
    ],
    "codes": {"kluby": [{"code": "K7", "label": "Żagiel Łódź"}]},
    "rules": [],
}


@pytest.mark.parametrize(
    ("held", "said"),
    [
        ({"KLUB": "K7", "OD": "2019-03-01", "DO": "2024-02-29"}, "Żagiel Łódź, 2019–2024"),
        ({"KLUB": "K7", "OD": "2019-03-01", "DO": "2019-12-31"}, "Żagiel Łódź, 2019"),
        ({"KLUB": "K9", "OD": "2019-03-01"}, "K9, 2019"),
        ({"KLUB": "K7"}, "Żagiel Łódź"),
        ({"OD": "2019-03-01", "COLLEGE": "TQMC"}, ""),
        ({}, ""),
    ],
)
def test_where_anybody_is_held(held, said):
    """Of any authority that says which of its fields tell it; of no other is anything guessed."""
    assert say_held(read_published(OTHERS), held) == said
    assert "ODD" not in read_published(OTHERS).held


def test_everything_published_is_documented():
    """At least 25 rules, each with all that it needs, and each in the document with its text; so
    every field.
    """
    text = (ROOT / "docs" / "registry.md").read_text()
    assert len(RULES) >= 25
    names = {one["name"] for one in FIELDS}
    for one in RULES:
        assert set(one["reads"]) <= names
        assert f"| {one['rule']} | {one['title']} | {one['text']} |" in text
        assert set(one["follows"]) <= {other["rule"] for other in RULES}
    assert all(f"| `{name}` |" in text for name in names)


def test_damm_by_the_published_example():
    """572 has the check digit 4 (H. M. Damm, "Total anti-symmetrische Quasigruppen", 2004)."""
    assert check_of("5724") == 0
    assert [digit for digit in "0123456789" if check_of("572" + digit) == 0] == ["4"]


def test_accounts_and_sides_are_apart(registry):
    """Another college's account sees no return of ours; the practice side none of the live one;
    a stranger nothing.
    """
    ours = Authority(registry.url, TOKEN, "live")
    receipt = ours.send("k" * 32, json.dumps({"records": []}).encode())
    for token, side, status in (
        ("holm-sound", "live", 404),
        (TOKEN, "practice", 404),
        ("nobody", "live", 401),
    ):
        with pytest.raises(Refused) as said:
            Authority(registry.url, token, side).state(receipt)
        assert said.value.status == status
    assert httpx.post(f"{registry.url}/control", json={"slow": 9}).status_code == 403
    assert ours.look_up("M0000000") is None
    assert ours.look_up(next(iter(registry.live.people)))["FAMILY"]


def test_layout_is_proposed(made):
    """Of the demo's layout everything is proposed but what is the same for everybody and retired
    codes; nothing is wrong.
    """
    began = json.loads((made / "registry.json").read_text())
    definition = read_definition(
        json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())
    )
    codes = read_codes((made / "codes.csv").read_text())
    proposed = propose_layout(definition, codes, read_published(began["published"]))
    wanted = {one["to"]: one for one in began["layout"]["fields"] if "from" in one}
    wanted["PROGRAMME"]["codes"].pop("RADIO")  # a programme that both have given up: nobody's
    wanted["HOME_PORT"]["codes"]["SKV"] = "SKM"  # the code in use, not last year's
    assert {one["to"]: one for one in proposed["fields"]} == wanted
    assert (proposed["reference"], proposed["number"]) == (
        began["layout"]["reference"],
        began["layout"]["number"],
    )


@pytest.mark.parametrize(
    ("spoil", "place"),
    [
        (lambda one: one["fields"][0].update({"from": "famly_name"}), "fields[0].from"),
        (lambda one: one["fields"][0].update({"to": "FAMILLY"}), "fields[0].to"),
        (lambda one: one["fields"].append(one["fields"][0]), "filled twice"),
        (lambda one: one["number"].pop("asked"), "number"),
        (lambda one: one.update({"feilds": []}), "feilds"),
        (lambda one: one["fields"][3].update({"from": "born"}), "fields[3]"),
    ],
)
def test_wrong_layouts_are_named(made, spoil, place):
    """A mistake in a layout is named with its place and what would be right."""
    layout = json.loads((made / "registry.json").read_text())["layout"]
    names = {
        one["from"]
        for one in (layout["reference"], layout["number"], *layout["fields"])
        if "from" in one
    }
    assert (
        read_layout(translate(layout, "HOME_PORT", "SKV", "SKM"), names)
        .put_of("HOME_PORT")
        .codes["SKV"]
        == "SKM"
    )
    spoil(layout)
    with pytest.raises(WrongLayout) as said:
        read_layout(layout, names, {one["name"] for one in FIELDS})
    assert place in str(said.value)


def test_accounted(sender, autumn):
    """Who decided what of how many stands in the audit trail, without a value of a record."""
    with sender.database.transaction() as connection:
        record = store.list_records(connection, autumn)[0]
    decide(sender, autumn, [record], Said("hold", reason="asked the office"), None)
    with sender.database.transaction() as connection:
        acts = dict(
            connection.rows(
                "SELECT act, detail FROM audit WHERE act IN ('submission', 'decided-hold')"
            )
        )
    assert json.loads(acts["decided-hold"]) == {"submission": autumn, "records": 1}
    assert json.loads(acts["submission"])["submission"] == autumn
